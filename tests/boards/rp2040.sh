#!/bin/sh
# The RP2040's board in an emulator: the museum, eight one-wire and two clocked lines at once, power cuts. What the pins do is read
# by simulated LED chips and compared with the desk, byte by byte.
# usage: tests/boards/rp2040.sh GLANZ FOLDER [CUTS]
set -eu
cd "$(dirname "$0")/../.."
glanz=$1 folder=$2 cuts=${3:-12}
rm -rf "$folder"
mkdir -p "$folder"
folder=$(cd "$folder" && pwd)
libraries="$(dirname "$glanz")/libglanz_port_linux.a $(dirname "$glanz")/libglanz_core.a"
command -v npm > /dev/null || sh scripts/install.sh nodejs npm
(cd "$folder" && echo '{ "private": true }' > package.json && npm install --no-audit --no-fund rp2040js@1.4.1 > npm.txt 2>&1) || { tail -n 5 "$folder/npm.txt"; exit 1; }

emulate() { # PROGRAM OPTIONS...
  program=$1
  shift
  (cd "$folder" && node "$OLDPWD/tests/boards/emulate.mjs" "$program" "$@")
}

play() { # NAME RIG SHOW FRAMES FRAME_US OPTIONS...: on the board and on the desk
  name=$1 rig=$2 show=$3 frames=$4 frame_us=$5
  shift 5
  mkdir "$folder/$name"
  "$glanz" source "$rig" "$show" --name museum -o "$folder/$name/museum.c" --header "$folder/$name/museum.h"
  PROGRAM_OPTIONS="-DFRAME_US=${frame_us}u -DFRAMES=${frames}u" sh ports/rp2040/build.sh "$folder/$name/board" ports/rp2040/museum.c "$folder/$name/museum.c"
  # shellcheck disable=SC2086
  gcc -std=c11 -O1 -Wall -Wextra -Werror -D_GNU_SOURCE -Iinclude -Iports/linux -I"$folder/$name" tests/boards/twin.c "$folder/$name/museum.c" $libraries -o "$folder/$name/twin"
  emulate "$folder/$name/board.uf2" $((1025 + frames * frame_us / 1000)) --pins "$folder/$name/pins" "$@" > "$folder/$name/said"
  grep -v '^pushed' "$folder/$name/said"
  echo "$(grep -c '^pushed' "$folder/$name/said") edges and readings came in"
  "$folder/$name/twin" "$folder/$name/said" "$folder/$name/pins" "$frames" 1000000 "$frame_us"
  ! grep 'emulator:.*[Rr]ead\|emulator:.*[Ww]rite\|hard fault' "$folder/$name/said" || exit 1
}

echo "== the museum: a button, a dial, a microphone"
play museum demo/rig.json demo/show.json 150 13334 --press 4@1512:300 --level 27@0=1000 --level 27@1700=3000 --sound 28
grep -q '^pushed 0 0' "$folder/museum/said" && grep -q '^pushed 3 48000' "$folder/museum/said" || { echo "the button or the dial was not heard"; exit 1; }

echo "== eight one-wire lines and two clocked ones, an encoder"
play lines tests/boards/lines.rig.json tests/boards/lines.show.json 60 10000 --press 12@1100:20 --press 14@1110:20 --press 20@1300:50
[ "$(grep -c '^pushed 0' "$folder/lines/said")" -gt 3 ] || { echo "the encoder was not heard"; exit 1; }

echo "== frames over a serial line, without an engine"
mkdir "$folder/serial"
cp "$folder/lines/museum.h" "$folder/serial"
sh ports/rp2040/build.sh "$folder/serial/board" ports/rp2040/lines_by_serial.c "$folder/lines/museum.c"
"$folder/lines/twin" --make-serial "$folder/serial/bytes" 12
emulate "$folder/serial/board.uf2" 400 --uart "$folder/serial/bytes" --pins "$folder/serial/pins"
"$folder/lines/twin" "$folder/serial/bytes" "$folder/serial/pins" serial 0 0

echo "== power cuts"
mkdir "$folder/keep"
sh ports/rp2040/build.sh "$folder/keep/board" tests/boards/keep.c
found=0 confirmed=0 done=0
while [ $done -lt "$cuts" ]; do
  done=$((done + 1))
  emulate "$folder/keep/board.uf2" 4000 --flash "$folder/keep/flash" --cut $((done * 137 % 400 + 1)) > "$folder/keep/said"
  found=$(sed -n 's/^found 0*\([0-9]\)/\1/p' "$folder/keep/said")
  ! grep '^damaged\|^a mix\|could not be saved' "$folder/keep/said" || exit 1
  # the one that was being written may be there as well
  [ "$found" -ge $confirmed ] && [ "$found" -le $((confirmed + 1)) ] || { echo "cut $done: found $found, confirmed before: $confirmed"; cat "$folder/keep/said"; exit 1; }
  last=$(sed -n 's/^confirmed 0*\([0-9]\)/\1/p' "$folder/keep/said" | tail -n 1)
  confirmed=${last:-$found}
done
grep 'expected one of 2 to 22' "$folder/keep/said"
echo "$done power cuts: never less than what was confirmed, $confirmed records"
