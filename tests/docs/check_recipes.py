#!/usr/bin/env python3
"""Each recipe, put into the guide's finished chart, is a sound chart: a table that it shows stands in place of the chart's own.
A drill below it is played, and what the drill expects is so.
usage: check_recipes.py PROGRAM FOLDER, in the source folder"""
import pathlib
import re
import subprocess
import sys

program, folder = sys.argv[1], pathlib.Path(sys.argv[2])
folder.mkdir(parents=True, exist_ok=True)
base = pathlib.Path("demo/guide/09_knockback.chart.toml").read_text(encoding="utf-8")


def tables(text):
    """The lines before the first heading, and each heading with its lines."""
    parts = re.split(r"^(?=\[)", text, flags=re.M)
    return parts[0], {part.split("]", 1)[0] + "]": part for part in parts[1:]}


def merged(recipe):
    top, own = tables(base)
    more_top, more = tables(recipe)
    for line in more_top.splitlines():
        key = line.split("=")[0].strip()
        if key:
            top = re.sub(rf"^{key} *=.*\n", "", top, flags=re.M) + line + "\n"
    own.update(more)
    return top + "\n" + "\n".join(own.values())


broken, tried, played = [], 0, 0
for part in re.split(r"^## ", pathlib.Path("docs/recipes.md").read_text(encoding="utf-8"), flags=re.M)[1:]:
    title = part.splitlines()[0]
    for block in re.findall(r"^```toml\n(.*?)^```", part, flags=re.M | re.S):
        tried += 1
        file = folder / f"{tried:02}.toml"
        file.write_text(merged(block), encoding="utf-8")
        done = subprocess.run([program, "check", str(file)], capture_output=True, text=True)
        unused_only = done.returncode == 1 and "error:" not in done.stdout and all(
            "(unused)" in line for line in done.stdout.splitlines() if ": warning:" in line)
        if done.returncode != 0 and not unused_only:
            broken.append(f"{title}\n{done.stdout}{done.stderr}")
    for block in re.findall(r"^```toml drill\n(.*?)^```", part, flags=re.M | re.S):
        played += 1
        drill = file.with_suffix(".drill.toml")
        drill.write_text(block, encoding="utf-8")
        done = subprocess.run([program, "trial", str(file), "--drill", str(drill)], capture_output=True, text=True)
        if done.returncode != 0 or "[[expect]]" not in block:
            broken.append(f"{title}: its drill\n{done.stdout}{done.stderr}")
print("\n".join(broken) if broken else f"{tried} recipes are sound, {played} do what their drills expect")
sys.exit(1 if broken or tried < 25 or played < 10 else 0)
