"""What a recipe is: tubes and piles in parts that a hand can measure, what comes out, how near, and why."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.errors import OchreError
from ochre_stone.core.paint.tubes import Tube

TINT_WHITE = 10.0
"""A tint pile is one part of paint to ten of white (common practice, no source)."""
BODY = 0.15
"""Share from which white is the body of a pile, and comes first."""
TINT, NEUTRAL, PARENT = "tint-", "neutral-", "parent-"
"""What the ids of base piles begin with: a tint (the tube's id follows), the neutral of a string (the string's), a
parent brought to a pile's value (the tube's, and the pile's)."""


@dataclass(frozen=True)
class Source:
    """Something to mix from that is not a tube: a base pile, made for some piles alone, or a pile that exists."""

    id: str
    name: str
    shares: tuple[tuple[str, float], ...]
    """Tube id and share of volume; sums to 1."""
    parts: tuple[tuple[str, float], ...] = ()
    """Of a base pile: the tubes that it is made of and their parts, in the order of adding."""

    @property
    def is_tint(self) -> bool:
        return self.id.startswith(TINT)

    def spectra(self, tubes: Sequence[Tube]) -> tuple[Array, Array]:
        """K and S (36,) of it. Raises OchreError where it is of a tube that is not among ``tubes``."""
        by_id = {t.id: t for t in tubes}
        if strange := [i for i, _ in self.shares if i not in by_id]:
            raise OchreError(f"'{self.name}' is of '{strange[0]}', which is not on this palette: work it out anew.")
        K = sum((by_id[i].K * c for i, c in self.shares), np.zeros(36))
        S = sum((by_id[i].S * c for i, c in self.shares), np.zeros(36))
        return K, S


@dataclass(frozen=True)
class Ingredient:
    """A tube or a pile with its parts (whole, a half, or .25 for a touch)."""

    id: str
    name: str
    parts: float
    is_pile: bool = False

    @property
    def is_tint(self) -> bool:
        return self.id.startswith(TINT)

    @property
    def is_base(self) -> bool:
        """Whether it is a small pile that is made for this one or its string, and no pile of the picture."""
        return self.id.startswith((TINT, NEUTRAL, PARENT))

    @property
    def said(self) -> str:
        """As it is read out: "4 white", "touch of black", "10 of pile 2"."""
        return dose_words(self.name, self.parts, self.is_pile)


@dataclass(frozen=True)
class Recipe:
    """One way to mix a target."""

    ingredients: tuple[Ingredient, ...]
    """In the order of adding: piles and weak or light paint first, strong paint last."""
    shares: tuple[tuple[str, float], ...]
    """Tube id and share of volume after all piles are taken apart; sums to 1."""
    lab: tuple[float, float, float]
    target: tuple[float, float, float]
    de00: float
    value_error: float
    """Munsell value steps; positive is too light."""
    hue_error: float
    """CIELAB hue turn in degrees, 0 for near-greys."""
    chroma_error: float
    """CIELAB chroma; positive is too strong."""
    uncertainty: float
    """CIEDE2000 by which the paints' figures may be off."""
    why: str
    bases: tuple[Source, ...] = ()
    """Base piles that the ingredients use."""
    by_eye: float = 0.0
    """CIEDE2000 to be expected where a hand doses it by eye."""
    kind: str = ""
    """What it is the best at, a key of ranking.KINDS; empty for the plain best."""

    @property
    def tube_parts(self) -> dict[str, float]:
        """Parts per tube when every base pile is counted out in its tubes, in lowest terms: whole parts throughout
        where base piles are used, else as measured. Holds nothing for piles that are mixed onward from.
        """
        made = {b.id: b for b in self.bases}
        exact: dict[str, Fraction] = {}
        for item in self.ingredients:
            base = made.get(item.id)
            if base is not None:
                whole = sum(Fraction(p).limit_denominator(400) for _, p in base.parts)
                for tube_id, p in base.parts:
                    more = Fraction(item.parts).limit_denominator(400) * Fraction(p).limit_denominator(400) / whole
                    exact[tube_id] = exact.get(tube_id, Fraction(0)) + more
            elif not item.is_pile:
                exact[item.id] = exact.get(item.id, Fraction(0)) + Fraction(item.parts).limit_denominator(400)
        if not made or not exact:
            return {i: float(p) for i, p in exact.items()}
        unit = math.lcm(*(p.denominator for p in exact.values()))
        counts = {i: int(p * unit) for i, p in exact.items()}
        shared = math.gcd(*counts.values())
        return {i: float(n // shared) for i, n in counts.items()}


def parts_words(parts: float) -> str:
    """ "touch", "half a touch", "½", "2¾" or the number of parts."""
    if parts in _TOUCHES:
        return _TOUCHES[parts]
    whole, rest = divmod(parts, 1)
    return f"{f'{whole:.0f}' if whole else ''}{_FRACTIONS[rest]}" if rest in _FRACTIONS else f"{parts:g}"


def in_a_row(words: Sequence[str]) -> str:
    """Words as they are read out.

    >>> in_a_row(["white", "red", "blue"]), in_a_row(["white"])
    ('white, red and blue', 'white')
    """
    return " and ".join([", ".join(words[:-1]), words[-1]] if len(words) > 1 else words)


def count_words(parts: float) -> str:
    """So many parts, counted.

    >>> count_words(1), count_words(3), count_words(0.5)
    ('1 part', '3 parts', '0.5 parts')
    """
    return f"{parts:.3g} part{'' if parts == 1 else 's'}"


_TOUCHES = {0.0625: "quarter of a touch", 0.125: "half a touch", 0.25: "touch"}
_FRACTIONS = {0.25: "¼", 0.5: "½", 0.75: "¾"}


def dose_words(name: str, parts: float, is_pile: bool = False) -> str:
    """A dose as it is read out: "4 white", "touch of black", "10 of pile 2"."""
    of = "of " if is_pile or parts in _TOUCHES else ""
    return f"{parts_words(parts)} {of}{name}"


def base_words(base: Source, short: Callable[[str], str]) -> str:
    """A base pile as it is read out, "ochre tint: 10 white, 1 ochre"; ``short``: the short name of a tube by its id."""
    return f"{base.name}: {', '.join(dose_words(short(i), parts) for i, parts in base.parts)}"


def tint_of(paint: Tube, white: Tube) -> Source:
    """The tint pile of a paint: one part to ten of white."""
    total = TINT_WHITE + 1
    shares = ((white.id, TINT_WHITE / total), (paint.id, 1 / total))
    return Source(f"{TINT}{paint.id}", f"{paint.short} tint", shares, ((white.id, TINT_WHITE), (paint.id, 1.0)))
