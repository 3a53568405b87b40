#!/bin/sh
# The journeys drive Debian's Chromium; line breaks are checked against Debian's unicode-data. Installs it where that is possible, else says what to run.
[ -x /usr/bin/chromium ] && [ -f /usr/share/unicode/auxiliary/LineBreakTest.txt ] && exit 0
packages="chromium unicode-data"
if [ "$(id -u)" = 0 ]; then
  apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq $packages && exit 0
fi
echo "Chromium or unicode-data is missing and cannot be installed from here. Run: sudo apt-get install -y $packages" >&2
exit 1
