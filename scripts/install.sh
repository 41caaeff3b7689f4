#!/bin/sh
# Installs the Debian packages named that are not there yet. Needs root, or sudo.
# usage: scripts/install.sh PACKAGE...
set -eu
missing=""
for package in "$@"; do
  dpkg-query -W -f '${Status}' "$package" 2> /dev/null | grep -q 'install ok installed' || missing="$missing $package"
done
[ -n "$missing" ] || exit 0
echo "installing:$missing"
as_root=""
if [ "$(id -u)" != 0 ]; then
  command -v sudo > /dev/null || { echo "these packages are missing and there is neither root nor sudo to install them:$missing" >&2; exit 1; }
  as_root="sudo"
fi
log=$(mktemp)
# shellcheck disable=SC2086
if ! { $as_root apt-get update && DEBIAN_FRONTEND=noninteractive $as_root apt-get install -y --no-install-recommends $missing; } > "$log" 2>&1; then
  tail -n 20 "$log" >&2
  exit 1
fi
rm -f "$log"
