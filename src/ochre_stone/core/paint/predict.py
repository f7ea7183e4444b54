"""Predict the colour of a mixture, and how far to trust it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.difference import ciede2000_vector
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.paint import optics
from ochre_stone.core.paint.tubes import Tube, tube

STRENGTH_SD = {"A": 0.15, "B": 0.22, "C": 0.35}
"""Spread of a tube's tinting strength (natural logarithm) by confidence of its data: makers differ, memory errs."""
SCATTER_SD = {"A": 0.20, "B": 0.30, "C": 0.45}
"""Spread of ln S: worse known than strength, since mass tones fix only K/S (research note on the pigments)."""
MODEL_SD = 1.2
"""CIEDE2000 that the model itself leaves even with the right tubes (its fit to anchors leaves about 2 in all)."""


@dataclass(frozen=True)
class Prediction:
    """Predicted colour of a mixture."""

    lab: tuple[float, float, float]
    uncertainty: float
    """One standard deviation as a CIEDE2000 length: about two of three real piles come closer than this."""

    @property
    def trust(self) -> str:
        """The uncertainty in painters' words."""
        if self.uncertainty < 2.5:
            return "expect to correct by a touch"
        if self.uncertainty < 4.5:
            return "expect to correct by a touch or two"
        return "unsure: mix a test first"


def uncertainty(tubes: Sequence[Tube], shares: Array, surface: optics.Surface = optics.SATIN) -> float:
    """Spread of the predicted colour, as a CIEDE2000 length, by linear propagation.

    ``shares`` (n,) of volume. Each tube's strength (K and S together) and scattering (S) vary independently; white's
    own strength moves only what it meets. The model's own error is added in quadrature.
    """
    K = np.stack([t.K for t in tubes])
    S = np.stack([t.S for t in tubes])
    c = np.asarray(shares, dtype=float) / np.sum(shares)
    step = 0.05
    rows_k, rows_s, spread = [c @ K], [c @ S], []
    for i, t in enumerate(tubes):
        for which, sd in (("strength", STRENGTH_SD[t.confidence]), ("scatter", SCATTER_SD[t.confidence])):
            k, s = K.copy(), S.copy()
            if which == "strength":
                k[i] = k[i] * np.exp(step)
            s[i] = s[i] * np.exp(step)
            rows_k.append(c @ k)
            rows_s.append(c @ s)
            spread.append(sd)
    lab = optics.layer_lab(np.stack(rows_k), np.stack(rows_s), surface)
    moved = ciede2000_vector(lab[1:], lab[0]) / step * np.array(spread)[:, None]
    return float(np.sqrt((moved**2).sum() + MODEL_SD**2))


def predict(parts: Mapping[str, float], surface: optics.Surface = optics.SATIN) -> Prediction:
    """Colour of a hiding layer of ``parts`` (tube id to parts by volume, each above 0).

    Raises OchreError for an unknown tube and ValueError when no part is above 0.
    """
    tubes = [tube(i) for i in parts]
    shares = np.array(list(parts.values()), dtype=float)
    if not len(tubes) or not np.isfinite(shares).all() or (shares <= 0).any():
        raise ValueError("every tube of a mixture needs parts above 0")
    K, S = optics.mixture(shares, np.stack([t.K for t in tubes]), np.stack([t.S for t in tubes]))
    lab = optics.layer_lab(K, S, surface)
    return Prediction((float(lab[0]), float(lab[1]), float(lab[2])), uncertainty(tubes, shares, surface))
