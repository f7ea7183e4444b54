"""Measurable mixtures against one another: what each costs in colour, in care and in work."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.mixing.recipe.parts import Dosing, round_found
from ochre_stone.core.mixing.recipe.ranking import Means, Merits, merits
from ochre_stone.core.mixing.recipe.search import Found, Ints
from ochre_stone.core.mixing.recipe.sources import Sources

_PER_TINT, _PER_PILE = 0.25, 0.05
"""What one more tint pile to make weighs, and one that is there anyway."""


@dataclass(frozen=True)
class Rounding:
    """How continuous mixtures become measurable ones."""

    dosing: Dosing

    effort: int = 60
    """Subsets of tubes that are rounded."""
    ready: frozenset[str] = frozenset()
    """Ids of tint piles that are made anyway."""
    least: tuple[int, float] | None = None
    """A source and the least share of it that every mixture keeps to, where that can be."""


@dataclass(frozen=True)
class Field:
    """Mixtures that compete: weighted error on paper and as a hand gets it, cost, parts and index (m, ...), Lab
    (m, 3)."""

    error: Array
    eye: Array
    plain: Array
    """The same as CIEDE2000."""
    cost: Array
    parts: Array
    index: Ints
    lab: Array
    merits: Merits


def compete(
    sources: Sources, goal: Array, pieces: Sequence[tuple[float, Found]], rounding: Rounding, means: Means
) -> Field:
    """Round and judge continuous mixtures; each piece has a handicap, below 0 for mixtures that are less work."""
    dosing = rounding.dosing
    rounded = [
        (handicap, round_found(sources.paints, goal, found, dosing, rounding.effort, least=rounding.least))
        for handicap, found in pieces
    ]
    widest = max(r.parts.shape[1] for _, r in rounded)
    names = ("error", "eye", "plain", "lab")
    error, eye, plain, lab = (np.concatenate([getattr(r, k) for _, r in rounded]) for k in names)
    parts = np.concatenate([np.pad(r.parts, ((0, 0), (0, widest - r.parts.shape[1]))) for _, r in rounded])
    index = np.concatenate([np.pad(r.index, ((0, 0), (0, widest - r.index.shape[1])), "edge") for _, r in rounded])
    handicap = np.concatenate([np.full(len(r.error), h) for h, r in rounded])
    found = merits(sources.paints, sources.tubes, sources.content(), parts, index, means)
    # A tint pile is one more pile to make: it has to earn that, unless the string makes it anyway.
    piles = [_PER_PILE if s.id in rounding.ready or not s.is_tint else _PER_TINT for s in sources.extra]
    each = np.array([0.0] * len(sources.tubes) + piles)
    work = dosing.work(parts, error) + (each[index] * (parts > 0)).sum(axis=1)
    return Field(error, eye, plain, eye + handicap + work + found.cost, parts, index, lab, found)
