"""Find recipes: for a colour from tubes, from a pile that exists, or what given parts are."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.mixing.recipe.compete import Field, Rounding, compete
from ochre_stone.core.mixing.recipe.ranking import Means, masks, pick
from ochre_stone.core.mixing.recipe.recipe import TINT, Recipe, Source, tint_of
from ochre_stone.core.mixing.recipe.search import Found, Ints
from ochre_stone.core.mixing.recipe.sources import Sources, Terms
from ochre_stone.core.mixing.recipe.tints import MOTHER, through_mother, through_tints
from ochre_stone.core.paint.tubes import Tube

REACH = 2.0
"""A target is in reach when the best continuous mixture is nearer than this CIEDE2000: seen only side by side (common
practice)."""
VALUE_OFF = 0.25
"""Steps of ten by which a pile in reach may miss its value."""
_QUICK = 12
"""Effort up to which fewer starts and fewer runners-up are looked at: many piles at once."""
_CAUTION = 0.12
"""What one CIEDE2000 of uncertainty weighs against one of predicted error when recipes are ranked."""
SLACK = 1.5
"""How much worse than the best another way may match, in weighted CIEDE2000."""


@dataclass(frozen=True)
class Wishes:
    """What is wanted of the recipes of one pile."""

    count: int = 5
    """How many, at most."""
    effort: int = 60
    """Subsets of tubes that are rounded."""
    tints: tuple[Tube, ...] | None = None
    """Paints whose tint pile is there; all but whites may be made into one where none are named."""
    mother: str = ""
    """Id of a tube of which every mixture holds at least ``MOTHER``."""
    by_parts: bool = False
    """Whether what no parts that can be counted come near to is out of reach too."""
    means: Means | None = None
    """Where given, the best of each kind of ``ranking.KINDS`` follows, with its kind, where it is another one."""


def recipes(target: Array, terms: Terms, wishes: Wishes | None = None) -> tuple[bool, list[Recipe]]:
    """Whether a colour is in reach of a palette, and measurable recipes for it, best first.

    Parameters: ``target`` CIELAB (3,), D65; ``terms``: the palette and what all its recipes share; ``wishes``: how
    many, and what else is wanted.

    Returns: True where the best continuous mixture lies within ``REACH`` CIEDE2000, and at most ``wishes.count``
    recipes with those of each kind after them.

    Raises ValueError for a target that is no number, an empty palette, or more tubes than a palette holds.

    Cost: one search over all subsets of ``terms.most`` tubes, ``wishes.effort`` of them rounded over some 600
    mixtures each (:mod:`parts`).

    >>> from ochre_stone.core.paint.palettes import palette
    >>> earth = palette("four-tube-earth")
    >>> reachable, found = recipes(np.array([62.0, 14.0, 22.0]), Terms(earth.tubes, earth.name), Wishes(count=1))
    >>> reachable, found[0].de00 < REACH
    (True, True)
    """
    w = wishes or Wishes()
    goal = np.asarray(target, dtype=float).reshape(3)
    sources, ready = _with_tints(terms, w.tints)
    found = sources.search.find(goal, 60 if w.effort > _QUICK else 32)
    rounding = Rounding(w.effort, ready, _least(terms, w.mother))
    field = compete(sources, goal, _pieces(sources, goal, found, w), rounding, w.means or Means())
    far = ciede2000(field.lab, goal)
    nearest = float(ciede2000(sources.search.paints.lab(found.shares[:1], found.index[:1])[0], goal))
    reachable = nearest <= REACH and bool(far.min() <= REACH or not w.by_parts)
    if reachable:
        field = replace(field, cost=field.cost + _no_longer_matching(field, far, goal))
    told = _Told(sources, goal, reachable)
    chosen = _best(field, told, w)
    if w.means is not None:
        told.begin(chosen)
        chosen += _by_kind(sources, goal, field, told, replace(rounding, effort=12, least=None), w.means)
    return reachable, chosen


def _with_tints(terms: Terms, tints: Sequence[Tube] | None) -> tuple[Sources, frozenset[str]]:
    """The palette with tint piles, and the ids of those that are there already."""
    wanted = [t for t in terms.tubes if not t.is_white] if tints is None else list(tints)
    white = terms.white
    extra = [tint_of(t, white) for t in wanted] if white is not None else []
    return Sources.of(terms, extra), frozenset(s.id for s in extra if tints is not None)


def _least(terms: Terms, mother: str) -> tuple[int, float] | None:
    return ([t.id for t in terms.tubes].index(mother), 0.95 * MOTHER) if mother else None


def _pieces(sources: Sources, goal: Array, found: Found, w: Wishes) -> list[tuple[float, Found]]:
    """Continuous mixtures to be rounded: from tubes, or with the mother colour; and the same through tint piles."""
    if w.mother:
        return [(0.0, through_mother(sources, goal, sources.ids.index(w.mother)))]
    best = Found(found.error[: w.effort], found.shares[: w.effort], found.index[: w.effort])
    through = through_tints(sources, best) if sources.extra else None
    return [(0.0, best)] + ([(0.0, through)] if through is not None else [])


def _no_longer_matching(field: Field, far: Array, goal: Array) -> Array:
    """What a mixture has against it that gives a match away: no simpler recipe is worth that."""
    off = np.maximum(far - 0.95 * REACH, 0.0)
    step = np.abs(value_of_lightness(np.clip(field.lab[:, 0], 0, 100)) - value_of_lightness(min(goal[0], 100.0)))
    return np.asarray(4.0 * off + 8.0 * np.maximum(step - 0.95 * VALUE_OFF, 0.0))


class _Told:
    """Recipes of mixtures, each mixture told once."""

    def __init__(self, sources: Sources, goal: Array, reachable: bool) -> None:
        self.sources, self.goal, self.reachable = sources, goal, reachable
        self._seen: set[tuple[tuple[int, float], ...]] = set()

    def begin(self, recipes: Sequence[Recipe]) -> None:
        """Only these count as told."""
        ids = {name: i for i, name in enumerate(self.sources.ids)}
        self._seen = set()
        for r in recipes:
            whole = sum(i.parts for i in r.ingredients)
            self._seen.add(tuple(sorted((ids[i.id], i.parts / whole) for i in r.ingredients)))

    def recipe(self, field: Field, row: int, kind: str = "") -> Recipe | None:
        """The recipe of a row; None where it was told before."""
        p, i = field.parts[row], field.index[row]
        key = tuple(sorted((int(j), float(x)) for j, x in zip(i, p / p.sum(), strict=True) if x > 0))
        if key in self._seen:
            return None
        self._seen.add(key)
        return self.sources.describe(self.goal, p, i, field.lab[row], self.reachable, kind)


def _best(field: Field, told: _Told, w: Wishes) -> list[Recipe]:
    """The best of all. Between near-equals the surer mixture wins: less strong paint, better known tubes."""
    out: list[tuple[float, Recipe]] = []
    for row in np.argsort(field.cost, kind="stable"):
        recipe = told.recipe(field, int(row))
        if recipe is not None:
            out.append((float(field.cost[row]) + _CAUTION * recipe.uncertainty, recipe))
        if len(out) == (max(w.count + 3, 6) if w.effort > _QUICK else w.count):
            break
    out.sort(key=lambda pair: pair[0])
    return [recipe for _, recipe in out[: w.count]]


def _by_kind(
    sources: Sources, goal: Array, field: Field, told: _Told, rounding: Rounding, means: Means
) -> list[Recipe]:
    """The best of each kind: those that leave tubes out are searched anew, the others picked from the field."""
    out = []
    for kind, mask in masks(sources.tubes, means).items():
        few = compete(sources, goal, [(0.0, sources.search.find(goal, 12, mask))], rounding, means)
        out.append(told.recipe(few, int(np.argmin(few.cost)), kind))
    for kind in ("fewest tubes", "least white", "cheapest", "steadiest"):
        at = pick(kind, field.error, field.merits, SLACK)
        out.append(told.recipe(field, at, kind) if at is not None else None)
    return [r for r in out if r is not None]


# From a pile


def onward_pairs(sources: Sources, pile: int) -> Ints:
    """Rows (m, 3): the source ``pile`` with every pair of tubes or tints, all tubes together as many as may be."""
    n = len(sources.tubes)
    held = sources.tubes_in(pile)
    others = [i for i in range(len(sources.paints.K)) if i < n or sources.extra[i - n].is_tint]
    pairs = [
        (pile, a, b) for k, a in enumerate(others) for b in others[k + 1 :]
        if len(held | sources.tubes_in(a) | sources.tubes_in(b)) <= sources.terms.most
    ]  # fmt: skip
    return np.array(pairs, dtype=np.intp).reshape(-1, 3)


def start_onward(sources: Sources, index: Ints, shares: Sequence[float]) -> Array:
    """Starting points (m, k) of a search over ``index`` (m, k) at these shares."""
    v = np.sqrt(np.tile(np.asarray(shares, dtype=float), (len(index), 1)) * sources.paints.power[index])
    return np.asarray(v / np.linalg.norm(v, axis=1, keepdims=True))


def from_pile(
    target: Array, terms: Terms, pile: Source, with_: Sequence[str], tints: Sequence[Tube] = (), reachable: bool = True
) -> Recipe | None:
    """The best measurable way from ``pile`` to ``target`` with the tubes or tints ``with_`` (ids, one or two); None
    where that is no mixture."""
    goal = np.asarray(target, dtype=float).reshape(3)
    white = terms.white
    sources = Sources.of(terms, [*([tint_of(t, white) for t in tints] if white is not None else []), pile])
    at = [sources.ids.index(i) for i in (pile.id, *with_)]
    index = np.array([at, at], dtype=np.intp)
    v = np.vstack([start_onward(sources, index[:1], [0.8, *[0.2 / len(with_)] * len(with_)]),
                   start_onward(sources, index[:1], [0.3, *[0.7 / len(with_)] * len(with_)])])  # fmt: skip
    error, shares = sources.paints.refine(goal, v, index, rounds=12, all_of_them=True)
    best = int(np.argmin(error))
    found = Found(error[best : best + 1], shares[best : best + 1], index[:1])
    rounding = Rounding(1, frozenset(s.id for s in sources.extra))
    field = compete(sources, goal, [(0.0, found)], rounding, Means())
    for row in np.argsort(field.cost, kind="stable"):
        if field.parts[row][field.index[row] == at[0]].sum() > 0:
            return sources.describe(goal, field.parts[row], field.index[row], field.lab[row], reachable)
    return None


def recipe_of(parts: Mapping[str, float], target: Array, terms: Terms, reachable: bool = True) -> Recipe:
    """The recipe that these ``parts`` are: ids of tubes and tint piles ("tint-..."), each above 0.

    Raises ValueError for parts of nothing, or of what is not on the palette.
    """
    white = terms.white
    tints = [tint_of(t, white) for t in terms.tubes if white is not None and f"{TINT}{t.id}" in parts]
    sources = Sources.of(replace(terms, most=4), tints)
    unknown = [i for i in parts if i not in sources.ids]
    if unknown or not parts or min(parts.values()) <= 0:
        raise ValueError(f"no recipe: {', '.join(unknown) or 'every paint needs parts above 0'}")
    index = np.array([[sources.ids.index(i) for i in parts]], dtype=np.intp)
    amounts = np.array([list(parts.values())], dtype=float)
    lab = sources.paints.lab(amounts / amounts.sum(), index)[0]
    return sources.describe(np.asarray(target, dtype=float), amounts[0], index[0], lab, reachable, exact=True)
