"""Edges between masses: the picture's own sharpness and value step say lost, soft, firm or hard."""

import cv2
import numpy as np
import numpy.typing as npt

from ochre_stone.core.masses.shapes import Labels, regions

KINDS = ("lost", "soft", "firm", "hard")
# Thresholds from the study of the picture side: contrast in L*, width in % of the square root of the pixels.
_LOST_CONTRAST, _LOST_SLOPE, _HARD_WIDTH, _FIRM_WIDTH = 6.0, 3.0, 1.2, 2.5


def classify(labels: Labels, count: int, lightness: npt.NDArray[np.float32]) -> dict[tuple[int, int], dict[str, int]]:
    """Border length in pixels per pair of classes (darker, lighter) and kind of edge.

    ``lightness``: L* (h, w) of the original picture, not the smoothed one.
    """
    side = float(np.sqrt(labels.size))
    region, own = regions(labels, count)
    total = len(own)
    if total < 2:
        return {}
    soft = cv2.GaussianBlur(lightness, (0, 0), 1.0)
    gradient = cv2.magnitude(
        cv2.Sobel(soft, cv2.CV_32F, 1, 0, scale=0.125), cv2.Sobel(soft, cv2.CV_32F, 0, 1, scale=0.125)
    )
    near = max(2, round(0.004 * side))
    steepest = cv2.dilate(gradient, np.ones((2 * near + 1, 2 * near + 1), np.uint8))
    far = max(3, round(0.02 * side))
    window = np.ones((2 * far + 1, 2 * far + 1), np.uint8)
    contrast = cv2.dilate(soft, window) - cv2.erode(soft, window)
    codes, slopes, steps = [], [], []
    for a, b, g, c in (
        (region[:, :-1], region[:, 1:], steepest[:, :-1], contrast[:, :-1]),
        (region[:-1], region[1:], steepest[:-1], contrast[:-1]),
    ):
        differ = a != b
        x, y = a[differ].astype(np.int64), b[differ].astype(np.int64)
        codes.append(np.minimum(x, y) * total + np.maximum(x, y))
        slopes.append(g[differ])
        steps.append(c[differ])
    pair, inverse, length = np.unique(np.concatenate(codes), return_inverse=True, return_counts=True)
    slope = np.bincount(inverse, np.concatenate(slopes)) / length
    step = np.bincount(inverse, np.concatenate(steps)) / length
    width = step / np.maximum(slope, 1e-3) / side * 100
    kind = np.where(
        (step < _LOST_CONTRAST) | (slope * side / 100 < _LOST_SLOPE), 0,
        np.where(width <= _HARD_WIDTH, 3, np.where(width <= _FIRM_WIDTH, 2, 1)),
    )  # fmt: skip
    out: dict[tuple[int, int], dict[str, int]] = {}
    for code, k, n in zip(pair.tolist(), kind.tolist(), length.tolist(), strict=True):
        a, b = sorted((own[code // total], own[code % total]))
        if a != b:
            entry = out.setdefault((a, b), dict.fromkeys(KINDS, 0))
            entry[KINDS[k]] += n
    return out
