"""Round mixtures to parts that a hand can measure, by search.

A part is one equal measure by volume, a touch a quarter of a part. Naive rounding of the best mixture costs a median
of 1.55 CIEDE2000; trying both neighbours of every amount at many scales, over many subsets, costs about .2.
"""

import functools
import itertools

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.mixing.recipe.search import Found, Ints, Paints

TOUCH = 0.25
MOST_PARTS = 20.0
"""More than this cannot be counted out with a knife."""
LEVELS: Array = np.array([0.0, TOUCH, 0.5, *range(1, 21)])
_LEAST_WAYS = 10
_SCALES: Array = np.exp(np.linspace(0.0, np.log(MOST_PARTS), 40))


@functools.cache
def _corners(k: int) -> Ints:
    return np.array(list(itertools.product((0, 1), repeat=k)), dtype=np.intp)


def neighbours(shares: Array, most: float = MOST_PARTS) -> Array:
    """All ways (m, k) to round ``shares`` (k,) down or up to ``LEVELS`` at 40 scales, at most ``most`` parts in all."""
    x = _SCALES[:, None] * shares[None]
    low = np.clip(np.searchsorted(LEVELS, x + 1e-9, "right") - 1, 0, len(LEVELS) - 2)
    up = _corners(len(shares))[None] * (shares > 1e-9)  # what a mixture leaves out stays out
    level = (low[:, None, :] + up).reshape(-1, len(shares))
    code = level @ (len(LEVELS) ** np.arange(len(shares)))
    parts = LEVELS[level[np.unique(code, return_index=True)[1]]]
    total = parts.sum(axis=1)
    return np.asarray(parts[(total <= most) & (total > 0)])


def reduce_parts(parts: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
    """The same proportions in the smallest amounts on the scale of parts, without touches where whole parts do.

    A row like 2, 4, 0 becomes 1, 2, 0. Amounts in quarters stay exact.
    """
    quarters = np.round(parts / TOUCH).astype(int)
    divisor = int(np.gcd.reduce(quarters[quarters > 0]))
    smallest = quarters // divisor  # the proportions in lowest terms, in whole units
    if smallest.sum() <= MOST_PARTS:
        return smallest.astype(float)
    return parts


def _cheap_distance(lab: Array, target: Array) -> Array:
    """Lab distance with chroma weighted as in CIEDE2000: enough to drop hopeless roundings before the exact formula."""
    shrink = 1 / (1 + 0.045 * np.hypot(target[1], target[2]))
    return np.asarray(np.linalg.norm((lab - target) * np.array([2.0, shrink, shrink]), axis=1))


def round_found(
    paints: Paints, target: Array, found: Found, subsets: int = 60, most: float = MOST_PARTS,
    least: tuple[int, float] | None = None,
) -> tuple[Array, Array, Ints, Array]:  # fmt: skip
    """Measurable versions of continuous mixtures: weighted error (m,), parts (m, k), tube index (m, k), Lab (m, 3).

    ``least``: a source and its least share, kept to where that can be. One row per subset (its best rounding), more
    where there are few subsets, best first. Cost: some 600 mixtures each.
    """
    pieces = [neighbours(c, most) for c in found.shares[:subsets]]
    owner = np.repeat(np.arange(len(pieces)), [len(p) for p in pieces])
    parts = np.concatenate(pieces)
    index = found.index[: len(pieces)][owner]
    if least is not None:
        held = (parts * (index == least[0])).sum(axis=1) >= least[1] * parts.sum(axis=1)
        if held.any():
            parts, index, owner = parts[held], index[held], np.unique(owner[held], return_inverse=True)[1]
    lab = paints.lab(parts / parts.sum(axis=1, keepdims=True), index)
    near = _cheap_distance(lab, target)
    close = near <= np.minimum.reduceat(near, np.flatnonzero(np.diff(owner, prepend=-1)))[owner] * 1.8 + 0.5
    parts, index, lab, owner = parts[close], index[close], lab[close], owner[close]
    error = paints.error(lab, target)
    # Touches and many parts cost care: prefer the simpler of two equal roundings.
    care = 0.02 * (parts > 0).sum(axis=1) + 0.01 * (parts % 1 > 0).sum(axis=1) + 0.004 * parts.sum(axis=1)
    order = np.lexsort((error + care, owner))
    begins = np.flatnonzero(np.diff(owner[order], prepend=-1))
    each = max(1, _LEAST_WAYS // len(begins))
    rank = np.arange(len(order)) - np.repeat(begins, np.diff(np.append(begins, len(order))))
    first = order[rank < each]
    first = first[np.argsort((error + care)[first])]
    return error[first], parts[first], index[first], lab[first]
