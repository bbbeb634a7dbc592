"""What commands print with --json is what their schemas say: nothing more, nothing less, and nothing is promised that never comes."""
import copy
import json
import pathlib
import re
import subprocess
import sys

import jsonschema

program, folder = sys.argv[1], pathlib.Path(sys.argv[2])
bearer, quay = "demo/charts/bearer.toml", "demo/drills/quay_boards.toml"
relay = ["-d", "demo/drills/relay_bearer.toml", "-c", "demo/courses/relay.toml"]
speed = ["--vary", "states.sprint.speed.forward=5:7:1"]

spoilt = pathlib.Path(bearer).read_text()
(folder / "tired.toml").write_text(spoilt.replace("capacity = 100", "capacity = 90"))
(folder / "flicker.toml").write_text("""format = 1
name = "flicker"
rank = ["haul", "walk"]
[actions]
haul = {}
[meters.breath]
capacity = 10
refill = { rate = 5 }
[[require]]
that = "never haul"
[states.walk]
kind = "ground"
speed = { forward = 2 }
[states.haul]
like = "walk"
speed = { forward = 4 }
enter = ["haul on", "breath > 0"]
stay = ["haul on", "breath > 0"]
drain = { breath = 20 }
""")
(folder / "strict.toml").write_text("""format = 1
name = "strict"
seconds = 2
[[step]]
at = 0
move = { forward = 1 }
[[expect]]
at = 1
state = "sprint"
""")
(folder / "twice.toml").write_text("""format = 1
name = "twice"
seconds = 2
""" + "".join(f"[[step]]\nat = {0.5 + 0.2 * i:.1f}\nmove = {{ forward = 1 }}\n{'release' if i % 2 else 'hold'} = [\"dash\"]\n" for i in range(4)))
(folder / "bold.toml").write_text(spoilt.replace("name = \"bearer\"", "name = \"bold\"").replace("forward = 6.5", "forward = 9"))


def call(words, code):
    done = subprocess.run([program, *words], capture_output=True, text=True)
    if done.returncode != code:
        raise SystemExit(f"{' '.join(words)}: exit code {done.returncode}, not {code}: {done.stderr}{done.stdout[:300]}")
    return done.stdout


take, match = str(folder / "run.take"), str(folder / "net.match")
call(["run", bearer, "-d", quay, "-s", "3", "--take", take], 0)
call(["net", bearer, "--clients", "2", "--seconds", "3", "--match", match], 0)
calls = {
    "run": [(["run", bearer, *relay, "--also-at", "20"], 0), (["run", bearer, "-d", quay], 0), (["run", "--from", take], 0),
            (["run", bearer, "-d", str(folder / "twice.toml")], 0)],
    "check": [(["check", bearer, "--require", "never sprint"], 1), (["check", str(folder / "flicker.toml")], 1)],
    "figures": [(["figures", bearer], 0), (["figures", bearer, "--compare", "demo/charts/gannet.toml"], 0)],
    "why": [(["why", bearer, "-d", quay, "--at", "17.5"], 0), (["why", bearer, "-d", quay, "--state", "sprint"], 0),
            (["why", bearer, *relay, "--at", "34.5"], 0)],
    "trial": [(["trial", "demo/trials.toml"], 0), (["trial", bearer, "-d", str(folder / "strict.toml")], 1)],
    "sweep": [(["sweep", bearer, *speed, "--figure", "sprint.top_forward", "--figure", "sprint.distance", "--best",
                "more sprint.top_forward", "--best", "more sprint.distance"], 0),
              (["sweep", bearer, "--vary", "meters.stamina.capacity=5:10:5", "--figure", "sprint.distance"], 0)],
    "scout": [(["scout", "demo/charts/eel.toml", "--distance", "20", "--seconds", "8", "--effort", "0.3"], 0),
              (["scout", bearer, "-c", "demo/courses/relay.toml", "--seconds", "3", "--effort", "0.2", "--compare", str(folder / "bold.toml")], 0),
              (["scout", bearer, "-c", "demo/courses/relay.toml", "--goal", "0,0,50", "--seconds", "2", "--effort", "0.1"], 1),
              (["scout", "demo/charts/eel.toml", "--distance", "20", "--seconds", "8", "--effort", "0.2", "--seeds", "2"], 0),
              (["scout", "demo/charts/eel.toml", "--distance", "20", "--seconds", "8", "--effort", "0.2", "--compare", bearer], 0)],
    "fit": [(["fit", bearer, "--want", "sprint.distance = 40 m", "--vary", "states.sprint.drain.stamina"], 0),
            (["fit", bearer, "--want", "sprint.top_forward = 6 m/s", "--want", "sprint.top_forward = 8 m/s", "--vary",
              "states.sprint.speed.forward"], 1)],
    "replay": [(["replay", take], 0), (["replay", take, "--chart", "demo/charts/eel.toml"], 1), (["replay", match], 0)],
    "net": [(["net", bearer, "--clients", "2", "--seconds", "3"], 0), (["net", bearer, "--peers", "2", "--seconds", "3"], 0)],
    "errors": [(["run", "none.toml", "-d", quay], 2), (["check", quay], 2), (["run", bearer, "--nix"], 2)],
}
# What comes only where something has gone wrong that must not.
rare = {"sweep.rows.trouble", "replay.first.tick", "replay.first.runner", "run.events.threshold", "run.events.rising", "run.events.stacks",
        "why.denials.first"}


def paths_of(schema, path):
    """Every key that a schema knows, with the keys above it."""
    found = set()
    for name, inner in schema.get("properties", {}).items():
        found |= {f"{path}.{name}"} | paths_of(inner, f"{path}.{name}")
    for inner in [schema.get("items"), *schema.get("oneOf", [])]:
        if isinstance(inner, dict):
            found |= paths_of(inner, path)
    return found


def paths_in(value, path, known):
    found = set()
    if isinstance(value, dict):
        for name, inner in value.items():
            if f"{path}.{name}" in known:
                found |= {f"{path}.{name}"} | paths_in(inner, f"{path}.{name}", known)
    elif isinstance(value, list):
        for inner in value:
            found |= paths_in(inner, path, known)
    return found


failures = []
for name, samples in calls.items():
    schema = json.loads(call(["schema", name], 0))
    jsonschema.Draft202012Validator.check_schema(schema)
    validator = jsonschema.Draft202012Validator(schema)
    known, seen = paths_of(schema, name), set()
    for words, code in samples:
        told = json.loads(call([*words, "--json"], code))
        for error in validator.iter_errors(told):
            failures.append(f"{' '.join(words)}: {error.json_path}: {error.message[:300]}")
        seen |= paths_in(told, name, known)
        for key in told:  # each key at its top is needed to be what it is
            if validator.is_valid({**told, key: {"is": "wrong"}}):
                failures.append(f"{' '.join(words)}: anything passes as {key}")
        further = copy.deepcopy(told)
        further["nmae"] = 1
        if validator.is_valid(further):
            failures.append(f"{' '.join(words)}: an unknown key passes")
    missing = known - seen - rare
    if missing:
        failures.append(f"{name}: never seen: {sorted(missing)}")
    # The tables of the page name these keys and no others.
    if name in ("run", "net"):
        page = pathlib.Path("docs/tool.md").read_text()
        part = page[page.index(f"\n## {name}\n"):]
        part = part[:part.index("\n## ", 5)]
        told_keys = {key for row in re.findall(r"^\| (`[a-z_`, ]+`) \|", part[part.index("| key |"):], re.M) for key in re.findall(r"`(\w+)`", row)}
        tops = set(schema.get("properties", {})) if "properties" in schema else set(schema["oneOf"][0]["properties"])
        if told_keys != tops:
            failures.append(f"{name}: page and schema differ in {sorted(told_keys ^ tops)}")

print("\n".join(failures) if failures else "what is printed is what the schemas say")
sys.exit(1 if failures else 0)
