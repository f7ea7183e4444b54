"""Films of paint over a ground: undertone, how well a film hides, glazes and washes."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import Array, as_lab
from ochre_stone.core.paint.optics import (
    USUAL,
    Surface,
    below_surface,
    film_reflectance,
    infinite_reflectance,
    reflectance_to_lab,
    seen_through_surface,
)

SCATTER_PER_MM = 500.0
"""S of titanium white in oil at 550 nm, per millimetre of tube paint: a brushed layer of 50 micrometres hides (common
practice, no source). It turns the relative K and S of the data into absolute ones."""
WHITE_GROUND = 0.90
"""Measured reflectance of a white primed ground."""
BLACK_GROUND = 0.05
"""Measured reflectance of the black half of a drawdown card."""
_THINNEST, _THICKEST = 1e-5, 1.0  # mm


def ground_below(measured: npt.ArrayLike, surface: Surface = USUAL) -> Array:
    """Internal reflectance, 0..1, of a ground measured on its own as ``measured``; held where the surface alone
    would reflect more than that."""
    return np.clip(below_surface(measured, surface), 0.0, 1.0)


def film_lab(
    K: npt.ArrayLike, S: npt.ArrayLike, mm: npt.ArrayLike, ground: npt.ArrayLike, surface: Surface = USUAL
) -> Array:
    """CIELAB of films over a ground.

    Parameters: ``K``, ``S`` (..., 36) in the relative unit of the data; ``mm``: thickness in millimetres of tube
    paint, one number or (...,); ``ground``: internal reflectance of what lies below, 0..1.

    Returns: Lab (..., 3), D65.

    Source: Kubelka 1948 through Saunderson 1942.

    >>> thick = film_lab(np.ones(36), np.ones(36), 5.0, 0.9)
    >>> bool(np.allclose(thick, film_lab(np.ones(36), np.ones(36), 5.0, 0.05)))  # it hides
    True
    """
    x = np.asarray(mm, dtype=float)[..., None] * SCATTER_PER_MM
    return reflectance_to_lab(seen_through_surface(film_reflectance(K, S, x, ground), surface))


@dataclass(frozen=True)
class Undertone:
    """What a paint shows when it is drawn out over white."""

    lab: tuple[float, float, float]
    thickness: float
    """Millimetres at which the film stands halfway in lightness between the ground and the mass tone."""
    contrast: float
    """Luminance over black against over white at that thickness, 0..1: near 0 a glass, near 1 hides."""


def undertone(K: Array, S: Array, surface: Surface = USUAL) -> Undertone:
    """Undertone over a white ground. A white, which is no darker than the ground, is shown at 20 micrometres."""
    white, black = (ground_below(np.full(len(K), r), surface) for r in (WHITE_GROUND, BLACK_GROUND))
    mass = reflectance_to_lab(seen_through_surface(infinite_reflectance(K, S), surface))
    goal = (float(reflectance_to_lab(seen_through_surface(white, surface))[0]) + float(mass[0])) / 2
    steps = np.geomspace(_THINNEST, _THICKEST, 120)
    light = film_lab(K, S, steps, white, surface)[:, 0]
    below = np.flatnonzero(light <= goal)
    if mass[0] > 90 or not len(below) or below[0] == 0:
        mm = 0.02
    else:
        j = int(below[0])
        t = (light[j - 1] - goal) / max(light[j - 1] - light[j], 1e-12)
        mm = float(np.exp((1 - t) * np.log(steps[j - 1]) + t * np.log(steps[j])))
    over = film_lab(K, S, np.array([mm, mm]), np.stack([white, black]), surface)
    luminance = ((over[:, 0] + 16) / 116) ** 3
    lab = over[0]
    return Undertone(as_lab(lab), mm, float(luminance[1] / luminance[0]))
