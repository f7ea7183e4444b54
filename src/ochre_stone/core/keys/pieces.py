"""A picture in small pieces that keep to its edges.

Method: watershed by flooding (Beucher and Meyer 1993, in Mathematical Morphology in Image Processing) from the
flattest pixel of each tile of a grid; compare Machairas and others 2015, IEEE Trans. Image Process. 24.
"""

import numpy as np
import numpy.typing as npt

from ochre_stone.core.later import later
from ochre_stone.core.picture.picture import Floats

cv2 = later("cv2")

GRID_STEP = 11
"""Pixels between the seeds, at a quarter of a megapixel."""

Numbers = npt.NDArray[np.int32]


def steepness(lab: Floats) -> Floats:
    """How fast Lab (h, w, 3) changes, the fastest of its channels, (h, w)."""
    out = np.zeros(lab.shape[:2], np.float32)
    for i in range(3):
        channel = np.ascontiguousarray(lab[..., i])
        x, y = cv2.Sobel(channel, cv2.CV_32F, 1, 0), cv2.Sobel(channel, cv2.CV_32F, 0, 1)
        out = np.maximum(out, cv2.magnitude(x, y))
    return np.asarray(cv2.GaussianBlur(out, (0, 0), 0.8))


def pieces_of(lab: Floats, steep: Floats, step: int = GRID_STEP) -> Numbers:
    """Number of the piece, from 0, of each pixel of a smoothed picture (h, w, 3) with its :func:`steepness`."""
    h, w = lab.shape[:2]
    rows, columns = max(h // step, 1), max(w // step, 1)
    high, wide = min(step, h), min(step, w)
    tiles = steep[: rows * high, : columns * wide].reshape(rows, high, columns, wide).transpose(0, 2, 1, 3)
    flattest = tiles.reshape(rows, columns, -1).argmin(axis=-1)
    r, c = np.mgrid[:rows, :columns]
    out = np.zeros((h, w), np.int32)
    out[r * high + flattest // wide, c * wide + flattest % wide] = np.arange(1, rows * columns + 1).reshape(r.shape)
    shown = np.clip(lab * (2.0, 1.5, 1.5) + (20, 128, 128), 0, 255).astype(np.uint8)
    cv2.watershed(np.ascontiguousarray(shown), out)
    if not (out > 0).any():  # so small that all of it is rim
        return np.zeros((h, w), np.int32)
    while (out <= 0).any():  # the ridges between the pieces
        grown = cv2.dilate(out.astype(np.float32), np.ones((3, 3), np.uint8)).astype(np.int32)
        out = np.where(out <= 0, grown, out)
    return np.asarray(out - 1, dtype=np.int32)
