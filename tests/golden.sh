#!/bin/sh
# Golden frames: built with each compiler, optimisation and word size at hand, every build must print the same.
# usage: tests/golden.sh FOLDER [--write]
set -eu
cd "$(dirname "$0")/.."
out=$1
mkdir -p "$out"
failed=0
for word in 64 32; do
  for compiler in gcc clang; do
    for level in O0 O2; do
      name="$compiler -$level $word bit"
      rm -f "$out/golden" "$out/golden.txt"
      $compiler -std=c11 -$level -m$word -Iinclude -Itests src/*/*.c tests/golden.c tests/stage.c -o "$out/golden" &&
        "$out/golden" > "$out/golden.txt" || { echo "golden frames: $name: does not build or run"; failed=1; continue; }
      if [ "${2:-}" = --write ]; then cp "$out/golden.txt" tests/golden.txt; echo "written"; exit 0; fi
      if cmp -s "$out/golden.txt" tests/golden.txt; then
        echo "golden frames: $name: equal"
      else
        echo "golden frames: $name: DIFFERENT"
        diff "$out/golden.txt" tests/golden.txt | head -5
        failed=1
      fi
    done
  done
done
exit $failed
