"""Predict the colour of a mixture, and how far to trust it."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.difference import ciede2000_vector
from ochre_stone.core.colour.spaces import WAVELENGTHS, Array, as_lab
from ochre_stone.core.paint import optics
from ochre_stone.core.paint.tubes import Tube, tube

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


def uncertainty(tubes: Sequence[Tube], shares: Array, surface: optics.Surface = optics.USUAL) -> float:
    """Spread of the predicted colour, as a CIEDE2000 length, by linear propagation.

    ``shares`` (n,) of volume. Of each tube strength (K and S together), scattering (S) and the place of the absorption
    vary independently by its tolerance. The model's own error is added in quadrature. Tests draw tubes as the check.
    """
    K = np.stack([t.K for t in tubes])
    S = np.stack([t.S for t in tubes])
    n = len(tubes)
    sd = np.array([[t.tolerance.strength, t.tolerance.scatter, t.tolerance.hue_nm] for t in tubes])
    c = np.asarray(shares, dtype=float) / np.sum(shares)
    step = np.array([0.05, 0.05, 1.0])
    grow = np.exp(step[0])
    moved_k, moved_s = np.tile(K, (3 * n + 1, 1, 1)), np.tile(S, (3 * n + 1, 1, 1))
    for i in range(n):
        moved_k[3 * i + 1, i] *= grow
        moved_s[3 * i + 1, i] *= grow
        moved_s[3 * i + 2, i] *= grow
        moved_k[3 * i + 3, i] = shifted(K[i], float(step[2]))
    lab = optics.layer_lab(np.einsum("j,ijk->ik", c, moved_k), np.einsum("j,ijk->ik", c, moved_s), surface)
    moved = ciede2000_vector(lab[1:], lab[0]) * (sd / step).reshape(-1, 1)
    return float(np.sqrt((moved**2).sum() + MODEL_SD**2))


def shifted(K: Array, nm: float) -> Array:
    """Absorption (36,) moved by ``nm`` toward longer wavelengths; held at the ends."""
    return np.interp(WAVELENGTHS - nm, WAVELENGTHS, K)


def spectra(tubes: Sequence[Tube], parts: Sequence[float] | Array) -> tuple[Array, Array]:
    """K and S (36,) of a mixture of tubes, parts by volume."""
    return optics.mixture(parts, np.stack([t.K for t in tubes]), np.stack([t.S for t in tubes]))


def predict(
    parts: Mapping[str, float], known: Callable[[str], Tube] = tube, surface: optics.Surface = optics.USUAL
) -> Prediction:
    """Colour of a mixture.

    Parameters: ``parts``: tube id to parts by volume, each above 0; ``known`` finds a tube by its id; ``surface``: of
    the dry paint.

    Returns: the colour of a hiding layer, CIELAB D65, and how sure that is, as a CIEDE2000 length.

    Raises OchreError for an unknown tube and ValueError when no part is above 0.

    Source: Kubelka and Munk with two constants, additive by volume; docs/colour-model.md.

    >>> grey = predict({"titanium-white": 1, "ivory-black": 1})
    >>> 20 < grey.lab[0] < 60
    True
    """
    tubes = [known(i) for i in parts]
    shares = np.array(list(parts.values()), dtype=float)
    if not len(tubes) or not np.isfinite(shares).all() or (shares <= 0).any():
        raise ValueError("every tube of a mixture needs parts above 0")
    lab = optics.layer_lab(*spectra(tubes, shares), surface)
    return Prediction(as_lab(lab), uncertainty(tubes, shares, surface))
