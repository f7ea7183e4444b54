"""Learn the imaginary indices of hematite and goethite from all pigments of each crystal together.

The tables are remembered as order of magnitude and run. Goethite in yellow ochre is the same crystal as in a
transparent yellow oxide, only the grains differ: where all of them miss the same way, the table is what misses. Its
logarithm may move by a polyline over eight wavelengths, with a prior on how far and on how ragged.
"""

from collections.abc import Sequence

import numpy as np
from scipy.optimize import least_squares

from tools.pigments import oxides
from tools.pigments.model import Crystals, Model, Pair

NODES = np.array([380.0, 430, 480, 530, 560, 590, 640, 740])
MOVED_SD = 0.3
"""Spread of ln of what the tables say, at a node and from node to node."""


def learn(models: Sequence[Model], white: Pair) -> Crystals:
    """The tables as the anchors of all pigments made of them want them."""
    found = dict(oxides.REMEMBERED)
    for crystal in found:
        members = [m for m in models if m.bands[0][0] == crystal]
        if members:
            found[crystal] = _learnt(crystal, members, white)
    return found


def _learnt(crystal: oxides.Crystal, members: Sequence[Model], white: Pair) -> np.ndarray:
    start = [m.alone(white) for m in members]
    cuts = np.cumsum([0, *(len(x) for x in start)])

    def table(z: np.ndarray) -> np.ndarray:
        return oxides.REMEMBERED[crystal] * np.exp(np.interp(oxides.NM, NODES, z[cuts[-1] :]))

    def residual(z: np.ndarray) -> np.ndarray:
        index, moved = {crystal: table(z)}, z[cuts[-1] :]
        out = []
        for k, m in enumerate(members):
            x = z[cuts[k] : cuts[k + 1]]
            out.append(m.residuals(x, m.with_crystals(index).spectra(x), white))
        return np.concatenate([*out, moved / MOVED_SD, np.diff(moved) / MOVED_SD])

    done = least_squares(residual, np.concatenate([*start, np.zeros(len(NODES))]), max_nfev=60)
    return table(done.x)
