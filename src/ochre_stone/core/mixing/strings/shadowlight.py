"""Light and ambient light, estimated from notes of the same thing in light and in shadow; and shadows worked out.

A surface sends back what falls on it: in the light, the sun and the surroundings; in the shadow, the surroundings
alone. The ratio of the two notes in sharpened cones (Bradford; the diagonal model of von Kries 1902) is the ratio of
the two lights, whatever the surface. Notes of several things agree on it but for what each shadow faces: the middle of
them, in logarithms, is taken. A form shadow gets, on top, light thrown back by a lit neighbour: a share of the
neighbour's own colour in the light (one reflection between diffuse surfaces; Cohen and Wallace 1993, Radiosity, ch. 2).
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import BRADFORD, Array, Lab, as_lab, lab_to_xyz, xyz_to_lab

FACING = 0.15
"""Share of all directions in which a form shadow sees its lit neighbour: a judgement (.5 on an endless sunny floor)."""
_LEAST = 1e-4


def _cones(lab: npt.ArrayLike) -> Array:
    return np.maximum(lab_to_xyz(np.asarray(lab, dtype=float)) @ BRADFORD.T, _LEAST)


def _to_lab(cones: Array) -> Lab:
    lab = xyz_to_lab(np.linalg.inv(BRADFORD) @ cones)
    return as_lab(lab)


@dataclass(frozen=True)
class Lights:
    """Light in the shadows over all light, in cones (3,), and how many pairs of notes say so."""

    ratio: tuple[float, float, float]
    pairs: int
    spread: float
    """Standard deviation between pairs, in stops; 0 for one pair."""

    @property
    def stops(self) -> float:
        """How much darker the shadows are, in stops."""
        return float(-np.log2(self.ratio[1]))

    @property
    def warmer(self) -> float:
        """Stops of long waves against short that the shadow has more than the light: below 0 is cooler."""
        return float(np.log2(self.ratio[0] / self.ratio[2]))

    @property
    def words(self) -> str:
        """One sentence."""
        tone = "of the same warmth" if abs(self.warmer) < 0.12 else "warmer" if self.warmer > 0 else "cooler"
        sure = f" (the pairs differ by {self.spread:.1f} stops)" if self.pairs > 1 and self.spread > 0.4 else ""
        return (
            f"The light in the shadows is {self.stops:.1f} stops lower and {tone}, by {self.pairs} "
            f"pair{'s' * (self.pairs > 1)} of notes{sure}."
        )

    def form_shadow(self, lit: Lab, neighbour: Lab | None = None, facing: float = FACING) -> Lab:
        """Colour Lab of a thing, ``lit`` in the light, on its side away from it; ``neighbour``: what that side faces,
        as it is in the light. Never lighter than three quarters of the light."""
        share = np.array(self.ratio)
        if neighbour is not None:
            share = share + facing * _cones(neighbour)
        return _to_lab(_cones(lit) * np.minimum(share, 0.75))

    def cast_shadow(self, lit: Lab) -> Lab:
        """Colour Lab of a thing where another keeps the light from it."""
        return _to_lab(_cones(lit) * np.minimum(np.array(self.ratio), 0.75))


def estimate(pairs: Sequence[tuple[Lab, Lab]]) -> Lights | None:
    """The lights from pairs (lit, shaded) of the same thing; None where no pair is lighter in the light."""
    rows = [np.log2(_cones(dark) / _cones(light)) for light, dark in pairs if dark[0] < light[0] - 2]
    if not rows:
        return None
    ratios = np.array(rows)
    middle = np.median(ratios, axis=0)
    spread = float(ratios[:, 1].std()) if len(rows) > 1 else 0.0
    r = 2.0 ** np.minimum(middle, -0.05)
    return Lights(as_lab(r), len(rows), spread)
