"""Pictures of packages with their hand-drawn labels; the demo with its own maps."""

import json
from collections.abc import Sequence
from dataclasses import dataclass, replace
from pathlib import Path

import cv2
import numpy as np
from PIL import Image

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.document.document import Note
from ochre_stone.core.picture.balance import Balance
from ochre_stone.core.picture.load import load
from ochre_stone.core.picture.picture import Picture
from ochre_stone.core.picture.remembered import Remembered
from ochre_stone.core.picture.sampling import sample
from ochre_stone.core.store.files import open_project
from ochre_stone.resources import resource

_HERE = Path(__file__).parent
LIT = ("light", "halftone", "highlight")
DEMO_SUBJECTS = {
    "sky": ("sky",), "skin": ("skin",), "hair": ("hair",), "shirt": ("cloth",), "hat": ("cloth", "other"),
    "wall": ("wall",), "near_foliage": ("foliage",), "far_foliage": ("foliage",),
    "hills": ("ground", "foliage", "other"), "fruit": ("fruit",), "ground": ("ground", "foliage"),
    "bark": ("other", "foliage", "ground"),
}  # fmt: skip
DEMO_SPOTS = (
    (954, 706), (831, 1008), (847, 416), (884, 469), (869, 391), (907, 302), (756, 542), (416, 554), (328, 592),
    (1008, 25), (760, 200), (605, 328), (1550, 529), (1300, 1112), (781, 283), (743, 882), (1008, 819), (806, 706),
    (1335, 920), (1209, 529), (1172, 1046), (1241, 1071), (882, 151), (252, 806),
)  # fmt: skip
"""Where a painter would take notes of the demo."""


@dataclass(frozen=True)
class Labelled:
    """A picture with the things drawn in it (h, w, number of the thing, -1 none), what each may be called, and spots
    (x, y in pixels) that a painter would sample."""

    name: str
    picture: Picture
    things: np.ndarray
    subjects: tuple[tuple[str, ...], ...]
    spots: np.ndarray
    kind: str = ""

    def at(self, x: float, y: float) -> tuple[str, ...]:
        """What the thing at a spot may be called; empty where none is drawn."""
        thing = int(self.things[int(y), int(x)])
        return self.subjects[thing] if thing >= 0 else ()

    def cut(self, rows: slice, columns: slice) -> "Labelled":
        """A part of it as a picture of its own."""
        codes = np.ascontiguousarray(self.picture.code[rows, columns])
        picture = replace(self.picture, code=codes, remembered=Remembered())
        return replace(self, picture=picture, things=self.things[rows, columns], spots=np.empty((0, 2)))


def quarters(shape: tuple[int, int], share: float = 0.62) -> list[tuple[slice, slice]]:
    """Rows and columns of the four corners of a picture."""
    h, w = shape
    a, b = int(h * share), int(w * share)
    return [(r, c) for r in (slice(0, a), slice(h - a, h)) for c in (slice(0, b), slice(w - b, w))]


def corners(one: Labelled) -> list[Labelled]:
    """Cut to each of its corners."""
    return [one.cut(*where) for where in quarters(one.things.shape)]


def labelled(folders: list[Path]) -> list[Labelled]:
    """Those pictures of labels.txt that lie in one of the folders."""
    out: list[Labelled] = []
    outlines: list[tuple[tuple[str, ...], np.ndarray]] = []
    spots: list[list[float]] = []
    path, head = None, [""]

    def done() -> None:
        if path is None:
            return
        picture = load(path)
        size = np.array([picture.width, picture.height]) / 100
        things = np.full((picture.height, picture.width), -1, np.int32)
        for i, (_, points) in reversed(list(enumerate(outlines))):
            cv2.fillPoly(things, [np.round(points * size).astype(np.int32)], i)
        subjects = tuple(s for s, _ in outlines)
        at = np.clip(np.array(spots) * size, 1, np.array([picture.width, picture.height]) - 2)
        out.append(Labelled(head[0], picture, things, subjects, at, "".join(head[3:])))

    for line in [*(_HERE / "labels.txt").read_text("utf-8").splitlines(), "picture"]:
        words = line.split()
        if not words or words[0] == "#":
            continue
        if words[0] == "picture":
            done()
            outlines, spots, head = [], [], words[1:]
            path = next((f / head[2] for f in folders if head and (f / head[2]).exists()), None)
            continue
        points = [[float(v) for v in w.split(",")] for w in words[2 if words[0] == "thing" else 1 :]]
        if words[0] == "thing":
            outlines.append((tuple(words[1].split(",")), np.array(points)))
        else:
            spots += points
    return out


def demo() -> tuple[Labelled, np.ndarray]:
    """The demo picture, spots of it, and its light mask (h, w): 255 direct sun, 0 shadow, 128 open sky."""
    project = open_project(resource("demo", "orchard-keeper.ochre"))
    assert project.picture is not None
    names = json.loads(Path(resource("demo", "labels.json")).read_text("utf-8"))["labels"]
    things = np.asarray(Image.open(resource("demo", "labels.png"))).astype(np.int32)
    spots = np.array(DEMO_SPOTS, dtype=float)
    subjects = tuple(DEMO_SUBJECTS[names[str(i)]] for i in range(len(names)))
    light = np.asarray(Image.open(resource("demo", "light_mask.png")))
    return Labelled("demo", project.picture, things, subjects, spots), light


def gaps(lab: np.ndarray, notes: Sequence[Note]) -> np.ndarray:
    """CIEDE2000 of each colour to the nearest note."""
    return np.min([ciede2000(lab.reshape(-1, 3).astype(float), np.array(n.lab)) for n in notes], axis=0)


def names(one: Labelled, notes: Sequence[Note]) -> np.ndarray:
    """Counts: right, "other" though it has a name, wrong; and of the names given: right, all."""
    out = np.zeros(5, int)
    for n in notes:
        assert n.place is not None
        true = one.at(*n.place)
        if not true:
            continue
        right = n.subject in true
        out += (right, not right and n.subject == "other", not right and n.subject != "other", 0, 0)
        if n.subject != "other":
            out += (0, 0, 0, right, 1)
    return out


def light(where: np.ndarray, notes: Sequence[Note]) -> tuple[int, int]:
    """Notes whose family of light is right, of those where the picture has sun or shade."""
    places = [(n, n.place) for n in notes if n.place is not None]
    judged = [(n, int(where[int(p[1]), int(p[0])])) for n, p in places]
    judged = [(n, v) for n, v in judged if v != 128]
    return sum((n.role in LIT) == (v == 255) for n, v in judged), len(judged)


def met(one: Labelled, notes: Sequence[Note]) -> np.ndarray:
    """Counts of spots with a note within 4 and within 6, and all."""
    wide = max(3, round(0.012 * max(one.things.shape))) | 1
    seen = np.array([sample(one.picture, x, y, wide, Balance()).lab for x, y in one.spots])
    gap = gaps(seen, notes)
    return np.array([(gap <= 4).sum(), (gap <= 6).sum(), len(gap)])
