"""One pile of a photo by one click: its whole body, away from its edge, its gloss and its streaks, and a true noise.

The light comes from a card or a white that was clicked, at its own place: how it falls off to the pile is not known,
and makes most of the noise.
"""

from dataclasses import dataclass

import numpy as np

from ochre_stone.core.boardphoto.body import Doubt, body_of
from ochre_stone.core.boardphoto.card import CONTRAST_SD
from ochre_stone.core.boardphoto.layout import BURNT_SHARE
from ochre_stone.core.colour.spaces import SRGB_TO_XYZ, Array, Lab, as_lab
from ochre_stone.core.errors import OchreError
from ochre_stone.core.later import later
from ochre_stone.core.picture.balance import Balance
from ochre_stone.core.picture.picture import Floats, Mask, Picture, linear_to_lab

cv2 = later("cv2")

_WINDOW = 0.14
"""Half the window about the click, as a share of the photo's shorter side: the largest pile on a palette."""
_WORK = 320
"""Pixels to which the window is reduced at most."""
_HUE, _DARKER, _LIGHTER = 9.0, 0.8, 0.8
"""Reach of one pile about the clicked colour: in a* and b*, and in the logarithm of light."""
_CORE, _LEAST, _MOST = 0.35, 25, 0.25
_SEED, _RIM, _APART = 12, 6, 6.0
"""Radius of what is taken for the pile at first, width of the window's rim (pixels), and CIELAB by which the rim's
colour has to differ to be told from it."""
_FALL_OFF, _CONTRAST_STEP = 3.0, 12.0
"""Variance from light that falls off between card and pile, and CIEDE2000 per unit of a camera's contrast (fitted to
simulated photos)."""


@dataclass(frozen=True, eq=False)
class One:
    """A pile that was clicked."""

    lab: Lab
    noise: float
    """Standard deviation in each direction, CIEDE2000."""
    burnt: float
    outline: Array
    """Its edge (n, 2), pixels of the photo."""

    @property
    def burnt_out(self) -> bool:
        """Too much of it is burnt out to be read."""
        return self.burnt > BURNT_SHARE


def read_one(picture: Picture, x: float, y: float, light: Balance) -> One:
    """The pile at a place in the photo (pixels), under ``light`` as a card or a white tells it.

    Raises OchreError for a place outside the photo.
    """
    if not (0 <= x < picture.width and 0 <= y < picture.height):
        raise OchreError("The click lies outside of the photo: click the pile.")
    half = int(_WINDOW * min(picture.width, picture.height))
    left, top = max(0, int(x) - half), max(0, int(y) - half)
    rows, columns = slice(top, top + 2 * half + 1), slice(left, left + 2 * half + 1)
    linear = picture.linear(rows, columns)
    burnt = picture.lost(rows, columns)[0]
    scale = max(1.0, max(linear.shape[:2]) / _WORK)
    size = max(1, int(linear.shape[1] / scale)), max(1, int(linear.shape[0] / scale))
    small = np.asarray(cv2.resize(linear, size, interpolation=cv2.INTER_AREA), dtype=np.float32)
    lost = cv2.resize(burnt.astype(np.float32), size, interpolation=cv2.INTER_AREA) > 0.2
    rgb = np.maximum(light.apply(small), 1e-5).astype(np.float32)
    lab = np.asarray(linear_to_lab(rgb), dtype=np.float32)
    bright = np.asarray(rgb @ SRGB_TO_XYZ[1].astype(np.float32))
    at = int((y - top) / scale), int((x - left) / scale)
    own = _grown(lab, bright, min(at[0], size[1] - 1), min(at[1], size[0] - 1))
    deep = cv2.distanceTransform(np.pad(own, 1).astype(np.uint8), cv2.DIST_L2, 5)[1:-1, 1:-1]
    core = deep > _CORE * deep.max()
    body = body_of(lab[core], bright[core], np.asarray(lost[core]))
    cast = float(np.ptp(np.log(np.maximum(light.apply(np.ones((1, 1, 3), np.float32))[0, 0], 1e-3))))
    chroma = float(np.hypot(body.lab[1], body.lab[2]))
    noise = Doubt(body.spread, chroma, body.burnt, _CONTRAST_STEP * CONTRAST_SD, cast, True).noise()
    edge = max(cv2.findContours(own.astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)[0], key=len)
    outline = edge[:, 0].astype(float) * scale + np.array([left, top])
    return One(as_lab(body.lab), float(np.hypot(noise, np.sqrt(_FALL_OFF))), body.burnt, outline)


def _grown(lab: Floats, bright: Floats, row: int, column: int) -> Mask:
    """What is of one pile with the pixel at ``row``, ``column`` (h, w): near it in hue and light, nearer than to what
    lies about it, in one piece. Where it runs out of the window it is looked for more narrowly."""
    yy, xx = np.mgrid[: bright.shape[0], : bright.shape[1]]
    about = np.hypot(yy - row, xx - column) <= _SEED
    first: Array = body_of(lab[about], bright[about], np.zeros(int(about.sum()), bool)).lab
    log = np.asarray(np.log(np.maximum(bright, 1e-5)), dtype=np.float32)
    rim = np.ones(bright.shape, bool)
    rim[_RIM:-_RIM, _RIM:-_RIM] = False
    ground: Array = np.median(lab[rim], axis=0).astype(float)
    best = about
    for narrow in (1.0, 0.7, 0.5, 0.35):
        own, seed = about, first
        for _ in range(3):
            own = _like(lab, log, seed, ground, narrow, about)
            if own.sum() < _LEAST:
                break
            deep = cv2.distanceTransform(np.pad(own, 1).astype(np.uint8), cv2.DIST_L2, 5)[1:-1, 1:-1]
            core = deep > _CORE * deep.max()
            seed = body_of(lab[core], bright[core], np.zeros(int(core.sum()), bool)).lab
        if own.sum() >= _LEAST:
            best = own
        if own.sum() < _MOST * own.size and float((own & rim).sum()) < 0.02 * rim.sum():
            break
    else:
        best = about  # it cannot be told from what lies about it: what was clicked
    return np.asarray(best)


def _like(lab: Floats, log: Floats, seed: Array, ground: Array, narrow: float, about: Mask) -> Mask:
    """The piece that holds most of ``about`` and is like ``seed``, Lab (3,)."""
    level = float(np.log(max(((float(seed[0]) + 16) / 116) ** 3, 1e-5)))
    d = log - level
    hue = np.hypot(lab[..., 1] - seed[1], lab[..., 2] - seed[2])
    like = (hue < _HUE * narrow) & (d > -_DARKER * narrow) & (d < _LIGHTER * narrow)
    if float(np.linalg.norm(ground - seed)) > _APART:
        like &= np.linalg.norm(lab - seed, axis=2) < np.linalg.norm(lab - ground, axis=2)
    mask = cv2.morphologyEx(like.astype(np.uint8), cv2.MORPH_OPEN, np.ones((5, 5), np.uint8))
    mask = cv2.morphologyEx(mask, cv2.MORPH_CLOSE, np.ones((9, 9), np.uint8))  # gloss leaves holes
    count, parts = cv2.connectedComponents(mask, connectivity=4)
    held = np.bincount(parts[about], minlength=count)
    held[0] = 0
    return np.asarray(parts == int(held.argmax())) if held.max() > 0 else np.zeros(mask.shape, bool)
