"""Round mixtures to parts that a hand can measure, by search.

A part is one equal measure by volume, a touch a quarter of a part. Of the many roundings of a mixture, both neighbours
of every amount at many scales, those stay from which a hand gets the nearest (:mod:`hand`): a mixture that is right
on paper and turns with every slip of the knife is worth less than one that is a little off and stays there.
"""

import functools
import itertools
from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np

from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.mixing.recipe.hand import TOUCH, Deviations, Hand, by_eye, propagated
from ochre_stone.core.mixing.recipe.search import Found, Ints, Paints

MOST_PARTS = 20.0
"""More than this cannot be counted out with a knife."""
WHOLE = 8
"""Up to so many parts in all, whole ones are counted rather than touches."""
LEVELS: Array = np.array([0.0, TOUCH, 0.5, *range(1, int(MOST_PARTS) + 1)])
_PER_PART, _PER_TOUCH, _PER_ML, _ON_PAPER = 0.05, 0.05, 0.12, 0.25
"""What a part to count, a touch or half part, a millilitre mixed for the sake of its doses, and an error on paper weigh
against one CIEDE2000 that a hand is expected to be off (judgements)."""
_LEAST_WAYS = 16
_MOST_ROUNDED = 8
_ROOM = 2.0  # how much farther than the nearest a rounding may be that a slip of the knife moves less
_SCALES: Array = np.exp(np.linspace(0.0, np.log(MOST_PARTS), 28))


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
    parts = reduce_parts(LEVELS[level[np.unique(code, return_index=True)[1]]])
    code = np.round(parts * 4).astype(int) @ (4 * len(LEVELS)) ** np.arange(len(shares))
    parts = parts[np.unique(code, return_index=True)[1]]
    total = parts.sum(axis=1)
    return np.asarray(parts[(total <= most) & (total > 0)])


def reduce_parts(parts: Array) -> Array:
    """The same proportions (..., k) in the smallest numbers: whole parts where few do, else as they are with what they
    share divided out.

    2, 4, 0 becomes 1, 2, 0; 1 and a touch becomes 4, 1; 1, 3 and a touch stays: it is counted sooner than 4, 12, 1.
    """
    quarters = np.round(np.asarray(parts, dtype=float) / TOUCH).astype(int)
    lowest = quarters // np.maximum(np.gcd.reduce(quarters, axis=-1, keepdims=True), 1)
    few = lowest.sum(axis=-1, keepdims=True) <= WHOLE
    whole = (quarters % 4 == 0).all(axis=-1, keepdims=True)
    return np.asarray(np.where(few | whole, lowest, quarters * TOUCH), dtype=float)


def _cheap_distance(lab: Array, target: Array) -> Array:
    """Lab distance with chroma weighted as in CIEDE2000: enough to drop hopeless roundings before the exact formula."""
    shrink = 1 / (1 + 0.045 * np.hypot(target[1], target[2]))
    return np.asarray(np.linalg.norm((lab - target) * np.array([2.0, shrink, shrink]), axis=1))


@dataclass(frozen=True)
class Dosing:
    """By whom, and of how much paint, mixtures are dosed."""

    hand: Hand = field(default_factory=Hand)
    ml: float = 0.0
    """Millilitres that are wanted of the pile."""
    deviations: Mapping[int, Deviations] = field(default_factory=dict)
    """Of sources that are dosed by eye themselves, by their index."""
    patience: float = 1.0
    """How much counting weighs: 0 for who minds no parts."""

    def work(self, parts: Array, error: Array) -> Array:
        """What counting ``parts`` (m, k) out costs, and paint that is mixed only so that its doses can be measured; of
        two that a hand gets alike, the one with less ``error`` (m,) on paper is easier to correct."""
        waste = np.maximum(self.hand.enough(parts) - max(self.ml, self.hand.pile_ml), 0.0)
        touches = ((parts > 0) & (parts < 1)).sum(axis=1)
        count = _PER_PART * parts.sum(axis=1) + _PER_TOUCH * touches
        return np.asarray(self.patience * (count + _PER_ML * waste + _ON_PAPER * error))


@dataclass(frozen=True)
class Rounded:
    """Measurable mixtures: weighted ``error`` on paper and ``eye``, as a hand gets it, and that as ``plain`` CIEDE2000,
    (m,); ``parts`` and ``index`` (m, k); ``lab`` (m, 3)."""

    error: Array
    eye: Array
    plain: Array
    parts: Array
    index: Ints
    lab: Array


def round_found(
    paints: Paints,
    target: Array,
    found: Found,
    dosing: Dosing,
    subsets: int = 60,
    most: float = MOST_PARTS,
    least: tuple[int, float] | None = None,
) -> Rounded:
    """Measurable versions of continuous mixtures.

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
    close = near <= np.minimum.reduceat(near, np.flatnonzero(np.diff(owner, prepend=-1)))[owner] * 1.5 + _ROOM
    parts, index, lab, owner = parts[close], index[close], lab[close], owner[close]
    error = paints.error(lab, target)
    eye = expected(paints, target, parts, index, dosing)
    cost = eye + dosing.work(parts, error)
    order = np.lexsort((cost, owner))
    begins = np.flatnonzero(np.diff(owner[order], prepend=-1))
    each = max(1, _LEAST_WAYS // len(begins))
    rank = np.arange(len(order)) - np.repeat(begins, np.diff(np.append(begins, len(order))))
    first = order[rank < each]
    first = first[np.argsort(cost[first])]
    parts, index = parts[first], index[first]
    plain = expected(paints, target, parts, index, dosing, plain=True)
    return Rounded(error[first], eye[first], plain, parts, index, lab[first])


def counted_out(paints: Paints, shares: Array, lab: Array, dosing: Dosing) -> Array:
    """Parts (n,) in which a mixture is counted out from which a hand gets nearest to ``lab`` (3,).

    ``shares`` (n,) of the paints; of more than eight each is rounded for itself, since all ways would be too many.
    """
    used = np.flatnonzero(shares > 1e-4)
    parts = np.zeros(len(shares))
    if len(used) > _MOST_ROUNDED:
        parts[used] = np.maximum(np.round(shares[used] * MOST_PARTS / TOUCH), 1) * TOUCH
        return reduce_parts(parts)
    found = Found(np.zeros(1), shares[used][None] / shares[used].sum(), used[None])
    best = round_found(paints, np.asarray(lab), found, dosing)
    parts[best.index[0]] = best.parts[0]
    return parts


def expected(paints: Paints, target: Array, parts: Array, index: Ints, dosing: Dosing, plain: bool = False) -> Array:
    """Weighted error (m,) of mixtures ``parts`` (m, k) as a hand gets them; ``plain``: as CIEDE2000."""
    shares = parts / parts.sum(axis=1, keepdims=True)
    here = {i: w for i, w in dosing.deviations.items() if (index == i).any()}
    ml = shares * np.maximum(dosing.hand.enough(parts), dosing.ml)[:, None]
    lab, shifts = propagated(paints, shares, index, dosing.hand.errors(parts, ml), here)
    return by_eye(lab, shifts, target, None if plain else paints.weights)
