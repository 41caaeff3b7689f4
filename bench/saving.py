# From saving an effect's source to its light: ten changed lines, one after another, beside a show that plays.
# usage: saving.py GLANZ FOLDER: prints the seconds of each, as the tool tells them, and as a clock beside it sees them
import os, re, shutil, subprocess, sys, time

glanz, folder = sys.argv[1:3]
os.makedirs(folder, exist_ok=True)
here = os.path.join(os.path.dirname(os.path.dirname(os.path.abspath(__file__))), "examples", "effects")
source = open(os.path.join(here, "lighthouse.c")).read()
path = os.path.join(folder, "lighthouse.c")
for name in ("rig.json", "show.json"):
    shutil.copy(os.path.join(here, name), folder)


def save(text):
    with open(path + ".beside", "w") as file:
        file.write(text)
    os.rename(path + ".beside", path)


save(source)
player = subprocess.Popen([os.path.abspath(glanz), "play", "--plain", "--watch", "lighthouse.c", "rig.json", "show.json"], cwd=folder,
                          stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True)
player.stdout.readline()
told, seen = [], []
for turn in range(10):
    time.sleep(0.3)
    begin = time.monotonic()
    save(source.replace("* 2u", "* %du" % (3 + turn)))
    for line in player.stdout:
        found = re.search(r"built anew, ([0-9.]+) s after", line)
        if found:
            told.append(float(found.group(1)))
            seen.append(time.monotonic() - begin)
            break
player.terminate()
for a, b in zip(told, seen):
    print("saving %.2f %.2f" % (a, b))
if len(told) != 10:
    sys.exit("expected ten")
