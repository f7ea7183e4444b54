"""Which piles to keep where a painter wants to mix only so many.

Dropping a pile costs each of its notes what it weighs times how far off it then is painted: the CIEDE2000 to the
nearest pile that is kept. The least total is the p-median problem (Hakimi 1964, Oper. Res. 12), solved to the optimum
as a mixed integer linear programme by HiGHS.
"""

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.programme import Programme


def kept(lab: npt.ArrayLike, weights: npt.ArrayLike, most: int) -> tuple[list[int], list[int]]:
    """Which of some colours to mix, and by which of these each is painted.

    ``lab`` (n, 3); ``weights`` (n,): what being one CIEDE2000 off costs, above 0; ``most``: how many may be mixed, at
    least 1.

    Returns: indices of those kept, ascending; for each colour the index of the one that it is painted with.
    """
    colours, weight = np.asarray(lab, dtype=float).reshape(-1, 3), np.asarray(weights, dtype=float)
    n = len(colours)
    if most >= n:
        return list(range(n)), list(range(n))
    gap = np.asarray(ciede2000(colours[:, None, :], colours[None, :, :]))
    keep = _p_median(gap * weight[:, None], most)
    return keep, [keep[int(gap[i, keep].argmin())] for i in range(n)]


def _p_median(cost: Array, most: int) -> list[int]:
    n = len(cost)
    # y (n): kept; x (n * n): i is painted by j. Only y has to be whole: x follows.
    c = np.concatenate([np.full(n, 1e-9), cost.ravel()])
    programme = Programme(c, np.zeros(len(c)), np.ones(len(c)), np.arange(len(c)) < n)
    for i in range(n):
        mine = n + n * i
        programme.row([(mine + j, 1.0) for j in range(n)], 1.0, 1.0)
        for j in range(n):
            programme.row([(mine + j, 1.0), (j, -1.0)], high=0.0)
    programme.row([(j, 1.0) for j in range(n)], 0.0, float(max(most, 1)))
    found = programme.solve().x
    assert found is not None  # keeping any one holds all rows
    return np.flatnonzero(found[:n] > 0.5).tolist()
