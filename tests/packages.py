# SPDX-License-Identifier: MIT
"""The packages of scripts/packages.py, each built by the rules of its build system, which are written out here: a sketch for an AVR
and for a Cortex-M0+ with a stand-in of the sketch's headers; a library by its include folder and source filter; a component and a
module by CMake with stand-ins of the functions that their build systems have. Options and JSON, too. A package that lacks its headers
must fail. usage: tests/packages.py FOLDER"""
import concurrent.futures
import fnmatch
import glob
import json
import os
import re
import shutil
import subprocess
import sys

out = os.path.abspath(sys.argv[1])
wrong = []


def check(condition, text):
    if not condition:
        wrong.append(text)
    return condition


def run(*command, cwd=None):
    done = subprocess.run(command, capture_output=True, text=True, cwd=cwd)
    return done.returncode == 0, (done.stdout + done.stderr)[-600:]


def compile_all(name, compiler, flags, sources, folder):
    os.makedirs(folder, exist_ok=True)

    def one(pair):
        i, source = pair
        target = os.path.join(folder, f"{i}.o")
        return run(*compiler(source), *flags, "-c", source, "-o", target), source, target

    with concurrent.futures.ThreadPoolExecutor(2) as pool:
        results = list(pool.map(one, enumerate(sources)))
    bad = [(source, text) for (good, text), source, _ in results if not good]
    for source, text in bad[:2]:
        print(f"packages: {name}: {source}: {text}")
    return [] if bad else [target for _, _, target in results]


version = re.search(r"project\(glanz VERSION ([0-9.]+)", open("CMakeLists.txt").read())[1]
for name, pattern in (("include/glanz/base.h", r'GLANZ_VERSION "([^"]+)"'), ("library.json", r'"version": "([^"]+)"'),
                      ("library.properties", r"version=(\S+)"), ("idf_component.yml", r'version: "([^"]+)"'), ("scripts/packages.py", r'VERSION = "([^"]+)"')):
    found = re.search(pattern, open(name).read())[1]
    check(found == version, f"{name}: version {found}, expected {version}")
numbers = re.findall(r"GLANZ_VERSION_(?:MAJOR|MINOR|PATCH) (\d+)", open("include/glanz/base.h").read())
check(".".join(numbers) == version, "include/glanz/base.h: its numbers are another version")

shutil.rmtree(out, ignore_errors=True)
good, text = run("/usr/bin/python3", "scripts/packages.py", out)
check(good, text)
print(text.strip())
for package in ("arduino/Glanz", "platformio/glanz", "idf/glanz", "zephyr/glanz"):
    files = [path for path in glob.glob(f"{out}/{package}/**", recursive=True) if os.path.isfile(path)]
    check(not any(re.search(r"/(docs|tests|fuzz|bench|demo|tool)/|\.png$|\.sh$", path[len(out):]) for path in files), f"{package}: what does not belong into it")
    check(any(path.endswith("LICENSE") for path in files), f"{package}: no licence")

# ---- sketches ----
properties = dict(line.strip().split("=", 1) for line in open("library.properties") if "=" in line)
for field in ("name", "version", "author", "maintainer", "sentence", "paragraph", "category", "url", "architectures", "includes"):
    check(properties.get(field), f"library.properties: no {field}")
check(re.fullmatch(r"[A-Za-z0-9][A-Za-z0-9 _.\-]{0,62}", properties["name"]), "library.properties: no such name")
check(properties["category"] in ("Display", "Communication", "Signal Input/Output", "Sensors", "Device Control", "Timing", "Data Storage", "Data Processing", "Other"),
      "library.properties: no such category")
STAND_IN = """#ifndef STAND_IN_H
#define STAND_IN_H
#include <stddef.h>
#include <stdint.h>
#ifdef __cplusplus
extern "C" unsigned long micros(void);
struct Port { void begin(unsigned long) {} void println(const char *) {} };
static Port Serial;
#endif
#endif
"""
SPI_STAND_IN = """#include <Arduino.h>
enum { MSBFIRST = 1, SPI_MODE0 = 0 };
struct SPISettings { SPISettings(uint32_t, uint8_t, uint8_t) {} };
struct Spi { void begin() {} void beginTransaction(SPISettings) {} void transfer(void *, size_t) {} void endTransaction() {} };
static Spi SPI;
"""
BOARDS = {
    "AVR": (["avr-gcc"], ["avr-g++"], ["-mmcu=atmega328p", "-DF_CPU=16000000UL"], "-std=gnu11", "-std=gnu++11", "avr-size", []),
    "Cortex-M0+": (["arm-none-eabi-gcc"], ["arm-none-eabi-g++"], ["-mcpu=cortex-m0plus", "-mthumb"], "-std=gnu11", "-std=gnu++17", "arm-none-eabi-size",
                   ["--specs=nosys.specs"]),
}


def sketch(package, board, folder):
    """As a sketch's build system does it: the library's src is on the include path, every C file in it is compiled."""
    c, cpp, cpu, c_std, cpp_std, size, link = BOARDS[board]
    os.makedirs(folder, exist_ok=True)
    open(f"{folder}/Arduino.h", "w").write(STAND_IN)
    open(f"{folder}/SPI.h", "w").write(SPI_STAND_IN)
    example = f"{package}/examples/FirstLight"
    open(f"{folder}/FirstLight.ino.cpp", "w").write("#include <Arduino.h>\n" + open(f"{example}/FirstLight.ino").read())
    open(f"{folder}/main.cpp", "w").write('#include <Arduino.h>\nvoid setup(); void loop();\nstatic volatile unsigned long now;\n'
                                          'extern "C" unsigned long micros(void) { return now += 100; }\nint main() { setup(); for (;;) loop(); }\n')
    flags = cpu + ["-g", "-Os", "-w", "-ffunction-sections", "-fdata-sections", "-DARDUINO=10819", f"-I{folder}", f"-I{package}/src", f"-I{example}"]
    sources = sorted(glob.glob(f"{package}/src/**/*.c", recursive=True)) + [f"{example}/light.c", f"{folder}/FirstLight.ino.cpp", f"{folder}/main.cpp"]
    objects = compile_all(f"sketch, {board}", lambda s: c + [c_std] if s.endswith(".c") else cpp + [cpp_std, "-fno-exceptions", "-fno-threadsafe-statics"], flags, sources, folder)
    if not objects:
        return False
    good, text = run(*c, *cpu, "-Wl,--gc-sections", *link, *objects, "-o", f"{folder}/sketch.elf")
    if not good:
        print(f"packages: sketch, {board}: {text}")
        return False
    flash, data, bss = subprocess.run([size, f"{folder}/sketch.elf"], capture_output=True, text=True).stdout.split("\n")[1].split()[:3]
    print(f"sketch, {board}: {len(sources)} files, flash {int(flash) + int(data)} bytes, RAM {int(data) + int(bss)} bytes")
    return board != "AVR" or (int(flash) + int(data) <= 32256 and int(data) + int(bss) <= 1792)


package = f"{out}/arduino/Glanz"
for board in BOARDS:
    check(sketch(package, board, f"{out}/sketch-{board}"), f"the sketch for {board} does not build or is too large")
shutil.copytree(package, f"{out}/broken")
shutil.rmtree(f"{out}/broken/src/glanz")
print("a package without its headers:")
check(not sketch(f"{out}/broken", "Cortex-M0+", f"{out}/sketch-broken"), "a package without its headers was built")
other = f"{out}/options"
shutil.copytree(package, other)
open(f"{other}/src/glanz_options.h", "w").write("#define GLANZ_FADES 2\n")
open(f"{out}/fades.c", "w").write("#include <glanz/glanz.h>\n#if GLANZ_FADES != 2\n#error\n#endif\n")
check(run("gcc", "-fsyntax-only", f"-I{other}/src", f"{out}/fades.c")[0], "options do not reach the sketch and the library")

# ---- a library with a manifest in JSON ----
library = json.load(open("library.json"))
for field in ("name", "version", "description", "keywords", "authors", "license", "headers", "build", "frameworks", "platforms"):
    check(field in library, f"library.json: no {field}")
package = f"{out}/platformio/glanz"
for header in library["headers"]:
    check(os.path.isfile(f"{package}/{library['build']['includeDir']}/{header}"), f"library.json: {header} is not there")
root = f"{package}/{library['build']['srcDir']}"
taken = set()
for rule in library["build"]["srcFilter"]:
    sign, pattern = rule[0], rule[2:-1]
    matched = {path for path in glob.glob(f"{root}/**/*.c", recursive=True) if fnmatch.fnmatch(os.path.relpath(path, root), pattern.rstrip("/") + ("*" if pattern.endswith("/") else ""))}
    taken = taken | matched if sign == "+" else taken - matched
check(len(taken) > 100, f"library.json: {len(taken)} sources")
for cpu, compiler in (("RV32IMC", ["riscv64-unknown-elf-gcc", "-march=rv32imc", "-mabi=ilp32", "--specs=picolibc.specs"]), ("AVR", ["avr-gcc", "-mmcu=atmega328p"])):
    flags = ["-std=gnu11", "-fsyntax-only", "-Wall", "-Werror", "-DGLANZ_UNDO=0" if cpu != "AVR" else "-DGLANZ_FADES=2", f"-I{package}/include"]
    check(compile_all(f"library, {cpu}", lambda s: compiler, flags, sorted(taken), f"{out}/library-{cpu}"), f"the library does not compile for {cpu}")
    print(f"library with a JSON manifest, {cpu}: {len(taken)} sources, options by flags")

# ---- by CMake ----
component = open("idf_component.yml").read()
for field in ("version:", "description:", "license:", "files:", "dependencies:"):
    check(re.search("^" + field, component, re.M), f"idf_component.yml: no {field}")
IDF = """cmake_minimum_required(VERSION 3.16)
project(host C)
set(ESP_PLATFORM 1)
set(CONFIG_GLANZ_OPTIONS "{options}")
set(CONFIG_GLANZ_DOCUMENT {json})
function(idf_component_register)
  cmake_parse_arguments(IT "" "" "SRCS;INCLUDE_DIRS;REQUIRES" ${{ARGN}})
  set(COMPONENT_LIB component PARENT_SCOPE)
  add_library(component STATIC ${{IT_SRCS}})
  target_include_directories(component PUBLIC ${{IT_INCLUDE_DIRS}})
  target_include_directories(component PRIVATE {stand_ins})
endfunction()
add_subdirectory({package} glanz)
add_executable(app main.c)
target_link_libraries(app component)
"""
ZEPHYR = """cmake_minimum_required(VERSION 3.16)
project(host C)
set(CONFIG_GLANZ y)
set(CONFIG_GLANZ_OPTIONS "{options}")
set(CONFIG_GLANZ_DOCUMENT {json})
add_library(zephyr_interface INTERFACE)
macro(zephyr_library_named NAME)
  add_library(${{NAME}} STATIC)
  set(ZEPHYR_LIBRARY ${{NAME}})
  target_link_libraries(${{NAME}} PUBLIC zephyr_interface)
endmacro()
macro(zephyr_library_sources)
  target_sources(${{ZEPHYR_LIBRARY}} PRIVATE ${{ARGN}})
endmacro()
function(zephyr_include_directories)
  target_include_directories(zephyr_interface INTERFACE ${{ARGN}})
endfunction()
function(zephyr_compile_definitions)
  target_compile_definitions(zephyr_interface INTERFACE ${{ARGN}})
endfunction()
add_subdirectory({package}/zephyr glanz)
add_executable(app main.c)
target_link_libraries(app glanz)
"""
MAIN = """#include <glanz/glanz.h>
#include <glanz/document.h>
#if GLANZ_UNDO != 2
#error "the options did not come here"
#endif
GLANZ_ONE_STRIP(pier, glanz_chip_ws2812b, 30);
int main(void) {
    static GLANZ_MEMORY_FOR(memory, pier);
    struct glanz_setup setup = glanz_setup_of(&pier, NULL, NULL, &glanz_everything);
    struct glanz_device *device;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    return glanz_device_start(&device, &memory, sizeof memory, &setup, &fault) == GLANZ_ERR_ARGUMENT DOCUMENT;
}
"""
for name, text, package, choices in (("component", IDF, f"{out}/idf/glanz", ["y"]), ("module", ZEPHYR, f"{out}/zephyr/glanz", ["", "y"])):
    for with_json in choices:
        folder = f"{out}/{name}{with_json}"
        os.makedirs(folder)
        open(f"{folder}/CMakeLists.txt", "w").write(text.format(options="GLANZ_UNDO=2 GLANZ_FADES=2", json=with_json, package=package, stand_ins=os.path.abspath("tests/boards/idf")))
        open(f"{folder}/main.c", "w").write(MAIN.replace(" DOCUMENT", " && glanz_document_memory(\"{}\", 2) != 0" if with_json else ""))
        toolchain = os.path.abspath("cmake/toolchains/rv32imc.cmake")
        good, said = run("cmake", "-S", folder, "-B", f"{folder}/build", "-G", "Ninja", f"-DCMAKE_TOOLCHAIN_FILE={toolchain}", "-DCMAKE_BUILD_TYPE=Debug",
                         "-DCMAKE_EXE_LINKER_FLAGS=-Wl,--gc-sections,--defsym=__flash_size=0x400000,--defsym=__ram_size=0x100000")
        good = good and (lambda done: (done[0], done[1]))(run("cmake", "--build", f"{folder}/build"))[0]
        check(good, f"{name}{', with JSON' if with_json else ''}: {said if not good else ''}{run('cmake', '--build', f'{folder}/build')[1] if not good else ''}")
        print(f"{name}{', with JSON' if with_json else ''}: built for RV32IMC with its options: {bool(good)}")

for line in wrong:
    print("packages: " + line)
sys.exit(bool(wrong))
