"""Drills of value: named beside a scale and without, of strong hues; equal values; a scale in even steps."""

import numpy as np

from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.practice.colours import any_colour, drill_colour, grey, strongest
from ochre_stone.core.practice.drill import Drill, Material
from ochre_stone.core.practice.steps import stepped_level
from ochre_stone.core.practice.threshold import Range
from ochre_stone.core.practice.trial import Adjust, Number, OneOf, Patch, Trial

_STRENGTH = (0.0, 0.15, 0.3, 0.5, 0.75, 1.0, 1.0)
_TOLERANCE = (1.0, 0.8, 0.65, 0.5, 0.4, 0.3, 0.3)
"""Of a named value, by level: a whole step at first, a third of one at the end."""


def true_value(lab: Lab) -> float:
    """Munsell value of a colour."""
    return float(value_of_lightness(lab[0]))


def _named(rng: np.random.Generator, level: float, strength: float, scale: bool) -> Trial:
    lab = any_colour(rng, 1.2, 9.4, strength)
    tolerance = _TOLERANCE[int(level) - 1]
    asked = Number("value", round(true_value(lab), 2), 0.0, 10.0, 0.1, tolerance)
    where = "Look at the scale: which value is it?" if scale else "Which value is it?"
    why = "Squint, and let the colour go: what is left is its value." if strength > 0.4 else ""
    return Trial(where, asked, (Patch(lab),), None, scale, level, why)


def beside_a_scale(rng: np.random.Generator, level: float, _: Material) -> Trial:
    """A colour, the scale beside it."""
    return _named(rng, level, _STRENGTH[int(level) - 1] * 0.5, True)


def without_a_scale(rng: np.random.Generator, level: float, _: Material) -> Trial:
    """A colour, and no scale."""
    return _named(rng, level, _STRENGTH[int(level) - 1] * 0.5, False)


def strong_hues(rng: np.random.Generator, level: float, _: Material) -> Trial:
    """A strong hue: what shines seems lighter than it is."""
    return _named(rng, level, 0.6 + 0.4 * (level - 1) / 5, False)


def lighter_of_two(rng: np.random.Generator, level: float, _: Material) -> Trial:
    """Two strong hues, touching; ``level``: the difference in value steps."""
    middle = float(rng.uniform(3.2, 7.2))
    hues = rng.uniform(0, 360), 0.0
    hues = hues[0], hues[0] + float(rng.uniform(90, 270))
    side = int(rng.integers(2))
    values = (middle + level / 2, middle - level / 2) if side == 0 else (middle - level / 2, middle + level / 2)
    pair = [drill_colour(v, h % 360, 0.8 * strongest(v, h % 360)) for v, h in zip(values, hues, strict=True)]
    patches = tuple(Patch(lab, name) for lab, name in zip(pair, "AB", strict=True))
    why = "Warm and strong seems lighter than it is, blue and violet darker: squint until the border tells."
    return Trial("Which of the two is lighter?", OneOf(("A", "B"), side), patches, None, False, level, why)


def equal_value(rng: np.random.Generator, level: float, material: Material) -> Trial:
    """A colour, and a tube's paint that is brought to its value with white or with black, a touch at a time."""
    white = next(t for t in material.tubes if t.is_white)
    blacks = [t for t in material.tubes if t.is_black]
    coloured = [t for t in material.tubes if not t.is_white and not t.is_black]
    t = coloured[int(rng.integers(len(coloured)))]
    goal = any_colour(rng, 2.5, 8.5, 0.1 + 0.14 * level)
    row, start = stepped_level(t, white, blacks[0] if blacks else None, material.surface)
    values = np.array([true_value(lab) for lab in row])
    best = int(np.argmin(np.abs(values - true_value(goal))))

    def off(at: tuple[int, ...]) -> float:
        return float(values[at[0]] - true_value(goal))

    least = abs(off((best,)))
    asked = Adjust(
        (row,),
        (start,),
        (t.short,),
        ("a touch of white", "a touch of black"),
        off,
        (best,),
        max(_TOLERANCE[int(level) - 1] * 0.7, least + 0.1),
    )
    question = f"Bring the {t.short} to the value of the other: white or black, a touch at a time."
    return Trial(
        question,
        asked,
        (Patch(goal, "this value"),),
        None,
        False,
        level,
        "Where the border between the two all but vanishes, the values are equal.",
    )


_TEN = 10


def grey_scale(rng: np.random.Generator, level: float, _: Material) -> Trial:
    """A scale of ten greys, its ends given: the eight between are moved until the steps are even."""
    row = tuple(grey(v) for v in np.round(np.arange(0.6, 9.81, 0.1), 2))
    values = np.array([true_value(lab) for lab in row])
    low, high = 0, len(row) - 1
    best = tuple(int(v) for v in np.round(np.linspace(low, high, _TEN))[1:-1])
    start = tuple(sorted(int(np.clip(b + rng.integers(-9, 10), low + 1, high - 1)) for b in best))

    def off(at: tuple[int, ...]) -> float:
        """Root mean square of how far the steps are off an even one, in value steps."""
        steps = np.diff(values[[low, *at, high]])
        return float(np.sqrt(((steps - steps.mean()) ** 2).mean()))

    names = tuple(str(k) for k in range(2, _TEN))
    asked = Adjust((row,) * (_TEN - 2), start, names, ("lighter", "darker"), off, best, 0.5 - 0.06 * (level - 1))
    ends = (Patch(row[low], "1"), Patch(row[high], "10"))
    why = "The step from black looks small, the step to white large: halve the range first, then the halves."
    return Trial("Make the ten greys rise in even steps.", asked, ends, None, False, level, why)


VALUE_DRILLS = (
    Drill("value-scale", "Value beside a scale", "Name a value with the scale in sight.", "mean error, value steps",
          beside_a_scale, beginner=0.6, steady=0.2),
    Drill("value", "Value without a scale", "Name a value from memory of the scale.", "mean error, value steps",
          without_a_scale, beginner=1.0, steady=0.4),
    Drill("value-hue", "Value of strong hues", "Name the value of a colour that shines.", "mean error, value steps",
          strong_hues, beginner=1.3, steady=0.5),
    Drill("lighter", "Lighter of two hues", "Tell which is lighter where the hues differ.",
          "least difference, value steps", lighter_of_two, Range(0.1, 3.0), beginner=1.2, steady=0.4, questions=20),
    Drill("equal-value", "Equal values", "Bring a paint to the value of another colour.", "mean error, value steps",
          equal_value, beginner=0.8, steady=0.25, questions=6),
    Drill("grey-scale", "A scale of ten", "Set ten greys in even steps.", "unevenness, value steps",
          grey_scale, beginner=0.35, steady=0.12, questions=3),
)  # fmt: skip
