#!/bin/sh
# The site: every public symbol, the documents' keys, the tutorial and the other pages, as HTML in out/site (or FOLDER). Warnings
# are errors; links are checked. usage: docs/site.sh [FOLDER]
set -eu
cd "$(dirname "$0")/.."
sh scripts/install.sh doxygen python3
to=${1:-out/site}
mkdir -p "$to"
sed "s|^OUTPUT_DIRECTORY = .*|OUTPUT_DIRECTORY = $to|" docs/Doxyfile > "$to/Doxyfile"
doxygen "$to/Doxyfile" > "$to/warnings" 2>&1 || true
if grep 'warning:\|error:' "$to/warnings"; then exit 1; fi
python3 docs/links.py "$to"
