"""Set the light: what the painter knows to be grey or white becomes neutral (Bradford adaptation, ICC.1:2022 annex
E)."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import SRGB_TO_XYZ, XYZ_TO_SRGB, Array, adaptation
from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture.load import Floats

WHITE_LUMINANCE = 0.90
"""Luminance that a clicked white gets: white paint and paper reach about that."""


@dataclass(frozen=True)
class Balance:
    """A linear correction of linear-light sRGB: rows of a 3 x 3 matrix. The picture itself is never changed."""

    matrix: tuple[tuple[float, float, float], ...] = ((1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))

    @property
    def is_neutral(self) -> bool:
        return self == Balance()

    def apply(self, linear: npt.ArrayLike) -> Floats:
        """Corrected linear light (..., 3); negative results are set to 0, values above 1 stay."""
        x = np.asarray(linear, dtype=np.float32)
        if self.is_neutral:
            return x
        return np.asarray(np.maximum(x @ np.array(self.matrix, dtype=np.float32).T, 0), dtype=np.float32)


def balance_from(colour: npt.ArrayLike, kind: str) -> Balance:
    """The balance that makes ``colour`` (linear-light sRGB, before any balance) neutral.

    ``kind``: "grey" keeps its luminance, "white" also brings it to ``WHITE_LUMINANCE``. Raises OchreError where the
    colour is too dark, clipped or far too colourful to be a neutral under any usual light.
    """
    rgb = np.asarray(colour, dtype=float).reshape(3)
    xyz = SRGB_TO_XYZ @ rgb
    if xyz[1] < 0.01:
        raise OchreError("This spot is too dark to set the light by: click something lighter that is grey or white.")
    if rgb.max() > 0.995:
        raise OchreError("This spot is burnt out in the photo: click a white or grey that is a little darker.")
    if rgb.max() > 4 * max(float(rgb.min()), 1e-6):
        raise OchreError(
            "This spot is too colourful to be grey or white: click something that is neutral in the scene."
        )
    gain = WHITE_LUMINANCE / xyz[1] if kind == "white" else 1.0
    matrix: Array = XYZ_TO_SRGB @ adaptation(xyz) @ SRGB_TO_XYZ
    # Adaptation moves Y a little for a coloured source; bring the spot back to the luminance asked for.
    gain *= xyz[1] / float((SRGB_TO_XYZ @ (matrix @ rgb))[1])
    m = matrix * gain
    return Balance(((m[0, 0], m[0, 1], m[0, 2]), (m[1, 0], m[1, 1], m[1, 2]), (m[2, 0], m[2, 1], m[2, 2])))
