"""How strong a colour of some lightness and hue a screen can show: the border of sRGB, from a baked table.

``tools/make_gamut_table.py`` finds the chroma by bisection on the linear RGB of CIELAB colours (primaries of IEC
61966-2-1, D65) on a grid of L* by 1 and hue by 1 degree. Between the nodes it is interpolated: within .2 of C*ab for
99 of 100 colours, less exact only at the sharp corners.
"""

import functools

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import Array
from ochre_stone.resources import resource

_HUES = 360
_SCALE = 100.0


@functools.cache
def _table() -> Array:
    """Greatest C*ab (101, 361) at L* 0..100 and hue 0..360."""
    table: Array = np.load(resource("colour", "gamut.npy")).astype(float) / _SCALE
    table.setflags(write=False)
    return table


def most_chroma(lightness: npt.ArrayLike, hue: npt.ArrayLike) -> Array:
    """Greatest C*ab inside sRGB.

    Parameters: ``lightness`` (...): L*, clipped to 0..100; ``hue`` (...): CIELAB hue in degrees. They broadcast.

    Returns: (...), 0 at black and white.

    >>> most_chroma(53.24, 40.0).round(0)  # the red primary: L* 53.24, C*ab 104.6 at 40.0 degrees
    np.float64(104.0)
    """
    L = np.clip(np.asarray(lightness, dtype=float), 0, 100)
    h = np.asarray(hue, dtype=float) % 360 * (_HUES / 360)
    i, j = np.minimum(L.astype(int), 99), np.minimum(h.astype(int), _HUES - 1)
    u, v = L - i, h - j
    t = _table()
    return np.asarray(
        (1 - u) * ((1 - v) * t[i, j] + v * t[i, j + 1]) + u * ((1 - v) * t[i + 1, j] + v * t[i + 1, j + 1])
    )


def within_srgb(lightness: npt.ArrayLike, chroma: npt.ArrayLike, hue: npt.ArrayLike) -> Array:
    """Lab of lightness, chroma and hue, with the chroma held inside sRGB; lightness and hue stay.

    Parameters: ``lightness``, ``chroma``, ``hue`` (...): L*, C*ab, degrees; they broadcast.

    Returns: Lab (..., 3).

    >>> within_srgb(50.0, 10.0, 90.0).round(6) + 0.0
    array([50.,  0., 10.])
    """
    L, h = np.asarray(lightness, dtype=float), np.asarray(hue, dtype=float)
    C = np.minimum(np.asarray(chroma, dtype=float), most_chroma(L, h))
    return np.stack([np.broadcast_to(L, C.shape), C * np.cos(np.radians(h)), C * np.sin(np.radians(h))], axis=-1)
