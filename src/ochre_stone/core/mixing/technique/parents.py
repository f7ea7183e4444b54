"""Parents: tubes or piles brought to one value in countable parts, then combined.

Value first: each parent is lightened or darkened on its own until all stand at one value, which is easy to see and to
compare; what is then mixed of them changes its hue and chroma and hardly its value (common practice, no source).
"""

import numpy as np

from ochre_stone.core.colour.spaces import Array, as_lab
from ochre_stone.core.mixing.recipe.compete import Rounding, compete
from ochre_stone.core.mixing.recipe.finding import REACH
from ochre_stone.core.mixing.recipe.parts import neighbours
from ochre_stone.core.mixing.recipe.ranking import Means
from ochre_stone.core.mixing.recipe.recipe import PARENT, Recipe, Source
from ochre_stone.core.mixing.recipe.search import Found
from ochre_stone.core.mixing.recipe.sources import Sources, Terms
from ochre_stone.core.mixing.technique.loose import Parent, loosely
from ochre_stone.core.paint.optics import SATIN, layer_lab
from ochre_stone.core.paint.tubes import Tube

_PAIRS = 6
_MOST_PARTS = 10.0
_PER_PART = 0.15
"""What a part to count weighs against one L* of a parent."""
_THERE, _NEAR = 1.0, 2.0
"""L* within which a parent is at the value as it comes, and by which it may miss it in countable parts."""


def as_source(paint: Tube) -> Source:
    """A tube, as something to mix from."""
    return Source(paint.id, paint.short, ((paint.id, 1.0),))


def bring(source: Source, lightness: float, terms: Terms) -> Parent | None:
    """A tube or pile brought to L* ``lightness`` (0..100) in the small numbers that come nearest: with the whitest tube
    where it is darker, with the darkest where it is lighter; None where it cannot be brought there."""
    surface = terms.finish or SATIN
    K, S = source.spectra(terms.tubes)
    own = float(layer_lab(K, S, surface)[0])
    if abs(own - lightness) <= _THERE:
        return Parent(source.id, source.shares, as_lab(layer_lab(K, S, surface)), ((source.id, 1.0),))
    ends = sorted(terms.tubes, key=lambda t: t.lab[0])
    aid = ends[-1] if own < lightness else ends[0]
    if dict(source.shares).get(aid.id, 0.0) > 0.999:
        return None
    share = np.linspace(0, 1, 401)[1:-1, None] ** 2  # fine where a little of a strong dark does much
    L = layer_lab(K * (1 - share) + aid.K * share, S * (1 - share) + aid.S * share, surface)[:, 0]
    c = float(share[np.argmin(np.abs(L - lightness)), 0])
    parts = neighbours(np.array([1 - c, c]), _MOST_PARTS)
    parts = parts[(parts > 0).all(axis=1)]
    if not len(parts):
        return None
    c_of = (parts[:, 1] / parts.sum(axis=1))[:, None]
    lab = layer_lab(K * (1 - c_of) + aid.K * c_of, S * (1 - c_of) + aid.S * c_of, surface)
    best = int(np.argmin(np.abs(lab[:, 0] - lightness) + _PER_PART * parts.sum(axis=1)))
    if abs(float(lab[best, 0]) - lightness) > _NEAR:
        return None
    held = {i: v * (1 - float(c_of[best, 0])) for i, v in source.shares}
    held[aid.id] = held.get(aid.id, 0.0) + float(c_of[best, 0])
    counted = ((source.id, float(parts[best, 0])), (aid.id, float(parts[best, 1])))
    return Parent(source.id, tuple(held.items()), as_lab(lab[best]), counted)


def by_parents(target: Array, terms: Terms, pile_id: str, ml: float = 0.0, count: int = 4) -> list[Recipe]:
    """Recipes of two parents, each a base pile at the value of ``target`` Lab (3,), best first.

    ``ml``: millilitres wanted of the pile ``pile_id``. Empty where the palette has no two tubes that can be brought to
    that value.
    """
    tubes = {t.id: t for t in terms.tubes}
    out: list[tuple[float, Recipe]] = []
    for pair in loosely(as_lab(target), terms.tubes, terms.finish or SATIN, _PAIRS, stirred=True, order=terms.order):
        made = [bring(as_source(tubes[p.tube]), float(target[0]), terms) for p in (pair.first, pair.second)]
        bases = [
            Source(f"{PARENT}{p.tube}-{pile_id}", f"{tubes[p.tube].short} parent", p.shares, p.parts)
            for p in made if p is not None
        ]  # fmt: skip
        if len(bases) < 2:
            continue
        sources = Sources.of(terms, bases)
        n = len(terms.tubes)
        index = np.array([[n, n + 1]], dtype=np.intp)
        start = np.sqrt(np.array([[pair.area, 1 - pair.area]]) * sources.paints.power[index])
        error, shares = sources.paints.refine(target, start / np.linalg.norm(start), index, 10, True)
        rounding = Rounding(sources.dosing(ml), 1, frozenset(b.id for b in bases))
        field = compete(sources, target, [(0.0, Found(error, shares, index))], rounding, Means())
        both = np.flatnonzero((field.parts > 0).all(axis=1))
        if len(both):
            row = int(both[np.argmin(field.cost[both])])
            parts, at, lab = field.parts[row], field.index[row], field.lab[row]
            recipe = sources.describe(target, parts, at, lab, True)
            if recipe.de00 > REACH:
                recipe = sources.describe(target, parts, at, lab, False)
            out.append((float(field.cost[row]), recipe))
    return [r for _, r in sorted(out, key=lambda pair: pair[0])[:count]]
