"""What a picture is laid in by: its colours as they are to be painted, edges, things, masses, and where one looks."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ochre_stone.core.masses.shapes import Labels
from ochre_stone.core.picture.picture import Floats

Numbers32 = npt.NDArray[np.int32]


@dataclass(frozen=True, eq=False)
class PlacingGround:
    """All (h, w), at the size at which places are given."""

    lab: Floats
    """CIELAB (h, w, 3) as it is to be painted: range and harmony are in it."""
    melted: Floats
    """The same with its detail melted."""
    steep: Floats
    """How fast the melted colour changes."""
    thing: Numbers32
    """Number of the thing, from 0."""
    mass: Labels
    """Index of the mass, from 0."""
    kept: Floats
    """0..1: where more detail stays, for the painter looks there."""

    @property
    def side(self) -> float:
        """The root of the picture's pixels."""
        return float(np.sqrt(self.thing.size))
