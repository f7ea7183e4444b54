"""Key colours within a drawn area: so many lights, middles and darks of it, or the parts of one form."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.errors import OchreError
from ochre_stone.core.keys.cells import cells_of
from ochre_stone.core.keys.cover import LeftOver, left_over, medoids
from ochre_stone.core.keys.form import PARTS, form_parts
from ochre_stone.core.keys.melt import KeyColour, Known, Melt, melt, things_in
from ochre_stone.core.keys.roles import role_of
from ochre_stone.core.keys.spots import roughness, spot_in
from ochre_stone.core.keys.things import Thing, Things, division_of
from ochre_stone.core.later import later
from ochre_stone.core.masses.thresholds import histogram, optimal_cuts
from ochre_stone.core.picture.balance import Balance
from ochre_stone.core.picture.frame import Framed
from ochre_stone.core.picture.picture import Floats, Mask, linear_to_lab
from ochre_stone.core.picture.sampling import area_region, sample
from ochre_stone.core.picture.simplify import smooth_lab

cv2 = later("cv2")

AREA_PIXELS = 120_000
LEAST_PIXELS = 60
MOST_COLOURS = 20

Counts = tuple[int, int, int]


@dataclass(frozen=True)
class Shape:
    """What is asked of an area: lights, middles and darks; the parts of a form; or simply so many notes."""

    id: str
    title: str
    counts: Counts | None = None


AREA_SHAPES: tuple[Shape, ...] = (
    Shape("2-2-2", "2 lights, 2 middles, 2 darks", (2, 2, 2)),
    Shape("1-2-3", "1 light, 2 middles, 3 darks", (1, 2, 3)),
    Shape("1-1-1", "light, middle, dark", (1, 1, 1)),
    Shape("form", "parts of a form"),
    Shape("count", "as many as the number above"),
)
SHAPE_BY_ID = {s.id: s for s in AREA_SHAPES}


@dataclass(frozen=True)
class AreaKeys:
    """Key colours of an area, dark to light, and what is to be said of them."""

    keys: tuple[KeyColour, ...]
    rest: LeftOver
    """What they leave over of the area."""
    kept: float
    """Share of the outline that was looked at: its main thing."""
    missing: tuple[str, ...] = ()
    """Parts of a form that are not there, in words."""


@dataclass(frozen=True)
class _Cut:
    """The picture about an area, at its own size: Lab, melted, the area in it, and the things."""

    box: tuple[int, int, int, int]
    lab: Floats
    melted: Floats
    rough: Floats
    area: Mask
    number: npt.NDArray[np.int32]
    everywhere: Array
    """Pixels of this size that each thing has in all of the frame."""


def _cut_out(melted: Melt, things: Things, points: npt.ArrayLike) -> _Cut:
    """Raises OchreError where the area has no inside in the picture."""
    picture = melted.seen.picture
    region = area_region(picture, points)
    box = (region.columns.start, region.rows.start, region.columns.stop, region.rows.stop)
    lab = linear_to_lab(melted.balance.apply(picture.part(box, AREA_PIXELS)))
    h, w = lab.shape[:2]
    corners = np.asarray(points, dtype=float).reshape(-1, 2)
    scale = np.array([w / (box[2] - box[0]), h / (box[3] - box[1])])
    area = np.zeros((h, w), np.uint8)
    cv2.fillPoly(area, [np.round(((corners - box[:2]) * scale - 0.5) * 16).astype(np.int32)], 1, shift=4)
    number = melted.seen.map_back(things.number, box, (h, w)).astype(np.int32)
    soft = smooth_lab(lab)
    inside = np.asarray((area > 0) & (number >= 0))
    if inside.sum() < LEAST_PIXELS:
        raise OchreError("This area is too small for key colours: draw it larger, or click spots.")
    x, y = corners.mean(axis=0).tolist()
    pixel = (melted.scale * melted.seen.scale_at(x, y)) ** 2  # how many of the original a working pixel is
    everywhere = np.bincount(things.number.ravel(), minlength=len(things.all)) * (pixel * scale.prod())
    return _Cut(box, lab, soft, roughness(lab, soft), inside, number, everywhere)


def main_thing(area: Mask, number: npt.NDArray[np.int32], everywhere: Array) -> Mask:
    """An area (h, w) without what a loose outline takes in by mistake.

    ``everywhere`` (k,): pixels that each thing has in all of the picture. Kept are things that hold much of the area,
    and those that lie mostly inside it; where that leaves less than a third, all of it.
    """
    inside = np.bincount(number[area], minlength=len(everywhere))
    keep = (inside > 0.18 * inside.sum()) | ((inside > 0.6 * everywhere) & (inside > 30))
    keep[inside.argmax()] = True
    out = np.asarray(area & keep[np.maximum(number, 0)])
    return out if out.sum() > 0.35 * area.sum() else area


def _without_rim(area: Mask) -> Mask:
    inner = cv2.erode(area.astype(np.uint8), np.ones((3, 3), np.uint8), borderValue=0).astype(bool)
    return inner if inner.sum() > LEAST_PIXELS else area


def bands(value: Floats, area: Mask) -> list[Mask]:
    """Lights, middles and darks of an area (h, w): its values cut in three as best they are."""
    own = value[area]
    cuts = optimal_cuts(histogram(own), 3).get(3)
    low, high = (float(v) for v in (cuts if cuts is not None else np.percentile(own, (33, 67))))
    return [
        np.asarray(m) for m in (area & (value >= high), area & (value >= low) & (value < high), area & (value < low))
    ]


def _in_bands(
    cut: _Cut, area: Mask, parts: Sequence[Mask], counts: Sequence[int], standing: Array
) -> list[tuple[Mask, Array]]:
    """For each note the band that it lies in and its colour (3,): medoids of all the area, so many in each band.

    Bands are chosen in turn with the others' colours standing, until nothing changes.
    """
    clean = np.zeros(area.shape, bool)
    band = np.full(area.shape, len(parts), np.int32)
    for i, part in enumerate(parts):
        band[part] = i
        if part.any():
            clean |= part & (cut.rough < np.percentile(cut.rough[part], 70))
    cells = cells_of(cut.melted[area][None], band[area][None], clean[area][None])
    weight = cells.size / cells.size.sum()
    chosen: list[list[int]] = [[] for _ in parts]
    for _ in range(3):
        before = [list(c) for c in chosen]
        for i, count in enumerate(counts):
            own = np.flatnonzero(cells.thing == i)
            if not count or not len(own):
                continue
            may = np.zeros(len(cells.size), bool)
            may[own] = cells.clean[own] >= 4
            if not may.any():
                may[own[cells.size[own].argmax()]] = True
            others = [j for k, c in enumerate(chosen) if k != i for j in c]
            chosen[i] = medoids(
                cells.mean, weight, count, may, None, np.vstack([standing, cells.mean[others]])
            ).tolist()
        if chosen == before:
            break
    return [(parts[i], cells.mean[j]) for i, c in enumerate(chosen) for j in c]


def suggest_in(
    seen: Framed,
    points: npt.ArrayLike,
    shape: str = "2-2-2",
    count: int = 6,
    balance: Balance | None = None,
    known: Sequence[Known] = (),
    standing: npt.ArrayLike = (),
    all_of_it: bool = False,
) -> AreaKeys:
    """Key colours of the area with corners ``points`` (n, 2), in pixels of the original.

    ``shape``: one of SHAPES; ``count`` 1 to 20 is of "count" alone. ``standing`` (m, 3): Lab of notes that the area
    has already. A loose outline keeps to its main thing unless ``all_of_it``. Raises OchreError where there is too
    little inside, ValueError for another shape or count.
    """
    wanted = SHAPE_BY_ID.get(shape)
    if wanted is None:
        raise ValueError(f"no shape '{shape}': choose {', '.join(SHAPE_BY_ID)}")
    if not 1 <= count <= MOST_COLOURS:
        raise ValueError(f"{count} notes: choose 1 to {MOST_COLOURS}")
    melted = melt(seen, balance)
    things = things_in(melted, known)
    cut = _cut_out(melted, things, points)
    whole_area = cut.area
    area = whole_area if all_of_it else main_thing(whole_area, cut.number, cut.everywhere)
    kept = float(area.sum() / whole_area.sum())
    area = _without_rim(area)
    value = np.asarray(value_of_lightness(np.clip(cut.melted[..., 0], 0, 100)), dtype=np.float32)
    stands = np.asarray(standing, dtype=float).reshape(-1, 3)
    missing: tuple[str, ...] = ()
    found: list[tuple[Mask, Array, str]] = []
    if shape == "form":
        there = form_parts(value, area)
        if things.all[int(np.bincount(cut.number[area]).argmax())].subject == "sky":  # light all over, nothing in shade
            there = {role: part for role, part in there.items() if role in ("light", "halftone")}
        if not there:
            raise OchreError("This area has no light and no shadow to tell apart: ask for so many notes instead.")
        missing = tuple(words for role, words in PARTS.items() if role not in there)
        found = [(part, np.median(cut.melted[part], axis=0), role) for role, part in there.items()]
    elif wanted.counts is None:
        found = [(m, c, "") for m, c in _in_bands(cut, area, [area], [count], stands)]
    else:
        found = [(m, c, "") for m, c in _in_bands(cut, area, bands(value, area), wanted.counts, stands)]
    keys = _noted(melted, things, cut, area, value, found)
    rest = left_over(cut.lab[area][None], np.array([k.seen.lab for k in keys]))
    return AreaKeys(tuple(sorted(keys, key=lambda k: k.seen.lab[0])), rest, kept, missing)


def _noted(
    melted: Melt, things: Things, cut: _Cut, area: Mask, value: Floats, found: Sequence[tuple[Mask, Array, str]]
) -> list[KeyColour]:
    picture = melted.seen.picture
    h, w = area.shape
    across, down = (cut.box[2] - cut.box[0]) / w, (cut.box[3] - cut.box[1]) / h
    middle = things.all[int(np.bincount(cut.number[area]).argmax())]
    division, parted = division_of(value[area].astype(float), things.whole)
    colours = np.array([c for _, c, _ in found])
    pixels = cut.melted[area][:: max(1, int(area.sum()) // 5_000)].astype(float)
    nearest = np.argmin([ciede2000(pixels, c) for c in colours], axis=0)
    part_of_all = float(area.sum()) * across * down / (picture.width * picture.height)
    share = np.bincount(nearest, minlength=len(found)) / len(pixels) * part_of_all
    out = []
    for i, (part, colour, role) in enumerate(found):
        row, column, free = spot_in(part, cut.melted, colour, cut.rough)
        x = min(max(cut.box[0] + (column + 0.5) * across, 0.0), picture.width - 0.5)
        y = min(max(cut.box[1] + (row + 0.5) * down, 0.0), picture.height - 0.5)
        aperture = int(np.clip(1.2 * free * across, 3, 41)) | 1
        got = sample(picture, x, y, aperture, melted.balance)
        own = things.all[int(cut.number[row, column])]
        thing = Thing(own.number, middle.look, middle.values, own.weight, division, parted, own.subject, own.sure)
        light = float(value_of_lightness(min(max(got.lab[0], 0.0), 100.0)))
        role = role or role_of(light, thing, things.whole)
        out.append(KeyColour(x, y, aperture, got, float(share[i]), own.subject, role, own.sure, own.number))
    return out
