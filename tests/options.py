#!/usr/bin/env python3
"""Every option of glanz/config.h by itself, over the whole core and the documents, and two of them together, over the files that
name one of them: does it compile without a warning? With each that leaves something out, and with all, does the core need nothing that it has not?
Without --all one size of each, over the files that name it, and a tenth of the pairs, drawn from a seed; what leaves something out is tried whole.
usage: options.py [--all]"""
import concurrent.futures
import glob
import itertools
import os
import random
import re
import subprocess
import sys
import tempfile

os.chdir(os.path.join(os.path.dirname(__file__), ".."))
# another value than the default, the smallest or largest where there is a choice
VALUES = {
    "GLANZ_RUN": [8, 64], "GLANZ_FADES": [2, 4], "GLANZ_PARAMS": [5], "GLANZ_OUTPUTS_MOST": [1, 2], "GLANZ_SEGMENTS_MOST": [1, 16],
    "GLANZ_INBOX": [4, 128], "GLANZ_SAVED_MOST": [0, 64], "GLANZ_RESUME_S": [10],
    "GLANZ_LONG_TIME": [0], "GLANZ_GLIDES": [0], "GLANZ_FIELDS": [0], "GLANZ_SEQUENCES": [0], "GLANZ_PLAYERS": [1],
    "GLANZ_NESTING": [1], "GLANZ_UNDO": [0], "GLANZ_ENTRIES_MOST": [1], "GLANZ_CALENDAR": [0], "GLANZ_DESCRIPTIONS": [1],
    "GLANZ_DRIVES_MOST": [0, 64], "GLANZ_SIGNALS_MOST": [1],
    "GLANZ_WATCHES_MOST": [1, 255], "GLANZ_PASSING": [1, 32],
}
said = set(re.findall(r"^#ifndef (GLANZ_\w+)$|^#elif !defined\((GLANZ_\w+)\)", open("include/glanz/config.h").read(), re.M))
said = {a or b for a, b in said} - {"GLANZ_CONFIG_H"}
if said != set(VALUES):
    sys.exit("options that are not tried, or that there are not: " + " ".join(sorted(said ^ set(VALUES))))

core = [f for f in sorted(glob.glob("src/*/*.c")) if "/document/" not in f]
everything = sorted(glob.glob("src/*/*.c"))
# documents need what they describe: fields, sequences, the calendar, all effects
NEEDED = {"GLANZ_DRIVES_MOST", "GLANZ_FIELDS", "GLANZ_SEQUENCES", "GLANZ_CALENDAR", "GLANZ_LONG_TIME", "GLANZ_PARAMS"}
text = {}
for path in everything:
    text[path] = open(path).read()
    for header in glob.glob(os.path.dirname(path) + "/*.h"):
        if '"%s"' % os.path.basename(header) in text[path]:
            text[path] += open(header).read()


def flags(pairs):
    return ["-D%s=%d" % pair for pair in pairs]


STRICT = ["gcc", "-std=c11", "-Wall", "-Wextra", "-Wpedantic", "-Wconversion", "-Wshadow", "-Wundef", "-Wstrict-prototypes", "-Wmissing-prototypes", "-Werror"]


def compile_with(pairs, files):
    command = STRICT + ["-fsyntax-only", "-Iinclude"] + flags(pairs) + files
    run = subprocess.run(command, capture_output=True, text=True, check=False)
    return pairs, run.returncode, run.stderr


def link_with(pairs):
    """All objects of the core as one, without a warning: what of ours is left undefined, where nobody may leave anything out?"""
    with tempfile.TemporaryDirectory() as folder:
        for room in sorted(set(os.path.dirname(f) for f in core)): # objects of different rooms have the same name
            os.makedirs(os.path.join(folder, room))
            files = [os.path.abspath(f) for f in core if os.path.dirname(f) == room]
            run = subprocess.run(STRICT + ["-c", "-I" + os.path.abspath("include")] + flags(pairs) + files,
                                 cwd=os.path.join(folder, room), capture_output=True, text=True, check=False)
            if run.returncode != 0:
                return pairs, run.returncode, run.stderr
        run = subprocess.run(["ld", "-r", "-o", "all.o"] + glob.glob("src/*/*.o", root_dir=folder), cwd=folder, capture_output=True, text=True, check=False)
        if run.returncode != 0:
            return pairs, run.returncode, run.stderr
        names = subprocess.run(["nm", "-u", "all.o"], cwd=folder, capture_output=True, text=True, check=True).stdout
        missing = re.findall(r"glanz_\w+", names)
        return pairs, len(missing), "".join("error: nowhere defined: %s\n" % name for name in missing)


def naming(options, files):
    return [f for f in files if any(option in text[f] for option in options)]


jobs = []
draw = random.Random(20261)
for name, values in VALUES.items():
    files = core if name in NEEDED else everything
    for value in values if "--all" in sys.argv or 0 in values else [draw.choice(values)]:
        jobs.append((((name, value),), files if "--all" in sys.argv or value == 0 else naming([name], files)))
pairs = list(itertools.combinations(VALUES, 2))
if "--all" not in sys.argv:
    pairs = random.Random(20261).sample(pairs, len(pairs) // 10)
for one, other in pairs:
    files = naming([one, other], core if {one, other} & NEEDED else everything)
    if files:
        jobs.append((((one, VALUES[one][0]), (other, VALUES[other][0])), files))
jobs.append((tuple((name, values[0]) for name, values in VALUES.items()), core))
failed = 0
with concurrent.futures.ThreadPoolExecutor(2) as pool:
    alone = [job[0] for job in jobs if len(job[0]) != 2 and min(value for _, value in job[0]) == 0] # those that leave something out
    linked = [(pairs, [f for f in files if f not in core] if pairs in alone else files) for pairs, files in jobs] # the core when it is linked
    results = itertools.chain(pool.map(lambda job: compile_with(*job), [job for job in linked if job[1]]), pool.map(link_with, alone))
    for pairs, code, said in results:
        if code != 0:
            failed += 1
            print(" ".join(flags(pairs)) + ": does not compile or link\n" + "\n".join(line for line in said.splitlines() if "error" in line or "warning" in line)[:700])
print("%d combinations of %d options compiled, %d of them linked, %d do not" % (len(jobs), len(VALUES), len(alone), failed))
sys.exit(1 if failed else 0)
