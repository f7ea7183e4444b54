"""What the photo lost: burnt-out lights and crushed darks, and how grainy the darks are."""

from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.munsell import value_of_luminance
from ochre_stone.core.colour.spaces import SRGB_TO_XYZ
from ochre_stone.core.later import later
from ochre_stone.core.picture.balance import Balance
from ochre_stone.core.picture.frame import Framed
from ochre_stone.core.picture.picture import Floats, Picture

cv2 = later("cv2")

_MAP_PIXELS = 400_000
_DARK = 0.03
"""Luminance (about value 2) below which grain is measured."""
_MUCH = 0.005


@dataclass(frozen=True, eq=False)
class Losses:
    """Share of each place of a copy that the photo lost, and of the whole."""

    lights: Floats
    """(h, w) share of lost pixels, 0..1, over the frame."""
    darks: Floats
    lights_share: float
    darks_share: float
    grain: float
    """Standard deviation of luminance from pixel to pixel in the darks; 0 where there are none."""

    @property
    def words(self) -> str:
        """What the painter is told."""
        said = []
        if self.lights_share >= 0.0005:
            said.append(f"lights burnt out on {_percent(self.lights_share)}")
        if self.darks_share >= 0.0005:
            said.append(f"darks crushed on {_percent(self.darks_share)}")
        if not said:
            return "Nothing to speak of: lights and darks are all there."
        much = self.lights_share + self.darks_share >= _MUCH
        end = " of the picture. Judge those places from life or from another exposure." if much else " of the picture."
        return " and ".join(said).capitalize() + end


def _percent(share: float) -> str:
    return f"{share:.1%}" if share < 0.1 else f"{share:.0%}"


def losses(seen: Framed) -> Losses:
    """Measure what the photo lost, on every pixel of the original; the shares are those of the frame."""
    lights, darks = _maps(seen.picture)
    if seen.frame.is_whole:
        a, b = lights, darks
    else:
        a, b = (seen.map_mask(m, _MAP_PIXELS) for m in (lights, darks))
    return Losses(a, b, float(a.mean()), float(b.mean()), grain_in_darks(seen.picture))


def _maps(picture: Picture) -> tuple[Floats, Floats]:
    """Share of burnt and of crushed pixels, reduced maps of the whole picture, worked out once."""
    return picture.remembered.fact("lost", lambda: _measured_maps(picture))


def _measured_maps(picture: Picture) -> tuple[Floats, Floats]:
    factor = max(1, int(np.ceil((picture.width * picture.height / _MAP_PIXELS) ** 0.5)))
    height, width = max(1, picture.height // factor), max(1, picture.width // factor)
    out = np.zeros((2, height, width), np.float32)
    rows = max(1, 200_000 // max(1, picture.width * factor))
    for first in range(0, height, rows):
        last = min(first + rows, height)
        masks = picture.lost(slice(first * factor, last * factor), slice(0, width * factor))
        for i, mask in enumerate(masks):
            size = (width, last - first)
            out[i, first:last] = cv2.resize(mask.astype(np.float32), size, interpolation=cv2.INTER_AREA)
    return out[0], out[1]


def grain_in_darks(picture: Picture) -> float:
    """Standard deviation of the pixel noise of luminance where the picture is dark.

    Method: second differences over 3 x 3 pixels cancel slopes and edges' linear part (Immerkær 1996, Comput. Vis.
    Image Underst. 64(2)); their median over dark windows leaves texture out.
    """
    return picture.remembered.fact("grain", lambda: _measured_grain(picture))


def _measured_grain(picture: Picture) -> float:
    found = []
    step = max(1, picture.height // 24)
    high = min(48, picture.height)
    for top in range(0, picture.height - high + 1, step):
        linear = picture.linear(slice(top, top + high))
        y = (linear @ SRGB_TO_XYZ[1].astype(np.float32)).astype(np.float32)
        kernel = np.array([[1, -2, 1], [-2, 4, -2], [1, -2, 1]], np.float32)
        second = np.abs(cv2.filter2D(y, cv2.CV_32F, kernel))[1:-1, 1:-1]
        dark = cv2.blur(y, (3, 3))[1:-1, 1:-1] < _DARK
        found.append(second[dark][::7])
    darks = np.concatenate(found)
    return float(np.median(darks)) / 0.6745 / 6.0 if len(darks) >= 200 else 0.0


def grain_in_values(grain: float, balance: Balance, value_y: float = 0.004) -> float:
    """The same grain in value steps after the light was set, for darks of luminance ``value_y`` in the photo."""
    if grain <= 0:
        return 0.0
    y = np.array([max(value_y - grain, 0.0), value_y + grain])
    after = balance.apply(np.repeat(y[:, None], 3, axis=1)) @ SRGB_TO_XYZ[1]
    low, high = value_of_luminance(np.clip(after, 0, 1)).tolist()
    return float((high - low) / 2)
