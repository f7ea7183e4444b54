"""Made-up tubes behind the simulated reader: nobody's tubes are as their data say, and neither are these."""

import zlib
from collections.abc import Sequence

import numpy as np

from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.mixing.correcting.belief import departed
from ochre_stone.core.paint.optics import SATIN, Surface, reflectance
from ochre_stone.core.paint.tubes import Tube

STRENGTH, HUE_NM = 0.2, 3.0
"""Standard deviations of ln strength and of the place of the absorption."""


def painted(tubes: Sequence[Tube], parts: Sequence[float], surface: Surface = SATIN) -> Array:
    """Reflectances (36,) of a pile of ``parts`` of made-up tubes, each off its data in a way of its own."""
    figures = np.zeros((len(tubes), 3))
    for row, t in enumerate(tubes):
        rng = np.random.default_rng(zlib.crc32(t.id.encode()))
        figures[row] = rng.normal(0, STRENGTH), 0.0, rng.normal(0, HUE_NM)
    K, S = departed(tubes, figures)
    c = np.asarray(parts, dtype=float) / np.sum(parts)
    return reflectance(c @ K, c @ S, surface)
