#!/bin/sh
# Passes all tests: the suites with gcc, the same under sanitizers with clang and under valgrind, the fuzzers' corpus, golden
# frames on every compiler and word size, the core for every target, the waveform read by a logic analyser's decoder, and the
# documents against their schemas, the forecast against the emulators, and every way in.
set -eu
cd "$(dirname "$0")/.."
sh scripts/install.sh gcc g++ libc6-dev lib32gcc-12-dev lib32stdc++-12-dev libstdc++-12-dev dpkg-dev file libc6-dev-i386 clang libclang-rt-14-dev cmake ninja-build pkg-config check libcairo2-dev zlib1g-dev \
  libpopt-dev gnuplot-nox fonts-dejavu-core valgrind sigrok-cli python3 python3-jsonschema gcc-arm-none-eabi libnewlib-arm-none-eabi \
  gcc-riscv64-unknown-elf picolibc-riscv64-unknown-elf gcc-avr avr-libc gcc-xtensa-lx106 \
  qemu-system-arm qemu-system-misc qemu-user gcc-powerpc-linux-gnu libc6-dev-powerpc-cross simavr libsimavr-dev libgif-dev libsndfile1-dev libsamplerate0-dev libasound2-dev libelf-dev \
  tzdata python3-ephem doxygen mandoc zsh fish debootstrap
command -v npm > /dev/null || sh scripts/install.sh nodejs npm
passed=0
failed=0
build=build-tests
mkdir -p $build

tell() { # NAME FILE CODE SECONDS: what a step printed, and how it ended
  echo "== $1"
  if [ "$3" = 0 ]; then
    passed=$((passed + 1))
    tail -n 50 "$2"
  else
    failed=$((failed + 1))
    tail -n 60 "$2"
    echo "== FAILED: $1"
  fi
  echo "   ($4 s)"
}

step() { # NAME COMMAND...: by itself, for it uses both cores
  name=$1
  shift
  begin=$(date +%s) code=0
  "$@" > "$build/step.txt" 2>&1 || code=$?
  tell "$name" "$build/step.txt" $code $(($(date +%s) - begin))
}

work() { # take steps that nobody has taken yet
  while IFS='|' read -r name command; do
    at=$(place_of "$name")
    if mkdir "$at" 2> /dev/null; then
      begin=$(date +%s) code=0
      eval "$command" > "$at/text" 2>&1 < /dev/null || code=$?
      echo "$code $(($(date +%s) - begin))" > "$at/ended" && mv "$at/ended" "$at/end"
    fi
  done < "$build/steps/list"
}

place_of() { # NAME: the folder of a step
  echo "$build/steps/$(echo "$1" | tr -c 'a-z\n' -)"
}

after() { # NAME COMMAND...: waits for a step that stands further up in the list, which must have passed
  file=$(place_of "$1")/end
  shift
  until [ -f "$file" ]; do sleep 1; done
  read -r code _ < "$file"
  [ "$code" = 0 ] || { echo "not run: what it needs has failed"; return 1; }
  "$@"
}

together() { # reads lines NAME|COMMAND: three of them at a time, since many wait for a clock or a disk; the dearest first
  rm -rf "$build/steps" && mkdir "$build/steps"
  cat > "$build/steps/list"
  workers=""
  for _ in 1 2 3; do
    work &
    workers="$workers $!"
  done
  for worker in $workers; do
    wait "$worker" || { failed=$((failed + 1)); echo "== FAILED: a worker ended early"; }
  done
  while IFS='|' read -r name command; do
    at=$(place_of "$name")
    read -r code seconds < "$at/end" || { code=1 seconds=0; }
    tell "$name" "$at/text" "$code" "$seconds"
  done < "$build/steps/list"
}

build_with() { # FOLDER COMPILER OPTIONS...
  folder=$1 compiler=$2
  shift 2
  cmake -S . -B "$build/$folder" -G Ninja -DCMAKE_C_COMPILER="$compiler" -DGLANZ_STRICT=ON "$@" > /dev/null && cmake --build "$build/$folder"
}

run_half() { # FOLDER FILE SUITES...
  folder=$1 file=$2
  shift 2
  code=0
  : > "$file"
  for suite in "$@"; do
    CK_RUN_SUITE=$suite CK_VERBOSITY=normal "$build/$folder/tests/glanz_tests" >> "$file" 2>&1 || code=1
  done
  return $code
}

run_suites() { # FOLDER: all suites, half of them on each core
  export LSAN_OPTIONS="suppressions=$PWD/tests/leaks.txt:print_suppressions=0"
  run_half "$1" "$build/$1.half" store limit laws documents sequence values hearing catalogue own masks text &
  half=$!
  code=0
  run_half "$1" "$build/$1.other" calendar first tool files safe edges glides signals gestures actions particles running fields pictures sound || code=1
  wait $half || code=1
  cat "$build/$1.half" "$build/$1.other" | grep -v ':P:\|^Running suite\|^$'
  for suite in $(sed -n 's/.*srunner_.*(.*\<\([a-z]*\)_suite().*/\1/p' tests/main.c); do # none is forgotten
    grep -q "^ *$suite\$\|Running suite(s): *$suite" "$build/$1.half" "$build/$1.other" || { echo "suite $suite was not run"; code=1; }
  done
  return $code
}

run_valgrind() { # every effect, chip and change; the tool on the demo; every refused document
  valgrind -q --error-exitcode=9 --leak-check=full "$build/targets/desk-golden-gcc-O0" > "$build/valgrind.hashes" &&
    cmp "$build/valgrind.hashes" tests/golden.txt &&
    valgrind -q --error-exitcode=9 --leak-check=full "$build/gcc/glanz" wire demo/rig.json demo/show.json --inputs demo/visitor.jsonl --for 7s &&
    CK_FORK=no CK_RUN_SUITE=documents valgrind -q --error-exitcode=9 "$build/gcc/tests/glanz_tests"
}

run_threads() { # three of them, through a thousand changes of rig, another order each time; and a million edges
  race="clang -g -O1 -fsanitize=thread -std=c11 -D_GNU_SOURCE -Wall -Wextra -Werror -Iinclude"
  rm -rf "$build/race" && mkdir "$build/race" || return 1
  # shellcheck disable=SC2086
  for file in src/base/*.c src/color/*.c src/layout/*.c src/paint/*.c src/effects/*.c src/light/*.c src/chips/*.c src/engine/*.c src/sound/*.c src/control/*.c \
    src/store/*.c src/device/*.c; do
    $race -c "$file" -o "$build/race/$(echo "$file" | tr / -).o" || return 1
  done
  for program in threads edges; do
    $race tests/$program.c "$build"/race/*.o -lpthread -o "$build/$program" || return 1
  done
  timeout 300 "$build/edges" || return 1
  for _ in 1 2 3 4 5; do
    timeout 120 "$build/threads" || return 1
  done
}

run_monkey() { # a tenth of tests/long.sh
  clang -g -O1 -fsanitize=address,undefined -fno-sanitize-recover=undefined -std=c11 -D_GNU_SOURCE -Iinclude -Iports/linux tests/monkey.c \
    "$build/clang/libglanz_document.a" "$build/clang/libglanz_port_linux.a" "$build/clang/libglanz_core.a" -o "$build/monkey" || return 1
  "$build/monkey" 100000 1 && "$build/monkey" 100000 2
}

run_corpus() { # with the libraries that were built with sanitizers above
  libraries="$build/clang/libglanz_session.a $build/clang/libglanz_document.a $build/clang/libglanz_port_linux.a $build/clang/libglanz_core.a"
  for target in rig show patch log record store font import writing; do
    # shellcheck disable=SC2046,SC2086
    clang -g -O1 -Werror -fsanitize=address,undefined -fno-sanitize-recover=undefined -std=c11 -D_GNU_SOURCE -Iinclude -Itool -Isrc/document -Ifuzz -Iports/linux \
      fuzz/$target.c fuzz/replay.c $libraries $(pkg-config --libs cairo) -lgif -lm -o "$build/replay-$target" || return 1
    echo "$target:"
    "$build/replay-$target" fuzz/corpus/$target || return 1
  done
}

run_examples() {
  "$build/gcc/demo_sounds" "$build" || return 1
  for example in 01-first-light 02-own-effect 07-two-dials "08-microphone $build/fast.wav"; do
    timeout 60 "$build/gcc/"$example > "$build/example.txt" || return 1
    echo "$example: $(wc -c < "$build/example.txt") bytes of light, $(grep -o '48;2;[0-9;]*m' "$build/example.txt" | sort -u | wc -l) colours"
    test "$(grep -o '48;2;[0-9;]*m' "$build/example.txt" | sort -u | wc -l)" -gt 50 || return 1
  done
  rm -f "$build/shed"
  printf '\n\np\n' | "$build/gcc/06-keep-and-resume" "$build/shed" > "$build/example.txt" && printf '\n' | "$build/gcc/06-keep-and-resume" "$build/shed" >> "$build/example.txt" || return 1
  grep -A 1 "after power-on.* of the playlist" "$build/example.txt" || return 1
  "$build/gcc/05-find-the-wiring" | grep -x "found: from the bottom right, along columns, zigzag"
}

run_tutorial() { # with what is installed, and nothing of this folder
  rm -rf "$build/installed" && cmake --install "$build/gcc" --prefix "$build/installed" > /dev/null &&
    /usr/bin/python3 tests/tutorial.py "$build/installed" "$build/tutorial"
}

run_demo() {
  sh demo/run.sh && for file in moments.png over-time.png current.png signals.png hear.png bell.png tune.png anchor.png board.png waveform.vcd bytes.txt colors.txt waves.txt year.png flash.bin; do test -s "out/$file" || return 1; done
}

step "build with gcc, no warning" build_with gcc gcc -DGLANZ_SHARED=ON
step "build with clang and sanitizers, no warning" build_with clang clang -DGLANZ_SANITIZE=address,undefined
together << END
the same bytes on every CPU|sh tests/targets.sh $build/gcc/glanz $build/targets
suites, address and undefined-behaviour sanitizers|run_suites clang
suites, gcc|run_suites gcc
nothing is linked that is not named|sh tests/lean.sh $build/lean
ways in: packages, sources, firmware build systems|sh tests/ways_in.sh $build/ways-in $build/gcc/glanz
the package, in a bare Debian|sh tests/bare_debian.sh $build/gcc $build/bare
the RP2040's board, in an emulator|sh tests/boards/rp2040.sh $build/gcc/glanz $build/rp2040
the STM32F405's board, in an emulator|sh tests/boards/stm32f405.sh $build/gcc/glanz $build/stm32f405
threads, under a thread sanitizer|run_threads
every option by itself, and a tenth of every two together|/usr/bin/python3 tests/options.py
suites, valgrind|after "the same bytes on every CPU" run_valgrind
the core for microcontrollers|after "the same bytes on every CPU" sh tests/cross.sh $build/cross $build/targets
the forecast, against the emulators|after "the same bytes on every CPU" sh tests/forecast.sh $build/gcc/glanz $build/targets
the tutorial, word for word|run_tutorial
the site, man pages, completions|sh tests/manual.sh $build/gcc/glanz $build/manual
the demo|run_demo
the waveform, read by a logic analyser's decoder|/usr/bin/python3 tests/waveform.py $build/gcc/glanz
examples|run_examples
the documents against their schemas|/usr/bin/python3 tests/schemas.py $build/gcc/glanz
reading takes time in proportion to the text|/usr/bin/python3 tests/reading.py $build/gcc/glanz $build/reading
one more key, action and effect are a row each|/usr/bin/python3 tests/one_row.py $build/one-row
sunrise and sunset, against an astronomer's library|/usr/bin/python3 tests/sun.py $build/gcc/glanz $build/sun
the fuzzers' corpus, under sanitizers|run_corpus
a monkey at the public calls, under sanitizers|run_monkey
no room uses one below it, no files each other|/usr/bin/python3 tests/structure.py $build/gcc
END
echo "$passed passed, $failed failed"
[ $failed = 0 ]
