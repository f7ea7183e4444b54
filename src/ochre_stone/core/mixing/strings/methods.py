"""Schools of building a string: which tubes may go into it, and how; and two ways side by side.

Some pick, for the whole string, the kit of tubes that comes nearest to all its piles together: one tube with white; a
tube with its complement and white; or as few tubes as will do. From one neutral every pile goes on; a mother colour
goes into every pile, at least a twelfth of it. All are common practice, no source.
"""

import itertools
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.advice.frame import hues_apart, of_tube
from ochre_stone.core.colour.relations import warmth
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.mixing.recipe.recipe import Recipe
from ochre_stone.core.mixing.recipe.search import Ints, Paints, searcher
from ochre_stone.core.mixing.recipe.tints import with_mother
from ochre_stone.core.mixing.strings.schools import METHODS
from ochre_stone.core.paint.optics import Surface
from ochre_stone.core.paint.tubes import Tube

_NEAR = 1.0
"""Weighted CIEDE2000 per pile that fewer tubes may cost."""


_OPPOSED = 120.0
"""Degrees on the wheel from which one tube is the other's complement."""


@dataclass(frozen=True)
class Kit:
    """What a method allows: tubes, and the one that goes into everything, if any."""

    tubes: tuple[Tube, ...]
    mother: str = ""
    words: str = ""


def _errors(paints: Paints, goals: Array, subsets: Ints) -> Array:
    """Weighted errors (g, m) of the best mixture of each subset (m, k) for each goal (g, 3)."""
    k = subsets.shape[1]
    out = np.empty((len(goals), len(subsets)))
    starts = [np.full(k, 1 / k), *(np.where(np.arange(k) == i, 0.8, 0.2 / max(k - 1, 1)) for i in range(k))]
    index = np.concatenate([subsets] * len(starts))
    v = np.concatenate([np.tile(np.sqrt(s), (len(subsets), 1)) for s in starts])
    v /= np.linalg.norm(v, axis=1, keepdims=True)
    for g, goal in enumerate(goals):
        error, _ = paints.refine(goal, v, index, rounds=8, all_of_them=True)
        out[g] = error.reshape(len(starts), -1).min(axis=0)
    return out


def _lightest(tubes: Sequence[Tube]) -> int:
    return int(np.argmax([t.lab[0] + 100 * t.is_white for t in tubes]))


def _opposed(a: Tube, b: Tube) -> bool:
    """Whether two tubes lie across the traditional wheel; greys oppose nothing."""
    first, second = of_tube(a), of_tube(b)
    return not (first.neutral or second.neutral) and hues_apart(first.hue, second.hue) >= _OPPOSED


def kit(
    method: str,
    goals: Sequence[Sequence[float]],
    tubes: Sequence[Tube],
    mother: str = "",
    finish: Surface | None = None,
    order: str = "value",
) -> Kit:
    """The tubes of a method for a string whose piles should be ``goals`` Lab (g, 3).

    ``mother``: id of the tube to put in everything; by default the one that costs least. Raises ValueError for an
    unknown method. A palette without what a method needs (a complement, a white) gives all its tubes, and says so.
    """
    if method not in METHODS:
        raise ValueError(f"'{method}' is no method: choose {', '.join(METHODS)}")
    every = tuple(tubes)
    if method in ("nearest", "parents", "chain", "neutral") or len(every) < 3:
        return Kit(every)
    search = searcher(every, 4, finish, order)
    goal = np.asarray(goals, dtype=float).reshape(-1, 3)
    n, white = len(every), _lightest(every)
    dark = int(np.argmin([t.lab[0] for t in every]))
    hued = [i for i in range(n) if i != white]
    if method == "mother":
        return _mother(every, goal, mother, search.paints)
    if method == "fewest":
        return _fewest(every, goal, search.paints)
    if method == "ladder":
        rows = [tuple(dict.fromkeys((white, i, dark if i != dark else white, i)))[:3] for i in hued if i != dark]
    else:
        rows = [(white, a, b) for a, b in itertools.combinations(hued, 2) if _opposed(every[a], every[b])]
    rows = [r for r in rows if len(set(r)) >= 2]
    if not rows:
        return Kit(every, words="this palette has no tubes for it: all are used")
    width = max(len(r) for r in rows)
    subsets = np.array([(*r, *[r[-1]] * (width - len(r))) for r in rows], dtype=np.intp)
    best = rows[int(_errors(search.paints, goal, subsets).sum(axis=0).argmin())]
    chosen = tuple(every[i] for i in best)
    return Kit(chosen, words=", ".join(t.short for t in chosen))


def _fewest(tubes: tuple[Tube, ...], goal: Array, paints: Paints) -> Kit:
    """Subsets of growing size, until one comes as near to all piles as the best of four does, within ``_NEAR``."""
    n = len(tubes)
    limit = None
    sizes = {}
    for k in range(min(4, n), 0, -1):
        subsets = np.array(list(itertools.combinations(range(n), k)), dtype=np.intp)
        if len(subsets) > 260:  # the many subsets of large palettes: those that hold white are enough
            subsets = subsets[(subsets == _lightest(tubes)).any(axis=1)][:600]
        worst = _errors(paints, goal, subsets).mean(axis=0)
        sizes[k] = subsets[int(worst.argmin())], float(worst.min())
        limit = sizes[k][1] + _NEAR if limit is None else limit
        if sizes[k][1] > limit:
            break
    fits = [k for k, (_, error) in sizes.items() if limit is not None and error <= limit]
    chosen = tuple(tubes[i] for i in sizes[min(fits)][0])
    return Kit(chosen, words=", ".join(t.short for t in chosen))


def _mother(tubes: tuple[Tube, ...], goal: Array, mother: str, paints: Paints) -> Kit:
    at = next((i for i, t in enumerate(tubes) if t.id == mother), None)
    if at is None:
        costs = []
        for i, t in enumerate(tubes):
            if t.is_white:
                costs.append(np.inf)
                continue
            mixed = with_mother(paints, i)
            subsets = np.array(list(itertools.combinations(range(len(tubes)), min(3, len(tubes)))), dtype=np.intp)
            costs.append(float(_errors(mixed, goal[:: max(1, len(goal) // 3)], subsets[:90]).min(axis=1).sum()))
        at = int(np.argmin(costs))
    return Kit(tubes, tubes[at].id, f"{tubes[at].short} in everything")


def mud(recipe: Recipe, tubes: Sequence[Tube]) -> float:
    """How much of the tubes' chroma cancels in a mixture, 0 (none) to 1 (a grey): the risk of mud.

    Each tube pulls along its own hue by its share times its power to colour.
    """
    by_id = {t.id: t for t in tubes}
    pull = np.array(
        [
            [by_id[i].lab[1] * c * by_id[i].strength, by_id[i].lab[2] * c * by_id[i].strength]
            for i, c in recipe.shares
            if i in by_id
        ]
    )
    whole = float(np.linalg.norm(pull, axis=1).sum()) if len(pull) else 0.0
    return 1 - float(np.linalg.norm(pull.sum(axis=0))) / whole if whole > 1e-6 else 0.0


@dataclass(frozen=True)
class MethodVerdict:
    """A method's string in figures, means over its piles."""

    method: str
    off: float
    """CIEDE2000 from the targets, on paper."""
    by_eye: float
    """The same to be expected of a hand."""
    value_off: float
    """Munsell value steps."""
    chroma_kept: float
    """CIELAB chroma of the mixtures over that of the targets."""
    warmer: float
    """Mean difference of warmth (-1 to 1) of mixtures and targets: above 0 is warmer."""
    tubes: tuple[str, ...]
    """Ids in use."""
    mud: float


_FIGURES: tuple[Callable[[Recipe], float], ...] = (lambda r: r.de00, lambda r: r.by_eye, lambda r: abs(r.value_error))


def verdict(method: str, recipes: Sequence[Recipe], tubes: Sequence[Tube]) -> MethodVerdict:
    """Figures of a string's recipes."""
    lab, goal = np.array([r.lab for r in recipes]), np.array([r.target for r in recipes])
    chroma, wanted = np.hypot(lab[:, 1], lab[:, 2]), np.hypot(goal[:, 1], goal[:, 2])

    hued = np.minimum(chroma, wanted) > 4
    turns = [warmth(r.lab) - warmth(r.target) for r, seen in zip(recipes, hued, strict=True) if seen]
    warmer = float(np.mean(turns)) if turns else 0.0
    used = dict.fromkeys(i for r in recipes for i, _ in r.shares)
    off, by_eye, value = (np.array([f(r) for r in recipes]).mean() for f in _FIGURES)
    return MethodVerdict(
        method,
        float(off),
        float(by_eye),
        float(value),
        float(chroma.sum() / max(wanted.sum(), 1e-6)),
        warmer,
        tuple(used),
        float(np.mean([mud(r, tubes) for r in recipes])),
    )
