"""What the largest pictures that are accepted take at the peak, each opened in a process of its own.

A picture just within the budget of its kind is made, opened, and brought to the size of the screen, as the window does.
Then photos in a real window that goes through its stations: five one after another, and one of 169 megapixels. At last
logs that are taken in, of as many piles as one may hold, and of a million.
"""

import io
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import cv2
import numpy as np
import tifffile
from PIL import Image

from ochre_stone.core.picture import load
from ochre_stone.logbook import exchange
from tests.logbook.made import THEN, entry
from tests.support.made import orchard
from tests.support.torture.tally import Tally

_MOST_GB = 2.5
_TILE = 256
_CHILD = """
import sys
from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture.load import load
from ochre_stone.desktop.window import window
try:
    picture = load(sys.argv[1])
    picture.reduced(1_300_000)
    print("opened", end=" ")
except OchreError as error:
    print("refused", end=" ")
for line in open("/proc/self/status"):  # of this program alone, not of what started it
    if line.startswith("VmHWM:"):
        print(int(line.split()[1]) * 1024 / 1e9)
"""


_WINDOW = """
import os, sys, time
from pathlib import Path
from ochre_stone.desktop.app import make_app
from ochre_stone.desktop.session.settings import Settings
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.window.window import Window
app = make_app(["memory"])
theme.apply(app, "middle")
window = Window(Settings())
window.resize(1280, 800)
window.show()
def settle():
    quiet, end = 0, time.monotonic() + 600
    while quiet < 10 and time.monotonic() < end:
        app.processEvents()
        time.sleep(0.01)
        quiet = quiet + 1 if window.studio.idle and window.session.log.idle else 0
def tell():
    held = dict(line.split(":") for line in open("/proc/self/status") if line.startswith("Vm"))
    print(*(int(held[name].split()[0]) * 1024 / 1e9 for name in ("VmRSS", "VmHWM")), flush=True)
settle()
for name in sys.argv[1:]:
    window.studio.files.load(Path(name))
    settle()
    for station in window.stations[:6]:
        window.go_to(station.title)
        settle()
    end = time.monotonic() + 3
    while time.monotonic() < end:  # what is not used any more is given back a moment later
        app.processEvents()
        time.sleep(0.01)
    settle()
    tell()
os._exit(0)
"""
_LOG = """
import sys
from pathlib import Path
from ochre_stone.core.errors import OchreError
from ochre_stone.logbook import exchange
from ochre_stone.logbook.book import Book
path = Path(sys.argv[1])
with Book(path.with_suffix(".sqlite")) as book:
    try:
        exchange.load_log(book, path)
        print("opened", end=" ")
    except OchreError as error:
        print("refused", end=" ")
    print(book.count(), end=" ")
for line in open("/proc/self/status"):
    if line.startswith("VmHWM:"):
        print(int(line.split()[1]) * 1024 / 1e9)
"""
_LOGS = ((exchange.MOST_IN_A_LOG, "opened", _MOST_GB), (1_000_000, "refused", 0.6))
"""Piles, what becomes of them, and the memory that it may take."""
_ROWS = ((6000, 4000, 5), (13_000, 13_000, 1))
"""Photos that are opened one after another: width, height, how many."""


def _saved(mode: str, kind: str, **options: object) -> Callable[[int], bytes]:
    def make(side: int) -> bytes:
        out = io.BytesIO()
        Image.new(mode, (side, side), 128 if mode in ("L", "P") else (128,) * len(mode)).save(out, kind, **options)
        return out.getvalue()

    return make


def _deep(channels: int) -> Callable[[int], bytes]:
    def make(side: int) -> bytes:
        pixels = np.full((side, side, channels), 30_000, np.uint16)
        return bytes(cv2.imencode(".png", pixels, [cv2.IMWRITE_PNG_COMPRESSION, 1])[1])

    return make


def _tiff(kind: type[np.generic]) -> Callable[[int], bytes]:
    def make(side: int) -> bytes:
        out = io.BytesIO()
        tile = np.full((_TILE, _TILE, 3), 0.5 if np.dtype(kind).kind == "f" else 30_000, kind)
        count = -(-side // _TILE)
        with tifffile.TiffWriter(out) as file:
            file.write(
                (tile for _ in range(count * count)),
                shape=(side, side, 3),
                dtype=kind,
                photometric="rgb",
                compression="zlib",
                tile=(_TILE, _TILE),
            )
        return out.getvalue()

    return make


KINDS: dict[str, tuple[Callable[[int], bytes], float]] = {
    "8-bit.jpg": (_saved("RGB", "JPEG"), 9.0),
    "8-bit.png": (_saved("RGB", "PNG", compress_level=1), 9.0),
    "transparent.png": (_saved("RGBA", "PNG", compress_level=1), 9.0),
    "print.jpg": (_saved("CMYK", "JPEG"), 15.0),
    "web.webp": (_saved("RGB", "WEBP", method=0, quality=10), 17.0),
    "16-bit.png": (_deep(3), 13.0),
    "16-bit-transparent.png": (_deep(4), 18.0),
    "16-bit.tif": (_tiff(np.uint16), 13.0),
    "32-bit-float.tif": (_tiff(np.float32), 25.0),
    "64-bit-float.tif": (_tiff(np.float64), 37.0),
}
"""How each is made, and the bytes a pixel that are counted for it."""


def run(tally: Tally, count: int) -> None:
    """Each kind just within its budget, and a quarter more."""
    cases = [(name, scale) for name in KINDS for scale in (1.0, 1.25)]
    for name, scale in cases[tally.done : count]:
        make, per_pixel = KINDS[name]
        pixels = min(0.99 * load._BUDGET / (per_pixel + 0.1), 0.999 * load.MOST_PIXELS) * scale
        with tempfile.TemporaryDirectory(prefix="ochre-memory-") as folder:
            path = Path(folder) / name
            path.write_bytes(make(int(pixels**0.5)))
            began = time.monotonic()
            found = subprocess.run([sys.executable, "-c", _CHILD, path], capture_output=True, text=True, check=False)
            words = found.stdout.split()
        if len(words) != 2 or float(words[1]) > _MOST_GB or words[0] != ("opened" if scale == 1 else "refused"):
            tally.add("other", words=f"{name}, {pixels / 1e6:.0f} megapixels: {found.stdout} {found.stderr[-300:]}")
        else:
            tally.add(words[0], time.monotonic() - began)
            tally.counts[f"{name} at {pixels / 1e6:.0f} MP: {float(words[1]):.2f} GB"] = 1
            tally.peak = max(tally.peak, float(words[1]))
        tally.save()
    for width, height, photos in _ROWS[max(tally.done - len(cases), 0) : count - len(cases)]:
        _in_a_window(tally, width, height, photos)
        tally.save()
    for piles, wanted, most in _LOGS[max(tally.done - len(cases) - len(_ROWS), 0) : count - len(cases) - len(_ROWS)]:
        _log_of(tally, piles, wanted, most)
        tally.save()


def _log_of(tally: Tally, piles: int, wanted: str, most: float) -> None:
    """A log of so many piles is taken in whole, or refused before anything is made of it."""
    with tempfile.TemporaryDirectory(prefix="ochre-memory-") as folder:
        path = Path(folder) / "log.json"
        one = entry({"yellow-ochre": 1.0}).model_dump_json()
        tubes = ",".join(t.model_dump_json() for t in THEN.values())
        with path.open("w", encoding="utf-8") as file:
            file.write(f'{{"format":"ochre-stone-log","tubes":[{tubes}],"piles":[')
            for n in range(piles):
                file.write(("," if n else "") + one.replace("made-00000000", f"made-{n:08d}"))
            file.write("]}")
        began = time.monotonic()
        found = subprocess.run([sys.executable, "-c", _LOG, path], capture_output=True, text=True, check=False)
    words = found.stdout.split()
    there = str(piles if wanted == "opened" else 0)
    if len(words) != 3 or words[:2] != [wanted, there] or float(words[2]) > most:
        tally.add("other", words=f"a log of {piles} piles: {found.stdout} {found.stderr[-300:]}")
    else:
        tally.add(wanted, time.monotonic() - began)
        tally.counts[f"a log of {piles} piles: {float(words[2]):.2f} GB"] = 1


def _in_a_window(tally: Tally, width: int, height: int, photos: int) -> None:
    """Photos one after another: what is kept grows by less than one of them, and never is there too much at once."""
    with tempfile.TemporaryDirectory(prefix="ochre-memory-") as folder:
        paths = []
        for n in range(photos):
            path = Path(folder) / f"{n}.jpg"
            code = cv2.resize(np.roll(orchard(), 37 * n, axis=1), (width, height), interpolation=cv2.INTER_LINEAR)
            Image.fromarray(code).save(path, quality=85)
            paths.append(path)
        began = time.monotonic()
        found = subprocess.run([sys.executable, "-c", _WINDOW, *paths], capture_output=True, text=True, check=False)
    rows = [[float(v) for v in line.split()] for line in found.stdout.splitlines()]
    kept, peak = [r[0] for r in rows], max((r[1] for r in rows), default=9.9)
    words = f"{photos} of {width * height / 1e6:.0f} MP in a window: {kept} GB kept, {peak:.2f} GB at the peak"
    grown = max(kept[1:], default=0.0) - kept[0] if kept else 9.9
    if len(rows) != photos or peak > _MOST_GB or grown > 3e-9 * width * height:
        tally.add("other", words=f"{words} {found.stderr[-300:]}")
    else:
        tally.add("opened", time.monotonic() - began)
        tally.counts[words] = 1
        tally.peak = max(tally.peak, peak)
