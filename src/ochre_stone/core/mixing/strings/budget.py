"""Which piles to keep where a painter wants to mix only so many.

Dropping a pile costs each of its notes what it weighs times how far off it then is painted: the CIEDE2000 to the
nearest pile that is kept. The least total is the p-median problem (Hakimi 1964, Oper. Res. 12), solved to the optimum
as a mixed integer linear programme by HiGHS.
"""

from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.later import later

optimize = later("scipy.optimize")
sparse = later("scipy.sparse")


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


def loss(lab: npt.ArrayLike, weights: npt.ArrayLike, keep: Sequence[int]) -> float:
    """What keeping only these costs: the sum that :func:`kept` makes least."""
    colours, weight = np.asarray(lab, dtype=float).reshape(-1, 3), np.asarray(weights, dtype=float)
    gap = np.asarray(ciede2000(colours[:, None, :], colours[None, list(keep), :]))
    return float(weight @ gap.min(axis=1))


def _p_median(cost: Array, most: int) -> list[int]:

    n = len(cost)
    # y (n): kept; x (n * n): i is painted by j. Only y has to be whole: x follows.
    c = np.concatenate([np.full(n, 1e-9), cost.ravel()])
    each = sparse.hstack([sparse.csr_matrix((n, n)), sparse.kron(sparse.eye(n), np.ones((1, n)))])
    only_kept = sparse.hstack([-sparse.kron(np.ones((n, 1)), sparse.eye(n)), sparse.eye(n * n)])
    count = sparse.coo_matrix(np.concatenate([np.ones(n), np.zeros(n * n)])[None])
    whole = np.concatenate([np.ones(n), np.zeros(n * n)])
    found = optimize.milp(
        c,
        integrality=whole,
        bounds=optimize.Bounds(0, 1),
        constraints=[
            optimize.LinearConstraint(each.tocsr(), 1, 1),
            optimize.LinearConstraint(only_kept.tocsr(), -np.inf, 0),
            optimize.LinearConstraint(count.tocsr(), 0, max(most, 1)),
        ],
    )
    return np.flatnonzero(found.x[:n] > 0.5).tolist()
