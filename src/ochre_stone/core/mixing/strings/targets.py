"""Plan strings: rows of piles of one family from dark to light, each with a recipe.

Piles stand at even value steps between the darkest and the lightest note of the family, on whole or half values, so
that piles of different families stand level; hue and chroma follow the notes through the values by shape-preserving
interpolation (Fritsch and Carlson 1980). How they are mixed, from tubes or onward from one another, is planned for the
whole session at once (:mod:`branching`).
"""

from collections.abc import Collection, Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.munsell import lightness_of_value, value_of_lightness
from ochre_stone.core.mixing.recipe.recipe import Recipe, Source
from ochre_stone.core.mixing.strings.subjects import BY_ID, Rule, shape, span

VALUE_GRID = 0.5
"""Piles stand on whole and half values, and at least so far apart."""
DARKEST, LIGHTEST = 1.5, 9.5
"""Targets stay where paint can go: satin black reaches about value 1.5, white about 9.6."""
_MERGE = 0.25  # notes closer than this in value are one point of the curve
_FADE = 0.75  # chroma left one value step beyond the notes: highlights and shadows are more neutral (common practice)


@dataclass(frozen=True)
class PileTarget:
    """Where a pile should stand: Lab, Munsell value, and whether it was measured or made by a rule."""

    lab: tuple[float, float, float]
    value: float
    origin: str
    """"note" (a note lies within half a step), "between" (interpolated) or "rule" (beyond the notes)."""
    rules: tuple[str, ...] = ()
    """Ids of rules of ``subjects`` that moved it."""


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


@dataclass(frozen=True)
class MixString:
    """A row of piles, dark to light, and the tint piles that they use."""

    id: str
    name: str
    piles: tuple[Pile, ...]
    tints: tuple[Source, ...]
    method: str = "nearest"
    """How it is built, a key of methods.METHODS."""
    kit: str = ""
    """The tubes that the method allows, in words."""


def value_steps(low: float, high: float, steps: int) -> list[float]:
    """``steps`` values that cover ``low`` to ``high`` evenly, on whole values where the step is whole, else on
    halves."""
    step = max(VALUE_GRID, round((high - low) / (steps - 1) / VALUE_GRID) * VALUE_GRID)
    step = min(step, np.floor((LIGHTEST - DARKEST) / (steps - 1) / VALUE_GRID) * VALUE_GRID)
    grid = 1.0 if step == 1.0 else VALUE_GRID
    start = round(((low + high) / 2 - step * (steps - 1) / 2) / grid) * grid
    least = DARKEST if grid < 1 else np.ceil(DARKEST)
    start = min(max(start, least), LIGHTEST - step * (steps - 1))
    return [float(start + step * i) for i in range(steps)]


def targets(
    notes: npt.ArrayLike, weights: npt.ArrayLike, steps: int, subject: str = "", lit: Sequence[bool] | None = None,
    active: Collection[str] = ("ends-quiet",),
) -> list[PileTarget]:  # fmt: skip
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
    knots: list[tuple[float, float, float]] = []
    for i in np.argsort(value):
        near = np.abs(value - value[i]) < _MERGE
        if knots and value[i] - knots[-1][0] < _MERGE:
            continue
        w = weight[near] / weight[near].sum()
        knots.append((float(w @ value[near]), float(w @ lab[near, 1]), float(w @ lab[near, 2])))
    v = np.array([k[0] for k in knots])
    levels = value_steps(float(value.min()), float(value.max()), steps)
    if len(v) > 1:
        from scipy.interpolate import PchipInterpolator  # half a second: not before strings are wanted

        path = PchipInterpolator(v, np.array([k[1:] for k in knots]))
    out = []
    half = (levels[1] - levels[0]) / 2
    reach = span(value.tolist(), list(lit) if lit is not None else [True] * len(value))
    for goal in levels:
        inside = float(np.clip(goal, v[0], v[-1]))
        ab = np.asarray(path(inside)) if len(v) > 1 else np.array(knots[0][1:])
        beyond = abs(goal - inside)
        near_note = float(np.abs(value - goal).min()) <= half
        origin = "rule" if beyond > half + 0.05 else "note" if near_note else "between"
        moved: list[Rule] = []
        if beyond and "ends-quiet" in active:
            ab = ab * _FADE**beyond
            moved = [BY_ID["ends-quiet"]] if origin == "rule" else []
        colour = (float(lightness_of_value(goal)), float(ab[0]), float(ab[1]))
        if origin != "note":
            colour, more = shape(subject, colour, goal, reach, active)
            moved = [*moved, *more]
        out.append(PileTarget(colour, float(goal), origin, tuple(r.id for r in moved)))
    return out
