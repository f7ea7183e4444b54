"""Sample a spot: a round aperture, a robust average, and how mixed it is."""

from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture.balance import Balance
from ochre_stone.core.picture.load import Floats, Picture, linear_to_lab

LEAST_APERTURE, MOST_APERTURE = 1, 101


@dataclass(frozen=True)
class Sample:
    """What an aperture saw."""

    lab: tuple[float, float, float]
    spread: float
    """Median CIEDE2000 of the pixels from the sample: below 2 even, above 6 mixed."""
    clipped: float
    """Share of pixels burnt out or crushed in the photo, 0..1."""

    @property
    def spread_words(self) -> str:
        return "even" if self.spread < 2 else "varied" if self.spread < 6 else "mixed, perhaps two colours"


def spot(picture: Picture, x: float, y: float, aperture: int) -> Floats:
    """Linear-light pixels (n, 3) inside a round aperture of ``aperture`` pixels across, centred at x, y."""
    if not LEAST_APERTURE <= aperture <= MOST_APERTURE:
        raise OchreError(
            f"An aperture of {aperture} pixels is not possible: choose {LEAST_APERTURE} to {MOST_APERTURE}."
        )
    if not (0 <= x < picture.width and 0 <= y < picture.height):
        raise OchreError(f"The spot {x:.0f}, {y:.0f} lies outside the picture ({picture.width} x {picture.height}).")
    radius = aperture / 2
    # A pixel covers x to x + 1; the aperture takes pixels whose centre it covers, at least the one under the pointer.
    left, right = max(0, int(np.floor(x - radius))), min(picture.width, int(np.ceil(x + radius)) + 1)
    top, bottom = max(0, int(np.floor(y - radius))), min(picture.height, int(np.ceil(y + radius)) + 1)
    dx = np.arange(left, right) + 0.5 - x
    dy = np.arange(top, bottom) + 0.5 - y
    inside = dx[None] ** 2 + dy[:, None] ** 2 <= radius**2
    inside[min(int(y), bottom - 1) - top, min(int(x), right - 1) - left] = True
    return picture.linear(slice(top, bottom), slice(left, right))[inside]


def sample(picture: Picture, x: float, y: float, aperture: int = 15, balance: Balance | None = None) -> Sample:
    """Median Lab of a round spot of the full picture, after ``balance``; spread and clipping with it."""
    pixels = spot(picture, x, y, aperture)
    lab = linear_to_lab((balance or Balance()).apply(pixels)).astype(float)
    middle = np.median(lab, axis=0)
    clipped = ((pixels > 0.995).any(axis=1) | (pixels < 0.0006).all(axis=1)).mean()
    return Sample(
        (float(middle[0]), float(middle[1]), float(middle[2])),
        float(np.median(ciede2000(lab, middle))),
        float(clipped),
    )
