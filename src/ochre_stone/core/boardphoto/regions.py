"""Piles on the palette: what is unlike its surface and thick enough, parted where piles touch."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ochre_stone.core.boardphoto.square import PER_CM, Code8
from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.later import later
from ochre_stone.core.picture.picture import Floats, Mask

cv2 = later("cv2")
ndimage = later("scipy.ndimage")

RegionLabels = npt.NDArray[np.int32]
_LIMIT = 3.6
"""Deviations of the surface's own colour beyond which something lies on it."""
_DEEP_CM = 0.36
"""Half the width of the smallest pile."""
_NEAR = (2.5, 0.85), (5.0, 1.05)
"""CIEDE2000 below which two parts are one pile where their neck is at least so wide, over the smaller one's width."""


@dataclass(frozen=True, eq=False)
class BoardGround:
    """The palette under one even light: what piles are told from."""

    lab: Floats
    """Colour (h, w, 3), gloss taken out."""
    rgb: Floats
    """Linear RGB (h, w, 3) of the same."""
    surface: Array
    """Lab (3,) of the palette's own surface."""
    surface_rgb: Array
    usable: Mask
    """Where piles may lie."""


def _disc(cm: float) -> Code8:
    return np.asarray(cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * int(cm * PER_CM) + 1,) * 2), dtype=np.uint8)


def find_regions(ground: BoardGround) -> RegionLabels:
    """Labels (h, w) of the piles from 1, 0 for the surface."""
    far = _unlike(ground)
    body = _bodies(far, ground.usable)
    blurred = cv2.GaussianBlur(ground.lab, (0, 0), 2.0)
    dist = cv2.distanceTransform(body, cv2.DIST_L2, 5)
    marks = _parted(body, far, blurred, dist)
    return _trimmed(_merged(marks, blurred, dist), far)


def _unlike(ground: BoardGround) -> Floats:
    """How far each pixel is from the surface, in deviations of the surface itself (h, w); a cast shadow counts half."""
    d = ground.lab - ground.surface.astype(np.float32)
    q = d[::5, ::5][ground.usable[::5, ::5]]
    own = np.diag([5.0, 3.0, 3.0]) ** 2
    for _ in range(6):
        near = q[np.einsum("ij,jk,ik->i", q, np.linalg.inv(own), q) < 9]
        if len(near) < 100:
            break
        own = near.T @ near / len(near) * 1.15 + np.diag([0.8, 0.5, 0.5]) ** 2
    # Shadow dims all channels alike, down to a half; paint rarely does.
    dim = np.log(np.maximum(ground.rgb, 1e-4)) - np.log(np.maximum(ground.surface_rgb, 1e-4))
    tint = np.maximum(np.abs(dim[..., 0] - dim[..., 1]), np.abs(dim[..., 2] - dim[..., 1]))
    free = tint[::5, ::5][ground.usable[::5, ::5]]
    wobble = 1.4826 * float(np.median(free[free < 0.3])) if (free < 0.3).any() else 0.02
    shadow = (dim[..., 1] < 0) & (dim[..., 1] > -0.75) & (tint < 0.04 + 1.2 * wobble)
    d[..., 0] = np.where(shadow, 0.5 * d[..., 0], d[..., 0])
    root = np.linalg.cholesky(np.linalg.inv(own + np.diag([1.6, 1.1, 1.1]) ** 2)).astype(np.float32)
    return np.asarray(np.linalg.norm(d.reshape(-1, 3) @ root, axis=1).reshape(d.shape[:2]), dtype=np.float32)


def _bodies(far: Floats, usable: Mask) -> Code8:
    """Where paint lies thick enough (h, w), 0 or 1."""
    strong = cv2.morphologyEx(((far > _LIMIT) & usable).astype(np.uint8), cv2.MORPH_OPEN, _disc(0.12))
    about = cv2.dilate(strong, _disc(0.20)) > 0
    mask = (((far > 0.80 * _LIMIT) & usable & about) | (strong > 0)).astype(np.uint8)
    mask = cv2.morphologyEx(mask, cv2.MORPH_CLOSE, _disc(0.16))
    _, holes, stats, _ = cv2.connectedComponentsWithStats(1 - mask, connectivity=4)  # gloss leaves holes
    small = stats[:, 4] < 0.8 * PER_CM**2
    mask[small[holes] & (mask == 0)] = 1
    opened = cv2.morphologyEx(mask, cv2.MORPH_OPEN, _disc(0.42))
    return np.asarray(cv2.dilate(opened, _disc(0.08)) & mask, dtype=np.uint8)


def _parted(body: Code8, far: Floats, blurred: Floats, dist: Floats) -> RegionLabels:
    """Bodies cut where piles touch: a watershed from what is deep at several heights."""
    deep = dist.copy()
    for times in (1.8, 3.2):  # shadows and thin skirts bridge piles at the lowest
        higher = ((far > times * _LIMIT) & (body > 0)).astype(np.uint8)
        higher = cv2.morphologyEx(cv2.morphologyEx(higher, cv2.MORPH_CLOSE, _disc(0.08)), cv2.MORPH_OPEN, _disc(0.30))
        deep += cv2.distanceTransform(higher, cv2.DIST_L2, 5)
    smooth = cv2.GaussianBlur(deep, (0, 0), 2.5)
    peak = (smooth >= cv2.dilate(smooth, _disc(0.5)) - 1e-6) & (smooth > _DEEP_CM * PER_CM)
    count, seeds = cv2.connectedComponents(peak.astype(np.uint8))
    grown = cv2.dilate(seeds.astype(np.uint16), _disc(0.15)).astype(np.int32)
    marks = np.where(body > 0, grown, 0).astype(np.int32)
    marks[cv2.dilate(body, np.ones((7, 7), np.uint8)) == 0] = count + 1
    scaled = np.dstack([blurred[..., 0] * 2.55, blurred[..., 1] * 1.6 + 128, blurred[..., 2] * 1.6 + 128])
    img = np.clip(scaled, 0, 255).astype(np.uint8)
    # A wall: the ground must not flood in over a soft edge.
    img[cv2.dilate(body, np.ones((3, 3), np.uint8)) == 0] = (255, 0, 255)
    cv2.watershed(img, marks)
    marks[(marks == count + 1) | (body == 0) | (marks < 0)] = 0
    return marks


def region_borders(marks: RegionLabels) -> dict[tuple[int, int], float]:
    """Length in pixels of the borders between labels that touch, or lie one pixel apart."""
    out: dict[tuple[int, int], float] = {}
    for dy, dx in ((0, 2), (2, 0)):
        a, b = marks[: marks.shape[0] - dy, : marks.shape[1] - dx], marks[dy:, dx:]
        hit = (a != b) & (a > 0) & (b > 0)
        pairs = np.sort(np.stack([a[hit], b[hit]], axis=1), axis=1)
        for pair, n in zip(*np.unique(pairs, axis=0, return_counts=True), strict=True):
            key = int(pair[0]), int(pair[1])
            out[key] = out.get(key, 0.0) + float(n) / 2
    return out


def _merged(marks: RegionLabels, blurred: Floats, dist: Floats) -> RegionLabels:
    """Seeds of one pile brought together: alike in colour, with a broad neck."""
    core = dist > 0.3 * PER_CM
    while True:
        middle, radius = {}, {}
        for i, s in enumerate(ndimage.find_objects(marks), 1):
            own = marks[s] == i if s is not None else np.zeros(0, bool)
            if s is None or own.sum() <= 40:
                continue
            inner = own & core[s]
            middle[i] = np.median(blurred[s][inner if inner.sum() > 30 else own], axis=0)
            radius[i] = float(np.sqrt(own.sum() / np.pi))
        best: tuple[float, int, int] | None = None
        for (i, j), border in region_borders(marks).items():
            if i not in middle or j not in middle:
                continue
            gap, neck = float(ciede2000(middle[i], middle[j])), border / (2 * min(radius[i], radius[j]))
            small = min(radius[i], radius[j]) < 0.42 * PER_CM
            alike = any(gap < most and neck > least for most, least in _NEAR)
            if (alike or (small and neck > 0.6 and gap < 12)) and (best is None or gap / neck < best[0]):
                best = gap / neck, i, j
        if best is None:
            return marks
        join_regions(marks, best[2], best[1])


def join_regions(marks: RegionLabels, gone: int, kept: int) -> None:
    """Take one label into another, the line between them with it; ``marks`` is changed."""
    marks[marks == gone] = kept
    closed = cv2.morphologyEx((marks == kept).astype(np.uint8), cv2.MORPH_CLOSE, np.ones((3, 3), np.uint8))
    marks[(closed > 0) & (marks == 0)] = kept


def _trimmed(marks: RegionLabels, far: Floats) -> RegionLabels:
    """Each region cut back to what stands out half as much as its middle: skirts, shadows and smears go."""
    out = np.zeros_like(marks)
    for i, s in enumerate(ndimage.find_objects(marks), 1):
        if s is None:
            continue
        own = np.pad((marks[s] == i).astype(np.uint8), 1)
        deep = cv2.distanceTransform(own, cv2.DIST_L2, 5)
        high = np.pad(far[s], 1)
        level = float(np.median(high[deep > 0.5 * deep.max()]))
        own &= (high > max(_LIMIT, 0.5 * level)).astype(np.uint8)
        own = cv2.morphologyEx(cv2.morphologyEx(own, cv2.MORPH_CLOSE, _disc(0.12)), cv2.MORPH_OPEN, _disc(0.36))
        count, parts, stats, _ = cv2.connectedComponentsWithStats(own, connectivity=4)
        if count > 1:
            out[s][parts[1:-1, 1:-1] == 1 + int(stats[1:, 4].argmax())] = i
    return out


def split(marks: RegionLabels, number: int, blurred: Floats) -> int:
    """Part a region in two; returns the new label, 0 where it is too small. ``marks`` is changed.

    The two deepest places that lie apart are the middles; each pixel goes to the one that is nearer, in radii, and
    more like it in colour.
    """
    s = ndimage.find_objects(marks, number)[number - 1]
    if s is None:
        return 0
    own = marks[s] == number
    deep = cv2.distanceTransform(np.pad(own, 1).astype(np.uint8), cv2.DIST_L2, 5)[1:-1, 1:-1]
    yy, xx = np.mgrid[: own.shape[0], : own.shape[1]]
    middles = []
    left = deep.copy()
    for _ in range(2):
        y, x = (int(v) for v in np.unravel_index(int(np.argmax(left)), left.shape))
        radius = float(left[y, x])
        if radius < 0.6 * _DEEP_CM * PER_CM:
            return 0
        middles.append((float(y), float(x), radius))
        left[np.hypot(yy - y, xx - x) < 1.3 * radius] = 0
    colour = blurred[s]
    far = []
    for row, column, radius in middles:
        at = np.hypot(yy - row, xx - column)
        like = np.median(colour[(at < 0.6 * radius) & own], axis=0)
        far.append(at / radius + np.linalg.norm(colour - like, axis=2) / 12)
    new = int(marks.max()) + 1
    marks[s][own & (far[1] < far[0])] = new
    return new
