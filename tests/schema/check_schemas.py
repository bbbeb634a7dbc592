import copy
import glob
import json
import re
import sys
import tomllib

import jsonschema

folder = sys.argv[1]
failures = []


def keys_in(schema):
    """Names of all keys that a schema knows, tables by name left out."""
    found = set()
    for name, inner in schema.get("properties", {}).items():
        found.add(name)
        found |= keys_in(inner)
    for inner in (schema.get("items"), schema.get("additionalProperties")):
        if isinstance(inner, dict):
            found |= keys_in(inner)
    return found


def expect(condition, text):
    if not condition:
        failures.append(text)


def broken(document, change):
    other = copy.deepcopy(document)
    change(other)
    return other


for kind in ("chart", "drill", "course", "controls", "trials"):
    schema = json.load(open(f"{folder}/{kind}.json"))
    jsonschema.Draft202012Validator.check_schema(schema)
    validator = jsonschema.Draft202012Validator(schema)
    files = glob.glob(f"demo/{kind}.toml" if kind == "trials" else f"demo/{kind}s/*.toml") + glob.glob(f"{folder}/*.{kind}.toml")
    expect(len(files) >= (1 if kind in ("controls", "trials") else 2), f"no {kind} files to hold against the schema")
    for file in files:
        document = tomllib.load(open(file, "rb"))
        for error in validator.iter_errors(document):
            failures.append(f"{file}: {error.message}")
        expect(not validator.is_valid(broken(document, lambda d: d.update(nmae="x"))), f"{file}: an unknown key passes")
        expect(not validator.is_valid(broken(document, lambda d: d.update(name=3))), f"{file}: a wrong type passes")
        expect(not validator.is_valid(broken(document, lambda d: d.pop("name"))), f"{file}: a missing key passes")
        if kind == "chart":
            def fast(d):
                d["states"]["walk"]["speed"]["forward"] = 501

            expect(not validator.is_valid(broken(document, fast)), f"{file}: a value out of range passes")
    reference = open(f"{folder}/{kind}.md").read()
    rows = re.findall(r"^\| `([a-z_]+)` \| ", reference[reference.index("| key |"):], re.M)
    expect(set(rows) == keys_in(schema), f"{kind}: reference and schema differ in {set(rows) ^ keys_in(schema)}")

print("\n".join(failures) if failures else "the schemas hold")
sys.exit(1 if failures else 0)
