"""Where a shape's number stands: inside it, where there is most room."""

from dataclasses import dataclass

import numpy as np

from ochre_stone.core.later import later
from ochre_stone.core.masses.shapes import Labels, regions

cv2 = later("cv2")
ndimage = later("scipy.ndimage")


@dataclass(frozen=True)
class NumberSpot:
    """A place for a number."""

    pile: int
    """Index of the pile."""
    x: float
    """Share of the width, and of the height."""
    y: float
    room: float
    """Radius of the largest circle about it that lies in the shape, as a share of the width."""
    share: float
    """Of the picture that the shape covers."""
    largest: bool
    """Whether it is the largest shape of its pile."""


def number_spots(labels: Labels, count: int, least: float = 0.006) -> list[NumberSpot]:
    """A spot in each shape of ``labels`` (h, w) that covers ``least`` of the picture, and in the largest of each pile,
    the largest first."""
    h, w = labels.shape
    region, own = regions(labels, count)
    size = np.bincount(region.ravel(), minlength=len(own))
    boxes, first = ndimage.find_objects(region + 1), dict[int, int]()
    for i in np.argsort(-size, kind="stable").tolist():
        first.setdefault(own[i], i)
    out = []
    for i in np.argsort(-size, kind="stable").tolist():
        if size[i] < least * labels.size and first[own[i]] != i:
            continue
        rows, columns = boxes[i]
        top, left = rows.start, columns.start
        inside = (region[rows, columns] == i).astype(np.uint8)
        room = cv2.distanceTransform(np.pad(inside, 1), cv2.DIST_L2, 3)[1:-1, 1:-1]
        r, c = np.unravel_index(int(room.argmax()), room.shape)
        x, y = (left + int(c) + 0.5) / w, (top + int(r) + 0.5) / h
        out.append(NumberSpot(own[i], x, y, float(room.max()) / w, float(size[i]) / labels.size, first[own[i]] == i))
    return out
