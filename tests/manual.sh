#!/bin/sh
# The site (warnings are errors, links are followed), man pages, completions, and every option of every command told in all of them.
# usage: tests/manual.sh GLANZ FOLDER
set -eu
cd "$(dirname "$0")/.."
glanz=$1 folder=$2
rm -rf "$folder"
mkdir -p "$folder"
sh docs/site.sh "$folder/site"
"$glanz" manual --man "$folder/man"
mandoc -T lint -W warning "$folder"/man/*.1 > "$folder/lint" 2>&1 || true
if grep -v 'missing date\|mandoc: .*STYLE' "$folder/lint"; then echo "man pages are wrong"; exit 1; fi
for shell in bash zsh fish; do
  "$glanz" manual --completion $shell > "$folder/completion.$shell"
  $shell -n "$folder/completion.$shell"
done
words() { # WORD...: what bash would offer for the last of them
  bash -c 'source "$0"; COMP_WORDS=("$@"); COMP_CWORD=$(($# - 1)); _glanz; echo "${COMPREPLY[*]}"' "$folder/completion.bash" "$@"
}
[ "$(words glanz calend)" = calendar ] && [ "$(words glanz sheet --gi)" = --gif ] || { echo "bash completes: $(words glanz calend), $(words glanz sheet --gi)"; exit 1; }
options=0
for command in $("$glanz" --help | sed -n 's/^  \([a-z]*\)  .*/\1/p'); do
  for option in $("$glanz" "$command" --help | grep -o '^ *-*[a-zA-Z]*,* *--[a-z-]*' | grep -o -- '--[a-z-]*'); do
    options=$((options + 1))
    sed 's/\\-/-/g' "$folder/man/glanz-$command.1" | grep -q -- "$option" && words glanz "$command" "$option" | grep -q -- "$option" &&
      grep -q -- "'$option" "$folder/completion.zsh" && grep -q -- "-l ${option#--}" "$folder/completion.fish" ||
      { echo "$command: $option is missing in the manual or a completion"; exit 1; }
  done
done
[ "$options" -gt 150 ] || { echo "$options options were found"; exit 1; }
for facts in "check demo/rig.json demo/show.json" "check tests/full.rig.json tests/full.show.json" "current demo/rig.json" "current demo/rig.json demo/show.json --for 200ms" \
  "forecast demo/rig.json demo/show.json" "list effects" "list palettes" "list chips" "calendar demo/rig.json demo/show.json --from 2026-07-13" \
  "wiring tests/full.rig.json" "signals tests/full.rig.json tests/full.show.json --for 1s"; do
  # shellcheck disable=SC2086
  "$glanz" $facts --json | /usr/bin/python3 -m json.tool > "$folder/facts" || { echo "$facts --json is no JSON"; exit 1; }
done
/usr/bin/python3 tests/facts.py "$glanz"
echo "manual: $(find "$folder/man" -name '*.1' | wc -l) man pages, $options options, three completions"
