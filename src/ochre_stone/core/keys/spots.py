"""Clean spots to take a note from: inside the thing, near the colour, with room around."""

import numpy as np

from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.later import later
from ochre_stone.core.picture.picture import Floats, Mask

cv2 = later("cv2")

_ROOM = 6.0
_NEAR = 4.0


def roughness(lab: Floats, melted: Floats) -> Floats:
    """How much detail was melted away about each pixel, (h, w)."""
    return np.asarray(cv2.blur(np.linalg.norm(lab - melted, axis=2), (5, 5)))


def spot_in(mask: Mask, melted: Floats, target: Array, rough: Floats) -> tuple[int, int, float]:
    """Row, column and free radius in pixels of a clean spot of about a colour (3,) inside a mask (h, w), not empty.

    Room counts up to six pixels; half a unit of Lab, and .4 of roughness, weigh as much as a pixel of room.
    """
    ys, xs = np.flatnonzero(mask.any(axis=1)), np.flatnonzero(mask.any(axis=0))
    top, left = int(ys[0]), int(xs[0])
    box = slice(top, int(ys[-1]) + 1), slice(left, int(xs[-1]) + 1)
    mask, rough = mask[box], rough[box]
    gap = np.linalg.norm(melted[box] - np.asarray(target, dtype=np.float32), axis=2)
    own = gap[mask]
    near = mask & (gap <= max(_NEAR, float(np.partition(own, len(own) // 50)[len(own) // 50])))
    inner = cv2.distanceTransform(np.pad(near, 1).astype(np.uint8), cv2.DIST_L2, 3)[1:-1, 1:-1]
    score = np.where(near, np.minimum(inner, _ROOM) - 0.5 * gap - 0.4 * rough, -np.inf)
    row, column = np.unravel_index(int(score.argmax()), score.shape)
    return int(row) + top, int(column) + left, float(inner[row, column])
