#!/bin/sh
# Debian's Chromium for the browser tests: there already, or installed as root.
set -eu
if command -v chromium >/dev/null 2>&1; then
    exit 0
fi
if [ "$(id -u)" != 0 ] || ! command -v apt-get >/dev/null 2>&1; then
    echo "The browser tests need /usr/bin/chromium. Please install Debian's package: sudo apt-get install chromium" >&2
    exit 1
fi
echo "Installing Debian's Chromium for the browser tests …"
apt-get update -qq
DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends chromium >/dev/null
