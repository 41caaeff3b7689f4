#!/bin/sh
# Builds a program for the STM32F405: usage: ports/stm32f405/build.sh OUT SOURCE.c...   makes OUT.elf and OUT.bin
# OUT's folder is on the include path; PROGRAM_OPTIONS are options for the compiler, such as -DGLANZ_STM32F405_CRYSTAL_MHZ=25.
set -eu
root=$(cd "$(dirname "$0")/../.." && pwd)
out=$1
shift
# shellcheck disable=SC2046,SC2086
arm-none-eabi-gcc -std=c11 -mcpu=cortex-m4 -mthumb -O2 -flto=auto -Wall -Wextra -Werror -ffunction-sections -fdata-sections ${PROGRAM_OPTIONS:-} \
  -I"$root/include" -I"$root/ports/stm32f405" -I"$(dirname "$out")" $(find "$root/src" -name '*.c' ! -path '*/document/*') \
  "$root/ports/stm32f405/board.c" "$@" -nostartfiles --specs=nano.specs -T "$root/ports/stm32f405/stm32f405.ld" -Wl,--gc-sections -o "$out.elf"
arm-none-eabi-objcopy -O binary --gap-fill 0 "$out.elf" "$out.bin"
arm-none-eabi-size "$out.elf" | awk 'NR == 2 { print "flash " $1 + $2 " bytes, RAM " $2 + $3 " bytes without the stack" }'
