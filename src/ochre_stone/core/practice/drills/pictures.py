"""Drills in a picture, made up or the painter's own: the darker of two spots; squint, and place the cuts."""

import numpy as np

from ochre_stone.core.colour.munsell import value_of_luminance
from ochre_stone.core.colour.spaces import Array, as_lab
from ochre_stone.core.later import later
from ochre_stone.core.masses.thresholds import histogram, optimal_cuts
from ochre_stone.core.picture.picture import linear_to_lab
from ochre_stone.core.practice.drill import Drill, Material
from ochre_stone.core.practice.threshold import Range
from ochre_stone.core.practice.trial import OneOf, Patch, PlacedCuts, Scene, Trial

ndimage = later("scipy.ndimage")

_LUMA: Array = np.array([0.2126729, 0.7151522, 0.0721750])
_TRIES = 4000
_COUNTS = (2, 3, 3, 4, 4, 5)


def picture_values(linear: Array) -> Array:
    """Munsell value (h, w) of a picture in linear light (h, w, 3)."""
    return np.asarray(value_of_luminance(np.clip(np.asarray(linear, dtype=float) @ _LUMA, 0, 1)))


def _needed(material: Material) -> Array:
    if material.linear is None:
        raise ValueError("needs a picture")
    return np.asarray(material.linear, dtype=float)


def darker_spot(rng: np.random.Generator, level: float, material: Material) -> Trial:
    """Two spots in a picture: which is darker; ``level``: by how many value steps."""
    linear = _needed(material)
    h, w = linear.shape[:2]
    spot = max(2.0, min(h, w) / 90)
    smooth = np.stack([ndimage.gaussian_filter(linear[..., c], spot) for c in range(3)], axis=-1)
    values = picture_values(smooth)
    rough = np.sqrt(
        np.maximum(ndimage.gaussian_filter(values**2, spot) - ndimage.gaussian_filter(values, spot) ** 2, 0)
    )
    edge = int(3 * spot)
    ys, xs = (rng.integers(edge, n - edge, (2, _TRIES)) for n in (h, w))
    first, second = values[ys[0], xs[0]], values[ys[1], xs[1]]
    gap = np.abs(first - second)
    far = np.hypot(ys[0] - ys[1], xs[0] - xs[1]) > 0.12 * min(h, w)
    calm = rough[ys[0], xs[0]] + rough[ys[1], xs[1]]
    cost = np.abs(np.log(np.maximum(gap, 1e-3) / level)) + 0.4 * calm + 9.0 * ~far
    k = int(np.argmin(cost))
    right = int(second[k] < first[k])
    marks = (("A", float(xs[0, k]), float(ys[0, k])), ("B", float(xs[1, k]), float(ys[1, k])))
    spots = tuple(
        Patch(as_lab(linear_to_lab(smooth[y, x][None])[0]), name)
        for name, y, x in (("A", ys[0, k], xs[0, k]), ("B", ys[1, k], xs[1, k]))
    )
    why = f"A is value {first[k]:.1f}, B {second[k]:.1f}: light things in shade are darker than they seem."
    return Trial(
        "Which of the two spots is darker?",
        OneOf(("A", "B"), right),
        spots,
        Scene(linear, marks),
        False,
        float(max(gap[k], 0.02)),
        why,
    )


def squint_drill(rng: np.random.Generator, level: float, material: Material) -> Trial:
    """Group a picture into few values: place the cuts so that the shapes are told apart best."""
    linear = _needed(material)
    blur = max(linear.shape[:2]) / 160
    smooth = np.stack([ndimage.gaussian_filter(linear[..., c], blur) for c in range(3)], axis=-1)
    values = picture_values(smooth).ravel()
    count = _COUNTS[int(level) - 1]
    best = tuple(float(v) for v in optimal_cuts(histogram(values), count)[count])
    if rng.uniform() < 0.5:
        linear = linear[:, ::-1]  # the same values, seen afresh
    cuts = len(best)
    asked = PlacedCuts(values, cuts, best, 0.25 - 0.03 * (level - 1))
    question = f"Squint: part the picture into {cuts + 1} values. Where are the cuts?"
    return Trial(
        question,
        asked,
        (),
        Scene(linear, ()),
        True,
        level,
        "Good cuts lie in the valleys of the curve, where the picture has little.",
    )


PICTURE_DRILLS = (
    Drill(
        "darker-spot",
        "Darker of two spots",
        "Compare values across a picture.",
        "least difference, value steps",
        darker_spot,
        Range(0.15, 4.0),
        picture=True,
        beginner=1.2,
        steady=0.5,
        questions=16,
    ),
    Drill(
        "cuts",
        "Squint and cut",
        "Group a picture into few values.",
        "excess within the masses, value steps",
        squint_drill,
        picture=True,
        beginner=0.3,
        steady=0.08,
        questions=3,
    ),
)
