#!/bin/sh
# The STM32F405's board in an emulator: the museum's show, its four lines by four USARTs. What the USARTs send is drawn as the
# waveform that it is, read by simulated LED chips, and compared with the desk. The emulator has neither DMA nor a clock tree: lines
# are fed by a loop here; the DMA's code is compiled, not run.
# usage: tests/boards/stm32f405.sh GLANZ FOLDER
set -eu
cd "$(dirname "$0")/../.."
glanz=$1 folder=$2
rm -rf "$folder"
mkdir -p "$folder"
libraries="$(dirname "$glanz")/libglanz_port_linux.a $(dirname "$glanz")/libglanz_core.a"
python3 - demo/rig.json > "$folder/rig.json" << 'END'
import re, sys
text = open(sys.argv[1]).read()
for pin, usart in ((16, 9), (17, 2), (18, 26), (19, 38)):
    text = text.replace(f'"pin": {pin},', f'"pin": {usart},', 1)
print(re.sub(r'"bell microphone".*\n', '"bell microphone": { "value": { "pin": 28 } }\n', text))
END
"$glanz" source "$folder/rig.json" demo/show.json --name museum -o "$folder/museum.c" --header "$folder/museum.h"
sh ports/stm32f405/build.sh "$folder/for-dma" ports/stm32f405/museum.c "$folder/museum.c"
PROGRAM_OPTIONS="-DGLANZ_STM32F405_BY_LOOP -DFRAMES=80u" sh ports/stm32f405/build.sh "$folder/by-loop" ports/stm32f405/museum.c "$folder/museum.c" > /dev/null
# shellcheck disable=SC2086
gcc -std=c11 -O1 -Wall -Wextra -Werror -D_GNU_SOURCE -Iinclude -Iports/linux -I"$folder" tests/boards/twin.c "$folder/museum.c" $libraries -o "$folder/twin"
serial=""
for i in 0 1 2 3 4 5; do
  serial="$serial -chardev file,id=s$i,path=$folder/usart$i -serial chardev:s$i"
done
# shellcheck disable=SC2086
timeout 120 qemu-system-arm -M netduinoplus2 -display none -monitor none -icount shift=3 -semihosting-config enable=on,target=native \
  -kernel "$folder/by-loop.elf" $serial
"$folder/twin" /dev/null none 80 100000 25000 84:"$folder/usart0" 42:"$folder/usart1" 42:"$folder/usart2" 84:"$folder/usart5"
