"""The colour of a pile: its body, away from its edge, its gloss and its streaks; and how noisy that is."""

from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.picture.picture import Floats, Mask

_GLOSS_ABOVE = 65.0
"""Percentile of lightness above which a pile counts as gloss, which only ever adds light."""
_BODY = 0.18
"""Reach of the body about its densest lightness, in the logarithm."""
_STEP = 0.02


@dataclass(frozen=True)
class Body:
    """The colour of a pile's body: Lab (3,), how it varies there, and the share of its pixels that is burnt out."""

    lab: Array
    spread: float
    burnt: float


def body_of(lab: Floats, light: Floats, burnt: Mask) -> Body:
    """From the pixels of a pile's core: ``lab`` (n, 3), luminance ``light`` (n,), and which are ``burnt``.

    The densest lightness among the darker 65 % is the body; of it the main hue, streaks of unmixed paint left out.
    """
    good = ~burnt
    if good.sum() < max(60, 0.12 * len(light)):
        good = np.ones_like(burnt)  # burnt all over: what is left is a bound, and said so
    dark = np.log(np.maximum(light[good], 1e-4))
    low, high = np.percentile(dark, [2, _GLOSS_ABOVE])
    grid = np.arange(low - 0.5, high + 0.52, _STEP)
    blur = np.exp(-0.5 * (np.arange(-20, 21) / 4.0) ** 2)
    dense = np.convolve(np.histogram(dark, grid)[0].astype(float), blur, "same")
    dense[grid[:-1] > high] = 0
    mode = grid[int(np.argmax(dense))] + _STEP / 2
    p = lab[good][np.abs(dark - mode) < _BODY]
    middle = np.median(p, axis=0)
    for _ in range(3):
        d = np.hypot(p[:, 1] - middle[1], p[:, 2] - middle[2])
        middle = np.median(p[d < max(2.0 * float(np.median(d)), 2.0)], axis=0)
    spread = float(np.median(np.linalg.norm(p - middle, axis=1)))
    return Body(middle.astype(float), spread, float(burnt.mean()))


@dataclass(frozen=True)
class Doubt:
    """What makes a reading noisy."""

    spread: float
    chroma: float
    burnt: float
    contrast: float
    """CIEDE2000 by which the camera's contrast may move it."""
    cast: float
    """How far the light is from the camera's white, the range of its logarithm."""
    card: bool

    def noise(self) -> float:
        """Standard deviation in each direction, CIEDE2000: fitted to simulated photos (docs/palette-photo.md)."""
        v = _CAMERA + _SPREAD * self.spread**2 + _CHROMA * (self.chroma / 50) ** 2 + _BURNT * self.burnt**2
        return float(
            np.sqrt(v + _CONTRAST * self.contrast**2 + _CAST * self.cast**2 + (0.0 if self.card else _NO_CARD))
        )


_CAMERA, _SPREAD, _CHROMA, _BURNT, _CONTRAST, _CAST, _NO_CARD = 0.72, 0.2, 0.1, 8.5, 2.4, 0.6, 0.3
"""Variances: of camera and light, unevenness, chroma, what was lost, contrast, cast, white without a card."""
