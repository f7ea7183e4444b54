"""Pictures and files that several tests use, made here and nowhere kept."""

import functools
import io
import tempfile
import unittest
from collections.abc import Sequence
from pathlib import Path
from typing import Any

import numpy as np
import tifffile
from PIL import Image
from pypdf import PdfReader

from ochre_stone.core.colour.spaces import SRGB_TO_XYZ
from ochre_stone.core.document.document import Document, MixChoice
from ochre_stone.core.mixing.recipe.finding import Wishes, recipes
from ochre_stone.core.mixing.recipe.recipe import Recipe
from ochre_stone.core.mixing.recipe.sources import Terms
from ochre_stone.core.paint.tubes import Tube
from ochre_stone.core.picture.load import load, load_bytes
from ochre_stone.core.picture.picture import Picture
from ochre_stone.core.planning.noting import read_note, with_shares
from ochre_stone.core.planning.planning import mix_strings
from ochre_stone.core.store.files import save
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


def tiff(pixels: np.ndarray, **options: object) -> bytes:
    """Bytes of a TIFF."""
    out = io.BytesIO()
    tifffile.imwrite(out, pixels, **options)
    return out.getvalue()


def dng() -> bytes:
    """A small uncompressed DNG: RGGB mosaic, 16 bits, white balance 2 : 1 : 1.5."""
    rgb = np.zeros((96, 128, 3))
    rgb[:, :64], rgb[:, 64:] = 0.2, (0.4, 0.05, 0.05)
    seen = rgb / (2.0, 1.0, 1.5)
    mosaic = np.zeros((96, 128))
    mosaic[0::2, 0::2], mosaic[0::2, 1::2] = seen[0::2, 0::2, 0], seen[0::2, 1::2, 1]
    mosaic[1::2, 0::2], mosaic[1::2, 1::2] = seen[1::2, 0::2, 1], seen[1::2, 1::2, 2]
    to_camera = np.diag((1 / 2.0, 1.0, 1 / 1.5)) @ np.linalg.inv(SRGB_TO_XYZ)
    flat = [int(v) for m in to_camera.ravel() for v in (round(m * 10000), 10000)]
    tags = [
        (50706, "B", 4, (1, 4, 0, 0), True), (33421, "H", 2, (2, 2), True), (33422, "B", 4, (0, 1, 1, 2), True),
        (50714, "H", 1, 0, True), (50717, "H", 1, 65535, True), (50721, "2i", 9, flat, True),
        (50728, "2I", 3, (1, 2, 1, 1, 2, 3), True), (50778, "H", 1, 21, True),
        (50708, "s", 0, "Made camera", True), (271, "s", 0, "Made", True), (272, "s", 0, "Made camera", True),
    ]  # fmt: skip
    return tiff(np.round(mosaic * 65535).astype(np.uint16), photometric=32803, extratags=tags)


def picture(pixels: np.ndarray, name: str = "made.png") -> Picture:
    """A picture of these sRGB bytes."""
    return load_bytes(encoded(pixels), name)


def blocks(*colours: tuple[int, int, int], side: int = 60) -> np.ndarray:
    """Upright stripes of flat colours, each ``side`` wide."""
    stripes = [np.full((side * 2, side, 3), c, np.uint8) for c in colours]
    return np.concatenate(stripes, axis=1)


def pdf_pages(path: Path) -> list[str]:
    """The words of each page of a PDF, read by a library that had no hand in it."""
    return [" ".join(page.extract_text().split()) for page in PdfReader(path).pages]


@functools.cache
def demo_picture() -> Picture:
    """The demo picture."""
    return load(resource("demo", "orchard_keeper.png"))


@functools.cache
def orchard_file() -> bytes:
    """The small scene as a PNG."""
    return encoded(orchard())


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


def find_recipes(
    target: object,
    tubes: Sequence[Tube],
    most: int = 4,
    count: int = 5,
    order: str = "value",
    palette_name: str = "this palette",
    **wishes: Any,
) -> tuple[bool, list[Recipe]]:
    """Recipes for a Lab from these tubes."""
    terms = Terms(tuple(tubes), palette_name, most, None, order)
    return recipes(np.array(target, float), terms, Wishes(count=count, **wishes))


_SMALL = (
    ("chest in the sun", 954, 706, "skin", "light"),
    ("cheek turning", 869, 391, "skin", "halftone"),
    ("face in hat shade", 907, 302, "skin", "core shadow"),
    ("sky overhead", 1008, 25, "sky", "halftone"),
    ("sky, middle", 760, 200, "sky", "light"),
    ("sky at the hills", 605, 328, "sky", "light"),
    ("leaves in shade", 328, 592, "foliage", "core shadow"),
    ("orchard leaves", 416, 554, "foliage", "halftone"),
    ("shirt in the sun", 1008, 819, "cloth", "light"),
)
"""Notes of the small project: name, place in the demo picture, subject and role."""


@functools.cache
def small_project() -> bytes:
    """A project of a quarter of the demo's width with two strings of three piles each, skin and sky, worked out."""
    whole = Image.open(resource("demo", "orchard_keeper.png")).convert("RGB")
    made = load_bytes(encoded(np.asarray(whole.resize((400, 300), Image.Resampling.BOX))), "small.png")
    document = Document(
        title="Small",
        reference=made.name,
        mix=MixChoice(palette="portrait-ten", stand="even", steps=3, left_out=("foliage", "cloth", "shadows")),
    )
    for name, x, y, subject, role in _SMALL:
        note = read_note(made, document, x / whole.width * 400, y / whole.height * 300, 5)
        document = document.with_note(note.model_copy(update={"name": name, "subject": subject, "role": role}))
    document, _ = with_shares(made, document)
    document = document.model_copy(update={"mixed": mix_strings(document)})
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "small.ochre"
        save(path, document, made)
        return path.read_bytes()


def follow(steps, made):
    """What is in a pile, tube by tube, after its steps were done to the letter; ``made``: what is in the piles that are
    there by then, by id; base piles that the steps make are put into it.

    Nothing is known here but what the steps say: their acts, and the parts of their doses."""

    def add(pile, doses):
        out = dict(pile)
        for dose in doses:
            inside = made.get(dose.id, {dose.id: 1.0})
            for i, v in inside.items():
                out[i] = out.get(i, 0.0) + v / sum(inside.values()) * dose.parts
        return out

    pile, kept = {}, {}
    for step in steps:
        if step.act == "make":
            made[step.makes] = add({}, step.doses)
        elif step.act == "cut":
            pile = {i: v / 2 for i, v in pile.items()}
            kept = dict(pile)
        elif step.act == "join":
            kept = add(kept, step.doses)
            pile = {i: pile.get(i, 0.0) + kept.get(i, 0.0) for i in {**pile, **kept}}
            kept = {}
        else:
            pile = add(pile, step.doses)
    assert not kept, "a half was left on the palette"
    return pile
