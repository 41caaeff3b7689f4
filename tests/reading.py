#!/usr/bin/env python3
"""Reading is linear: counts the instructions (callgrind) of `glanz check` on documents made to be as dear as they can be, at 16, 32,
64 and 128 KB, and prints what a KB costs. Twice the length may cost at most 2.4 times as much. usage: reading.py GLANZ FOLDER"""
import os
import re
import subprocess
import sys

glanz, folder = sys.argv[1:]
os.makedirs(folder, exist_ok=True)
rig = os.path.join(folder, "rig.json")
with open(rig, "w") as file:
    file.write('{"rig":"t","supplies":{"s":{"volts":"5 V"}},"outputs":{"o":{"pin":1,"supply":"s","line":[{"chip":"WS2812B","leds":60}]}},'
               '"surfaces":{"a":{"strip":[{"output":"o","first":0,"leds":60}]}}}')
tail = '"looks":{"l":{"effect":"plain"}},"segments":{"s":{"surface":"a","look":"l"}}}'


def members(count, make):
    return ",".join(make(i) for i in range(count))


def fill(size, make, head, end):
    text = []
    length = len(head) + len(end)
    while length < size:
        text.append(make(len(text)))
        length += len(text[-1]) + 1
    return head + ",".join(text) + end


cases = {
    "colours": lambda n: fill(n, lambda i: '"c%d":"#12%04x"' % (i, i % 65536), '{"show":"t","colors":{', "}," + tail),
    "keys that stand twice": lambda n: fill(n, lambda i: '"k%d":1' % (i // 2 * 2 if i > n // 20 else i), '{"show":"t","colors":{', "}," + tail),
    "unknown keys": lambda n: fill(n, lambda i: '"k%d":1' % i, '{"show":"t",', "," + tail),
    "looks, each used": lambda n: fill(n, lambda i: '"look %d":{"effect":"comet","tail":"%d leds"}' % (i, i % 40 + 1), '{"show":"t","looks":{', '},"segments":{"s":{"surface":"a","look":"look 0"}}}'),
    "nested lists": lambda n: fill(n, lambda i: "[" * 9 + "1" + "]" * 9, '{"show":"t","colors":[', "]," + tail),
    "escapes": lambda n: fill(n, lambda i: '"' + "\\u0041\\u00e4\\ud83d\\ude00" * 2 + '%d":"#123456"' % i, '{"show":"t","colors":{', "}," + tail),
    "spaces and lines": lambda n: '{"show":"t",' + " \n" * (n // 2) + tail[:-1] + ',"wrong":1}',
}
failed = 0
for name, make in cases.items():
    counts = []
    for kilobytes in (16, 32, 64, 128):
        path = os.path.join(folder, "show.json")
        with open(path, "w") as file:
            file.write(make(kilobytes * 1024))
        run = subprocess.run(["valgrind", "--tool=callgrind", "--callgrind-out-file=/dev/null", glanz, "check", rig, path],
                             capture_output=True, text=True, check=False)
        counts.append(int(re.search(r"Collected : (\d+)", run.stderr).group(1)))
        said = [line for line in run.stderr.splitlines() if line.startswith("glanz:")]
    slopes = [(counts[i + 1] - counts[i]) / (16 * 2 ** i) for i in range(3)]
    # what is refused early costs no more, however long the rest is
    good = all(counts[i + 1] <= 2.4 * counts[i] for i in range(3))
    failed += not good
    print("%-22s %s million instructions at 16, 32, 64, 128 KB; %.0f thousand a KB%s   %s" %
          (name, " ".join("%.1f" % (count / 1e6) for count in counts), max(slopes) / 1e3, "" if good else "  NOT LINEAR",
           said[0][:90].split(": ", 2)[-1] if said else "accepted"))
sys.exit(1 if failed else 0)
