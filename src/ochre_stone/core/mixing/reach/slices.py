"""What a palette can reach: its gamut by slices of value, which notes lie inside, and which tube would bring more in.

The mixtures of n tubes are the image of an (n - 1)-simplex in three dimensions. Its skin lies on images of mixtures of
three tubes but for folds, where four give no more room than three do; so every triple is laid out as a net of
triangles, each net is cut at the value, and what the cuts enclose is the slice. This is the true extent: a line between
two tubes bends in colour space, and the hull of the tubes would promise what cannot be mixed.
"""

import itertools
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ochre_stone.core.advice.frame import by_name, of_tube
from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.munsell import lightness_of_value
from ochre_stone.core.colour.spaces import Array, as_lab
from ochre_stone.core.later import later
from ochre_stone.core.mixing.recipe.nearness import REACH
from ochre_stone.core.mixing.recipe.search import Searcher, searcher
from ochre_stone.core.paint.optics import USUAL, Surface, layer_lab
from ochre_stone.core.paint.tubes import Tube

cv2 = later("cv2")

_NET = 14
"""Steps along each side of a net."""
_SPAN, _SCALE = 140.0, 3.0
"""Slices are drawn from -140 to 140 in a* and b*, three pixels to a unit."""
_LINE = 2
_PROMISING = 20
"""Candidates that are searched closely, the rest by a coarse grid only."""


@dataclass(frozen=True)
class Slice:
    """What can be mixed at one value."""

    value: float
    outlines: tuple[tuple[tuple[float, float], ...], ...]
    """Closed outlines in a*, b*; none where the value cannot be reached."""

    @property
    def area(self) -> float:
        """In square units of CIELAB."""
        return sum(_area(np.array(o)) for o in self.outlines)

    def holds(self, a: float, b: float) -> bool:
        """Whether a colour of this value lies inside."""
        return any(
            cv2.pointPolygonTest(np.array(o, dtype=np.float32).reshape(-1, 1, 2), (float(a), float(b)), False) >= 0
            for o in self.outlines
        )


def _area(points: Array) -> float:
    x, y = points[:, 0], points[:, 1]
    return abs(float(x @ np.roll(y, -1) - y @ np.roll(x, -1))) / 2


class Nets:
    """The nets of all triples of a palette, ready to be cut at any value."""

    def __init__(self, tubes: Sequence[Tube], surface: Surface = USUAL) -> None:
        power = np.array([t.strength for t in tubes])
        K, S = np.stack([t.K for t in tubes]), np.stack([t.S for t in tubes])
        k = min(3, len(tubes))
        steps = np.array([p for p in itertools.product(range(_NET + 1), repeat=k) if sum(p) == _NET])
        at = {tuple(p): i for i, p in enumerate(steps.tolist())}
        # Finer toward the corners, where a little of a strong paint does much.
        grid = (1 - np.cos(np.pi * steps / _NET)) / 2
        grid = grid / grid.sum(axis=1, keepdims=True)
        labs = []
        for three in itertools.combinations(range(len(tubes)), k):
            c = grid / power[list(three)]
            c = c / c.sum(axis=1, keepdims=True)
            labs.append(layer_lab(c @ K[list(three)], c @ S[list(three)], surface))
        self.lab = np.stack(labs)
        if k == 3:
            up = [
                (at[i, j, _NET - i - j], at[i + 1, j, _NET - i - j - 1], at[i, j + 1, _NET - i - j - 1])
                for i in range(_NET)
                for j in range(_NET - i)
            ]
            down = [
                (at[i + 1, j, _NET - i - j - 1], at[i, j + 1, _NET - i - j - 1], at[i + 1, j + 1, _NET - i - j - 2])
                for i in range(_NET - 1)
                for j in range(_NET - 1 - i)
            ]
            self.faces = np.array(up + down)
        else:
            self.faces = np.array([(i, min(i + 1, len(steps) - 1), i) for i in range(len(steps))])

    def slice(self, value: float) -> Slice:
        """What can be mixed at a Munsell value."""
        cut = float(lightness_of_value(value))
        corners = self.lab[:, self.faces].reshape(-1, 3, 3)
        light = corners[..., 0]
        corners = corners[(light.min(axis=1) <= cut) & (light.max(axis=1) > cut)]
        size = int(2 * _SPAN * _SCALE) + 1
        drawn = np.zeros((size, size), dtype=np.uint8)
        ends = []
        for i, j in ((0, 1), (1, 2), (2, 0)):
            low, high = corners[:, i], corners[:, j]
            step = high[:, 0] - low[:, 0]
            t = np.where(np.abs(step) > 1e-12, (cut - low[:, 0]) / np.where(step == 0, 1, step), np.nan)
            t = np.where((t >= 0) & (t <= 1), t, np.nan)
            ends.append(low[:, 1:] + t[:, None] * (high[:, 1:] - low[:, 1:]))
        crossed = np.stack(ends, axis=1)  # (m, 3 sides, 2): two of the three are numbers
        for row in crossed:
            points = row[np.isfinite(row[:, 0])]
            if len(points) >= 2:
                line = np.round((points[:2] + _SPAN) * _SCALE).astype(np.int32)
                cv2.line(drawn, line[0].tolist(), line[1].tolist(), 255, _LINE)
        outside = drawn.copy()
        cv2.floodFill(outside, None, (0, 0), 255)
        filled = drawn | cv2.bitwise_not(outside)
        found, _ = cv2.findContours(filled, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
        outlines = tuple(
            tuple((float(x), float(y)) for x, y in c.reshape(-1, 2) / _SCALE - _SPAN) for c in found if len(c) >= 3
        )
        return Slice(value, outlines)


@dataclass(frozen=True)
class NoteReach:
    """How near a palette comes to a colour."""

    lab: tuple[float, float, float]
    nearest: tuple[float, float, float]
    """The colour of the best mixture."""
    far: float
    """CIEDE2000 between them."""

    @property
    def inside(self) -> bool:
        return self.far <= REACH


def reach_of(
    notes: npt.ArrayLike,
    tubes: Sequence[Tube],
    most: int = 4,
    surface: Surface | None = None,
    progress: Callable[[float], None] = lambda share: None,
) -> list[NoteReach]:
    """For each colour Lab (n, 3) the nearest that the tubes can mix. ``progress`` gets 0..1 and may raise."""
    lab = np.asarray(notes, dtype=float).reshape(-1, 3)
    search = searcher(tuple(tubes), most, surface, "even")
    out = []
    for i, goal in enumerate(lab):
        out.append(_reached(search, goal))
        progress((i + 1) / len(lab))
    return out


def _reached(search: Searcher, goal: Array, keep: int = 60) -> NoteReach:
    found = search.find(goal, keep)
    lab = search.paints.lab(found.shares[:1], found.index[:1])[0]
    return NoteReach(as_lab(goal), as_lab(lab), float(ciede2000(lab, goal)))


_PER_DEGREE = 0.02
"""What a degree of hue off the notes weighs against one CIEDE2000 that they stay off."""


@dataclass(frozen=True)
class Addition:
    """What one more tube would bring."""

    tube: Tube
    gained: int
    """Notes that it brings in reach."""
    left: float
    """Sum over the notes outside of how far off they stay, CIEDE2000 beyond the limit."""
    off_name: float = 0.0
    """Degrees by which its hue lies off theirs: of tubes that bring as much, a painter reaches for the nearest."""


def additions(
    outside: npt.ArrayLike,
    tubes: Sequence[Tube],
    candidates: Sequence[Tube],
    most: int = 4,
    surface: Surface | None = None,
    progress: Callable[[float], None] = lambda share: None,
) -> list[Addition]:
    """Each candidate added to the palette, the one that brings most of the colours ``outside`` (n, 3) in first; of many
    the twenty most promising."""
    lab = np.asarray(outside, dtype=float).reshape(-1, 3)
    held = {t.id for t in tubes}
    news = [c for c in candidates if c.id not in held]
    before = np.array([r.far for r in reach_of(lab, tubes, most, surface)])
    searches = []
    for i, new in enumerate(news):
        search = Searcher([*tubes, new], most, surface, "even", must=len(tubes))
        rough = np.minimum(before, [search.rough(goal) for goal in lab])
        searches.append((float(np.maximum(rough - REACH, 0).sum()), new, search))
        progress(0.5 * (i + 1) / len(news))
    out = []
    promising = sorted(searches, key=lambda s: s[0])[:_PROMISING]
    for i, (_, new, search) in enumerate(promising):
        after = np.minimum(before, [_reached(search, goal, 16).far for goal in lab])
        gain = (before > REACH) & (after <= REACH)
        name = by_name(of_tube(new, surface or USUAL), lab[gain] if gain.any() else lab)
        out.append(Addition(new, int(gain.sum()), float(np.maximum(after - REACH, 0).sum()), name))
        progress(0.5 + 0.5 * (i + 1) / len(promising))
    return sorted(out, key=lambda a: (-a.gained, a.left + _PER_DEGREE * a.off_name))
