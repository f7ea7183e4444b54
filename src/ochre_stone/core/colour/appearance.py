"""The colour appearance model CIECAM16, both ways (CIE 248:2022; Li et al. 2017, Color Res. Appl. 42(6)).

XYZ here is Y = 1 for the reference white as elsewhere in the program; luminances of the background are 0..1 too.
"""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import WHITE_D65, Array

_M16: Array = np.array(
    [[0.401288, 0.650173, -0.051461], [-0.250268, 1.204414, 0.045854], [-0.002079, 0.048952, 0.953127]]
)
_M16_INVERSE: Array = np.asarray(np.linalg.inv(_M16))
# F, c, Nc of an average surround, as at an easel by day.
_F, _C, _NC = 1.0, 0.69, 1.0


@dataclass(frozen=True)
class Conditions:
    """Under which a colour is seen."""

    white: tuple[float, float, float] = (float(WHITE_D65[0]), 1.0, float(WHITE_D65[2]))
    background: float = 0.2
    """Luminance of the background, 0..1 against white."""
    adapting: float = 64.0
    """Luminance of the adapting field in cd/m2: about 20 % of a white of 320 cd/m2, a well lit studio."""
    full: bool = False
    """Whether the eye discounts the light fully; else by the model's own degree."""


@dataclass(frozen=True)
class Appearance:
    """Lightness J, chroma C and hue angle h (degrees) with colourfulness M, of any shape alike."""

    J: Array
    C: Array
    h: Array
    M: Array


@dataclass(frozen=True)
class _Factors:
    fl: float
    n: float
    z: float
    nbb: float
    gains: Array
    aw: float


def _factors(c: Conditions) -> _Factors:
    k = 1 / (5 * c.adapting + 1)
    fl = 0.2 * k**4 * 5 * c.adapting + 0.1 * (1 - k**4) ** 2 * (5 * c.adapting) ** (1 / 3)
    n = c.background
    nbb = 0.725 * (1 / n) ** 0.2
    d = 1.0 if c.full else float(np.clip(_F * (1 - (1 / 3.6) * np.exp((-c.adapting - 42) / 92)), 0, 1))
    rgb_w = _M16 @ (np.array(c.white) * 100)
    gains = d * 100 * c.white[1] / rgb_w + 1 - d
    aw = _achromatic(_compress(gains * rgb_w, fl), nbb)
    return _Factors(fl, n, 1.48 + n**0.5, nbb, gains, float(aw))


def _compress(rgb: Array, fl: float) -> Array:
    p = (fl * np.abs(rgb) / 100) ** 0.42
    return np.asarray(np.sign(rgb) * 400 * p / (27.13 + p) + 0.1)


def _expand(rgb: Array, fl: float) -> Array:
    x = rgb - 0.1
    p = 27.13 * np.abs(x) / np.maximum(400 - np.abs(x), 1e-9)
    return np.asarray(np.sign(x) * 100 / fl * p ** (1 / 0.42))


def _achromatic(rgb_a: Array, nbb: float) -> Array:
    return np.asarray((2 * rgb_a[..., 0] + rgb_a[..., 1] + rgb_a[..., 2] / 20 - 0.305) * nbb)


def appearance(xyz: npt.ArrayLike, conditions: Conditions | None = None) -> Appearance:
    """How colours appear under conditions.

    Parameters: ``xyz`` (..., 3), Y = 1 for white; ``conditions``: the studio by default.

    Returns: J, C, h and M, (...) each.

    Source: Li and others 2017, Color Res. Appl. 42(6) (CAM16); CIE 248:2022. The example is theirs.

    >>> bright = Conditions(white=(0.9505, 1.0, 1.0888), background=0.2, adapting=318.31)
    >>> seen = appearance([0.1901, 0.2, 0.2178], bright)
    >>> [round(float(x), 2) for x in (seen.J, seen.C, seen.h)]
    [41.73, 0.1, 217.07]
    """
    f = _factors(conditions or Conditions())
    rgb = f.gains * (np.asarray(xyz, dtype=float) * 100 @ _M16.T)
    r = _compress(rgb, f.fl)
    a = r[..., 0] - 12 * r[..., 1] / 11 + r[..., 2] / 11
    b = (r[..., 0] + r[..., 1] - 2 * r[..., 2]) / 9
    hue = np.degrees(np.arctan2(b, a)) % 360
    bright = np.maximum(_achromatic(r, f.nbb), 0)
    J = 100 * (bright / f.aw) ** (_C * f.z)
    t = (50000 / 13 * _NC * f.nbb * _ecc(hue) * np.hypot(a, b)) / (r[..., 0] + r[..., 1] + 21 * r[..., 2] / 20)
    C = t**0.9 * np.sqrt(J / 100) * (1.64 - 0.29**f.n) ** 0.73
    return Appearance(np.asarray(J), np.asarray(C), np.asarray(hue), np.asarray(C * f.fl**0.25))


def _ecc(hue: Array) -> Array:
    return np.asarray((np.cos(np.radians(hue) + 2) + 3.8) / 4)


def xyz_of(seen: Appearance, conditions: Conditions | None = None) -> Array:
    """XYZ that appears so: the inverse of :func:`appearance`.

    Parameters: ``seen``: J, C and h of any shape alike (M is not used); ``conditions``: the studio by default.

    Returns: XYZ (..., 3), Y = 1 for white.

    >>> xyz_of(appearance([0.3, 0.25, 0.1])).round(4)
    array([0.3 , 0.25, 0.1 ])
    """
    f = _factors(conditions or Conditions())
    J = np.maximum(np.asarray(seen.J, dtype=float), 1e-6)
    t = (seen.C / (np.sqrt(J / 100) * (1.64 - 0.29**f.n) ** 0.73)) ** (1 / 0.9)
    p2 = f.aw * (J / 100) ** (1 / _C / f.z) / f.nbb + 0.305
    h = np.radians(seen.h)
    # The opponent signals solve a linear system once their direction is known: a = s cos h, b = s sin h.
    p1 = 50000 / 13 * _NC * f.nbb * _ecc(np.asarray(seen.h))
    cos, sin = np.cos(h), np.sin(h)
    # r, g, b in p2, a, b: r = (460 p2 + 451 a + 288 b) / 1403 and so on; t = p1 s / (r + g + 21 b / 20).
    grow = (451 - 891 - 21 / 20 * 220) * cos + (288 - 261 - 21 / 20 * 6300) * sin
    s = t * (460 * p2 * (2 + 21 / 20) / 1403) / np.maximum(p1 - t * grow / 1403, 1e-9)
    a, b = s * cos, s * sin
    rgb_a = (
        np.stack([460 * p2 + 451 * a + 288 * b, 460 * p2 - 891 * a - 261 * b, 460 * p2 - 220 * a - 6300 * b], axis=-1)
        / 1403
    )
    return np.asarray((_expand(rgb_a, f.fl) / f.gains) @ _M16_INVERSE.T / 100)
