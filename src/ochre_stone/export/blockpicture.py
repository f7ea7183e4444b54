"""The block-in as a picture: flat colours, smooth borders, at any size."""

import io
from typing import Any

import numpy as np
import numpy.typing as npt
from PIL import Image, PngImagePlugin

from ochre_stone.core.document.document import Document
from ochre_stone.core.picture.picture import lab_to_linear, linear_to_code
from ochre_stone.core.planning.blockin import LaidIn
from ochre_stone.core.planning.coverage import coverage, coverage_words

WIDTH = 1600
"""Pixels across by itself."""


def block_in_pixels(found: LaidIn, width: int = WIDTH) -> npt.NDArray[np.uint8]:
    """sRGB (h, w, 3) of a block-in, ``width`` pixels across."""
    h, w = found.labels.shape
    labels = found.enlarged(width, max(1, round(width * h / w)))
    code = linear_to_code(lab_to_linear(found.colours.reshape(-1, 1, 3))).reshape(-1, 3)
    return np.asarray(code[labels])


def block_in_png(found: LaidIn, width: int = WIDTH) -> bytes:
    """The same as a PNG file that says what it is."""
    said = PngImagePlugin.PngInfo()
    said.add_text("Description", f"Block-in: {found.figures.words}")
    held = io.BytesIO()
    Image.fromarray(block_in_pixels(found, width)).save(held, "PNG", pnginfo=said)
    return held.getvalue()


def block_in_json(found: LaidIn, document: Document) -> dict[str, Any]:
    """What is said of a block-in."""
    f = found.figures
    return {
        "words": f.words,
        "off": {"mean": round(f.off, 3), "p95": round(f.worst, 3)},
        "shapes": f.shapes,
        "border": round(f.border, 3),
        "values": round(f.values, 4),
        "coverage": coverage_words(coverage(document)),
        "shares": {i: round(s, 5) for i, s in found.shares.items()},
        "one_colour": [[p.id for p in group] for group in found.piles if len(group) > 1],
    }
