"""What the scattering of a pigment should be, from its refractive index, its grain and how much of it is in the tube.

Source: van de Hulst 1957, Light Scattering by Small Particles, chapter 11 (anomalous diffraction: the efficiency of a
sphere whose index is near that of the medium, by the phase that light gains on its way through); Kramers 1927 and
Kronig 1926 for the index beside an absorption band, by the quadrature of Ohta and Ishida 1988, Appl. Spectrosc. 42. It
serves as a prior and gives the run over the wavelengths: a red pigment scatters red light most since its index is
highest just beyond its band, a phthalo hardly scatters the blue on the near side of its own.
"""

import functools

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import WAVELENGTHS, Array

OIL_INDEX = 1.48
"""Refractive index of drying oil."""
LEAST = 0.012
"""Scattering left where index and oil agree: grains clump, and air stays between them (judgement)."""
_WHITE = (2.72, 0.25, 0.28)
"""Titanium white: index of rutile, micrometres, share of the tube."""


_AT_550 = int(np.flatnonzero(WAVELENGTHS == 550)[0])


def efficiency(
    index: npt.ArrayLike, diameter_um: float, medium: float = OIL_INDEX, wavelengths: Array = WAVELENGTHS
) -> Array:
    """Extinction efficiency of a sphere by anomalous diffraction.

    Parameters: ``index``: refractive index, one or one for each band; ``diameter_um``: in micrometres; ``medium``:
    index of what lies around; ``wavelengths`` in nm.

    Returns: (36,): ``2 - 4/p sin p + 4/p^2 (1 - cos p)``, p the phase lag in radians; its first maximum is 3.17 near
    p = 4.1.

    Source: van de Hulst 1957, Light Scattering by Small Particles, 11.22.

    >>> lag = 4.086
    >>> um = lag * 550 / (2 * np.pi * 1000 * (2.0 - OIL_INDEX))
    >>> efficiency(2.0, um)[_AT_550].round(2)
    np.float64(3.17)
    """
    lag = 2 * np.pi * diameter_um * 1000 * np.abs(np.asarray(index, dtype=float) - medium) / wavelengths
    lag = np.maximum(lag, 1e-6)
    # For a small lag the terms cancel: the series p^2/2 - p^4/36 is exact to 1e-6 there.
    whole = 2 - 4 / lag * np.sin(lag) + 4 / lag**2 * (1 - np.cos(lag))
    return np.asarray(np.where(lag < 0.05, lag**2 / 2 - lag**4 / 36, whole))


SIZES = 0.45
"""Spread of ln of the grains' diameters: ground pigments have no one size (order of magnitude, from memory)."""
NODES = np.array([-1.4652, -0.7916, -0.2533, 0.2533, 0.7916, 1.4652])
"""Middles of six equal shares of a normal distribution."""


def efficiency_per_um(
    index: npt.ArrayLike, diameter_um: float, medium: float = OIL_INDEX, sizes: float = SIZES
) -> Array:
    """Efficiency over diameter, which scattering per volume goes as, of grains log-normal about a diameter, (36,).

    One size rings: near its resonance a grain scatters red more than blue and tints every dark mixture with it.

    Parameters as :func:`efficiency`; ``sizes``: spread of ln diameter, 0 for one size.
    """
    diameters = diameter_um * np.exp(sizes * NODES) if sizes else np.array([diameter_um])
    return np.asarray(np.mean([efficiency(index, float(d), medium) / d for d in diameters], axis=0))


ABSOLUTE = 250.0
"""S of titanium white in 1/mm as it is told without Saunderson's correction (from memory); imaginary indices are made
with it. The fit hardly minds: 60 to 500 move its mean error by .1."""
CROWDING = 1.6
"""Titanium white at its share of the tube scatters so much less than its grains would alone: they stand in each other's
light (about 40 % at a quarter by volume: common practice in paint making, no source)."""
_MOST_K = 0.9
"""Imaginary index above which more is taken for the grain's skin only: grains absorb no more than falls on them."""


@functools.cache
def _kramers_kronig() -> Array:
    """Change of index at the 36 bands from imaginary indices at the 36 bands, (36, 36); held constant out to 300 and
    850 nm, where nothing is known."""
    omega = np.linspace(1 / 850, 1 / 300, 400)
    to = np.stack([np.interp(1 / omega, WAVELENGTHS, row) for row in np.eye(len(WAVELENGTHS))], axis=1)
    step = omega[1] - omega[0]
    i, j = np.indices((400, 400))
    other = (i - j) % 2 == 1  # every second point leaves out the pole
    inverse = np.where(other, 1 / np.where(other, omega[j] ** 2 - omega[i] ** 2, 1.0), 0.0)
    whole = 4 / np.pi * step * inverse * omega[None, :] @ to
    return np.stack([np.interp(1 / WAVELENGTHS, omega, column) for column in whole.T], axis=1)


def dispersion(K: Array, volume: float, per_mm: float) -> Array:
    """How far the index of a pigment lies off the one told in tables, (36,), from its absorption.

    ``K`` relative as in the data, ``per_mm``: what turns it into 1/mm. Light in a layer runs at all angles, so K is
    twice the absorption of a straight ray (Kubelka and Munk 1931). The tables' index is taken to hold where the pigment
    lets light pass.
    """
    k = K * per_mm / 2 / volume * WAVELENGTHS * 1e-6 / (4 * np.pi)
    change = _kramers_kronig() @ (k / (1 + k / _MOST_K))
    clear = 1 / (K + 0.1 * K.max() + 1e-9)
    return np.asarray(change - clear @ change / clear.sum())


def expected_scatter(
    index: float,
    diameter_um: float,
    volume: float,
    K: Array | None = None,
    per_mm: float = ABSOLUTE,
    medium: float = OIL_INDEX,
) -> Array:
    """Scattering (36,) in units of titanium white in oil at 550 nm.

    ``volume``: share of pigment in the tube paint, 0..1; ``K`` (36,): its absorption, for the index beside its bands.
    Scattering per volume goes as efficiency over diameter.
    """
    white = _of_white()
    n = index + (dispersion(K, volume, per_mm) if K is not None else 0.0)
    return np.asarray(efficiency_per_um(n, diameter_um, medium) * volume / white * CROWDING + LEAST)


@functools.cache
def _of_white() -> float:
    return float(efficiency_per_um(_WHITE[0], _WHITE[1])[_AT_550]) * _WHITE[2]
