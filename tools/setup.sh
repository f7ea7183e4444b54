#!/usr/bin/env bash
# Make .venv from a lock file, install the program into it, and see that Qt's system libraries are there: `run` for what
# the program needs (requirements.lock), `dev` for what its makers use besides (requirements-dev.lock).
# Quick when nothing changed: a stamp holds the checksum of what the set-up depends on. What is there for `dev` runs too.
set -euo pipefail
cd "$(dirname "$0")/.."

die() { printf 'setup: %s\n' "$*" >&2; exit 1; }

python=""
for candidate in "${PYTHON:-}" python3.11 python3.12 python3.13 python3; do
  [ -n "$candidate" ] || continue
  if command -v "$candidate" >/dev/null 2>&1 &&
     "$candidate" -c 'import sys, venv, ensurepip; sys.exit(sys.version_info < (3, 11))' >/dev/null 2>&1; then
    python=$candidate
    break
  fi
done
[ -n "$python" ] || die "Python 3.11 or newer with venv is needed: apt-get install python3 python3-venv"

case "${1:-dev}" in
  run) lock=requirements.lock ;;
  dev) lock=requirements-dev.lock ;;
  *) die "set up for what? run or dev" ;;
esac
stamp=.venv/.ochre-stone-stamp
wanted() { cat "$1" pyproject.toml hatch_build.py tools/setup.sh | sha256sum | cut -d' ' -f1; }
here=$(pwd | sha256sum | cut -c1-12)
want="$lock $(wanted $lock) $here"
there=$(cat "$stamp" 2>/dev/null || true)
if [ "$there" != "$want" ] && [ "$there" != "requirements-dev.lock $(wanted requirements-dev.lock) $here" ]; then
  echo "setup: preparing .venv from $lock (a minute or two, once)"
  [ -x .venv/bin/python ] || "$python" -m venv .venv
  in_venv() { .venv/bin/python -m pip install --quiet --disable-pip-version-check --no-deps "$@"; }
  # An installer that fetches and unpacks all at once takes a sixth of the time; where it finds no registry, pip does.
  installer=$(mktemp)
  awk '/^[a-z0-9]/ {on = /^uv==/} on' "$lock" > "$installer"
  in_venv --require-hashes -r "$installer" || die "could not install what $lock names"
  rm "$installer"
  quick() { VIRTUAL_ENV=$PWD/.venv .venv/bin/uv pip install --quiet --system-certs --no-deps "$@" 2>/dev/null; }
  index=$(.venv/bin/python -m pip config get global.index-url 2>/dev/null) && export UV_DEFAULT_INDEX=$index
  quick --require-hashes -r "$lock" || in_venv --no-compile --require-hashes -r "$lock" ||
    die "could not install what $lock names"
  quick --no-build-isolation -e . || in_venv --no-build-isolation -e .
  printf '%s' "$want" > "$stamp"
fi
.venv/bin/python tools/pack_demo.py

# Which Debian package holds a library that Qt or OpenCV asks for.
package_of() {
  case "$1" in
    libEGL.so.1) echo libegl1 ;;
    libGL.so.1) echo libgl1 ;;
    libOpenGL.so.0) echo libopengl0 ;;
    libxkbcommon.so.0) echo libxkbcommon0 ;;
    libxkbcommon-x11.so.0) echo libxkbcommon-x11-0 ;;
    libdbus-1.so.3) echo libdbus-1-3 ;;
    libfontconfig.so.1) echo libfontconfig1 ;;
    libfreetype.so.6) echo libfreetype6 ;;
    libglib-2.0.so.0|libgthread-2.0.so.0) apt-cache show libglib2.0-0t64 >/dev/null 2>&1 && echo libglib2.0-0t64 || echo libglib2.0-0 ;;
    libX11.so.6) echo libx11-6 ;;
    libX11-xcb.so.1) echo libx11-xcb1 ;;
    libxcb.so.1) echo libxcb1 ;;
    libxcb-cursor.so.0) echo libxcb-cursor0 ;;
    libxcb-icccm.so.4) echo libxcb-icccm4 ;;
    libxcb-image.so.0) echo libxcb-image0 ;;
    libxcb-keysyms.so.1) echo libxcb-keysyms1 ;;
    libxcb-randr.so.0) echo libxcb-randr0 ;;
    libxcb-render.so.0) echo libxcb-render0 ;;
    libxcb-render-util.so.0) echo libxcb-render-util0 ;;
    libxcb-shape.so.0) echo libxcb-shape0 ;;
    libxcb-shm.so.0) echo libxcb-shm0 ;;
    libxcb-sync.so.1) echo libxcb-sync1 ;;
    libxcb-util.so.1) echo libxcb-util1 ;;
    libxcb-xfixes.so.0) echo libxcb-xfixes0 ;;
    libxcb-xinerama.so.0) echo libxcb-xinerama0 ;;
    libxcb-xkb.so.1) echo libxcb-xkb1 ;;
    libbrotlidec.so.1|libbrotlicommon.so.1) echo libbrotli1 ;;
    libpng16.so.16) echo libpng16-16 ;;
    libexpat.so.1) echo libexpat1 ;;
    libz.so.1) echo zlib1g ;;
    libzstd.so.1) echo libzstd1 ;;
    *) echo "" ;;
  esac
}

# Libraries that the dynamic linker does not find for Qt's platforms and modules.
missing_libraries() {
  local qt name
  qt=$(.venv/bin/python -c 'import pathlib, PyQt6; print(pathlib.Path(PyQt6.__file__).parent / "Qt6")')
  for name in plugins/platforms/libqxcb.so plugins/platforms/libqoffscreen.so plugins/imageformats/libqsvg.so \
              lib/libQt6Widgets.so.6 lib/libQt6Pdf.so.6 lib/libQt6Svg.so.6; do
    if [ -e "$qt/$name" ]; then LD_LIBRARY_PATH="$qt/lib" ldd "$qt/$name" 2>/dev/null || true; fi
  done | awk '/not found/ {print $1}' | sort -u
}

missing_packages() {
  missing_libraries | while read -r name; do package_of "$name"; done | sed '/^$/d' | sort -u
  command -v Xvfb >/dev/null 2>&1 || echo xvfb
}

install_packages() {
  local as_root=""
  if [ "$(id -u)" -ne 0 ]; then
    if command -v sudo >/dev/null 2>&1 && sudo -n true 2>/dev/null; then as_root="sudo -n"; else as_root=none; fi
  fi
  if [ "$as_root" = none ] || ! command -v apt-get >/dev/null 2>&1; then
    die "these system packages are missing; install them and try again: sudo apt-get install $*"
  fi
  echo "setup: installing system packages: $*"
  $as_root apt-get update -qq >/dev/null 2>&1 || true
  DEBIAN_FRONTEND=noninteractive $as_root apt-get install -y -qq --no-install-recommends "$@" >/dev/null ||
    die "could not install system packages; try by hand: sudo apt-get install $*"
}

# What a package brings can itself lack something only seen once it is there, hence more than one look.
for _ in 1 2 3; do
  need=$(missing_packages | xargs)
  [ -n "$need" ] || break
  # shellcheck disable=SC2086
  install_packages $need
done
left=$(missing_libraries | xargs)
[ -z "$left" ] || die "these libraries are still missing; install the packages that hold them: $left"
