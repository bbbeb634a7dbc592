#!/usr/bin/python3
"""Plays in the real window, by keys and a mouse on an X server of its own, and looks at what the program says of itself, at the
files that it writes and at what the other commands make of them. Waits for what is to happen, never for a time by itself.
usage: check_window.py PROGRAM WORK_FOLDER. Exits with 77 where there is no X server to be had."""
import json
import pathlib
import re
import shutil
import subprocess
import sys
import threading
import time

import jsonschema

from screen import PATIENCE, Screen, skip_without_screen

PROGRAM, WORK = sys.argv[1], pathlib.Path(sys.argv[2])
SOURCE = pathlib.Path(__file__).resolve().parents[2]


class Window:
    """The program with its window, and hands."""

    def __init__(self, screen, *options):
        self.state_file = WORK / "state.json"
        self.state_file.unlink(missing_ok=True)
        self.screen = screen
        self.program = subprocess.Popen([PROGRAM, "try", *options, "--state-json", str(self.state_file)],
                                        env=screen.environment(), stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)
        self.until("the first frames", lambda state: state["frames"] > 5)
        self.id = self.screen.find("Cursimeter", self.program)
        self.hands("windowfocus", self.id)
        self.frames_on()

    def hands(self, *words):
        return self.screen.hands(*words)

    def down(self, key):
        self.hands("keydown", key)

    def up(self, key):
        self.hands("keyup", key)

    def key(self, *keys):
        self.hands("key", *keys)

    def state(self):
        try:
            return json.loads(self.state_file.read_text())
        except (FileNotFoundError, json.JSONDecodeError):
            return None

    def until(self, what, holds):
        """The first state for which it holds."""
        end = time.monotonic() + PATIENCE
        while time.monotonic() < end:
            state = self.state()
            if state is not None and holds(state):
                return state
            if self.program.poll() is not None:
                raise SystemExit(f"the window has closed while waiting for {what}: {self.program.stderr.read()}")
            time.sleep(0.01)
        raise SystemExit(f"waited in vain for {what}; the state is {json.dumps(self.state(), indent=2)}")

    def frames_on(self, count=12):
        before = self.state()["frames"]
        return self.until("some frames", lambda state: state["frames"] >= before + count)

    def closes(self):
        code = self.program.wait(PATIENCE)
        if code != 0:
            raise SystemExit(f"the window ended with {code}: {self.program.stderr.read()}")


def must(holds, what):
    if not holds:
        raise SystemExit("not so: " + what)


def tool(*words):
    done = subprocess.run([PROGRAM, *words], capture_output=True, text=True)
    must(done.returncode == 0, f"cursimeter {' '.join(words)} is fine: {done.stderr}")
    return done.stdout


def play_and_turn_back(window):
    window.down("w")
    state = window.until("walking", lambda s: s["state"] == "walk" and s["speed"] > 2.3)
    must(state["position"][0] > 0.0, "ahead is along x")
    window.down("shift")
    window.until("sprinting", lambda s: s["state"] == "sprint" and s["speed"] > 6.0)
    must("sprint" in window.state()["actions_on"], "the key is held")
    # A jump is over soon, and states are told ten times a second: it is looked for in slow motion.
    window.key("F6", "F6", "F6")
    window.until("slow motion", lambda s: s["pace"] == 0.1)
    window.key("space")
    window.until("jumping", lambda s: s["state"] == "jump" and not s["grounded"])
    window.key("F7", "F7", "F7")
    window.until("full pace", lambda s: s["pace"] == 1.0)
    window.up("shift")
    window.up("w")
    window.until("standing", lambda s: s["speed"] == 0.0 and s["grounded"])
    must(window.state()["actions_on"] == [], "nothing sticks")

    window.key("F3")
    stopped = window.until("a pause", lambda s: s["paused"])
    window.key("F4", "F4", "F4", "F5")
    state = window.until("two ticks back", lambda s: s["moment"] == stopped["moment"] - 2)
    must(state["newest_moment"] == stopped["newest_moment"], "what comes after is kept")
    window.key("F3")
    state = window.until("going on", lambda s: not s["paused"] and s["moment"] > stopped["moment"] + 2)


def look_around(window):
    yaw = window.state()["yaw_degrees"]
    window.key("Tab")
    window.until("the mouse", lambda s: s["holds_mouse"])
    window.hands("mousemove_relative", "--", "200", "0")
    window.until("a turn to the right", lambda s: abs(s["yaw_degrees"] - (yaw - 30.0)) < 0.01)
    window.key("Escape")
    window.until("the mouse given back", lambda s: not s["holds_mouse"])
    window.key("F2")
    window.until("own eyes", lambda s: s["view"] == "own eyes")
    window.key("F2", "F2", "F2")
    window.until("from behind", lambda s: s["view"] == "behind")


def turn_the_number(window, text):
    """The one that is found, by a click with control, as text. Frames are waited for, however slow they are."""
    window.hands("mousemove", "1168", "98")
    window.frames_on()
    for hands in (("keydown", "ctrl"), ("mousedown", "1"), ("mouseup", "1"), ("keyup", "ctrl")):
        window.hands(*hands)
        window.frames_on(4)
    window.hands("type", "--delay", "30", text)
    window.frames_on()
    window.key("Return")
    window.frames_on()
    return window.until("a turned number", lambda s: s["changed"])


def tune_and_save(window, chart):
    before = chart.read_text()
    window.key("ctrl+f")
    window.frames_on()
    window.hands("type", "--delay", "30", "sprint speed forward")
    window.frames_on()
    must(window.state()["actions_on"] == [] and window.state()["speed"] == 0.0, "letters in a text do not move the character")
    state = turn_the_number(window, "7.5")
    must(state["changed"] == [{"path": "states.sprint.speed.forward", "saved": 6.5, "now": 7.5}], "that number alone")
    must(chart.read_text() == before, "nothing is saved by itself")
    window.key("ctrl+z")
    window.until("an undone turn", lambda s: not s["changed"])
    window.key("ctrl+y")
    window.until("a turn done again", lambda s: s["changed"])
    window.key("ctrl+s")
    window.until("a saved chart", lambda s: str(chart) in s["written"] and not s["changed"])
    must(chart.read_text() == before.replace("forward = 6.5", "forward = 7.5"), "comments and layout stay")
    window.down("w")
    window.down("shift")
    window.until("the new speed under the live runner", lambda s: abs(s["speed"] - 7.5) < 1e-6)
    window.up("shift")
    window.up("w")
    window.until("standing", lambda s: s["speed"] == 0.0)


def record(window, chart):
    window.key("F9")
    window.until("the start", lambda s: abs(s["position"][0]) < 1e-9)
    for key in ("w", "shift"):
        window.down(key)
    window.until("some way", lambda s: s["position"][0] > 8.0)
    window.key("space")
    window.until("a landing further on", lambda s: s["position"][0] > 16.0 and s["grounded"])
    for key in ("shift", "w"):
        window.up(key)
    window.key("F3")
    state = window.until("a pause", lambda s: s["paused"])
    window.key("ctrl+d")
    window.until("a drill", lambda s: any(name.endswith(".drill.toml") for name in s["written"]))
    window.key("ctrl+t")
    state = window.until("a take", lambda s: any(name.endswith(".take") for name in s["written"]))
    files = {name.split(".", 2)[2]: name for name in state["written"] if "played" in name or "yard" in name}
    take = next(name for name in state["written"] if name.endswith(".take"))
    drill = next(name for name in state["written"] if name.endswith(".drill.toml"))
    course = next(name for name in state["written"] if name.endswith(".course.toml"))
    must(len(files) == 3, "three files")
    tool("replay", take)
    by_drill = json.loads(tool("run", str(chart), "--drill", drill, "--course", course, "--json"))
    by_take = json.loads(tool("run", "--from", take, "--json"))
    must(by_drill["digest"] == state["digest"], "the drill is the run that was played, to the bit")
    must(by_take["digest"] == state["digest"], "so is the take")
    must(any(visit["state"] == "jump" for visit in by_drill["states"]), "with its jump")
    tool("why", "--from", take, "--at", "1")
    window.key("F3")
    window.until("going on", lambda s: not s["paused"])


def files_of_others(window, chart):
    text = chart.read_text()
    chart.write_text(text.replace("forward = 2.4", "forward = 3"))
    window.until("a chart that was saved elsewhere", lambda s: "taken in" in s["said"])
    window.down("w")
    window.until("its speed", lambda s: abs(s["speed"] - 3.0) < 1e-9)
    chart.write_text(text.replace("capacity = 100", "capacity = -1"))
    state = window.until("an error", lambda s: s["file_errors"])
    must(f"{chart}:" in state["file_errors"] and "capacity" in state["file_errors"], "with file, line and key")
    must(abs(window.frames_on()["speed"] - 3.0) < 1e-9, "the last good chart stays at work")
    chart.unlink()
    window.until("a chart that is gone", lambda s: "is gone" in s["file_errors"])
    chart.write_text(text)
    window.until("all well again", lambda s: not s["file_errors"])
    window.until("the speed of the file", lambda s: abs(s["speed"] - 2.4) < 1e-9)
    window.up("w")


def lose_the_focus(window):
    window.down("w")
    window.until("walking", lambda s: s["speed"] > 2.0)
    window.hands("windowunmap", window.id)
    window.until("standing without the focus", lambda s: s["speed"] == 0.0)
    window.up("w")
    window.hands("windowmap", window.id)
    window.hands("windowfocus", window.id)
    window.down("w")
    window.until("walking again", lambda s: s["speed"] > 2.0)
    window.up("w")


def ghost_and_network(window):
    window.key("F8")
    window.until("a ghost", lambda s: s.get("ghost", {}).get("name") == "as saved")
    window.key("F8")
    window.until("no ghost", lambda s: "ghost" not in s)
    window.key("ctrl+n")
    window.until("a network", lambda s: "network" in s)
    window.down("w")
    state = window.until("walking over it", lambda s: s["speed"] > 2.3)
    window.up("w")
    window.until("the delay that the sliders say, though nobody looks at them",
                 lambda s: 100.0 < s["network"]["round_trip_ms"] < 250.0)
    window.key("ctrl+n")
    window.until("no network", lambda s: "network" not in s)


def close_with_unsaved_numbers(window, chart):
    before = chart.read_text()
    turn_the_number(window, "5.25")
    window.key("ctrl+q")
    window.frames_on()
    window.key("Escape")
    window.frames_on()
    window.down("w")
    window.until("it stays open", lambda s: s["speed"] > 2.0)
    window.up("w")
    window.key("ctrl+q")
    window.frames_on()
    window.key("n")
    window.closes()
    must(chart.read_text() == before, "closed without saving")


def crouch_on_control(screen, chart):
    """Where control makes the character crouch, control with S and D is a way to move, and saves nothing."""
    keys = WORK / "keys.toml"
    keys.write_text('format = 1\nname = "keys"\n[[bind]]\naction = "crouch"\ninputs = ["key.left_ctrl"]\n')
    window = Window(screen, str(chart), "--controls", str(keys))
    window.down("ctrl")
    for key in ("d", "s"):
        window.down(key)
        window.until("a crouched step with " + key, lambda s: s["state"] == "crouch" and s["speed"] > 0.5)
        window.up(key)
        window.until("a stop", lambda s: s["speed"] == 0.0)
    must(window.state()["written"] == [], "nothing is written")
    window.up("ctrl")
    window.down("Control_R")  # the other control is still the window's
    window.key("q")
    window.closes()
    window.up("Control_R")  # the server keeps what is held for the next window


def documented(state):
    """What docs/tool.md says of the file and what is in it are the same."""
    page = (SOURCE / "docs/tool.md").read_text()
    told = page[page.index("`--state-json FILE` keeps"):page.index("On a machine without the libraries")]
    named = set(re.findall(r"`(\w+)`", told))
    missing = set(state) - named
    must(not missing, f"docs/tool.md names every field; it lacks {missing}")
    unknown = named - set(state) - {"ghost", "network", "try"}
    must(not unknown, f"every field that docs/tool.md names is there; {unknown} is not")
    schema = json.loads(subprocess.run([PROGRAM, "schema", "try"], capture_output=True, text=True, check=True).stdout)
    wrong = [f"{error.json_path}: {error.message}" for error in jsonschema.Draft202012Validator(schema).iter_errors(state)]
    must(not wrong, f"the state is what its schema says: {wrong}")


def broken_at_the_start(screen, chart):
    """The window shows the mistakes, and goes on when the file is mended."""
    text = chart.read_text()
    chart.write_text(text.replace("capacity = 100", "capacity = -1"))

    def mend():
        screen.find("Cursimeter")
        time.sleep(0.3)
        chart.write_text(text)

    threading.Thread(target=mend).start()
    window = Window(screen, str(chart))
    window.down("w")
    window.until("walking", lambda s: s["speed"] > 2.0)
    window.up("w")
    window.key("ctrl+q")
    window.closes()


def main():
    skip_without_screen()
    shutil.rmtree(WORK, ignore_errors=True)
    WORK.mkdir(parents=True)
    chart = WORK / "bearer.toml"
    shutil.copy(SOURCE / "demo/charts/bearer.toml", chart)
    screen = Screen()
    window = None
    try:
        broken_at_the_start(screen, chart)
        crouch_on_control(screen, chart)
        window = Window(screen, str(chart))
        documented(window.state())
        play_and_turn_back(window)
        look_around(window)
        tune_and_save(window, chart)
        record(window, chart)
        ghost_and_network(window)
        lose_the_focus(window)
        files_of_others(window, chart)
        close_with_unsaved_numbers(window, chart)
        print("played, turned back, tuned, saved, recorded, closed")
    finally:
        if window is not None:
            window.program.kill()
        screen.close()


main()
