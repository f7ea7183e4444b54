"""Outlines of the masses as smooth closed paths, without gaps and without stair-steps.

Masses are ordered from dark to light, so the picture is a stack of sheets: the darkest fills everything, on it lies
all that is at least the second mass, on that all that is at least the third. Each sheet's border is traced on its
softened shape at three times the working size and smoothed along its length; where sheets share a border the paths
run together. Between the nodes the path is a Catmull-Rom spline (Catmull and Rom 1974), given as cubic Bezier curves.
"""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.later import later
from ochre_stone.core.masses.plan import MassPlan
from ochre_stone.core.masses.shapes import Labels

cv2 = later("cv2")
ndimage = later("scipy.ndimage")

Bend = tuple[tuple[float, float], tuple[float, float], tuple[float, float]]
"""A cubic Bezier piece from where the one before it ends: first handle, second handle, end."""

_FINER = 3
_PAD = 12  # pixels that paths run on beyond the picture, so that its frame rounds no corner


@dataclass(frozen=True, eq=False)
class Outline:
    """One closed path."""

    sheet: int
    """It encloses all masses of this index or lighter, or a hole in them."""
    points: Array
    """Nodes (n, 2) as shares of width and height; a little below 0 or above 1 where the path leaves the picture."""


def outlines(labels: Labels, count: int, spacing: float = 0.004) -> list[Outline]:
    """Paths of all sheets above the darkest, sheet by sheet.

    ``labels`` (h, w): masses from the darkest, 0; ``spacing``: distance of nodes as a share of the picture's side.
    """
    h, w = labels.shape
    side = float(np.sqrt(labels.size))
    out: list[Outline] = []
    padded = np.pad(labels, _PAD, mode="edge")
    for sheet in range(1, count):
        inside = padded >= sheet
        if not inside.any() or inside.all():
            continue
        soft = cv2.GaussianBlur(inside.astype(np.float32), (0, 0), 1.0)
        fine = cv2.resize(soft, None, fx=_FINER, fy=_FINER, interpolation=cv2.INTER_LINEAR)
        closed = np.pad((fine > 0.5).astype(np.uint8), 1)
        found, _ = cv2.findContours(closed, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
        for contour in found:
            trace = (contour[:, 0].astype(float) - 1 + 0.5) / _FINER - _PAD
            nodes = _smooth(trace, max(1.5, spacing * side))
            if nodes is not None and _shows(nodes, w, h):
                out.append(Outline(sheet, nodes / (w, h)))
    return out


def _shows(nodes: Array, w: int, h: int) -> bool:
    """Whether a path has any part inside the picture."""
    x, y = nodes[:, 0], nodes[:, 1]
    return bool(((x > 0) & (x < w) & (y > 0) & (y < h)).any()) or bool(
        x.min() <= 0 and x.max() >= w and y.min() <= 0 and y.max() >= h
    )


def _smooth(trace: Array, spacing: float) -> Array | None:
    """Nodes (n, 2) at even distances along a closed trace of pixels, its steps smoothed away; None for a crumb."""

    step = np.hypot(*np.diff(trace, axis=0, append=trace[:1]).T)
    length = float(step.sum())
    count = round(length / spacing)
    if count < 4:
        return None
    at = np.concatenate([[0.0], np.cumsum(step)])
    ring = np.concatenate([trace, trace[:1]])
    dense = np.arange(0, length, length / (4 * count))
    even = np.stack([np.interp(dense, at, ring[:, i]) for i in (0, 1)], axis=1)
    soft = ndimage.gaussian_filter1d(even, 3.0, axis=0, mode="wrap")
    return np.asarray(soft[::4])


def bezier(points: npt.ArrayLike, closed: bool = True) -> list[Bend]:
    """Cubic Bezier pieces along a path of nodes (n, 2), from the first, and round to it again where it is closed."""
    p = np.asarray(points, dtype=float)
    if closed:
        before, here, after, beyond = np.roll(p, 1, axis=0), p, np.roll(p, -1, axis=0), np.roll(p, -2, axis=0)
    else:
        long = np.vstack([2 * p[0] - p[1], p, 2 * p[-1] - p[-2]])
        before, here, after, beyond = long[:-3], long[1:-2], long[2:-1], long[3:]
    first, second = here + (after - before) / 6, after - (beyond - here) / 6
    return [
        ((a[0], a[1]), (b[0], b[1]), (c[0], c[1]))
        for a, b, c in zip(first.tolist(), second.tolist(), after.tolist(), strict=True)
    ]


def plan_outlines(plan: MassPlan) -> list[Outline]:
    """Paths of a plan's masses."""
    return outlines(plan.labels, len(plan.masses))


def kinds_along(paths: list[Outline], kinds: npt.NDArray[np.uint8], none: int = 255) -> list[npt.NDArray[np.uint8]]:
    """Kind of edge at each node of each path: that of the nearest border pixel.

    ``kinds`` (h, w): as of ``edges.kind_map``, ``none`` off the borders.
    """
    h, w = kinds.shape
    on = kinds != none
    if not on.any():
        return [np.zeros(len(p.points), np.uint8) for p in paths]
    _, index = cv2.distanceTransformWithLabels((~on).astype(np.uint8), cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL)
    table = np.zeros(int(index.max()) + 1, np.uint8)
    table[index[on]] = kinds[on]
    out = []
    for p in paths:
        column = np.clip((p.points[:, 0] * w).astype(int), 0, w - 1)
        row = np.clip((p.points[:, 1] * h).astype(int), 0, h - 1)
        out.append(table[index[row, column]])
    return out
