"""A tube's own correction of the generic figures: how strong, how scattering, and which way its hue leans.

``K' = exp(strength + sum_j tilt_j B_j) K(lambda - shift)``, ``S' = exp(strength + scatter) S``: what makers differ in.
The B_j are smooth bumps over the wavelengths, so that a handful of swatches cannot draw a ragged spectrum.
"""

from typing import Annotated

import numpy as np
from pydantic import AfterValidator, Field

from ochre_stone.core.colour.spaces import WAVELENGTHS, Array
from ochre_stone.core.frozen import Frozen
from ochre_stone.core.paint.predict import shifted
from ochre_stone.core.paint.usual import EDITION

CENTRES = (420.0, 480.0, 540.0, 600.0, 660.0)
"""Middles of the bumps, nm."""
_WIDTH = 35.0
BUMPS: Array = np.exp(-0.5 * ((WAVELENGTHS[None, :] - np.array(CENTRES)[:, None]) / _WIDTH) ** 2)
MOST_STRENGTH = 4.0


def _within(values: tuple[float, ...]) -> tuple[float, ...]:
    if any(abs(v) > MOST_STRENGTH for v in values):
        raise ValueError(f"holds a number beyond {MOST_STRENGTH:g}")
    return values


class TubeCorrection(Frozen):
    """One calibration of one tube."""

    made: str = Field(default="", max_length=40)
    """When, as 2026-05-31."""
    words: str = Field(default="", max_length=300)
    """From what: "12 cells of a painted chart"."""
    edition: int = Field(default=1, ge=1, le=EDITION)
    """Which figures of the pigments it corrects; those of its time go on holding under it."""
    strength: float = Field(default=0.0, ge=-MOST_STRENGTH, le=MOST_STRENGTH)
    """ln of how much stronger than the generic figures."""
    scatter: float = Field(default=0.0, ge=-MOST_STRENGTH, le=MOST_STRENGTH)
    shift: float = Field(default=0.0, ge=-60, le=60)
    """nm toward longer wavelengths."""
    tilt: Annotated[tuple[float, ...], AfterValidator(_within)] = Field(
        default=(0.0,) * len(CENTRES), min_length=len(CENTRES), max_length=len(CENTRES)
    )
    strength_sd: float = Field(default=0.3, ge=0, le=MOST_STRENGTH)
    """How sure, after what was measured: as in tubes.Tolerance."""
    scatter_sd: float = Field(default=0.3, ge=0, le=MOST_STRENGTH)
    hue_sd: float = Field(default=5.0, ge=0, le=60)
    before: float = Field(default=0.0, ge=0)
    """Mean CIEDE2000 of its swatches by the generic figures."""
    after: float = Field(default=0.0, ge=0)

    def apply(self, K: Array, S: Array) -> tuple[Array, Array]:
        """Corrected K and S (36,)."""
        return corrected(K, S, np.array([self.strength, self.scatter, self.shift, *self.tilt]))


def corrected(K: Array, S: Array, x: Array) -> tuple[Array, Array]:
    """K and S (36,) by the numbers ``x`` = strength, scatter, shift, tilts."""
    k = shifted(K, float(x[2])) * np.exp(x[0] + x[3:] @ BUMPS)
    return np.asarray(k), np.asarray(S * np.exp(x[0] + x[1]))
