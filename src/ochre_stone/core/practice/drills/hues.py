"""Drills of hue and chroma, of warm and cool, of which way a pile is off, and of what neighbours do."""

import numpy as np

from ochre_stone.core.colour.contrast import seen_against
from ochre_stone.core.colour.difference import apart
from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.relations import hue_phrase, warmth
from ochre_stone.core.practice.colours import any_colour, drill_colour, grey, moved_by, strongest
from ochre_stone.core.practice.drill import Drill, Material
from ochre_stone.core.practice.threshold import Range
from ochre_stone.core.practice.trial import Number, OneOf, Patch, Trial

_HUE = (1.5, 1.2, 1.0, 0.75, 0.5, 0.4)
_CHROMA = (4.0, 3.0, 2.5, 2.0, 1.5, 1.0)
_SHARE = (1.0, 0.8, 0.6, 0.45, 0.3, 0.2)
"""Of the strongest chroma, by level: the duller, the harder its hue."""
_OFF = {
    "more red": (0.0, 1.0, 0.35), "more yellow": (0.0, -0.1, 1.0), "more blue": (0.0, -0.1, -1.0),
    "lighter": (1.0, 0.0, 0.0), "darker": (-1.0, 0.0, 0.0),
}  # fmt: skip


def hue(rng: np.random.Generator, level: float, _: Material) -> Trial:
    """A colour: its place on the traditional wheel."""
    share = _SHARE[int(level) - 1]
    while True:
        lab = any_colour(rng, 3.0, 8.2, share)
        if read(lab).chroma > 1.2:
            break
    asked = Number("hue", round(read(lab).hue_angle, 1), 0.0, 360.0, 5.0, _HUE[int(level) - 1])
    return Trial(
        "Where on the wheel is its hue?", asked, (Patch(lab),), None, False, level, f"It is {hue_phrase(lab)}."
    )


def chroma(rng: np.random.Generator, level: float, _: Material) -> Trial:
    """A colour: how strong it is."""
    lab = any_colour(rng, 3.0, 8.2, float(rng.uniform(0.08, 1.0)))
    asked = Number("chroma", round(read(lab).chroma, 1), 0.0, 20.0, 0.5, _CHROMA[int(level) - 1])
    return Trial(
        "How strong is it, in steps of chroma?",
        asked,
        (Patch(lab),),
        None,
        False,
        level,
        "Look for the grey of its value: how far is it from that?",
    )


def which_way(rng: np.random.Generator, level: float, _: Material) -> Trial:
    """Two colours touching: what the lower one needs to become the upper; ``level`` in CIEDE2000."""
    while True:
        target = any_colour(rng, 3.2, 7.8, float(rng.uniform(0.25, 0.7)))
        a, b = target[1], target[2]
        ways = {**_OFF, "stronger": (0.0, a, b), "duller": (0.0, -a, -b)}
        words = list(ways)
        right = int(rng.integers(len(words)))
        pile = moved_by(target, level, tuple(-v for v in ways[words[right]]))  # type: ignore[arg-type]
        near = [float(np.dot(_unit(ways[w]), _unit(ways[words[right]]))) for w in words if w != words[right]]
        if max(near) < 0.8 and abs(apart(target, pile) - level) < 0.3 * level:
            break
    patches = (Patch(target, "target"), Patch(pile, "your pile"))
    return Trial(
        "What does your pile need?",
        OneOf(tuple(words), right),
        patches,
        None,
        False,
        level,
        "Value first: if it is not that, look which primary is lacking.",
    )


def _unit(way: tuple[float, float, float]) -> tuple[float, ...]:
    size = float(np.linalg.norm(way)) or 1.0
    return tuple(v / size for v in way)


def warmer_drill(rng: np.random.Generator, level: float, _: Material) -> Trial:
    """Two near greys of one value: which is warmer; ``level``: how far apart, in CIEDE2000."""
    value, side = float(rng.uniform(3.5, 7.5)), int(rng.integers(2))
    base = drill_colour(value, float(rng.uniform(0, 360)), float(rng.uniform(2, 14)))
    warm, cool = moved_by(base, level / 2, (0.0, 0.75, 0.66)), moved_by(base, level / 2, (0.0, -0.6, -0.8))
    if warmth(warm) < warmth(cool):
        warm, cool = cool, warm
    pair = (warm, cool) if side == 0 else (cool, warm)
    patches = tuple(Patch(lab, name) for lab, name in zip(pair, "AB", strict=True))
    return Trial(
        "Which of the two is warmer?",
        OneOf(("A", "B"), side),
        patches,
        None,
        False,
        level,
        "Warm is toward orange, cool toward blue: of two greys that touch one leans each way.",
    )


def same_or_not(rng: np.random.Generator, level: float, _: Material) -> Trial:
    """Two colours on different grounds: the same or not; ``level``: how far apart where not, in CIEDE2000."""
    value = float(rng.uniform(4.0, 7.0))
    lab = drill_colour(value, float(rng.uniform(0, 360)), float(rng.uniform(0, 18)))
    light, dark = grey(min(value + 2.6, 9.6)), grey(max(value - 2.6, 0.8))
    strong = drill_colour(value, float(rng.uniform(0, 360)), 0.7 * strongest(value, 40))
    grounds = [(light, dark), (dark, light), (strong, grey(value)), (light, strong)][int(rng.integers(4))]
    same = int(rng.integers(2))
    lighter = rng.uniform() < 0.5
    other = lab if same == 0 else moved_by(lab, level, (1.0 if lighter else -1.0, 0.0, 0.0))
    patches = (Patch(lab, "A", grounds[0]), Patch(other, "B", grounds[1]))
    seems = seen_against(lab, grounds[0]).words()
    return Trial(
        "Are the two spots the same?",
        OneOf(("the same", "not the same"), same),
        patches,
        None,
        False,
        level,
        f"On its ground A {seems}",
    )


HUE_DRILLS = (
    Drill(
        "hue",
        "Hue and its lean",
        "Find a hue on the wheel.",
        "mean error, steps of the wheel",
        hue,
        hue=True,
        beginner=1.3,
        steady=0.5,
    ),
    Drill(
        "chroma",
        "Chroma",
        "Say how strong a colour is.",
        "mean error, steps of chroma",
        chroma,
        hue=True,
        beginner=4.0,
        steady=1.5,
    ),
    Drill(
        "which-way",
        "Which way is it off?",
        "Tell what a pile needs.",
        "least difference, CIEDE2000",
        which_way,
        Range(1.0, 25.0, 7),
        hue=True,
        beginner=10.0,
        steady=3.0,
        questions=16,
    ),
    Drill(
        "warmer",
        "Warmer or cooler",
        "Tell the warmer of two near greys.",
        "least difference, CIEDE2000",
        warmer_drill,
        Range(0.5, 15.0),
        hue=True,
        beginner=5.0,
        steady=1.5,
        questions=20,
    ),
    Drill(
        "contrast",
        "The same or not",
        "See a spot in spite of what lies around it.",
        "least difference, CIEDE2000",
        same_or_not,
        Range(1.0, 30.0),
        beginner=9.0,
        steady=4.0,
        questions=20,
    ),
)
