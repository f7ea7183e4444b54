"""Plan strings: rows of piles of one family from dark to light, each with a recipe.

Piles stand at even value steps between the darkest and the lightest note of the family, on whole or half values, so
that piles of different families stand level; hue and chroma follow the notes through the values by shape-preserving
interpolation (Fritsch and Carlson 1980). The middle pile is mixed first, since it shows the local colour (common
practice); every other pile may be mixed onward from its neighbour toward the middle.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.munsell import lightness_of_value, value_of_lightness
from ochre_stone.core.mixing.recipe import Recipe, Source, recipes, tint_of
from ochre_stone.core.paint.optics import Surface
from ochre_stone.core.paint.tubes import Tube

VALUE_GRID = 0.5
"""Piles stand on whole and half values, and at least so far apart."""
DARKEST, LIGHTEST = 1.5, 9.5
"""Targets stay where paint can go: satin black reaches about value 1.5, white about 9.6."""
_MERGE = 0.25  # notes closer than this in value are one point of the curve
_FADE = 0.75  # chroma left one value step beyond the notes: highlights and shadows are more neutral (common practice)
_TINTS_PER_STRING = 2
_EFFORT = 24


@dataclass(frozen=True)
class PileTarget:
    """Where a pile should stand: Lab, Munsell value, and whether it was measured or made by a rule."""

    lab: tuple[float, float, float]
    value: float
    origin: str
    """"note" (a note lies within half a step), "between" (interpolated) or "rule" (beyond the notes)."""


@dataclass(frozen=True)
class Pile:
    """One mixed colour of a string."""

    id: str
    target: PileTarget
    recipe: Recipe
    alternatives: tuple[Recipe, ...]
    reachable: bool
    order: int
    """When it is mixed within its string, from 1."""

    def source(self) -> Source:
        """The pile as something to mix onward from."""
        return Source(self.id, f"pile {self.id.rsplit('-', 1)[1]}", self.recipe.shares)


@dataclass(frozen=True)
class MixString:
    """A row of piles, dark to light, and the tint piles that they use."""

    id: str
    name: str
    piles: tuple[Pile, ...]
    tints: tuple[Source, ...]


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


def targets(notes: npt.ArrayLike, weights: npt.ArrayLike, steps: int) -> list[PileTarget]:
    """``steps`` targets (2 to 9), dark to light, along the curve through the notes.

    ``notes``: Lab (n, 3), n >= 1; ``weights`` (n,): importance, above 0. Raises ValueError for other counts.
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
    for goal in levels:
        inside = float(np.clip(goal, v[0], v[-1]))
        ab = np.asarray(path(inside)) if len(v) > 1 else np.array(knots[0][1:])
        beyond = abs(goal - inside)
        ab = ab * _FADE**beyond
        near_note = float(np.abs(value - goal).min()) <= half
        origin = "rule" if beyond > half + 0.05 else "note" if near_note else "between"
        out.append(PileTarget((float(lightness_of_value(goal)), float(ab[0]), float(ab[1])), float(goal), origin))
    return out


def plan_string(
    string_id: str,
    name: str,
    goals: Sequence[PileTarget],
    tubes: Sequence[Tube],
    palette_name: str,
    most: int = 4,
    progress: Callable[[], None] = lambda: None,
    finish: Surface | None = None,
    order: str = "value",
) -> MixString:
    """Recipes for a row of targets, dark to light. ``progress`` is called once per pile and may raise to cancel."""
    white = next((t for t in tubes if t.is_white), None)
    wanted: dict[str, int] = {}
    for goal in goals:
        _, first = recipes(np.array(goal.lab), tubes, most, 1, palette_name=palette_name, effort=_EFFORT,
                           finish=finish, order=order)  # fmt: skip
        for s in first[0].tints:
            wanted[s.id] = wanted.get(s.id, 0) + 1
        progress()
    kept = sorted(wanted, key=lambda i: -wanted[i])[:_TINTS_PER_STRING]
    tints = [t for t in tubes if f"tint-{t.id}" in kept]
    middle = (len(goals) - 1) // 2
    sequence = sorted(range(len(goals)), key=lambda i: (abs(i - middle), -i))
    piles: dict[int, Pile] = {}
    for turn, i in enumerate(sequence, 1):
        inner = i + (1 if i < middle else -1) if i != middle else None
        source = piles[inner].source() if inner is not None else None
        reachable, found = recipes(
            np.array(goals[i].lab),
            tubes,
            most,
            4,
            tints=tints,
            pile=source,
            palette_name=palette_name,
            effort=_EFFORT,
            finish=finish,
            order=order,
        )
        piles[i] = Pile(f"{string_id}-{i + 1}", goals[i], found[0], tuple(found[1:]), reachable, turn)
        progress()
    used = {s.id for p in piles.values() for s in p.recipe.tints}
    sources = tuple(tint_of(t, white) for t in tints if white is not None and f"tint-{t.id}" in used)
    return MixString(string_id, name, tuple(piles[i] for i in range(len(goals))), sources)


def choose_alternative(string: MixString, pile_id: str, recipe: Recipe) -> MixString:
    """The string with another ``recipe`` for a pile; the old one becomes an alternative.

    Raises ValueError where another pile is mixed onward from this one: its colour would change with it.
    """
    if any(i.id == pile_id for p in string.piles for i in p.recipe.ingredients):
        raise ValueError("another pile is mixed onward from this one: change that one first")
    piles = []
    for p in string.piles:
        if p.id == pile_id:
            rest = tuple(a for a in p.alternatives if a.ingredients != recipe.ingredients)
            p = replace(p, recipe=recipe, alternatives=(p.recipe, *rest))
        piles.append(p)
    tints = {t.id: t for p in piles for t in p.recipe.tints}
    return replace(string, piles=tuple(piles), tints=tuple(tints.values()))
