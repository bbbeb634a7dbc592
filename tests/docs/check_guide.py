#!/usr/bin/env python3
"""The guide's chapters build one chart: what a chapter shows stands in its whole file, each file is sound, and its drill, on the
course beside it if there is one, takes it through every state and does what it expects.
usage: check_guide.py PROGRAM, in the source folder"""
import json
import pathlib
import re
import subprocess
import sys


program = sys.argv[1]
broken = []


def plain(line):
    return re.sub(r"\s+", " ", re.sub(r"#.*$", "", line)).strip()


def ask(*arguments):
    done = subprocess.run([program, *arguments], capture_output=True, text=True)
    return done.returncode, done.stdout, done.stderr


charts = sorted(pathlib.Path("demo/guide").glob("*.chart.toml"))
guide = pathlib.Path("docs/guide.md").read_text(encoding="utf-8")
seen = 0
for chart in charts:
    chapters = [part for part in re.split(r"^## ", guide, flags=re.M) if f"demo/guide/{chart.name}" in part]
    if len(chapters) != 1:
        broken.append(f"{chart} belongs to {len(chapters)} chapters")
        continue
    whole = {plain(line) for line in chart.read_text(encoding="utf-8").splitlines()}
    for block in re.findall(r"^```toml\n(.*?)^```", chapters[0], flags=re.M | re.S):
        for line in block.splitlines():
            seen += 1
            if plain(line) not in whole:
                broken.append(f"{chart}: the guide's line is not in it: {line}")
    code, out, errors = ask("check", str(chart))
    if code != 0:
        broken.append(f"{chart} is not sound: {out}{errors}")
    code, out, errors = ask("run", str(chart), "--json")
    if code != 0:
        broken.append(f"{chart}: {errors}")
        continue
    taken = {visit["state"] for visit in json.loads(out)["visits"]} if "visits" in json.loads(out) else set(re.findall(r'"state": "(\w+)"', out))
    missing = set(re.findall(r"^\[states\.(\w+)\]", chart.read_text(encoding="utf-8"), re.M)) - taken
    if missing:
        broken.append(f"{chart}: its drill does not come to {', '.join(sorted(missing))}")
    # What a chapter promises stands in its drill as expectations.
    code, out, errors = ask("trial", str(chart))
    if code != 0 or not re.search(r"^\w+, .*: [1-9]\d* of [1-9]\d* expectations kept", out, re.M):
        broken.append(f"{chart}: {out}{errors}")
print("\n".join(broken) if broken else f"{len(charts)} charts, {seen} lines of the guide in them")
sys.exit(1 if broken or len(charts) < 13 or seen < 120 else 0)
