"""Two-constant Kubelka-Munk optics of paint: hiding layers and films over a ground, 36 bands from 380 to 730 nm.

Sources: Kubelka and Munk 1931, Z. Tech. Phys. 12 (theory); Kubelka 1948, J. Opt. Soc. Am. 38 (hyperbolic form
of a film over a ground); Duncan 1940, Proc. Phys. Soc. 52 (K and S of a mixture add);
Saunderson 1942, J. Opt. Soc. Am. 32 (reflection at the surface); Berns 2016, Color Science and the Visual Arts
(artists' paints). Unit of K and S: titanium white scatters S(550 nm) = 1 per volume of tube paint.
"""

from collections.abc import Sequence
from dataclasses import dataclass, fields
from typing import Any

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import WAVELENGTHS, Array, spectral_weights, xyz_to_lab


@dataclass(frozen=True)
class Surface:
    """How a paint surface reflects.

    ``k1``: share of light reflected at the outside of the surface; ``k2``: share of diffuse light reflected back at its
    inside; ``g``: share of the outside reflection that reaches the eye (0 varnished and well lit ... 1 matt).
    """

    k1: float = 0.04
    k2: float = 0.60
    g: float = 0.05


USUAL = Surface()
"""How paint is looked at where nothing else is said: fresh or varnished oil with the glare turned away, so that dark
things stand mirrored in it (g .05: their luminance over that of a white lit like the painting; a judgement). That gloss
decides how deep darks look: de la Rie 1987, Berns and de la Rie 2003, Studies in Conservation (from memory)."""

ANCHORS = Surface(g=0.30)
"""What the remembered mass tones and tints of dark and of transparent tubes carry: their fit's only, and that of what
was read before the program told surfaces apart. Black, phthalos and Prussian blue differ widely in K/S and are all
remembered at L* 12 to 14: one floor of 1.4 % lies under them."""


def by_rows(surfaces: Sequence[Surface]) -> Surface:
    """Surfaces (m) of as many layers (m, 36), as one whose figures are (m, 1)."""
    columns: Any = {f.name: np.array([[getattr(s, f.name)] for s in surfaces]) for f in fields(Surface)}
    return Surface(**columns)


def infinite_reflectance(K: npt.ArrayLike, S: npt.ArrayLike) -> Array:
    """Reflectance inside a hiding layer.

    Parameters: ``K``, ``S`` (...): absorption and scattering, in one unit; S above 0. They broadcast.

    Returns: (...), 0..1: ``1 + q - sqrt(q^2 + 2 q)`` with q = K/S.

    Source: Kubelka and Munk 1931, Z. techn. Phys. 12; in this form Kubelka 1948, J. Opt. Soc. Am. 38(5).

    >>> infinite_reflectance(1.0, 1.0).round(4)  # 2 less the root of 3
    np.float64(0.2679)
    """
    q = np.asarray(K, dtype=float) / np.asarray(S, dtype=float)
    return np.asarray(1 + q - np.sqrt(q * (q + 2)))


def film_reflectance(K: npt.ArrayLike, S: npt.ArrayLike, thickness: npt.ArrayLike, ground: npt.ArrayLike) -> Array:
    """Internal reflectance of a film over a ground.

    Parameters: ``K``, ``S`` (..., 36) per unit of thickness; ``thickness``: broadcasts against them (give it a last
    axis of 1), at or above 0; ``ground``: internal reflectance of what lies under the film, in optical contact, 0..1.

    Returns: (..., 36), 0..1. Thickness 0 gives the ground, a great one the hiding layer; where nothing scatters it is
    the law of Beer and Lambert, Rg exp(-2 KX).

    Raises ValueError for a thickness below 0.

    Source: Kubelka 1948, ``(1 - Rg (a - b coth bSX)) / (a - Rg + b coth bSX)`` with a = 1 + K/S, b = sqrt(a^2 - 1);
    here in a form in exp(-2 bSX) that neither overflows for thick films nor loses digits for thin ones.

    >>> film_reflectance(0.0, 1.0, 3.0, 0.0).round(4)  # nothing absorbs, black below: SX / (1 + SX)
    np.float64(0.75)
    """
    k, s = np.asarray(K, dtype=float), np.maximum(np.asarray(S, dtype=float), 1e-12)
    x, under = np.asarray(thickness, dtype=float), np.asarray(ground, dtype=float)
    if (x < 0).any():
        raise ValueError("a film needs a thickness at or above 0")
    root = np.sqrt(k * (k + 2 * s))  # b S
    fading = np.exp(-2 * root * x)
    # tanh(bSX)/(bS), with its limit X where b vanishes
    reach = np.where(root * x > 1e-7, (1 - fading) / ((1 + fading) * np.maximum(root, 1e-300)), x)
    return np.asarray((under + (s - under * (k + s)) * reach) / (1 + ((k + s) - under * s) * reach))


def film(
    K: npt.ArrayLike, S: npt.ArrayLike, thickness: npt.ArrayLike, ground: npt.ArrayLike, surface: Surface = USUAL
) -> Array:
    """Measured reflectance of a film over a ground of *internal* reflectance ``ground``: :func:`film_reflectance` seen
    through the surface.
    """
    return seen_through_surface(film_reflectance(K, S, thickness, ground), surface)


def absorption_ratio(reflectance: npt.ArrayLike) -> Array:
    """K/S of a hiding layer: the inverse of :func:`infinite_reflectance`.

    Parameters: ``reflectance`` (...): internal, in (0, 1].

    Returns: ``(1 - R)^2 / (2 R)`` (...).

    Source: Kubelka and Munk 1931.

    >>> absorption_ratio(0.5)
    array(0.25)
    """
    r = np.asarray(reflectance, dtype=float)
    return np.asarray((1 - r) ** 2 / (2 * r))


def seen_through_surface(internal: npt.ArrayLike, surface: Surface = USUAL) -> Array:
    """What is measured of a layer under a surface.

    Parameters: ``internal`` (...): reflectance inside, 0..1; ``surface``: outside and inside reflection, and how much
    of the outside one reaches the eye.

    Returns: (...), 0..1.

    Source: Saunderson 1942, J. Opt. Soc. Am. 32(12).

    >>> seen_through_surface([0.0, 1.0], Surface(k1=0.04, k2=0.6, g=0.0)).round(4)  # without gloss
    array([0.  , 0.96])
    """
    r = np.asarray(internal, dtype=float)
    k1, k2 = surface.k1, surface.k2
    return np.asarray(surface.g * k1 + (1 - k1) * (1 - k2) * r / (1 - k2 * r))


def surface_slope(internal: npt.ArrayLike, surface: Surface = USUAL) -> Array:
    """Slope of :func:`seen_through_surface` over the internal reflectance, of its shape.

    >>> surface_slope(0.0, Surface(k1=0.0, k2=0.5))
    array(0.5)
    """
    r = np.asarray(internal, dtype=float)
    k1, k2 = surface.k1, surface.k2
    return np.asarray((1 - k1) * (1 - k2) / (1 - k2 * r) ** 2)


def below_surface(measured: npt.ArrayLike, surface: Surface = USUAL) -> Array:
    """Internal reflectance of what was measured: the inverse of :func:`seen_through_surface`.

    >>> below_surface(seen_through_surface(0.3)).round(6)
    np.float64(0.3)
    """
    x = np.asarray(measured, dtype=float) - surface.g * surface.k1
    k1, k2 = surface.k1, surface.k2
    return np.asarray(x / ((1 - k1) * (1 - k2) + k2 * x))


def reflectance(K: npt.ArrayLike, S: npt.ArrayLike, surface: Surface = USUAL) -> Array:
    """Measured reflectance (..., 36) of a hiding layer with K and S (..., 36)."""
    return seen_through_surface(infinite_reflectance(K, S), surface)


def reflectance_to_lab(spectrum: npt.ArrayLike, illuminant: str = "D65") -> Array:
    """CIELAB of reflectances.

    Parameters: ``spectrum`` (..., 36), 0..1 at the bands of ``WAVELENGTHS``; ``illuminant``: "D65" or "A".

    Returns: Lab (..., 3), relative to the illuminant's own white, 2 degree observer.

    >>> reflectance_to_lab(np.full(36, 0.184187)).round(2) + 0.0
    array([50.,  0.,  0.])
    """
    weights = spectral_weights(illuminant)
    return xyz_to_lab(np.asarray(spectrum, dtype=float) @ weights, weights.sum(axis=0))


def layer_lab(K: npt.ArrayLike, S: npt.ArrayLike, surface: Surface = USUAL) -> Array:
    """CIELAB D65 (..., 3) of a hiding layer with K and S (..., 36): absorption and scattering to internal reflectance,
    through the surface, to colour.
    """
    return reflectance_to_lab(reflectance(K, S, surface))


def mixture(shares: npt.ArrayLike, K: npt.ArrayLike, S: npt.ArrayLike) -> tuple[Array, Array]:
    """K and S of mixtures, additive by volume.

    Parameters: ``shares`` (..., n) of volume, not needing to sum to 1; ``K``, ``S`` (n, 36) of what is mixed.

    Returns: K and S (..., 36).

    Source: Duncan 1940, Proc. Phys. Soc. 52(3).

    >>> K, S = mixture([3, 1], [[4.0], [0.0]], [[1.0], [1.0]])
    >>> float(K[0]), float(S[0])
    (3.0, 1.0)
    """
    c = np.asarray(shares, dtype=float)
    c = c / c.sum(axis=-1, keepdims=True)
    return c @ np.asarray(K, dtype=float), c @ np.asarray(S, dtype=float)


Band = tuple[str | float, ...]


def band(parameters: Band, wavelengths: Array = WAVELENGTHS) -> Array:
    """One absorption feature over the bands.

    ("E", height, edge nm, width nm): logistic edge of a semiconductor or oxide, absorbing below the edge;
    ("G", height, centre nm, width left, width right): two-sided Gaussian band of a dye-like absorber;
    ("P", height, power): broad absorption, height (lambda/550)^-power; ("B", height): flat.
    """
    kind, *p = parameters
    n = [float(x) for x in p]
    if kind == "E":
        return np.asarray(n[0] / (1 + np.exp(np.clip((wavelengths - n[1]) / n[2], -60, 60))))
    if kind == "G":
        d = wavelengths - n[1]
        return np.asarray(n[0] * np.exp(-0.5 * (d / np.where(d < 0, n[2], n[3])) ** 2))
    if kind == "P":
        return np.asarray(n[0] * (wavelengths / 550) ** (-n[1]))
    if kind == "B":
        return np.full(len(wavelengths), n[0])
    raise ValueError(f"unknown absorption feature {kind!r}: use E, G, P or B")


def scattering(S0: float, m: float, wavelengths: Array = WAVELENGTHS) -> Array:
    """Scattering of a pigment over the bands: ``S0 (lambda/550)^-m``."""
    return np.asarray(S0 * (wavelengths / 550) ** (-m))
