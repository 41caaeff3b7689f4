# SPDX-License-Identifier: MIT
"""Random rigs, shows and inputs, made from the published schemas: every key and every alternative that they allow comes up.
What a schema cannot say (names that must be there, LEDs within a line) is filled in here by key.
usage: random_documents.py GLANZ FOLDER SEED COUNT; writes random_N.rig.json and so on, and a line "random_N FRAMES" each."""
import json
import random
import re
import subprocess
import sys

glanz, folder, seed, wanted = sys.argv[1], sys.argv[2], int(sys.argv[3]), int(sys.argv[4])
rng = random.Random(seed)
schemas = {kind: json.load(open(f"docs/{kind}.schema.json")) for kind in ("rig", "show")}


def number(low, high):
    return rng.choice([str(rng.randint(low, high)), f"{rng.uniform(low, high):.2f}"])


def color(names):
    return rng.choice(["#%06x" % rng.randrange(1 << 24), "#%03x" % rng.randrange(4096), f"{rng.randint(1000, 12500)} K",
                       f"hsl({rng.randint(0, 359)} {rng.randint(0, 100)}% {rng.randint(0, 100)}%)"] + names * 3)


def by_definition(name, context):
    if name == "time":
        return number(50, 900) + rng.choice([" ms", "ms"]) if rng.random() < 0.7 else number(1, 3) + " s"
    if name == "share":
        return number(1, 100) + " %"
    if name == "amperes":
        return number(300, 900) + " mA" if rng.random() < 0.7 else number(1, 4) + " A"
    if name == "milliamperes":
        return f"{rng.randint(1, 30)} mA"
    if name == "volts":
        return "5 V"
    if name == "kelvin":
        return f"{rng.randint(1000, 12500)} K"
    if name == "angle":
        return f"{rng.randint(0, 359)} deg"
    if name == "side":
        return rng.randint(1, 6)
    if name == "length":
        return number(1, 20) + " leds" if rng.random() < 0.6 else number(2, 100) + " %"
    if name == "rate":
        return rng.choice(["-", "", ""]) + rng.choice([number(1, 40) + " leds/s", number(0, 2) + " lengths/s",
                                                       number(0, 3) + " passes/s", number(1, 9) + " s/pass"])
    if name == "color":
        return color(context["colors"])
    return None


def make(schema, root, context, key=""):
    if "$ref" in schema:
        name = schema["$ref"].split("/")[-1]
        value = by_definition(name, context)
        return make(root["$defs"][name], root, context, key) if value is None else value
    if "const" in schema:
        return schema["const"]
    if "enum" in schema:
        return rng.choice(schema["enum"])
    if schema.get("oneOf", [{}])[-1].get("$ref") == "#/$defs/drive":
        return make_drive(schema["oneOf"], root, context, key) if rng.random() < 0.2 else make(schema["oneOf"][0], root, context, key)
    if "oneOf" in schema and "properties" not in schema:
        return make(rng.choice(schema["oneOf"]), root, context, key)
    kind = schema.get("type")
    if kind == "boolean":
        return rng.random() < 0.5
    if kind == "integer":
        return rng.randint(schema.get("minimum", 0), min(schema.get("maximum", 60), 60))
    if kind == "string":
        return make_text(schema, key, context)
    if kind == "array":
        return [make(schema["items"], root, context, key) for _ in range(rng.randint(max(1, schema.get("minItems", 1)), 3))]
    return make_object(schema, root, context)


def make_drive(schemas_of_it, root, context, key):
    """What follows a signal: both ends in one unit."""
    value = make(schemas_of_it[1], root, context)
    unit = re.compile("[a-z/%]+$")
    while True:
        value["from"], value["to"] = (make(schemas_of_it[0], root, context, key) for _ in range(2))
        units = [unit.search(value[end]).group() for end in ("from", "to")] if value["from"][-1:] in "s%g" else ["", ""]
        if units[0] == units[1] and "/pass" not in units[0]:
            break
    if value.get("curve") != "steps":
        value.pop("steps", None)
    else:
        value["steps"] = rng.randint(2, 9)
    if "begins at" in value or "ends at" in value:
        value.update({"begins at": number(1, 40) + " %", "ends at": number(60, 99) + " %"})
    if "rest" in value:
        value["rest"] = number(1, 60) + " %"
    return value


def make_signals():
    forms = [{"wave": rng.choice(["sine", "triangle", "saw", "square", "wander"]), "period": f"{rng.randint(100, 900)} ms",
              "phase": f"{rng.randint(0, 359)} deg"}, {"clock": rng.choice(["minute", "hour", "day", "year"])},
             {"wave": "wander", "period": "150 ms", "low": "70 %", "high": "5 %"},
             {"state": rng.choice(["current", "brightness", "asleep", "frozen", "playing"])}]
    signals = {f"signal {i}": form for i, form in enumerate(rng.sample(forms, rng.randint(0, 3)))}
    for i in range(rng.randint(0, 2)):
        names = ["dial", "vane", "lever", "button"] + list(signals)
        signals[f"both {i}"] = {"combine": rng.choice(["sum", "difference", "product", "ratio", "larger", "smaller"]),
                                "of": rng.choice(names), "and": rng.choice(names)}
    return signals


def make_text(schema, key, context):
    if key in context.get("names", {}):
        return rng.choice(context["names"][key])
    pattern = schema.get("pattern", "")
    if "per s" in pattern:
        return "100 per s"
    if "none" in pattern:
        return rng.choice(["none", f"{rng.randint(20, 60)} Hz"])
    if "RGBW" in pattern:
        return ""  # settled with the chip
    return f"{rng.choice(['bell', 'rail', 'wheel', 'anchor', 'tide'])} {rng.randint(1, 99)}"


def make_object(schema, root, context):
    value = {}
    required = list(schema.get("required", []))
    for one in [rng.choice(schema["oneOf"])] if "oneOf" in schema else []:
        required += one["required"]
    alternatives = {k for one in schema.get("oneOf", []) for k in one["required"]}
    if schema.get("minProperties") == 1 and schema.get("maxProperties") == 1:
        required = [rng.choice(list(schema["properties"]))]
        alternatives = set(schema["properties"])
    for key, part in schema.get("properties", {}).items():
        if key in required or (key not in alternatives and rng.random() < 0.4):
            value[key] = f"{rng.randint(1, 200)} ms" if key == "settle" else make(part, root, context, key)
    return value


def make_surface(pieces):
    kind = rng.choice(["strip", "ring", "grid", "rings", "points"])
    leds = sum(p["leds"] for p in pieces)
    if kind in ("strip", "ring"):
        return {kind: pieces}
    if kind == "points":
        places = [[x / 4, y / 4] for x in range(40) for y in range(24)]
        return {"points": pieces, "places": rng.sample(places, leds)}
    for piece in pieces:
        piece.pop("reversed", None)
    if kind == "rings":
        for i, piece in enumerate(pieces):
            piece["radius"] = f"{2 * i + rng.choice([1, 1.5, 2])} leds"
            piece["start"] = f"{rng.randint(0, 359)} deg"
            piece["counterclockwise"] = rng.random() < 0.5
        return {"rings": pieces}
    left = 0
    for i, piece in enumerate(pieces):
        count = piece.pop("leds")
        columns = rng.choice([n for n in range(1, count + 1) if count % n == 0])
        piece.update(columns=columns, rows=count // columns, left=left, top=rng.randint(0, 3), zigzag=rng.random() < 0.5,
                     mirrored=rng.random() < 0.5, along=rng.choice(["rows", "columns"]), name=f"panel {i}",
                     turned=rng.choice(["0 deg", "90 deg", "180 deg", "270 deg"]))
        piece["first led"] = rng.choice(["top left", "top right", "bottom left", "bottom right"])
        left += max(columns, count // columns)
    return {"grid": pieces, "joined": rng.random() < 0.3}


def size_of(surface):
    """LEDs of a surface, and whether it is a grid."""
    pieces = next(surface[kind] for kind in ("strip", "ring", "grid", "rings", "points") if kind in surface)
    return sum(p["leds"] if "leds" in p else p["columns"] * p["rows"] for p in pieces), "grid" in surface


def make_picture():
    columns = rng.randint(1, 9)
    return {"rows": ["".join(rng.choice(".. abc") for _ in range(columns)) for _ in range(rng.randint(1, 7))],
            "colors": {letter: color([]) for letter in "abc"}}


def make_rig():
    root = schemas["rig"]
    parts = root["properties"]
    context = {"colors": [], "names": {}}
    rig = {"rig": "random", "supplies": {}, "outputs": {}, "surfaces": {}}
    for key in ("lowest blink", "refresh"):
        if rng.random() < 0.5:
            rig[key] = make(parts[key], root, context, key)
    for i in range(rng.randint(1, 2)):
        rig["supplies"][f"supply {i}"] = make(parts["supplies"]["additionalProperties"], root, context)
    context["names"]["supply"] = list(rig["supplies"])
    lines = {}
    for i in range(rng.randint(1, 3)):
        output = make(parts["outputs"]["additionalProperties"], root, context)
        output["pin"] = 10 + 2 * i
        chip = output["line"][0]["chip"]
        clocked = chip in ("APA102", "SK9822")
        output.pop("clock pin", None)
        if clocked:
            output["clock pin"] = 11 + 2 * i
        for stretch in output["line"]:
            stretch["chip"] = chip
            stretch["leds"] = rng.randint(1, 30)
            channels = "RGBW" if chip.endswith("RGBW") else "RGB"
            if "order" in stretch:
                stretch["order"] = "".join(rng.sample(channels, len(channels)))
            for key in ("trim", "current"):
                if channels == "RGB" and isinstance(stretch.get(key), dict):
                    stretch[key].pop("white", None)
            if channels == "RGB":
                stretch.pop("white", None)
            if "white point" in stretch: # in place of a trim
                stretch.pop("trim", None)
                stretch["white point"] = f"{rng.randint(2000, 12500)} K"
            if "parallel" in stretch:
                stretch["parallel"] = rng.randint(1, 3)
        rig["outputs"][f"line {i}"] = output
        lines[f"line {i}"] = sum(s["leds"] for s in output["line"])
    for i, (name, leds) in enumerate(lines.items()):
        first = 0
        pieces = []
        while first < leds and len(pieces) < 3:
            count = rng.randint(1, leds - first)
            piece = {"output": name, "first": first, "leds": count}
            if rng.random() < 0.4:
                piece["reversed"] = rng.random() < 0.5
            pieces.append(piece)
            first += count + rng.choice([0, 0, 1])
        rig["surfaces"][f"surface {i}"] = make_surface(pieces)
    rig["inputs"] = {"button": make(parts["inputs"]["additionalProperties"]["properties"]["button"], root, context),
                     "dial": {"value": {"pin": 41}}, "vane": {"dial": {"pin": 42, "zero": "30 deg", "lag": "40 ms"}},
                     "lever": {"sensor": {"pin": 43, "reads": "-2 to 4.5 m", "low": "3 %", "reversed": rng.random() < 0.5}},
                     "knob": {"knob": {"pin": 44, "second pin": 45, "steps": rng.randint(2, 30), "endless": rng.random() < 0.5}}}
    rig["inputs"]["button"] = {"button": rig["inputs"]["button"]}
    rig["inputs"]["button"]["button"]["pin"] = 40
    return rig, {name: size_of(surface) for name, surface in rig["surfaces"].items()}


# effects that take a palette only where it runs by place or time
only_running = []
for line in subprocess.run([glanz, "list", "effects"], capture_output=True, text=True, check=True).stdout.splitlines():
    if line and not line.startswith(" "):
        listed = line.strip()
    elif 'with "runs"' in line:
        only_running.append(listed)


def make_show(surfaces):
    root = schemas["show"]
    parts = root["properties"]
    context = {"colors": [], "names": {}}
    show = {"show": "random"}
    for key in ("brightness", "change"):
        if rng.random() < 0.6:
            show[key] = make(parts[key], root, context, key)
    show["colors"] = {f"color {i}": color([]) for i in range(3)}
    context["colors"] = list(show["colors"])
    show["palettes"] = {f"palette {i}": make(parts["palettes"]["additionalProperties"], root, context) for i in range(2)}
    for palette in show["palettes"].values():
        for key in ("from", "to"):
            palette.pop(key, None)
        if rng.random() < 0.3:
            palette["from"] = f"{rng.randint(0, 40)} %"
            palette["to"] = f"{rng.randint(50, 100)} %"
        if rng.random() < 0.3:
            palette.pop("stops", None)
            palette["of"] = rng.choice(["kelp", "lamp oil", "fairway"])
            continue
        palette.pop("of", None)
        palette.setdefault("stops", [{"at": "0 %", "color": "#20c0ff"}, {"at": "80 %", "color": "#ff4000"}])
        palette["stops"].sort(key=lambda stop: float(stop["at"].rstrip(" %")))
    context["names"]["palette"] = list(show["palettes"]) + ["oil film", "net floats"]
    context["names"]["blocks"] = [f"{rng.randint(1, 4)} {color([])}, {rng.randint(1, 4)} color 1" for _ in range(3)]
    show["pictures"] = {f"picture {i}": make_picture() for i in range(2)}
    context["names"]["picture"] = list(show["pictures"])
    context["names"]["text"] = ["Ebbe {dial 0.0 to 6.5} m", "{time} {date}", "Flöße \u20ac", "{hour}.{minute}.{second} {dial}", "{{ }"]
    show["signals"] = make_signals()
    context["names"]["fires at"] = ["dial", "lever", "knob", "button"] + list(show["signals"])
    context["names"]["follows"] = ["dial", "vane", "lever", "knob", "button"] + list(show["signals"])
    show["looks"] = {f"look {i}": make(parts["looks"]["additionalProperties"], root, context) for i in range(rng.randint(2, 6))}
    running = [name for name, palette in show["palettes"].items() if palette.get("runs", "by effect") != "by effect"]
    for look in show["looks"].values():
        if "palette" in look and look["effect"] in only_running:
            look.pop("palette")
            if running:
                look["palette"] = rng.choice(running)
        if look["effect"] in ("pattern", "picture", "marked"):
            look.pop("palette", None)
    context["names"].update(look=list(show["looks"]), surface=list(surfaces), stencil=["take 2, leave 1", "take 1, leave 3, take 2, leave 2"])
    show["segments"] = {}
    for i in range(rng.randint(1, 4)):
        segment = make(parts["segments"]["additionalProperties"], root, context)
        leds, is_grid = surfaces[segment["surface"]]
        for key in ("left", "top", "columns", "rows", "part"):
            segment.pop(key, None)
        if is_grid and rng.random() < 0.3:
            segment["part"] = "panel 0"
        elif is_grid and rng.random() < 0.4:
            segment.update(left=0, top=0, columns=rng.randint(1, 5), rows=rng.randint(1, 5))
        segment.pop("numbers", None)
        if rng.random() < 0.4 and "speed" in show["looks"].get(segment.get("look"), {}):
            segment["numbers"] = {"speed": f"{rng.randint(-9, 9)} leds/s"}
        segment.pop("first", None)
        segment.pop("leds", None)
        if rng.random() < 0.5 and "part" not in segment:
            segment["first"] = rng.randint(0, leds - 1)
            segment["leds"] = rng.randint(1, leds - segment["first"])
        segment.pop("picked", None)
        if rng.random() < 0.15:
            for key in ("first", "leds", "stencil", "part", "left", "top", "columns", "rows"):
                segment.pop(key, None)
            ends = sorted(rng.sample(range(leds), min(leds, 6)))
            ranges = [[f"{a} to {b}", f"{b} to {a}", f"{a}"][rng.randrange(3)] for a, b in zip(ends[::2], ends[1::2])]
            segment["picked"] = ", ".join(rng.sample(ranges, len(ranges))) or "0"
        if "grain" in segment:
            segment["grain"] = rng.randint(1, 4)
        segment.pop("within", None)
        if rng.random() < 0.25:
            left, top = rng.randint(0, 9), rng.randint(0, 3)
            rows = 1 if not is_grid and segment.get("lies", "along") == "along" else 24
            segment["within"] = {"columns": max(leds, rows) + left, "left": left, "rows": rows + top, "top": top}
        if "bearing" in segment and rng.random() < 0.5:
            segment["lies"] = "slanted"
        if segment.get("lies") != "slanted":
            segment.pop("bearing", None)
        show["segments"][f"segment {i}"] = segment
    names = list(show["segments"])
    show["stack"] = rng.sample(names, len(names))
    show["presets"] = {}
    for i in range(4):
        preset = {}
        for name in rng.sample(names, rng.randint(1, len(names))):
            preset[name] = rng.choice([rng.choice(list(show["looks"])), {"on": rng.random() < 0.7},
                                       {"look": rng.choice(list(show["looks"])), "brightness": number(1, 100) + " %"},
                                       {"look": rng.choice(list(show["looks"])), "later": f"{rng.randint(1, 500)} ms"}])
        show["presets"][f"preset {i}"] = preset
    items = [{"preset": name, "hold": f"{rng.randint(100, 400)} ms", "fade": f"{rng.randint(0, 500)} ms"} for name in show["presets"]]
    show["playlists"] = {"round": {"items": items}}
    then = rng.choice(["stay", "dark", "back", {"preset": rng.choice(list(show["presets"]))}])
    show["playlists"]["inner"] = {"items": [dict(item) for item in items], "shuffled": rng.random() < 0.6, "rounds": rng.randint(1, 3),
                                  "then": then, "then fade": f"{rng.randint(0, 300)} ms"}
    at, timed = 0, []
    for name in show["presets"]:
        timed.append({"preset": name, "at": f"{at} ms", "fade": f"{rng.randint(0, 200)} ms"})
        at += rng.randint(1, 5) * 100
    timed[-1]["hold"] = "250 ms"
    show["playlists"]["timed"] = {"items": timed, "rounds": rng.randint(1, 2), "then": rng.choice(["stay", "dark", "back"])}
    show["playlists"]["outer"] = {"items": rng.sample([{"playlist": "inner"}, {"dark": True, "hold": f"{rng.randint(50, 300)} ms"},
                                                       {"playlist": "timed", "hold": f"{rng.randint(200, 900)} ms"}, dict(items[0])], 4)}
    lists = list(show["playlists"])
    context["names"].update({key: lists for key in ("play", "stop", "next", "previous", "random", "pause", "jump")})
    context["names"].update({"recall": list(show["presets"]), "switch": names, "segment": names, "take over": names, "hand back": names,
                             "begin again": names, "tap": names, "content": context["names"]["look"]})
    show["resume"] = rng.random() < 0.5
    action = root["$defs"]["action"]

    def make_action():
        if rng.random() < 0.2:
            one = {"adjust": rng.choice(names), **rng.choice([
                {"number": "speed", "times": f"{rng.randint(-300, 300)} %"}, {"number": "speed", "by": f"{rng.randint(-9, 9)} leds/s"},
                {"number": "speed", "to": f"{rng.randint(-3, 3)} passes/s"}, {"number": "color", "to": color(context["colors"])},
                {"number": "hue of color", "by": f"{rng.randint(1, 359)} deg"}, {"number": "lightness of color", "times": f"{rng.randint(20, 200)} %"},
                {"number": "saturation of color", "to": f"{rng.randint(0, 100)} %"}])}
            return {**one, "over": f"{rng.randint(0, 400)} ms", **({"for": f"{rng.randint(100, 600)} ms"} if rng.random() < 0.5 else {})}
        one = make(rng.choice([a for a in action["oneOf"] if "adjust" not in a["properties"]]), root, context)
        if "for" in one:
            one["for"] = f"{rng.randint(100, 900)} ms"
        if "jump" in one:
            one["item"] = rng.randint(1, 4)
        if "aspects" in one:
            one["aspects"] = sorted(set(one["aspects"]))
        return one

    show["start"] = make_action()
    events = ["pressed", "pressed once", "pressed twice", "held", "released", "pressed three times", "repeats"]
    values = ["dial", "vane", "knob", "lever"] + list(show["signals"])
    show["triggers"] = {}
    for i in range(6):
        low = rng.randint(5, 60)
        of_level = rng.choice([{rng.choice(["rises above", "falls below"]): "50 %"}, {"is": rng.choice(["turned up", "turned down"])},
                               {"is": rng.choice(["turned up fast", "turned down fast"])},
                               {rng.choice(["enters", "leaves"]): f"{low} %", "to": f"{low + rng.randint(5, 30)} %", "margin": f"{rng.randint(0, 4)} %"},
                               {rng.choice(["stays above", "stays below"]): f"{low} %", "for": f"{rng.randint(100, 400)} ms"},
                               {"unchanged for": f"{rng.randint(100, 400)} ms", "margin": f"{rng.randint(0, 3)} %"}])
        trigger = {"when": {"button": "button", "is": rng.choice(events)} if rng.random() < 0.4 else {"value": rng.choice(values), **of_level}}
        if rng.random() < 0.2:
            trigger["while"] = [{"value": rng.choice(values), rng.choice(["above", "below"]): f"{rng.randint(20, 80)} %"}]
        if rng.random() < 0.3:
            trigger["not again within"] = f"{rng.randint(50, 500)} ms"
        trigger["do"] = [make_action() for _ in range(rng.randint(1, 3))]
        if rng.random() < 0.3:
            trigger["by turns"] = True
        show["triggers"][f"trigger {i}"] = trigger
    return show


def make_inputs():
    lines, at = [], 0
    level = 1
    while at < 1500:
        at += rng.randint(20, 400)
        if rng.random() < 0.6:
            level = 1 - level
            lines.append({"at": f"{at} ms", "input": "button", "level": level})
        else:
            lines.append({"at": f"{at} ms", "input": rng.choice(["dial", "vane", "lever"]), "level": rng.randrange(65536)})
            lines.append({"at": f"{at} ms", "input": "knob", "level": rng.choice([0, 1, 3, 2])})
    return "".join(json.dumps(line) + "\n" for line in lines)


made = refused = 0
reasons = {}
while made < wanted:
    rig, surfaces = make_rig()
    show = make_show(surfaces)
    base = f"{folder}/random_{made}"
    for kind, text in (("rig.json", json.dumps(rig)), ("show.json", json.dumps(show)), ("inputs.jsonl", make_inputs())):
        open(f"{base}.{kind}", "w").write(text)
    run = subprocess.run([glanz, "check", f"{base}.rig.json", f"{base}.show.json"], capture_output=True, text=True)
    if run.returncode != 0:
        refused += 1
        reason = re.sub("[0-9.]+", "N", re.sub(r"^[^ ]* ", "", run.stderr.strip().split(" (at")[0]))
        reasons[reason] = reasons.get(reason, 0) + 1
        if refused > 20 * wanted:
            sys.exit(f"too many refused: {reasons}")
        continue
    print(f"random_{made} 150")
    made += 1
print(f"{refused} refused on the way: {reasons}", file=sys.stderr)
