#!/bin/sh
# Builds a program for the RP2040: usage: ports/rp2040/build.sh OUT SOURCE.c...   makes OUT.elf, OUT.bin and OUT.uf2
# OUT's folder is on the include path; PROGRAM_OPTIONS are options for the compiler, such as -DGLANZ_FADES=2.
set -eu
root=$(cd "$(dirname "$0")/../.." && pwd)
out=$1
shift
# shellcheck disable=SC2046,SC2086
arm-none-eabi-gcc -std=c11 -mcpu=cortex-m0plus -mthumb -O2 -flto=auto -Wall -Wextra -Werror -ffunction-sections -fdata-sections ${PROGRAM_OPTIONS:-} \
  -I"$root/include" -I"$root/ports/rp2040" -I"$(dirname "$out")" $(find "$root/src" -name '*.c' ! -path '*/document/*') \
  "$root/ports/rp2040/boot2.S" "$root"/ports/rp2040/start.c "$root"/ports/rp2040/lines.c "$root"/ports/rp2040/inputs.c "$root"/ports/rp2040/flash.c "$@" \
  -nostartfiles --specs=nano.specs -T "$root/ports/rp2040/rp2040.ld" -Wl,--gc-sections -o "$out.elf"
arm-none-eabi-objcopy -O binary --gap-fill 0 "$out.elf" "$out.bin"
python3 "$root/ports/rp2040/uf2.py" "$out.bin" "$out.uf2"
arm-none-eabi-size "$out.elf" | awk 'NR == 2 { print "flash " $1 + $2 " bytes, RAM " $2 + $3 " bytes without the stack" }'
