# SPDX-License-Identifier: MIT
"""Packages for firmware build systems, without docs, tests and pictures: usage: scripts/packages.py FOLDER
FOLDER/arduino/Glanz (headers beside the sources, as sketches find them), FOLDER/platformio/glanz, FOLDER/idf/glanz,
FOLDER/zephyr/glanz; and an archive of each."""
import os
import shutil
import sys

VERSION = "0.1.0"
OPTIONS_HEADER = """/* Options of the library, read by it and by the sketch alike: see glanz/config.h. Take the slashes away.
 */
//#define GLANZ_FADES 2
//#define GLANZ_UNDO 0
"""


def copy(to, *names):
    for name in names:
        target = os.path.join(to, name)
        os.makedirs(os.path.dirname(target) or ".", exist_ok=True)
        if os.path.isdir(name):
            shutil.copytree(name, target, ignore=shutil.ignore_patterns("README.md", "__pycache__"))
        else:
            shutil.copy(name, target)


def without_json_on_avr(folder):
    """Sketches compile every file of a library, on AVR too: there those for documents are empty."""
    for name in sorted(os.listdir(folder)):
        if name.endswith(".c"):
            path = os.path.join(folder, name)
            text = open(path).read()
            open(path, "w").write("#ifndef __AVR__ /* shows are built from C there */\n" + text + "#endif\n")


def arduino(to):
    copy(to, "src", "LICENSE", "library.properties")
    shutil.copytree("include/glanz", os.path.join(to, "src/glanz"))
    shutil.copy("ports/avr/glanz/avr.h", os.path.join(to, "src/glanz/avr.h"))
    shutil.copy("ports/avr/lines.c", os.path.join(to, "src/lines_avr.c"))
    open(os.path.join(to, "src/glanz_options.h"), "w").write(OPTIONS_HEADER)
    shutil.copytree("scripts/packages/FirstLight", os.path.join(to, "examples/FirstLight"))
    without_json_on_avr(os.path.join(to, "src/document"))


def platformio(to):
    copy(to, "src", "include", "LICENSE", "library.json", "README.md")
    shutil.copy("ports/avr/glanz/avr.h", os.path.join(to, "include/glanz/avr.h"))
    shutil.copy("ports/avr/lines.c", os.path.join(to, "src/lines_avr.c"))
    shutil.copytree("scripts/packages/FirstLight", os.path.join(to, "examples/FirstLight"))
    without_json_on_avr(os.path.join(to, "src/document"))


def idf(to):
    copy(to, "src", "include", "LICENSE", "CMakeLists.txt", "Kconfig", "idf_component.yml", "ports/esp32")


def zephyr(to):
    copy(to, "src", "include", "LICENSE", "zephyr", "Kconfig")


def main():
    out = sys.argv[1]
    for name, make, folder, kind in (("arduino", arduino, "Glanz", "zip"), ("platformio", platformio, "glanz", "gztar"),
                                     ("idf", idf, "glanz", "gztar"), ("zephyr", zephyr, "glanz", "gztar")):
        to = os.path.join(out, name, folder)
        shutil.rmtree(to, ignore_errors=True)
        os.makedirs(to)
        make(to)
        path = shutil.make_archive(os.path.join(out, f"glanz-{VERSION}-{name}"), kind, os.path.join(out, name), folder)
        print(f"{os.path.relpath(path, out)}: {os.path.getsize(path) // 1024} KB")


main()
