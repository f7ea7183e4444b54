"""Edges between masses: the picture's own sharpness and value step say lost, soft, firm or hard; and where hue alone
holds a border that value has lost.

Thresholds are judgements, tried in benchmarks/masses: contrast in L*, width in percent of the square root of the
pixels. That an edge between different hues of one value vanishes, and glows, is common practice, no source.
"""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ochre_stone.core.later import later
from ochre_stone.core.masses.shapes import Labels
from ochre_stone.core.picture.picture import Floats

cv2 = later("cv2")

EDGE_KINDS = ("lost", "soft", "firm", "hard")
NO_EDGE = 255
HUE_SEEN = 10.0
"""Distance in a* and b* across a border above which the eye still parts the two by hue."""
_LOST_CONTRAST, _LOST_SLOPE, _HARD_WIDTH, _FIRM_WIDTH = 6.0, 3.0, 1.2, 2.5
_SAME_VALUE = 6.0  # L* across a border that counts as the same value, just over half a step


@dataclass(frozen=True)
class BorderMeeting:
    """How two classes meet."""

    kind: str
    """What most of the border is."""
    length: int
    """Pixels."""
    hue_step: float
    """Mean distance of the colours beside the border, in a* and b*."""


@dataclass(frozen=True, eq=False)
class _Measured:
    """Every pair of pixels that a border runs between."""

    low: npt.NDArray[np.int64]
    high: npt.NDArray[np.int64]
    """Its two classes."""
    kind: npt.NDArray[np.int64]
    hue: npt.NDArray[np.float64]
    places: npt.NDArray[np.int64]
    """Flat index of the first pixel of each pair, across and then down."""


def _spread(channel: Floats, reach: int) -> Floats:
    """Largest less smallest of the channel within ``reach`` pixels."""
    window = np.ones((2 * reach + 1, 2 * reach + 1), np.uint8)
    return np.asarray(cv2.dilate(channel, window) - cv2.erode(channel, window))


def _gradient(channel: Floats) -> Floats:
    return np.asarray(
        cv2.magnitude(
            cv2.Sobel(channel, cv2.CV_32F, 1, 0, scale=0.125), cv2.Sobel(channel, cv2.CV_32F, 0, 1, scale=0.125)
        )
    )


def _measure(labels: Labels, lab: Floats) -> _Measured | None:
    side = float(np.sqrt(labels.size))
    on = np.zeros(labels.shape, np.float32)
    ways = ((np.s_[:, :-1], np.s_[:, 1:]), (np.s_[:-1], np.s_[1:]))
    for a, b in ways:
        on[a] = np.maximum(on[a], labels[a] != labels[b])
    if not on.any():
        return None
    soft = cv2.GaussianBlur(np.ascontiguousarray(lab, dtype=np.float32), (0, 0), 1.0)
    light = np.ascontiguousarray(soft[..., 0])
    near, far = max(2, round(0.004 * side)), max(3, round(0.02 * side))
    window = max(5, round(0.05 * side))
    beside = np.maximum(cv2.boxFilter(on, -1, (window, window), borderType=cv2.BORDER_CONSTANT), 1e-9)

    def along(measure: Floats) -> Floats:
        """The mean of a measure over the border about each place: an edge has one character over a short stretch."""
        held = cv2.boxFilter(measure * on, -1, (window, window), borderType=cv2.BORDER_CONSTANT)
        return np.asarray(held / beside, dtype=np.float32)

    slope = along(cv2.dilate(_gradient(light), np.ones((2 * near + 1, 2 * near + 1), np.uint8)))
    step = along(_spread(light, far))
    hue = along(np.hypot(*(_spread(np.ascontiguousarray(soft[..., i]), near) for i in (1, 2))))
    width = step / np.maximum(slope, 1e-3) / side * 100
    kind = np.where(
        (step < _LOST_CONTRAST) | (slope * side / 100 < _LOST_SLOPE),
        0,
        np.where(width <= _HARD_WIDTH, 3, np.where(width <= _FIRM_WIDTH, 2, 1)),
    )
    index = np.arange(labels.size).reshape(labels.shape)
    parts = []
    for a, b in ways:
        differ = labels[a] != labels[b]
        x, y = labels[a][differ].astype(np.int64), labels[b][differ].astype(np.int64)
        parts.append((np.minimum(x, y), np.maximum(x, y), kind[a][differ], hue[a][differ], index[a][differ]))
    return _Measured(*(np.concatenate(column) for column in zip(*parts, strict=True)))


def classify(labels: Labels, lab: Floats) -> dict[tuple[int, int], BorderMeeting]:
    """How each pair of classes (lower, higher) meets.

    ``lab`` (h, w, 3): the original picture, not the smoothed one.
    """
    found = _measure(labels, lab)
    if found is None:
        return {}
    out = {}
    for pair in np.unique(found.low * 256 + found.high).tolist():
        here = (found.low == pair // 256) & (found.high == pair % 256)
        lengths = np.bincount(found.kind[here], minlength=len(EDGE_KINDS))
        out[pair // 256, pair % 256] = BorderMeeting(
            EDGE_KINDS[int(lengths.argmax())], int(here.sum()), float(found.hue[here].mean())
        )
    return out


def kind_map(labels: Labels, lab: Floats, said: tuple[tuple[int, int, str], ...] = ()) -> npt.NDArray[np.uint8]:
    """Kind of edge (h, w) as an index of ``KINDS`` on the pixels beside a border, ``NO_EDGE`` elsewhere.

    A border may change its kind along its way; ``said``: kinds set by hand for all of two classes (lower, higher).
    """
    out = np.full(labels.size, NO_EDGE, np.uint8)
    found = _measure(labels, lab)
    if found is None:
        return out.reshape(labels.shape)
    kind = found.kind.copy()
    for a, b, word in said:
        kind[(found.low == a) & (found.high == b)] = EDGE_KINDS.index(word)
    out[found.places] = kind
    return out.reshape(labels.shape)


def vanishing(lab: Floats) -> npt.NDArray[np.bool_]:
    """Where (h, w) two hues meet at one value: a thin line along each border that value alone would not show.

    ``lab`` (h, w, 3): the original picture. A pixel counts where a* and b* change by more than ``HUE_SEEN`` within a
    hundredth of the picture's side while L* stays within 6, and the change is steepest there.
    """
    side = float(np.sqrt(lab[..., 0].size))
    soft = cv2.GaussianBlur(np.ascontiguousarray(lab, dtype=np.float32), (0, 0), max(1.0, 0.004 * side))
    reach = max(2, round(0.01 * side))
    planes = [np.ascontiguousarray(soft[..., i]) for i in range(3)]
    hue = np.hypot(_spread(planes[1], reach), _spread(planes[2], reach))
    slope = np.hypot(_gradient(planes[1]), _gradient(planes[2])).astype(np.float32)
    window = np.ones((2 * reach + 1, 2 * reach + 1), np.uint8)
    steepest = slope >= cv2.dilate(slope, window) * 0.9
    seen = (hue > HUE_SEEN) & (_spread(planes[0], reach) < _SAME_VALUE) & steepest
    # Crumbs are grain, not borders.
    count, numbered, stats, _ = cv2.connectedComponentsWithStats(seen.astype(np.uint8), connectivity=8)
    large = np.zeros(count, bool)
    large[1:] = np.maximum(stats[1:, cv2.CC_STAT_WIDTH], stats[1:, cv2.CC_STAT_HEIGHT]) > 0.02 * side
    return np.asarray(large[numbered])
