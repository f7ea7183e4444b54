"""Plan strings: rows of piles of one family from dark to light, each with a recipe.

A string runs through its notes (:func:`on_notes`, :func:`between`): a pile on each, steps between where two are farther
apart in value than the painter's step. Or it stands at even value steps between the darkest and the lightest note, on
whole or half values (:func:`targets`), so that piles of different families stand level. Between notes hue and chroma
follow them by shape-preserving interpolation (Fritsch and Carlson 1980). How piles are mixed, from tubes or onward from
one another, is planned for the whole session at once (:mod:`branching`).
"""

import functools
from collections.abc import Callable, Collection, Iterator, Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.munsell import lightness_of_value, value_of_lightness
from ochre_stone.core.colour.spaces import Array, as_lab
from ochre_stone.core.curves import MonotoneCurve
from ochre_stone.core.mixing.recipe.nearness import Nearness, nearness
from ochre_stone.core.mixing.recipe.recipe import NEUTRAL, Recipe, Source, in_a_row
from ochre_stone.core.mixing.strings.kindred import kindred
from ochre_stone.core.mixing.strings.subjects import RULE_BY_ID, Rule, shape, span

VALUE_GRID = 0.5
"""Piles stand on whole and half values, and at least so far apart."""
DARKEST, LIGHTEST = 1.0, 9.5
"""Targets stay where paint can go: black wet or varnished reaches about value 1.2, white about 9.6."""
_MERGE = 0.25  # notes closer than this in value are one point of the curve
TOUCH, STEP = 2.0, 1.5
"""CIEDE2000 within which two notes are one pile (seen only side by side), and the value step that a painter bridges
with the brush (common practice, no source)."""
NO_NEUTRAL = "this palette has no neutral"
_FADE = 0.75  # chroma left one value step beyond the notes: highlights and shadows are more neutral (common practice)


@dataclass(frozen=True)
class PileTarget:
    """Where a pile should stand: Lab, Munsell value, and whether it was measured or made by a rule."""

    lab: tuple[float, float, float]
    value: float
    origin: str
    """"note" (a note stands here), "between" (interpolated) or "rule" (beyond the notes)."""
    rules: tuple[str, ...] = ()
    """Ids of rules of ``subjects`` that moved it."""
    notes: tuple[str, ...] = ()
    """Ids of the notes whose colour it is, the one that it was made for first."""


@dataclass(frozen=True)
class Pile:
    """One mixed colour of a string."""

    id: str
    target: PileTarget
    recipe: Recipe
    alternatives: tuple[Recipe, ...]
    reachable: bool
    order: int
    """When it is mixed in the whole session, from 1."""
    pinned: bool = False
    """The painter chose or mixed it: it stays when the strings are worked out anew."""
    name: str = ""
    """What it is called: by its note."""
    short: str = ""
    """The same where there is little room."""

    @functools.cached_property
    def nearness(self) -> Nearness:
        """How near its mixture comes to what is wanted."""
        return nearness(self.target.lab, self.recipe.lab)


@dataclass(frozen=True)
class MixString:
    """A row of piles, dark to light, and the base piles that they use."""

    id: str
    name: str
    piles: tuple[Pile, ...]
    bases: tuple[Source, ...]
    """Base piles that its recipes use, in the order in which they are wanted."""
    method: str = "nearest"
    """How it is built, a key of methods.METHODS."""
    kit: str = ""
    """The tubes that the method allows, in words."""
    mother: str = ""
    """Id of the tube that goes into every pile, if any."""

    @property
    def kit_words(self) -> str:
        """The tubes that the method allows, and which piles are cleaner without its neutral, by their names."""
        on = [any(i.id.startswith(NEUTRAL) for i in p.recipe.ingredients) for p in self.piles]
        if self.method != "neutral" or all(on) or not self.kit:
            return self.kit
        if not any(on):
            return self.kit if NO_NEUTRAL in self.kit else f"{self.kit}; every pile is cleaner from tubes"
        names = [p.name or p.id for p, goes_on in zip(self.piles, on, strict=True) if not goes_on]
        return f"{self.kit}; {in_a_row(names)} {'is' if len(names) == 1 else 'are'} cleaner from tubes"


def value_steps(low: float, high: float, steps: int) -> list[float]:
    """``steps`` even values that cover ``low`` to ``high``, as far as paint goes: from the half value below to the half
    value above, no farther; at least a half apart."""
    least = min(max(np.floor(low / VALUE_GRID + 1e-9) * VALUE_GRID, DARKEST), LIGHTEST)
    most = min(max(np.ceil(high / VALUE_GRID - 1e-9) * VALUE_GRID, DARKEST), LIGHTEST)
    step = max((most - least) / (steps - 1), VALUE_GRID)
    start = round(((least + most) - step * (steps - 1)) / 2 / VALUE_GRID) * VALUE_GRID if step == VALUE_GRID else least
    start = min(max(start, DARKEST), LIGHTEST - step * (steps - 1))
    return [float(start + step * i) for i in range(steps)]


def targets(
    notes: npt.ArrayLike,
    weights: npt.ArrayLike,
    steps: int,
    subject: str = "",
    lit: Sequence[bool] | None = None,
    active: Collection[str] = ("ends-quiet",),
) -> list[PileTarget]:
    """``steps`` targets (2 to 9), dark to light, along the curve through the notes.

    ``notes``: Lab (n, 3), n >= 1; ``weights`` (n,): importance, above 0; ``lit`` (n,): in the light or not;
    ``active``: ids of the rules of :mod:`subjects` that shape what no note stands for. Raises ValueError for other
    counts.
    """
    lab = np.asarray(notes, dtype=float).reshape(-1, 3)
    weight = np.asarray(weights, dtype=float)
    if not 2 <= steps <= 9:
        raise ValueError(f"{steps} steps: choose 2 to 9")
    if not len(lab):
        raise ValueError("a string needs at least one note")
    value = np.asarray(value_of_lightness(lab[:, 0]))
    v, path = _curve(lab, value, weight)
    levels = value_steps(float(value.min()), float(value.max()), steps)
    out = []
    half = (levels[1] - levels[0]) / 2
    reach = span(value.tolist(), list(lit) if lit is not None else [True] * len(value))
    for goal in levels:
        inside = float(np.clip(goal, v[0], v[-1]))
        ab = path(inside)
        beyond = abs(goal - inside)
        near_note = float(np.abs(value - goal).min()) <= half
        origin = "rule" if beyond > half + 0.05 else "note" if near_note else "between"
        moved: list[Rule] = []
        if beyond and "ends-quiet" in active:
            ab = ab * _FADE**beyond
            moved = [RULE_BY_ID["ends-quiet"]] if origin == "rule" else []
        colour = (float(lightness_of_value(goal)), float(ab[0]), float(ab[1]))
        if origin != "note":
            colour, more = shape(subject, colour, goal, reach, active)
            moved = [*moved, *more]
        elif float(ciede2000(np.array(colour), lab).min()) > TOUCH:
            origin = "between"
        out.append(PileTarget(colour, float(goal), origin, tuple(r.id for r in moved)))
    return out


def curve_through(lab: Array, weight: Array) -> tuple[Array, Callable[[float], Array]]:
    """Of notes Lab (n, 3) with weights (n,): the values of the knots that they make, and (a*, b*) at a value between
    the first and the last of these."""
    return _curve(lab, _values(lab), weight)


def _curve(lab: Array, value: Array, weight: Array) -> tuple[Array, Callable[[float], Array]]:
    """Values of the knots that notes make, and (a*, b*) at a value between the first and the last of them."""
    knots: list[tuple[float, float, float]] = []
    for i in np.argsort(value):
        near = np.abs(value - value[i]) < _MERGE
        if knots and value[i] - knots[-1][0] < _MERGE:
            continue
        w = weight[near] / weight[near].sum()
        knots.append((float(w @ value[near]), float(w @ lab[near, 1]), float(w @ lab[near, 2])))
    v = np.array([k[0] for k in knots])
    if len(v) == 1:
        return v, lambda _: np.array(knots[0][1:])
    path = MonotoneCurve(v, np.array([k[1:] for k in knots]))
    return v, lambda at: np.asarray(path(at))


def on_notes(
    notes: npt.ArrayLike, weights: npt.ArrayLike, ids: Sequence[str], touch: float = TOUCH
) -> list[PileTarget]:
    """A target on each note, dark to light.

    ``notes``: Lab (n, 3), n >= 1; ``weights`` (n,): importance, above 0; ``ids`` (n,). Notes within ``touch`` CIEDE2000
    of a weightier one share its pile. Raises ValueError without a note.
    """
    lab = np.asarray(notes, dtype=float).reshape(-1, 3)
    if not len(lab):
        raise ValueError("a string needs at least one note")
    sharing: dict[int, list[int]] = {}
    for i in np.argsort(-np.asarray(weights, dtype=float), kind="stable").tolist():
        gaps = {k: float(ciede2000(lab[k], lab[i])) for k in sharing}
        near = [k for k, gap in gaps.items() if gap <= touch]
        sharing.setdefault(min(near, key=lambda k: gaps[k], default=i), []).append(i)
    value = _values(lab)
    out = [
        PileTarget(as_lab(lab[k]), round(float(value[k]), 2), "note", (), tuple(ids[i] for i in members))
        for k, members in sharing.items()
    ]
    return sorted(out, key=lambda t: t.lab[0])  # the value is rounded


def between(
    standing: Sequence[PileTarget],
    notes: npt.ArrayLike,
    weights: npt.ArrayLike,
    step: float = STEP,
    one_thing: bool = True,
) -> list[PileTarget]:
    """Where two neighbours of ``standing`` (dark to light) are more than ``step`` apart in value, as few even steps as
    close the gap, on the smooth curve through those of ``notes`` that are like them; widest gap first.

    Neighbours are those that a painter would blend (:func:`kindred.kindred`): what is unlike stands beside them, and
    nothing is set between. Nothing stands beyond the notes.
    """
    lab, weight = np.asarray(notes, dtype=float).reshape(-1, 3), np.asarray(weights, dtype=float)
    out = []
    for dark, light in sorted(_neighbours(standing, one_thing), key=lambda pair: pair[0].value - pair[1].value):
        count = int(np.ceil((light.value - dark.value) / step - 1e-9))
        if count < 2:
            continue
        like = [all(kindred(end.lab, as_lab(c), one_thing) for end in (dark, light)) for c in lab]
        _, path = _curve(lab[like], _values(lab[like]), weight[like])
        for k in range(1, count):
            goal = dark.value + (light.value - dark.value) * k / count
            a, b = path(goal).tolist()
            out.append(PileTarget((float(lightness_of_value(goal)), a, b), round(goal, 2), "between"))
    return out


def _neighbours(standing: Sequence[PileTarget], one_thing: bool) -> Iterator[tuple[PileTarget, PileTarget]]:
    """Pairs of a row, dark to light, of which each is the other's nearest in value that is like it."""
    for k, light in enumerate(standing):
        like = [n for n in range(k) if kindred(standing[n].lab, light.lab, one_thing)]
        if like and not any(kindred(standing[like[-1]].lab, t.lab, one_thing) for t in standing[like[-1] + 1 : k]):
            yield standing[like[-1]], light


def _values(lab: Array) -> Array:
    return np.asarray(value_of_lightness(np.clip(lab[:, 0], 0.0, 100.0)))
