"""What a scheme does to the whole picture: the way each note goes, spread smoothly over all colours between them.

Each note's way is a turn of hue about the grey axis and a shift that is left over. For every colour of a grid in
CIELAB the ways of all notes are averaged with Gaussian weights of distance (Shepard 1968, Proc. ACM; with a Gaussian
in place of the inverse distance), and held back where no note is near; a pixel takes its way from the grid by linear
interpolation, so that no bands appear. L* is never touched.
"""

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.gamut import most_chroma
from ochre_stone.core.colour.spaces import Array, lch
from ochre_stone.core.colour.wheel import turn
from ochre_stone.core.later import later

ndimage = later("scipy.ndimage")

Floats32 = npt.NDArray[np.float32]
_L, _AB = np.linspace(0, 100, 17), np.linspace(-120, 120, 49)
_NEAR, _FAR = 14.0, 40.0  # CIELAB units: how far a note's way reaches among others, and in all


def ways(before: npt.ArrayLike, after: npt.ArrayLike) -> Array:
    """Grid (17, 49, 49, 3) over L*, a*, b* of the turn of hue in degrees and the shift of a* and b* at each colour.

    ``before``, ``after``: notes Lab (n, 3), n at least 1.
    """
    a, b = (np.asarray(x, dtype=float).reshape(-1, 3) for x in (before, after))
    _, c0, h0 = lch(a)
    _, c1, h1 = lch(b)
    hued = (c0 > 1) & (c1 > 1)
    rotation = np.where(hued, turn(h0, h1), 0.0)
    rest = b[:, 1:] - _turned(a[:, 1:], rotation)
    grid = np.stack(np.meshgrid(_L, _AB, _AB, indexing="ij"), axis=-1).reshape(-1, 3)
    off = np.maximum((grid**2).sum(axis=1)[:, None] + (a**2).sum(axis=1)[None] - 2 * grid @ a.T, 0.0)
    nearest = off.min(axis=1, keepdims=True)
    weight = np.exp(-(off - nearest) / (2 * _NEAR**2))
    weight /= weight.sum(axis=1, keepdims=True)
    reach = np.exp(-nearest / (2 * _FAR**2))
    # A near-grey has no hue to turn: it says little about the turn of the colours beside it.
    say = weight * np.minimum(c0, 10.0)[None] / 10.0 + 1e-12
    turned = (say @ rotation) / say.sum(axis=1)
    out = np.concatenate([turned[:, None], weight @ rest], axis=1) * reach
    return np.asarray(out.reshape(len(_L), len(_AB), len(_AB), 3))


def _turned(ab: Array, degrees: npt.ArrayLike) -> Array:
    angle = np.radians(np.asarray(degrees, dtype=float))
    cos, sin = np.cos(angle), np.sin(angle)
    return np.stack([ab[..., 0] * cos - ab[..., 1] * sin, ab[..., 0] * sin + ab[..., 1] * cos], axis=-1)


def recoloured(lab: Floats32, grid: Array) -> Floats32:
    """Picture Lab (..., 3) with every pixel gone the way of :func:`ways`; chroma held inside sRGB where it grew."""

    flat = np.asarray(lab, dtype=np.float32).reshape(-1, 3)
    at = np.stack([flat[:, 0] * (16 / 100), (flat[:, 1] + 120) * (48 / 240), (flat[:, 2] + 120) * (48 / 240)])
    way = np.stack(
        [ndimage.map_coordinates(grid[..., i].astype(np.float32), at, order=1, mode="nearest") for i in range(3)]
    )
    angle = np.radians(way[0])
    cos, sin = np.cos(angle), np.sin(angle)
    out = flat.copy()
    out[:, 1] = flat[:, 1] * cos - flat[:, 2] * sin + way[1]
    out[:, 2] = flat[:, 1] * sin + flat[:, 2] * cos + way[2]
    chroma, old = np.hypot(out[:, 1], out[:, 2]), np.hypot(flat[:, 1], flat[:, 2])
    moved = np.hypot(out[:, 1] - flat[:, 1], out[:, 2] - flat[:, 2]) > 0.05
    if moved.any():
        hue = np.degrees(np.arctan2(out[moved, 2], out[moved, 1]))
        most = most_chroma(out[moved, 0], hue)
        old_hue = np.degrees(np.arctan2(flat[moved, 2], flat[moved, 1]))
        most = most * np.maximum(1.0, old[moved] / np.maximum(most_chroma(flat[moved, 0], old_hue), 1e-6))
        ratio = np.minimum(1.0, most / np.maximum(chroma[moved], 1e-6))
        out[moved, 1:] *= ratio[:, None]
    return out.reshape(lab.shape)
