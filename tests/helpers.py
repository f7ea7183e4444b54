"""Pictures and files that several tests use, made here and nowhere kept."""

import functools
import io
import tempfile
import unittest
from pathlib import Path

import numpy as np
from PIL import Image

from ochre_stone.core.picture.load import load, load_bytes
from ochre_stone.core.picture.picture import Picture
from ochre_stone.resources import resource


class FolderCase(unittest.TestCase):
    """A test with a folder of its own in ``self.folder``."""

    def setUp(self) -> None:
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name)


def encoded(pixels: np.ndarray, kind: str = "PNG", **options: object) -> bytes:
    """Bytes of a picture file."""
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, kind, **options)
    return out.getvalue()


def picture(pixels: np.ndarray, name: str = "made.png") -> Picture:
    """A picture of these sRGB bytes."""
    return load_bytes(encoded(pixels), name)


def blocks(*colours: tuple[int, int, int], side: int = 60) -> np.ndarray:
    """Upright stripes of flat colours, each ``side`` wide."""
    stripes = [np.full((side * 2, side, 3), c, np.uint8) for c in colours]
    return np.concatenate(stripes, axis=1)


@functools.cache
def demo_picture() -> Picture:
    """The demo picture."""
    return load(resource("demo", "orchard_keeper.png"))


def orchard() -> np.ndarray:
    """A small scene with sky, leaves, skin, shadow and a white wall: big shapes of varied colour, a little noise."""
    rng = np.random.default_rng(5)
    out = np.zeros((240, 320, 3), float)
    out[:110] = (120, 150, 205)
    out[110:] = (120, 95, 45)
    out[40:150, :90] = (60, 85, 30)
    out[60:240, 200:] = (225, 218, 200)
    out[120:240, 260:] = (135, 132, 126)
    out[70:160, 120:190] = (205, 145, 110)
    out[110:160, 160:190] = (110, 65, 45)
    out[160:240, 110:200] = (45, 70, 115)
    return np.clip(out + rng.normal(0, 3, out.shape), 0, 255).astype(np.uint8)
