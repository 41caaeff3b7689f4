# SPDX-License-Identifier: MIT
"""Reads what bench/run.sh measured; prints the table, writes docs/bench.md and tool/costs.h. usage: table.py FOLDER"""
import glob
import os
import re
import statistics
import sys

folder = sys.argv[1]
CPUS = {"m0plus": "Cortex-M0+", "m4": "Cortex-M4", "rv32": "RV32IMC", "x86": "x86-64"}
LISTED = re.findall(r"&glanz_effect_(\w+),", open("src/effects/catalogue.c").read())
EFFECTS = [name.replace("_", " ") for name in LISTED]


def read(name):
    cases, stacks, sizes = {}, {}, {}
    for line in open(f"{folder}/{name}.txt"):
        found = re.match(r"(.*): (\d+) / (\d+) stack (\d+)", line)
        if found:
            cases[found[1]] = int(found[2]) / int(found[3])
            stacks[found[1]] = int(found[4])
        found = re.match(r"(.*): (\d+) bytes", line)
        if found:
            sizes[found[1]] = int(found[2])
    return cases, stacks, sizes


def read_callgrind():
    cases = {}
    for path in glob.glob(f"{folder}/callgrind.*"):
        text = open(path).read()
        label = re.search(r"desc: Trigger: Client Request: (.*) / (\d+)", text)
        total = re.search(r"^(?:summary|totals): (\d+)", text, re.M)
        if label and total:
            cases[label[1]] = int(total[1]) / int(label[2])
    return cases


runs = {cpu: read(cpu)[0] for cpu in ("m0plus", "m4", "rv32")}
runs["x86"] = read_callgrind()
stacks = {cpu: read(cpu)[1] for cpu in ("m0plus", "m4", "rv32")}
sizes = {cpu: read(cpu)[2] for cpu in ("m0plus", "rv32")}
avr = {line.split()[0]: int(line.split()[1]) for line in open(f"{folder}/avr.txt") if re.match(r"[0-9x] \d+\s*$", line)}
avr_memory = [line.strip() for line in open(f"{folder}/avr.txt") if line.startswith(("RAM", "flash"))]

lines, missed = [], []


def out(line=""):
    lines.append(line)


def bar(what, cpu, value, limit, unit=""):
    """A figure with its bar; remembers it when it is missed."""
    good = value <= limit
    if not good:
        missed.append(f"{what} on {CPUS.get(cpu, cpu)}: {value:.0f}{unit}, bar {limit}{unit}")
    return f"{value:.0f}{unit} / {limit}{unit}{'' if good else ' **missed**'}"


def table(head, rows):
    out("| " + " | ".join(head) + " |")
    out("|" + "---|" + "--:|" * (len(head) - 1))
    for row in rows:
        out("| " + " | ".join(row) + " |")
    out()


cpus = list(CPUS)
out("# Bench")
out()
out("Written by `sh bench/run.sh`: do not edit. Instructions counted by the emulators (qemu with `-icount`, on x86-64 callgrind), gcc 12 -O2; on")
out("AVR cycles of simavr, avr-gcc 5.4 -Os. \"value / bar\" where a bar is set. Whole frames: control, step, shade, compose, limit, dither, bytes.")
out()
out("## Effects: a LED a frame, 256 LEDs of WS2812B, one segment")
out()
rows = []
for effect in EFFECTS:
    rows.append([effect] + [f"{runs[cpu]['effect ' + effect]:.0f}" for cpu in cpus])
table(["effect; from fire on: on a zigzag panel of 16 x 16"] + [CPUS[c] for c in cpus], rows)
limits = {"m0plus": (100, 130, 220, 400), "m4": (75, 95, 150, 400), "rv32": (80, 105, 170, 400)}
rows = []
for what, index, pick in (("a plain moving effect (walker)", 0, lambda c: runs[c]["effect walker"]),
                          ("a flowing gradient", 1, lambda c: runs[c]["effect flow"]),
                          ("median of the catalogue", 2, lambda c: statistics.median(runs[c]["effect " + e] for e in EFFECTS)),
                          ("the dearest", 3, lambda c: max(runs[c]["effect " + e] for e in EFFECTS))):
    rows.append([what] + [bar(what, cpu, pick(cpu), limits[cpu][index]) for cpu in ("m0plus", "m4", "rv32")] + [f"{pick('x86'):.0f}"])
for effect in ("fire", "clouds", "plasma", "rain", "ripples"):
    rows.append([effect, bar(effect, "m0plus", runs["m0plus"]["effect " + effect], 300)] + [f"{runs[c]['effect ' + effect]:.0f}" for c in ("m4", "rv32", "x86")])
table(["", *(CPUS[c] for c in cpus)], rows)

out("## Stages: a LED")
out()
bars = {"stage light": {"m0plus": 50, "m4": 41, "rv32": 43}, "stage light rationed": {"m0plus": 76, "m4": 65, "rv32": 69},
        "stage SPI 3 slots": {"m0plus": 28, "m4": 24}}
rows = []
for stage in ("stage light", "stage light counted", "stage light rationed", "stage light RGBW", "stage light clocked",
              "stage light clocked rationed", "stage SPI 3 slots", "stage SPI 4 slots", "stage blend cover",
              "stage blend add", "stage places", "stage gradient"):
    row = [stage[6:]]
    for cpu in cpus:
        limit = bars.get(stage, {}).get(cpu)
        row.append(bar(stage, cpu, round(runs[cpu][stage]), limit) if limit else f"{runs[cpu][stage]:.0f}")
    rows.append(row)
rows.append(["crossfade of flow and swell, whole frame"] + [f"{runs[c]['crossfade flow to swell']:.0f}" for c in cpus])
table(["stage"] + [CPUS[c] for c in cpus], rows)

out("\"light\" is the stage without a limit that can bind; \"counted\", with one that does not; \"rationed\", with one that does.")
out("Before the limit was reckoned from exact sums the stage took 55 / 43 / 45 / 47 whatever the limit, and a frame at the limit twice as much.")
out()
out("## Limits: a whole frame, a LED, 256 LEDs")
out()
rows = [[what] + [f"{runs[c]['limit ' + what]:.0f}" for c in cpus] for what in
        ("none, walker", "loose, walker", "binds, walker", "none, plain", "loose, plain", "binds, plain")]
table(["limit, look"] + [CPUS[c] for c in cpus], rows)

out("## What is added")
out()
rows = []
shade = {c: runs[c]["effect plain"] - runs[c]["stage light"] for c in cpus}
added = {c: (runs[c]["overlapping 3"] - runs[c]["overlapping 1"]) / 2 for c in cpus}
rows.append(["a transparent segment over all LEDs (plain), a LED"] + [f"{added[c]:.0f}" for c in cpus])
rows.append(["of that, blending"] + [bar("a segment's blending", c, runs[c]["stage blend cover"], 40) if c == "m0plus" else f"{runs[c]['stage blend cover']:.0f}" for c in cpus])
each = {c: (runs[c]["segments 64"] - runs[c]["segments 16"]) / 48 for c in cpus}
rows.append(["a short segment (walker on 4 of 256 LEDs), a frame"] + [bar("a short segment", c, each[c], 700) if c == "m0plus" else f"{each[c]:.0f}" for c in cpus])
rows.append(["16 drives of mixed kinds, 8 waves and combinations, all moving, a frame"] +
            [bar("16 drives that move", c, runs[c]["drives that move"] - runs[c]["drives none"], 1500) if c == "m0plus"
             else f"{runs[c]['drives that move'] - runs[c]['drives none']:.0f}" for c in cpus])
rows.append(["the same at rest"] +
            [bar("16 drives at rest", c, runs[c]["drives at rest"] - runs[c]["drives none"], 300) if c == "m0plus"
             else f"{runs[c]['drives at rest'] - runs[c]['drives none']:.0f}" for c in cpus])
rows.append(["8 triggers that remember what a wave does, more than those that wait for it to rise, a frame"] + [f"{runs[c]['gestures'] - runs[c]['gestures none']:.0f}" for c in cpus])
rows.append(["on a raster: a dot"] + [f"{runs[c]['raster dot']:.0f}" for c in cpus])
rows.append(["a disc 2 LEDs wide"] + [f"{runs[c]['raster disc']:.0f}" for c in cpus])
rows.append(["a sample at the middle of a cell"] + [f"{runs[c]['raster sample']:.0f}" for c in cpus])
rows.append(["control: 8 segments, playlist, 8 triggers, nothing shaded, a frame"] +
            [bar("control", c, runs[c]["control 8 segments"], 2500) if c == "m0plus" else f"{runs[c]['control 8 segments']:.0f}" for c in cpus])
rows.append(["still frame that needs no dither, 256 LEDs, a frame"] + [bar("still frame", c, runs[c]["still"], 1000) if c == "m0plus" else f"{runs[c]['still']:.0f}" for c in cpus])
table(["", *(CPUS[c] for c in cpus)], rows)

out("## Sound: instructions a sample, all but pitch unless it says so")
out()
heard = {"8 bands, 16 kHz": ("hearing 8 bands 16000", (310, 205, 230)), "16 bands, 16 kHz": ("hearing 16 bands 16000", (430, 285, 320)),
         "32 bands, 16 kHz": ("hearing 32 bands 16000", None), "16 bands, 8 kHz": ("hearing 16 bands 8000", None), "16 bands, 22.05 kHz": ("hearing 16 bands 22050", None),
         "16 bands, 44.1 kHz": ("hearing 16 bands 44100", None), "16 bands, 48 kHz": ("hearing 16 bands 48000", None),
         "16 bands, 16 kHz, no tempo": ("hearing without tempo", None), "16 bands, 16 kHz, pitch too": ("hearing with pitch", None)}
micros = ("m0plus", "m4", "rv32")
rows = []
for what, (name, limits) in heard.items():
    tick = name.replace("hearing ", "hearing dearest tick ", 1)
    rows.append([what] + [bar("sound, " + what, c, runs[c][name], limits[k]) if limits else f"{runs[c][name]:.0f}" for k, c in enumerate(micros)] +
                [bar("dearest tick in a mean one, percent, " + what, "m0plus", 100 * runs["m0plus"][tick] / runs["m0plus"][name], 300, " %")] +
                [f"{runs['m0plus'][name] * (int(name.split()[-1]) if name[-1].isdigit() else 16000) / 48e6 * 100:.0f} %"])
table(["", *(CPUS[c] for c in micros), "dearest tick, M0+", "of 48 MHz, M0+"], rows)
h = sizes["m0plus"]
SOUND = ("control__sounds", "sound__sound", "sound__bands", "sound__levels", "sound__onsets", "base__hearing")
out(f"RAM on 32-bit CPUs: 16 bands {bar('sound, RAM of 16 bands', 'm0plus', h['hearing memory 16 bands'], 1638)} bytes, "
    f"tempo {bar('sound, RAM of tempo', 'm0plus', h['hearing memory 16 bands, tempo'] - h['hearing memory 16 bands'], 2765)} more, "
    f"pitch {bar('sound, RAM of pitch', 'm0plus', h['hearing memory 16 bands, tempo, pitch'] - h['hearing memory 16 bands, tempo'], 1229)} more.")
out()
out("## Sizes: flow, a LED a frame")
out()
rows = [[size] + [f"{runs[c]['size ' + size]:.0f}" for c in cpus] for size in ("16", "64", "256", "1024", "4096", "16384")]
rows.append(["16,384 against 256"] + [bar("16,384 LEDs against 256, percent", c, 100 * runs[c]["size 16384"] / runs[c]["size 256"], 130, " %") for c in cpus])
table(["LEDs", *(CPUS[c] for c in cpus)], rows)

out("## Grids: a LED a frame, zigzag panels of 16 x 16")
out()
rows = [[what] + [f"{runs[c]['panels ' + key]:.0f}" for c in cpus] for what, key in
        (("flow across, one panel", "256"), ("lying row after row", "rows"), ("lying around", "around"), ("lying slanted", "slanted"), ("turned by a quarter", "turned"), ("flow across, 64 panels on 16 outputs", "16384"))]
rows.append(["64 panels against one"] + [bar("64 panels against one, percent", c, 100 * runs[c]["panels 16384"] / runs[c]["panels 256"], 130, " %") for c in cpus])
rows.append(["plasma, 64 panels against one"] + [bar("plasma on 64 panels against one, percent", c, 100 * runs[c]["panels plasma 16384"] / runs[c]["panels plasma 256"], 130, " %") for c in cpus])
table(["", *(CPUS[c] for c in cpus)], rows)

out("Wire time beside it: a one-wire LED takes 30 us (RGBW 40 us): at 48 MHz 1,440 cycles, at 160 MHz 4,800.")
out()
out("## The tiny build: ATmega328P, 72 LEDs, cycles a LED")
out()
names = {"0": "plain", "1": "breathing", "2": "filling", "3": "walker", "4": "swell", "x": "crossfade of walker and swell"}
rows = [[names[key], bar("tiny build, " + names[key], "AVR", avr[key] / 72, 600) if key == "3" else f"{avr[key] / 72:.0f}",
         f"{avr[key] / 16000:.2f} ms", f"{avr[key] / 16000 + 72 * 0.03:.2f} ms"] for key in "01234x" if key in avr]
table(["look", "cycles a LED", "a frame at 16 MHz", "with sending by the loop"], rows)
ram = int(re.search(r", (\d+) of 2048", avr_memory[0])[1])
flash = int(re.search(r"flash: (\d+)", avr_memory[1])[1])
out(f"RAM with stack, high-water mark: {bar('tiny build, RAM', 'AVR', ram, 1536)}; flash: {bar('tiny build, flash', 'AVR', flash, 18432)}. ({avr_memory[0]})")
out()

out("## Saving and the calendar: the worst step, instructions")
out()
bare = [c for c in cpus if c != "x86"]
rows = [[what] + [f"{runs[c][key]:,.0f}" for c in bare] for what, key in
        (("begin to save a preset of 8 segments", "saving: begin, a preset of 8 segments"),
         ("a step of a save: 64 bytes, or looking for what to move; the flash's own time comes to it", "saving: a step"),
         ("a frame of 256 LEDs while a save is under way, more than the worst without", "saving: a frame beside it, more than without"),
         ("calendar of 16 entries by the sun: a call that looks days ahead", "calendar: a call that looks ahead"),
         ("calendar: an entry begins or ends", "calendar: a change of what shows"),
         ("calendar: a call without a change, the worst after leaps of ten minutes", "calendar: a call with nothing to do"))]
table(["", *(CPUS[c] for c in bare)], rows)
out(f"{sizes['m0plus']['saving: presets saved']} presets were saved in 600 frames.")
out()

out("## Reading a document: instructions a KB of text")
out()
out("Texts made to be as dear as they can be, between 16 and 32 KB; reading takes time in proportion to the length.")
out()
READINGS = ("colours", "keys that stand twice", "unknown keys", "looks", "nested lists", "escapes")
rows = [[what] + [f"{(runs[c][f'reading {what} 32'] - runs[c][f'reading {what} 16']) / 16:,.0f}" for c in cpus] for what in READINGS]
rows.append(["the dearest"] + [f"{max((runs[c][f'reading {what} 32'] - runs[c][f'reading {what} 16']) / 16 for what in READINGS):,.0f}" for c in cpus])
table(["a text full of", *(CPUS[c] for c in cpus)], rows)

out("## Memory on 32-bit CPUs, bytes")
out()
m = sizes["m0plus"]
fixed = m["RAM device, 256 LEDs, 8 segments"] - m["RAM LEDs, 256"] if "RAM LEDs, 256" in m else m["RAM device, 256 LEDs, 8 segments"] - 1536
table(["", "bytes"], [["a LED, RGB, one byte buffer", bar("RAM a LED", "m0plus", 6, 6)],
                      ["engine, 8 segments, 3 looks that fade, 16 presets' names, 1 input",
                       bar("RAM of engine and 8 segments", "m0plus", fixed - m["RAM saved by 3 fading looks, 8 segments"], 4096)],
                      ["the same with as many looks that fade as there can be, 16", f"{fixed}"],
                      ["each segment", f"{(m['RAM device, 256 LEDs, 8 segments'] - m['RAM device, 256 LEDs, 1 segment']) / 7:.0f}"],
                      ["engine, 1 segment, without its LEDs' 1,536: three looks at once, two, one that stays",
                       ", ".join(f"{m['RAM engine, 256 LEDs, 1 segment' + more] - 1536}" for more in ("", ", two looks at once", ", a look that stays"))],
                      ["each output", f"{(m['RAM device, 256 LEDs on 4 outputs, 8 segments'] - m['RAM device, 256 LEDs, 8 segments']) / 3:.0f}"],
                      ["each input", f"{m['RAM control, 1 input'] - m['RAM control, no input']}"],
                      ["of that, control: 8 segments, 16 entries, 4 playlists at once, 6 undone", f"{m['RAM control, 1 input']}"],
                      ["control for each segment", f"{(m['RAM control, 1 input'] - m['RAM control, 1 segment, 1 input']) / 7:.0f}"],
                      ["store: all keys of a device, the largest record", f"{m['RAM store']}"],
                      ["stack, the deepest of all cases", ", ".join(f"{CPUS[c]} {max(stacks[c].values())}" for c in stacks)]])

out("## Flash by room, bytes of code and constants, all objects of the room")
out()
flash_of = {}
linked = {}
for line in open(f"{folder}/flash.txt"):
    target, name, size = line.split()
    if target.startswith("linked"):
        linked[target[6:], name] = int(size)
    else:
        flash_of.setdefault(target, {})[name] = int(size)
rooms = "base color layout paint effects light chips engine sound control store device document".split()
targets = list(flash_of)
rows = [[room] + [f"{sum(s for n, s in flash_of[t].items() if n.startswith(room + '__')):,}" for t in targets] for room in rooms]
rows.append(["all but documents"] + [f"{sum(s for n, s in flash_of[t].items() if not n.startswith('document')):,}" for t in targets])
table(["room", *targets], rows)
hearing = sum(s for n, s in flash_of["m0plus-Os"].items() if n.startswith("sound__") or n in ("control__sounds", "base__hearing"))
documents = sum(s for n, s in flash_of["m0plus-Os"].items() if n.startswith("document"))
table(["linked for Cortex-M0+", "-Os", "-O2"],
      [["everything but documents, with the board", bar("flash, everything but documents", "m0plus", linked["-Os", "whole"], 61440), f"{linked['-O2', 'whole']:,}"],
       ["sound: bands, onsets, tempo, pitch, shape, and as signals", bar("flash, sound", "m0plus", hearing, 6144), ""],
       ["documents more", bar("flash, documents", "m0plus", documents, 38912), ""],
       *[[words, bar("flash, " + words, "m0plus", linked["-Os", name], most) if most else f"{linked['-Os', name]:,}", f"{linked['-O2', name]:,}"]
         for name, words, most in (("least", "smallest useful strip program", 12288), ("button", "with a button and three presets", 18432),
                                   ("playlist", "with a playlist too", 21504), ("least-lto", "smallest, link-time optimisation", 10240),
                                   ("button-lto", "button, link-time optimisation", None), ("playlist-lto", "playlist, link-time optimisation", None))]])


out("## Structs, bytes")
out()
structs = {}
for line in open(f"{folder}/structs.txt"):
    cpu, name, size = line.split()
    structs.setdefault(name, {})[cpu] = size
table(["struct", "ARM", "RV32", "AVR", "x86-64"],
      [[name] + [structs[name].get(c, "") for c in ("m0plus", "rv32", "avr", "x86")] for name in sorted(structs, key=lambda n: -int(structs[n]["x86"]))])

out("## From saving an effect's source to its light: ten times, seconds")
out()
saved = [line.split()[1:] for line in open(f"{folder}/saving.txt")]
slowest = max(float(seconds) for line in saved for seconds in line)
good = slowest <= 2 and len(saved) == 10
out("`glanz play --watch`, on the machine of the bench: compiled, checked against the contract, taken over; as told / by a clock beside it.")
out()
out(", ".join(f"{a} / {b}" for a, b in saved) + f"; slowest {slowest:.2f} / 2{'' if good else ' **missed**'}")
out()
if not good:
    missed.append(f"from saving an effect to its light: {slowest:.2f} s, bar 2 s")
out("## Bars missed")
out()
for line in missed:
    out("- " + line)
out()
text = "\n".join(lines)
open("docs/bench.md", "w").write(text)
print(text)

# ---- tables for the forecast ----
c = ["/* SPDX-License-Identifier: MIT */", "/* clang-format off */", "/* Costs on each class of CPU, for the forecast. Written by bench/run.sh: do not edit. */", "#ifndef GLANZ_TOOL_COSTS_H",
     "#define GLANZ_TOOL_COSTS_H", "", f"#define COST_EFFECTS {len(EFFECTS)}", "", "struct costs {",
     "    const char *cpu;",
     "    double frame;     /* instructions a frame whatever is lit: control, one segment, one output, the limit */",
     "    double segment;   /* for each further segment */",
     "    double output;    /* for each further output */",
     "    double white, white_unused, clocked; /* a LED more than a one-wire RGB chip */",
     "    double dimmed, placed, grained, stencil; /* a LED: brightness below full; mirror; grain; LEDs that a stencil looks at */",
     "    double blend[5];                /* a LED: blending, by enum glanz_blend */",
     "    double stop;                    /* each stop of a palette that lies along a segment */",
     "    double field, lying, turned;    /* a LED: on panels; lying in rows, columns, outward or around; turned by quarters */",
     "    double part;                    /* each further piece of a surface, or LEDs that none has, on a line */",
     "    double comet_tail;              /* a LED that a comet's tail lies on, more than a dark one */",
     "    double comet_back;              /* a LED of a comet that runs there and back, more than of one that does not */",
     "    double spread, radial;          /* a LED whose palette runs by place; outward or around */",
     "    struct { const char *name; double led, frame; } effect[COST_EFFECTS]; /* a LED, bytes and all; a frame more than a plain one */",
     "};", "", "static const struct costs all_costs[] = {"]
for cpu in ("m0plus", "m4", "rv32"):
    r = runs[cpu]
    led = {e: (r["effect " + e] * 256 - r[" " + e]) / 192 for e in EFFECTS}
    frame = {e: r[" " + e] - 64 * led[e] for e in EFFECTS}
    out_more = (r["form 4 outputs"] - r["effect flow"]) * 256 / 3
    segment = (r["segments 16"] - r["segments 4"]) / 12
    blend = added[cpu] - (led["plain"] - r["stage light"])
    others = {kind: r["form " + kind] - r["effect plain"] - (led["plain"] - r["stage light"]) for kind in ("add", "lighter", "multiply")}
    stencil = (r["form stencil"] - r["effect flow"]) - led["flow"] / 12 + r["stage light"] / 12
    c.append(f'    {{"{CPUS[cpu]}", {frame["plain"]:.0f}, {segment - 0:.0f}, {out_more:.0f}, {r["form white"] - r["effect flow"]:.1f}, {r["form white unused"] - r["effect flow"]:.1f}, '
             f'{r["form clocked"] - r["effect flow"]:.1f}, {r["form dimmed"] - r["effect flow"]:.1f}, {r["form mirrored"] - r["effect flow"]:.1f}, {r["form grained"] - r["effect flow"]:.1f}, {stencil:.1f}, '
             f'{{{blend:.1f}, {others["add"]:.1f}, {others["lighter"]:.1f}, {others["lighter"]:.1f}, {others["multiply"]:.1f}}}, '
             f'{(r["form 61 stops"] - r["effect flow"]) * 256 / 55:.1f}, {r["panels 256"] - r["effect flow"]:.1f}, {r["panels around"] - r["panels 256"]:.1f}, {r["panels turned"] - r["panels 256"]:.1f}, {((r["form gaps"] - r["effect flow"]) * 256 + 6 * (led["flow"] - r["stage light"])) / 2:.1f}, {(r["form comet tail"] - r["effect comet"]) / (1 - 29 / 256):.1f}, {r["form comet back"] - r["effect comet"]:.1f}, '
             f'{r["form along"] - r["panels plain"]:.1f}, {r["form outward"] - r["panels plain"]:.1f},')
    c.append("     {" + ", ".join(f'{{"{e}", {led[e]:.1f}, {frame[e] - frame["plain"]:.0f}}}' for e in EFFECTS) + "}},")
light = ", ".join(f"{runs[cpu]['stage light']:.1f}" for cpu in ("m0plus", "m4", "rv32"))
counted = ", ".join(f"{runs[cpu]['stage light counted'] - runs[cpu]['stage light']:.1f}" for cpu in ("m0plus", "m4", "rv32"))
planned = ", ".join(f"{256 * (runs[cpu]['limit loose, walker'] - runs[cpu]['limit none, walker'] - runs[cpu]['stage light counted'] + runs[cpu]['stage light']):.0f}" for cpu in ("m0plus", "m4", "rv32"))
signal_costs = [(runs[cpu]["drives that move"] - runs[cpu]["drives by one wave"]) / 7 for cpu in ("m0plus", "m4", "rv32")]
drive_costs = [(runs[cpu]["drives by one wave"] - runs[cpu]["drives none"] - more) / 16 for cpu, more in zip(("m0plus", "m4", "rv32"), signal_costs)]
c += ["};", "", "/* of a LED's cost: the light stage, done once however many segments lie over it */", f"static const double light_costs[] = {{{light}}};",
      "/* more, where a limit can bind and does not */", f"static const double counted_costs[] = {{{counted}}};",
      f"static const double planned_costs[] = {{{planned}}}; /* an output */",
      "/* a frame: a signal of the show, and a driven number, on average over their kinds, moving */",
      f"static const double signal_costs[] = {{{', '.join(f'{n:.0f}' for n in signal_costs)}}};",
      f"static const double drive_costs[] = {{{', '.join(f'{n:.0f}' for n in drive_costs)}}};", ""]
def parts_of(rate, bands, low=60):
    """How many parts a sample, on average, and how many samples all rates have: as src/sound/bands.c lays them out."""
    high = min(7000, rate * 40 // 100)
    edges = [low * (high / low) ** (i / bands) for i in range(bands + 1)]
    octave = [max([0] + [k for k in range(1, 9) if edges[i + 1] <= 0.4 * rate / 2 ** k]) for i in range(bands)]
    return sum(1 / 2 ** k for k in octave), sum(1 / 2 ** k for k in range(max(octave) + 1))


def solve(rows, wanted):
    """Least squares, by the normal equations."""
    n = len(rows[0])
    a = [[sum(r[i] * r[j] for r in rows) for j in range(n)] + [sum(r[i] * w for r, w in zip(rows, wanted))] for i in range(n)]
    for i in range(n):
        pivot = max(range(i, n), key=lambda k: abs(a[k][i]))
        a[i], a[pivot] = a[pivot], a[i]
        for k in range(n):
            if k != i:
                factor = a[k][i] / a[i][i]
                a[k] = [x - factor * y for x, y in zip(a[k], a[i])]
    return [a[i][n] / a[i][i] for i in range(n)]


cases = [(8, 16000), (16, 16000), (32, 16000), (16, 8000), (16, 22050), (16, 44100), (16, 48000)]
c += ["/* sound: instructions a sample of each rate, a sample of each band, a tick of each band, a tick; of tempo a tick, of pitch a sample */",
      "static const double sound_costs[3][6] = {"]
for cpu in ("m0plus", "m4", "rv32"):
    tempo = (runs[cpu]["hearing 16 bands 16000"] - runs[cpu]["hearing without tempo"]) * 80
    lay = [(parts_of(rate, bands)[1], parts_of(rate, bands)[0], bands * 200 / rate, 200 / rate) for bands, rate in cases]
    told = [runs[cpu][f"hearing {bands} bands {rate}"] - tempo * 200 / rate for bands, rate in cases]
    fit = solve(lay, told)
    off = max(abs(sum(x * y for x, y in zip(fit, row)) / t - 1) for row, t in zip(lay, told))
    print(f"sound on {cpu}: the forecast's formula is at most {100 * off:.1f} % off what was measured")
    c.append("    {" + ", ".join(f"{n:.1f}" for n in fit) + f", {tempo:.0f}, {runs[cpu]['hearing with pitch'] - runs[cpu]['hearing 16 bands 16000']:.0f}}},")
c += ["};", ""]
f = flash_of["m0plus-Os"]
least = linked["-Os", "least"]
c += ["/* flash on Cortex-M0+ at -Os: a program with one chip and one effect, and what others add */", f"#define COST_FLASH {least - f['effects__walker'] - f['chips__one_wire']}",
      "static const struct { const char *name; unsigned bytes; } flash_costs[] = {"]
with_it = {"text": ("paint__writing", "paint__font_quay", "effects__travel"), "picture": ("paint__picture", "effects__travel")} # what comes along
c += [f'    {{"{e}", {f["effects__" + e.replace(" ", "_")] + sum(f[n] for n in with_it.get(e, ()))}}},' for e in EFFECTS]
c += [f'    {{"one-wire", {f["chips__one_wire"]}}}, {{"clocked", {f["chips__clocked"]}}}, {{"documents", {documents}}},',
      f'    {{"calendar", {sum(f[n] for n in ("control__agenda", "control__entry", "base__sun"))}}},',
      "    /* parts: control with a button, three presets and crossfades */",
      "    " + ", ".join(f'{{"{part}", {linked["-Os", more] - linked["-Os", less]}}}' for part, more, less in (
          ("control", "button", "least"), ("playlists", "playlist", "button"), ("hands", "playlist+hands", "playlist"), ("glides", "least+glides", "least"),
          ("blends", "least+blends", "least"), ("colors", "least+colors", "least"), ("fields", "least+fields", "least"),
          ("drives", "least+drives", "least"), ("signals", "playlist+signals", "playlist"), ("gestures", "playlist+gestures", "playlist"),
          ("saving", "playlist+saving", "playlist+hands"))) + ",",
      f'    {{"sound", {sum(f[n] for n in SOUND)}}}, {{"tempo", {f["sound__tempo"]}}}, {{"pitch", {f["sound__pitch"]}}},',
      "};", ""]
each_segment = (m["RAM device, 256 LEDs, 8 segments"] - m["RAM device, 256 LEDs, 1 segment"]) // 7
each_output = (m["RAM device, 256 LEDs on 4 outputs, 8 segments"] - m["RAM device, 256 LEDs, 8 segments"]) / 3
each_input = m["RAM control, 1 input"] - m["RAM control, no input"]
base = m["RAM device, 256 LEDs, 1 segment"] - 1536 - each_segment - each_output - each_input
c += ["/* RAM on 32-bit CPUs: the device by itself, and what each adds; stack at the deepest */",
      f"#define COST_RAM {base:.0f}", f"#define COST_RAM_SEGMENT {each_segment}", f"#define COST_RAM_OUTPUT {each_output:.0f}", f"#define COST_RAM_INPUT {each_input}",
      f"#define COST_RAM_STORE {m['RAM store']}", f"#define COST_STACK {max(max(s.values()) for s in stacks.values())}", "", "#endif", ""]
open("tool/costs.h", "w").write("\n".join(c))
