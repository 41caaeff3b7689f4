#!/bin/sh
# Line and branch coverage of each room of src by the suites and the monkey, in a table. Fails below 97 % of lines of all or 90 % of
# branches of a room. usage: tests/coverage.sh
set -eu
cd "$(dirname "$0")/.."
sh scripts/install.sh gcc libc6-dev cmake ninja-build pkg-config check libcairo2-dev zlib1g-dev libpopt-dev libgif-dev libsndfile1-dev libsamplerate0-dev libasound2-dev gnuplot-nox python3 python3-jsonschema
build=build-tests/coverage
cmake -S . -B $build -G Ninja -DCMAKE_BUILD_TYPE=Debug -DCMAKE_C_FLAGS="--coverage -O0" > /dev/null
cmake --build $build > /dev/null
find $build -name '*.gcda' -delete
# not "files": its full disks would hold for the counts as well
for suite in laws limit glides values documents running fields pictures store safe edges sequence calendar tool; do
  CK_RUN_SUITE=$suite CK_VERBOSITY=minimal CK_TIMEOUT_MULTIPLIER=10 $build/tests/glanz_tests | tail -n 1
done
gcc --coverage -O0 -std=c11 -D_GNU_SOURCE -Iinclude -Iports/linux tests/monkey.c $build/libglanz_document.a $build/libglanz_port_linux.a $build/libglanz_core.a \
  -o $build/monkey
$build/monkey 300000 1
for target in rig show patch log record store font import writing; do # the fuzzers' corpora
  # shellcheck disable=SC2046
  gcc --coverage -O0 -w -std=c11 -D_GNU_SOURCE -Iinclude -Itool -Isrc/document -Ifuzz -Iports/linux fuzz/$target.c fuzz/replay.c $build/libglanz_session.a \
    $build/libglanz_document.a $build/libglanz_port_linux.a $build/libglanz_core.a $(pkg-config --libs cairo) -lgif -lm -o $build/replay
  $build/replay fuzz/corpus/$target > /dev/null
done
/usr/bin/python3 tests/schemas.py $build/glanz > /dev/null
/usr/bin/python3 - $build << 'END'
import gzip
import json
import glob
import os
import subprocess
import sys

build = os.path.abspath(sys.argv[1])
rooms = {}
missing = {}
for data in glob.glob(build + "/**/*.gcda", recursive=True):
    out = subprocess.run(["gcov", "--json-format", "--branch-probabilities", "--stdout", data], capture_output=True, check=False, cwd=build).stdout
    for line in out.splitlines():
        for file in json.loads(line)["files"]:
            path = os.path.relpath(os.path.join(build, file["file"]), os.getcwd()) if not os.path.isabs(file["file"]) else os.path.relpath(file["file"])
            if not path.startswith("src/"):
                continue
            lines, branches = missing.setdefault(path, ({}, {}))
            for l in file["lines"]:
                number = l["line_number"]
                lines[number] = lines.get(number, 0) + l["count"]
                for i, b in enumerate(l["branches"]):
                    branches[(number, l.get("function_name", ""), i)] = branches.get((number, l.get("function_name", ""), i), 0) + b["count"]
for path, (lines, branches) in missing.items():
    room = rooms.setdefault(path.split("/")[1], [0, 0, 0, 0])
    room[0] += len(lines)
    room[1] += sum(c > 0 for c in lines.values())
    room[2] += len(branches)
    room[3] += sum(c > 0 for c in branches.values())
print("room       lines          branches")
bad = 0
total = [0, 0, 0, 0]
for name in sorted(rooms):
    r = rooms[name]
    total = [a + b for a, b in zip(total, r)]
    share = 100.0 * r[3] / max(1, r[2])
    bad += share < 90
    print("%-10s %5d  %5.1f %%  %6d  %5.1f %%%s" % (name, r[0], 100.0 * r[1] / r[0], r[2], share, "   below 90 %" if share < 90 else ""))
whole = 100.0 * total[1] / total[0]
bad += whole < 97
print("%-10s %5d  %5.1f %%  %6d  %5.1f %%%s" % ("all", total[0], whole, total[2], 100.0 * total[3] / total[2], "   lines below 97 %" if whole < 97 else ""))
worst = sorted(((sum(c == 0 for c in b.values()), p) for p, (l, b) in missing.items()), reverse=True)[:12]
print("most branches never taken: " + ", ".join("%s %d" % (p[4:], n) for n, p in worst))
sys.exit(1 if bad else 0)
END
