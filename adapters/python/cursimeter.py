"""Cursimeter for Python 3.11: charts, runners, and whole runs, sweeps and figures as numpy arrays.

    import cursimeter
    chart = cursimeter.Chart("bearer.toml")
    runner = chart.spawn()
    report = runner.advance(forward=1, held=["sprint"], seconds=1 / 60)
    print(runner.position, runner.state, runner.meter("stamina").level)

    run = cursimeter.run("bearer.toml", "quay_boards.toml")      # a structured array, a row for each tick
    run["time_s"], run["speed_mps"]

It calls libcursimeter.so by the interface that cursimeter.h declares: nothing is compiled. Both are found where they were
installed, or where the environment variables CURSIMETER_LIBRARY and CURSIMETER_HEADER say. Lengths are in m, times in s,
angles in rad. Every mistake is a cursimeter.Error with the text of the library.
"""
import os
import pathlib
import re
from collections import namedtuple

import cffi
import numpy

_here = pathlib.Path(__file__).resolve().parent


def _find(variable, *places):
    """The file that a variable names, or the first of some that exists."""
    if os.environ.get(variable):
        return os.environ[variable]
    for place in places:
        for folder in (_here, *_here.parents):
            if (folder / place).exists():
                return str(folder / place)
    return places[-1].rsplit("/", 1)[-1]


def _declarations(header):
    """What cffi reads of cursimeter.h: no lines of the preprocessor, and the one number by its value."""
    text = pathlib.Path(header).read_text(encoding="utf-8")
    most_events = re.search(r"#define CURSIMETER_MOST_EVENTS (\d+)", text).group(1)
    text = re.sub(r"^#.*?(?<!\\)$", "", text, flags=re.M | re.S)
    text = re.sub(r"CURSIMETER_API\s+", "", text.replace('extern "C" {', "")).replace("CURSIMETER_MOST_EVENTS", most_events)
    return re.sub(r"\n}\n\s*$", "\n", text.rstrip() + "\n")


_ffi = cffi.FFI()
_ffi.cdef(_declarations(_find("CURSIMETER_HEADER", "include/cursimeter/cursimeter.h")))
_library = _ffi.dlopen(_find("CURSIMETER_LIBRARY", "lib/x86_64-linux-gnu/libcursimeter.so.0.1", "lib/libcursimeter.so.0.1", "libcursimeter.so.0.1"))

LISTS = ("states", "actions", "meters", "cooldowns", "modifiers", "blocks", "zones")

Event = namedtuple("Event", "kind subject at value cause")
Report = namedtuple("Report", "seconds displacement events intent_mended dt_shortened")
Meter = namedtuple("Meter", "level capacity fraction spent")
Cooldown = namedtuple("Cooldown", "ready charges left fraction")
Modifier = namedtuple("Modifier", "active stacks strength left")


class Error(Exception):
    """What is wrong, in the library's words; `mistakes` are (file, line, column, path, what, mend)."""

    def __init__(self, text, mistakes=()):
        super().__init__(text)
        self.mistakes = list(mistakes)


def _text(pointer):
    return _ffi.string(pointer).decode("utf-8") if pointer else None


def _struct(name):
    """A struct of the interface that knows its size."""
    made = _ffi.new(f"{name}*")
    made.size = _ffi.sizeof(name)
    return made


class _Call:
    """One call: makes an error object for it, and raises what went wrong."""

    def __enter__(self):
        self.error = _ffi.gc(_library.cursimeter_error_new(), _library.cursimeter_error_free)
        return self

    def __exit__(self, *_):
        return False

    def lines(self):
        """What stands in the error, a line each."""
        return _text(_library.cursimeter_error_text(self.error)).splitlines()

    def check(self, status):
        """True for OK, False for NO; raises for the rest."""
        if status in (_library.CURSIMETER_OK, _library.CURSIMETER_NO):
            return status == _library.CURSIMETER_OK
        mistakes = []
        for i in range(_library.cursimeter_error_count(self.error)):
            one = _struct("cursimeter_mistake")
            _library.cursimeter_error_at(self.error, i, one)
            mistakes.append((_text(one.file), one.line, one.column, _text(one.path), _text(one.what), _text(one.mend)))
        raise Error(_text(_library.cursimeter_error_text(self.error)) or "an argument is out of range", mistakes)


class Chart:
    """A chart, from a file or from text. It may be used by several threads."""

    def __init__(self, file=None, *, text=None, name="chart"):
        out = _ffi.new("cursimeter_chart**")
        with _Call() as call:
            if text is not None:
                data = text.encode("utf-8")
                call.check(_library.cursimeter_chart_parse(data, len(data), name.encode("utf-8"), out, call.error))
            else:
                call.check(_library.cursimeter_chart_load(os.fsencode(file), out, call.error))
        self._chart = _ffi.gc(out[0], _library.cursimeter_chart_free)

    @classmethod
    def _of(cls, pointer):
        chart = cls.__new__(cls)
        chart._chart = _ffi.gc(pointer, _library.cursimeter_chart_free)
        return chart

    @property
    def name(self):
        return _text(_library.cursimeter_chart_name(self._chart))

    @property
    def digest(self):
        return _library.cursimeter_chart_digest(self._chart)

    def names(self, of):
        """Names of the chart's "states", "actions", "meters", "cooldowns", "modifiers", "blocks" or "zones"."""
        if of not in LISTS:
            raise Error(f"a chart has no list {of!r}; it has {', '.join(LISTS)}")
        index = LISTS.index(of)
        return [_text(_library.cursimeter_name(self._chart, index, i))
                for i in range(_library.cursimeter_count(self._chart, index))]

    def _find(self, of, name):
        with _Call() as call:
            found = _library.cursimeter_find(self._chart, LISTS.index(of), str(name).encode("utf-8"), call.error)
            if found < 0:
                call.check(_library.CURSIMETER_BAD_ARGUMENT)
            return found

    def spawn(self, position=(0.0, 0.0, 0.0), yaw=0.0):
        return Runner(self, position, yaw)

    def restore(self, text):
        """A runner that `save` wrote; its `lost` says what this chart could not take over."""
        runner = self.spawn()
        with _Call() as call:
            call.check(_library.cursimeter_restore_runner(self._chart, text.encode("utf-8"), runner._runner, call.error))
            runner.lost = call.lines()
        return runner

    def course(self, file):
        """A course file as a world for this chart's runners."""
        return Terrain(self, file)


class LiveChart:
    """The chart of a file that is tuned while the program runs. `chart` is the one at work."""

    def __init__(self, file):
        live, chart = _ffi.new("cursimeter_live_chart**"), _ffi.new("cursimeter_chart**")
        with _Call() as call:
            call.check(_library.cursimeter_live_chart_new(os.fsencode(file), live, chart, call.error))
        self._live = _ffi.gc(live[0], _library.cursimeter_live_chart_free)
        self.chart = Chart._of(chart[0])
        self.mistakes = []

    def take_in(self):
        """Whether the file was saved, so that `chart` is another one, to which each runner has to `carry_over`. While it has mistakes,
        the last good chart stays, and `mistakes` says what they are."""
        out = _ffi.new("cursimeter_chart**")
        with _Call() as call:
            saved = call.check(_library.cursimeter_live_chart_take_in(self._live, out, call.error))
            self.mistakes = call.lines()
        if saved:
            self.chart = Chart._of(out[0])
        return saved


class Terrain:
    def __init__(self, chart, file):
        out = _ffi.new("cursimeter_terrain**")
        with _Call() as call:
            call.check(_library.cursimeter_terrain_load(os.fsencode(file), chart._chart, out, call.error))
        self._terrain = _ffi.gc(out[0], _library.cursimeter_terrain_free)

    def set_time(self, seconds):
        """Where platforms stand at the start of the next tick."""
        with _Call() as call:
            call.check(_library.cursimeter_terrain_set_time(self._terrain, seconds))


class Runner:
    """One character. `copy()` saves a moment."""

    def __init__(self, chart, position=(0.0, 0.0, 0.0), yaw=0.0):
        self.chart, self.lost = chart, []
        self._runner = _ffi.new("cursimeter_runner*")
        self._report = _struct("cursimeter_report")
        with _Call() as call:
            placement = _ffi.new("cursimeter_placement*", (list(position), yaw))
            call.check(_library.cursimeter_spawn(chart._chart, placement, self._runner, call.error))

    def copy(self):
        twin = Runner.__new__(Runner)
        twin.chart, twin.lost = self.chart, list(self.lost)
        twin._runner = _ffi.new("cursimeter_runner*", self._runner[0])
        twin._report = _struct("cursimeter_report")
        return twin

    def save(self):
        """All of it as one line of text, for `Chart.restore`."""
        length = _ffi.new("size_t*")
        with _Call() as call:
            call.check(_library.cursimeter_save_runner(self.chart._chart, self._runner, _ffi.NULL, 0, length, call.error))
            text = _ffi.new("char[]", length[0] + 1)
            call.check(_library.cursimeter_save_runner(self.chart._chart, self._runner, text, length[0] + 1, _ffi.NULL, call.error))
        return _text(text)

    def carry_over(self, chart):
        """Goes on with another version of its chart. Returns what that could not take over."""
        with _Call() as call:
            call.check(_library.cursimeter_carry_over(self.chart._chart, self._runner, chart._chart, self._runner, call.error))
            self.chart, self.lost = chart, call.lines()
        return self.lost

    def advance(self, *, forward=0.0, side=0.0, yaw=0.0, pitch=0.0, held=(), facing="look", seconds=1.0 / 60.0, terrain=None):
        """One tick. `held` are names of actions whose keys are down."""
        intent = _struct("cursimeter_intent")
        intent.forward, intent.side, intent.yaw, intent.pitch = forward, side, yaw, pitch
        for action in held:
            intent.held |= 1 << self.chart._find("actions", action)
        intent.facing = ("look", "movement").index(facing)
        report = self._report
        world = terrain._terrain if terrain is not None else _ffi.NULL
        if _library.cursimeter_advance(self.chart._chart, self._runner, intent, world, seconds, report) != _library.CURSIMETER_OK:
            raise Error(f"the tick is refused: {_text(_library.cursimeter_refusal_name(report.refusal))}")
        return Report(report.seconds, tuple(report.displacement), [self._event(report.events[i]) for i in range(report.event_count)],
                      bool(report.intent_mended), bool(report.dt_shortened))

    def _event(self, event):
        cause = None
        if event.kind in (_library.CURSIMETER_ENTERED, _library.CURSIMETER_REFUSED):
            cause = self._cause(event.cause, event.term)
        subject = _text(_library.cursimeter_name(self.chart._chart, event.list, event.subject))
        return Event(_text(_library.cursimeter_event_name(event.kind)), subject, event.at, event.value, cause)

    def _cause(self, cause, term):
        text = _ffi.new("char[256]")
        _library.cursimeter_describe_cause(self.chart._chart, cause, term, text, 256)
        return _text(text)

    def _reading(self):
        reading = _struct("cursimeter_reading")
        _library.cursimeter_read(self.chart._chart, self._runner, reading)
        return reading

    @property
    def position(self):
        return tuple(self._reading().position)

    @property
    def velocity(self):
        return tuple(self._reading().velocity)

    @property
    def speed(self):
        return self._reading().speed

    @property
    def clock(self):
        return self._reading().clock

    @property
    def grounded(self):
        return bool(self._reading().grounded)

    @property
    def state(self):
        return _text(_library.cursimeter_name(self.chart._chart, 0, self._reading().state))

    @property
    def digest(self):
        return _library.cursimeter_digest(self._runner)

    def _ask(self, function, of, name, *arguments):
        with _Call() as call:
            return call.check(function(self.chart._chart, self._runner, self.chart._find(of, name), *arguments, call.error))

    def meter(self, name):
        out = _ffi.new("cursimeter_meter*")
        self._ask(_library.cursimeter_read_meter, "meters", name, out)
        return Meter(out.level, out.capacity, out.fraction, bool(out.spent))

    def spend(self, meter, amount):
        """Whether the meter held as much."""
        return self._ask(_library.cursimeter_spend, "meters", meter, amount)

    def fill(self, meter, amount):
        """How much of the amount fitted in."""
        fitted = _ffi.new("double*")
        self._ask(_library.cursimeter_fill, "meters", meter, amount, fitted)
        return fitted[0]

    def cooldown(self, name):
        out = _ffi.new("cursimeter_cooldown*")
        self._ask(_library.cursimeter_read_cooldown, "cooldowns", name, out)
        return Cooldown(bool(out.ready), out.charges, out.left, out.fraction)

    def use(self, cooldown):
        return self._ask(_library.cursimeter_use, "cooldowns", cooldown)

    def modifier(self, name):
        out = _ffi.new("cursimeter_modifier*")
        self._ask(_library.cursimeter_read_modifier, "modifiers", name, out)
        return Modifier(bool(out.active), out.stacks, out.strength, None if out.left < 0 else out.left)

    def grant(self, modifier, source=0, strength=1.0):
        return self._ask(_library.cursimeter_grant, "modifiers", modifier, source, strength)

    def remove(self, modifier, source=0, at_once=False):
        return self._ask(_library.cursimeter_remove, "modifiers", modifier, source, int(at_once))

    def block(self, name):
        return self._ask(_library.cursimeter_block, "blocks", name, _ffi.NULL)

    def unblock(self, name):
        return self._ask(_library.cursimeter_unblock, "blocks", name, _ffi.NULL)

    def push(self, direction, strength, *, lift=0.0, seconds=0.0, locks=False):
        push = _struct("cursimeter_push_spec")
        push.direction, push.strength, push.lift, push.seconds, push.locks = list(direction), strength, lift, seconds, locks
        with _Call() as call:
            return call.check(_library.cursimeter_push(self.chart._chart, self._runner, push, call.error))

    def could_enter(self, state):
        """(True, None), or (False, what keeps it out)."""
        cause, term = _ffi.new("int32_t*"), _ffi.new("int32_t*")
        possible = self._ask(_library.cursimeter_could_enter, "states", state, cause, term)
        return possible, None if possible else self._cause(cause[0], term[0])


def _array(out):
    """A table of the library as a structured array of its own."""
    table = _ffi.gc(out[0], _library.cursimeter_table_free)
    rows, columns = _library.cursimeter_table_rows(table), _library.cursimeter_table_columns(table)
    names = [_text(_library.cursimeter_table_column_name(table, i)) for i in range(columns)]
    numbers = _ffi.buffer(_library.cursimeter_table_numbers(table), rows * columns * 8) if rows * columns else b""
    return numpy.frombuffer(numbers, dtype=[(name, "f8") for name in names]).copy()


def _table(function, *arguments):
    out = _ffi.new("cursimeter_table**")
    with _Call() as call:
        call.check(function(*arguments, out, call.error))
    return _array(out)


def run(chart, drill, course=None, rate=60.0):
    """Drives a chart file through a drill file: a row for the start and for each tick."""
    world = _ffi.NULL if course is None else os.fsencode(course)
    return _table(_library.cursimeter_run_files, os.fsencode(chart), os.fsencode(drill), world, rate)


def visits(chart, drill, course=None, rate=60.0):
    """The states of the same run in their order: at_s, seconds, state (an index), distance_m."""
    world = _ffi.NULL if course is None else os.fsencode(course)
    return _table(_library.cursimeter_visits_files, os.fsencode(chart), os.fsencode(drill), world, rate)


def sweep(chart, path, values, figures):
    """Figures of a chart file for each value of one of its numbers; NaN where there is no such chart."""
    numbers = numpy.ascontiguousarray(values, dtype="f8")
    names = [_ffi.new("char[]", name.encode("utf-8")) for name in figures]
    return _table(_library.cursimeter_sweep_file, os.fsencode(chart), path.encode("utf-8"),
                  _ffi.from_buffer("double[]", numbers), len(numbers), _ffi.new("char*[]", names), len(names))


def figures(chart):
    """All figures of a chart file by name; NaN where the chart does not get there."""
    table = _table(_library.cursimeter_figures_file, os.fsencode(chart))
    return {name: float(table[name][0]) for name in table.dtype.names}


def self_test():
    """Raises Error if this machine does not compute as every other does."""
    with _Call() as call:
        call.check(_library.cursimeter_self_test(call.error))


def arc_tangent(y, x):
    """rad, -pi to pi, of the direction (x, y): the same bits on every machine."""
    return _library.cursimeter_arc_tangent(y, x)


def sine_cosine(angle):
    """The sine and cosine of an angle in rad: the same bits on every machine."""
    out = _ffi.new("double[2]")
    _library.cursimeter_sine_cosine(angle, out, out + 1)
    return out[0], out[1]


version = _text(_library.cursimeter_version())
