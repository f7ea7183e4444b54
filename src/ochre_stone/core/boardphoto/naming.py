"""Which planned pile each pile in the photo is: by colour and place together, all at once.

The cost of a pair is the square of its distance in colour over mixing errors and noise, and in place over how well the
layout was followed; a whole assignment is the cheapest (Hungarian method, SciPy), with a cost for each pile that nobody
planned and for each planned one that is not there. How sure a name is comes from the cheapest whole without it.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ochre_stone.core.boardphoto.layout import Layout, SeenRegion
from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.later import later

optimize = later("scipy.optimize")

MIX_SD, TUBE_SD = 2.8, 2.0
"""How far piles are mixed off, and dabs of tubes are off their data, in each direction of CIEDE2000."""
PLACE_SD, DAB_SD = 1.1, 0.8
"""First guess at how far piles lie from their places, and how far dabs do, cm in each direction."""
_UNKNOWN, _MISSING = 13.0, 5.2
_CAPPED, _NEVER = 30.0, 1e6
_TEMPER, _PRIOR = 2.6, 1.5
"""Mixing errors have longer tails than a bell, and the next best whole is not the only other one."""


@dataclass(frozen=True, eq=False)
class _Costs:
    """Costs of all pairs, those of none behind them."""

    full: Array
    rows: Array
    columns: Array
    piles: int
    names: int


def cost_of(piles: Sequence[SeenRegion], layout: Layout) -> float:
    """What the best names of ``piles`` cost: less where they are explained better."""
    if not piles or not layout.expected:
        return 0.0
    costs = _settled(piles, layout)
    return float(costs.full[costs.rows, costs.columns].sum())


def name_all(piles: Sequence[SeenRegion], layout: Layout) -> list[SeenRegion]:
    """``piles`` with the name of what each is taken for, how sure that is, and the next best name."""
    if not piles or not layout.expected:
        return [replace(p, id="", is_tube=False, sure=0.0, other="") for p in piles]
    costs = _settled(piles, layout)
    whole = float(costs.full[costs.rows, costs.columns].sum())
    out = []
    for i, j in zip(costs.rows, costs.columns, strict=True):
        if i >= costs.piles:
            continue
        without = costs.full.copy()
        without[i, j] = _NEVER
        rows, columns = optimize.linear_sum_assignment(without)
        gap = float(without[rows, columns].sum()) - whole
        named = j < costs.names
        second = int(columns[int(np.flatnonzero(rows == i)[0])])
        expected = layout.expected[j] if named else None
        out.append(
            replace(
                piles[i],
                id=expected.id if expected else "",
                is_tube=bool(expected and expected.is_tube),
                sure=float(1 / (1 + _PRIOR * np.exp(-gap / _TEMPER))) if named else 0.0,
                other=layout.expected[second].id if second < costs.names else "",
            )
        )
    return out


def _settled(piles: Sequence[SeenRegion], layout: Layout) -> _Costs:
    """Costs once the shift of the layout and of all colours is estimated along with the names."""
    lab, at = np.array([e.lab for e in layout.expected]), np.array([(e.x, e.y) for e in layout.expected])
    tube = np.array([e.is_tube for e in layout.expected])
    seen, read = np.array([(p.x, p.y) for p in piles]), np.array([p.lab for p in piles])
    noise = np.array([p.noise for p in piles])
    n, m = len(piles), len(layout.expected)
    turn, shift, offset, spread = np.eye(2), np.zeros(2), np.zeros(3), 2 * PLACE_SD - 0.2
    costs = None
    for _ in range(8):
        gap = ciede2000((read - offset)[:, None], lab[None])
        colour = np.minimum(gap**2 / (np.where(tube, TUBE_SD, MIX_SD)[None] ** 2 + noise[:, None] ** 2), _CAPPED)
        goal = np.where(tube[:, None], at, at @ turn.T + shift)  # tubes do not wander with the piles
        apart = ((seen[:, None] - goal[None]) ** 2).sum(axis=2)
        reach = np.where(tube, DAB_SD, spread)[None]
        pair = colour + np.minimum(apart / reach**2, _CAPPED) + 2 * np.log(reach)
        full = np.zeros((n + m, m + n))
        full[:n, :m] = pair
        full[:n, m:] = np.where(np.eye(n, dtype=bool), _UNKNOWN, _NEVER)
        full[n:, :m] = np.where(np.eye(m, dtype=bool), _MISSING, _NEVER)
        rows, columns = optimize.linear_sum_assignment(full)
        costs = _Costs(full, rows, columns, n, m)
        got = np.array([(i, j) for i, j in zip(rows, columns, strict=True) if i < n and j < m and not tube[j]])
        if len(got) < 3:
            break
        i, j = got.T
        weight = 1 / (1 + pair[i, j] / 6)
        turn, shift = _similarity(at[j], seen[i], weight)
        left = seen[i] - (at[j] @ turn.T + shift)
        spread = float(np.clip(np.sqrt((weight[:, None] * left**2).sum() / (2 * weight.sum())) * 1.15, 0.5, 1.6))
        offset = np.median(read[i] - lab[j], axis=0) * len(i) / (len(i) + 10)
    assert costs is not None
    return costs


def _similarity(a: Array, b: Array, weight: Array) -> tuple[Array, Array]:
    """Scale and turn (2, 2) and shift (2,) that take ``a`` to ``b`` (n, 2), held near no change where there are few."""
    w = weight / weight.sum()
    ma, mb = w @ a, w @ b
    x, y = a - ma, b - mb
    size = float((w[:, None] * x * x).sum()) + 4.0
    c = (float((w[:, None] * x * y).sum()) + 4.0) / size
    s = float((w * (x[:, 0] * y[:, 1] - x[:, 1] * y[:, 0])).sum()) / size
    turn = np.array([[c, -s], [s, c]])
    return turn, mb - turn @ ma
