#!/bin/sh
# The long runs, in full: every two options together, 2,000 drawn rigs and shows for each law of light, a million power cuts of
# the store, 120 of an emulated chip, and three million in lives of it, a million calls of a monkey, ten hours of sound in 25 ways of listening, and each
# fuzzer for GLANZ_FUZZ_S seconds, or a minute. The tests do a tenth, and the fuzzers' corpus.
# usage: tests/long.sh [SEED]...    1 77 5, if none is given
set -eu
cd "$(dirname "$0")/.."
sh scripts/install.sh gcc libc6-dev clang libclang-rt-14-dev cmake ninja-build pkg-config check libcairo2-dev zlib1g-dev libpopt-dev libgif-dev libsndfile1-dev libsamplerate0-dev libasound2-dev
/usr/bin/python3 tests/options.py --all
[ $# -gt 0 ] || set -- 1 77 5
build=build-tests/long
built() { # FOLDER ARGUMENTS...: what the compiler says where it fails
  cmake --build "$@" > "$1.log" || { cat "$1.log"; exit 1; }
}
cmake -S . -B $build -G Ninja -DCMAKE_BUILD_TYPE=Release -DGLANZ_STRICT=ON > /dev/null
built $build
echo "== forty seeds of each kind of music, ten hours of full-scale noise at each rate"
GLANZ_LONG=1 CK_RUN_SUITE=sound CK_VERBOSITY=normal CK_DEFAULT_TIMEOUT=0 $build/tests/glanz_tests
echo "== 120 power cuts of an RP2040 in an emulator"
sh tests/boards/rp2040.sh $build/glanz $build-rp2040 120
for seed in "$@"; do
  echo "== seed $seed"
  for suite in laws limit store; do
    GLANZ_LONG=1 GLANZ_SEED=$seed CK_RUN_SUITE=$suite CK_VERBOSITY=normal CK_DEFAULT_TIMEOUT=0 CK_TIMEOUT_MULTIPLIER=10 $build/tests/glanz_tests
  done
done
cmake -S . -B $build-fuzz -G Ninja -DCMAKE_C_COMPILER=clang -DGLANZ_TESTS=OFF -DCMAKE_C_FLAGS="-g -O1 -fsanitize=fuzzer-no-link,address,undefined \
  -fno-sanitize-recover=undefined" > /dev/null
built $build-fuzz --target glanz_session
clang -g -O1 -fsanitize=address,undefined -fno-sanitize-recover=undefined -std=c11 -D_GNU_SOURCE -Iinclude -Iports/linux tests/monkey.c \
  $build-fuzz/libglanz_document.a $build-fuzz/libglanz_port_linux.a $build-fuzz/libglanz_core.a -o $build/monkey
for seed in "$@"; do
  echo "== a monkey, seed $seed"
  $build/monkey 1000000 "$seed"
done
libraries="$build-fuzz/libglanz_session.a $build-fuzz/libglanz_document.a $build-fuzz/libglanz_port_linux.a $build-fuzz/libglanz_core.a"
for target in rig show patch log record store font import writing; do
  echo "== fuzzer: $target"
  mkdir -p $build/corpus-$target
  # shellcheck disable=SC2046,SC2086
  clang -g -O1 -fsanitize=fuzzer,address,undefined -fno-sanitize-recover=undefined -std=c11 -D_GNU_SOURCE -Iinclude -Itool -Isrc/document -Ifuzz \
    -Iports/linux fuzz/$target.c $libraries $(pkg-config --libs cairo) -lgif -lm -o $build/fuzz-$target
  $build/fuzz-$target -max_total_time="${GLANZ_FUZZ_S:-60}" -verbosity=0 -print_final_stats=1 $build/corpus-$target fuzz/corpus/$target
done
