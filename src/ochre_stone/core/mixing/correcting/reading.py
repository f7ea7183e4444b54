"""A pile as it was dosed, and as it was seen."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.mixing.recipe.dose import Dose, weighed
from ochre_stone.core.mixing.recipe.hand import Hand
from ochre_stone.core.mixing.recipe.recipe import Ingredient, Source
from ochre_stone.core.paint.optics import Surface

READER, PHOTO = 0.3, 1.5
"""Noise of one reading, CIEDE2000: a spot reader; a photo with a grey card in it (a judgement)."""


@dataclass(frozen=True)
class PileSeen:
    """A pile as it was seen.

    ``doses``: all that is in it, in the order in which it went in, shrunk where the pile was cut; ``lab``: Lab read;
    ``noise``: its standard deviation in each direction of CIEDE2000; ``pile``: which pile it is: readings of one pile
    share their first doses, "" for a pile that was seen once; ``surface``: that it was read with, None for the one that
    piles are looked at with now.
    """

    doses: tuple[Dose, ...]
    lab: tuple[float, float, float]
    noise: float = READER
    pile: str = ""
    surface: Surface | None = None

    @classmethod
    def of(cls, amounts: Iterable[tuple[str, float]], lab: Sequence[float], noise: float = READER) -> "PileSeen":
        """A reading of a pile that was weighed: tube id and volume of each."""
        L, a, b = (float(v) for v in lab)
        return cls(weighed(amounts), (L, a, b), noise)


def mixed(
    ingredients: Sequence[Ingredient], inside: Mapping[str, Source], hand: Hand, times: float = 1.0, ml: float = 0.0
) -> tuple[Dose, ...]:
    """What goes into a pile as it is mixed by its recipe, each thing dosed by eye.

    ``inside``: by id, what is in the piles among the ``ingredients``; ``times``: how often the recipe is counted;
    ``ml``: millilitres of one part, 0 where they are not known. Raises KeyError for a pile that is not ``inside``.
    """
    out = []
    for i in ingredients:
        parts = i.parts * times
        error = round(float(hand.errors(np.array(i.parts), parts * ml if ml > 0 else None)), 4)
        if not i.is_pile:
            out.append(Dose.of_tube(i.id, parts, error))
        else:
            own = inside[i.id]
            out.append(Dose(own.shares, parts, error, i.id, unsure_within(own, hand)))
    return tuple(out)


def unsure_within(base: Source, hand: Hand) -> float:
    """How far what is in a base pile may be off, as :attr:`Dose.within`; 0 for a pile that is looked at."""
    return round(float(np.hypot(hand.dose, hand.dose)), 4) if len(base.parts) > 1 else 0.0
