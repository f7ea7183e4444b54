"""What is darker than the paint: below the darkest that a palette mixes there is nothing to tell apart, so that all
notes of a lean share one pile (common practice, no source; the figures are judgements)."""

import itertools
from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import Lab, as_lab
from ochre_stone.core.mixing.recipe.finding import recipe_of
from ochre_stone.core.mixing.recipe.nearness import OUT
from ochre_stone.core.mixing.recipe.search import searcher
from ochre_stone.core.mixing.recipe.sources import Terms
from ochre_stone.core.mixing.session.drafting import Draft
from ochre_stone.core.mixing.strings.leans import DARKER, dark_lean, is_below, leans_as
from ochre_stone.core.mixing.strings.targets import TOUCH, Pile

_PER_COLOUR, _PER_TUBE = 0.8, 0.3
"""Lightness that is given away for a unit of a* and b* nearer, and for a tube fewer."""
_LEAN = 6.0
"""CIELAB chroma of a dark that leans."""
_TUBES = 8
"""Of so many of the darkest tubes darks are mixed."""
_SINGLE, _PAIRS = [(1,)], [(1, 1), (2, 1), (1, 2), (3, 1), (1, 3), (3, 2), (2, 3)]
_TRIPLES = [p for p in itertools.product((1, 2), repeat=3) if p != (2, 2, 2)]


def darkest(terms: Terms, goal: Lab) -> dict[str, float]:
    """Parts of tubes, by their ids, of the darkest mixture that leans as ``goal`` (CIELAB); {} where none does."""
    paints = searcher(terms.tubes, terms.most, terms.finish).paints
    rows = _mixtures(terms)
    if not rows:
        return {}
    index = np.array([i for i, _ in rows], dtype=np.intp)
    parts = np.array([p for _, p in rows], dtype=float)
    lab = paints.lab(parts / parts.sum(axis=1, keepdims=True), index)
    ab = np.array(goal[1:])
    ab = ab * min(1.0, _LEAN / max(float(np.linalg.norm(ab)), 1e-9))  # its lean counts, not how strong it is
    cost = lab[:, 0] + _PER_COLOUR * np.linalg.norm(lab[:, 1:] - ab, axis=1)
    cost = cost + _PER_TUBE * (parts > 0).sum(axis=1)
    cost[[not leans_as(c, goal) for c in lab]] = np.inf
    best = int(np.argmin(cost))
    if not np.isfinite(cost[best]):
        return {}
    return {terms.tubes[i].id: p for i, p in zip(index[best], parts[best].tolist(), strict=True) if p > 0}


def _mixtures(terms: Terms) -> list[tuple[tuple[int, ...], tuple[int, ...]]]:
    """Sources and parts of the small mixtures of the darkest tubes, three columns each."""
    colours = [i for i, t in enumerate(terms.tubes) if not t.is_white]
    dark = sorted(colours, key=lambda i: terms.tubes[i].lab[0])[:_TUBES]
    out = []
    for k, counts in ((1, _SINGLE), (2, _PAIRS), (3, _TRIPLES)):
        for tubes in itertools.combinations(dark, k) if k <= terms.most else ():
            out += [((*tubes, *tubes[:1] * (3 - k)), (*c, *(0,) * (3 - k))) for c in counts]
    return out


def with_darkest(
    drafts: Sequence[Draft], terms: Terms, need: Mapping[str, float]
) -> tuple[list[Draft], dict[str, float]]:
    """The drafts in which the piles that are darker than the paint share the darkest of their lean, and the millilitres
    of each pile with that; ``need``: those before."""
    low = [p for d in drafts if d.row.method == "nearest" for p in d.piles if is_below(p)]
    kept: dict[str, Pile] = {}
    gone: dict[str, str] = {}
    for way in ("", "warm", "cool"):
        mine = [p for p in low if dark_lean(p.target.lab) == way]
        if mine:
            parts = darkest(terms, _middle(mine))
            _share(mine, parts, terms, kept, gone)
    if not kept:
        return list(drafts), dict(need)
    wanted = dict(need)
    for i, stays in gone.items():
        wanted[stays] = wanted.get(stays, 0.0) + wanted.pop(i, 0.0)
    return [replace(d, piles=tuple(kept.get(p.id, p) for p in d.piles if p.id not in gone)) for d in drafts], wanted


def _share(
    piles: Sequence[Pile], parts: Mapping[str, float], terms: Terms, kept: dict[str, Pile], gone: dict[str, str]
) -> None:
    """Those of ``piles`` for which the darkest is darker, or as dark and no worse, become one, and with them those that
    would be mixed like it; told in ``kept`` and ``gone``."""
    mine, alike = [], []
    for p in piles if parts else ():
        recipe = recipe_of(dict(parts), np.array(p.target.lab), terms, False)
        darker = p.recipe.lab[0] - recipe.lab[0]
        below = p.target.lab[0] < recipe.lab[0] - DARKER
        if p.nearness.grade != OUT:
            if float(ciede2000(np.array(recipe.lab), np.array(p.recipe.lab))) <= TOUCH:
                alike.append((p, recipe))
        elif below and (darker > DARKER or recipe.de00 < p.recipe.de00 + DARKER):
            mine.append((p, recipe))
    if not mine:
        return
    mine += alike
    mine.sort(key=lambda pair: pair[0].target.lab[0])
    first, recipe = mine[0]
    notes = tuple(dict.fromkeys(i for p, _ in mine for i in p.target.notes))
    target = replace(first.target, notes=notes, origin="note" if notes else first.target.origin)
    kept[first.id] = replace(first, target=target, recipe=recipe, alternatives=(first.recipe, *first.alternatives)[:3])
    gone |= {p.id: first.id for p, _ in mine[1:]}


def _middle(piles: Sequence[Pile]) -> Lab:
    return as_lab(np.mean([p.target.lab for p in piles], axis=0))
