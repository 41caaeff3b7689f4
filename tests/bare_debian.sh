#!/bin/sh
# The Debian package in a bare Debian 12: made here, installed there with what it depends on, and used: the README's program by pkg-config, by
# CMake static and shared, the tool, its manual. Needs root, and some minutes. usage: tests/bare_debian.sh BUILD FOLDER
set -eu
cd "$(dirname "$0")/.."
build=$(cd "$1" && pwd)
folder=$2
sh scripts/install.sh debootstrap
if [ "$(id -u)" != 0 ] || ! chroot / true; then
  echo "not run: no right to change the root here"
  exit 0
fi
rm -rf "$folder"
mkdir -p "$folder/packages"
folder=$(cd "$folder" && pwd)
(cd "$build" && cpack -G DEB -B "$folder/packages" > "$folder/cpack.txt")
mirror=$(apt-get indextargets --format '$(REPO_URI)' "Created-By: Packages" 2> /dev/null | grep -v security | head -n 1)
debootstrap --variant=minbase --include=gcc,g++,libc6-dev,cmake,make,pkg-config,ca-certificates bookworm "$folder/root" "$mirror" > "$folder/debootstrap.txt" 2>&1 || {
  tail -n 3 "$folder/debootstrap.txt"
  echo "not run: no bare Debian could be had from a mirror"
  exit 0
}
for source in /etc/apt/sources.list /etc/apt/sources.list.d /etc/apt/apt.conf.d /etc/resolv.conf; do
  [ ! -e $source ] || cp -r $source "$(dirname "$folder/root$source")/"
done
cp "$folder"/packages/*.deb "$folder/root/tmp/glanz.deb"
cp -r tests/consumer examples/01-first-light.c "$folder/root/tmp/"
cat > "$folder/root/tmp/use.sh" << 'END'
set -eu
export DEBIAN_FRONTEND=noninteractive
apt-get update > /dev/null
apt-get install -y --no-install-recommends /tmp/glanz.deb > /tmp/apt.txt 2>&1 || { tail -n 5 /tmp/apt.txt; exit 1; }
cd /tmp
shows() { timeout 1 "$1" > light || [ $? = 124 ]; [ "$(tr '\r' '\n' < light | grep -c '48;2;')" -gt 20 ] && echo "$2: light"; }
gcc -std=c11 -Wall -Wextra -Wconversion -Wpedantic -Werror 01-first-light.c -o one $(pkg-config --cflags --libs glanz-port-linux)
shows ./one "C11, pkg-config"
for kind in static shared; do
  cmake -S consumer -B $kind -DGLANZ_FIRST=/tmp/01-first-light.c -DGLANZ_KIND=$kind > /dev/null
  cmake --build $kind > /dev/null
  shows $kind/first-c17 "C17, CMake, $kind"
  shows $kind/first-cpp17 "C++17, CMake, $kind"
done
glanz --version
glanz list chips | head -n 1
zcat -f /usr/share/man/man1/glanz.1* | grep -c 'TP'
apt-get remove -y glanz > /dev/null 2>&1
[ -z "$(find / -xdev -path /proc -prune -o -name '*glanz*' ! -path '/tmp/*' ! -path '/var/*' -print)" ] && echo "removed: nothing left"
END
chroot "$folder/root" sh /tmp/use.sh
