#!/usr/bin/python3
# SPDX-License-Identifier: MIT
"""What --json tells is what the text and the table tell. Usage: facts.py GLANZ"""
import csv
import io
import json
import subprocess
import sys
import tempfile

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


def prove():
    with tempfile.TemporaryDirectory() as folder:
        wired = json.loads(open(DEMO[0], encoding="utf-8").read())
        line = wired["outputs"]["rail line"]["line"]
        leds = [stretch["leds"] for stretch in line]
        line[1]["order"] = "BGR"  # otherwise than the rig says
        path = folder + "/wired.json"
        with open(path, "w", encoding="utf-8") as file:
            json.dump(wired, file)
        for options in ([], ["--hardware", path], ["--walk", "--pace", "10ms"], ["--leds", "60-80", "--colors", "red,#804000"]):
            told = json.loads(run("prove", DEMO[0], *options, "--json"))
            lines = []
            for fact in told["seen"]:
                if "--walk" in options:
                    lines.append(f'{fact["output"]}: LED {fact["first"]} is {fact["seen"]}')
                elif fact["first"] == 0:
                    lines.append(f'{fact["output"]}: sent {fact["sent"]}, seen {fact["seen"]} on LEDs 0 to {fact["last"]}')
                else:
                    lines[-1] += f', {fact["seen"]} on LEDs {fact["first"]} to {fact["last"]}'
            assert lines == run("prove", DEMO[0], *options).strip().split("\n") and told["misread"] == [], options
            wrong = [fact for fact in told["seen"] if fact["sent"] == "red" and fact["seen"] == "blue"]
            assert [(fact["first"], fact["last"]) for fact in wrong] == ([(leds[0], sum(leds) - 1)] if "--hardware" in options else [])
    assert json.loads(run("prove", DEMO[0], "--seen", "green,red,blue", "--json")) == {"order": "RGB"}
    print("prove: what was sent and seen as in the text")


def errors():
    call = subprocess.run([GLANZ, "wiring", DEMO[0], "--json", "--csv"], capture_output=True, check=False, text=True)
    assert call.returncode == 2 and call.stdout == "" and "expected one of --table, --csv and --json" in call.stderr
    call = subprocess.run([GLANZ, "wiring", DEMO[0], "--json", "--surface", "attic"], capture_output=True, check=False, text=True)
    assert call.returncode == 1 and call.stdout == "" and 'no such surface in demo/rig.json: "attic"' in call.stderr


wiring()
signals()
prove()
errors()
