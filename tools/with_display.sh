#!/usr/bin/env bash
# Run a command on the desktop's display, or on a virtual one where there is none (and say so).
set -euo pipefail
if [ -n "${DISPLAY:-}${WAYLAND_DISPLAY:-}" ] || [ "${QT_QPA_PLATFORM:-}" = offscreen ]; then
  exec "$@"
fi
command -v Xvfb >/dev/null 2>&1 || { echo "There is no display and Xvfb is missing: apt-get install xvfb" >&2; exit 1; }
pipe=$(mktemp)
exec 3>"$pipe"
Xvfb -displayfd 3 -screen 0 1280x800x24 -nolisten tcp >/dev/null 2>&1 &
server=$!
trap 'kill "$server" 2>/dev/null || true; rm -f "$pipe"' EXIT
for _ in $(seq 100); do [ -s "$pipe" ] && break; sleep 0.1; done
[ -s "$pipe" ] || { echo "The virtual display did not start (Xvfb)." >&2; exit 1; }
DISPLAY=":$(tr -d '[:space:]' < "$pipe")"
export DISPLAY QT_QPA_PLATFORM=xcb
echo "No display here: running on a virtual one, DISPLAY=$DISPLAY (1280x800)." >&2
"$@"
