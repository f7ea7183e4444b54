"""The frame: perspective, straightening, crop and mirror as a recipe over the untouched picture.

One projective map leads from the frame's pixels to those of the upright original, so that every sample is taken from
the original. In order: four ``corners`` of something rectangular (a print, a painting) are squared up, the result is
turned, a rectangle is cut out, and mirrored.
"""

from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.errors import OchreError
from ochre_stone.core.later import later
from ochre_stone.core.picture.picture import Floats, Picture
from ochre_stone.core.picture.remembered import Remembered

cv2 = later("cv2")

Point = tuple[float, float]

CANVASES = (
    "8 x 10 in", "9 x 12 in", "11 x 14 in", "12 x 16 in", "16 x 20 in", "18 x 24 in", "24 x 36 in",
    "20 x 30 cm", "24 x 30 cm", "30 x 40 cm", "40 x 50 cm", "50 x 70 cm", "60 x 80 cm", "30 x 30 cm",
)  # fmt: skip
"""Usual canvas formats, short side first; common practice, no source."""
MOST_FRAMES = 3
"""Frames of a picture that are kept with their copies."""
MOST_TURN = 45.0
_LEAST_SIDE = 24.0


def canvas_size(words: str) -> tuple[float, float, str]:
    """Short side, long side and unit ("in" or "cm") of a canvas such as "12 x 16 in". Raises ValueError."""
    parts = words.replace("×", "x").split()
    if len(parts) != 4 or parts[1] != "x" or parts[3] not in ("in", "cm"):
        raise ValueError(f"'{words}' is no canvas like '12 x 16 in'")
    a, b = float(parts[0]), float(parts[2])
    if not (0 < a <= 10_000 and 0 < b <= 10_000):
        raise ValueError(f"'{words}' has a side that no canvas has")
    return min(a, b), max(a, b), parts[3]


@dataclass(frozen=True)
class Frame:
    """What of the reference is looked at. The empty frame is the whole picture as photographed."""

    corners: tuple[Point, ...] = ()
    """None, or four: top left, top right, bottom right, bottom left, in pixels of the original."""
    turn: float = 0.0
    """Degrees by which the picture is turned clockwise, -45 to 45."""
    crop: tuple[float, float, float, float] = (0.5, 0.5, 1.0, 1.0)
    """Middle (x, y) and size (width, height) of the cut, as shares of the squared-up picture."""
    mirror: bool = False

    def __post_init__(self) -> None:
        if not np.isfinite([self.turn, *self.crop, *(v for p in self.corners for v in p)]).all():
            raise ValueError("every number must be finite")
        if len(self.corners) not in (0, 4):
            raise ValueError("corners must be none or four")
        if self.corners and not _convex(self.corners):
            raise ValueError("corners must go round a shape without a dent: top left, then clockwise")
        if abs(self.turn) > MOST_TURN:
            raise ValueError("turn must be between -45 and 45 degrees")
        if not all(0 <= v <= 1 for v in self.crop[:2]) or not all(0 < v <= 1.5 for v in self.crop[2:]):
            raise ValueError("crop must lie within the picture")

    @property
    def is_whole(self) -> bool:
        return self == Frame()

    def lies_in(self, width: int, height: int) -> bool:
        """Whether corners and cut lie within an original of this size, a pixel or two aside."""
        if any(not (-2 <= x <= width + 2 and -2 <= y <= height + 2) for x, y in self.corners):
            return False
        return min(self.size(width, height)) >= 2 and _inside(self, *self.plane(width, height), slack=2.0)

    def plane(self, width: int, height: int) -> tuple[float, float]:
        """Size of the squared-up picture in pixels."""
        if not self.corners:
            return float(width), float(height)
        a, b, c, d = (np.array(p) for p in self.corners)
        across = (np.linalg.norm(b - a) + np.linalg.norm(c - d)) / 2
        down = (np.linalg.norm(d - a) + np.linalg.norm(c - b)) / 2
        return float(across), float(down)

    def size(self, width: int, height: int) -> tuple[int, int]:
        """Width and height of the frame in pixels, for an original of this size."""
        w, h = self.plane(width, height)
        return max(1, round(self.crop[2] * w)), max(1, round(self.crop[3] * h))

    def matrix(self, width: int, height: int) -> Array:
        """(3, 3) projective map from frame pixels to original pixels, both with pixel (0, 0) covering 0 to 1."""
        w, h = self.plane(width, height)
        fw, fh = self.size(width, height)
        flip = np.array([[-1.0, 0, fw], [0, 1, 0], [0, 0, 1]]) if self.mirror else np.eye(3)
        place = np.array(
            [[1.0, 0, (self.crop[0] - 0.5) * w - fw / 2], [0, 1, (self.crop[1] - 0.5) * h - fh / 2], [0, 0, 1]]
        )
        t = np.radians(-self.turn)
        turn = np.array([[np.cos(t), -np.sin(t), w / 2], [np.sin(t), np.cos(t), h / 2], [0, 0, 1]])
        out = turn @ place @ flip
        if self.corners:
            ends = np.array([(0, 0), (w, 0), (w, h), (0, h)], np.float32)
            squared = cv2.getPerspectiveTransform(ends, np.array(self.corners, np.float32))
            out = np.asarray(squared, dtype=float) @ out
        return np.asarray(out / out[2, 2])


def _convex(corners: tuple[Point, ...]) -> bool:
    points = np.array(corners)
    sides = np.roll(points, -1, axis=0) - points
    after = np.roll(sides, -1, axis=0)
    cross = sides[:, 0] * after[:, 1] - sides[:, 1] * after[:, 0]
    return bool((cross > 1.0).all())


def _room(w: float, h: float, turn: float, aspect: float) -> tuple[float, float]:
    """Width and height of the largest upright rectangle of ``aspect`` (width / height) in a turned w x h one."""
    c, s = abs(np.cos(np.radians(turn))), abs(np.sin(np.radians(turn)))
    width = min(w / (c + s / aspect), h / (s + c / aspect))
    return float(width), float(width / aspect)


def _inside(frame: Frame, w: float, h: float, slack: float = 0.0) -> bool:
    t = np.radians(-frame.turn)
    cx, cy, fw, fh = (frame.crop[0] - 0.5) * w, (frame.crop[1] - 0.5) * h, frame.crop[2] * w, frame.crop[3] * h
    for sx, sy in ((-1, -1), (1, -1), (1, 1), (-1, 1)):
        x, y = cx + sx * fw / 2, cy + sy * fh / 2
        px, py = np.cos(t) * x - np.sin(t) * y, np.sin(t) * x + np.cos(t) * y
        if abs(px) > w / 2 * (1 + 1e-6) + slack or abs(py) > h / 2 * (1 + 1e-6) + slack:
            return False
    return True


def fitted(frame: Frame, width: int, height: int, aspect: float | None = None) -> Frame:
    """The frame with its cut brought inside the picture, of ``aspect`` (width / height) where one is given.

    The cut keeps its middle and area as well as it can: it is first made no larger than fits anywhere, then moved
    toward the middle of the picture until it lies inside.
    """
    w, h = frame.plane(width, height)
    cw, ch = frame.crop[2] * w, frame.crop[3] * h
    if aspect is not None:
        area = cw * ch
        cw, ch = (area * aspect) ** 0.5, (area / aspect) ** 0.5
    most_w, most_h = _room(w, h, frame.turn, cw / ch)
    scale = min(1.0, most_w / cw, most_h / ch)
    scale = max(scale, min(_LEAST_SIDE / min(cw, ch), most_w / cw))
    x, y = min(max(frame.crop[0], 0.0), 1.0), min(max(frame.crop[1], 0.0), 1.0)

    def at(share: float) -> Frame:
        """The cut a share of the way from the middle of the picture to where it was wanted."""
        return replace(frame, crop=(0.5 + (x - 0.5) * share, 0.5 + (y - 0.5) * share, cw * scale / w, ch * scale / h))

    if _inside(at(1.0), w, h):
        return at(1.0)
    low, high = 0.0, 1.0
    for _ in range(24):
        middle = (low + high) / 2
        low, high = (middle, high) if _inside(at(middle), w, h) else (low, middle)
    best = at(low)
    # Slide along the sides: where only one direction is in the way, the other keeps its wish.
    for axis in (0, 1):
        low, high = 0.0, 1.0
        want = (x, y)[axis]

        def slid(share: float, axis: int = axis, want: float = want, base: Frame = best) -> Frame:
            crop = list(base.crop)
            crop[axis] += (want - crop[axis]) * share
            return replace(base, crop=(crop[0], crop[1], crop[2], crop[3]))

        for _ in range(24):
            middle = (low + high) / 2
            low, high = (middle, high) if _inside(slid(middle), w, h) else (low, middle)
        best = slid(low)
    return best


def largest(frame: Frame, width: int, height: int, aspect: float | None = None) -> Frame:
    """The frame with the largest cut about the middle; of its present aspect, or the one given."""
    w, h = frame.plane(width, height)
    cw, ch = _room(w, h, frame.turn, aspect or w / h)
    return replace(frame, crop=(0.5, 0.5, cw / w, ch / h))


def turn_from_line(start: Point, end: Point) -> float:
    """Degrees to turn so that a line drawn along something level or upright becomes so; -45 to 45.

    Raises OchreError where the line is too short to tell.
    """
    dx, dy = end[0] - start[0], end[1] - start[1]
    if np.hypot(dx, dy) < 8:
        raise OchreError("The line is too short to straighten by: draw along a long edge that is level or upright.")
    angle = float(np.degrees(np.arctan2(dy, dx)))
    return float(-((angle + 45) % 90 - 45))


def square_corners(points: npt.ArrayLike) -> tuple[Point, ...]:
    """Four points clicked in any order as top left, top right, bottom right, bottom left.

    Raises OchreError where they are no four corners of a flat thing.
    """
    p = np.asarray(points, dtype=float).reshape(-1, 2)
    if len(p) != 4:
        raise OchreError(f"Four corners are needed, {len(p)} were given: click each corner once.")
    middle = p.mean(axis=0)
    ring = p[np.argsort(np.arctan2(p[:, 1] - middle[1], p[:, 0] - middle[0]))]
    first = int((ring.sum(axis=1)).argmin())
    corners = tuple((float(x), float(y)) for x, y in np.roll(ring, -first, axis=0))
    if not _convex(corners):
        raise OchreError("These four points are no corners of a flat rectangle: click its four corners again.")
    a, b, c, d = (np.array(q) for q in corners)
    if min(np.linalg.norm(u - v) for u, v in ((a, b), (b, c), (c, d), (d, a))) < _LEAST_SIDE:
        raise OchreError("These four corners lie too close together: zoom in and click them again.")
    return corners


@dataclass(frozen=True, eq=False)
class Framed:
    """A picture seen through a frame: copies of any size, and places both ways."""

    picture: Picture
    frame: Frame
    _remembered: Remembered = field(default_factory=Remembered, repr=False)

    @property
    def width(self) -> int:
        return self.frame.size(self.picture.width, self.picture.height)[0]

    @property
    def height(self) -> int:
        return self.frame.size(self.picture.width, self.picture.height)[1]

    @property
    def _matrix(self) -> Array:
        return self.frame.matrix(self.picture.width, self.picture.height)

    def to_original(self, x: float, y: float) -> Point:
        """Original pixel of a frame pixel."""
        return _move(self._matrix, x, y)

    def from_original(self, x: float, y: float) -> Point:
        """Frame pixel of an original pixel; outside 0..width, 0..height where the cut leaves it out."""
        if self.frame.is_whole:
            return x, y
        return _move(np.asarray(np.linalg.inv(self._matrix), dtype=float), x, y)

    def scale_at(self, x: float, y: float) -> float:
        """How many original pixels one frame pixel is across, at an original place."""
        fx, fy = self.from_original(x, y)
        (ax, ay), (bx, by) = self.to_original(fx - 0.5, fy), self.to_original(fx + 0.5, fy)
        (cx, cy), (dx, dy) = self.to_original(fx, fy - 0.5), self.to_original(fx, fy + 0.5)
        return float(np.sqrt(np.hypot(bx - ax, by - ay) * np.hypot(dx - cx, dy - cy)))

    def shows(self, x: float, y: float) -> bool:
        """Whether an original place lies inside the frame."""
        fx, fy = self.from_original(x, y)
        return 0 <= fx < self.width and 0 <= fy < self.height

    def reduced(self, pixels: int) -> Floats:
        """Linear-light copy (h, w, 3) of what the frame shows, at most about ``pixels`` pixels; read-only, kept."""
        if self.frame.is_whole:
            return self.picture.reduced(pixels)
        return self._remembered.copy(pixels, lambda: self.warp(pixels))

    def shape(self, pixels: int) -> tuple[int, int]:
        """Height and width of a copy of at most about ``pixels`` pixels."""
        scale = min(1.0, (pixels / (self.width * self.height)) ** 0.5)
        return max(1, round(self.height * scale)), max(1, round(self.width * scale))

    def warp(self, pixels: int) -> Floats:
        """Work out what :meth:`reduced` keeps: averaged by area to about the size, then mapped."""
        height, width = self.shape(pixels)
        edges = np.array([self.to_original(x, y) for x in (0, self.width) for y in (0, self.height)])
        left, top = np.floor(np.clip(edges.min(axis=0) - 2, 0, None)).astype(int).tolist()
        right, bottom = np.ceil(edges.max(axis=0) + 2).astype(int).tolist()
        box = (left, top, min(right, self.picture.width), min(bottom, self.picture.height))
        # A little finer than the answer, so that the mapping itself blurs nothing.
        ratio = (edges.max(axis=0) - edges.min(axis=0)).prod() / (self.width * self.height)
        source = self.picture.part(box, int(min(1.6 * ratio * width * height, 4e7)) + 64)
        into = np.diag([source.shape[1] / (box[2] - box[0]), source.shape[0] / (box[3] - box[1]), 1.0])
        shift = np.array([[1.0, 0, -box[0]], [0, 1, -box[1]], [0, 0, 1]])
        out = np.diag([self.width / width, self.height / height, 1.0])
        half = np.array([[1.0, 0, 0.5], [0, 1, 0.5], [0, 0, 1]])
        whole = np.linalg.inv(half) @ into @ shift @ self._matrix @ out @ half
        return np.asarray(
            cv2.warpPerspective(
                source,
                whole,
                (width, height),
                flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP,
                borderMode=cv2.BORDER_REPLICATE,
            ),
            dtype=np.float32,
        )

    def map_mask(self, mask: npt.NDArray[Any], pixels: int) -> Floats:
        """A map of the whole original (h, w), any size, as seen through the frame, float32."""
        height, width = self.shape(pixels)
        into = np.diag([mask.shape[1] / self.picture.width, mask.shape[0] / self.picture.height, 1.0])
        out = np.diag([self.width / width, self.height / height, 1.0])
        half = np.array([[1.0, 0, 0.5], [0, 1, 0.5], [0, 0, 1]])
        whole = np.linalg.inv(half) @ into @ self._matrix @ out @ half
        flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
        return np.asarray(cv2.warpPerspective(mask.astype(np.float32), whole, (width, height), flags=flags))

    def map_back(self, seen: npt.NDArray[Any], box: tuple[int, int, int, int], shape: tuple[int, int]) -> Floats:
        """A map of what the frame shows, any size, on a ``box`` (left, top, right, bottom) of the original (h, w).

        The nearest entry of each pixel, float32; -1 outside the frame.
        """
        h, w = shape
        out = np.array([[(box[2] - box[0]) / w, 0, box[0]], [0, (box[3] - box[1]) / h, box[1]], [0, 0, 1]])
        into = np.diag([seen.shape[1] / self.width, seen.shape[0] / self.height, 1.0])
        half = np.array([[1.0, 0, 0.5], [0, 1, 0.5], [0, 0, 1]])
        whole = np.linalg.inv(half) @ into @ np.linalg.inv(self._matrix) @ out @ half
        flags = cv2.INTER_NEAREST | cv2.WARP_INVERSE_MAP
        mapped = cv2.warpPerspective(
            seen.astype(np.float32), whole, (w, h), flags=flags, borderMode=cv2.BORDER_CONSTANT, borderValue=-1
        )
        return np.asarray(mapped)


def _move(matrix: Array, x: float, y: float) -> Point:
    px, py, w = (matrix @ (x, y, 1.0)).tolist()
    return px / w, py / w


def framed(picture: Picture, frame: Frame) -> Framed:
    """The picture through the frame; the last few are kept with their copies."""
    return picture.remembered.recent("frames", frame, lambda: Framed(picture, frame), MOST_FRAMES)
