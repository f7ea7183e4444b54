"""The axis of values that every station shares: light above, dark below, always in the same place."""

from collections.abc import Sequence

import numpy as np

from ochre_stone.core.curves import nearest_rising
from ochre_stone.desktop.widgets import theme

TOP, BOTTOM = 26.0, 22.0
"""Room above value 10 and below value 0, in pixels."""


def ramp() -> float:
    """Where the ramp begins, right of the numbers."""
    return float(theme.sized(28))


def y_of(value: float, height: float) -> float:
    """How far down a value (0..10) stands in a widget of that height."""
    return TOP + (1 - value / 10) * (height - TOP - BOTTOM)


def value_at(y: float, height: float) -> float:
    """The value that stands that far down; outside 0..10 beyond the ends."""
    return (1 - (y - TOP) / max(height - TOP - BOTTOM, 1.0)) * 10


def spread_apart(places: Sequence[float], gap: float, low: float, high: float) -> list[float]:
    """Places in rising order, moved as little as keeps them ``gap`` apart and between ``low`` and ``high``.

    Least squares over all that hold that order (isotonic regression, pool adjacent violators; held to bounds, the
    answer of the free problem is cut to them). Where there is no room for the gap it is made as small as there is.

    >>> spread([10, 11, 30], 5, 0, 100)
    [8.0, 13.0, 30.0]
    """
    n = len(places)
    if n == 0:
        return []
    gap = min(gap, (high - low) / max(n - 1, 1))
    steps = gap * np.arange(n)
    free = nearest_rising(np.asarray(places, dtype=float) - steps)
    return [float(v) for v in np.clip(free, low, max(high - steps[-1], low)) + steps]


def lanes(places: Sequence[float], gap: float, count: int, low: float, high: float) -> list[tuple[int, float]]:
    """A lane and a place for each of ``places`` (rising): the first lane with room at the very place, else the lane
    that moves it least; within a lane they stand ``gap`` apart."""
    held: list[list[int]] = [[] for _ in range(max(count, 1))]
    for i, place in enumerate(places):
        ends = [places[lane[-1]] if lane else -1e9 for lane in held]
        free = next((k for k, end in enumerate(ends) if place - end >= gap), None)
        held[free if free is not None else int(np.argmin(ends))].append(i)
    out: list[tuple[int, float]] = [(0, 0.0)] * len(places)
    for k, lane in enumerate(held):
        for i, y in zip(lane, spread_apart([places[i] for i in lane], gap, low, high), strict=True):
            out[i] = (k, y)
    return out
