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
    from scipy.optimize import Bounds, LinearConstraint, milp
    from scipy.sparse import coo_matrix, csr_matrix, eye, hstack, kron

    n = len(cost)
    # y (n): kept; x (n * n): i is painted by j. Only y has to be whole: x follows.
    c = np.concatenate([np.full(n, 1e-9), cost.ravel()])
    each = hstack([csr_matrix((n, n)), kron(eye(n), np.ones((1, n)))])
    only_kept = hstack([-kron(np.ones((n, 1)), eye(n)), eye(n * n)])
    count = coo_matrix(np.concatenate([np.ones(n), np.zeros(n * n)])[None])
    whole = np.concatenate([np.ones(n), np.zeros(n * n)])
    found = milp(
        c, integrality=whole, bounds=Bounds(0, 1),
        constraints=[LinearConstraint(each.tocsr(), 1, 1), LinearConstraint(only_kept.tocsr(), -np.inf, 0),
                     LinearConstraint(count.tocsr(), 0, max(most, 1))],
    )  # fmt: skip
    return np.flatnonzero(found.x[:n] > 0.5).tolist()
