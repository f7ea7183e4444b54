"""Strings in the shapes that painters mix: one light, two middles, three darks; light, middle, dark."""

from collections.abc import Mapping, Sequence

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.munsell import lightness_of_value
from ochre_stone.core.mixing.strings.budget import kept
from ochre_stone.core.mixing.strings.targets import PileTarget, curve_through

SHAPES: dict[str, tuple[str, tuple[int, int, int]]] = {
    "1-2-3": ("1 light, 2 middles, 3 darks", (1, 2, 3)),
    "1-1-1": ("light, middle, dark", (1, 1, 1)),
}
"""By id: words; lights, middles and darks. Common practice, no source."""
_NARROW = 1.0
"""Value steps below which a string has no lights, middles and darks."""


def shaped(
    standing: Sequence[PileTarget],
    notes: npt.ArrayLike,
    weights: npt.ArrayLike,
    ids: Sequence[str],
    counts: tuple[int, int, int],
) -> list[PileTarget]:
    """So many lights, middles and darks, dark to light, of a string.

    ``standing``: a pile on each note; ``notes`` Lab (n, 3), what each weighs and its id (n,). The range of
    the notes is cut in three even bands of value. In each the piles that lose least are kept; where a band has fewer
    than asked, steps on the curve through the notes fill its widest gap. A string that spans less than one value keeps
    what loses least of as many in all.
    """
    lab, weight = np.asarray(notes, dtype=float).reshape(-1, 3), np.asarray(weights, dtype=float)
    row = sorted(standing, key=lambda t: t.lab[0])
    worth = dict(zip(ids, weight.tolist(), strict=True))
    low, high = row[0].value, row[-1].value
    if high - low < _NARROW:
        return _fewer(row, sum(counts), worth)
    edges = np.linspace(low, high, 4)
    band = np.clip(np.searchsorted(edges[1:3], [t.value for t in row], side="right"), 0, 2)
    value, path = curve_through(lab, weight)
    out: list[PileTarget] = []
    for k, count in enumerate(reversed(counts)):  # dark, middle, light
        own = _fewer([t for t, b in zip(row, band.tolist(), strict=True) if b == k], count, worth)
        grid = np.linspace(edges[k], edges[k + 1], 13)[1:-1]
        while len(own) < count:
            there = np.array([t.value for t in (*out, *own)] or [low - 1])
            goal = float(grid[np.abs(grid[:, None] - there).min(axis=1).argmax()])
            a, b = path(float(np.clip(goal, value[0], value[-1]))).tolist()
            own.append(PileTarget((float(lightness_of_value(goal)), a, b), round(goal, 2), "between"))
        out += own
    return sorted(out, key=lambda t: t.lab[0])


def _fewer(row: Sequence[PileTarget], most: int, worth: Mapping[str, float]) -> list[PileTarget]:
    """At most so many, those that lose least; a pile weighs what the notes that share it do."""
    if len(row) <= most:
        return list(row)
    keep, _ = kept([t.lab for t in row], [sum(worth[i] for i in t.notes) for t in row], most)
    return [row[k] for k in keep]
