"""Holds the demo files against the published schemas, and the schemas against files that must fail."""
import copy
import json
import pathlib
import sys

import jsonschema

root = pathlib.Path(sys.argv[1])


def load(path):
    return json.loads((root / path).read_text(encoding="utf-8"))


def validator(name):
    schema = load(f"docs/schema/{name}.schema.json")
    jsonschema.Draft7Validator.check_schema(schema)
    return jsonschema.Draft7Validator(schema)


failures = 0
for name, pattern in (("project", "demo/*.uadze.json"), ("track", "demo/tracks/*.json"), ("car", "demo/cars/*.json"),
                      ("catalogue", "data/catalogue.json")):
    checker = validator(name)
    files = sorted(root.glob(pattern))
    assert files, f"no files {pattern}"
    for file in files:
        for error in checker.iter_errors(json.loads(file.read_text(encoding="utf-8"))):
            print(f"{file.name}: /{'/'.join(map(str, error.absolute_path))}: {error.message}")
            failures += 1

good = load("demo/ostrel-p4.uadze.json")
project = validator("project")


def broken(change):
    bad = copy.deepcopy(good)
    change(bad)
    return not project.is_valid(bad)


cases = {
    "a project without setups": lambda p: p.pop("setups"),
    "a setup without a tank": lambda p: p["setups"][0].pop("tank"),
    "a negative lift flow": lambda p: p["setups"][0]["lift_pumps"][0].update(flow_l_h=-1),
    "a text for a number": lambda p: p["setups"][0]["tank"].update(from_mm="wide"),
    "a profile of two points": lambda p: p["setups"][0]["tank"].update(profile_mm=[[0, 0], [1, 1]]),
    "a collector of an unknown shape": lambda p: p["setups"][0]["tank"]["collectors"][0]["shape"].update(kind="egg"),
    "an opening that passes nowhere": lambda p: p["setups"][0]["tank"]["collectors"][0]["openings"][0].update(passes="up"),
    "foam without pores": lambda p: p["setups"][0]["tank"]["foam"][0].update(porosity_percent=5),
    "a session with laps and time": lambda p: p["sessions"][2].update(laps=3),
    "a part of an unknown kind": lambda p: p["setups"][0]["circuit"]["feed"][0].update(kind="hope"),
    "a line without end": lambda p: p["setups"][0]["circuit"]["feed"][1].update(length_mm=0),
    "five main pumps": lambda p: p["setups"][0]["circuit"].update(mains=[{}] * 5),
    "an unknown way of return": lambda p: p["setups"][0]["surge_tank"].update(engine_return="sea"),
}
for what, change in cases.items():
    if not broken(change):
        print(f"the schema lets {what} pass")
        failures += 1
print(f"{failures} faults")
sys.exit(1 if failures else 0)
