#!/bin/sh
# The journeys drive Debian's Chromium. Installs it where that is possible, else says what to run.
[ -x /usr/bin/chromium ] && exit 0
packages="chromium fonts-liberation"
if [ "$(id -u)" = 0 ]; then
  apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq $packages && exit 0
fi
echo "Chromium is missing and cannot be installed from here. Run: sudo apt-get install -y $packages" >&2
exit 1
