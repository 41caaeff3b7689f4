#!/bin/sh
# The core for microcontrollers: compiled without a warning for every target, with no symbol from outside but those of the
# allow-list, none of its own without the prefix, no floating point, and each header by itself as C11 and C++.
# usage: tests/cross.sh FOLDER [TARGETS]    TARGETS is a folder of tests/targets.sh: what was compiled there is taken
set -eu
cd "$(dirname "$0")/.."
out=$1 targets=${2:-}
failed=0
warnings="-Wall -Wextra -Wconversion -Wshadow -Wundef -Wcast-qual -Wstrict-prototypes -Wmissing-prototypes -Werror"

# What compilers call by themselves, and the memory and text functions of C that every firmware has.
allowed='memcpy|memset|memmove|memcmp|memchr|strlen|strcmp|strncmp|strchr|strcpy|__aeabi_[a-z0-9]*|__[a-z]*(div|mod|mul|ashl|lshr|ashr|clz|ctz|bswap|cmp|neg)[a-z]*[0-9]*|__gnu_thumb1_case_[a-z]*|__udivmodhi4|__tablejump2?__|__mulhisi3|__umulhisi3|__prologue_saves__|__epilogue_restores__|__riscv_(save|restore)_[0-9]*|__(xload|load|mulsi|umulsi|mulsidi|muldi|adddi|subdi|negdi|cmpdi|ashldi|lshrdi|ashrdi|cmpdi2_s|adddi3_s)[a-z0-9_]*|__do_(copy_data|clear_bss)|__atomic_(load|store)_1|_GLOBAL_OFFSET_TABLE_'
floats='__aeabi_([fd][a-z0-9]*|u?[il]2[fd]|ul2[fd]|c[fd][a-z]*)|__[a-z]*[sd]f[a-z]*[0-9]*'

target() { # NAME COMPILER NM FLAGS ROOMS [CORE]: of the folder CORE of the targets, where the same was compiled with more warnings
  name=$1 compiler=$2 nm=$3 flags=$4 rooms=$5 core_there=$targets/${6:-none}
  command -v "$compiler" > /dev/null || { echo "cross: $name: $compiler is missing"; failed=1; return; }
  folder="$out/$(echo "$name" | tr ' +' '__')"
  rm -rf "$folder" && mkdir -p "$folder"
  for room in $rooms; do
    for file in src/$room/*.c; do
      object=$folder/$room-$(basename "$file" .c).o there=$core_there/${file%.c}.o
      [ ! -f "$there" ] || { cp "$there" "$object"; continue; }
      # shellcheck disable=SC2086
      $compiler $flags $warnings -Iinclude -c "$file" -o "$object" || { echo "cross: $name: $file does not compile"; failed=1; }
    done
  done
  $nm "$folder"/*.o | awk '$2 ~ /^[TtDdBbRrVvWwCc]$/ && NF == 3 { print $3 }' | sort -u > "$folder/defined"
  $nm -u "$folder"/*.o | awk '$1 == "U" { print $2 }' | sort -u > "$folder/wanted"
  foreign=$(comm -23 "$folder/wanted" "$folder/defined" | grep -Evx "$allowed" || true)
  floating=$(comm -23 "$folder/wanted" "$folder/defined" | grep -Ex "$floats" || true)
  unnamed=$($nm -g --defined-only "$folder"/*.o | awk 'NF == 3 && $3 !~ /^glanz_/ { print $3 }' | sort -u)
  if [ -n "$unnamed" ]; then
    echo "cross: $name: symbols that do not begin with glanz_:" $unnamed
    failed=1
  fi
  if [ -n "$foreign$floating" ]; then
    echo "cross: $name: symbols from outside:" $foreign $floating
    failed=1
  else
    echo "cross: $name: $(ls "$folder"/*.o | wc -l) objects, no warning, nothing from outside"
  fi
}

# the check itself: a hidden float must be found
mkdir -p "$out/float"
echo 'int hidden(int a); int hidden(int a) { volatile float f = (float)a; return (int)(f * 1.5f) + (f < 2.0f); }' > "$out/float/hidden.c"
arm-none-eabi-gcc -mcpu=cortex-m0plus -mthumb -c "$out/float/hidden.c" -o "$out/float/hidden.o"
count=$(arm-none-eabi-nm -u "$out/float/hidden.o" | awk '{ print $2 }' | grep -cEx "$floats" || true)
[ "$count" = 4 ] || { echo "cross: the search for floats finds $count of 4 in a file that has them"; failed=1; }

core="base color layout paint effects light chips engine sound control store device"
target "Cortex-M0+" arm-none-eabi-gcc arm-none-eabi-nm "-std=c11 -pedantic -mcpu=cortex-m0plus -mthumb -Os" "$core document" core-m0plus-Os
target "Cortex-M4" arm-none-eabi-gcc arm-none-eabi-nm "-std=c11 -pedantic -mcpu=cortex-m4 -mthumb -O2" "$core document" core-m4-O2
target "RV32IMC" riscv64-unknown-elf-gcc riscv64-unknown-elf-nm "-std=c11 -pedantic -march=rv32imc -mabi=ilp32 -Os --specs=picolibc.specs" "$core document" core-rv32imc-Os
target "LX106" xtensa-lx106-elf-gcc xtensa-lx106-elf-nm "-std=c11 -pedantic -Os -mlongcalls -ffreestanding -Itests/freestanding" "$core"
# avr-gcc has named address spaces only in its GNU dialect
target "AVR" avr-gcc avr-nm "-std=gnu11 -mmcu=atmega328p -Os" "$core"
target "AVR, full" avr-gcc avr-nm "-std=gnu11 -mmcu=atmega2560 -Os -DGLANZ_FIELDS=1 -DGLANZ_PARAMS=8 -DGLANZ_SEQUENCES=1 -DGLANZ_CALENDAR=1 -DGLANZ_LONG_TIME=1 -DGLANZ_SAVED_MOST=8" "$core"
target "x86-64 gcc" gcc nm "-std=c11 -pedantic -O2 -fno-stack-protector -U_FORTIFY_SOURCE -ffreestanding" "$core document"
target "x86-64 clang" clang nm "-std=c11 -pedantic -O2 -ffreestanding" "$core document"

if grep -nwE 'float|double' include/glanz/*.h src/*/*.[ch]; then
  echo "cross: floating point in the core"; failed=1
else
  echo "cross: no float, no double in the core"
fi
for header in include/glanz/*.h; do
  name=$(basename "$header")
  printf '#include <glanz/%s>\nextern int one;\n' "$name" > "$out/one.c"
  gcc -std=c11 -pedantic -Wall -Wextra -Werror -Iinclude -c "$out/one.c" -o "$out/one.o" || failed=1
  g++ -x c++ -std=c++11 -Wall -Wextra -Werror -Iinclude -c "$out/one.c" -o "$out/one.o" || failed=1
done
echo "cross: each header by itself, C11 and C++11"
python3 tests/hot.py "$out/Cortex-M0_" || failed=1
exit $failed
