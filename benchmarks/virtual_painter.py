"""A simulated painter corrects piles with tubes that are not what their data say, beside one who goes by rules of
thumb.

Tubes: strength off by a log-normal of sigma .25, scattering of .1, the place of the absorption by 4 nm; readings
off by a CIEDE2000 of .3 (a normal error on L*, a*, b*). Targets: the notes of the demo and a chart of 24 patches,
those in reach of each palette with its data as they are and with the tubes as they really are. Both painters begin
from one recipe. Ours adds at most two things at a time, as the program says; one such addition is a correction. The
other adds one tube at a time: the one that leads nearest to where the eye sees the pile should go, a touch that is
halved where the way turns back. Either stops when the reading says that the pile matches, and is judged by its true
colour.

python -m benchmarks.virtual_painter
"""

import json
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.mixing.correcting.belief import Belief, Reading, departed
from ochre_stone.core.mixing.correcting.correct import (
    HOME,
    Handling,
    correct,
    nearest_mixture,
    start_again,
)
from ochre_stone.core.mixing.recipe.recipe import Recipe
from ochre_stone.core.paint.optics import SATIN, layer_lab
from ochre_stone.core.paint.palettes import PALETTES, Palette
from ochre_stone.core.project.files import open_project
from ochre_stone.resources import resource
from tests.helpers import find_recipes

STRENGTH, SCATTER, HUE_NM, NOISE = 0.25, 0.1, 4.0, 0.3
_STOP = HOME - 0.4  # the reading itself is off: whoever stops at 2 exactly is wrong half of the time
_MOST = 60
TWELVE = (
    "titanium-white", "yellow-ochre", "cadmium-yellow-medium", "cadmium-red-light", "alizarin-crimson",
    "quinacridone-rose", "burnt-sienna", "raw-umber", "ultramarine-blue", "phthalo-blue-green-shade", "viridian",
    "ivory-black",
)  # fmt: skip


@dataclass(frozen=True)
class Outcome:
    """One pile brought to its target."""

    corrections: int
    off: float
    """True CIEDE2000 at the end."""
    size: float
    """Of the pile at the end, over its planned size."""
    used: float
    """All paint that went into it, begun anew or not, over its planned size."""


def goals() -> list[tuple[float, float, float]]:
    """Colours of the demo's notes and of the chart."""
    notes = [n.lab for n in open_project(resource("demo", "orchard-keeper.ochre")).document.notes]
    chart = json.loads(resource("colour", "chart24.json").read_text(encoding="utf-8"))
    return [*notes, *(tuple(p["lab"]) for p in chart["patches"])]


class Truth:
    """The tubes as they really are."""

    def __init__(self, palette: Palette, rng: np.random.Generator, strength: float = STRENGTH) -> None:
        n = len(palette.tubes)
        figures = np.column_stack([rng.normal(0, strength, n), rng.normal(0, SCATTER, n), rng.normal(0, HUE_NM, n)])
        self.K, self.S = departed(palette.tubes, figures)
        self.at = {t.id: i for i, t in enumerate(palette.tubes)}
        self.rng = rng

    def lab(self, pile: dict[str, float]) -> np.ndarray:
        c = np.zeros(len(self.K))
        for i, v in pile.items():
            c[self.at[i]] += v
        c /= c.sum()
        return layer_lab(c @ self.K, c @ self.S)

    def read(self, pile: dict[str, float]) -> np.ndarray:
        return self.lab(pile) + self.rng.normal(0, NOISE / np.sqrt(3), 3)


def parts_of(recipe: Recipe) -> dict[str, float]:
    """A recipe as volumes of its tubes, 1 in all."""
    return dict(recipe.shares)


def ours(palette: Palette, start: dict[str, float], goal: np.ndarray, truth: Truth, belief: Belief,
         hand: float = 0.0) -> tuple[Outcome, Belief]:  # fmt: skip
    """The painter who does what the program says."""

    def dosed(v: float) -> float:
        return v * float(np.exp(truth.rng.normal(0, hand))) if hand else v

    pile = {i: dosed(v) for i, v in start.items()}
    told = dict(start)
    size, used, count = sum(pile.values()), sum(pile.values()), 0
    while True:
        seen = truth.read(pile)
        belief = belief.learn(Reading(tuple(told.items()), tuple(seen), NOISE))
        if ciede2000(seen, goal) <= _STOP or count >= _MOST:
            break
        # Fine amounts go in from a tint pile; a hundredth of the pile is what a hand can measure so.
        c = correct(belief, tuple(told.items()), goal, seen=seen, handling=Handling(planned=1.0, dose=0.01))
        count += 1
        if c.verdict == "again":
            again = start_again(belief, goal)
            pile, told = {i: dosed(v) for i, v in again.items()}, dict(again)
            used += sum(pile.values())
            size = sum(pile.values())
            continue
        if c.verdict == "cut":
            pile = {i: v * c.keep for i, v in pile.items()}
            told = {i: v * c.keep for i, v in told.items()}
        if not c.additions:
            break
        for i, v in c.additions:
            v *= c.keep
            told[i] = told.get(i, 0.0) + v
            v = dosed(v)
            pile[i] = pile.get(i, 0.0) + v
            used += v
        size = sum(pile.values())
    return Outcome(count, float(ciede2000(truth.lab(pile), goal)), size, used), belief


def by_rule(palette: Palette, start: dict[str, float], goal: np.ndarray, truth: Truth) -> Outcome:
    """The painter who adds a touch of one tube at a time: the one whose own colour lies farthest along the way that
    the pile has to go. A touch is a fiftieth of the pile for a weak tube, less for a strong one; after a turn of the
    way it is halved."""
    mass = np.array([t.lab for t in palette.tubes])
    power = np.array([max(1.0, t.tinting_strength) for t in palette.tubes])
    pile, count, touch, before = dict(start), 0, 0.04, None
    while count < _MOST:
        seen = truth.read(pile)
        if ciede2000(seen, goal) <= _STOP:
            break
        way = (goal - seen) * np.array([2.0, 1.0, 1.0])
        to = (mass - seen) * np.array([2.0, 1.0, 1.0])
        along = to @ way / (np.linalg.norm(to, axis=1) * np.linalg.norm(way) + 1e-9)
        i = int(np.argmax(along))
        if before is not None and float(before @ way) < 0:
            touch = max(touch / 2, 0.005)
        before = way
        name = palette.tubes[i].id
        pile[name] = pile.get(name, 0.0) + touch * sum(pile.values()) / power[i]
        count += 1
    size = sum(pile.values())
    return Outcome(count, float(ciede2000(truth.lab(pile), goal)), size, size)


def palettes() -> list[Palette]:
    return [
        PALETTES["four-tube-earth"], PALETTES["double-primaries"], PALETTES["landscape-greens"],
        PALETTES["portrait-ten"], Palette("twelve", "Twelve", "", TWELVE),
    ]  # fmt: skip


def run(palette: Palette, series: int, seed: int = 7, hand: float = 0.0) -> tuple[list[Outcome], list[Outcome]]:
    """``series`` sessions: each with other tubes, through every target in reach in a random order; ours and by rule.
    A session of one pile each is had with a ``series`` below 1: every target then meets tubes not seen before."""
    rng = np.random.default_rng(seed)
    known = []
    for lab in goals():
        reachable, found = find_recipes(np.array(lab), palette.tubes, 4, 1, effort=24)
        if reachable:
            known.append((np.array(lab), parts_of(found[0])))
    mine: list[Outcome] = []
    theirs: list[Outcome] = []
    for _ in range(max(series, 1)):
        truth, belief = Truth(palette, rng), Belief.prior(palette.tubes)
        for k in rng.permutation(len(known)):
            goal, start = known[k]
            if series < 1:
                truth, belief = Truth(palette, rng), Belief.prior(palette.tubes)
            if not possible(truth, goal):
                continue
            if belief.readings:
                start = start_again(belief, goal)
            outcome, belief = ours(palette, start, goal, truth, belief, hand)
            mine.append(outcome)
            theirs.append(by_rule(palette, known[k][1], goal, truth))
    return mine, theirs


def possible(truth: Truth, goal: np.ndarray) -> bool:
    """Whether the tubes as they really are reach the goal at all, by a search of their own."""
    return nearest_mixture(truth.K, truth.S, goal, SATIN)[0] <= HOME - 0.5


def told(outcomes: Sequence[Outcome]) -> str:
    n = np.array([o.corrections for o in outcomes])
    off = np.array([o.off for o in outcomes])
    size, used = (np.array([getattr(o, f) for o in outcomes]) for f in ("size", "used"))
    return (
        f"{np.median(n):4.0f} {np.percentile(n, 95):5.0f} {n.max():4d} {(off <= HOME).mean():8.0%}"
        f" {np.median(size):6.2f} {np.percentile(size, 95):6.2f} {np.median(used):6.2f}"
    )


def main() -> None:
    print("                                     corrections            within  size of the pile  paint")
    print("palette             piles  painter  median  95 %  most  of 2    median   95 %   used")
    for palette in palettes():
        for name, series, hand in (("each new", 0, 0.0), ("session", 2, 0.0), ("unsteady", 2, 0.05)):
            mine, theirs = run(palette, series, hand=hand)
            print(f"{palette.id[:18]:18s} {len(mine):4d}  {name:9s} ours    {told(mine)}", flush=True)
            print(f"{'':18s} {'':4s}  {'':9s} by rule {told(theirs)}", flush=True)


if __name__ == "__main__":
    main()
