#!/bin/sh
# The browser tests drive Debian's Chromium. Install it where it is missing and this user may.
set -eu
if [ -x /usr/bin/chromium ]; then exit 0; fi
if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null; then
    echo "Installing Chromium from Debian's packages ..."
    export DEBIAN_FRONTEND=noninteractive
    apt-get update -qq >/dev/null
    apt-get install -y -qq --no-install-recommends chromium >/dev/null
else
    echo "The browser tests need Chromium. Install it once with: sudo apt-get install chromium" >&2
    exit 1
fi
