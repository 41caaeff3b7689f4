#!/usr/bin/python3
# SPDX-License-Identifier: MIT
"""What --json tells is what the text and the table tell. Usage: facts.py GLANZ"""
import csv
import io
import json
import subprocess
import sys

GLANZ = sys.argv[1]
DEMO = ["demo/rig.json", "demo/show.json"]


def run(*arguments):
    return subprocess.run([GLANZ, *arguments], capture_output=True, check=True, text=True).stdout


def wiring():
    leds = [
        (surface["surface"], led["output"], led["led"], led["column"], led["row"], led["part"] or "", int(led["wrong"]))
        for surface in json.loads(run("wiring", DEMO[0], "--json"))["surfaces"]
        for led in surface["leds"]
    ]
    rows = list(csv.DictReader(io.StringIO(run("wiring", DEMO[0], "--csv"))))
    assert len(rows) == len(leds) > 500, (len(rows), len(leds))
    for row, led in zip(rows, leds):
        assert (row["surface"], row["output"], int(row["led"]), row["part"], int(row["wrong"])) == (led[0], led[1], led[2], led[5], led[6])
        assert abs(float(row["column"]) - led[3]) < 0.001 and abs(float(row["row"]) - led[4]) < 0.001
    print(f"wiring: {len(leds)} LEDs as in the table")


def signals():
    options = [*DEMO, "--inputs", "demo/visitor.jsonl", "--for", "4s", "--every", "250ms"]
    told = json.loads(run("signals", *options, "--json"))
    text = run("signals", *options)
    for signal in told["signals"]:
        assert f'signal "{signal["name"]}": {signal["is"]}\n' in text, signal
    for drive in told["drives"]:
        assert f'  drives {drive["drives"]} of look "{drive["look"]}" from ' in text, drive
    lines = [line for line in text.split("\n") if line[:8].strip().replace(".", "").isdigit()]
    assert len(lines) == len(told["moments"]) > 10, (len(lines), len(told["moments"]))
    numbers = 0
    for line, moment in zip(lines, told["moments"]):
        shown = [f'{moment["seconds"]:.2f} s', *moment["signals"], *[drive or "-" for drive in moment["drives"]]]
        assert " ".join(line.split()) == " ".join(shown), (line, shown)
        assert len(moment["levels"]) == len(told["signals"]) and all(0 <= level <= 1 for level in moment["levels"])
        for level, signal in zip(moment["levels"], moment["signals"]):
            if signal.endswith(" %"):
                assert abs(level * 100 - float(signal[:-2])) <= 0.051, (level, signal)
                numbers += 1
    assert numbers > 40
    print(f'signals: {len(told["signals"])} signals, {len(told["drives"])} drives, {len(lines)} moments as in the table')


def errors():
    call = subprocess.run([GLANZ, "wiring", DEMO[0], "--json", "--csv"], capture_output=True, check=False, text=True)
    assert call.returncode == 2 and call.stdout == "" and "expected one of --table, --csv and --json" in call.stderr
    call = subprocess.run([GLANZ, "wiring", DEMO[0], "--json", "--surface", "attic"], capture_output=True, check=False, text=True)
    assert call.returncode == 1 and call.stdout == "" and 'no such surface in demo/rig.json: "attic"' in call.stderr


wiring()
signals()
errors()
