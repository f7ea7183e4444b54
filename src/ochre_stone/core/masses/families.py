"""Two families of masses, light and shadow: where they break the rule, and the least that mends it.

The rule (common practice, no source): the darkest light is lighter than the lightest shadow. No criterion on a single
picture finds the families for sure (figures in docs/masses.md, by benchmarks/masses), so the division
is a suggestion that the painter corrects.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import Array

Family = Literal["light", "shadow"]
GAP = 0.5
"""Value steps that a repair leaves between the darkest light and the lightest shadow."""
_SHOWN = 0.002  # masses below this share break nothing that an eye would see


@dataclass(frozen=True)
class Break:
    """A light that is not lighter than a shadow; indices of masses."""

    light: int
    shadow: int
    by: float
    """Value steps by which the shadow is lighter."""


def breaks(values: Sequence[float], families: Sequence[Family], shares: Sequence[float]) -> list[Break]:
    """Every pair of masses that breaks the rule, worst first."""
    found = [
        Break(i, j, values[j] - values[i])
        for i, a in enumerate(families)
        if a == "light" and shares[i] > _SHOWN
        for j, b in enumerate(families)
        if b == "shadow" and shares[j] > _SHOWN and values[i] <= values[j]
    ]
    return sorted(found, key=lambda b: -b.by)


def set_apart(values: npt.ArrayLike, families: Sequence[Family], shares: npt.ArrayLike, gap: float = GAP) -> Array:
    """Values (n,) moved so that every light stands at least ``gap`` above every shadow, by the least amount.

    Least is the sum of squared moves weighted by share: for a dividing value t the best is to hold shadows at or below
    t - gap / 2 and lights at or above t + gap / 2, so only t is searched (the cost is convex in t). Values that keep
    the rule by more than the gap do not move.
    """
    v = np.asarray(values, dtype=float)
    w = np.maximum(np.asarray(shares, dtype=float), 1e-4)
    light = np.array([f == "light" for f in families])
    if not light.any() or light.all() or v[light].min() - v[~light].max() >= gap:
        return v.copy()

    def moved(t: float) -> Array:
        return np.asarray(np.where(light, np.maximum(v, t + gap / 2), np.minimum(v, t - gap / 2)))

    low, high = gap / 2, 10 - gap / 2
    for _ in range(60):  # ternary search on a convex cost
        a, b = low + (high - low) / 3, high - (high - low) / 3
        if float((w * (moved(a) - v) ** 2).sum()) <= float((w * (moved(b) - v) ** 2).sum()):
            high = b
        else:
            low = a
    return np.asarray(moved((low + high) / 2))
