#!/usr/bin/env python3
# SPDX-License-Identifier: MIT
"""What one more of a thing costs: in a copy of the sources a key, an action, an event, a chip and an effect are added, each as a row
and the code that does it; then reading, checks, C source, schema and the page of keys know them, and the lines that it took are counted.
usage: one_row.py FOLDER"""
import json
import os
import re
import shutil
import subprocess
import sys

folder = os.path.abspath(sys.argv[1])
root = os.path.dirname(os.path.dirname(os.path.abspath(__file__)))
shutil.rmtree(folder, ignore_errors=True)
os.makedirs(folder)
for name in ("src", "include", "tool", "ports", "examples", "demo", "cmake", "CMakeLists.txt"):
    source = os.path.join(root, name)
    (shutil.copytree if os.path.isdir(source) else shutil.copy)(source, os.path.join(folder, name))
counted = {}


def add(what, file, after, lines):
    """Lines behind the first that has this text."""
    path = os.path.join(folder, file)
    text = open(path).read().split("\n")
    at = next((i for i, line in enumerate(text) if after in line), None)
    assert at is not None, f"{file}: nothing like {after!r}"
    text[at + 1:at + 1] = lines
    open(path, "w").write("\n".join(text))
    counted.setdefault(what, []).append((file, len(lines)))


def replace(what, file, old, new, lines):
    """A text by another, which has so many lines more or changed."""
    path = os.path.join(folder, file)
    text = open(path).read()
    assert old in text, f"{file}: nothing like {old!r}"
    open(path, "w").write(text.replace(old, new, 1))
    counted.setdefault(what, []).append((file, lines))


add("key", "include/glanz/engine.h", "    uint8_t pin;       /**< data;", ["    uint16_t resistor_ohm; /**< in the data line; 0: not known */"])
add("key", "src/document/rows_rig.c", 'FLAG("equal leds", equal',
    ['    COUNT("resistor", resistor_ohm, 0, 1000, 0, "in the data line, ohms"),'])

add("action", "include/glanz/control.h", "GLANZ_CONST struct glanz_action_kind glanz_action_recall;",
    ["extern GLANZ_CONST struct glanz_action_kind glanz_action_blackout; /**< the whole dark */"])
listing = subprocess.run(["grep", "-l", "glanz_actions\\[\\] = {", "-r", os.path.join(folder, "src")], capture_output=True, text=True).stdout.strip()
add("action", os.path.relpath(listing, folder), "glanz_actions[] = {", ["    &glanz_action_blackout,"])
open(os.path.join(folder, "src/control/blackout.c"), "w").write("""/* SPDX-License-Identifier: MIT */
#include "control.h"

static glanz_status blackout(struct glanz_control *control, GLANZ_CONST struct glanz_action *action, const struct glanz_change *change) {
    (void)action;
    return glanz_engine_brightness(control->engine, GLANZ_ALL, 0, *change);
}

GLANZ_CONST struct glanz_action_kind glanz_action_blackout = {.key = GLANZ_TEXT("blackout"),
                                                              .description = GLANZ_DESCRIPTION("the whole dark"),
                                                              .value = GLANZ_VALUE_TRUE,
                                                              .may = GLANZ_WITH_OVER,
                                                              .act = blackout};
""")

add("effect", "include/glanz/effects.h", "extern GLANZ_CONST struct glanz_effect glanz_effect_plain;",
    ["extern GLANZ_CONST struct glanz_effect glanz_effect_lantern;"])
add("effect", "src/effects/catalogue.c", "&glanz_effect_plain,", ["    &glanz_effect_lantern,"])
open(os.path.join(folder, "src/effects/lantern.c"), "w").write("""/* SPDX-License-Identifier: MIT */
#include <glanz/effects.h>

static GLANZ_CONST struct glanz_param params[] = {GLANZ_COLOR_ROW("color", "the glass", GLANZ_RGB(255, 160, 40)),
                                                  GLANZ_SHARE_ROW("wick", "how high it burns", GLANZ_PERCENT(50))};

static void shade(struct glanz_light *light, const struct glanz_frame *frame, const glanz_place *places, uint8_t count) {
    (void)places;
    for (uint8_t i = 0; i < count; i++) {
        light[i] = glanz_light_mix(frame->color[0], frame->color[0], (uint32_t)frame->number[1]);
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_lantern = {.version = GLANZ_EFFECT_VERSION,
                                                        .name = GLANZ_TEXT("lantern"),
                                                        .description = GLANZ_DESCRIPTION("a lantern"),
                                                        .params = params,
                                                        .param_count = GLANZ_COUNT(params),
                                                        .shade = shade};
""")

add("event", "include/glanz/control.h", "    GLANZ_EVENT_RELEASED,", ["    GLANZ_EVENT_RELEASED_LATE, /**< let go after it was held */"])
replace("event", "src/document/rows_trigger.c", '"released",', '"released", "released late",', 1)
released = "        return glanz_control_happen(control, index, GLANZ_EVENT_RELEASED, at);"
replace("event", "src/control/buttons.c", released, """        if (input->held) {
            (void)(glanz_control_happen(control, index, GLANZ_EVENT_RELEASED_LATE, at) == GLANZ_OK);
        }
""" + released, 3)

add("chip", "include/glanz/chips.h", "glanz_chip_ws2812b", ["extern GLANZ_CONST struct glanz_chip glanz_chip_buoy1;"])
listing = subprocess.run(["grep", "-l", "glanz_chips\\[\\] = {", "-r", os.path.join(folder, "src")], capture_output=True, text=True).stdout.strip()
add("chip", os.path.relpath(listing, folder), "glanz_chips[] = {", ["    &glanz_chip_buoy1,"])
path = os.path.join(folder, "src/chips/one_wire.c")
text = open(path).read()
start = text.index("GLANZ_CONST struct glanz_chip glanz_chip_sk6812 = ")
row = text[start:text.index("};", start) + 3].replace("glanz_chip_sk6812 ", "glanz_chip_buoy1 ").replace("SK6812", "BUOY1")
open(os.path.join(folder, "src/chips/buoy1.c"), "w").write(
    text[:text.index("static void look_at(")] + text[text.index("static void look_at("):text.index("/* Chips with a white LED")] +
    "#define GRB GLANZ_ORDER(1, 0, 2, 3)\n" + row)


def run(*command, code=0):
    done = subprocess.run(command, cwd=folder, capture_output=True, text=True)
    assert done.returncode == code, f"{' '.join(command)}: exit {done.returncode}\n{done.stdout[-1500:]}{done.stderr[-1500:]}"
    return done.stdout + done.stderr


run("cmake", "-S", ".", "-B", "build", "-G", "Ninja", "-DGLANZ_TESTS=OFF", "-DGLANZ_INSTALL=OFF", "-DGLANZ_STRICT=ON", "-DCMAKE_BUILD_TYPE=Debug")
run("cmake", "--build", "build", "--target", "glanz_tool")
tool = os.path.join(folder, "build/glanz")
rig = json.load(open(os.path.join(root, "demo/rig.json")))
show = json.load(open(os.path.join(root, "demo/show.json")))
output = next(iter(rig["outputs"].values()))
output["resistor"] = 330
first = next(line for o in rig["outputs"].values() for line in o["line"] if line["chip"] == "WS2812B")
first["chip"] = "BUOY1"
show["looks"]["lamp"] = {"effect": "lantern", "wick": "70 %"}
show["triggers"]["all off"] = {"when": {"button": next(name for name, i in rig["inputs"].items() if "button" in i), "is": "released late"},
                               "do": [{"blackout": True, "over": "2 s"}]}
json.dump(rig, open(os.path.join(folder, "rig.json"), "w"))
json.dump(show, open(os.path.join(folder, "show.json"), "w"))
run(tool, "check", "rig.json", "show.json")
source = run(tool, "source", "rig.json", "show.json")
expected = [(source, ".resistor_ohm = 330"), (source, "GLANZ_EVENT_RELEASED_LATE"), (source, "glanz_chip_buoy1"),
            (run(tool, "schema", "show"), '"released late"'), (run(tool, "schema", "rig"), '"BUOY1"'), (source, "&glanz_action_blackout"), (source, "&glanz_effect_lantern"),
            (run(tool, "schema", "rig"), '"resistor"'), (run(tool, "schema", "show"), '"blackout"'), (run(tool, "schema", "show"), '"wick"'),
            (run(tool, "schema", "rig", "--page"), "in the data line, ohms"), (run(tool, "schema", "show", "--page"), "`blackout`"),
            (run(tool, "list", "effects"), "lantern")]
output["resistor"] = 3300
json.dump(rig, open(os.path.join(folder, "rig.json"), "w"))
expected.append((run(tool, "check", "rig.json", "show.json", code=1), "expected a whole number from 0 to 1000"))
output["resistor"] = 330
show["triggers"]["all off"]["do"][0]["segment"] = "rail"
json.dump(rig, open(os.path.join(folder, "rig.json"), "w"))
json.dump(show, open(os.path.join(folder, "show.json"), "w"))
expected.append((run(tool, "check", "rig.json", "show.json", code=1), 'expected no "segment" with this action'))
for text, wanted in expected:
    assert wanted in text, f"nowhere: {wanted}"
most = {"key": 2, "action": 2, "effect": 2, "chip": 2, "event": 5}  # an event: its word, its enumerator, and the code
for what, places in counted.items():
    lines = sum(count for _, count in places)
    print(f"one more {what}: {lines} lines in {len(places)} files that are there already: {', '.join(file for file, _ in places)}")
    assert lines <= most[what], f"{what}: more than {most[what]} lines"
