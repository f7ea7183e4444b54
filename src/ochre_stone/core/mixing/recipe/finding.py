"""Find recipes: for a colour from tubes, from a pile that exists, or what given parts are."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.mixing.recipe.compete import Field, Rounding, compete
from ochre_stone.core.mixing.recipe.hand import by_eye, propagated
from ochre_stone.core.mixing.recipe.nearness import REACH, VALUE_OFF
from ochre_stone.core.mixing.recipe.parts import expected, round_found
from ochre_stone.core.mixing.recipe.ranking import Means, masks, pick
from ochre_stone.core.mixing.recipe.recipe import TINT, Recipe, count_words, tint_of
from ochre_stone.core.mixing.recipe.search import Found, Ints
from ochre_stone.core.mixing.recipe.sources import Sources, Terms
from ochre_stone.core.mixing.recipe.tints import MOTHER, through_mother, through_tints
from ochre_stone.core.paint.tubes import Tube

_QUICK = 16
"""Effort up to which fewer starts and fewer runners-up are looked at: many piles at once."""
_LITTLE = 0.02
"""Share of a pile from which a paint is more than a touch of it."""
_CAUTION = 0.12
"""What one CIEDE2000 of uncertainty weighs against one of predicted error when recipes are ranked."""
SLACK = 1.5
"""How much worse than the best another way may match, in weighted CIEDE2000."""
FARTHEST = 2.0
"""CIEDE2000 beyond the best recipe, on paper and as mixed by eye, from which another way is none."""


@dataclass(frozen=True)
class Wishes:
    """What is wanted of the recipes of one pile."""

    count: int = 5
    """How many, at most."""
    effort: int = 60
    """Subsets of tubes that are rounded."""
    tints: tuple[Tube, ...] | None = None
    """Paints whose tint pile is there; all but whites may be made into one where none are named."""
    ready: frozenset[str] = frozenset()
    """Ids of tint piles that are made anyway."""
    mother: str = ""
    """Id of a tube of which every mixture holds at least ``MOTHER``."""
    ml: float = 0.0
    """Millilitres that are wanted: what is too small to dose in them makes the pile larger, or goes in from a tint."""
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
    rounding = Rounding(sources.dosing(w.ml), w.effort, ready | w.ready, _least(terms, w.mother))
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
        kinds = _by_kind(sources, goal, field, told, replace(rounding, effort=12, least=None), w.means)
        chosen += [r for r in kinds if is_a_way(r, chosen[0])]
    return reachable, chosen


def is_a_way(recipe: Recipe, best: Recipe) -> bool:
    """Whether a recipe is another way to a colour, or only another colour."""
    return recipe.de00 <= best.de00 + FARTHEST and recipe.by_eye <= best.by_eye + FARTHEST


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
    best = _steadiest(sources, goal, found, w.effort)
    through = through_tints(sources, best) if sources.extra else None
    return [(0.0, best)] + ([(0.0, through)] if through is not None else [])


def _steadiest(sources: Sources, goal: Array, found: Found, count: int) -> Found:
    """Of the mixtures found those from which a hand gets the nearest."""
    errors = sources.terms.hand.errors(np.where(found.shares > _LITTLE, 1.0, 0.0))
    eye = by_eye(*propagated(sources.paints, found.shares, found.index, errors), goal, sources.paints.weights)
    best = np.argsort(eye, kind="stable")[:count]
    return Found(found.error[best], found.shares[best], found.index[best])


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
        hand = float(field.plain[row])
        return self.sources.describe(self.goal, p, i, field.lab[row], self.reachable, kind, by_eye=hand)


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
    for kind in ("fewest tubes", "least white", "cheapest"):
        at = pick(kind, field.eye, field.merits, SLACK)
        out.append(told.recipe(field, at, kind) if at is not None else None)
    return [r for r in out if r is not None]


@dataclass(frozen=True)
class Finer:
    """What counting more parts would bring."""

    parts: float
    gain: float
    """CIEDE2000 by which a hand would come nearer; 0 where it would not."""


def finer(recipe: Recipe, terms: Terms) -> Finer:
    """The recipe of a target that a hand gets nearest, however many parts it counts, against this one."""
    sources, goal = Sources.of(terms), np.array(recipe.target)
    found = _steadiest(sources, goal, sources.search.find(goal), 24)
    dosing = replace(sources.dosing(), patience=0.0)
    r = round_found(sources.paints, goal, found, dosing, 24)
    eye = expected(sources.paints, goal, r.parts, r.index, dosing, plain=True)
    best = int(np.argmin(eye))
    return Finer(float(r.parts[best].sum()), max(recipe.by_eye - float(eye[best]), 0.0))


def by_eye_words(recipe: Recipe, more: Finer | None = None) -> str:
    """How near a recipe comes on paper and in the hand, "within 0.4 as planned, 2.1 as mixed by eye; 14 parts would
    bring 0.2"."""
    said = f"within {recipe.de00:.1f} as planned, {recipe.by_eye:.1f} as mixed by eye"
    if more is None:
        return said
    counted = sum(i.parts for i in recipe.ingredients)
    if more.gain < 0.1 or more.parts <= counted:
        return f"{said}; more parts would bring nothing"
    return f"{said}; {count_words(more.parts)} would bring {more.gain:.1f}"


# From piles


def onward_rows(sources: Sources, piles: Sequence[int]) -> Ints:
    """Rows (m, 3) of sources: each of ``piles`` with every pair of tubes or tints, and each two of ``piles`` with one,
    all tubes together as many as may be."""
    n = len(sources.tubes)
    bases = [i for i in range(n, len(sources.paints.K)) if sources.extra[i - n].parts and i not in piles]
    others = [*range(n), *bases]
    rows = []
    for k, p in enumerate(piles):
        held = sources.tubes_in(p)
        seconds = [
            *((a, b) for j, a in enumerate(others) for b in others[j + 1 :]),
            *((q, a) for q in piles[k + 1 :] for a in others),
        ]
        for a, b in seconds:
            if len(held | sources.tubes_in(a) | sources.tubes_in(b)) <= sources.most:
                rows.append((p, a, b))
    return np.array(rows, dtype=np.intp).reshape(-1, 3)


def start_onward(sources: Sources, index: Ints, shares: Sequence[float]) -> Array:
    """Starting points (m, k) of a search over ``index`` (m, k) at these shares."""
    v = np.sqrt(np.tile(np.asarray(shares, dtype=float), (len(index), 1)) * sources.paints.strength[index])
    return np.asarray(v / np.linalg.norm(v, axis=1, keepdims=True))


def from_piles(
    target: Array, sources: Sources, piles: Sequence[str], with_: Sequence[str], ml: float = 0.0, reachable: bool = True
) -> Recipe | None:
    """The best measurable way from ``piles`` (ids, one or two) to ``target`` with the tubes or bases ``with_`` (ids, at
    most two); None where that is no mixture of all the piles."""
    goal = np.asarray(target, dtype=float).reshape(3)
    at = [sources.ids.index(i) for i in (*piles, *with_)]
    index = np.array([at, at], dtype=np.intp)
    first, rest = len(piles), len(with_)
    starts = [[0.8, 0.2], [0.3, 0.7]] if rest else [[1.0, 0.0]] * 2
    v = np.vstack(
        [start_onward(sources, index[:1], [*[a / first] * first, *[b / max(rest, 1)] * rest]) for a, b in starts]
    )
    error, shares = sources.paints.refine(goal, v, index, rounds=12, all_of_them=True)
    best = int(np.argmin(error))
    found = Found(error[best : best + 1], shares[best : best + 1], index[:1])
    rounding = Rounding(sources.dosing(ml), 1, frozenset(s.id for s in sources.extra))
    field = compete(sources, goal, [(0.0, found)], rounding, Means())
    for row in np.argsort(field.cost, kind="stable"):
        used = set(field.index[row][field.parts[row] > 0])
        if used.issuperset(at[:first]):
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
