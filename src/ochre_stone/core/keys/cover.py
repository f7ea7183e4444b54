"""Few colours that stand for many, and what they leave over.

Method: k-medoids (Kaufman and Rousseeuw 1990, Finding Groups in Data) on CIEDE2000, seeded greedily and improved by
swaps while they help: each chosen colour is one that is there, not a mean of several.
"""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.picture.picture import Floats

CAP = 14.0
"""CIEDE2000 beyond which farther is no worse: no note stands for it either way."""
DUPLICATE = 3.0
"""CIEDE2000 below which two notes of one subject are near-duplicates: one pile serves both."""
_SWEEPS = 4

Indices = npt.NDArray[np.intp]


@dataclass(frozen=True)
class LeftOver:
    """How far the picture's colours lie from the nearest note, CIEDE2000."""

    mean: float
    p95: float

    def words(self, notes: int) -> str:
        """What is covered and what is not, as a painter would say it."""
        said = (
            "cover the picture closely"
            if self.mean < 4
            else "cover the picture well"
            if self.mean < 6
            else "cover most of the picture"
            if self.mean < 9
            else "leave much of the picture uncovered"
        )
        typical = (
            "a touch of paint away"
            if self.mean < 4
            else "a small correction away"
            if self.mean < 6
            else "a clear correction away"
            if self.mean < 9
            else "another pile away"
        )
        far = (
            "even the least covered twentieth is near one"
            if self.p95 < 9
            else "one spot in twenty needs a correction of its pile"
            if self.p95 < 14
            else "one spot in twenty has no note near it: look for small accents"
        )
        plural = f"{notes} notes" if notes != 1 else "1 note"
        return f"{plural} {said}: a typical spot lies {typical} ({self.mean:.0f}), {far} ({self.p95:.0f})."


def nearest(lab: Floats, colours: Array) -> Indices:
    """Index (h, w) of the nearest of ``colours`` (k, 3) for every pixel, by Euclidean Lab distance."""
    goal = np.asarray(colours, dtype=np.float32)
    flat = lab.reshape(-1, 3)
    score = flat @ goal.T * -2 + (goal**2).sum(axis=1)
    return np.asarray(score.argmin(axis=1).reshape(lab.shape[:2]))


def left_over(lab: Floats, colours: Array) -> LeftOver:
    """What notes of these colours leave uncovered, on at most 8,000 pixels of a Lab picture."""
    flat = lab.reshape(-1, 3)
    flat = flat[:: max(1, len(flat) // 8_000)].astype(float)
    gap = np.min([ciede2000(flat, c) for c in colours], axis=0)
    return LeftOver(float(gap.mean()), float(np.percentile(gap, 95)))


def gaps(colours: Array, among: npt.NDArray[np.bool_]) -> Array:
    """CIEDE2000 (n, m) of all ``colours`` (n, 3) from the m of them that may be chosen."""
    may = colours[among]
    return np.stack([ciede2000(colours, c) for c in may], axis=1) if len(may) else np.empty((len(colours), 0))


def medoids(
    colours: Array,
    weight: Array,
    count: int,
    among: npt.NDArray[np.bool_],
    apart: npt.NDArray[np.int64] | None = None,
    fixed: Array | None = None,
    gap: Array | None = None,
) -> Indices:
    """Indices of at most ``count`` of ``colours`` (n, 3) that stand best for all, by weight (n,).

    ``among`` (n,): which may be chosen; ``apart`` (n,): number of the thing of each, where a colour of another thing
    counts half a CIEDE2000 farther; ``fixed`` (m, 3): colours that stand already; ``gap``: as of :func:`gaps`, where
    it is at hand. The cost is the weighted mean of CIEDE2000 to the nearest, no more than CAP; greedy, then swaps.
    """
    may = np.flatnonzero(among)
    gap = gaps(colours, among) if gap is None else gap
    if apart is not None:
        gap = gap + 0.5 * (apart[:, None] != apart[may][None])
    cost = weight[:, None] * np.minimum(gap, CAP)
    base = weight * CAP
    if fixed is not None and len(fixed):
        stands = np.min([ciede2000(colours, c) for c in fixed], axis=0)
        base = weight * np.minimum(stands, CAP)
    chosen: list[int] = []
    best = base.copy()
    for _ in range(min(count, len(may))):
        total = np.minimum(best[:, None], cost).sum(axis=0)
        total[chosen] = np.inf
        chosen.append(int(total.argmin()))
        best = np.minimum(best, cost[:, chosen[-1]])
    for _ in range(_SWEEPS):
        changed = False
        for s in range(len(chosen)):
            rest = chosen[:s] + chosen[s + 1 :]
            without = np.minimum(base, cost[:, rest].min(axis=1)) if rest else base
            total = np.minimum(without[:, None], cost).sum(axis=0)
            total[rest] = np.inf
            other = int(total.argmin())
            if other != chosen[s] and total[other] < total[chosen[s]] - 1e-9:
                chosen[s] = other
                changed = True
        if not changed:
            break
    return np.asarray(may[chosen])
