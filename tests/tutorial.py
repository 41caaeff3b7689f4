# SPDX-License-Identifier: MIT
"""The tutorial as a reader does it: files are written, commands run, in order, in an empty folder; what it says is printed must be
printed. Uses what is installed under PREFIX. usage: tests/tutorial.py PREFIX FOLDER"""
import os
import re
import shutil
import subprocess
import sys
import time

prefix, folder = os.path.abspath(sys.argv[1]), os.path.abspath(sys.argv[2])
shutil.rmtree(folder, ignore_errors=True)
os.makedirs(folder)
project = os.getcwd()
libraries = next(os.path.join(root, "pkgconfig") for root, folders, _ in os.walk(prefix) if "pkgconfig" in folders)
environment = dict(os.environ, PATH=os.path.join(prefix, "bin") + ":" + os.environ["PATH"], PKG_CONFIG_PATH=libraries, CMAKE_PREFIX_PATH=prefix,
                   LD_LIBRARY_PATH=os.path.dirname(libraries))
printed, step, steps, wrong = "", "", 0, 0
begin = time.time()
for kind, name, text in re.findall(r"^(?:```(\w+)(?: (\S+))?\n(.*?)^```$|(?=## ))", open("docs/tutorial.md").read(), re.M | re.S):
    if not kind:
        continue
    if kind == "sh":
        done = subprocess.run(["sh", "-e", "-c", text], cwd=project if name == "project" else folder, env=environment, capture_output=True, text=True, timeout=300)
        printed = done.stdout + done.stderr
        steps += 1
        if done.returncode != 0:
            print(f"tutorial: exit {done.returncode}:\n{text}{printed[-1500:]}")
            wrong += 1
    elif kind == "text":
        if steps == 0:
            continue  # how to install
        at = 0
        for line in text.strip().split("\n"):
            found = printed.find(line, at)
            if found < 0:
                print(f"tutorial: expected \"{line}\" in:\n{printed[-1500:]}")
                wrong += 1
            at = max(found, at)
    else:
        open(os.path.join(folder, name), "w").write(text)
first = open(os.path.join(folder, "first.c")).read()
if "WS2812B".lower() not in first:
    wrong += 1
print(f"tutorial: {steps} boxes of commands, {time.time() - begin:.0f} s, {wrong} wrong")
sys.exit(wrong != 0 or steps < 7)
