# SPDX-License-Identifier: MIT
"""One table of all hashes: a row a scenario, a column a target. Fails unless all are equal, every scenario is there on every
target that ran its set, and the golden ones are those of tests/golden.txt. usage: table.py FOLDER"""
import glob
import os
import sys

folder = sys.argv[1]


def read(path, fields=None):
    return {line.split()[0]: line.split()[1:fields] for line in open(path)}


wrong = 0
for kind, listed in (("golden", "list"), ("random", "random-list"), ("values", "values-list"), ("tiny", "tiny-list"), ("loose", "loose-list")):
    names = [line.split()[0] for line in open(f"{folder}/{listed}")]
    fields = 4 if kind in ("tiny", "loose") else None  # the tiny build keeps nothing
    columns = {os.path.basename(path).split(".", 2)[2]: read(path, fields) for path in sorted(glob.glob(f"{folder}/{kind}.hashes.*"))}
    truths = {"random": "documents", "values": "gcc-O0", "tiny": "tiny-options", "loose": "gcc-O2"}
    truth = columns[truths[kind]] if kind in truths else read("tests/golden.txt", fields)
    print(f"{kind}: {len(names)} scenarios on {len(columns)} targets: {', '.join(columns)}")
    for name in names:
        expected = truth.get(name)
        different = {column: hashes.get(name) for column, hashes in columns.items() if hashes.get(name) != expected}
        wrong += len(different)
        if kind != "random" or different:
            marks = " ".join(" ".join(map(str, different[c] or ["missing"])) if c in different else "=" for c in columns)
            print(f"  {name:20} {' '.join(expected or ['not in golden.txt']):42} {marks}")
    frames = sum(int(truth[name][0]) for name in names if name in truth)
    print(f"  {frames} frames sent on each target; {sum(len(h) for h in columns.values()) } hashes compared")
    if any(len(hashes) != len(names) for hashes in columns.values()):
        print("  some scenarios did not run everywhere")
        wrong += 1
print("all equal" if wrong == 0 else f"{wrong} differ")
sys.exit(wrong != 0)
