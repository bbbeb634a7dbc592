#!/usr/bin/python3
"""The cheat sheet holds: its chart is sound and runs, its terms are known to a chart, its lines compile, its calls are public, and its
commands work.
usage: check_cheat_sheet.py PROGRAM FOLDER COMPILER GENERATED_HEADERS, in the source folder"""
import pathlib
import re
import shlex
import subprocess
import sys

program, folder = pathlib.Path(sys.argv[1]).resolve(), pathlib.Path(sys.argv[2])
compiler, generated = sys.argv[3:]
folder.mkdir(parents=True, exist_ok=True)
page = pathlib.Path("docs/cheat-sheet.md").read_text()
failures = []


def call(words):
    done = subprocess.run([program, *words], capture_output=True, text=True, cwd=folder)
    if done.returncode != 0:
        failures.append(f"{' '.join(words)}: exit code {done.returncode}: {done.stderr}{done.stdout}")
    return done.stdout


def section(title):
    part = page[page.index(f"\n## {title}\n") + 1:]
    return part[:part.find("\n## ")] if "\n## " in part else part


chart = re.search(r"```toml\n(.*?)```", page, re.S).group(1)
(folder / "wader.chart.toml").write_text(chart)
if not call(["check", "wader.chart.toml"]).startswith("wader: sound"):
    failures.append("its chart is not sound")

# All terms at once, in a chart that has what they speak of.
terms = [term for row in re.findall(r"^\| [a-z ]+ \| (.*) \|$", section("Terms of a condition"), re.M) for term in re.findall(r"`([^`]+)`", row)]
asked = "".join(f"""
[states.asked_{i}]
like  = "walk"
enter = ["{term}", "sprint on"]
""" for i, term in enumerate(terms))
names = ", ".join(f'"asked_{i}"' for i in range(len(terms)))
wide = chart.replace("rank   = [", f"zones = [\"mud\"]\nrank   = [{names}, ") + asked + """
[modifiers.swift]
seconds = 5
affects = [{ what = "speed", times = 1.2 }]
"""
(folder / "terms.chart.toml").write_text(wide)
told = subprocess.run([program, "run", "terms.chart.toml", "-d", "go.toml"], capture_output=True, text=True, cwd=folder).stderr
if "terms.chart.toml" in told:
    failures.append(f"its terms: {told}")
if len(terms) < 20:
    failures.append(f"only {len(terms)} terms are listed")

lines = re.search(r"```cpp\n(.*?)```", page, re.S).group(1)
(folder / "tick.cpp").write_text("#include <cursimeter/chartfile/chart_file.hpp>\n#include <cursimeter/cursimeter.hpp>\nusing namespace cursimeter;\n"
                                 f"Report tick(const Terrain& world, double yaw) {{\n{lines}return report;\n}}\n")
compiled = subprocess.run([compiler, "-std=c++20", "-Wall", "-Wextra", "-fsyntax-only", "-Iinclude", f"-I{generated}", folder / "tick.cpp"],
                          capture_output=True, text=True)
if compiled.returncode != 0 or compiled.stderr:
    failures.append(f"its lines: {compiled.stderr}")

public = "".join(header.read_text() for header in pathlib.Path("include").rglob("*.hpp"))
for name in re.findall(r"`\.?(?:runner\.|report\.)?(\w+)(?:\(\))?`", section("In the game").split("| to |")[1]):
    if not re.search(rf"\b{name}\(", public):
        failures.append(f"there is no call {name}")

(folder / "go.toml").write_text("format = 1\nname = \"go\"\nseconds = 4\n[[step]]\nat = 0.5\nmove = { forward = 1 }\nhold = [\"sprint\"]\n")
(folder / "trials.toml").write_text("format = 1\nname = \"agreed\"\n[[figure]]\ncharts = [\"wader.chart.toml\"]\nname = \"sprint.top_forward\"\nleast = 6.5\nmost = 6.5\n")
commands = re.findall(r"`cursimeter ([^`]+)`", section("At the prompt"))
for command in commands:
    words = shlex.split(command.replace("CHART", "wader.chart.toml").replace("DRILL", "go.toml"))
    if words[0] == "try":
        continue  # needs a window; tests/window plays in it
    further = {"scout": ["--effort", "0.5", "--seconds", "15"], "net": ["--seconds", "3"]}.get(words[0], [])
    call([*words, *further])
if len(commands) < 10:
    failures.append(f"only {len(commands)} commands are listed")

print("\n".join(failures) if failures else f"the cheat sheet holds: {len(terms)} terms, {len(commands)} commands")
sys.exit(1 if failures else 0)
