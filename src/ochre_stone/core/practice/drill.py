"""What a drill is: how it asks, how hard it gets, and how an answer is judged."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

import numpy as np

from ochre_stone.core.colour.difference import apart
from ochre_stone.core.colour.relations import lean
from ochre_stone.core.colour.spaces import Array, Lab
from ochre_stone.core.colour.wheel import turn
from ochre_stone.core.masses.thresholds import histogram, within_variance
from ochre_stone.core.paint.optics import USUAL, Surface
from ochre_stone.core.paint.palettes import PALETTES
from ochre_stone.core.paint.tubes import Tube
from ochre_stone.core.paint.usual import PALETTE
from ochre_stone.core.practice.threshold import Range
from ochre_stone.core.practice.trial import Adjust, Match, Number, OneOf, Patch, PlacedCuts, Trial, Verdict


@dataclass(frozen=True, eq=False)
class Material:
    """What questions are made of: a picture in linear light (h, w, 3), and paint."""

    linear: Array | None = None
    tubes: tuple[Tube, ...] = field(default_factory=lambda: PALETTES[PALETTE].tubes)
    surface: Surface = USUAL


Make = Callable[[np.random.Generator, float, Material], Trial]


@dataclass(frozen=True)
class Drill:
    """One exercise."""

    id: str
    name: str
    about: str
    """What it trains, in a line."""
    measure: str
    """What its figure is, in words."""
    make: Make = field(repr=False)
    asks: Range | None = None
    """Of one that asks for differences: which; None for one whose answer is a setting."""
    levels: int = 6
    hue: bool = False
    """Whether it cannot be done without telling hues."""
    picture: bool = False
    """Whether it needs a picture."""
    beginner: float = 0.0
    steady: float = 0.0
    """What its figure typically is for who begins and for a steady eye: judgement, not fact."""
    questions: int = 12
    """Of one round, a minute or two."""


GivenAnswer = int | float | tuple[int, ...] | tuple[float, ...] | tuple[Lab, int]


def judge(trial: Trial, answer: GivenAnswer) -> Verdict:
    """What an answer is worth.

    ``answer``: for one of several its index; for a place its number; for patches that are moved their places; for cuts
    their values; for a match the colour that was mixed and how many additions it took. Raises TypeError for another.
    """
    asked = trial.asked
    if isinstance(asked, OneOf) and isinstance(answer, int):
        return _one_of(trial, asked, answer)
    if isinstance(asked, Number) and isinstance(answer, int | float):
        return _number(trial, asked, float(answer))
    if isinstance(asked, Adjust) and isinstance(answer, tuple):
        return _adjusted(trial, asked, tuple(int(v) for v in answer))  # type: ignore[arg-type]
    if isinstance(asked, PlacedCuts) and isinstance(answer, tuple):
        return _cut(asked, [float(v) for v in answer])  # type: ignore[arg-type]
    if isinstance(asked, Match) and isinstance(answer, tuple) and len(answer) == 2 and isinstance(answer[0], tuple):
        return _matched(asked, answer[0], int(answer[1]))
    raise TypeError(f"{answer!r} is no answer to this")


def _one_of(trial: Trial, asked: OneOf, answer: int) -> Verdict:
    right = answer == asked.right
    words = f"Yes: {asked.words[asked.right]}." if right else f"It is {asked.words[asked.right]}."
    truth = trial.patches
    if asked.patches:
        truth = (Patch(asked.patches[asked.right], "the true one"), Patch(asked.patches[answer], "yours"))
    return Verdict(right, 0.0, words, truth)


_WAYS = {"value": ("too light", "too dark"), "chroma": ("too strong", "too dull")}


def _number(trial: Trial, asked: Number, answer: float) -> Verdict:
    off = answer - asked.right
    if asked.what == "hue":
        off = float(turn(asked.right, answer)) / 30.0
    right = abs(off) <= asked.tolerance + 1e-9
    if asked.what == "hue":
        words = f"{abs(off):.1f} steps of the wheel off"
    else:
        way = _WAYS[asked.what][off < 0]
        words = f"{abs(off):.1f} {way}" if abs(off) >= 0.05 else "just right"
        words += f": it is {asked.right:.1f}"
    return Verdict(right, off, f"{words[0].upper()}{words[1:]}.", trial.patches)


def _adjusted(trial: Trial, asked: Adjust, answer: tuple[int, ...]) -> Verdict:
    places = tuple(min(max(k, 0), len(row) - 1) for k, row in zip(answer, asked.ladders, strict=True))
    off = asked.measure(places)
    right = abs(off) <= asked.tolerance + 1e-9
    unit = f"{abs(off):.2f} value steps off"
    truth = [Patch(row[k], name) for row, k, name in zip(asked.ladders, places, asked.names, strict=True)]
    if len(truth) == 1 and trial.patches:
        truth = [trial.patches[0], Patch(asked.ladders[0][asked.best[0]], "right"), truth[0]]
    if len(truth) == 2 and len(trial.patches) > 1:  # between two parents, what they make side by side
        truth.insert(1, trial.patches[1])
    words = f"Right: {unit}." if right else f"{unit}."
    return Verdict(right, off, words, tuple(truth))


def _cut(asked: PlacedCuts, answer: Sequence[float]) -> Verdict:
    """By the part of what good cuts leave unsaid: root mean square of value within the masses, over the best."""
    counts = histogram(asked.values)
    cuts = np.sort(np.asarray(answer, dtype=float))
    best = within_variance(counts, np.asarray(asked.best))
    mine = within_variance(counts, cuts)
    off = math.sqrt(max(mine, 0.0)) - math.sqrt(max(best, 0.0))
    right = off <= asked.tolerance
    said = ", ".join(f"{v:.1f}" for v in asked.best)
    return Verdict(right, off, f"Yours leave {off:.2f} of a value step more within the masses than cuts at {said}.")


def _matched(asked: Match, lab: Lab, additions: int) -> Verdict:
    off = apart(lab, asked.target)
    near = f"{off:.1f} off in {additions} addition{'s' * (additions != 1)}"
    own = f"the program: {asked.own_off:.1f} off in {len(asked.own_way)}"
    words = f"{near}; {own}."
    if off > asked.within:
        words += f" It should be {lean(asked.target, lab)}."
    truth = (Patch(asked.target, "target"), Patch(lab, "yours"))
    return Verdict(off <= asked.within and additions <= max(2 * len(asked.own_way), 3), off, words, truth)
