#!/bin/sh
# A program outside the project, built by each way in that can be built here: find_package, subdirectory, pkg-config from a tree
# that was moved, and a plain list of sources; a library and a program of different options; uninstall; the manifests.
# usage: tests/ways_in.sh FOLDER
set -eu
cd "$(dirname "$0")/.."
folder=$1
rm -rf "$folder"
mkdir -p "$folder"
folder=$(cd "$folder" && pwd)
consumer=$PWD/tests/consumer

same() { # NAME PROGRAM: every way gives the same bytes
  sum=$("$2")
  echo "$1: $sum"
  [ "${first:=$sum}" = "$sum" ] || { echo "$1: expected $first"; exit 1; }
}

cmake -S . -B "$folder/build" -G Ninja -DGLANZ_TOOL=OFF -DGLANZ_TESTS=OFF -DGLANZ_OPTIONS="GLANZ_FADES=2;GLANZ_SAVED_MOST=4" > /dev/null
cmake --build "$folder/build" > "$folder/log"
cmake --install "$folder/build" --prefix "$folder/there" > "$folder/log"

cmake -S "$consumer" -B "$folder/package" -G Ninja -DCMAKE_PREFIX_PATH="$folder/there" > /dev/null
cmake --build "$folder/package" > "$folder/log"
same "find_package" "$folder/package/consumer"

cmake -S "$consumer" -B "$folder/sub" -G Ninja -DGLANZ_SUBDIRECTORY="$PWD" > /dev/null
cmake --build "$folder/sub" > "$folder/log"
same "subdirectory" "$folder/sub/consumer"

cp -r "$folder/there" "$folder/moved"
pc=$(find "$folder/moved" -name glanz.pc)
# shellcheck disable=SC2046
gcc -std=c11 "$consumer/main.c" $(PKG_CONFIG_PATH=$(dirname "$pc") pkg-config --cflags --libs glanz) -o "$folder/by-pkg-config"
same "pkg-config, moved" "$folder/by-pkg-config"

# shellcheck disable=SC2046
gcc -std=c11 -Iinclude "$consumer/main.c" $(find src -name '*.c' ! -path 'src/document/*') -o "$folder/by-sources"
same "sources" "$folder/by-sources"

# another layout than the library's is refused at the start, with the reason
library=$(find "$folder/there" -name libglanz_core.a)
gcc -std=c11 -I"$folder/there/include" "$consumer/main.c" "$library" -o "$folder/mixed"
if "$folder/mixed" > "$folder/said"; then echo "mixed options were not refused"; exit 1; fi
grep -q "compiled with other options" "$folder/said"
echo "mixed options: refused: $(cat "$folder/said")"

# the manifest is of the install into the prefix; afterwards nothing is left
cmake --build "$folder/build" --target uninstall > "$folder/log"
left=$(find "$folder/there" -type f 2> /dev/null | wc -l)
[ "$left" = 0 ] || { echo "uninstall left $left files"; exit 1; }
echo "uninstall: nothing left"

/usr/bin/python3 tests/manifests.py
