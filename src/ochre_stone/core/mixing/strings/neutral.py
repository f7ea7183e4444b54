"""Everything from one neutral: a grey pile is mixed first, and every pile of the string goes on from it.

The grey stands at the middle value of the string, so that it has to be moved least; colour, white or a dark then turn
it into each pile (common practice, no source).
"""

from collections.abc import Sequence

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.mixing.recipe.compete import Rounding, compete
from ochre_stone.core.mixing.recipe.finding import Wishes, onward_rows, recipes, start_onward
from ochre_stone.core.mixing.recipe.nearness import REACH
from ochre_stone.core.mixing.recipe.ranking import Means
from ochre_stone.core.mixing.recipe.recipe import NEUTRAL, Recipe, Source
from ochre_stone.core.mixing.recipe.search import Found
from ochre_stone.core.mixing.recipe.sources import Sources, Terms
from ochre_stone.core.paint.tubes import Tube

_ROUNDED = 24
_LEAST = 0.08
"""Least share of the neutral in a pile: less is not mixed from it."""


def neutral_pile(
    string_id: str, name: str, goals: Sequence[Sequence[float]], grey: Sequence[Tube], terms: Terms
) -> Source | None:
    """The neutral of a string (its id and name) whose piles should be ``goals`` Lab (g, 3), mixed from the tubes
    ``grey``; None where it would be one tube as it comes."""
    middle = (float(np.min([g[0] for g in goals])) + float(np.max([g[0] for g in goals]))) / 2
    within = Terms(tuple(grey), terms.palette_name, terms.most, terms.finish, terms.order, terms.hand)
    found = recipes(np.array([middle, 0.0, 0.0]), within, Wishes(count=1, effort=12, tints=()))[1][0]
    parts = tuple((i.id, i.parts) for i in found.ingredients)
    return Source(f"{NEUTRAL}{string_id}", f"{name.lower()} neutral", found.shares, parts) if len(parts) > 1 else None


def from_neutral(target: Array, terms: Terms, neutral: Source, ml: float, count: int = 4) -> tuple[bool, list[Recipe]]:
    """Whether a colour is in reach from the neutral with the tubes of ``terms``, and recipes that hold it, best first.

    ``ml``: millilitres wanted. Where no mixture that holds the neutral comes out, the nearest from the tubes.
    """
    sources = Sources.of(terms, [neutral])
    at = len(terms.tubes)
    index = onward_rows(sources, [at])
    if not len(index):
        return recipes(target, terms, Wishes(count=count, tints=(), ml=ml))
    error, shares = sources.paints.refine(target, start_onward(sources, index, [0.6, 0.2, 0.2]), index, 14, True)
    rows = np.flatnonzero(shares[:, 0] >= _LEAST)
    rows = rows[np.argsort(error[rows], kind="stable")][:_ROUNDED]
    if not len(rows):
        return recipes(target, terms, Wishes(count=count, tints=(), ml=ml))
    found = Found(error[rows], shares[rows], index[rows])
    nearest = float(ciede2000(sources.paints.lab(found.shares[:1], found.index[:1])[0], target))
    rounding = Rounding(sources.dosing(ml), _ROUNDED, frozenset({neutral.id}))
    field = compete(sources, target, [(0.0, found)], rounding, Means())
    out: list[Recipe] = []
    for row in np.argsort(field.cost, kind="stable"):
        if field.parts[row][field.index[row] == at].sum() > 0:
            near = nearest <= REACH and float(ciede2000(field.lab[row], target)) <= REACH
            out.append(sources.describe(target, field.parts[row], field.index[row], field.lab[row], near))
        if len(out) == count:
            break
    if not out:
        return recipes(target, terms, Wishes(count=count, tints=(), ml=ml))
    return nearest <= REACH and out[0].de00 <= REACH, out
