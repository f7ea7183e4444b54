#!/usr/bin/env bash
# What a screen reader hears of the program: see docs/accessibility.md.
set -euo pipefail
cd "$(dirname "$0")/.."
home=$(mktemp -d); trap 'kill $(jobs -p) 2>/dev/null || true; rm -rf "$home"' EXIT
mkdir -p "$home/.config/ochre-stone"
echo '{"station": "Note", "page": "Read"}' > "$home/.config/ochre-stone/settings.json"
export HOME=$home QT_LINUX_ACCESSIBILITY_ALWAYS_ON=1
unset XDG_CONFIG_HOME
openbox >/dev/null 2>&1 &
/usr/libexec/at-spi-bus-launcher --launch-immediately >/dev/null 2>&1 &
sleep 2
.venv/bin/python -m ochre_stone --demo >/dev/null 2>&1 &
sleep 10
/usr/bin/python3 tools/hear_the_bus.py
