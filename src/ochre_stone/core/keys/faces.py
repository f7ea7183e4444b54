"""Frontal faces, and the skin that belongs to one.

Method: a boosted cascade over local binary patterns of block sums (Liao, Zhu, Lei, Zhang and Li 2007, ICB, LNCS 4642),
read from the cascade that ships with its licence in ``resources/faces`` (Puttemans, Ergun and Toon 2017, VISAPP).
A face is believed only where several windows agree and its colour can be skin.
"""

import functools
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from ochre_stone.core.later import later
from ochre_stone.core.picture.picture import Floats, Mask
from ochre_stone.resources import resource

cv2, ET = later("cv2"), later("xml.etree.ElementTree")

_LEAST, _MOST, _FACTOR = 0.11, 0.9, 1.15
_VOTES = 3
_MOST_FACES = 4
_RING = ((0, 0), (0, 1), (0, 2), (1, 2), (2, 2), (2, 1), (2, 0), (1, 0))

Weak = tuple[tuple[int, int, int, int], Floats]


@dataclass(frozen=True)
class Face:
    """A square about a face, in pixels of the picture it was found in."""

    left: float
    top: float
    side: float

    @property
    def bottom(self) -> float:
        """Row of the chin, about."""
        return self.top + self.side

    def part(self, lab: Floats) -> Floats:
        """The middle of the face, without hair and ground."""
        x, y, s = self.left, self.top, self.side
        return lab[max(int(y + 0.25 * s), 0) : int(y + 0.9 * s), max(int(x + 0.25 * s), 0) : int(x + 0.75 * s)]


@functools.cache
def _cascade() -> tuple[int, list[tuple[float, list[Weak]]]]:
    """Side of the window, and for each stage its limit and its weak classifiers: block (x, y, w, h) and a table of
    256 votes."""
    root = ET.parse(resource("faces", "frontal.xml")).getroot().find("cascade")
    assert root is not None

    def words(node: Any, path: str) -> list[str]:
        return (node.findtext(path) or "").split()

    blocks = []
    for feature in root.iterfind("features/_"):
        x, y, w, h = (int(v) for v in words(feature, "rect")[:4])
        blocks.append((x, y, w, h))
    stages = []
    for stage in root.iterfind("stages/_"):
        weak: list[Weak] = []
        for node in stage.iterfind("weakClassifiers/_"):
            at = words(node, "internalNodes")
            bits = np.array([int(v) for v in at[3:11]], dtype=np.int64) & 0xFFFFFFFF
            table = ((bits[:, None] >> np.arange(32)) & 1).astype(bool).ravel()
            yes, no = (float(v) for v in words(node, "leafValues"))
            weak.append((blocks[int(at[2])], np.where(table, yes, no).astype(np.float32)))
        stages.append((float(words(stage, "stageThreshold")[0]), weak))
    return int(words(root, "width")[0]), stages


def _skin_like(lab: Floats) -> Mask:
    """Where a colour can be that of skin in some light."""
    chroma = np.hypot(lab[..., 1], lab[..., 2])
    hue = np.degrees(np.arctan2(lab[..., 2], lab[..., 1]))
    return np.asarray((chroma > 8) & (chroma < 50) & (hue > 15) & (hue < 85))


def _scan(grey: npt.NDArray[np.uint8], likely: Floats, step: int) -> tuple[npt.NDArray[np.intp], npt.NDArray[np.intp]]:
    """Columns and rows of the windows that pass all stages, of those whose middle is likely skin (h, w, 0..1)."""
    side, stages = _cascade()
    sums = cv2.integral(grey)
    wide = sums.shape[1]
    y, x = np.mgrid[0 : grey.shape[0] - side + 1 : step, 0 : grey.shape[1] - side + 1 : step]
    at = (y * wide + x).ravel()
    middle = cv2.blur(likely, (side // 2, side * 5 // 8))
    at = at[middle[y + side * 9 // 16, x + side // 2].ravel() > 0.35]
    flat = sums.ravel()
    for limit, weak in stages:
        total = np.zeros(len(at), np.float32)
        for (fx, fy, fw, fh), table in weak:
            start = at + fy * wide + fx
            grid = [[flat[start + i * fh * wide + j * fw] for j in range(4)] for i in range(4)]
            block = [
                [grid[i + 1][j + 1] - grid[i][j + 1] - grid[i + 1][j] + grid[i][j] for j in range(3)] for i in range(3)
            ]
            code = np.zeros(len(at), np.int64)
            for bit, (i, j) in enumerate(_RING):
                code |= (block[i][j] >= block[1][1]).astype(np.int64) << (7 - bit)
            total += table[code]
        at = at[total >= limit]
        if not len(at):
            break
    return at % wide, at // wide


def _votes(grey: npt.NDArray[np.uint8], likely: Floats) -> list[tuple[Face, int]]:
    """Places where windows agree, and how many do."""
    window = _cascade()[0]
    h, w = grey.shape
    side = max(30.0, _LEAST * min(h, w))
    boxes = []
    while side <= _MOST * min(h, w):
        scale = window / side
        size = (max(window, round(w * scale)), max(window, round(h * scale)))
        small = cv2.resize(grey, size, interpolation=cv2.INTER_AREA if scale < 1 else cv2.INTER_LINEAR)
        hopes = np.asarray(cv2.resize(likely, size, interpolation=cv2.INTER_AREA), dtype=np.float32)
        x, y = _scan(np.asarray(small, dtype=np.uint8), hopes, 2)
        boxes += [(a / scale, b / scale, side) for a, b in zip(x.tolist(), y.tolist(), strict=True)]
        side *= _FACTOR
    left = np.array(boxes).reshape(-1, 3)
    found = []
    while len(left):
        middle = left[:, :2] + left[:, 2:] / 2
        near = np.abs(middle - middle[0]).max(axis=1) < 0.25 * np.minimum(left[:, 2], left[0, 2])
        near &= np.abs(np.log(left[:, 2] / left[0, 2])) < 0.5
        found.append((Face(*left[near].mean(axis=0).tolist()), int(near.sum())))
        left = left[~near]
    return sorted(found, key=lambda f: -f[1])


def find_faces(code: npt.NDArray[np.uint8], lab: Floats) -> list[Face]:
    """Frontal faces of a skin-like colour, at most four, largest first.

    ``code`` (h, w, 3): sRGB, 0..255; ``lab`` (h, w, 3): the same picture in CIELAB.
    """
    grey = np.asarray(cv2.cvtColor(code, cv2.COLOR_RGB2GRAY), dtype=np.uint8)
    kept: list[Face] = []
    for face, votes in _votes(grey, _skin_like(lab).astype(np.float32)):
        if votes < _VOTES:
            break
        if not _skin_like(np.asarray(np.median(face.part(lab).reshape(-1, 3), axis=0), dtype=np.float32)):
            continue
        middle = np.array([face.left, face.top]) + face.side / 2
        if all(
            np.abs(middle - np.array([f.left, f.top]) - f.side / 2).max() > 0.4 * max(face.side, f.side) for f in kept
        ):
            kept.append(face)
    return sorted(kept, key=lambda f: -f.side)[:_MOST_FACES]


def skin_of(face: Face, lab: Floats) -> Mask:
    """Where the skin of a face is, (h, w): near the colour of the face's middle whatever the light on it (a*, b* over
    L* + 16 stay through shading), joined to the face."""
    x, y, s = face.left, face.top, face.side
    h, w = lab.shape[:2]
    middle = face.part(lab).reshape(-1, 3)
    warm = (middle[:, 0] > 20) & (middle[:, 1] > 2) & (middle[:, 2] > 2)
    middle = middle[warm] if warm.sum() > 50 else middle
    line = middle[:, 1:] / (middle[:, :1] + 16)
    centre = np.median(line, axis=0)
    width = np.clip(1.4826 * np.median(np.abs(line - centre), axis=0), 0.02, 0.08)
    lightness, top = lab[..., 0], float(np.percentile(middle[:, 0], 98))
    away = ((lab[..., 1:] / (lightness[..., None] + 16) - centre) / (3 * width)) ** 2
    near = (away.sum(axis=2) < 1) & (lightness > 12) & (lightness < top + 12)
    rows, columns = np.mgrid[:h, :w]
    near &= (np.abs(columns - x - s / 2) < 0.85 * s) & (rows > y - 0.25 * s) & (rows < y + 1.75 * s)
    clean = cv2.morphologyEx(near.astype(np.uint8), cv2.MORPH_OPEN, np.ones((3, 3), np.uint8))
    clean = cv2.morphologyEx(clean, cv2.MORPH_CLOSE, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (7, 7)))
    count, pieces = cv2.connectedComponents(clean, connectivity=4)
    keep = np.zeros(count, bool)
    inside = pieces[max(int(y + 0.2 * s), 0) : int(y + s), max(int(x + 0.2 * s), 0) : int(x + 0.8 * s)]
    numbers, size = np.unique(inside, return_counts=True)
    keep[numbers[size > 0.01 * s * s]] = True
    keep[0] = False
    return np.asarray(keep[pieces])
