#!/bin/sh
# The forecast against the emulators: what the tool says a frame takes, and what it took, within 12 %. What some
# effects, playlists and what follows signals take depends on what they show at the moment, and the tool says so: there a forecast may be up to twice what it took (two and a half times with an effect of one's own, which counts as the middle one of the catalogue), or some 40 % too low (a needle that lies over the seam of a ring lights LEDs in two runs). Runs after tests/targets.sh, whose scenarios and compiled core it takes. usage: tests/forecast.sh GLANZ TARGETS_FOLDER
set -eu
cd "$(dirname "$0")/.."
glanz=$1 folder=$2
own=examples/effects/lighthouse.c # of the scenario by that name
cc -std=c11 -O1 -fPIC -shared -DGLANZ_SHARED -DGLANZ_DESCRIPTIONS=1 -Iinclude $own -o "$folder/own.so"
arm_board="-nostartfiles -T ports/bare/cortex-m.ld ports/bare/cortex-m.c ports/bare/text.c"
rv_board="-nostartfiles -T ports/bare/riscv.ld ports/bare/riscv.c ports/bare/text.c"
quiet="-display none -monitor none -serial stdio"
wrong=0
on() { # CPU COMPILER BOARD EMULATOR OBJECTS
  # shellcheck disable=SC2086
  $2 -O2 -std=c11 -ffunction-sections -fdata-sections -Wl,--gc-sections,--no-warn-rwx-segments -Iinclude -Itests/replay -Iports/bare $3 "$folder/core-$5"/src/*/*.o \
    bench/forecast.c $own "$folder/golden.c" -o "$folder/forecast.elf" -lc -lgcc
  timeout 300 $4 "$folder/forecast.elf" > "$folder/forecast.txt"
  while read -r name measured shaded again; do
    with=$([ "$name" = own ] && echo "--effects $folder/own.so" || true)
    # shellcheck disable=SC2086
    said=$("$glanz" forecast $with "$folder/documents/$name.rig.json" "$folder/documents/$name.show.json" --cpu "$1" --instructions < /dev/null 2> "$folder/forecast.err")
    echo "$name $measured $shaded $again $said"
  done < "$folder/forecast.txt" | awk -v cpu="$1" '
    $4 > 0 || $3 < 100 { skipped++; next }                      # held back by a limit, or not shaded in every frame
    { off = 100 * ($5 - $2) / $2; size = off < 0 ? -off : off; sum += size; count++
      if ($1 ~ /_(needle|fire|rain|ripples|clouds|fireworks|fountain|marbles|tidemark|text|picture|marked|beam|glints|rope|snowfall|stars|waves|surf|wake|weed|fogbank|shoal|lanterns|sea_sparkle|clock_face|sea_mark)$|^lies$|^demo$|^signals$|^gestures$|^sequence_|^change_|^runs$|^own$|^masks$|^texts$|^windows$/) {
        loose++; sum -= size
        if (off < -40 || off > ($1 == "own" ? 150 : 100)) { printf "  %s on %s: %d measured, %d forecast, off by %.1f %%\n", $1, cpu, $2, $5, off; bad = 1 }
        next }
      if (size > most) { most = size; worst = $1 }
      if (size > 12) { printf "  %s on %s: %d measured, %d forecast, off by %.1f %%\n", $1, cpu, $2, $5, off; bad = 1 } }
    END { count -= loose
      printf "%s: %d shows, forecast off by %.1f %% on average, %.1f %% at most (%s); %d more by what they show; %d left out\n", cpu, count, sum / count, most, worst, loose, skipped
      exit bad || count < 16 }' || wrong=1
}
on Cortex-M0+ "arm-none-eabi-gcc -mcpu=cortex-m0plus -mthumb" "$arm_board" "qemu-system-arm -M mps2-an385 -icount shift=6 $quiet -semihosting -kernel" m0plus-O2
on Cortex-M4 "arm-none-eabi-gcc -mcpu=cortex-m4 -mthumb" "$arm_board" "qemu-system-arm -M mps2-an386 -icount shift=6 $quiet -semihosting -kernel" m4-O2
on RV32IMC "riscv64-unknown-elf-gcc -march=rv32imc -mabi=ilp32 --specs=picolibc.specs" "$rv_board" "qemu-system-riscv32 -M virt -bios none -icount shift=0 $quiet -kernel" rv32imc-O2
exit $wrong
