#!/usr/bin/env python3
# SPDX-License-Identifier: MIT
"""The schemas are JSON Schema 2020-12, the demo's documents keep to them, and what the schemas refuse the tool refuses too:
mutated documents are put before both.

usage: schemas.py GLANZ
"""
import copy
import json
import os
import random
import subprocess
import sys
import tempfile

import jsonschema

glanz = sys.argv[1]
random.seed(20)
failed = 0


def paths(node, path=()):
    yield path
    if isinstance(node, dict):
        for key in node:
            yield from paths(node[key], path + (key,))
    elif isinstance(node, list):
        for i, item in enumerate(node):
            yield from paths(item, path + (i,))


def mutate(document):
    document = copy.deepcopy(document)
    path = random.choice([p for p in paths(document) if p])
    parent = document
    for step in path[:-1]:
        parent = parent[step]
    kind = random.randrange(4)
    if kind == 0:
        parent[path[-1]] = random.choice([7, -1, 1.5, True, None, "", "many", [], {}, "9 %", "12 leds/s", "3 s"])
    elif kind == 1 and isinstance(parent, dict):
        del parent[path[-1]]
    elif kind == 2 and isinstance(parent, dict):
        parent["surplus"] = 1
    elif isinstance(parent, dict):
        parent[str(path[-1]) + "x"] = parent.pop(path[-1])
    return document


def taken(rig, show):
    with tempfile.TemporaryDirectory() as folder:
        for name, document in (("rig", rig), ("show", show)):
            json.dump(document, open(os.path.join(folder, name), "w"))
        run = subprocess.run([glanz, "check", os.path.join(folder, "rig"), os.path.join(folder, "show")], capture_output=True, text=True)
        assert run.returncode in (0, 1), run
        return run.returncode == 0


documents = {name: json.load(open(f"demo/{name}.json")) for name in ("rig", "show")}
for name in ("rig", "show"):
    schema = json.load(open(f"docs/{name}.schema.json"))
    jsonschema.Draft202012Validator.check_schema(schema)
    validator = jsonschema.Draft202012Validator(schema)
    validator.validate(documents[name])
    refused = agreed = 0
    for _ in range(250):
        mutant = mutate(documents[name])
        if validator.is_valid(mutant):
            continue
        refused += 1
        pair = dict(documents, **{name: mutant})
        if taken(pair["rig"], pair["show"]):
            failed += 1
            print(f"{name}: the tool takes what the schema refuses:", next(validator.iter_errors(mutant)).message[:200])
        else:
            agreed += 1
    print(f"{name}: the demo's keeps to the schema; of 250 mutants the schema refuses {refused}, and so does the tool: {agreed}")

# input logs, line by line: those of the demo keep to their schema, and what it refuses of their mutants the tool refuses too
schema = json.load(open("docs/log.schema.json"))
jsonschema.Draft202012Validator.check_schema(schema)
validator = jsonschema.Draft202012Validator(schema)
lines = [json.loads(line) for name in ("visitor", "evening") for line in open(f"demo/{name}.jsonl") if line.strip()]
for line in lines:
    validator.validate(line)
refused = agreed = 0
with tempfile.TemporaryDirectory() as folder:
    for _ in range(250):
        mutant = mutate(random.choice([line for line in lines if "patch" not in line and "do" not in line]))
        if validator.is_valid(mutant):
            continue
        refused += 1
        json.dump(mutant, open(os.path.join(folder, "log"), "w"))
        run = subprocess.run([glanz, "wire", "demo/rig.json", "demo/show.json", "--inputs", os.path.join(folder, "log"), "--for", "20ms"],
                             capture_output=True, text=True)
        if run.returncode == 1 and "log:1:" in run.stderr:
            agreed += 1
        else:
            failed += 1
            print("the tool takes a line that the schema refuses:", mutant, run.stderr[:200])
print(f"log: {len(lines)} lines of the demo keep to the schema; of 250 mutants the schema refuses {refused}, and so does the tool: {agreed}")
sys.exit(failed != 0)
