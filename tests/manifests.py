# SPDX-License-Identifier: MIT
"""The manifests of the firmware build systems: the fields that each needs, one version everywhere, and the files that they name
or leave out."""
import glob
import json
import re
import sys

wrong = []


def check(condition, text):
    if not condition:
        wrong.append(text)


version = re.search(r"project\(glanz VERSION ([0-9.]+)", open("CMakeLists.txt").read())[1]
header = re.search(r'GLANZ_VERSION "([^"]+)"', open("include/glanz/base.h").read())[1]
check(header == version, f"include/glanz/base.h: version {header}, expected {version}")

library = json.load(open("library.json"))
for field in ("name", "version", "description", "keywords", "license", "headers", "build", "frameworks", "platforms"):
    check(field in library, f"library.json: no {field}")
check(re.fullmatch(r"[a-z0-9-]+", library["name"]), "library.json: a name of small letters")
check(library["version"] == version, f"library.json: version {library['version']}, expected {version}")
check(glob.glob(library["build"]["includeDir"] + "/" + library["headers"]) != [], "library.json: the header is not there")
check("-<document/>" in library["build"]["srcFilter"], "library.json: documents need a header that is not in the tree")

properties = dict(line.strip().split("=", 1) for line in open("library.properties") if "=" in line)
for field in ("name", "version", "author", "maintainer", "sentence", "paragraph", "category", "url", "architectures", "includes"):
    check(field in properties, f"library.properties: no {field}")
check(properties["version"] == version, f"library.properties: version {properties['version']}, expected {version}")
check(properties["category"] in ("Display", "Communication", "Signal Input/Output", "Sensors", "Device Control", "Timing", "Data Storage", "Data Processing", "Other"),
      "library.properties: no such category")
check(glob.glob("include/" + properties["includes"]) != [], "library.properties: the header is not there")

component = open("idf_component.yml").read()
check(re.search(r'^version: "' + re.escape(version) + '"$', component, re.M), f"idf_component.yml: expected version {version}")
for field in ("description:", "license:", "files:"):
    check(re.search("^" + field, component, re.M), f"idf_component.yml: no {field}")
for pattern in re.findall(r'- "([^"]+)"', component):
    check(glob.glob(pattern, recursive=True) != [], f"idf_component.yml: {pattern} matches nothing")
check("idf_component_register" in open("CMakeLists.txt").read(), "CMakeLists.txt: does not register the component")

module = open("zephyr/module.yml").read()
check(re.search("^name: glanz$", module, re.M) and "cmake: zephyr" in module and "kconfig: zephyr/Kconfig" in module, "zephyr/module.yml: name, cmake, kconfig")
check("config GLANZ" in open("zephyr/Kconfig").read(), "zephyr/Kconfig: no option")
check("CONFIG_GLANZ" in open("zephyr/CMakeLists.txt").read(), "zephyr/CMakeLists.txt: does not ask for the option")

core = {path for path in glob.glob("src/*/*.c") if not path.startswith("src/document/")}
check(len(core) > 30 and not any("glanz/document.h" in open(path).read() for path in core), "the core includes what only documents need")
for line in wrong:
    print("manifests: " + line)
print(f"manifests: 4 build systems, version {version}, {len(core)} sources" if not wrong else "")
sys.exit(bool(wrong))
