#!/usr/bin/env python3
"""Installs the build, writes a game with the installed program, builds it by the commands that are printed, plays it by keys,
and saves its chart while it runs. usage: check_starter.py BUILD_FOLDER COMPILER WORK_FOLDER"""
import os
import pathlib
import shutil
import subprocess
import sys
import threading
import time

from screen import PATIENCE, Screen, skip_without_screen

BUILD, COMPILER, WORK = sys.argv[1], sys.argv[2], pathlib.Path(sys.argv[3])


def call(*words, **options):
    done = subprocess.run(words, capture_output=True, text=True, **options)
    if done.returncode != 0:
        raise SystemExit(f"{' '.join(words)}: {done.returncode}\n{done.stdout}\n{done.stderr}")
    return done.stdout


class Told:
    """What a program has printed so far."""

    def __init__(self, program):
        self.program, self.lines = program, []
        threading.Thread(target=self.read, daemon=True).start()

    def read(self):
        for line in self.program.stdout:
            self.lines.append(line.strip())

    def wait_for(self, part):
        end = time.monotonic() + PATIENCE
        while time.monotonic() < end:
            if any(part in line for line in self.lines):
                return
            if self.program.poll() is not None:
                raise SystemExit(f"the game has ended while waiting for '{part}': {self.program.stderr.read()}")
            time.sleep(0.01)
        raise SystemExit(f"the game never said '{part}', but {self.lines}")


def main():
    skip_without_screen()
    shutil.rmtree(WORK, ignore_errors=True)
    WORK.mkdir(parents=True)
    prefix = WORK / "prefix"
    call("cmake", "--install", BUILD, "--prefix", str(prefix))
    program = str(prefix / "bin" / "cursimeter")
    printed = call(program, "new", "wader", "--game", cwd=WORK)
    for file in ("main.cpp", "window.hpp", "CMakeLists.txt", "README.md", "wader.chart.toml", "wader.course.toml", "wader.controls.toml"):
        if f"wrote wader/{file}" not in printed:
            raise SystemExit(f"'{file}' is not among what was written: {printed}")
    lines = len((WORK / "wader/main.cpp").read_text().splitlines())
    if abs(lines - 130) > 5:
        raise SystemExit(f"main.cpp has {lines} lines, and docs/tool.md tells 130")
    commands = {line.split(":")[0]: line.split(":", 1)[1].strip() for line in printed.splitlines() if ": " in line}
    environment = dict(os.environ, CMAKE_PREFIX_PATH=str(prefix), CXX=COMPILER, CXXFLAGS="-Wall -Wextra -Werror")
    call("sh", "-c", commands["build it"], cwd=WORK, env=environment)
    call(program, "check", str(WORK / "wader/wader.chart.toml"))

    no_display = {name: value for name, value in os.environ.items()
                  if name not in ("DISPLAY", "WAYLAND_DISPLAY", "SDL_VIDEODRIVER")}
    unseen = subprocess.run(["build/wader"], cwd=WORK / "wader", env=no_display, capture_output=True, text=True, timeout=PATIENCE)
    if unseen.returncode != 1 or "no display" not in unseen.stderr:
        raise SystemExit(f"without a display the game ends with {unseen.returncode} and says: {unseen.stderr}")

    screen = Screen()
    game = None
    try:
        game = subprocess.Popen(["sh", "-c", "exec " + commands["play it"].split("&& ")[1]], cwd=WORK / "wader",
                                env=screen.environment(), stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)
        told = Told(game)
        screen.hands("windowfocus", screen.find("wader", game))
        time.sleep(0.2)
        screen.hands("keydown", "d")
        screen.hands("keydown", "shift")
        told.wait_for("sprint (enter: sprint on)")
        screen.hands("keydown", "space")
        told.wait_for("jump (enter: jump pressed)")
        screen.hands("keyup", "space")
        told.wait_for("fall (")
        screen.hands("keyup", "shift")
        told.wait_for("walk (")
        screen.hands("keyup", "d")
        screen.hands("key", "F1")
        chart = WORK / "wader/wader.chart.toml"
        chart.write_text(chart.read_text().replace("forward = 2.4", "forward = 3.1"))
        told.wait_for("wader.chart.toml taken in")
        screen.hands("key", "F5")
        time.sleep(0.3)
        if game.poll() is not None:
            raise SystemExit(f"the game has ended: {game.stderr.read()}")
        if len(sys.argv) > 4:  # for looking at it
            call("import", "-window", "root", sys.argv[4], env=screen.environment())
        print("built, played, its chart changed while it ran")
    finally:
        if game is not None:
            game.kill()
        screen.close()


main()
