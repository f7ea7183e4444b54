"""The colours of things in cells of Lab, few enough to choose among."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.picture.picture import Floats, Mask

CELL = 4.0


@dataclass(frozen=True)
class Cells:
    """The colours of things, in cells of Lab: mean (n, 3), pixels, clean pixels, number of the thing."""

    mean: Array
    size: Array
    clean: Array
    thing: npt.NDArray[np.int64]


def cells_of(melted: Floats, number: npt.NDArray[np.int32], clean: Mask, worth: Floats | None = None) -> Cells:
    """Of a picture (h, w, 3) in things (h, w); ``worth`` (h, w): how much each pixel counts.

    The mean is of the clean pixels where there are some: edges mix two colours.
    """
    flat, own, good = melted.reshape(-1, 3), number.ravel().astype(np.int64), clean.ravel()
    cell = np.round(flat / CELL).astype(np.int64) + 64
    code = ((own * 256 + cell[:, 0]) * 256 + cell[:, 1]) * 256 + cell[:, 2]
    codes, back, count = np.unique(code, return_inverse=True, return_counts=True)
    tidy = np.bincount(back, good, minlength=len(codes))
    all_of = np.stack([np.bincount(back, flat[:, i]) / count for i in range(3)], axis=1)
    best = np.stack([np.bincount(back, flat[:, i] * good) / np.maximum(tidy, 1) for i in range(3)], axis=1)
    thing = codes >> 24
    keep = (count >= 2e-4 * len(own)) | (count >= 0.012 * np.bincount(own)[thing])
    size = count.astype(float) if worth is None else np.bincount(back, worth.ravel(), minlength=len(codes))
    mean = np.where((tidy > 5)[:, None], best, all_of)
    return Cells(mean[keep], size[keep], tidy[keep], thing[keep])
