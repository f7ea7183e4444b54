"""Made-up colours that a screen can show."""

import numpy as np

from ochre_stone.core.colour.gamut import most_chroma
from ochre_stone.core.colour.munsell import lightness_of_value
from ochre_stone.core.colour.spaces import Lab, as_lab

_INSIDE = 0.97


def strongest(value: float, hue: float) -> float:
    """The strongest CIELAB chroma that can be shown at a Munsell value and a CIELAB hue (degrees)."""
    return _INSIDE * float(most_chroma(float(lightness_of_value(value)), hue))


def drill_colour(value: float, hue: float, chroma: float) -> Lab:
    """A colour of a Munsell value, a CIELAB hue and a CIELAB chroma, less of it where the screen ends."""
    c, h = min(chroma, strongest(value, hue)), np.radians(hue)
    return as_lab(np.array([float(lightness_of_value(value)), c * np.cos(h), c * np.sin(h)]))


def grey(value: float) -> Lab:
    """A neutral of a Munsell value."""
    return (float(lightness_of_value(value)), 0.0, 0.0)


def any_colour(rng: np.random.Generator, low: float = 2.0, high: float = 9.0, strength: float = 0.6) -> Lab:
    """A colour of any hue, its value between two, at a share of the strongest chroma there."""
    value, hue = float(rng.uniform(low, high)), float(rng.uniform(0, 360))
    return drill_colour(value, hue, strength * strongest(value, hue))


def moved_by(lab: Lab, by: float, way: tuple[float, float, float]) -> Lab:
    """A colour moved so many CIEDE2000 in a direction of CIELAB (lightness, a, b)."""
    from ochre_stone.core.colour.difference import ciede2000

    step = np.array(way) / max(float(np.linalg.norm(way)), 1e-9)
    sizes = np.linspace(0.0, 5.0 * by + 1.0, 160)
    row = np.array(lab) + sizes[:, None] * step
    at = float(np.interp(by, ciede2000(row, np.array(lab)), sizes))
    return as_lab(np.array(lab) + at * step)
