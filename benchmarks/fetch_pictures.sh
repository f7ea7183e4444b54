#!/bin/sh
# Unpacks the packages whose pictures tests/support/labels.txt names into a folder; they are not installed.
# Usage: sh benchmarks/fetch_pictures.sh FOLDER        (needs pip, apt-get and dpkg; about 150 MB)
set -e
into=${1:?usage: fetch.sh FOLDER}
mkdir -p "$into"
cd "$into"
python3 -m pip download --quiet --no-deps --only-binary :all: --dest . matplotlib
python3 -m zipfile -e matplotlib-*.whl .
apt-get download opencv-doc mate-backgrounds
for deb in opencv-doc_*.deb mate-backgrounds_*.deb; do dpkg -x "$deb" .; done
