"""Where the piles of a photo lie in it, to be drawn."""

import numpy as np

from ochre_stone.core.boardphoto.read import BoardPhoto
from ochre_stone.core.boardphoto.square import PER_CM
from ochre_stone.core.later import later

cv2 = later("cv2")
ndimage = later("scipy.ndimage")


def pile_outlines(board: BoardPhoto) -> dict[int, list[tuple[float, float]]]:
    """By number: the edge of each region, in pixels of the photo."""
    out = {}
    for number, s in enumerate(ndimage.find_objects(board.marks), 1):
        if s is None:
            continue
        own = (board.marks[s] == number).astype(np.uint8)
        found = cv2.findContours(own, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)[0]
        edge = max(found, key=cv2.contourArea)[:, 0].astype(float) + np.array([s[1].start, s[0].start])
        out[number] = [(float(x), float(y)) for x, y in board.squared.to_photo(edge / PER_CM)]
    return out
