"""Read a photographed, painted chart: four corners clicked, the middle of each cell taken."""

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import as_lab
from ochre_stone.core.errors import OchreError
from ochre_stone.core.later import later
from ochre_stone.core.paint.calibrate import Swatch
from ochre_stone.core.paint.chartpage import ChartPage
from ochre_stone.core.picture.balance import Balance
from ochre_stone.core.picture.picture import Picture, linear_to_lab

cv2 = later("cv2")

_INSIDE = 0.55
"""Share of a cell's width and height that is read: brush marks end before its edge."""
_LEAST_PIXELS = 3.0
_MOST_LOST = 0.3


def cell_places(page: ChartPage, corners: npt.ArrayLike) -> npt.NDArray[np.float64]:
    """Where the cells of a page lie in the photo: the corners (n, 4, 2) of what is read of each, in its pixels.

    ``corners``: the page's four crosses in the photo, top left first, going round clockwise.
    """
    to = np.asarray(corners, dtype=np.float32).reshape(4, 2)
    sheet = cv2.getPerspectiveTransform(np.array(page.corners, dtype=np.float32), to)
    out = []
    for _, box in page.cells:
        dx, dy = box.width * _INSIDE / 2, box.height * _INSIDE / 2
        x, y = box.x + box.width / 2, box.y + box.height / 2
        out.append([(x - dx, y - dy), (x + dx, y - dy), (x + dx, y + dy), (x - dx, y + dy)])
    return np.asarray(cv2.perspectiveTransform(np.array(out).reshape(1, -1, 2), sheet).reshape(-1, 4, 2))


def read_page(
    picture: Picture, page: ChartPage, corners: npt.ArrayLike, balance: Balance
) -> tuple[list[Swatch], list[str]]:
    """The page's cells as swatches, and the labels of those that the photo lost (left out).

    ``balance``: the correction of the photo's light, from a grey card or a colour chart in it. Raises OchreError where
    the cells are too small or lie outside the picture.
    """
    places = cell_places(page, corners)
    if places.min() < 0 or (places.max(axis=(0, 1)) >= (picture.width, picture.height)).any():
        raise OchreError("The chart's corners lie outside the photo: click the four crosses again.")
    found, lost = [], []
    for (cell, _), place in zip(page.cells, places, strict=True):
        (left, top), (right, bottom) = place.min(axis=0), place.max(axis=0)
        if min(right - left, bottom - top) < _LEAST_PIXELS:
            raise OchreError("The cells are too small in the photo to be read: take it from nearer by.")
        rows, columns = slice(int(top), int(np.ceil(bottom)) + 1), slice(int(left), int(np.ceil(right)) + 1)
        pixels = picture.linear(rows, columns)
        inside = np.zeros(pixels.shape[:2], dtype=np.uint8)
        cv2.fillConvexPoly(inside, np.round(place - (columns.start, rows.start)).astype(np.int32), 1)
        mask = inside.astype(bool)
        burnt, crushed = picture.lost(rows, columns)
        if float((burnt | crushed)[mask].mean()) > _MOST_LOST:
            lost.append(cell.label)
            continue
        lab = linear_to_lab(np.median(balance.apply(pixels)[mask], axis=0))
        found.append(Swatch(cell.label, dict(cell.parts), as_lab(lab)))
    return found, lost
