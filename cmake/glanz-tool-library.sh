#!/bin/sh
# Several static libraries of the tool as one, in which all names but glanz_tool_main are hidden, so that they meet no program's own.
# usage: glanz-tool-library.sh OUT.a LD OBJCOPY AR LIBRARY.a...
set -eu
out=$1 ld=$2 objcopy=$3 ar=$4
shift 4
$ld -r -o "$out.o" --whole-archive "$@" --no-whole-archive
$objcopy --keep-global-symbol=glanz_tool_main "$out.o"
rm -f "$out"
$ar rcs "$out" "$out.o"
rm -f "$out.o"
