"""Key colours of a whole picture, thing by thing."""

from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.keys.cells import CELL, Cells, cells_of
from ochre_stone.core.keys.cover import DUPLICATE, LeftOver, gaps, left_over, medoids
from ochre_stone.core.keys.melt import KeyColour, Known, Melt, melt, things_in
from ochre_stone.core.keys.roles import role_of
from ochre_stone.core.keys.spots import roughness, spot_in
from ochre_stone.core.keys.things import FOCUS_COUNTS, Thing
from ochre_stone.core.later import later
from ochre_stone.core.picture.balance import Balance
from ochre_stone.core.picture.frame import Framed
from ochre_stone.core.picture.picture import Floats

cv2 = later("cv2")

FEWEST, MOST = 2, 40
_MOST_CELLS = 500
_AREA, _ENDS = 0.7, 0.75
"""Powers of a colour's share of its thing, and of its distance from the thing's middle."""
_THINGS = 0.6
"""How much of a colour's weight its thing gives."""
_ACCENTS = 2
_ACCENT_SHARES = (2e-4, 4e-3)
_ACCENT_GAP = 20.0


def _weights(cells: Cells, things: Sequence[Thing]) -> Array:
    """How much each cell counts: its thing's budget, shared by size, distance from the thing's middle and chroma; and
    for two fifths its own size in the whole, so that a broad colour of a slight thing is not lost."""
    home = np.array([t.look.lab for t in things])[cells.thing]
    own = cells.size**_AREA * (1 + np.hypot(cells.mean[:, 1], cells.mean[:, 2]) / 80)
    part = own * (np.linalg.norm(cells.mean - home, axis=1) + 5) ** _ENDS
    per = np.bincount(cells.thing, part, minlength=len(things))
    budget = np.array([t.weight for t in things])[cells.thing] * part / per[cells.thing]
    return np.asarray(_THINGS * budget / budget.sum() + (1 - _THINGS) * own / own.sum())


class _Choice:
    """Which cells stand for all, for one count and another; each thing may always give its largest."""

    def __init__(self, cells: Cells, weight: Array) -> None:
        may = cells.clean >= 10
        for t in np.unique(cells.thing):
            own = np.flatnonzero(cells.thing == t)
            if not may[own].any():
                may[own[cells.size[own].argmax()]] = True
        self._most = np.argsort(-weight, kind="stable")[:_MOST_CELLS]
        self._colours, self._thing = cells.mean[self._most], cells.thing[self._most]
        self._weight, self._may = weight[self._most], may[self._most]
        self._gap = gaps(self._colours, self._may)

    def of(self, count: int, fixed: Array) -> npt.NDArray[np.intp]:
        """Indices of cells; ``fixed`` (m, 3): colours that stand already."""
        return self._most[medoids(self._colours, self._weight, count, self._may, self._thing, fixed, self._gap)]


def accents(melted: Melt, colours: Array, most: int = _ACCENTS) -> list[tuple[int, int, float]]:
    """Row, column and free radius of small strong spots that none of ``colours`` (k, 3) stands for: a tassel, an eye's
    light.

    Spots of 0.02 to 0.4 % of the picture, more than CIEDE2000 20 from every colour; the stronger, the larger and the
    nearer to the middle first.
    """
    soft = np.asarray(cv2.medianBlur(melted.lab, 3))
    code = np.round(soft / CELL).astype(np.int64) + 64
    codes, back = np.unique(((code[..., 0] * 256) + code[..., 1]) * 256 + code[..., 2], return_inverse=True)
    cell = np.stack([codes >> 16, (codes >> 8) & 255, codes & 255], axis=1)
    gap = np.min([ciede2000((cell - 64) * CELL, c) for c in colours], axis=0)
    far = (gap > _ACCENT_GAP)[back].reshape(soft.shape[:2])
    count, pieces, stats, _ = cv2.connectedComponentsWithStats(far.astype(np.uint8), connectivity=4)
    h, w = far.shape
    found = []
    for i in range(1, count):
        share = stats[i, cv2.CC_STAT_AREA] / far.size
        if not _ACCENT_SHARES[0] <= share <= _ACCENT_SHARES[1]:
            continue
        own = pieces == i
        inner = cv2.distanceTransform(np.pad(own, 1).astype(np.uint8), cv2.DIST_L2, 3)[1:-1, 1:-1]
        row, column = (int(v) for v in np.unravel_index(int(inner.argmax()), inner.shape))
        free = float(inner[row, column])
        if free < 2:  # a line, or the seam between two colours
            continue
        colour = soft[row, column].astype(float)
        away = float(np.min(ciede2000(colours, colour)))
        middle = 1 - min(1.0, float(np.hypot(column / w - 0.5, row / h - 0.47)) / 0.6)
        chroma = float(np.hypot(colour[1], colour[2]))
        found.append((away * share**0.25 * (0.5 + middle) * (1 + chroma / 40), row, column, free, colour))
    out: list[tuple[int, int, float]] = []
    taken: list[Array] = []
    for _, row, column, free, colour in sorted(found, key=lambda f: -f[0]):
        if len(out) < most and all(float(ciede2000(colour, t)) > 8 for t in taken):
            out.append((row, column, free))
            taken.append(colour)
    return out


def _without_doubles(found: Sequence[KeyColour]) -> list[KeyColour]:
    """Dark to light; of two of a subject that one pile serves, the one that stands for less is left out."""
    out: list[KeyColour] = []
    for k in sorted(found, key=lambda k: -k.share):
        own = [o for o in out if o.subject == k.subject]
        if all(float(ciede2000(np.array(k.seen.lab), np.array(o.seen.lab))) >= DUPLICATE for o in own):
            out.append(k)
    return sorted(out, key=lambda k: k.seen.lab[0])


def suggest(
    seen: Framed,
    count: int = 12,
    balance: Balance | None = None,
    focus: Floats | None = None,
    known: Sequence[Known] = (),
) -> tuple[list[KeyColour], LeftOver]:
    """About ``count`` key colours (2 to 40) of what the frame shows, dark to light, and what they leave uncovered.

    Each is a clean spot of a thing; ``focus`` (h, w) 0..1 at working size: where the painter looks; ``known``: what
    the painter has named. Raises ValueError for another count.
    """
    if not FEWEST <= count <= MOST:
        raise ValueError(f"{count} notes: choose {FEWEST} to {MOST}")
    melted = melt(seen, balance)
    things = things_in(melted, known, focus)
    rough = roughness(melted.lab, melted.melted)
    clean = rough < max(3.0, float(np.percentile(rough, 60)))
    worth = None if focus is None else np.asarray(1 + FOCUS_COUNTS * focus, dtype=np.float32)
    cells = cells_of(melted.melted, things.number, np.asarray(clean), worth)
    weight = _weights(cells, things.all)
    choice = _Choice(cells, weight)
    small: list[tuple[int, int, float]] = []
    if count >= 6:
        first = choice.of(count - _ACCENTS, np.empty((0, 3)))
        small = accents(melted, cells.mean[first])
    fixed = np.array([melted.lab[r, c] for r, c, _ in small], dtype=float).reshape(-1, 3)
    chosen = choice.of(count - len(small), fixed)
    spots = [
        spot_in(np.asarray(things.number == cells.thing[c]), melted.melted, cells.mean[c], rough)
        for c in chosen.tolist()
    ]
    stands = np.vstack([cells.mean[chosen], fixed])
    apart = np.stack([ciede2000(cells.mean, s) for s in stands], axis=1)
    share = np.bincount(apart.argmin(axis=1), cells.size, minlength=len(stands)) / cells.size.sum()
    out = []
    for i, (row, column, free) in enumerate([*spots, *small]):
        thing = things.at(row, column)
        x, y, aperture, got = melted.spot(row, column, free)
        value = float(value_of_lightness(min(max(got.lab[0], 0.0), 100.0)))
        own = i < len(spots) or thing.sure >= 0.9  # a small accent on a thing is seldom the thing's own stuff
        subject = thing.subject if own else "other"
        role, sure = role_of(value, thing, things.whole), thing.sure if own else 0.0
        out.append(KeyColour(x, y, aperture, got, float(share[i]), subject, role, sure, thing.number))
    out = _without_doubles(out)
    return out, left_over(melted.lab, np.array([k.seen.lab for k in out]))
