"""How much paint: from the canvas and each pile's share of it to millilitres, grams and centimetres of ribbon per tube.

A layer of wet thickness t covers 1 / t of its volume: one millilitre at a tenth of a millimetre covers 100 cm2.
"""

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.mixing.recipe.hand import USUAL_HAND, Hand
from ochre_stone.core.mixing.strings.targets import MixString
from ochre_stone.core.paint.tubes import Tube, tube

RIBBON_CM2 = 0.5
"""Cross-section of the ribbon that a common tube gives, cm^2 (8 mm nozzle): 1 ml is about 2 cm."""
TUBE_ML = 40.0
"""A common tube."""


@dataclass(frozen=True)
class Amounts:
    """Millilitres to mix, everything that is mixed onward counted in."""

    piles: dict[str, float]
    bases: dict[str, float]
    """By id of the base pile: one tint is made for all strings that want it."""
    tubes: dict[str, float]
    whites: frozenset[str] = frozenset()
    """Ids of the tubes of white."""
    drawn: dict[tuple[str, str], float] | None = None
    """Millilitres that go from a pile into another, by their ids."""
    uncovered: float = 0.0
    """Share of the picture that no pile is for, 0..1: no paint is counted for it."""

    @property
    def uncovered_words(self) -> str:
        """ "11 % of the picture has no pile: no paint is counted for it."; "" where that is next to nothing."""
        if self.uncovered < 0.03:
            return ""
        return f"{self.uncovered:.0%} of the picture has no pile: no paint is counted for it."

    @property
    def total(self) -> float:
        return sum(self.tubes.values())

    @property
    def white_share(self) -> float:
        """Share of white in all paint, 0..1."""
        return sum(v for i, v in self.tubes.items() if i in self.whites) / max(self.total, 1e-9)

    def onward(self, pile_id: str) -> float:
        """Millilitres that other piles draw from a pile."""
        return sum(ml for (source, _), ml in (self.drawn or {}).items() if source == pile_id)


def ribbon_cm(ml: float) -> float:
    """Length of ribbon squeezed from a tube."""
    return ml / RIBBON_CM2


def grams(ml: float, paint: Tube) -> float:
    """Weight of tube paint."""
    return ml * paint.density


def amounts(
    strings: Sequence[MixString],
    shares: Mapping[str, float],
    canvas_cm2: float,
    thickness_mm: float = 0.2,
    spare: float = 0.3,
    known: Callable[[str], Tube] = tube,
    thick: Mapping[str, float] | None = None,
    hand: Hand = USUAL_HAND,
) -> Amounts:
    """Paint to squeeze out.

    ``shares``: pile id to share of the canvas (0..1); ``canvas_cm2`` above 0; ``thickness_mm`` of the wet layer (0.1
    thin ... 0.5 generous); ``spare``: extra on top, 0.3 is a third more; ``thick``: pile id to its own thickness, where
    it has one. What another pile draws from a pile is mixed on top. ``known``: tells the tubes that the recipes name;
    ``hand``: no pile is smaller than it can mix, nor than its smallest dose needs.
    """
    own = thick or {}
    if canvas_cm2 <= 0 or thickness_mm <= 0 or spare < 0 or any(t <= 0 for t in own.values()):
        raise ValueError("canvas and thickness need to be above 0, and the spare not below 0")
    piles: dict[str, float] = {}
    bases: dict[str, float] = {}
    tubes: dict[str, float] = {}
    drawn: dict[tuple[str, str], float] = {}
    every = [(s, p) for s in strings for p in s.piles]
    for _, p in every:
        wet = canvas_cm2 * own.get(p.id, thickness_mm) / 10
        piles[p.id] = wet * (1 + spare) * shares.get(p.id, 0.0)
    for _, p in sorted(every, key=lambda e: -e[1].order):  # those mixed last draw from those mixed first
        whole = sum(i.parts for i in p.recipe.ingredients)
        piles[p.id] = max(piles[p.id], float(hand.enough(np.array([i.parts for i in p.recipe.ingredients]))))
        for item in p.recipe.ingredients:
            ml = piles[p.id] * item.parts / whole
            if not item.is_pile:
                tubes[item.id] = tubes.get(item.id, 0.0) + ml
            elif item.id in piles:
                piles[item.id] += ml
                drawn[item.id, p.id] = ml
            else:
                bases[item.id] = bases.get(item.id, 0.0) + ml
    for source in {b.id: b for string in strings for b in string.bases}.values():
        least = float(hand.measurable(np.array([v for _, v in source.parts] or [1.0])))
        bases[source.id] = max(bases.get(source.id, 0.0), least)
        for tube_id, share in source.shares:
            tubes[tube_id] = tubes.get(tube_id, 0.0) + bases[source.id] * share
    order = sorted(tubes, key=lambda i: -tubes[i])
    whites = frozenset(i for i in tubes if known(i).is_white)
    return Amounts(piles, bases, {i: float(np.round(tubes[i], 3)) for i in order}, whites, drawn)


@dataclass(frozen=True)
class Shortage:
    """A tube of which there is too little."""

    tube: str
    needed: float
    """Millilitres."""
    stock: float | None
    """Millilitres in the box; None where the box has no such tube."""

    @property
    def short(self) -> float:
        return max(self.needed - (self.stock or 0.0), 0.0)

    def to_buy(self, tube_ml: float = TUBE_ML) -> int:
        """Tubes of ``tube_ml`` that make up for it."""
        return math.ceil(self.short / tube_ml - 1e-9)


def shopping(needed: Amounts, stock: Mapping[str, float]) -> list[Shortage]:
    """What has to be bought, the largest shortage first; nothing of what the stock covers."""
    rows = [Shortage(i, ml, stock.get(i)) for i, ml in needed.tubes.items()]
    return sorted((s for s in rows if s.short > 0.05), key=lambda s: -s.short)
