"""What the largest pictures that are accepted take at the peak, each opened in a process of its own.

A picture just within the budget of its kind is made, opened, and brought to the size of the screen, as the window does.
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
