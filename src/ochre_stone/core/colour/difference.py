"""Colour difference CIEDE2000 (CIE 142:2001; Sharma, Wu and Dalal 2005, Color Res. Appl. 30(1))."""

from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import Array

_POW25_7 = 25.0**7
_RAD = np.pi / 180


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
    c7 = ((np.hypot(a1, b1) + np.hypot(a2, b2)) / 2) ** 7
    stretch = 1.5 - 0.5 * np.sqrt(c7 / (c7 + _POW25_7))
    a1p, a2p = a1 * stretch, a2 * stretch
    C1, C2 = np.hypot(a1p, b1), np.hypot(a2p, b2)
    h1 = np.arctan2(b1, a1p) / _RAD % 360
    h2 = np.arctan2(b2, a2p) / _RAD % 360
    both = C1 * C2 > 0
    turn = h2 - h1
    turn = np.where(turn > 180, turn - 360, np.where(turn < -180, turn + 360, turn))
    turn = np.where(both, turn, 0.0)
    dL, dC = L2 - L1, C2 - C1
    dH = 2 * np.sqrt(C1 * C2) * np.sin(turn * _RAD / 2)
    Lm, Cm = (L1 + L2) / 2, (C1 + C2) / 2
    total = h1 + h2
    mean = np.where(np.abs(h1 - h2) > 180, np.where(total < 360, total + 360, total - 360) / 2, total / 2)
    hm = np.where(both, mean, total)
    T = (
        1
        - 0.17 * np.cos(_RAD * (hm - 30))
        + 0.24 * np.cos(_RAD * 2 * hm)
        + 0.32 * np.cos(_RAD * (3 * hm + 6))
        - 0.20 * np.cos(_RAD * (4 * hm - 63))
    )
    SL = 1 + 0.015 * (Lm - 50) ** 2 / np.sqrt(20 + (Lm - 50) ** 2)
    m7 = Cm**7
    RT = -np.sin(_RAD * 60 * np.exp(-(((hm - 275) / 25) ** 2))) * 2 * np.sqrt(m7 / (m7 + _POW25_7))
    x, y = dC / (1 + 0.045 * Cm), dH / (1 + 0.015 * Cm * T)
    return np.stack([dL / SL, x + RT * y / 2, np.sqrt(1 - RT * RT / 4) * y], axis=-1)


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
