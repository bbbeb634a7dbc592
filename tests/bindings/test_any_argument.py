"""Every function of the C interface with null for each of its pointers in turn, and numbers that cannot be meant for each of its
numbers, all other arguments as they should be; no client is on the server's seats.

They may be allowed, or refused; the program goes on. Each call runs in a process of its own, so that what crashes is told by name.
usage: test_any_argument.py PROJECT
"""
import os
import pathlib
import re
import sys

import cffi

project = pathlib.Path(sys.argv[1])
headers = ["cursimeter", "cursimeter_controls", "cursimeter_crowd", "cursimeter_link", "cursimeter_peers"]


def declarations(header):
    """What cffi reads of a header: no lines of the preprocessor, and the numbers that it defines by their values."""
    text = (project / f"include/cursimeter/{header}.h").read_text(encoding="utf-8")
    numbers = dict(re.findall(r"#define (\w+) (\d+)u?\b", text))
    text = re.sub(r"^#.*?(?<!\\)$", "", text, flags=re.M | re.S)
    text = re.sub(r"CURSIMETER_API\s+", "", text.replace('extern "C" {', ""))
    for name, number in numbers.items():
        text = re.sub(rf"\b{name}\b", number, text)
    return re.sub(r"\n}\n\s*$", "\n", text.rstrip() + "\n")


ffi = cffi.FFI()
texts = [declarations(header) for header in headers]
for text in texts:
    ffi.cdef(text)
library = ffi.dlopen(os.environ["CURSIMETER_LIBRARY"])
# Without comments, which name functions too.
plain = [re.sub(r"/\*.*?\*/|//[^\n]*", "", text, flags=re.S) for text in texts]
functions = sorted(set(re.findall(r"\b(cursimeter_\w+)\(", "\n".join(plain))))


def struct(kind):
    made = ffi.new(f"{kind}*")
    if any(field == "size" for field, _ in ffi.typeof(kind).fields):
        made.size = ffi.sizeof(kind)
    return made


def made_by(call, kind, *arguments, more=()):
    """What a function gives by its parameter `out`."""
    out = ffi.new(f"{kind}**")
    error = library.cursimeter_error_new()
    status = call(*arguments, out, *more, error)
    assert status == 0, (kind, ffi.string(library.cursimeter_error_text(error)))
    return out[0]


def configured(kind, **values):
    made = struct(kind)
    for name, value in values.items():
        setattr(made, name, value)
    return made


chart_file = str(project / "demo/charts/bearer.toml").encode()
drill_file = str(project / "demo/drills/quay_boards.toml").encode()
chart = made_by(library.cursimeter_chart_load, "cursimeter_chart", chart_file)
runner = ffi.new("cursimeter_runner*")
assert library.cursimeter_spawn(chart, ffi.NULL, runner, ffi.NULL) == 0
charts = ffi.new("cursimeter_chart*[1]", [chart])
serving = configured("cursimeter_server_config", tick_rate=60, snapshot_every=3, seats=4, runners=8, budget=1200, secret=7,
                     silence=5, keep=60, history=1, interest=1e9, threads=1, players=1)
joining = configured("cursimeter_client_config", tick_rate=60, identity=1, attempt=1, silence=5, spare=0.01, extrapolate=0.25,
                     half_life=0.08, visible_limit=2, runners=8, players=1)
players = ffi.new("cursimeter_peer_player[2]")
playing = configured("cursimeter_peers_config", tick_rate=60, players=players, player_count=2, session=7, input_delay=0.034,
                     most_predicted=0.25, silence=3, half_life=0.08, visible_limit=2)
controls = b'format = 1\nname = "mine"\n'
handles = {
    "cursimeter_chart": chart,
    "cursimeter_runner": runner,
    "cursimeter_error": library.cursimeter_error_new(),
    "cursimeter_plan": library.cursimeter_plan_new(),
    "cursimeter_crowd": made_by(library.cursimeter_crowd_new, "cursimeter_crowd", chart),
    "cursimeter_crowd_report": made_by(library.cursimeter_crowd_report_new, "cursimeter_crowd_report", 8),
    "cursimeter_live_chart": made_by(library.cursimeter_live_chart_new, "cursimeter_live_chart", chart_file,
                                     more=[ffi.new("cursimeter_chart**")]),
    "cursimeter_terrain": made_by(library.cursimeter_terrain_load, "cursimeter_terrain",
                                  str(project / "demo/courses/relay.toml").encode(), chart),
    "cursimeter_controls": made_by(library.cursimeter_controls_parse, "cursimeter_controls", controls, len(controls), ffi.NULL, chart),
    "cursimeter_recorder": made_by(library.cursimeter_recorder_new, "cursimeter_recorder", chart, runner, ffi.NULL, ffi.NULL),
    "cursimeter_table": made_by(library.cursimeter_run_files, "cursimeter_table", chart_file, drill_file, ffi.NULL, 60.0),
    "cursimeter_server": made_by(library.cursimeter_server_new, "cursimeter_server", charts, 1, serving),
    "cursimeter_client": made_by(library.cursimeter_client_new, "cursimeter_client", charts, 1, joining),
    "cursimeter_peers": made_by(library.cursimeter_peers_new, "cursimeter_peers", charts, 1, playing),
}
keep = []


def argument(kind):
    """Something that fits a parameter of this type."""
    if kind.kind == "primitive":
        return 0.01 if kind.cname in ("double", "float") else 0
    if kind.kind == "enum":
        return 0
    assert kind.kind == "pointer", kind
    target = kind.item
    if target.kind == "pointer":
        return charts if target.cname == "cursimeter_chart *" else ffi.new(f"{target.item.cname}*[1]")
    if target.cname in ("char", "char const"):
        return ffi.new("char[]", b"walk")
    if target.cname in handles:
        return handles[target.cname]
    if target.kind == "struct":
        return struct(target.cname)
    if target.cname == "void":
        return ffi.new("char[]", 4096)
    return ffi.new(f"{target.cname}[64]")


ODD = {
    "double": [float("nan"), float("inf"), -1e300, 1e300, -0.0],
    "float": [float("nan"), float("inf"), -1e30],
    "int": [-1, 2**31 - 1, -(2**31)],
    "int32_t": [-1, 2**31 - 1, -(2**31)],
    "uint32_t": [2**32 - 1, 1000],
    "uint64_t": [2**64 - 1, 1 << 32],
    "size_t": [2**64 - 1, 1000],
}


def names_of(function):
    """The names of its parameters."""
    text = re.search(rf"\b{function}\(([^;]*)\);", "\n".join(plain)).group(1)
    return [re.search(r"(\w+)(\[\w*\])?\s*$", part).group(1) for part in text.split(",")]


def odd_values(kind, name):
    """What to give for a parameter in turn. How long an array is, only its owner knows: those numbers stay."""
    if kind.kind == "pointer":
        return [ffi.NULL]
    if kind.kind == "enum":
        return [99]
    if re.search("length|count|most|size|capacity", name):
        return []
    return ODD[kind.cname]


def crashes(call, arguments):
    """The signal that ends a process which makes this call, or 0."""
    child = os.fork()
    if child == 0:
        os.close(2)
        call(*arguments)
        os._exit(0)
    _, status = os.waitpid(child, 0)
    return os.WTERMSIG(status) if os.WIFSIGNALED(status) else 0


calls = 0
faults = []
for name in functions:
    call = getattr(library, name)
    kinds = ffi.typeof(call).args
    arguments = [argument(kind) for kind in kinds]
    keep.append(arguments)
    tried = [(None, None)]
    for i, (kind, parameter) in enumerate(zip(kinds, names_of(name))):
        tried += [(i, value) for value in odd_values(kind, parameter)]
    for i, value in tried:
        calls += 1
        given = list(arguments)
        if i is not None:
            given[i] = value
        signal = crashes(call, given)
        if signal:
            faults.append(f"{name}: signal {signal} " + ("as it is" if i is None else f"with {value} for {names_of(name)[i]}"))
print(f"{calls} calls of {len(functions)} functions")
for fault in faults:
    print(fault)
assert calls > 700 and not faults
