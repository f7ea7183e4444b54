"""A pile as it was dosed, and as it was seen."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ochre_stone.core.mixing.recipe.hand import Hand
from ochre_stone.core.mixing.recipe.recipe import Ingredient, Source

READER, PHOTO = 0.3, 1.5
"""Noise of one reading, CIEDE2000: a spot reader; a photo with a grey card in it (a judgement)."""


@dataclass(frozen=True)
class Dosed:
    """One thing that was put into a pile: as much as was meant, give or take."""

    shares: tuple[tuple[str, float], ...]
    """Tube id and share of volume; sums to 1."""
    volume: float
    """As meant, in the unit of the pile."""
    error: float = 0.0
    """Standard deviation of its logarithm; 0 for a dose that is weighed."""
    source: str = ""
    """Id of the base pile that it was taken from, "" for a tube: what is off in a base pile is off wherever it goes."""
    within: float = 0.0
    """Error of the base pile's own doses, as ``error``."""


@dataclass(frozen=True)
class Reading:
    """A pile as it was seen.

    ``doses``: all that is in it, in the order in which it went in, shrunk where the pile was cut; ``lab``: Lab read;
    ``noise``: its standard deviation in each direction of CIEDE2000; ``pile``: which pile it is: readings of one pile
    share their first doses, "" for a pile that was seen once.
    """

    doses: tuple[Dosed, ...]
    lab: tuple[float, float, float]
    noise: float = READER
    pile: str = ""

    @classmethod
    def of(cls, amounts: Iterable[tuple[str, float]], lab: Sequence[float], noise: float = READER) -> "Reading":
        """A reading of a pile that was weighed: tube id and volume of each."""
        L, a, b = (float(v) for v in lab)
        return cls(weighed(amounts), (L, a, b), noise)


def weighed(amounts: Iterable[tuple[str, float]], error: float = 0.0) -> tuple[Dosed, ...]:
    """Tubes and their volumes as doses that are off by ``error``."""
    return tuple(Dosed(((i, 1.0),), float(v), error) for i, v in amounts if v != 0)


def contents(doses: Sequence[Dosed]) -> dict[str, float]:
    """Tube id to volume, as meant."""
    out: dict[str, float] = {}
    for d in doses:
        for tube_id, share in d.shares:
            out[tube_id] = out.get(tube_id, 0.0) + share * d.volume
    return out


def shrunk(doses: Sequence[Dosed], keep: float) -> tuple[Dosed, ...]:
    """The doses of a pile of which ``keep`` is left."""
    return tuple(replace(d, volume=d.volume * keep) for d in doses)


def mixed(
    ingredients: Sequence[Ingredient], inside: Mapping[str, Source], hand: Hand, times: float = 1.0, ml: float = 0.0
) -> tuple[Dosed, ...]:
    """What goes into a pile as it is mixed by its recipe, each thing dosed by eye.

    ``inside``: by id, what is in the piles among the ``ingredients``; ``times``: how often the recipe is counted;
    ``ml``: millilitres of one part, 0 where they are not known. Raises KeyError for a pile that is not ``inside``.
    """
    out = []
    for i in ingredients:
        parts = i.parts * times
        error = float(hand.errors(np.array(i.parts), parts * ml if ml > 0 else None))
        if not i.is_pile:
            out.append(Dosed(((i.id, 1.0),), parts, error))
        else:
            own = inside[i.id]
            out.append(Dosed(own.shares, parts, error, i.id if own.parts else "", unsure_within(own, hand)))
    return tuple(out)


def unsure_within(base: Source, hand: Hand) -> float:
    """How far what is in a base pile may be off, as :attr:`Dosed.within`; 0 for a pile that is looked at."""
    return float(np.hypot(hand.dose, hand.dose)) if len(base.parts) > 1 else 0.0
