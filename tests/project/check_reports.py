#!/usr/bin/env python3
"""Holds the reports of "rakugo-tool check" against schemas of the open formats they claim to be.

usage: check_reports.py SOURCE BIN
"""

import json
import pathlib
import shutil
import subprocess
import sys
import tempfile

import jsonschema

SOURCE, BIN = (pathlib.Path(p).resolve() for p in sys.argv[1:3])
SCHEMAS = SOURCE / "tests/schemas"
sarif = json.loads((SCHEMAS / "sarif-2.1.0-part.json").read_text())
jsonschema.Draft202012Validator.check_schema(sarif)
validator = jsonschema.Draft202012Validator(sarif)
faults = []


def report(mod, kind):
    return subprocess.run([BIN / "rakugo-tool", "check", mod, "--format", kind], capture_output=True, text=True).stdout


# The schema of rulebooks: those that ship keep it, the smallest does, and slips break it.
rules = json.loads((SOURCE / "rulebooks/rulebook.schema.json").read_text())
jsonschema.Draft202012Validator.check_schema(rules)
of_rulebooks = jsonschema.Draft202012Validator(rules)
for book in sorted(SOURCE.glob("rulebooks/*/rulebook.json")):
    text = json.loads(book.read_text())
    faults += [f"{book}: schema {'/'.join(map(str, e.absolute_path))}: {e.message}" for e in of_rulebooks.iter_errors(text)]
    for where, change in [
        ("an unknown key", lambda b: b["kinds"][0].update(bakde=True)),
        ("a missing key", lambda b: b.pop("version")),
        ("another type", lambda b: b["kinds"][0].update(max_triangles="many")),
        ("a value out of range", lambda b: b["kinds"][0].update(max_influences=400)),
        ("an unknown choice", lambda b: b["space"].update(up="Z")),
        ("an unknown outcome", lambda b: b["outcomes"].update({"mesh.triangles": "stops"})),
        ("a path that leads out", lambda b: b["kinds"][0]["ghost"].update(file="../ghost.glb")),
        ("control codes", lambda b: b.update(title="\u001b[31m")),
    ]:
        wrong = json.loads(book.read_text())
        change(wrong)
        if of_rulebooks.is_valid(wrong):
            faults.append(f"{book}: the schema lets {where} pass")

with tempfile.TemporaryDirectory() as folder:
    made = pathlib.Path(folder) / "my-game"
    subprocess.run([BIN / "rakugo-tool", "rulebook", "new", made], check=True, capture_output=True)
    if not of_rulebooks.is_valid(json.loads((made / "rulebook.json").read_text())):
        faults.append("the smallest rulebook breaks the schema")
    mods = sorted(card.parent for card in (SOURCE / "examples/mods").glob("*/mod.json"))
    # One with a finding set aside, and names that XML and URIs have to escape.
    odd = pathlib.Path(folder) / "odd"
    shutil.copytree(SOURCE / "examples/mods/first-lamp", odd, ignore=shutil.ignore_patterns("build"))
    card = json.loads((odd / "mod.json").read_text())
    card["title"] = 'Odd <lamp> & "friends" \u2014 \u00fc'
    (odd / "mod.json").write_text(json.dumps(card))
    for mod in [*mods, odd]:
        said = json.loads(report(mod, "sarif"))
        faults += [f"{mod.name}: sarif {'/'.join(map(str, e.absolute_path))}: {e.message}" for e in validator.iter_errors(said)]
        rules = said["runs"][0]["tool"]["driver"]["rules"]
        for result in said["runs"][0].get("results", []):
            if rules[result["ruleIndex"]]["id"] != result["ruleId"]:
                faults.append(f"{mod.name}: sarif: ruleIndex of {result['ruleId']}")
        xml = pathlib.Path(folder) / "report.xml"
        xml.write_text(report(mod, "junit"))
        done = subprocess.run(["xmllint", "--noout", "--schema", SCHEMAS / "junit.xsd", xml], capture_output=True, text=True)
        if done.returncode != 0:
            faults.append(f"{mod.name}: junit: {done.stderr}")
    # The schemas themselves refuse what is wrong.
    said["runs"][0]["results"].append({"ruleId": "x", "colour": "red"})
    if not list(validator.iter_errors(said)):
        faults.append("the schema of SARIF takes anything")
print(f"{len(mods) + 1} mods, {len(faults)} faults")
sys.exit("\n".join(faults) if faults else 0)
