#!/usr/bin/env python3
"""The structure as it is linked: which file uses which, from the symbols of the compiled objects. No room may use one below it in the
list, and no files may use each other in a circle. Prints the rooms with what they use, and every circle; the README of each room must
say the same. usage: structure.py BUILD"""
import glob
import os
import re
import subprocess
import sys

ROOMS = "base color layout paint effects light chips engine sound control store device document".split()
objects = sorted(glob.glob(os.path.join(sys.argv[1], "CMakeFiles", "glanz_*.dir", "src", "*", "*.c.o")))
defined, wanted = {}, {}
for path in objects:
    name = re.search(r"src/(\w+/\w+)\.c\.o$", path)[1]
    for line in subprocess.run(["nm", path], capture_output=True, text=True, check=True).stdout.splitlines():
        kind, symbol = line.split()[-2:]
        if kind == "U":
            wanted.setdefault(name, set()).add(symbol)
        elif kind.isupper():
            defined[symbol] = name
uses = {name: {defined[s] for s in wanted.get(name, ()) if s in defined} - {name} for name in sorted(set(defined.values()) | set(wanted))}
if len(uses) < 50:
    sys.exit("too few objects in " + sys.argv[1])

failed = 0
print("room      files  uses")
for at, room in enumerate(ROOMS):
    files = [n for n in uses if n.startswith(room + "/")]
    rooms = {other.split("/")[0] for n in files for other in uses[n]} - {room}
    print("%-9s %5d  %s" % (room, len(files), ", ".join(r for r in ROOMS if r in rooms) or "nobody"))
    page = os.path.join(os.path.dirname(__file__), "..", "src", room, "README.md")
    told = re.search(r"\bUses ([a-z, ]+)[.;]", open(page).read() if os.path.exists(page) else "")
    if told is None or told[1] != (", ".join(r for r in ROOMS if r in rooms) or "nothing"):
        print("%s: expected what it uses, as above" % os.path.normpath(page))
        failed += 1
    for name in files:
        for other in sorted(uses[name]):
            if ROOMS.index(other.split("/")[0]) > at:
                print("UPWARD: %s uses %s" % (name, other))
                failed += 1

# circles: strongly connected files (Tarjan), without recursion
index, low, stack, on, circles = {}, {}, [], set(), []
for root in uses:
    if root in index:
        continue
    work = [(root, iter(sorted(uses[root])))]
    index[root] = low[root] = len(index)
    stack.append(root)
    on.add(root)
    while work:
        name, rest = work[-1]
        for other in rest:
            if other not in index:
                index[other] = low[other] = len(index)
                stack.append(other)
                on.add(other)
                work.append((other, iter(sorted(uses[other]))))
                break
            if other in on:
                low[name] = min(low[name], index[other])
        else:
            work.pop()
            if work:
                low[work[-1][0]] = min(low[work[-1][0]], low[name])
            if low[name] == index[name]:
                circle = []
                while True:
                    last = stack.pop()
                    on.discard(last)
                    circle.append(last)
                    if last == name:
                        break
                if len(circle) > 1:
                    circles.append(sorted(circle))
for circle in circles:
    print("CIRCLE: " + ", ".join(circle))
    for name in circle:
        for other in sorted(uses[name] & set(circle)):
            print("    %s -> %s: %s" % (name, other, ", ".join(sorted(s for s in wanted[name] if defined.get(s) == other))))
    failed += 1

# no source file above 500 lines, no function of the core above 60; generated fonts are tables
top = os.path.dirname(os.path.dirname(os.path.abspath(__file__)))
longest = (0, "")
for path in sorted(glob.glob(os.path.join(top, "src", "*", "*.c")) + glob.glob(os.path.join(top, "tool", "*.c"))):
    lines = open(path).read().split("\n")
    name = os.path.relpath(path, top)
    if len(lines) > 501:
        print("%s: %d lines; expected at most 500" % (name, len(lines) - 1))
        failed += 1
    head = 0
    for at, line in enumerate(lines):
        if re.match(r"[A-Za-z_][^=;]*\(", line):
            head = at
        if line == "}" and head and name.startswith("src"):
            longest = max(longest, (at - head + 1, name))
            if at - head + 1 > 60:
                print("%s:%d: a function of %d lines; expected at most 60" % (name, head + 1, at - head + 1))
                failed += 1
            head = 0
print("the longest function of src: %d lines, %s" % longest)
sys.exit(1 if failed else 0)
