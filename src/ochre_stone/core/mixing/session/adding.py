"""The order of adding: how a pile grows on the palette, what it looks like after each addition, and where to cut it.

Light and weak paint comes first, since little of a strong one moves much of a weak one and never the other way round;
value is set before hue; strong paint goes in by halves of what is left, so that nobody overshoots; before the addition
that moves the colour most, the pile is cut in two, so that the old one is kept (common practice, no source).
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import Array, as_lab
from ochre_stone.core.mixing.recipe.reasons import is_white, white_does
from ochre_stone.core.mixing.recipe.recipe import Ingredient, Recipe
from ochre_stone.core.paint.optics import SATIN, Surface, layer_lab
from ochre_stone.core.paint.tubes import Tube

BY_TOUCH = 1.3
"""Tinting strength (ultramarine is 1) from which a tube goes in by touches; blacks always do. It takes in phthalo,
Prussian and alizarin (common practice, no source)."""
_STRONG_SHARE = 0.25
"""Above this share even a strong paint is no touch."""
_LEAP = 6.0
"""CIEDE2000 of one addition that is worth cutting the pile for."""
Spectra = Callable[[Ingredient], tuple[Array, Array]]


@dataclass(frozen=True)
class Step:
    """One addition."""

    id: str
    name: str
    parts: float
    """Of the recipe's parts."""
    share: float
    """Of the pile as it is then, 0..1."""
    lab: tuple[float, float, float]
    """Colour after it."""
    words: str
    cut: bool = False
    """Whether to cut the pile in two before it."""


def _rank(item: Ingredient, K: Array, S: Array, by_touch: bool) -> tuple[int, float]:
    """Piles at hand first, then the rest by their power to colour; touches of strong paint last."""
    if item.is_pile and not item.is_tint:
        return 0, 0.0
    return 2 if by_touch else 1, max(float(K[4:33].max()), 0.5 * float(S.max()))


def adding(recipe: Recipe, spectra: Spectra, strong: Callable[[str], bool], surface: Surface = SATIN) -> list[Step]:
    """Additions of a recipe in order, each with the colour expected after it.

    ``spectra`` gives K and S (36,) of an ingredient, ``strong`` whether a tube goes in by touches.
    """
    rows = []
    total = sum(i.parts for i in recipe.ingredients)
    for item in recipe.ingredients:
        K, S = spectra(item)
        by_touch = strong(item.id) and item.parts / total < _STRONG_SHARE
        rows.append((_rank(item, K, S, by_touch), item, K, S, by_touch))
    rows.sort(key=lambda r: r[0])
    doses: list[tuple[Ingredient, float, Array, Array, bool, str]] = []
    for place, (_, item, K, S, by_touch) in enumerate(rows):
        if place and (by_touch or item.parts / total < 0.08) and item.parts >= 0.5:
            doses.append((item, item.parts / 2, K, S, True, "half of it, and look"))
            doses.append((item, item.parts / 2, K, S, True, "the rest, bit by bit"))
        else:
            doses.append((item, item.parts, K, S, by_touch, ""))
    k, s, size = np.zeros(36), np.zeros(36), 0.0
    before: Array | None = None
    steps: list[Step] = []
    leaps: list[float] = []
    for item, parts, K, S, _, words in doses:
        k, s, size = k + K * parts, s + S * parts, size + parts
        lab = layer_lab(k / size, s / size, surface)
        leaps.append(0.0 if before is None else float(ciede2000(before, lab)))
        said = words or ("first" if before is None else _does(before, lab, is_white(K, S)))
        steps.append(Step(item.id, item.name, parts, parts / size, as_lab(lab), said))
        before = lab
    # One cut, before the strong paint that moves the pile most: what went in cannot be taken out.
    pushed = [i for i, d in enumerate(doses) if i and d[4] and leaps[i] > _LEAP]
    if pushed:
        at = max(pushed, key=lambda i: leaps[i])
        steps[at] = replace(steps[at], cut=True)
    return steps


def _does(before: Array, after: Array, white: bool) -> str:
    """What an addition does, value first; of white all that it does."""
    if white and after[0] > before[0]:
        return white_does(before, after)
    dL = float(after[0] - before[0])
    c0, c1 = float(np.hypot(*before[1:])), float(np.hypot(*after[1:]))
    if abs(dL) > 4:
        return "sets the value" if abs(dL) > 8 else "lightens" if dL > 0 else "darkens"
    if abs(c1 - c0) > 3:
        return "brings the colour" if c1 > c0 else "dulls"
    return "turns the hue"


def pool(tubes: Sequence[Tube]) -> Callable[[str], bool]:
    """Whether a tube id goes in by touches, for :func:`adding`; tints and piles do not."""
    strong = {t.id for t in tubes if not t.is_white and (t.tinting_strength >= BY_TOUCH or t.is_black)}
    return lambda i: i in strong
