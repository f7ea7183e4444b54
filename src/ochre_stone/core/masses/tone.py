"""Bring the scene's range of values into what white and black paint can reach.

A photo or scene spans more than paint: white paint stands near L* 96, a matt black near L* 25, a glossy one lower
(product description, section 3). Which end gives way is the painter's choice, so each way is a rising curve of
Munsell value through a few knots, interpolated without overshoot (Fritsch and Carlson 1980, SIAM J. Numer. Anal. 17).
"""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.munsell import lightness_of_value, value_of_lightness
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.curves import MonotoneCurve
from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture.frame import Point

Keep = Literal["scene", "lights", "darks", "middle", "even", "drawn"]
KEEPS: dict[Keep, str] = {
    "scene": "the scene as it is",
    "lights": "keep the lights",
    "darks": "keep the darks",
    "middle": "keep the middle",
    "even": "ease all alike",
    "drawn": "a drawn curve",
}
WHITE_PAINT = float(value_of_lightness(96.0))
DARKEST: dict[str, float] = {"glossy": 1.2, "satin": 1.5, "sunk": 2.0, "matt": float(value_of_lightness(25.0))}
"""Munsell value of black paint by the finish of the film, as ivory black is predicted to .1 (matt .2). Matt is from
the product description."""
LEAST_SPAN = 2.0
_KEPT_KNOTS = 7  # on a straight stretch, so that the interpolation keeps it straight
_TAIL = 0.5  # percent of the pixels beyond each end of the scene's range


@dataclass(frozen=True)
class Tone:
    """What the painter chose; values are Munsell's."""

    keep: Keep = "scene"
    white: float = round(WHITE_PAINT, 2)
    """Value that the white reaches."""
    black: float = DARKEST["glossy"]
    low: float = 0.0
    """Darkest value of the scene, and its lightest."""
    high: float = 10.0
    drawn: tuple[Point, ...] = ()
    """Knots (value of the scene, value of the picture) of a drawn curve, rising both ways."""

    def __post_init__(self) -> None:
        if self.keep not in KEEPS:
            raise OchreError(f"'{self.keep}' is no way to ease the range: choose one of {', '.join(KEEPS)}.")
        if not (self.black >= 0 and self.white <= 10 and self.white - self.black >= LEAST_SPAN):
            raise OchreError(
                f"Black at value {self.black:g} and white at {self.white:g} leave no range: white must stand at least "
                f"{LEAST_SPAN:g} steps above black, both between 0 and 10."
            )
        if not 0 <= self.low <= self.high <= 10:
            raise OchreError(f"The scene's range of {self.low:g} to {self.high:g} is not possible.")
        if self.keep == "drawn" and len(self.drawn) < 2:
            raise OchreError("A drawn curve needs at least two points.")
        for (x, y), (x2, y2) in itertools.pairwise(self.drawn):
            if x2 <= x or y2 < y:
                raise OchreError("The points of a drawn curve must rise from dark to light.")
        if any(not (0 <= v <= 10) for p in self.drawn for v in p):
            raise OchreError("The points of a drawn curve must stand between value 0 and 10.")

    def knots(self) -> tuple[Point, ...]:
        """The curve's knots, dark to light; two for the scene as it is.

        The kept part has slope 1 and lies as near to its own values as the paint allows; the rest gives way evenly.
        """
        if self.keep == "scene":
            return ((0.0, 0.0), (10.0, 10.0))
        if self.keep == "drawn":
            return self.drawn
        low, high = self.low, max(self.high, self.low + 0.1)
        # A scene inside the range of paint stays as it is.
        bottom, top = max(low, self.black), min(high, self.white)
        if top - bottom < 0.2:  # all of it is darker than black paint, or lighter than white
            bottom, top = max(min(bottom, self.white - 0.2), self.black), min(max(top, self.black + 0.2), self.white)
        third = (high - low) / 3
        # Where the kept part begins and ends, and by how much it is moved.
        start, end, shift = {
            "lights": (low + third, high, top - high),
            "darks": (low, high - third, bottom - low),
            "middle": (low + third, high - third, 0.0),
        }.get(self.keep, (low, high, 0.0))
        if self.keep == "even":
            return ((low, bottom), (high, top))
        room = (top - bottom) * 0.02
        kept = [x for x in np.linspace(start, end, _KEPT_KNOTS).tolist() if low < x < high]
        return ((low, bottom), *((x, min(max(x + shift, bottom + room), top - room)) for x in kept), (high, top))

    def value(self, value: npt.ArrayLike) -> Array:
        """Value of the picture (...) for values of the scene (...), 0 to 10; rising."""
        v = np.asarray(value, dtype=float)
        if self.keep == "scene":
            return v
        x, y = (np.array(a) for a in zip(*self.knots(), strict=True))
        curve = MonotoneCurve(x, y)
        # Beyond the knots values stay at the ends of the paint: nothing is darker than black.
        return np.asarray(np.clip(curve(np.clip(v, x[0], x[-1])), 0, 10))

    def lab(self, lab: npt.ArrayLike) -> Array:
        """Colours Lab (..., 3) with their value eased; chroma eases with lightness, so that darks keep their depth."""
        colours = np.array(lab, dtype=float)
        if self.keep == "scene":
            return colours
        old = colours[..., 0]
        new = lightness_of_value(self.value(value_of_lightness(np.clip(old, 0, 100))))
        ratio = np.clip(np.where(old > 1, new / np.maximum(old, 1), 1.0), 0.0, 1.0)
        colours[..., 0] = new
        colours[..., 1:] *= ratio[..., None]
        return colours


def scene_range(value: npt.ArrayLike) -> tuple[float, float]:
    """Darkest and lightest Munsell value of a picture (any shape); half a percent of its pixels may lie beyond each."""
    low, high = np.percentile(np.asarray(value, dtype=float), [_TAIL, 100 - _TAIL])
    return round(float(np.clip(low, 0, 10)), 2), round(float(np.clip(high, 0, 10)), 2)


def reach(labs: Sequence[tuple[float, float, float]]) -> tuple[float, float]:
    """Darkest and lightest Munsell value among colours Lab; for the mixtures of a palette."""
    L = np.array([c[0] for c in labs])
    low, high = value_of_lightness(np.array([L.min(), L.max()])).tolist()
    return float(low), float(high)


AS_IT_IS = Tone()
"""The scene's own values."""
