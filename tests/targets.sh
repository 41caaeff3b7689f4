#!/bin/sh
# The same bytes on every CPU: golden scenarios, the demo, and random rigs and shows, played from documents and from C on the
# desk (gcc and clang, 64 and 32 bit, big-endian) and from C on emulated microcontrollers. Prints one table of hashes.
# usage: tests/targets.sh GLANZ FOLDER [--write]    --write makes tests/golden.txt anew
set -eu
cd "$(dirname "$0")/.."
glanz=$1 folder=$2 write=${3:-}
rm -rf "$folder"
mkdir -p "$folder"
strict="-std=c11 -Wall -Wextra -Wpedantic -Wconversion -Wshadow -Wundef -Wcast-qual -Wstrict-prototypes -Wmissing-prototypes -Werror"
core=$(ls src/base/*.c src/color/*.c src/layout/*.c src/paint/*.c src/effects/*.c src/light/*.c src/chips/*.c src/engine/*.c src/sound/*.c src/control/*.c src/store/*.c src/device/*.c)
random_count=200
own=examples/effects/lighthouse.c # an effect beside the catalogue

# ---- documents, and the C source that the tool makes of them ----
libraries="$(dirname "$glanz")/libglanz_document.a $(dirname "$glanz")/libglanz_core.a" # as a program gets them
# shellcheck disable=SC2086
gcc -std=c11 -O1 -Iinclude tests/replay/scenarios.c $libraries -o "$folder/scenarios"
mkdir "$folder/documents"
"$folder/scenarios" "$folder/documents" > "$folder/list"
cp demo/rig.json "$folder/documents/demo.rig.json"
cp demo/show.json "$folder/documents/demo.show.json"
grep -v -e '"patch"' -e '"clock"' demo/visitor.jsonl > "$folder/visitor.jsonl"
"$glanz" play demo/rig.json demo/show.json --inputs "$folder/visitor.jsonl" --for 20s --record "$folder/documents/demo.inputs.jsonl" > "$folder/play.txt" 2>&1
echo "demo 2000" >> "$folder/list"
cp demo/tiny.rig.json "$folder/documents/tiny.rig.json"
cp demo/tiny.show.json "$folder/documents/tiny.show.json"
"$glanz" play demo/tiny.rig.json demo/tiny.show.json --inputs demo/tiny.inputs.jsonl --for 4s --record "$folder/documents/tiny.inputs.jsonl" > "$folder/play.txt" 2>&1
echo "tiny 400" >> "$folder/list"
echo "tiny 400" > "$folder/tiny-list"
/usr/bin/python3 tests/replay/random_documents.py "$glanz" "$folder/documents" 20261 $random_count > "$folder/random-list"

make_source() { # LIST OUT: one file with all scenarios of a list
  : > "$2"
  printf '%s\n' '#include "replay.h"' 'const struct scenario scenarios[] = {' > "$2.table"
  while read -r name frames; do
    inputs="" pushed=NULL
    if [ -f "$folder/documents/$name.inputs.jsonl" ]; then
      inputs="--inputs $folder/documents/$name.inputs.jsonl" pushed=${name}_pushed
    fi
    # shellcheck disable=SC2086
    "$glanz" source --effects $own "$folder/documents/$name.rig.json" "$folder/documents/$name.show.json" --name "$name" $inputs >> "$2" < /dev/null
    echo "{\"$name\", &${name}_rig, &${name}_show, &${name}_parts, $pushed, $frames}," >> "$2.table"
  done < "$1"
  echo '{NULL, NULL, NULL, NULL, NULL, 0}};' >> "$2.table"
  cat "$2.table" >> "$2"
}
make_source "$folder/list" "$folder/golden.c"
make_source "$folder/random-list" "$folder/random.c"
make_source "$folder/tiny-list" "$folder/tiny.c"

# ---- jobs: two of them at a time ----
for name in full effects; do
  from=$([ $name = full ] && echo tests || echo demo)
  cp "$from/$name.rig.json" "$from/$name.show.json" "$folder/documents/"
  echo "$name 1"
done > "$folder/same-list"
cat "$folder/list" "$folder/random-list" >> "$folder/same-list"
make_source "$folder/same-list" "$folder/same.c"

from_documents() { # PROGRAM LIST
  arguments=""
  while read -r name frames; do
    at=$folder/documents/$name
    arguments="$arguments $name $frames $at.rig.json $at.show.json $(ls "$at.inputs.jsonl" 2> /dev/null || true) --"
  done < "$2"
  # shellcheck disable=SC2086
  $1 $arguments
}
documents="-D_GNU_SOURCE -DREPLAY_DOCUMENTS -Iinclude -Itool -Isrc/document -Itests/replay tests/replay/desk.c tests/replay/replay.c tool/files.c tool/log.c $own"

core_objects() { # NAME COMPILER OPTIONS...: the core, compiled once for all that is played with it
  into=$folder/core-$1
  shift
  for room in src/*/; do
    [ "$room" = src/document/ ] || for file in "$room"*.c; do
      mkdir -p "$into/$room"
      # shellcheck disable=SC2086
      "$@" $strict -ffunction-sections -fdata-sections -Iinclude -c "$file" -o "$into/${file%.c}.o" || return 1
    done
  done
}

desk() { # NAME SET COMPILER OPTIONS...: from C, on the desk
  name=$1 set=$2
  shift 2
  # shellcheck disable=SC2086
  "$@" $strict -Iinclude -Itests/replay "$folder/core-$name"/src/*/*.o tests/replay/desk.c tests/replay/replay.c $own "$folder/$set.c" -o "$folder/desk-$set-$name" &&
    "$folder/desk-$set-$name" > "$folder/$set.hashes.$name"
}

chip() { # NAME SET RUN COMPILER OPTIONS...: from C, on microcontrollers
  name=$1 set=$2 run=$3
  shift 3
  # shellcheck disable=SC2086
  "$@" $strict -ffunction-sections -fdata-sections -nostartfiles -Wl,--gc-sections,--no-warn-rwx-segments -Iinclude -Itests/replay -Iports/bare \
    "$folder/core-$name"/src/*/*.o tests/replay/bare.c tests/replay/replay.c ports/bare/text.c $own "$folder/$set.c" -o "$folder/$set-$name.elf" -lc -lgcc &&
    timeout 300 $run "$folder/$set-$name.elf" > "$folder/$set.out.$name" &&
    grep frames "$folder/$set.out.$name" > "$folder/$set.hashes.$name" &&
    echo "$name, $set: $(grep stack "$folder/$set.out.$name") bytes at the most"
}
m0="arm-none-eabi-gcc -mcpu=cortex-m0plus -mthumb"
m4="arm-none-eabi-gcc -mcpu=cortex-m4 -mthumb"
rv="riscv64-unknown-elf-gcc -march=rv32imc -mabi=ilp32 --specs=picolibc.specs"
m_board="-T ports/bare/cortex-m.ld ports/bare/cortex-m.c"
rv_board="-T ports/bare/riscv.ld ports/bare/riscv.c"
run_m0="qemu-system-arm -M mps2-an385 -display none -monitor none -serial stdio -semihosting -kernel"
run_m4="qemu-system-arm -M mps2-an386 -display none -monitor none -serial stdio -semihosting -kernel"
run_rv="qemu-system-riscv32 -M virt -bios none -display none -monitor none -serial stdio -kernel"

# the arithmetic by itself, and every effect's light, down to 8 bits
values="tests/replay/values.c ports/bare/text.c"
board() { # NAME RUN LAST COMPILER OPTIONS...: a program of one file on a board
  name=$1 run=$2 last=$3
  shift 3
  # shellcheck disable=SC2086
  "$@" $strict -ffunction-sections -fdata-sections -Wl,--gc-sections,--no-warn-rwx-segments -Iinclude -Iports/bare "$folder/core-$name"/src/*/*.o $values \
    -o "$folder/values-$name.elf" $last &&
    timeout 300 $run "$folder/values-$name.elf" | grep frames > "$folder/values.hashes.$name"
}
tiny="-DGLANZ_RUN=10 -DGLANZ_FADES=2 -DGLANZ_GLIDES=0 -DGLANZ_PARAMS=5 -DGLANZ_INBOX=4 -DGLANZ_LONG_TIME=0 -DGLANZ_FIELDS=0 -DGLANZ_SEQUENCES=0 -DGLANZ_CALENDAR=0 \
  -DGLANZ_SAVED_MOST=0 -DGLANZ_OUTPUTS_MOST=1 -DGLANZ_SEGMENTS_MOST=4"
# without a limit that binds, options that leave things out change no byte
sed 's/\.limit_ma = [0-9]*/.limit_ma = 0/' "$folder/tiny.c" > "$folder/loose.c"
cp "$folder/tiny-list" "$folder/loose-list"

on_avr() { # what an ATmega328P does, and what its pins do
  gcc -std=gnu11 -O2 -Wall -Wextra -Werror -Iinclude -Itool -Iports/linux -Isrc/document tests/avr/emulate.c tool/files.c tool/log.c ports/linux/line.c \
    ports/linux/wave.c src/*/*.c -o "$folder/emulate" -lsimavr -lelf || return 1
  # shellcheck disable=SC2086
  AVR_OPTIONS="-DGLANZ_OUTPUTS_MOST=2" sh tests/avr.sh "$folder/values-avr.elf" $values ports/bare/avr.c || return 1
  "$folder/emulate" "$folder/values-avr.elf" 200000 | tr -d '\r' | grep ' frames ' | grep -v sent > "$folder/values.hashes.avr" || return 1
  sed '/^#include "replay.h"/,$d' "$folder/tiny.c" > "$folder/tiny-only.c"
  sh tests/avr.sh "$folder/tiny-avr.elf" tests/replay/avr.c "$folder/tiny-only.c" || return 1
  "$folder/emulate" "$folder/tiny-avr.elf" 90000 demo/tiny.rig.json > "$folder/tiny.out.avr" || return 1
  sed -n 's/^sent /tiny /p' "$folder/tiny.out.avr" > "$folder/tiny.hashes.avr"
  echo "avr, tiny: $(grep RAM "$folder/tiny.out.avr"); $(grep flash "$folder/tiny.out.avr")"
  # the same show with a visitor at the button: the pin's waveform, read by simulated chips
  "$glanz" source demo/tiny.rig.json demo/tiny.show.json --name shelf -o "$folder/shelf.c" || return 1
  AVR_OPTIONS=-DBOARD_TRACE sh tests/avr.sh "$folder/shelf.elf" examples/03-show-in-c.c ports/bare/avr.c "$folder/shelf.c" || return 1
  "$folder/emulate" "$folder/shelf.elf" 3600 demo/tiny.rig.json demo/tiny.inputs.jsonl > "$folder/shelf.out" || { cat "$folder/shelf.out"; return 1; }
  grep -v Loaded "$folder/shelf.out" | sed 's/^/avr, shelf: /'
  AVR_OPTIONS="-DBOARD_TRACE -DGLANZ_OUTPUTS_MOST=2" sh tests/avr.sh "$folder/two.elf" examples/04-two-outputs.c ports/bare/avr.c || return 1
  "$folder/emulate" "$folder/two.elf" 2500 tests/avr/two.rig.json demo/tiny.inputs.jsonl > "$folder/two.out" || { cat "$folder/two.out"; return 1; }
  grep -v Loaded "$folder/two.out" | sed 's/^/avr, two outputs: /'
}

on_lx106() { # everything compiled and linked; open are only the compiler's own helpers, which on this chip lie in its ROM
  # shellcheck disable=SC2086
  xtensa-lx106-elf-gcc $strict -mlongcalls -ffreestanding -Itests/freestanding -O2 -ffunction-sections -fdata-sections -nostdlib -Wl,--gc-sections \
    -Wl,--entry=board_begin,-Ttext=0x40100000,--unresolved-symbols=ignore-all -Iinclude -Itests/replay -Iports/bare $core tests/replay/bare.c \
    tests/replay/replay.c ports/bare/text.c $own ports/bare/lx106.c ports/bare/memory.c "$folder/golden.c" -o "$folder/golden-lx106.elf" -lgcc || return 1
  open=$(xtensa-lx106-elf-nm -u "$folder/golden-lx106.elf" | awk '{ print $NF }' | grep -v -x -E '__(u?divsi3|u?modsi3|muldi3|u?divdi3|u?moddi3|mulsi3|umulsidi3|ashldi3|lshrdi3|ashrdi3)' || true)
  [ -z "$open" ] || { echo "lx106: open symbols: $open"; return 1; }
  echo "lx106: linked, $(xtensa-lx106-elf-size "$folder/golden-lx106.elf" | awk 'NR == 2 { print $1 }') bytes of code and constants; open: $(xtensa-lx106-elf-nm -u "$folder/golden-lx106.elf" | awk '{ printf "%s ", $NF }')"
}

# shellcheck disable=SC2086
job() { # the dearest first
  case $1 in
  big-endian) # documents and all
    powerpc-linux-gnu-gcc -static -std=c11 -O2 $documents src/*/*.c -o "$folder/desk-big-endian" &&
      from_documents "qemu-ppc $folder/desk-big-endian" "$folder/list" > "$folder/golden.hashes.big-endian" ;;
  documents)
    gcc -g -std=c11 -O1 $documents $libraries -o "$folder/desk-documents" &&
      from_documents "$folder/desk-documents" "$folder/list" > "$folder/golden.hashes.documents" &&
      from_documents "$folder/desk-documents" "$folder/random-list" > "$folder/random.hashes.documents" ;;
  same) # the C source says what the documents say
    gcc -std=c11 -O1 -D_GNU_SOURCE -Iinclude -Itool -Isrc/document -Itests/replay tests/replay/same.c tool/files.c $own "$folder/same.c" $libraries -o "$folder/same" &&
      "$folder/same" "$folder/documents" ;;
  avr) on_avr ;;
  lx106) on_lx106 ;;
  m0) core_objects m0plus-O2 $m0 -O2 && for set in golden random; do chip m0plus-O2 $set "$run_m0" $m0 $m_board -O2 || return 1; done &&
    board m0plus-O2 "$run_m0" "-lc -lgcc" $m0 $m_board -nostartfiles -O2 ;;
  m0-small) core_objects m0plus-Os $m0 -Os && chip m0plus-Os golden "$run_m0" $m0 $m_board -Os ;;
  m4) core_objects m4-O2 $m4 -O2 && chip m4-O2 golden "$run_m4" $m4 $m_board -O2 && board m4-O2 "$run_m4" "-lc -lgcc" $m4 $m_board -nostartfiles -O2 ;;
  rv) core_objects rv32imc-O2 $rv -O2 && for set in golden random; do chip rv32imc-O2 $set "$run_rv" $rv $rv_board -O2 || return 1; done &&
    board rv32imc-O2 "$run_rv" "-lc -lgcc" $rv $rv_board -nostartfiles -O2 ;;
  rv-small) core_objects rv32imc-Os $rv -Os && chip rv32imc-Os golden "$run_rv" $rv $rv_board -Os ;;
  gcc-O0) core_objects gcc-O0 gcc -O0 && desk gcc-O0 golden gcc -O0 && board gcc-O0 "" "" gcc -O0 ports/bare/desk.c ;;
  gcc-O2) core_objects gcc-O2 gcc -O2 && for set in golden random loose; do desk gcc-O2 $set gcc -O2 || return 1; done ;;
  gcc-i386) core_objects gcc-i386 gcc -O2 -m32 && desk gcc-i386 golden gcc -O2 -m32 ;;
  clang-O0) core_objects clang-O0 clang -O0 && desk clang-O0 golden clang -O0 ;;
  clang-O2) core_objects clang-O2 clang -O2 && desk clang-O2 golden clang -O2 && board clang-O2 "" "" clang -O2 ports/bare/desk.c ;;
  clang-i386) core_objects clang-i386 clang -O2 -m32 && desk clang-i386 golden clang -O2 -m32 ;;
  tiny) core_objects tiny-options gcc -O2 $tiny && for set in tiny loose; do desk tiny-options $set gcc -O2 $tiny || return 1; done ;;
  esac
}
jobs="m0 rv big-endian m0-small rv-small m4 avr documents same clang-i386 gcc-i386 clang-O2 gcc-O2 clang-O0 gcc-O0 lx106 tiny"
rm -rf "$folder/taken" && mkdir "$folder/taken"
work() { # take jobs that nobody has taken yet
  for job in $jobs; do
    if mkdir "$folder/taken/$job" 2> /dev/null; then
      job "$job" > "$folder/$job.said" 2>&1 || { cat "$folder/$job.said"; echo "failed: $job"; return 1; }
      cat "$folder/$job.said"
    fi
  done
}
work & one=$!
work & two=$!
good=1
wait $one || good=0
wait $two || good=0
[ $good = 1 ] || exit 1
sed -n 's/ .*//p' "$folder/values.hashes.gcc-O0" > "$folder/values-list"

# ---- the table ----
[ "$write" != --write ] || cp "$folder/golden.hashes.gcc-O2" tests/golden.txt
/usr/bin/python3 tests/replay/table.py "$folder"
