"""Which tint piles a session is worth: each is a pile more to make, so that it has to serve several piles, or one that
no hand gets without it (common practice, no source; the figures are judgements)."""

from collections.abc import Iterable, Sequence

from ochre_stone.core.mixing.recipe.recipe import Recipe

MOST_TINTS = 3
"""Tint piles of a session of up to ``_PILES`` piles; in proportion where there are more."""
_PILES = 20
_REACHED, _ALONE, _TOGETHER = 2.0, 1.5, 0.8
"""CIEDE2000 that bringing a pile into reach is worth; those, as a hand gets them, that a tint has to bring one pile, or
several together."""


def most_tints(asked: int | None, piles: int) -> int:
    """How many tint piles are made at most; ``asked``: what the painter said, if anything.

    >>> most_tints(None, 12), most_tints(None, 24), most_tints(None, 40), most_tints(7, 4)
    (3, 3, 6, 7)
    """
    return asked if asked is not None else max(MOST_TINTS, MOST_TINTS * piles // _PILES)


def tints_in(recipe: Recipe) -> list[str]:
    """Ids of the tint piles that a recipe is mixed from."""
    return [s.id for s in recipe.bases if s.is_tint]


def brings(through: tuple[bool, Recipe], straight: tuple[bool, Recipe]) -> float:
    """CIEDE2000 that a hand gets nearer to a pile with tints than from tubes; each with whether it is in reach."""
    (near, one), (far, other) = through, straight
    return max(other.by_eye - one.by_eye, 0.0) + (_REACHED if near and not far else 0.0)


def worth_making(claims: Iterable[tuple[Sequence[str], float]], ready: Sequence[str], most: int) -> tuple[str, ...]:
    """Ids of the tint piles that earn their place, what is ``ready`` anyway first; ``claims``: for each pile the tints
    that it would use and what they bring it."""
    brought: dict[str, list[float]] = {}
    for tints, gain in claims:
        for t in tints:
            brought.setdefault(t, []).append(gain / len(tints))
    new = [t for t, gains in brought.items() if t not in ready and _earns(gains)]
    return (*ready, *sorted(new, key=lambda t: -sum(brought[t])))[: max(most, len(ready))]


def _earns(gains: Sequence[float]) -> bool:
    return sum(gains) >= (_TOGETHER if len(gains) > 1 else _ALONE)
