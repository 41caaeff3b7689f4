#!/bin/sh
# Builds a program for the ATmega328P. usage: tests/avr.sh OUT.elf SOURCE.c... (the core is added)
set -eu
cd "$(dirname "$0")/.."
out=$1
shift
# the last options keep avr-gcc 5 from spreading 32-bit arithmetic over more code than it saves
avr-gcc -mmcu=atmega328p -DF_CPU=16000000UL -std=gnu11 -Os -flto -mcall-prologues -mstrict-X -Wall -Wextra -Werror -ffunction-sections -fdata-sections \
  -finline-limit=8 -fno-tree-loop-optimize -fno-tree-pre -fno-gcse -fno-tree-ccp -fno-forward-propagate -fno-tree-copy-prop -fno-move-loop-invariants -fno-tree-reassoc -fno-reorder-blocks -fno-jump-tables -fira-algorithm=priority -Wl,--gc-sections,--relax ${AVR_OPTIONS:-} \
  -Iinclude -Iports/avr -Iports/bare -Itests/replay ports/avr/lines.c src/base/*.c src/color/*.c src/layout/*.c src/paint/*.c src/effects/*.c src/light/*.c src/chips/*.c src/engine/*.c \
  src/control/*.c src/store/*.c src/device/*.c "$@" -o "$out"
