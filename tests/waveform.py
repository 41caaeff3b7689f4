#!/usr/bin/env python3
# SPDX-License-Identifier: MIT
"""The waveform that the tool writes, decoded by sigrok's decoders, against the byte dump and the simulated chips.

usage: waveform.py GLANZ
"""
import json
import os
import re
import subprocess
import sys
import tempfile
import time

glanz = sys.argv[1]
DEMO = ["demo/rig.json", "demo/show.json", "--inputs", "demo/visitor.jsonl"]
failed = 0


def say(good, text):
    global failed
    failed += not good
    print(("equal: " if good else "DIFFERENT: ") + text)


def lines(path, output):
    rows = [line.strip().split(": ", 1) for line in open(path)]
    return [row[1] for row in rows if row[0].split(" ", 1)[1] == output]


def decode(vcd, wire, row, decoder="rgb_led_ws281x:din={}", skip=5):
    out = subprocess.run(["sigrok-cli", "-I", f"vcd:downsample={skip}", "-i", vcd, "-P", decoder.format(wire), "-A", row],
                         capture_output=True, text=True, check=True).stdout
    return [line.split(": ", 1)[1] for line in out.splitlines()]


def length(text):
    number, unit = text.split()[:2]
    return float(number) * {"ns": 1, "μs": 1e3, "ms": 1e6, "s": 1e9}[unit]


with tempfile.TemporaryDirectory() as folder:
    at = lambda name: os.path.join(folder, name)
    for form in ["raw", "spi4", "uart4"]:
        subprocess.run([glanz, "wire", *DEMO, "--form", form, "--from", "6.9s", "--for", "6.97s", "--vcd", at("w.vcd"), "--bytes", at("b.txt"),
                        "--colors", at("c.txt")], check=True, capture_output=True)
        for output in ["rail line", "wheel line"]:
            sent = "".join(lines(at("b.txt"), output))
            # sigrok's decoder for this family halves the period between a 0 and a 1; slots of four make an SK6812's 1 just half
            # high, so there the lengths that its timing decoder measures are judged by the chip's data sheet
            if output == "rail line" or form == "raw":
                bits = "".join(bit for bit in decode(at("w.vcd"), output.replace(" ", "_"), "rgb_led_ws281x=bit") if bit in "01")
            else:
                lengths = [length(text) for text in decode(at("w.vcd"), "wheel_line", "timing=time", "timing:data={}")]
                bits = "".join("1" if high > 450 else "0" for high in lengths[0::2])
            want = "".join(f"{int(sent[i:i + 2], 16):08b}" for i in range(0, len(sent), 2))
            say(bits == want and len(bits) > 3000, f"{form}: {len(bits)} bits of \"{output}\", decoded from the waveform, and the bytes sent")
        # the decoder's colours suppose the order GRB: the first 72 LEDs have it, the others are RGB
        shown = [frame.split() for frame in lines(at("c.txt"), "rail line")]
        colors = [c[1:] for c in decode(at("w.vcd"), "rail_line", "rgb_led_ws281x=rgb")]
        frames = [colors[i:i + 132] for i in range(0, len(colors), 132)]
        frames = [f[:72] + [c[2:4] + c[0:2] + c[4:6] for c in f[72:]] for f in frames]
        say(frames == shown and len(frames) == 4, f"{form}: {len(frames)} frames of 132 colours, decoded from the waveform, and what the chips latched")

    # every chip whose bits travel by the length of their pulses
    for chip in ["WS2812B", "SK6812", "SK6812-RGBW", "WS2811", "WS2811-400"]:
        json_rig = {"rig": "shed", "supplies": {"s": {"volts": "5 V"}}, "outputs": {"line": {"pin": 1, "supply": "s", "line": [{"chip": chip, "leds": 20}]}},
                    "surfaces": {"a": {"strip": [{"output": "line", "first": 0, "leds": 20}]}}}
        json_show = {"show": "t", "looks": {"l": {"effect": "motley", "palette": "full circle"}}, "segments": {"s": {"surface": "a", "look": "l"}}}
        json.dump(json_rig, open(at("r.json"), "w"))
        json.dump(json_show, open(at("s.json"), "w"))
        subprocess.run([glanz, "wire", at("r.json"), at("s.json"), "--from", "1s", "--for", "1.03s", "--vcd", at("w.vcd"), "--bytes", at("b.txt")],
                       check=True, capture_output=True)
        sent = "".join(lines(at("b.txt"), "line"))
        want = "".join(f"{int(sent[i:i + 2], 16):08b}" for i in range(0, len(sent), 2))
        began = time.time()
        bits = "".join(bit for bit in decode(at("w.vcd"), "line", "rgb_led_ws281x=bit", skip=1) if bit in "01")
        say(bits == want and len(bits) > 900, f"{chip}: {len(bits)} bits decoded in {time.time() - began:.1f} s, and the bytes sent")

    # a clocked line: sigrok's SPI decoder
    rig = open("demo/rig.json").read()
    rig = re.sub(r'"pin": 17,', '"pin": 17, "clock pin": 30,', rig).replace('"chip": "SK6812-RGBW", "leds": 24, "white": "4000 K"', '"chip": "APA102", "leds": 24')
    open(at("rig.json"), "w").write(rig)
    subprocess.run([glanz, "wire", at("rig.json"), "demo/show.json", "--from", "1s", "--for", "1.05s", "--vcd", at("w.vcd"), "--bytes", at("b.txt")],
                   check=True, capture_output=True)
    sent = "".join(lines(at("b.txt"), "wheel line"))
    # frames lie apart, but the decoder does not see that without a chip select: bytes run on, which they may, a frame is whole bytes
    read = decode(at("w.vcd"), "", "spi=mosi-data", "spi:clk=wheel_line_clock:mosi=wheel_line")
    say("".join(b.lower() for b in read) == sent and len(sent) > 500, f"{len(read)} bytes of a clocked line, decoded from the waveform, and the bytes sent")
sys.exit(failed != 0)
