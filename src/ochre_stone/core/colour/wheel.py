"""Painters' wheels: the traditional one (red, yellow, blue; twelve steps) and a perceptual one (Munsell hue).

Both are one-to-one maps of the CIELAB hue angle, so a note can be turned on either wheel and brought back. The
anchors of the traditional wheel are a judgement from memory of how painters place their pigments, given as Munsell
hues at value 5, chroma 8; the perceptual wheel places the forty Munsell hues of equal steps. Between anchors:
periodic monotone cubic interpolation (:mod:`ochre_stone.core.curves`).
"""

import functools
from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.munsell import HUE_NAMES, munsell_to_lab
from ochre_stone.core.colour.spaces import Array, lch
from ochre_stone.core.curves import MonotoneCurve

WheelName = Literal["traditional", "perceptual"]

WHEEL_STEPS = (
    "red", "red-orange", "orange", "yellow-orange", "yellow", "yellow-green",
    "green", "blue-green", "blue", "blue-violet", "violet", "red-violet",
)  # fmt: skip
"""Names of the traditional wheel at 0, 30 ... 330 degrees."""

_TRADITIONAL_MUNSELL = (6.25, 11.25, 15.0, 20.0, 26.25, 35.0, 42.5, 55.0, 71.0, 78.0, 85.0, 95.0)
_PERCEPTUAL_MUNSELL = tuple(2.5 * i for i in range(40))
PERCEPTUAL = ("red", "yellow-red", "yellow", "green-yellow", "green", "blue-green", "blue",
                     "purple-blue", "purple", "red-purple")  # fmt: skip


@dataclass(frozen=True)
class Wheel:
    """A wheel: angles 0..360 degrees against CIELAB hue angles, both ways."""

    name: WheelName
    _forward: MonotoneCurve
    _grid: Array
    _angles: Array
    """Wheel angles of ``_grid`` (0..360), unwound: rising over one whole turn."""

    def angle(self, lab_hue: npt.ArrayLike) -> Array:
        """Wheel angle (0..360) of CIELAB hue angles in degrees."""
        return np.asarray(self._forward(np.asarray(lab_hue, dtype=float) % 360) % 360)

    def lab_hue(self, angle: npt.ArrayLike) -> Array:
        """CIELAB hue angle (0..360) of wheel angles in degrees."""
        start = self._angles[0]
        unwound = (np.asarray(angle, dtype=float) - start) % 360 + start
        return np.asarray(np.interp(unwound, self._angles, self._grid) % 360)

    def labels(self) -> list[tuple[float, str]]:
        """Angle and word of each marked place, for drawing."""
        if self.name == "traditional":
            return [(30.0 * i, word) for i, word in enumerate(WHEEL_STEPS)]
        return [(18.0 + 36.0 * i, HUE_NAMES[i]) for i in range(10)]

    def word(self, angle: float) -> str:
        """Name of the nearest marked place."""
        if self.name == "traditional":
            return WHEEL_STEPS[round(angle / 30) % 12]
        return PERCEPTUAL[int(angle % 360 // 36) % 10]


@functools.cache
def wheel(name: WheelName = "traditional") -> Wheel:
    """The wheel of that name; raises KeyError for another name."""
    hues, angles = {
        "traditional": (_TRADITIONAL_MUNSELL, tuple(30.0 * i for i in range(12))),
        "perceptual": (_PERCEPTUAL_MUNSELL, tuple(3.6 * h for h in _PERCEPTUAL_MUNSELL)),
    }[name]
    lab_hues = np.array([lch(munsell_to_lab(h, 5.0, 8.0))[2] for h in hues], dtype=float)
    unwrapped = np.degrees(np.unwrap(np.radians(lab_hues)))
    x = np.concatenate([unwrapped - 360, unwrapped, unwrapped + 360])
    y = np.concatenate([np.array(angles) + 360 * k for k in (-1, 0, 1)])
    forward = MonotoneCurve(x, y)
    grid = np.linspace(0.0, 360.0, 7201)
    return Wheel(name, forward, grid, np.asarray(forward(grid)))


def turn(a: npt.ArrayLike, b: npt.ArrayLike) -> Array:
    """Signed shorter turn from one angle to another.

    Parameters: ``a``, ``b`` (...): degrees; they broadcast.

    Returns: (...), -180..180.

    >>> turn(350, 10), turn(10, 350)
    (array(20.), array(-20.))
    """
    return np.asarray((np.asarray(b, dtype=float) - np.asarray(a, dtype=float) + 180) % 360 - 180)
