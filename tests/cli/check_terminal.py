#!/usr/bin/env python3
"""On a terminal long commands tell how far they have come, on a line of their own that is gone at the end; with --quiet, and into a file or a
pipe, they do not. usage: check_terminal.py PROGRAM"""
import os
import pty
import re
import subprocess
import sys

program = sys.argv[1]
chart, drill, course = "demo/charts/bearer.toml", "demo/drills/relay_bearer.toml", "demo/courses/relay.toml"
calls = {
    r"\d+ of 201 charts": ["sweep", chart, "--vary", "states.walk.speed.forward=2:3:0.005", "--figure", "sprint.distance"],
    r"(exploring|narrowing|trimming) +\d+ %": ["scout", chart, "--course", course, "--effort", "0.1", "--leg", "sea wall"],
    r"\d+ of 40 runs": ["trial", chart, "--drill", drill, "--course", course] + [f"--rate={200 + i}" for i in range(40)],
    r"\d+ charts tried": ["fit", chart, "--want", "sprint.distance = 40 m", "--vary", "states.sprint.drain.stamina"],
}


def on_terminal(call):
    """What a terminal is sent on stderr, and what goes into stdout."""
    ours, its = pty.openpty()
    running = subprocess.Popen([program, *call], stdout=subprocess.PIPE, stderr=its, env={**os.environ, "TERM": "xterm"})
    os.close(its)
    told = b""
    while True:
        try:
            piece = os.read(ours, 4096)
        except OSError:  # the terminal's other end is closed
            break
        if not piece:
            break
        told += piece
    data = running.stdout.read()
    running.wait()
    os.close(ours)
    return told.decode(), data


for pattern, call in calls.items():
    told, data = on_terminal(call)
    assert re.search(pattern, told), f"{call}: says nothing of how far it is: {told!r}"
    assert re.search(r"\r +\r$", told), f"{call}: leaves its line behind: {told[-200:]!r}"
    quiet, same = on_terminal([*call, "--quiet"])
    assert quiet == "", f"{call} --quiet says {quiet!r}"
    piped = subprocess.run([program, *call], capture_output=True)
    assert piped.stderr == b"", f"{call}: into a pipe it says {piped.stderr!r}"
    assert data == same == piped.stdout and data, f"{call}: the terminal changes what is printed"
print(f"{len(calls)} commands tell how far they are")
