"""Colour difference CIEDE2000 (CIE 142:2001; Sharma, Wu and Dalal 2005, Color Res. Appl. 30(1))."""

from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import Array

_POW25_7 = 25.0**7
_RAD = np.pi / 180
_T1, _T3, _T4 = -0.17 * np.exp(-30j * _RAD), 0.32 * np.exp(6j * _RAD), -0.20 * np.exp(-63j * _RAD)
"""The cosines of T, as factors of the first, third and fourth power of the direction between the hues."""
_TINY = 1e-300
"""Beside nought: a grey has no hue, and none is asked for."""


def ciede2000_vector(lab: npt.ArrayLike, target: npt.ArrayLike) -> Array:
    """CIEDE2000 as a vector whose length it is.

    Parameters: ``lab``, ``target``: Lab (..., 3); they broadcast.

    Returns: (..., 3). The first component is the lightness difference over S_L, signed (above 0: ``lab`` is lighter
    than ``target``). The other two split the chroma-hue quadratic form x^2 + y^2 + R_T x y exactly into a sum of
    squares, which makes CIEDE2000 a least-squares problem.

    Source: Sharma, Wu and Dalal 2005; the split is this program's.

    >>> np.linalg.norm(ciede2000_vector([50, 0, -82.7485], [50, 2.6772, -79.7751])).round(4)
    np.float64(2.0425)
    """
    one, two = np.asarray(target, dtype=float), np.asarray(lab, dtype=float)
    L1, a1, b1 = one[..., 0], one[..., 1], one[..., 2]
    L2, a2, b2 = two[..., 0], two[..., 1], two[..., 2]
    i1, i2 = 1j * b1, 1j * b2
    c7 = _seventh((np.abs(a1 + i1) + np.abs(a2 + i2)) / 2)
    stretch = 1.5 - 0.5 * np.sqrt(c7 / (c7 + _POW25_7))
    a1, a2 = a1 * stretch, a2 * stretch
    z1, z2 = a1 + i1, a2 + i2
    C1, C2, Lm = np.abs(z1), np.abs(z2), (L1 + L2) / 2
    Cm = (C1 + C2) / 2
    # Hues as directions in the complex plane, so that no angle is taken but one: w is half the turn from one to two.
    dot, cross = a1 * a2 + b1 * b2, a1 * b2 - a2 * b1
    w = np.sqrt(dot + 1j * cross)
    opposite = (dot < 0) & (cross == 0)
    if np.any(opposite):  # as far apart both ways: the published formula goes up from the lower angle
        w = np.where(opposite & ((b1 < 0) | ((b1 == 0) & (a1 < 0))), -w, w)
    between = z1 * w + (w == 0) * (z1 + z2)  # beside a grey the hue of the other is the one between
    e = (between + _TINY) / (np.abs(between) + _TINY)
    hm = np.angle(e)
    hm = hm + (hm < 0) * (2 * np.pi)
    T = 1 + (e * (_T1 + e * (0.24 + e * (_T3 + e * _T4)))).real
    m7 = _seventh(Cm)
    RT = -2 * np.sin(np.pi / 3 * np.exp(-(((hm - 275 * _RAD) / (25 * _RAD)) ** 2))) * np.sqrt(m7 / (m7 + _POW25_7))
    x, y = (C2 - C1) / (1 + 0.045 * Cm), 2 * w.imag / (1 + 0.015 * Cm * T)
    away = (Lm - 50) ** 2
    out = np.empty((*np.shape(x), 3))
    out[..., 0] = (L2 - L1) / (1 + 0.015 * away / np.sqrt(20 + away))
    out[..., 1] = x + RT * y / 2
    out[..., 2] = np.sqrt(1 - RT * RT / 4) * y
    return out


def _seventh(x: Array) -> Array:
    square = x * x
    return square * square * square * x


def apart(lab: Sequence[float], other: Sequence[float]) -> float:
    """CIEDE2000 of two single colours, CIELAB (3,)."""
    return float(ciede2000(np.asarray(lab, dtype=float), np.asarray(other, dtype=float)))


def ciede2000(lab: npt.ArrayLike, target: npt.ArrayLike) -> Array:
    """CIEDE2000 between Lab colours, unit factors k_L = k_C = k_H = 1.

    Parameters: ``lab``, ``target``: Lab (..., 3); they broadcast.

    Returns: (...), 0 for the same colour; about 1 is just seen between large patches that touch.

    Source: CIE 142:2001; Sharma, Wu and Dalal 2005, whose first pair this is.

    >>> ciede2000([50, 0, -82.7485], [50, 2.6772, -79.7751]).round(4)
    np.float64(2.0425)
    """
    return np.asarray(np.linalg.norm(ciede2000_vector(lab, target), axis=-1))
