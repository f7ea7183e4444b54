"""What a recipe is: tubes and piles in parts that a hand can measure, what comes out, how near, and why."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.paint.tubes import Tube

TINT_WHITE = 10.0
"""A tint pile is one part of paint to ten of white (common practice, no source)."""
TINT = "tint-"
"""What the ids of tint piles begin with; the tube's follows."""


@dataclass(frozen=True)
class Source:
    """Something to mix from that is not a tube: a tint pile or a pile that exists."""

    id: str
    name: str
    shares: tuple[tuple[str, float], ...]
    """Tube id and share of volume; sums to 1."""

    @property
    def is_tint(self) -> bool:
        return self.id.startswith(TINT)

    def spectra(self, tubes: Sequence[Tube]) -> tuple[Array, Array]:
        by_id = {t.id: t for t in tubes}
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
    why: str
    tints: tuple[Source, ...] = ()
    """Tint piles that the ingredients use."""
    kind: str = ""
    """What it is the best at, a key of ranking.KINDS; empty for the plain best."""

    @property
    def tube_parts(self) -> dict[str, float]:
        """Parts per tube when every tint pile is counted out in its tubes, in lowest terms: whole parts throughout
        where tint piles are used, else as measured. Holds nothing for piles that are mixed onward from.
        """
        out: dict[str, float] = {}
        for item in self.ingredients:
            if not item.is_pile:
                out[item.id] = out.get(item.id, 0.0) + item.parts * (TINT_WHITE + 1 if self.tints else 1)
            for tint in self.tints:
                if tint.id == item.id:
                    for tube_id, share in tint.shares:
                        out[tube_id] = out.get(tube_id, 0.0) + item.parts * share * (TINT_WHITE + 1)
        if not self.tints:
            return out
        quarters = np.round(np.array(list(out.values())) * 4).astype(int)
        return {i: float(q) for i, q in zip(out, quarters // np.gcd.reduce(quarters), strict=True)}


def parts_words(parts: float) -> str:
    """ "touch", "½" or the number of parts."""
    return {0.25: "touch", 0.5: "½"}.get(parts, f"{parts:g}")


def ingredient_words(item: Ingredient) -> str:
    """An ingredient as it is read out: "4 white", "touch of black", "10 of pile 2"."""
    of = "of " if item.is_pile or item.parts == 0.25 else ""
    return f"{parts_words(item.parts)} {of}{item.name}"


def tint_of(paint: Tube, white: Tube) -> Source:
    """The tint pile of a paint: one part to ten of white."""
    total = TINT_WHITE + 1
    return Source(f"{TINT}{paint.id}", f"{paint.short} tint", ((white.id, TINT_WHITE / total), (paint.id, 1 / total)))
