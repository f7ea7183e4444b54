"""Sample the full picture: a round spot, a drawn area, a line; a robust average, how mixed it is, what surrounds it."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import SRGB_TO_XYZ, Array, Lab, as_lab
from ochre_stone.core.errors import OchreError
from ochre_stone.core.later import later
from ochre_stone.core.picture.balance import Balance
from ochre_stone.core.picture.frame import Point
from ochre_stone.core.picture.picture import Floats, Mask, Picture, linear_to_lab

cv2 = later("cv2")

LEAST_APERTURE, MOST_APERTURE = 1, 101
LINE_STATIONS = 24
_MOST_PIXELS = 60_000
_STATION_SIDE = 30
_PAIR_GAP, _PAIR_SHARE, _PAIR_BETWEEN = 7.0, 0.12, 0.09
_LINE_JUMP = 0.45
"""Share of a line's whole change that may fall between two of its stations before it counts as an edge."""


@dataclass(frozen=True)
class Part:
    """One of two colours in an area."""

    lab: Lab
    share: float


@dataclass(frozen=True)
class Sample:
    """What an aperture saw."""

    lab: Lab
    spread: float
    """Median CIEDE2000 of the pixels from the sample: below 2 even, above 6 mixed."""
    clipped: float
    """Share of pixels burnt out or crushed in the photo, 0..1."""
    pair: tuple[Part, Part] | None = None
    """Where the area holds two colours: both, the larger first."""

    @property
    def spread_words(self) -> str:
        """How even the area is."""
        return "even" if self.spread < 2 else "varied" if self.spread < 6 else "mixed"


@dataclass(frozen=True)
class Region:
    """A box of the picture and which of its pixels are meant; a large one on a coarser grid, every ``step`` pixels."""

    rows: slice
    columns: slice
    inside: Mask
    """(h, w) for every ``step``-th pixel of rows and columns."""
    step: int = 1

    @property
    def side(self) -> float:
        """Side in pixels of a square of the same area."""
        return float(np.sqrt(self.inside.sum())) * self.step


def spot_region(picture: Picture, x: float, y: float, aperture: float, step: int = 1) -> Region:
    """A round aperture of ``aperture`` pixels across. Raises OchreError outside the picture or where impossible."""
    if not LEAST_APERTURE <= aperture <= MOST_APERTURE:
        raise OchreError(
            f"An aperture of {aperture} pixels is not possible: choose {LEAST_APERTURE} to {MOST_APERTURE}."
        )
    if not (0 <= x < picture.width and 0 <= y < picture.height):
        raise OchreError(f"The spot {x:.0f}, {y:.0f} lies outside the picture ({picture.width} x {picture.height}).")
    return _disc(picture, x, y, aperture / 2, step)


def _disc(picture: Picture, x: float, y: float, radius: float, step: int) -> Region:
    # A pixel covers x to x + 1; the aperture takes pixels whose centre it covers, at least the one under the pointer.
    left, right = max(0, int(np.floor(x - radius))), min(picture.width, int(np.ceil(x + radius)) + 1)
    top, bottom = max(0, int(np.floor(y - radius))), min(picture.height, int(np.ceil(y + radius)) + 1)
    dx = np.arange(left, right, step) + 0.5 - x
    dy = np.arange(top, bottom, step) + 0.5 - y
    inside = dx[None] ** 2 + dy[:, None] ** 2 <= radius**2
    inside[(min(int(y), bottom - 1) - top) // step, (min(int(x), right - 1) - left) // step] = True
    return Region(slice(top, bottom, step), slice(left, right, step), np.asarray(inside), step)


def in_polygon(points: npt.ArrayLike, x: float, y: float) -> bool:
    """Whether a place lies in a polygon (n, 2) or on its edge."""
    corners = np.asarray(points, dtype=np.float32).reshape(-1, 2)
    return bool(cv2.pointPolygonTest(corners, (float(x), float(y)), False) >= 0)


def area_region(picture: Picture, points: npt.ArrayLike) -> Region:
    """The inside of a polygon (n, 2) of original pixels.

    Raises OchreError where fewer than three corners or hardly any pixel lie inside the picture.
    """
    p = np.asarray(points, dtype=float).reshape(-1, 2)
    if len(p) < 3:
        raise OchreError("An area needs at least three corners: click them one after the other.")
    left, top = (max(0, int(np.floor(v)) - 1) for v in p.min(axis=0))
    right, bottom = (
        min(n, int(np.ceil(v)) + 1) for v, n in zip(p.max(axis=0), (picture.width, picture.height), strict=True)
    )
    if right - left < 1 or bottom - top < 1:
        raise OchreError("This area lies outside the picture: draw it again.")
    step = max(1, int(np.ceil(((right - left) * (bottom - top) / _MOST_PIXELS) ** 0.5)))
    rows, columns = slice(top, bottom, step), slice(left, right, step)
    mask = np.zeros((len(range(top, bottom, step)), len(range(left, right, step))), np.uint8)
    # Corners are given with pixel 0 covering 0 to 1; OpenCV counts from pixel middles, in sixteenths.
    at = np.round((p - 0.5 - (left, top)) / step * 16).astype(np.int32)
    cv2.fillPoly(mask, [at], 255, shift=4)
    if int((mask > 0).sum()) < 3:
        raise OchreError("This area is too small to be read: draw it larger, or click a spot.")
    return Region(rows, columns, np.asarray(mask > 0), step)


def _pixels(picture: Picture, region: Region) -> tuple[Floats, Mask]:
    """Linear light (n, 3) and whether each pixel was lost (n,)."""
    burnt, crushed = picture.lost(region.rows, region.columns)
    return picture.linear(region.rows, region.columns)[region.inside], (burnt | crushed)[region.inside]


def held_to_white(linear: Floats) -> Floats:
    """Linear light (n, 3) no lighter than white: lamps and raised exposures keep their hue, paint ends there."""
    y = linear @ SRGB_TO_XYZ[1].astype(np.float32)
    return np.asarray(linear / np.maximum(y, 1)[:, None], dtype=np.float32)


def spot(picture: Picture, x: float, y: float, aperture: int) -> Floats:
    """Linear-light pixels (n, 3) inside a round aperture of ``aperture`` pixels across, centred at x, y."""
    return _pixels(picture, spot_region(picture, x, y, aperture))[0]


def look_at(picture: Picture, region: Region, balance: Balance | None = None) -> Sample:
    """Median Lab of a region of the full picture, after ``balance``; spread, losses and a second colour with it."""
    pixels, lost = _pixels(picture, region)
    lab = linear_to_lab(held_to_white((balance or Balance()).apply(pixels))).astype(float)
    middle = np.median(lab, axis=0)
    L, a, b = middle.tolist()
    thin = lab[:: max(1, len(lab) // 4000)]
    return Sample((L, a, b), float(np.median(ciede2000(thin, middle))), float(lost.mean()), two_colours(thin))


def sample(picture: Picture, x: float, y: float, aperture: int = 15, balance: Balance | None = None) -> Sample:
    """A round spot of the full picture, as :func:`look_at` reads it."""
    return look_at(picture, spot_region(picture, x, y, aperture), balance)


def two_colours(lab: Array) -> tuple[Part, Part] | None:
    """The two colours of a mixed area (n, 3) and their shares, None where it is one colour or a gradation.

    Two means along the longest axis; they count as two colours when they are clearly apart (CIEDE2000), neither is
    rare, and few pixels lie between them: in a gradation, as many lie between as anywhere.
    """
    if len(lab) < 9:
        return None
    off = lab - lab.mean(axis=0)
    axis = np.linalg.eigh(off.T @ off)[1][:, -1]
    along = off @ axis
    cut = float((along.min() + along.max()) / 2)
    for _ in range(12):
        upper = along > cut
        if upper.all() or not upper.any():
            return None
        moved = float((along[upper].mean() + along[~upper].mean()) / 2)
        if abs(moved - cut) < 1e-3:
            break
        cut = moved
    upper = along > cut
    if upper.all() or not upper.any():
        return None
    low, high = float(np.median(along[~upper])), float(np.median(along[upper]))
    place = (along - low) / max(high - low, 1e-6)
    between = float(((place > 0.3) & (place < 0.7)).mean())
    parts = []
    for own in (upper, ~upper):
        L, a, b = np.median(lab[own], axis=0).tolist()
        parts.append(Part((L, a, b), float(own.mean())))
    gap = float(ciede2000(np.array(parts[0].lab), np.array(parts[1].lab)))
    if gap < _PAIR_GAP or min(p.share for p in parts) < _PAIR_SHARE or between > _PAIR_BETWEEN:
        return None
    first, second = sorted(parts, key=lambda p: -p.share)
    return first, second


@dataclass(frozen=True)
class Gradation:
    """What a line saw: its two ends, and the colours on the way."""

    start: Sample
    end: Sample
    profile: tuple[Lab, ...]
    """Median Lab at ``LINE_STATIONS`` places from start to end."""
    smooth: bool
    """False where the line crosses an edge instead of following a gradation."""


def line_ends(start: Point, end: Point) -> tuple[Point, Point]:
    """Middles of the first and last tenth of a line, where its end notes are read."""
    a, b = np.array(start), np.array(end)
    p, q = (a + (b - a) * 0.05).tolist(), (a + (b - a) * 0.95).tolist()
    return (p[0], p[1]), (q[0], q[1])


def gradation(
    picture: Picture, start: Point, end: Point, aperture: int = 15, balance: Balance | None = None
) -> Gradation:
    """Sample along a line of the full picture with a round aperture. Raises OchreError where it leaves the picture."""
    a, b = np.array(start), np.array(end)
    if float(np.linalg.norm(b - a)) < 8:
        raise OchreError("The line is too short for a gradation: draw it from one end of the gradation to the other.")
    read = balance or Balance()
    profile = []
    for i in range(LINE_STATIONS):
        x, y = (a + (b - a) * (0.05 + 0.9 * i / (LINE_STATIONS - 1))).tolist()
        pixels, _ = _pixels(picture, spot_region(picture, x, y, aperture, max(1, aperture // _STATION_SIDE)))
        profile.append(np.median(linear_to_lab(held_to_white(read.apply(pixels))), axis=0).astype(float))
    steps = ciede2000(np.array(profile[1:]), np.array(profile[:-1]))
    total = float(steps.sum())
    first, last = (sample(picture, *p, aperture, read) for p in line_ends(start, end))
    smooth = total < 6.0 or float(steps.max()) < _LINE_JUMP * total
    return Gradation(first, last, tuple(as_lab(p) for p in profile), smooth)


def around(picture: Picture, region: Region, reach: float, balance: Balance | None = None) -> Lab:
    """Mean light, as Lab, of a ring about a region: from a little outside it to ``reach`` pixels away."""
    grow = int(np.ceil(reach)) + 2
    high, wide = region.rows.stop - region.rows.start + 2 * grow, region.columns.stop - region.columns.start + 2 * grow
    coarse = max(1, round((high * wide / _MOST_PIXELS) ** 0.5 / region.step))
    step = region.step * coarse
    own = region.inside[::coarse, ::coarse]
    if not own.any():
        own = region.inside[: 1 + (region.inside.shape[0] - 1) // coarse, : 1 + (region.inside.shape[1] - 1) // coarse]
        own = np.ones_like(own)
    # The ring's grid goes on from the region's own, as far as the picture reaches.
    above, before = (min(-(-grow // step), start // step) for start in (region.rows.start, region.columns.start))
    top, left = region.rows.start - above * step, region.columns.start - before * step
    rows = slice(top, min(picture.height, region.rows.stop + grow), step)
    columns = slice(left, min(picture.width, region.columns.stop + grow), step)
    small = np.zeros((len(range(*rows.indices(picture.height))), len(range(*columns.indices(picture.width)))), np.uint8)
    small[above : above + own.shape[0], before : before + own.shape[1]] = own[
        : small.shape[0] - above, : small.shape[1] - before
    ]
    distance = cv2.distanceTransform(1 - small, cv2.DIST_L2, 3) * step
    ring = (distance > max(1.5, 0.08 * reach)) & (distance <= reach)
    linear = picture.linear(rows, columns)
    pixels = linear[ring] if ring.any() else linear.reshape(-1, 3)
    L, a, b = linear_to_lab(held_to_white((balance or Balance()).apply(pixels.mean(axis=0)[None])))[0].tolist()
    return L, a, b
