#!/bin/sh
# Linked because it is named: three programs for Cortex-M0+ at -Os, plain and with link-time optimisation, may not grow beyond what
# is written here, nor have a symbol of what they do not name. Lower a number when a program has become smaller; raise one only
# with a reason in the commit. usage: tests/lean.sh FOLDER
set -eu
cd "$(dirname "$0")/.."
folder=$1
mkdir -p "$folder"
core=$(ls src/base/*.c src/color/*.c src/layout/*.c src/paint/*.c src/effects/*.c src/light/*.c src/chips/*.c src/engine/*.c src/sound/*.c src/control/*.c src/store/*.c src/device/*.c)
failed=0

sections="-mcpu=cortex-m0plus -mthumb -Os -std=c11 -ffunction-sections -fdata-sections -Iinclude -Ibench -Iports/bare"
compile() { # NAME OPTIONS: the core, once for three programs
  objects=
  rm -rf "$folder/core-$1"
  mkdir "$folder/core-$1"
  for file in $core; do
    object=$folder/core-$1/$(echo "$file" | tr / -).o
    # shellcheck disable=SC2086
    arm-none-eabi-gcc $sections $2 -c "$file" -o "$object"
    objects="$objects $object"
  done
}

link() { # NAME OPTIONS SOURCE: with the core compiled last
  # shellcheck disable=SC2086
  arm-none-eabi-gcc $sections $2 -Wl,--gc-sections,--no-warn-rwx-segments -nostartfiles -T ports/bare/cortex-m.ld ports/bare/cortex-m.c ports/bare/text.c \
    $3 $objects -o "$folder/$1.elf" -lc -lgcc
}

limit() { # NAME BYTES
  bytes=$(arm-none-eabi-size "$folder/$1.elf" | awk 'NR == 2 { print $1 + $2 }')
  echo "$1: $bytes of $2 bytes"
  [ "$bytes" -le "$2" ] || { echo "$1 has grown"; failed=1; }
}

forbid() { # NAME PATTERN
  found=$(arm-none-eabi-nm "$folder/$1.elf" | grep -E " [tTdDrR] ($2)" || true)
  [ -z "$found" ] || { echo "$1 has what it does not name: $found"; failed=1; }
}

compile plain ""
link strip "" bench/least.c
link button "" bench/button.c
link playlist -DWITH_PLAYLIST bench/button.c
compile lto -flto
link strip-lto -flto bench/least.c
link button-lto -flto bench/button.c
link playlist-lto "-flto -DWITH_PLAYLIST" bench/button.c
limit strip 20500
limit button 29730
limit playlist 36430
limit strip-lto 17150
limit button-lto 27630
limit playlist-lto 34350
everywhere="glanz_(rig|show|look|segments)_check|glanz_region_field|glanz_field_|glanz_piece_|glanz_blend_|glanz_color_light|glanz_zone_|glanz_sun_|glanz_store_|glanz_preset_pack|glanz_running_|glanz_everything|glanz_part_(hands|saving|fields|glides|checks|colors)|memmove|__aeabi_d|__aeabi_f"
forbid strip "$everywhere|glanz_control_|glanz_engine_look|__aeabi_uldivmod|__divsi3|glanz_part_playlists"
forbid button "$everywhere|glanz_part_playlists|glanz_list_"
forbid playlist "$everywhere"
exit $failed
