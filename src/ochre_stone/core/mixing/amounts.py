"""How much paint: from the canvas and each pile's share of it to millilitres and centimetres of ribbon per tube."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.mixing.strings import MixString
from ochre_stone.core.paint.tubes import Tube, tube

RIBBON_CM2 = 0.5
"""Cross-section of the ribbon that a common tube gives, cm^2 (8 mm nozzle): 1 ml is about 2 cm."""
LEAST_ML = 0.5
"""The smallest pile worth mixing."""


@dataclass(frozen=True)
class Amounts:
    """Millilitres to mix, everything that is mixed onward counted in."""

    piles: dict[str, float]
    tints: dict[str, float]
    """By string id and tint id, as "skin/tint-burnt-sienna"."""
    tubes: dict[str, float]

    @property
    def total(self) -> float:
        return sum(self.tubes.values())

    whites: frozenset[str] = frozenset()
    """Ids of the tubes of white."""

    @property
    def white_share(self) -> float:
        """Share of white in all paint, 0..1."""
        return sum(v for i, v in self.tubes.items() if i in self.whites) / max(self.total, 1e-9)


def ribbon_cm(ml: float) -> float:
    """Length of ribbon squeezed from a tube."""
    return ml / RIBBON_CM2


def amounts(
    strings: Sequence[MixString],
    shares: Mapping[str, float],
    canvas_cm2: float,
    thickness_mm: float = 0.2,
    spare: float = 0.3,
    known: Callable[[str], Tube] = tube,
) -> Amounts:
    """Paint to squeeze out.

    ``shares``: pile id to share of the canvas (0..1); ``canvas_cm2`` above 0; ``thickness_mm`` of the wet layer (0.1
    thin ... 0.5 generous); ``spare``: extra on top, 0.3 is a third more. What another pile draws from a pile is mixed
    on top. ``known``: tells the tubes that the recipes name.
    """
    if canvas_cm2 <= 0 or thickness_mm <= 0 or spare < 0:
        raise ValueError("canvas and thickness need to be above 0, and the spare not below 0")
    per_canvas = canvas_cm2 * thickness_mm / 10 * (1 + spare)
    piles: dict[str, float] = {}
    tints: dict[str, float] = {}
    tubes: dict[str, float] = {}
    for string in strings:
        for p in string.piles:
            piles[p.id] = max(per_canvas * shares.get(p.id, 0.0), LEAST_ML)
        for p in sorted(string.piles, key=lambda p: -p.order):  # those mixed last draw from those mixed first
            whole = sum(i.parts for i in p.recipe.ingredients)
            for item in p.recipe.ingredients:
                ml = piles[p.id] * item.parts / whole
                if not item.is_pile:
                    tubes[item.id] = tubes.get(item.id, 0.0) + ml
                elif item.id in piles:
                    piles[item.id] += ml
                else:
                    key = f"{string.id}/{item.id}"
                    tints[key] = tints.get(key, 0.0) + ml
        for source in string.tints:
            for tube_id, share in source.shares:
                tubes[tube_id] = tubes.get(tube_id, 0.0) + tints.get(f"{string.id}/{source.id}", 0.0) * share
    order = sorted(tubes, key=lambda i: -tubes[i])
    whites = frozenset(i for i in tubes if known(i).is_white)
    return Amounts(piles, tints, {i: float(np.round(tubes[i], 3)) for i in order}, whites)
