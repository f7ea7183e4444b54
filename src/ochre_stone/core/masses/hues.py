"""Where one value holds two things of different hue: a head before a wall of its own value.

Flat values alone would lose the border between them. Within each mass the colours are parted across the direction in
which they differ most (principal component of a*, b*; Pearson 1901) at the best cut in two (Fisher 1958), where that
explains most of their variance and the two lie well apart. The limits are judgements.
"""

import numpy as np
import numpy.typing as npt

from ochre_stone.core.later import later
from ochre_stone.core.masses.plan import MassPlan
from ochre_stone.core.masses.shapes import Labels, Regions, merge_small, regions, smooth_edges
from ochre_stone.core.masses.thresholds import TOP, histogram, optimal_cuts
from ochre_stone.core.picture.picture import Floats, Mask

cv2 = later("cv2")

APART = 16.0
"""CIELAB units of a* and b* by which two hues of a mass differ at least on average."""
_EXPLAINED, _LEAST = 0.6, 0.04
_SHAPE, _LINE = 0.005, 0.03


def hue_parts(plan: MassPlan, lab: Floats) -> Labels:
    """0 or 1 for each pixel (h, w): which of two hues its mass holds there; 0 all over where it holds one.

    ``lab`` (h, w, 3): the picture at the size of the plan's labels.
    """
    out = np.zeros(plan.labels.shape, np.uint8)
    side = float(np.sqrt(out.size))
    soft = cv2.GaussianBlur(np.ascontiguousarray(lab[..., 1:]), (0, 0), max(1.0, 0.004 * side))
    for m in plan.masses:
        own = plan.labels == m.index
        pixels = soft[own].astype(float)
        if len(pixels) < 200:
            continue
        away = pixels - pixels.mean(axis=0)
        axis = np.linalg.eigh(away.T @ away)[1][:, -1]
        along = away @ (axis if axis.sum() >= 0 else -axis)
        low, high = np.percentile(along, (0.5, 99.5))
        if high - low < APART / 2:
            continue
        scaled = np.clip((along - low) / (high - low), 0, 1) * TOP
        upper = scaled >= float(optimal_cuts(histogram(scaled), 2)[2][0])
        share = float(upper.mean())
        if min(share, 1 - share) < _LEAST:
            continue
        gap = float(np.linalg.norm(pixels[upper].mean(axis=0) - pixels[~upper].mean(axis=0)))
        between = share * (1 - share) * float(along[upper].mean() - along[~upper].mean()) ** 2
        if gap < APART or between < _EXPLAINED * float(along.var()):
            continue
        out[own] = upper
    return _tidy(plan, out, side)


def _tidy(plan: MassPlan, parts: Labels, side: float) -> Labels:
    """Simple outlines, and no shape of a hue below five thousandths of the picture; masses keep their borders."""
    out = np.zeros_like(parts)
    for m in plan.masses:
        own = plan.labels == m.index
        if not (parts[own] > 0).any():
            continue
        classes = np.where(own, parts + 1, 0).astype(np.uint8)
        even = smooth_edges(classes, 3, 0.008 * side)
        even = np.where(own, np.maximum(even, 1), 0).astype(np.uint8)
        merged = merge_small(even, even.astype(np.float32), [0.0, 1.0, 2.0], _SHAPE * own.size)
        out[own] = np.where(merged[own] == 2, 1, 0)
    return out


def shapes_of(plan: MassPlan, parts: Labels | None = None) -> tuple[Regions, list[int]]:
    """Connected shapes (h, w) of one mass, and of one hue where ``parts`` are given, from 0; the mass of each."""
    count = len(plan.masses)
    if parts is None:
        return regions(plan.labels, count)
    numbered, own = regions((plan.labels.astype(np.int32) * 2 + parts).astype(np.uint8), 2 * count)
    return numbered, [o // 2 for o in own]


def hue_borders(plan: MassPlan, parts: Labels) -> Mask:
    """Pixels (h, w) at a border between two hues of one mass, a little away from where masses meet: there edges mix
    their colours."""
    out = np.zeros(parts.shape, bool)
    for a, b in (
        ((slice(None), slice(1, None)), (slice(None), slice(None, -1))),
        ((slice(1, None), slice(None)), (slice(None, -1), slice(None))),
    ):
        out[a] |= (plan.labels[a] == plan.labels[b]) & (parts[a] != parts[b])
    wide = np.ones((5, 5), np.uint8)
    out &= cv2.dilate(plan.labels, wide) == cv2.erode(plan.labels, wide)
    _, pieces, stats, _ = cv2.connectedComponentsWithStats(out.astype(np.uint8), connectivity=8)
    long = stats[:, cv2.CC_STAT_AREA] >= _LINE * float(np.sqrt(out.size))
    return np.asarray(out & long[pieces])


def with_shapes(
    labels: Labels, plan: MassPlan, parts: Labels | None, places: npt.ArrayLike, masses: list[int]
) -> tuple[Labels, list[int]]:
    """Labels (h, w), any size, of the same masses in which some shapes are labels of their own, and these labels.

    ``places`` (n, 2): a place in each shape as shares of width and height; ``masses`` (n,): the mass that the shape is
    of. A shape whose place no longer lies in its mass is left out: its label is -1.
    """
    out, found = labels.copy(), []
    numbered, own = shapes_of(plan, parts)
    h, w = numbered.shape
    at = np.asarray(places, dtype=float).reshape(-1, 2)
    new = int(labels.max()) + 1
    for (x, y), mass in zip(at.tolist(), masses, strict=True):
        shape = int(numbered[min(max(int(y * h), 0), h - 1), min(max(int(x * w), 0), w - 1)])
        if own[shape] != mass:
            found.append(-1)
            continue
        here = (numbered == shape).astype(np.uint8)
        here = cv2.resize(here, (labels.shape[1], labels.shape[0]), interpolation=cv2.INTER_NEAREST) > 0
        out[here & (labels == mass)] = new
        found.append(new)
        new += 1
    return out, found
