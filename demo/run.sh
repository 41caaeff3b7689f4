#!/bin/sh
# The demo: installs what is missing, builds, checks the documents, plays the show with a visitor at the button, and leaves
# pictures, the waveform and the current plot in out/.
set -eu
cd "$(dirname "$0")/.."
sh scripts/install.sh gcc libc6-dev cmake ninja-build pkg-config libcairo2-dev zlib1g-dev libpopt-dev libgif-dev libsndfile1-dev libsamplerate0-dev libasound2-dev gnuplot-nox fonts-dejavu-core

echo "== building"
cmake -S . -B build -G Ninja -DGLANZ_TESTS=OFF > /dev/null
cmake --build build > build/log.txt || { tail -n 30 build/log.txt; exit 1; }
glanz=build/glanz
mkdir -p out

echo "== the rig and the show"
$glanz check demo/rig.json demo/show.json

echo "== bring-up: red, green, blue on the wheel"
$glanz prove demo/rig.json --output "wheel line" --colors red,green,blue --pace 100ms

echo "== 20 seconds on the jetty, with a visitor at the button"
$glanz play demo/rig.json demo/show.json --inputs demo/visitor.jsonl --for 20s

echo "== what goes down the wire"
$glanz wire demo/rig.json demo/show.json --inputs demo/visitor.jsonl --from 7s --for 7.05s --vcd out/waveform.vcd --bytes out/bytes.txt --colors out/colors.txt

echo "== current"
$glanz current demo/rig.json demo/show.json --inputs demo/visitor.jsonl --for 20s --plot out/current.png

echo "== signals, and what follows them"
$glanz signals demo/rig.json demo/show.json --inputs demo/visitor.jsonl --for 20s --every 2s --plot out/signals.png

echo "== a bell by the jetty, a tune, and what the lights make of them"
build/demo_sounds out
$glanz hear out/bell.wav --rig demo/rig.json --every 2s --plot out/hear.png
$glanz hear out/fast.wav --rig demo/rig.json | tail -n 1
$glanz play demo/rig.json demo/bell.show.json --sound out/fast.wav --for 16s | grep "trigger\|preset"
$glanz sheet demo/rig.json demo/bell.show.json --sound out/bell.wav --at 2.6s,6.6s -o out/bell.png
$glanz sheet demo/rig.json demo/bell.show.json --sound out/fast.wav --over 16s -o out/tune.png

echo "== what it would take on a microcontroller"
$glanz forecast demo/rig.json demo/show.json --cpu Cortex-M0+ --clock 48MHz

echo "== where the LEDs stand, and how the lines run"
$glanz wiring demo/rig.json --surface "painted anchor" --output out/anchor.png
$glanz wiring demo/rig.json --surface "painted anchor"
$glanz wiring demo/rig.json --surface "tide board" --output out/board.png
$glanz wiring demo/window.rig.json --output out/panels.png

echo "== a picture on the tide board, at once"
$glanz picture demo/waves.gif --rig demo/rig.json --surface "tide board" --for 2500ms --keep out/store > out/waves.txt
head -n 4 out/waves.txt | cut -c 1-90

echo "== a week of the rail, and a year of the museum"
$glanz calendar demo/rig.json demo/show.json --from 2026-07-13 --week --segment rail
$glanz calendar demo/rig.json demo/show.json --from 2026-01-01 --picture out/year.png

echo "== presets kept in flash, the power cut, and what the flash holds"
rm -f out/kept
$glanz play demo/rig.json demo/show.json --inputs demo/evening.jsonl --for 30s --store out/kept | grep -v "jetty rail"
$glanz store out/kept
$glanz store out/kept --unpack out/records
$glanz store out/flash.bin --pack out/records --sectors 4 --sector-bytes 4096 --replace

$glanz sheet demo/rig.json demo/show.json --inputs demo/visitor.jsonl --at 1s,6.1s,7.5s,18.5s -o out/moments.png
$glanz sheet demo/rig.json demo/show.json --inputs demo/visitor.jsonl --over 20s -o out/over-time.png
echo "== a palette of the library for a stylesheet, and cut for a show"
$glanz palette "slipway at dawn" --as css
$glanz palette "slipway at dawn" --cut "30 % to 100 %" --reverse --as json
echo "== an effect of one's own, from its C file"
$glanz list effects lighthouse --effects examples/effects/lighthouse.c
$glanz play --effects examples/effects/lighthouse.c examples/effects/rig.json examples/effects/show.json --for 3s
echo "== a tour, and a show of what was liked"
printf 'nnnnlppl nlq' | $glanz tour demo/rig.json --plain --replace -o out/liked.show.json | tail -n 3
$glanz sheet demo/rig.json out/liked.show.json --gif --over 2s --diffuser "1.5 leds" -o out/liked.gif 2> /dev/null
echo "== every effect, as pages for a browser"
$glanz gallery -o out/gallery 2> /dev/null
echo "== in out/: $(cd out && ls moments.png over-time.png current.png signals.png hear.png bell.png tune.png anchor.png board.png panels.png waveform.vcd bytes.txt colors.txt waves.txt year.png flash.bin | tr '\n' ' ')"
