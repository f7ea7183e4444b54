"""Made-up tubes and a made-up hand behind the simulated reader: nobody's tubes are as their data say, nobody doses as
meant, and neither do these."""

import zlib
from collections.abc import Sequence

import numpy as np

from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.mixing.correcting.departing import departed
from ochre_stone.core.mixing.recipe.dose import Dose
from ochre_stone.core.paint.optics import USUAL, Surface, reflectance
from ochre_stone.core.paint.tubes import Tube

STRENGTH, HUE_NM = 0.2, 3.0
"""Standard deviations of ln strength and of the place of the absorption."""


def painted_patch(tubes: Sequence[Tube], doses: Sequence[Dose], pile: str, surface: Surface = USUAL) -> Array:
    """Reflectances (36,) of a pile of made-up tubes, each off its data in a way of its own, dosed by a made-up hand:
    each dose of ``pile`` is off by its error, as it was when the pile was looked at before."""
    figures = np.zeros((len(tubes), 3))
    for row, t in enumerate(tubes):
        rng = np.random.default_rng(zlib.crc32(t.id.encode()))
        figures[row] = rng.normal(0, STRENGTH), 0.0, rng.normal(0, HUE_NM)
    K, S = departed(tubes, figures)
    at = {t.id: i for i, t in enumerate(tubes)}
    c = np.zeros(len(tubes))
    for k, d in enumerate(doses):
        slip = np.random.default_rng([k, zlib.crc32(pile.encode())]).normal(0, d.error)
        for tube_id, share in d.shares:
            c[at[tube_id]] += d.volume * np.exp(slip) * share
    c /= c.sum()
    return reflectance(c @ K, c @ S, surface)
