#!/bin/sh
# The bench: counted instructions (on AVR cycles), memory, flash, on every emulated CPU. Writes docs/bench.md and the tables of
# the tool's forecast, tool/costs.h. usage: bench/run.sh [FOLDER]
set -eu
cd "$(dirname "$0")/.."
sh scripts/install.sh gcc libc6-dev valgrind python3 gcc-arm-none-eabi libnewlib-arm-none-eabi gcc-riscv64-unknown-elf picolibc-riscv64-unknown-elf \
  gcc-avr avr-libc qemu-system-arm qemu-system-misc simavr libsimavr-dev libelf-dev cmake ninja-build pkg-config libcairo2-dev zlib1g-dev libpopt-dev libgif-dev libsndfile1-dev libsamplerate0-dev libasound2-dev
folder=${1:-build-bench}
mkdir -p "$folder"
core=$(ls src/base/*.c src/color/*.c src/layout/*.c src/paint/*.c src/effects/*.c src/light/*.c src/chips/*.c src/engine/*.c src/sound/*.c src/control/*.c src/store/*.c src/device/*.c)
sections="-std=c11 -ffunction-sections -fdata-sections -Wl,--gc-sections,--no-warn-rwx-segments -Iinclude -Ibench -Iports/bare"
m0="arm-none-eabi-gcc -mcpu=cortex-m0plus -mthumb"
m4="arm-none-eabi-gcc -mcpu=cortex-m4 -mthumb"
rv="riscv64-unknown-elf-gcc -march=rv32imc -mabi=ilp32 --specs=picolibc.specs"
arm_board="-nostartfiles -T ports/bare/cortex-m.ld ports/bare/cortex-m.c ports/bare/text.c"
rv_board="-nostartfiles -T ports/bare/riscv.ld ports/bare/riscv.c ports/bare/text.c"
quiet="-display none -monitor none -serial stdio"

# 64 ns of the emulator's time an instruction, so that a timer of 25 MHz sees each; RISC-V counts them itself
build_and_run() { # NAME COMPILER BOARD EMULATOR
  # shellcheck disable=SC2086
  $2 -O2 $sections $3 bench/bench.c bench/bare.c $core -o "$folder/$1.elf" -lc -lgcc && $4 "$folder/$1.elf" > "$folder/$1.txt"
  # shellcheck disable=SC2086
  $2 -O2 $sections $3 bench/reading.c bench/bare.c $core src/document/*.c -o "$folder/$1-reading.elf" -lc -lgcc &&
    $4 "$folder/$1-reading.elf" >> "$folder/$1.txt"
  # shellcheck disable=SC2086
  $2 -O2 $sections $3 bench/hearing.c bench/bare.c src/base/*.c src/sound/*.c -o "$folder/$1-hearing.elf" -lc -lgcc &&
    $4 "$folder/$1-hearing.elf" >> "$folder/$1.txt"
}
build_and_run m0plus "$m0" "$arm_board" "qemu-system-arm -M mps2-an385 -icount shift=6 $quiet -semihosting -kernel"
build_and_run m4 "$m4" "$arm_board" "qemu-system-arm -M mps2-an386 -icount shift=6 $quiet -semihosting -kernel"
build_and_run rv32 "$rv" "$rv_board" "qemu-system-riscv32 -M virt -bios none -icount shift=0 $quiet -kernel"

# shellcheck disable=SC2086
gcc -O2 -std=gnu11 -Iinclude -Ibench bench/bench.c bench/desk.c $core -o "$folder/x86"
# shellcheck disable=SC2086
gcc -O2 -std=gnu11 -Iinclude -Ibench bench/reading.c bench/desk.c $core src/document/*.c -o "$folder/reading"
rm -f "$folder"/callgrind.*
valgrind -q --tool=callgrind --callgrind-out-file="$folder/callgrind" "$folder/x86" > "$folder/x86.txt" 2> "$folder/callgrind.log"
valgrind -q --tool=callgrind --callgrind-out-file="$folder/callgrind.reading" "$folder/reading" > /dev/null 2> "$folder/callgrind.log"

# the tiny build
cmake -S . -B "$folder/tool" -G Ninja -DGLANZ_TESTS=OFF > /dev/null && cmake --build "$folder/tool" > "$folder/tool.log"
"$folder/tool/glanz" source demo/tiny.rig.json demo/tiny.show.json --name shelf -o "$folder/shelf.c"
gcc -std=gnu11 -O2 -Iinclude -Itool -Iports/linux -Isrc/document tests/avr/emulate.c tool/files.c tool/log.c ports/linux/line.c ports/linux/wave.c src/*/*.c -o "$folder/emulate" -lsimavr -lelf
sh tests/avr.sh "$folder/tiny.elf" bench/tiny.c ports/bare/avr.c "$folder/shelf.c"
"$folder/emulate" "$folder/tiny.elf" 60000 > "$folder/avr.txt"

# flash, room by room
for target in m0plus m4 rv32; do
  for optimize in -Os -O2; do
    rm -rf "${folder:?}/$target$optimize"
    mkdir -p "$folder/$target$optimize"
    case $target in m0plus) compiler=$m0 ;; m4) compiler=$m4 ;; *) compiler=$rv ;; esac
    for file in $core src/document/*.c; do
      # shellcheck disable=SC2086
      $compiler $optimize -std=c11 -Iinclude -ffunction-sections -fdata-sections -c "$file" \
        -o "$folder/$target$optimize/$(echo "$file" | sed 's#^src/##; s#/#__#').o"
    done
  done
done
: > "$folder/flash.txt"
for target in m0plus-Os m0plus-O2 m4-Os m4-O2 rv32-Os rv32-O2; do
  for object in "$folder/$target"/*.o; do
    case $target in rv32*) size=riscv64-unknown-elf-size ;; *) size=arm-none-eabi-size ;; esac
    echo "$target $(basename "$object" .c.o) $($size "$object" | awk 'NR == 2 { print $1 + $2 }')" >> "$folder/flash.txt"
  done
done
link() { # NAME OPTIMIZE SOURCE
  # shellcheck disable=SC2086
  $m0 $2 $sections $arm_board $3 $core -o "$folder/linked.elf" -lc -lgcc
  echo "linked${2%% *} $1 $(arm-none-eabi-size "$folder/linked.elf" | awk 'NR == 2 { print $1 + $2 }')" >> "$folder/flash.txt"
}
for optimize in -Os -O2; do
  link whole $optimize bench/whole.c
  link least $optimize bench/least.c
  link button $optimize bench/button.c
  link playlist $optimize "-DWITH_PLAYLIST bench/button.c"
  link least-lto "$optimize -flto" bench/least.c
  link button-lto "$optimize -flto" bench/button.c
  link playlist-lto "$optimize -flto" "-DWITH_PLAYLIST bench/button.c"
done
structs() { # CPU NM COMPILER...
  cpu=$1 nm=$2
  shift 2
  for room in ENGINE CONTROL DEVICE; do
    "$@" -DSTRUCTS_$room -Iinclude -c bench/structs.c -o "$folder/structs.o"
    $nm -S -t d "$folder/structs.o" | awk -v cpu="$cpu" '$4 ~ /^size_/ { print cpu, substr($4, 6), $2 + 0 }'
  done
}
# shellcheck disable=SC2086
{
  structs m0plus arm-none-eabi-nm $m0
  structs rv32 riscv64-unknown-elf-nm $rv
  structs avr avr-nm avr-gcc -std=gnu11 -mmcu=atmega328p
  structs x86 nm gcc
} > "$folder/structs.txt"
for part in glides blends colors fields drives; do # what parts take, one by one
  link least+$part -Os "-DALSO=.$part=&glanz_part_$part bench/least.c"
done
for part in hands saving signals gestures sound; do
  link playlist+$part -Os "-DWITH_PLAYLIST -DALSO=.$part=&glanz_part_$part bench/button.c"
done
python3 bench/saving.py "$folder/tool/glanz" "$folder/saving" > "$folder/saving.txt"
python3 bench/table.py "$folder"
