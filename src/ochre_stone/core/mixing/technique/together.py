"""What comes of two or three parents at one value: as unmixed strokes, after two turns of the knife, stirred through.

Strokes side by side add their light by area (Murray and Davies 1936); stirred through they follow Kubelka-Munk. Two
turns of the knife mix a share of the paint and leave the rest in strokes: their light adds up too (the share is a
judgement).
"""

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.spaces import Array, as_lab, spectral_weights, xyz_to_lab
from ochre_stone.core.mixing.recipe.recipe import Source
from ochre_stone.core.mixing.recipe.search import ORDERS, weighted_error
from ochre_stone.core.mixing.recipe.sources import Terms
from ochre_stone.core.mixing.technique.loose import Parent, alive_grey, average
from ochre_stone.core.mixing.technique.parents import as_source, brought_to
from ochre_stone.core.paint.optics import USUAL, reflectance

TURNED = 0.5
"""Share of the paint that two turns of the knife mix."""
MOST_TOGETHER = 6
"""Of one parent."""
_LEANS = ((4, 1), (2, 1), (1, 1), (1, 2), (1, 4))
_GREYED = 1 / 3
"""Share of its chroma that bits of colour take from a pile."""


@dataclass(frozen=True)
class Together:
    """Parents in parts, and the colours that come of them, Lab."""

    parents: tuple[Parent, ...]
    parts: tuple[float, ...]
    strokes: tuple[float, float, float]
    turned: tuple[float, float, float]
    stirred: tuple[float, float, float]

    @property
    def kept(self) -> tuple[float, float, float]:
        """Chroma of strokes, after two turns and stirred, over that of the parents (their mean by parts)."""
        w = np.array(self.parts) / sum(self.parts)
        whole = float(w @ [math.hypot(*p.lab[1:]) for p in self.parents])
        a, b, c = (math.hypot(*lab[1:]) / max(whole, 1e-6) for lab in (self.strokes, self.turned, self.stirred))
        return a, b, c


def chroma_words(kept: float) -> str:
    """How much of the parents' chroma is left, 1 for all of it: "64% chroma", "all its chroma", "more chroma".

    >>> chroma_words(0.64), chroma_words(0.99), chroma_words(1.2)
    ('64% chroma', 'all its chroma', 'more chroma')
    """
    if kept > 1.05:
        return "more chroma"
    return "all its chroma" if kept >= 0.95 else f"{kept:.0%} chroma"


def together(parents: Sequence[Parent], parts: Sequence[float], terms: Terms) -> Together:
    """What comes of two or three ``parents`` in ``parts``, each above 0.

    Raises ValueError for another number of parents, or parts that do not fit them.
    """
    if not 2 <= len(parents) <= 3 or len(parts) != len(parents) or min(parts) <= 0:
        raise ValueError("two or three parents are combined, with parts above 0 of each")
    strokes, turned, stirred = (as_lab(labs[0]) for labs in _mixed(parents, np.array([parts], dtype=float), terms))
    return Together(tuple(parents), tuple(float(p) for p in parts), strokes, turned, stirred)


def _mixed(parents: Sequence[Parent], parts: Array, terms: Terms) -> tuple[Array, Array, Array]:
    """Lab (m, 3) of strokes, after two turns and stirred, for every row of ``parts`` (m, n)."""
    surface, w = terms.finish or USUAL, spectral_weights()
    share = parts / parts.sum(axis=1, keepdims=True)
    K, S = _spectra(parents, terms)
    strokes = share @ (reflectance(K, S, surface) @ w)
    stirred = reflectance(share @ K, share @ S, surface) @ w
    a, b, c = (xyz_to_lab(x, w.sum(axis=0)) for x in (strokes, (1 - TURNED) * strokes + TURNED * stirred, stirred))
    return a, b, c


def _spectra(parents: Sequence[Parent], terms: Terms) -> tuple[Array, Array]:
    made = [Source(p.tube, p.tube, p.shares).spectra(terms.tubes) for p in parents]
    return np.stack([k for k, _ in made]), np.stack([s for _, s in made])


def nearest_parts(parents: Sequence[Parent], target: Sequence[float], terms: Terms) -> tuple[float, ...]:
    """The small whole numbers of parents, at least one of each, whose mixture after two turns comes nearest to
    ``target`` Lab (3,); the simpler of two that are as near."""
    rows = [p for p in itertools.product(range(1, MOST_TOGETHER + 1), repeat=len(parents)) if math.gcd(*p) == 1]
    turned = _mixed(parents, np.array(rows, dtype=float), terms)[1]
    error = weighted_error(turned, np.array(target, dtype=float), np.array(ORDERS[terms.order]))
    return tuple(float(x) for x in rows[int(np.argmin(error + 0.1 * np.array([sum(r) for r in rows])))])


def leans(parents: Sequence[Parent], terms: Terms) -> list[Together]:
    """The mixture turned along an area, from the lean to the first parent to that to the last, in five steps; a third
    parent between them goes in alike everywhere."""
    return [together(parents, (a, *[1.0] * (len(parents) - 2), b), terms) for a, b in _LEANS]


@dataclass(frozen=True)
class Bits:
    """Bits of a colour that grey a pile at its value and leave it alive."""

    parent: Parent
    pile_parts: int
    """Parts of the pile to one of the bits."""
    lab: tuple[float, float, float]
    """Of both, as strokes."""


def greying(pile: Sequence[float], terms: Terms) -> list[Bits]:
    """Bits for a pile of Lab (3,): what lies across from it, in the parts that take about a third of its chroma."""
    surface, by_id = terms.finish or USUAL, {t.id: t for t in terms.tubes}
    wanted = math.hypot(pile[1], pile[2]) * (1 - _GREYED)
    out = []
    for found in alive_grey(pile, terms.tubes, surface):
        parent = brought_to(as_source(by_id[found.tube]), float(pile[0]), terms)
        if parent is None:
            continue
        mixed = [(n, average([pile, parent.lab], [n, 1])) for n in range(1, 13)]
        n, lab = min(mixed, key=lambda m: abs(math.hypot(*m[1][1:]) - wanted))
        out.append(Bits(parent, n, lab))
    return out


def source_of(paint_id: str, terms: Terms, piles: Sequence[Source] = ()) -> Source:
    """A tube of the palette or one of the ``piles``, by its id; KeyError where there is none."""
    for t in terms.tubes:
        if t.id == paint_id:
            return as_source(t)
    for p in piles:
        if p.id == paint_id:
            return p
    raise KeyError(paint_id)
