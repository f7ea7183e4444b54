"""Parents: tubes or piles brought to one value in countable parts, then combined.

Value first: each parent is lightened or darkened on its own until all stand at one value, which is easy to see and to
compare; what is then mixed of them changes its hue and chroma and hardly its value (common practice, no source).
"""

from collections.abc import Collection, Sequence

import numpy as np

from ochre_stone.core.colour.munsell import lightness_of_value
from ochre_stone.core.colour.spaces import Array, as_lab
from ochre_stone.core.mixing.recipe.compete import Rounding, compete
from ochre_stone.core.mixing.recipe.nearness import REACH, VALUE_OFF
from ochre_stone.core.mixing.recipe.parts import neighbours
from ochre_stone.core.mixing.recipe.ranking import Means
from ochre_stone.core.mixing.recipe.recipe import PARENT, Recipe, Source
from ochre_stone.core.mixing.recipe.search import Found
from ochre_stone.core.mixing.recipe.sources import Sources, Terms
from ochre_stone.core.mixing.technique.loose import Parent, loosely
from ochre_stone.core.paint.optics import USUAL, Surface, layer_lab
from ochre_stone.core.paint.tubes import Tube

_PAIRS = 6
_MOST_PARTS = 12.25
_PER_PART, _PER_CHROMA, _PER_TURN = 0.15, 0.05, 0.25
"""What a part to count, and one CIELAB step of chroma and of hue, weigh against one L* of a parent."""
_PER_NEW, _ONE_VALUE = 0.4, 0.2
"""What a parent that is not made yet weighs against one CIEDE2000; steps of value within which piles share parents."""
_WORTH_WHITE = 1.0
"""CIEDE2000 that white must bring a stirred pair nearer, to be put in."""
_THERE, _NEAR = 1.0, 2.0
"""L* within which a parent is at the value as it comes, and by which it may miss it in countable parts."""


def as_source(paint: Tube) -> Source:
    """A tube, as something to mix from."""
    return Source(paint.id, paint.short, ((paint.id, 1.0),))


def brought_to(source: Source, lightness: float, terms: Terms, other: str = "") -> Parent | None:
    """A tube or pile brought to L* ``lightness`` (0..100) in the small numbers that come nearest: with the whitest tube
    where it is darker; where it is lighter, with the dark that can be counted and turns it least. None where it cannot
    be brought there.

    ``other``: id of the tube that it is combined with: a little of that in it turns it to no other colour.
    """
    surface = terms.finish or USUAL
    K, S = source.spectra(terms.tubes)
    own = layer_lab(K, S, surface)
    if abs(float(own[0]) - lightness) <= _THERE:
        return Parent(source.id, source.shares, as_lab(own), ((source.id, 1.0),))
    held = dict(source.shares)
    if own[0] < lightness:
        aids = [max(terms.tubes, key=lambda t: t.lab[0])]
    else:
        aids = [t for t in terms.tubes if t.lab[0] < lightness - _NEAR]
    tried = [_with(K, S, own, a, lightness, surface, a.id == other) for a in aids if held.get(a.id, 0.0) < 0.999]
    found = [f for f in tried if f is not None]
    if not found:
        return None
    _, aid, parts, lab = min(found, key=lambda f: f[0])
    c = parts[1] / sum(parts)
    shares = {i: v * (1 - c) for i, v in held.items()}
    shares[aid.id] = shares.get(aid.id, 0.0) + c
    return Parent(source.id, tuple(shares.items()), as_lab(lab), ((source.id, parts[0]), (aid.id, parts[1])))


def levelled(
    first: tuple[Array, Array],
    second: tuple[Array, Array],
    lightness: float,
    surface: Surface,
    most: float,
    most_added: float = 1.0,
) -> tuple[Array, Array] | None:
    """Countable parts (m, 2) of two paints, K and S (36,) each, about where they come to L* ``lightness``, at most
    ``most`` in all, and their Lab (m, 3); None where both cannot be counted. ``most_added``: share of the second."""
    (K, S), (k, s) = first, second
    share = np.linspace(0, 1, 401)[1:-1, None] ** 2  # fine where a little of a strong dark does much
    L = layer_lab(K * (1 - share) + k * share, S * (1 - share) + s * share, surface)[:, 0]
    c = min(float(share[np.argmin(np.abs(L - lightness)), 0]), most_added)
    parts = neighbours(np.array([1 - c, c]), most)
    parts = parts[(parts > 0).all(axis=1)]
    if not len(parts):
        return None
    each = (parts[:, 1] / parts.sum(axis=1))[:, None]
    return parts, layer_lab(K * (1 - each) + k * each, S * (1 - each) + s * each, surface)


def _with(
    K: Array, S: Array, own: Array, aid: Tube, lightness: float, surface: Surface, is_other: bool
) -> tuple[float, Tube, tuple[float, float], Array] | None:
    """What an aid costs, the aid, the parts of both and their Lab; None where they are not at the value."""
    found = levelled((K, S), (aid.K, aid.S), lightness, surface, _MOST_PARTS)
    if found is None:
        return None
    parts, lab = found
    cost = np.abs(lab[:, 0] - lightness) + _PER_PART * parts.sum(axis=1)
    if own[0] > lightness:  # white is the only lightener
        cost += _turned(own, lab, is_other)
    best = int(np.argmin(cost))
    if abs(float(lab[best, 0]) - lightness) > _NEAR:
        return None
    return float(cost[best]), aid, (float(parts[best, 0]), float(parts[best, 1])), lab[best]


def _turned(own: Array, lab: Array, is_other: bool) -> Array:
    """What it costs (m,) that a parent Lab (3,) comes out as ``lab`` (m, 3): what it loses, how far its hue goes."""
    out = (lab - own)[:, 1:]
    along = own[1:] / max(float(np.hypot(*own[1:])), 1e-6)
    lost = out @ along
    turned = np.hypot(*(out - lost[:, None] * along).T)
    return np.asarray(_PER_CHROMA * np.abs(lost) + (0.0 if is_other else _PER_TURN) * turned)


def levels_of(values: Sequence[float]) -> list[float]:
    """Munsell value to which the parents of each pile are brought: the middle of those that are hardly apart, so that
    they share their parents.

    >>> levels_of([5.0, 6.9, 5.16, 7.2])
    [5.08, 6.9, 5.08, 7.2]
    """
    out = [0.0] * len(values)
    row = sorted(range(len(values)), key=lambda i: values[i])
    while row:
        mine = [i for i in row if values[i] - values[row[0]] <= _ONE_VALUE]
        for i in mine:
            out[i] = round((values[mine[0]] + values[mine[-1]]) / 2, 2)
        row = row[len(mine) :]
    return out


def by_parents(
    target: Array, terms: Terms, level: float, ml: float = 0.0, count: int = 4, made: Collection[str] = ()
) -> list[Recipe]:
    """Recipes for ``target`` Lab (3,) of two parents, each a base pile at the Munsell value ``level``, best first.

    ``ml``: millilitres wanted; ``made``: ids of parents that are made anyway. Empty where the palette has no two tubes
    that can be brought to that value.
    """
    tubes = {t.id: t for t in terms.tubes}
    lightness = float(lightness_of_value(level))
    out: list[tuple[float, Recipe]] = []
    for pair in loosely(as_lab(target), terms.tubes, terms.finish or USUAL, _PAIRS, stirred=True, order=terms.order):
        both = (pair.first.tube, pair.second.tube)
        brought = [
            brought_to(as_source(tubes[mine]), lightness, terms, other)
            for mine, other in zip(both, both[::-1], strict=True)
        ]
        bases = [
            Source(f"{PARENT}{p.tube}-{level:.2f}", f"{tubes[p.tube].short} at {level:.1f}", p.shares, p.parts)
            for p in brought
            if p is not None
        ]
        if len(bases) < 2:
            continue
        sources = Sources.of(terms, bases)
        rounding = Rounding(sources.dosing(ml), 1, frozenset(b.id for b in bases))
        n = len(terms.tubes)
        found = _combined(sources, target, (n, n + 1), (pair.area, 1 - pair.area), rounding)
        if found is None:
            continue
        if found[1].value_error < -VALUE_OFF and terms.white is not None:  # stirring took light: white brings it back
            white = terms.tubes.index(terms.white)
            share = (0.85 * pair.area, 0.85 * (1 - pair.area), 0.15)
            lifted = _combined(sources, target, (n, n + 1, white), share, rounding)
            if lifted is not None and lifted[1].de00 < found[1].de00 - _WORTH_WHITE:
                found = lifted
        cost, recipe = found
        out.append((cost + pair.against + _PER_NEW * sum(b.id not in made for b in bases), recipe))
    return [r for _, r in sorted(out, key=lambda pair: pair[0])[:count]]


def _combined(
    sources: Sources, target: Array, of: tuple[int, ...], share: tuple[float, ...], rounding: Rounding
) -> tuple[float, Recipe] | None:
    """What the best mixture of all of the sources ``of`` costs, begun from their shares, and its recipe; None where
    none can be counted."""
    index = np.array([of], dtype=np.intp)
    start = np.sqrt(np.array([share]) * sources.paints.strength[index])
    error, shares = sources.paints.refine(target, start / np.linalg.norm(start), index, 10, True)
    field = compete(sources, target, [(0.0, Found(error, shares, index))], rounding, Means())
    rows = np.flatnonzero((field.parts > 0).sum(axis=1) == len(of))
    if not len(rows):
        return None
    row = int(rows[np.argmin(field.cost[rows])])
    parts, at, lab = field.parts[row], field.index[row], field.lab[row]
    recipe = sources.describe(target, parts, at, lab, True)
    if recipe.de00 > REACH:
        recipe = sources.describe(target, parts, at, lab, False)
    return float(field.cost[row]), recipe
