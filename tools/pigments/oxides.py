"""Absorption of iron oxides as grains of a crystal: hematite in the reds, goethite in the yellows.

Source: van de Hulst 1957, Light Scattering by Small Particles, chapter 11 (absorption of a sphere whose index is near
that of the medium). Coarse grains swallow all light above their edge, whatever the crystal's own slope: a plateau with
a steep end. Fine ones show the slope. One table thus serves a transparent oxide and an Indian red; what the table does
not know is learnt from all pigments of the crystal together (``crystals``).
"""

from collections.abc import Mapping
from typing import Literal

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import WAVELENGTHS, Array
from ochre_stone.core.paint import scatter

Crystal = Literal["hematite", "goethite"]

# Hematite from memory of Querry 1985 and of Chen and Cahan 1981: the pair band near 530 to 540, the edge at 570 to 580,
# the weak band near 650 nm. Goethite from memory of Bedidi and Cervelle 1993 and of Sherman and Waite 1985: the
# shoulder near 480, the edge at 520 to 550, the weak band near 650 nm (taken at 1.7 times what was first remembered:
# black and ochre then lean to olive). Order of magnitude and run.
NM = np.arange(380, 741, 20)
REMEMBERED: Mapping[Crystal, Array] = {
    "hematite": np.array(
        [
            1.0,
            0.95,
            0.90,
            0.84,
            0.76,
            0.68,
            0.62,
            0.59,
            0.53,
            0.36,
            0.18,
            0.085,
            0.05,
            0.042,
            0.04,
            0.03,
            0.022,
            0.02,
            0.02,
        ]
    ),
    "goethite": np.array(
        [
            0.33,
            0.25,
            0.20,
            0.17,
            0.15,
            0.14,
            0.11,
            0.065,
            0.038,
            0.024,
            0.018,
            0.016,
            0.030,
            0.032,
            0.032,
            0.027,
            0.0125,
            0.010,
            0.009,
        ]
    ),
}
_SEEN = (WAVELENGTHS >= 400) & (WAVELENGTHS <= 700)


def absorbed(depth: npt.ArrayLike) -> Array:
    """Absorption efficiency of a sphere: the share of the light falling on it that it swallows.

    Parameters: ``depth`` (...): absorption lengths along its diameter, 4 pi k d / lambda; at or above 0.

    Returns: (...), 0..1: ``1 + 2 exp(-p) / p + 2 (exp(-p) - 1) / p^2``, 2 p / 3 for a small p.

    Source: van de Hulst 1957, 11.31.

    >>> absorbed([1e-6, 1.0, 1e6]).round(6)
    array([1.000000e-06, 4.715180e-01, 1.000000e+00])
    """
    p = np.maximum(np.asarray(depth, dtype=float), 1e-9)
    # The terms cancel for a small p: 2 p / 3 - p^2 / 4 is exact to 1e-6 there.
    return np.asarray(np.where(p < 0.01, 2 * p / 3 - p**2 / 4, 1 + 2 * np.exp(-p) / p + 2 * np.expm1(-p) / p**2))


def grains(index: npt.ArrayLike, diameter_um: float, shift_nm: float = 0.0) -> Array:
    """Run of the absorption of grains log-normal about a diameter, (36,), 1 where strongest between 400 and 700 nm.

    Parameters: ``index`` (19,): imaginary index at ``NM``; ``diameter_um``: of a grain, above 0; ``shift_nm``: by how
    much the crystal's bands lie higher than in the table (foreign ions, temperature of firing).
    """
    k = np.interp(WAVELENGTHS - shift_nm, NM, index)
    diameters = diameter_um * np.exp(scatter.SIZES * scatter.NODES)
    share = np.mean([absorbed(4 * np.pi * k * d * 1000 / WAVELENGTHS) / d for d in diameters], axis=0)
    return np.asarray(share / share[_SEEN].max())
