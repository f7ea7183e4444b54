"""Set the light: what is known to be grey or white becomes neutral, colour temperature, exposure, lifted darks.

Neutral: Bradford adaptation, ICC.1:2022 annex E. Temperature: Planck's locus in CIE 1960 u, v by Krystek 1985
(Color Res. Appl. 10(1)), set off so that 6504 K without tint is D65 exactly.
"""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import SRGB_TO_XYZ, WHITE_D65, XYZ_TO_SRGB, Array, adaptation, as_lab
from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture.picture import Floats

WHITE_LUMINANCE = 0.90
"""Luminance that a clicked white gets: white paint and paper reach about that."""
CARD_LUMINANCE = 0.18
"""Luminance of the usual photographic grey card; common practice, no source."""
NEUTRAL_KELVIN = 6504.0
LEAST_KELVIN, MOST_KELVIN = 2000.0, 15000.0
MOST_TINT = 30.0
_TINT_UNIT = 0.001
MOST_STOPS = 4.0
_LIFT_GAIN = 3.0
_LIFT_AT = 0.02
"""Luminance (about value 1.6) around which darks are lifted."""

Matrix = tuple[tuple[float, float, float], tuple[float, float, float], tuple[float, float, float]]
IDENTITY: Matrix = ((1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))


def as_rows(m: Array) -> Matrix:
    """A (3, 3) array as nested tuples."""
    (a, b, c) = (as_lab(r) for r in m)
    return a, b, c


def lift_gain(y: npt.ArrayLike, lift: float) -> Floats:
    """By how much light of luminance ``y`` (0..1) is raised; 1 in the lights, up to 1 + 3 ``lift`` in the darks.

    ``y * lift_gain(y)`` rises everywhere, so no two values change places.
    """
    t = np.maximum(np.asarray(y, dtype=np.float32), 0) / np.float32(_LIFT_AT)
    return np.asarray(1 + np.float32(_LIFT_GAIN * lift) / (1 + t * t), dtype=np.float32)


@dataclass(frozen=True)
class Balance:
    """A correction of linear-light sRGB: rows of a 3 x 3 matrix, then a lift of the darks (0..1).

    The picture itself is never changed.
    """

    matrix: Matrix = IDENTITY
    lift: float = 0.0

    def apply(self, linear: npt.ArrayLike) -> Floats:
        """Corrected linear light (..., 3); colours beyond sRGB stay beyond it."""
        x = np.asarray(linear, dtype=np.float32)
        if self.matrix != IDENTITY:
            x = np.asarray(x @ np.array(self.matrix, dtype=np.float32).T, dtype=np.float32)
        if self.lift > 0:
            x = x * lift_gain(x @ SRGB_TO_XYZ[1].astype(np.float32), self.lift)[..., None]
        return x

    def lifted(self, lab_lightness: float) -> float:
        """How many times the light of a corrected colour of this L* was raised by the lift."""
        if self.lift <= 0:
            return 1.0
        after = max(((lab_lightness + 16) / 116) ** 3 if lab_lightness > 8 else lab_lightness * 27 / 24389, 1e-6)
        y = np.linspace(0, after, 400)
        before = float(np.interp(after, y * lift_gain(y, self.lift), y))
        return after / max(before, 1e-7)


def locus_white(kelvin: float, tint: float = 0.0) -> Array:
    """XYZ (Y = 1) of a light of this colour temperature; ``tint`` above 0 is greener, below 0 pinker, 1 = .001 Duv."""

    def uv(t: float) -> Array:
        u = (0.860117757 + 1.54118254e-4 * t + 1.28641212e-7 * t * t) / (1 + 8.42420235e-4 * t + 7.08145163e-7 * t * t)
        v = (0.317398726 + 4.22806245e-5 * t + 4.20481691e-8 * t * t) / (1 - 2.89741816e-5 * t + 1.61456053e-7 * t * t)
        return np.array([u, v])

    def across(t: float) -> Array:
        along = uv(t * 1.005) - uv(t * 0.995)
        along = along / np.linalg.norm(along)
        # Toward green: larger v.
        du, dv = (float(d) for d in along)
        return np.array([dv, -du]) if du < 0 else np.array([-dv, du])

    X, Y, Z = WHITE_D65
    d65 = np.array([4 * X, 6 * Y]) / (X + 15 * Y + 3 * Z)
    off = d65 - uv(NEUTRAL_KELVIN)
    normal = across(NEUTRAL_KELVIN)
    rest = off - (off @ normal) * normal  # 6504 K is not quite the nearest place of the locus
    u, v = uv(kelvin) + (off @ normal + tint * _TINT_UNIT) * across(kelvin) + rest
    x, y = 3 * u / (2 * u - 8 * v + 4), 2 * v / (2 * u - 8 * v + 4)
    return np.array([x / y, 1.0, (1 - x - y) / y])


def light_matrix(kelvin: float, tint: float, stops: float) -> Array:
    """Correction (3, 3) of linear sRGB for a scene lit by such a light, and ``stops`` of exposure."""
    if kelvin == NEUTRAL_KELVIN and tint == 0:
        return np.asarray(np.eye(3) * 2.0**stops)
    return np.asarray(XYZ_TO_SRGB @ adaptation(locus_white(kelvin, tint)) @ SRGB_TO_XYZ * 2.0**stops)


def balance_from(colour: npt.ArrayLike, kind: str) -> Balance:
    """The balance that makes ``colour`` (linear-light sRGB, before any balance) neutral.

    ``kind``: "grey" keeps its luminance, "white" also brings it to ``WHITE_LUMINANCE``, "card" to ``CARD_LUMINANCE``.
    Raises OchreError where the colour is too dark, clipped or far too colourful to be a neutral under any usual light.
    """
    rgb = np.asarray(colour, dtype=float).reshape(3)
    xyz = SRGB_TO_XYZ @ rgb
    if xyz[1] < 0.01:
        raise OchreError("This spot is too dark to set the light by: click something lighter that is grey or white.")
    if rgb.max() > 0.995:
        raise OchreError("This spot is burnt out in the photo: click a white or grey that is a little darker.")
    if rgb.max() > 4 * max(float(rgb.min()), 1e-6):
        raise OchreError(
            "This spot is too colourful to be grey or white: click something that is neutral in the scene."
        )
    gain = {"white": WHITE_LUMINANCE / xyz[1], "card": CARD_LUMINANCE / xyz[1]}.get(kind, 1.0)
    matrix: Array = XYZ_TO_SRGB @ adaptation(xyz) @ SRGB_TO_XYZ
    # Adaptation moves Y a little for a coloured source; bring the spot back to the luminance asked for.
    gain *= xyz[1] / float((SRGB_TO_XYZ @ (matrix @ rgb))[1])
    return Balance(as_rows(matrix * gain))
