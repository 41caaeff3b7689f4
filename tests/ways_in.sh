#!/bin/sh
# Programs outside the project, built by each way in that can be built here: find_package, subdirectory, fetched, pkg-config from a
# tree that was moved, a plain list of sources; static and shared, gcc and clang, 32 and 64 bits, C11, C17, C++17; the packages;
# a library and a program of different options; uninstall; packages for firmware build systems.
# usage: tests/ways_in.sh FOLDER GLANZ
set -eu
cd "$(dirname "$0")/.."
folder=$1 glanz=$2
rm -rf "$folder"
mkdir -p "$folder"
folder=$(cd "$folder" && pwd)
consumer=$PWD/tests/consumer
options="GLANZ_FADES=2;GLANZ_SAVED_MOST=4"
first=$folder/first.c
awk '/^```c$/ { on = 1; next } /^```$/ { if (on) exit } on' README.md > "$first"
tail -n +3 examples/01-first-light.c | cmp - "$first" || { echo "README: its first program is not examples/01-first-light.c"; exit 1; }

same() { # NAME PROGRAM: every way gives the same bytes
  sum=$("$2")
  echo "$1: $sum"
  [ "${first_sum:=$sum}" = "$sum" ] || { echo "$1: expected $first_sum"; exit 1; }
}

runs() { # NAME PROGRAM...: the README's program shows light
  name=$1
  shift
  for program in "$@"; do
    timeout 0.5 "$program" > "$folder/light" 2> "$folder/said" || [ $? = 124 ] || { echo "$name: $(cat "$folder/said")"; exit 1; }
    [ "$(tr '\r' '\n' < "$folder/light" | grep -c '48;2;')" -gt 20 ] || { echo "$name: $program shows no light"; exit 1; }
  done
  echo "$name: the first program: $*" | sed "s|$folder/||g"
}

build() { # NAME OPTIONS...: the library installed into NAME/there
  name=$1
  shift
  cmake -S . -B "$folder/$name" -G Ninja -DGLANZ_TOOL=OFF -DGLANZ_OPTIONS="$options" "$@" > "$folder/log" && cmake --build "$folder/$name" > "$folder/log" &&
    cmake --install "$folder/$name" --prefix "$folder/$name/there" > "$folder/log" || { tail -n 20 "$folder/log"; exit 1; }
}

consume() { # NAME OPTIONS...
  name=$1
  shift
  cmake -S "$consumer" -B "$folder/$name" -G Ninja -DGLANZ_FIRST="$first" "$@" > "$folder/log" 2>&1 && cmake --build "$folder/$name" > "$folder/log" ||
    { echo "$name:"; tail -n 20 "$folder/log"; exit 1; }
  same "$name" "$folder/$name/consumer"
  runs "$name" "$folder/$name/first-c11" "$folder/$name/first-c17" "$folder/$name/first-cpp17"
}

build installed -DGLANZ_SHARED=ON -DCMAKE_BUILD_TYPE=Debug
for kind in static shared; do
  for compiler in gcc:g++ clang:clang++; do
    consume "package-$kind-${compiler%:*}" -DCMAKE_PREFIX_PATH="$folder/installed/there" -DGLANZ_KIND=$kind -DCMAKE_C_COMPILER="${compiler%:*}" -DCMAKE_CXX_COMPILER="${compiler#*:}"
  done
done
consume subdirectory -DGLANZ_WAY=subdirectory -DGLANZ_FOLDER="$PWD" -DGLANZ_OPTIONS="$options"
consume fetch -DGLANZ_WAY=fetch -DGLANZ_FOLDER="$PWD" -DGLANZ_OPTIONS="$options" -DBUILD_SHARED_LIBS=ON
build i386 -DCMAKE_BUILD_TYPE=Debug -DCMAKE_TOOLCHAIN_FILE="$PWD/cmake/toolchains/i386.cmake"
if echo 'int main() {}' | g++ -m32 -x c++ - -o "$folder/none" 2> /dev/null; then
  consume package-32-bits -DCMAKE_PREFIX_PATH="$folder/i386/there" -DCMAKE_TOOLCHAIN_FILE="$PWD/cmake/toolchains/i386.cmake" -DGLANZ_KIND=static
else
  echo "package-32-bits: no C++ library for 32 bits; expected libstdc++-12-dev and lib32stdc++-12-dev"
  exit 1
fi

# only what the headers declare is visible, and the name has the version
library=$(readlink -f "$(find "$folder/installed/there" -name libglanz_core.so)")
cat include/glanz/*.h | grep -o 'glanz_[a-z0-9_]*' | sort -u > "$folder/declared"
hidden=$(nm -D --defined-only "$library" | awk '{ print $3 }' | sort -u | comm -23 - "$folder/declared")
[ -z "$hidden" ] || { echo "visible, but in no header:" $hidden; exit 1; }
objdump -p "$library" | grep -q 'SONAME *libglanz_core.so.0.1$' || { echo "no SONAME with the version"; exit 1; }
echo "shared: $(nm -D --defined-only "$library" | wc -l) symbols, each in a header"

cp -r "$folder/installed/there" "$folder/moved to"
pc=$(dirname "$(find "$folder/moved to" -name glanz.pc)")
for name in "" -document -port-linux; do
  PKG_CONFIG_PATH="$pc" pkg-config --exists "glanz$name" || { echo "glanz$name.pc is wrong"; exit 1; }
done
eval "gcc -std=c11 '$consumer/main.c' $(PKG_CONFIG_PATH="$pc" pkg-config --cflags --static --libs glanz) -o '$folder/by-pkg-config' -Wl,-rpath,'$(dirname "$pc")'"
same "pkg-config, moved, with a space in its path" "$folder/by-pkg-config"
eval "g++ -std=c++17 -x c++ '$first' -x none $(PKG_CONFIG_PATH="$pc" pkg-config --cflags --libs glanz-port-linux) -o '$folder/first-by-pkg-config' -Wl,-rpath,'$(dirname "$pc")'"
runs "pkg-config" "$folder/first-by-pkg-config"
cmake -S . -B "$folder/quoted" -G Ninja -DGLANZ_TOOL=OFF -DGLANZ_OPTIONS='GLANZ_USER_CONFIG="my options.h"' > /dev/null
eval "set -- $(PKG_CONFIG_PATH="$folder/quoted" pkg-config --cflags glanz)"
[ "$2" = '-DGLANZ_USER_CONFIG="my options.h"' ] || { echo "glanz.pc: quotes are lost: $2"; exit 1; }

# shellcheck disable=SC2046
gcc -std=c11 -DGLANZ_FADES=2 -DGLANZ_SAVED_MOST=4 -Iinclude "$consumer/main.c" $(find src -name '*.c' ! -path 'src/document/*') -o "$folder/by-sources"
same "sources" "$folder/by-sources"

# another layout than the library's is refused at the start, with the reason
library=$(find "$folder/installed/there" -name libglanz_core.a)
gcc -std=c11 -I"$folder/installed/there/include" "$consumer/main.c" "$library" -o "$folder/mixed"
if "$folder/mixed" > "$folder/said"; then echo "mixed options were not refused"; exit 1; fi
grep -q "compiled with other options" "$folder/said"
echo "mixed options: refused: $(cat "$folder/said")"

# a number of LEDs that cannot be, and too little memory: a sentence that says what to write
sed 's/, 60)/, 0)/' "$first" > "$folder/none.c"
gcc -Iinclude -Iports/linux -c "$folder/none.c" -o "$folder/none.o" 2> "$folder/said" && { echo "no LED was taken"; exit 1; }
grep "expected 1 to 32767 LEDs" "$folder/said" | head -n 1
sed 's/, 60)/, 120)/; s/GLANZ_MEMORY_FOR(memory, pier)/GLANZ_DEVICE_MEMORY(memory, 0, 1, 0, 1)/' "$first" > "$folder/little.c"
gcc -Iinclude -Iports/linux -DGLANZ_FADES=2 -DGLANZ_SAVED_MOST=4 "$folder/little.c" "$(dirname "$library")/libglanz_port_linux.a" "$library" -o "$folder/little"
if "$folder/little" 2> "$folder/said"; then echo "too little memory was enough"; exit 1; fi
grep "expected GLANZ_DEVICE_MEMORY(name, 720, 1, 0, 1)" "$folder/said"

# the manifest is of the install into the prefix; afterwards nothing is left
cmake --build "$folder/installed" --target uninstall > "$folder/log"
left=$(find "$folder/installed/there" -type f 2> /dev/null | wc -l)
[ "$left" = 0 ] || { echo "uninstall left $left files"; exit 1; }
echo "uninstall: nothing left"

# packages of all, tool included, from the build that the tests made: what is in them works by itself
tool=$(cd "$(dirname "$glanz")" && pwd)
(cd "$tool" && cpack -G "DEB;TGZ" -B "$folder/packages" > "$folder/log" 2>&1) || { tail -n 20 "$folder/log"; exit 1; }
deb=$(echo "$folder"/packages/*.deb)
dpkg-deb -f "$deb" Package Version Depends
dpkg-deb -x "$deb" "$folder/debian"
[ -s "$folder/debian/usr/share/doc/glanz/copyright" ] || { echo "the package has no licence"; exit 1; }
options= consume by-package -DCMAKE_PREFIX_PATH="$folder/debian/usr" -DGLANZ_KIND=static -DGLANZ_MORE=tool -DGLANZ_DEMO="$PWD/demo"
"$folder/by-package/documents"
"$folder/by-package/own_tool" list effects lighthouse | head -n 2
"$folder/debian/usr/bin/glanz" check demo/rig.json demo/show.json | head -n 1
tar -tzf "$folder"/packages/*.tar.gz | grep -c . | sed 's/$/ files in the archive/'

/usr/bin/python3 tests/packages.py "$folder/for-firmware"
