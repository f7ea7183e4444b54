"""Exact optimal cuts of a value histogram, for every count at once.

Within-class variance is minimised by dynamic programming over the histogram (Fisher 1958, J. Am. Stat. Assoc. 53; the
criterion of Otsu 1979, IEEE Trans. SMC 9, for several classes). Cost: bins^2 times counts, about 10 ms for 256 bins
and 2 to 9 classes, where exhaustive multi-level search explodes.
"""

from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import Array

TONE_BINS = 256
TOP = 10.0
"""Values run from 0 to 10 (Munsell)."""


def histogram(value: npt.ArrayLike) -> Array:
    """Counts (256,) of values 0..10."""
    bins = np.clip(np.asarray(value).ravel() * (TONE_BINS / TOP), 0, TONE_BINS - 1).astype(np.int64)
    return np.bincount(bins, minlength=TONE_BINS).astype(float)


def optimal_cuts(counts: npt.ArrayLike, most: int = 9, locked: Sequence[float] = ()) -> dict[int, Array]:
    """Cuts (k - 1,) in value for every k from 2 to ``most`` classes, as far as the locked ones leave room.

    ``counts`` (n,): histogram over 0..10, at least one pixel. A pixel belongs to the upper class when its bin starts
    at or above the cut. ``locked``: cuts that stay; no class may reach across one, so the others are the best that
    these allow. Counts that have too few classes for them are left out. Raises ValueError for an empty histogram, or
    locked cuts that are no different bins inside the scale.
    """
    h = np.asarray(counts, dtype=float)
    if h.ndim != 1 or h.sum() <= 0:
        raise ValueError("the histogram needs at least one pixel")
    if not 2 <= most <= len(h):
        raise ValueError(f"{most} classes: choose 2 to {len(h)}")
    n = len(h)
    fixed = sorted({round(c * n / TOP) for c in locked})
    if len(fixed) != len(locked) or (fixed and not (fixed[0] > 0 and fixed[-1] < n)):
        raise ValueError("locked thresholds must be different and inside the scale")
    x = (np.arange(n) + 0.5) * TOP / n
    zero = np.zeros(1)
    w, s, q = (np.concatenate([zero, np.cumsum(a)]) for a in (h, h * x, h * x * x))
    dw, ds, dq = (a[None, :] - a[:, None] for a in (w, s, q))
    cost = np.where(dw > 0, dq - ds * ds / np.maximum(dw, 1e-12), 0.0)  # of bins i to j - 1
    cost[np.tril_indices(n + 1, 0)] = np.inf  # a class holds at least one bin
    for bar in fixed:
        cost[:bar, bar + 1 :] = np.inf
    best = cost[0].copy()
    steps: list[npt.NDArray[np.intp]] = []
    out: dict[int, Array] = {}
    for k in range(2, most + 1):
        total = best[:, None] + cost
        back = total.argmin(axis=0)
        best = total[back, np.arange(n + 1)]
        steps.append(back)
        if not np.isfinite(best[n]):
            continue
        j, cuts = n, []
        for chosen in reversed(steps):
            j = int(chosen[j])
            cuts.append(j)
        out[k] = np.array(cuts[::-1]) * TOP / n
    return out


def equal_cuts(count: int, low: float = 0.0, high: float = TOP) -> tuple[float, ...]:
    """Cuts (count - 1,) that part the scale from ``low`` to ``high`` into ``count`` equal steps."""
    return tuple(round(float(c), 4) for c in np.linspace(low, high, count + 1)[1:-1])


def within_variance(counts: npt.ArrayLike, cuts: npt.ArrayLike) -> float:
    """Mean squared distance of the values from the mean of their class, in value steps squared."""
    h = np.asarray(counts, dtype=float)
    x = (np.arange(len(h)) + 0.5) * TOP / len(h)
    starts = np.arange(len(h)) * TOP / len(h)
    owner = np.searchsorted(np.asarray(cuts, dtype=float) - 1e-9, starts, side="right")
    k = int(owner.max()) + 1
    w = np.bincount(owner, h, minlength=k)
    mean = np.bincount(owner, h * x, minlength=k) / np.maximum(w, 1e-12)
    return float((h * (x - mean[owner]) ** 2).sum() / h.sum())


def classes(value: npt.ArrayLike, cuts: npt.ArrayLike) -> npt.NDArray[np.uint8]:
    """Class (...) of values, 0 is the darkest; bins as in :func:`histogram`."""
    table = np.searchsorted(
        np.asarray(cuts, dtype=float) - 1e-9, np.arange(TONE_BINS) * TOP / TONE_BINS, side="right"
    ).astype(np.uint8)
    bins = np.clip(np.asarray(value) * (TONE_BINS / TOP) + 1e-6, 0, TONE_BINS - 1).astype(np.int64)
    return np.asarray(table[bins])
