#!/bin/sh
# The long runs, in full: the current limit over 2,000 drawn rigs and shows, and every other law of light, over the seeds that
# are given (else 1 77 5). The tests draw a tenth. Prints counts and worst figures.
# Usage: tests/long.sh [SEED]...
set -eu
cd "$(dirname "$0")/.."
sh scripts/install.sh gcc libc6-dev cmake ninja-build pkg-config check libjsmn-dev libcairo2-dev libpopt-dev libgif-dev
[ $# -gt 0 ] || set -- 1 77 5
cmake -S . -B build-tests/long -G Ninja -DCMAKE_BUILD_TYPE=Release -DGLANZ_STRICT=ON > /dev/null
cmake --build build-tests/long > /dev/null
for seed in "$@"; do
  echo "== seed $seed"
  for suite in limit laws glides; do
    GLANZ_LONG=1 GLANZ_SEED=$seed CK_RUN_SUITE=$suite CK_VERBOSITY=normal CK_DEFAULT_TIMEOUT=0 build-tests/long/tests/glanz_tests
  done
done
