#!/bin/sh
# What the checks need of Debian: Chromium and Firefox for the journeys, unicode-data for line breaks, Pango for weasyprint.
# Installs it where that is possible, else says what to run.
[ -x /usr/bin/chromium ] && [ -x /usr/bin/firefox-esr ] && [ -f /usr/share/unicode/auxiliary/LineBreakTest.txt ] &&
  /sbin/ldconfig -p | grep -q libpangoft2-1.0.so.0 && exit 0
packages="chromium firefox-esr unicode-data libpangoft2-1.0-0"
if [ "$(id -u)" = 0 ]; then
  apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq $packages && exit 0
fi
echo "Chromium, Firefox, unicode-data or Pango is missing and cannot be installed from here. Run: sudo apt-get install -y $packages" >&2
exit 1
