"""The palette's corners in a photo, and the palette as from straight above."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import Array, encode_srgb
from ochre_stone.core.later import later
from ochre_stone.core.picture.picture import Floats, Picture

cv2 = later("cv2")

Code8 = npt.NDArray[np.uint8]
PER_CM = 24
"""Pixels per centimetre in which piles are looked for, and in which their colours are read."""
MARGIN_CM = 5.0
"""Table beside the palette that is looked at: a card may lie there."""
_SMALL = 8
_REACHES = (10, 14, 20, 28)
_MOST_OFF = 0.06


def plain_code(picture: Picture) -> Code8:
    """The picture at half its size, 8 bits sRGB (h, w, 3); colours beyond sRGB are clipped, piles hardly have any."""
    if picture.code.dtype == np.uint8 and picture.encoding.matrix is None:
        code = picture.code
    else:
        code = (encode_srgb(np.clip(picture.linear(), 0, 1)) * 255).round().astype(np.uint8)
    return np.asarray(
        cv2.resize(np.ascontiguousarray(code), None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA), dtype=np.uint8
    )


def propose_corners(half: Code8) -> Array | None:
    """Corners (4, 2) in pixels of the whole photo, top left first and on round, or None where none can be told.

    ``half``: the photo at half its size. The palette is the even ground about the photo's middle: the largest region of
    its commonest colour whose hull is a quadrangle, over four reaches of likeness.
    """
    scale = _SMALL // 2
    small = cv2.resize(half, None, fx=1 / scale, fy=1 / scale, interpolation=cv2.INTER_AREA)
    small = cv2.medianBlur(small, 5)
    h, w = small.shape[:2]
    lab = cv2.cvtColor(small.astype(np.float32) / 255, cv2.COLOR_RGB2LAB)
    bins = np.array([6, 4, 4])
    middle = np.round(lab[h // 4 : 3 * h // 4, w // 4 : 3 * w // 4].reshape(-1, 3) / bins).astype(int)
    values, counts = np.unique(middle, axis=0, return_counts=True)
    base = values[counts.argmax()] * bins
    edge = cv2.morphologyEx(small, cv2.MORPH_GRADIENT, np.ones((3, 3), np.uint8)).max(axis=2) > 22
    best: tuple[float, Array] | None = None
    for reach in _REACHES:
        hue = np.hypot(lab[..., 1] - base[1], lab[..., 2] - base[2])
        like = ((np.abs(lab[..., 0] - base[0]) < 2.2 * reach) & (hue < reach) & ~edge).astype(np.uint8)
        found = _quadrangle(like)
        if found is not None and (best is None or found[0] < best[0]):
            best = found
    if best is None or best[0] > _MOST_OFF:
        return None
    q = best[1]
    out = q - q.mean(axis=0)
    q = q + out / np.linalg.norm(out, axis=1, keepdims=True) * 1.5  # the width of the edge itself
    return np.asarray((in_order(q) + 0.5) * _SMALL)


def _quadrangle(like: Code8) -> tuple[float, Array] | None:
    """How far the largest region is from a quadrangle that lies inside the photo, and its corners (4, 2)."""
    h, w = like.shape
    count, marks, stats, _ = cv2.connectedComponentsWithStats(like, connectivity=4)
    if count < 2:
        return None
    own = (marks == 1 + int(stats[1:, 4].argmax())).astype(np.uint8)
    hull = cv2.convexHull(max(cv2.findContours(own, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)[0], key=len))
    quad = hull
    for eps in np.linspace(0.01, 0.08, 15):
        quad = cv2.approxPolyDP(hull, float(eps) * cv2.arcLength(hull, True), True)
        if len(quad) <= 4:
            break
    area = cv2.contourArea(quad)
    if len(quad) != 4 or not 0.25 < area / (h * w) < 0.97:
        return None
    x, y = hull[:, 0, 0], hull[:, 0, 1]
    touches = ((x < 2) | (x > w - 3) | (y < 2) | (y > h - 3)).mean()
    return abs(1 - area / cv2.contourArea(hull)) + float(touches), quad[:, 0].astype(float)


def in_order(corners: Array) -> Array:
    """Corners (4, 2) clockwise on the screen, the one nearest to the top left first."""
    around = np.arctan2(*(corners - corners.mean(axis=0)).T[::-1])
    q = corners[np.argsort(around)]
    return np.asarray(np.roll(q, -int(np.argmin(q.sum(axis=1))), axis=0))


@dataclass(frozen=True, eq=False)
class Squared:
    """The palette and its surroundings from straight above, ``PER_CM`` pixels to the centimetre."""

    half: Code8
    code: Code8
    """(h, w, 3), with ``MARGIN_CM`` about the palette."""
    turn: Array
    """From pixels of ``half`` to those of ``code``, (3, 3)."""
    width: float
    height: float

    @classmethod
    def of(cls, half: Code8, corners: Array, width: float, height: float) -> "Squared":
        """``corners`` (4, 2) in pixels of the whole photo, ``width`` and ``height`` of the palette in cm."""
        ends = (np.array([[0, 0], [width, 0], [width, height], [0, height]]) + MARGIN_CM) * PER_CM
        turn = cv2.getPerspectiveTransform(((corners - 0.5) / 2).astype(np.float32), ends.astype(np.float32))
        size = int((width + 2 * MARGIN_CM) * PER_CM), int((height + 2 * MARGIN_CM) * PER_CM)
        code = cv2.warpPerspective(half, turn, size, flags=cv2.INTER_LINEAR, borderValue=(0, 0, 0))
        return cls(half, np.asarray(code, dtype=np.uint8), np.asarray(turn), width, height)

    @property
    def offset(self) -> int:
        """Pixels from the edge of ``code`` to the palette's."""
        return int(MARGIN_CM * PER_CM)

    @property
    def box(self) -> tuple[slice, slice]:
        """The palette in ``code``."""
        o = self.offset
        return slice(o, o + int(self.height * PER_CM)), slice(o, o + int(self.width * PER_CM))

    def fine(self, top: int, left: int, high: int, wide: int) -> Code8:
        """A part of the palette at twice the scale, in its pixels: thin gloss stays apart from paint."""
        o = self.offset
        zoom = np.array([[2.0, 0, -2.0 * (left + o)], [0, 2.0, -2.0 * (top + o)], [0, 0, 1]])
        part = cv2.warpPerspective(self.half, zoom @ self.turn, (2 * wide, 2 * high), flags=cv2.INTER_LINEAR)
        return np.asarray(part, dtype=np.uint8)

    def to_photo(self, points: Array) -> Array:
        """Points (n, 2) in cm on the palette as pixels of the whole photo."""
        at = (np.asarray(points, dtype=np.float64) + MARGIN_CM) * PER_CM
        back = cv2.perspectiveTransform(at[None], np.linalg.inv(self.turn))[0]
        return np.asarray(back * 2 + 0.5)

    def to_board(self, points: Array) -> Array:
        """Pixels (n, 2) of the whole photo as cm on the palette."""
        at = (np.asarray(points, dtype=np.float64) - 0.5) / 2
        return np.asarray(cv2.perspectiveTransform(at[None], self.turn)[0] / PER_CM - MARGIN_CM)


def brightest(code: Code8) -> Code8:
    """The largest channel (h, w)."""
    red, green, blue = cv2.split(code)
    return np.asarray(cv2.max(cv2.max(red, green), blue), dtype=np.uint8)


def table(linear: Floats, code: Code8) -> Floats:
    """Linear light (..., 3) of code values through a table (256,)."""
    return np.asarray(cv2.LUT(code, linear), dtype=np.float32)
