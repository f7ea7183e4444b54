"""The order of adding: how a pile grows on the palette, what it looks like after each addition, and where to cut it.

Light and weak paint comes first, since little of a strong one moves much of a weak one and never the other way round;
value is set before hue; strong paint goes in by halves of what is left, so that nobody overshoots; before the addition
that moves the colour most, the pile is cut in two, so that the old one is kept: what is added then is for the half on
the knife, half of each dose, and the same goes into the half kept before both are put together (common practice, no
source). Whoever does each step to the letter ends at the recipe.
"""

import itertools
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from ochre_stone.core.advice.did import verbs, white_did
from ochre_stone.core.advice.frame import is_white
from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import Array, Lab, as_lab
from ochre_stone.core.mixing.recipe.hand import USUAL_HAND, Hand
from ochre_stone.core.mixing.recipe.recipe import BODY, Ingredient, Recipe, Source, in_a_row
from ochre_stone.core.paint.optics import USUAL, Surface, layer_lab
from ochre_stone.core.paint.tubes import Tube, strength_of

BY_TOUCH = 1.3
"""Tinting strength (ultramarine is 1) from which a tube goes in by touches; blacks always do. It takes in phthalo,
Prussian and alizarin (common practice, no source)."""
_STRONG_SHARE = 0.25
"""Above this share even a strong paint is no touch."""
_LEAP = 6.0
"""CIEDE2000 of one addition that is worth cutting the pile for."""
_SEEN = 8.0
"""L* from which an addition sets the value."""
CUT = "cut the pile in two, keep one half as it is"
Spectra = Callable[[Ingredient], tuple[Array, Array]]


@dataclass(frozen=True)
class Step:
    """One thing that the hand does."""

    act: Literal["make", "add", "cut", "join"]
    """Make a base pile of ``doses``; add ``doses``; cut the pile in two, one half of which is kept as it is; add
    ``doses`` to the half that was kept, and put both halves together."""
    doses: tuple[Ingredient, ...]
    share: float
    """Of what was added in the pile as it is then, 0..1."""
    lab: tuple[float, float, float]
    """Colour after it, of what is on the knife."""
    words: str
    half: bool = False
    """Whether it is done to the half on the knife."""
    makes: str = ""
    """Id of the base pile that is made."""
    name: str = ""
    """Its name."""

    @property
    def said(self) -> str:
        """What to do, in words: "4 white", "half a touch of black into the half"."""
        if self.act == "cut":
            return CUT
        doses = ", ".join(d.said for d in self.doses)
        if self.act == "join":
            return f"{doses} into the half kept; join both"
        return f"{doses} into the half" if self.half else doses

    @property
    def told(self) -> str:
        """The same where it stands alone: "make the ochre tint: 10 white, 1 ochre"."""
        return f"make the {self.name}: {self.said}" if self.act == "make" else self.said


def _rank(item: Ingredient, share: float, K: Array, S: Array, by_touch: bool, mother: str) -> tuple[int, float]:
    """Piles at hand first, then the body of white, then tints, then the rest by their tinting strength; touches of
    strong paint last. A mother colour comes after the body: all that follows is then seen with it in."""
    strength = float(strength_of(K, S))
    if item.is_pile and not item.is_tint:
        return 0, 0.0
    if item.id == mother:
        return 2, 0.0
    if is_white(K, S) and share >= BODY and not item.is_tint:
        return 1, 0.0
    return (4, strength) if by_touch else (2, strength) if item.is_tint else (3, strength)


@dataclass(frozen=True)
class _Added:
    """A dose to come."""

    dose: Ingredient
    K: Array
    S: Array
    by_touch: bool
    words: str = ""


def adding(
    recipe: Recipe,
    spectra: Spectra,
    strong: Callable[[str], bool],
    surface: Surface = USUAL,
    ml: float = 0.0,
    hand: Hand = USUAL_HAND,
    mother: str = "",
) -> list[Step]:
    """What is done for a recipe in order, each step with the colour expected after it.

    ``spectra`` gives K and S (36,) of an ingredient, ``strong`` whether a tube goes in by touches; ``ml``: size of the
    pile, by default the least in which it can be dosed; ``mother``: id of a tube that goes into everything.
    """
    total = sum(i.parts for i in recipe.ingredients)
    whole = max(ml, float(hand.enough(np.array([i.parts for i in recipe.ingredients]))))
    least = hand.least_ml * total / whole
    doses = _doses(recipe, spectra, strong, mother, least)
    colours = _colours(doses, surface)
    at = _cut_at(doses, colours, least)
    said: set[str] = set()
    setter = _sets_the_value(colours)
    steps: list[Step] = []
    size = 0.0
    for k, (d, lab) in enumerate(zip(doses, colours, strict=True)):
        half = at is not None and k >= at
        if k == at:
            steps.append(Step("cut", (), 0.0, steps[-1].lab, CUT))
        size += d.dose.parts
        if k == 0:
            words = _begin(recipe.ingredients[0])
        else:
            words = d.words or _does(colours[k - 1], lab, is_white(d.K, d.S), k == setter, said)
        if k and _goes_on(recipe.ingredients[0]) and not d.words and lab[0] > colours[k - 1][0] + 0.5:
            words = f"onto its edge, the old one left beside it: {words}"
        if d.dose.parts < least * (1 - 1e-6):
            words = f"less than the tip of a knife, as little as can be seen: {words}"
        if d.dose.id == mother:
            words = f"the mother colour: {words}"
        dose = _halved(d.dose) if half else d.dose
        steps.append(Step("add", (dose,), d.dose.parts / size, as_lab(lab), words, half))
    if at is not None:
        again: dict[str, Ingredient] = {}
        for d in doses[at:]:
            more = _halved(d.dose)
            before = again.get(more.id)
            again[more.id] = more if before is None else replace(more, parts=before.parts + more.parts)
        words = "where the half is right"
        steps.append(Step("join", tuple(again.values()), 0.0, as_lab(colours[-1]), words))
    return steps


def _goes_on(item: Ingredient) -> bool:
    return item.is_pile and not item.is_base


def _begin(item: Ingredient) -> str:
    """What is said of the first dose."""
    return "first: cut it off, the rest stays as it is" if _goes_on(item) else "first"


def making(base: Source, short: Callable[[str], str], lab: Lab, words: str) -> Step:
    """A base pile as a step; ``short``: the short name of a tube by its id."""
    doses = tuple(Ingredient(i, short(i), parts) for i, parts in base.parts)
    return Step("make", doses, 0.0, lab, f"{base.name}: {words}", False, base.id, base.name)


def _halved(d: Ingredient) -> Ingredient:
    return replace(d, parts=d.parts / 2)


def _doses(recipe: Recipe, spectra: Spectra, strong: Callable[[str], bool], mother: str, least: float) -> list[_Added]:
    """Doses in their order; what is strong in two halves where a half can still be dosed (``least``, in parts)."""
    rows = []
    total = sum(i.parts for i in recipe.ingredients)
    for item in recipe.ingredients:
        K, S = spectra(item)
        by_touch = strong(item.id) and item.parts / total < _STRONG_SHARE
        rows.append((_rank(item, item.parts / total, K, S, by_touch, mother), item, K, S, by_touch))
    rows.sort(key=lambda r: r[0])
    out: list[_Added] = []
    for place, (_, item, K, S, by_touch) in enumerate(rows):
        careful = by_touch or item.parts / total < 0.08
        if place and careful and item.parts >= 0.5 and item.parts / 2 >= least * (1 - 1e-9):
            half = _halved(item)
            out += [_Added(half, K, S, True, "look, then the rest"), _Added(half, K, S, True, "the rest, bit by bit")]
        else:
            out.append(_Added(item, K, S, by_touch))
    return out


def _colours(doses: Sequence[_Added], surface: Surface) -> list[Array]:
    """Lab of the pile after each dose."""
    k, s, size, out = np.zeros(36), np.zeros(36), 0.0, []
    for d in doses:
        k, s, size = k + d.K * d.dose.parts, s + d.S * d.dose.parts, size + d.dose.parts
        out.append(layer_lab(k / size, s / size, surface))
    return out


def _cut_at(doses: Sequence[_Added], colours: Sequence[Array], least: float) -> int | None:
    """The dose before which the pile is cut: the strong one that moves it most, for what went in cannot be taken out;
    none where half of what follows is too small to dose."""
    leaps = [0.0, *(float(ciede2000(a, b)) for a, b in itertools.pairwise(colours))]
    pushed = [i for i, d in enumerate(doses) if i and d.by_touch and leaps[i] > _LEAP]
    if not pushed:
        return None
    at = max(pushed, key=lambda i: leaps[i])
    return at if min(d.dose.parts for d in doses[at:]) / 2 >= least * (1 - 1e-9) else None


def _sets_the_value(colours: Sequence[Array]) -> int:
    """The addition that moves the value most, where it is seen; -1 for none."""
    moves = [0.0, *(abs(float(b[0] - a[0])) for a, b in itertools.pairwise(colours))]
    best = int(np.argmax(moves))
    return best if moves[best] > _SEEN else -1


def _does(before: Array, after: Array, white: bool, sets: bool, said: set[str]) -> str:
    """What an addition does, each thing said once in a list: the strongest that was not said yet."""
    if white and after[0] > before[0]:
        words = in_a_row(white_did(before, after))
        return f"sets the value: {words}" if sets else words
    if sets:
        return "sets the value"
    ranked = ["brings the colour" if words == "strengthens" else words for words in verbs(before, after)]
    new = next((words for words in ranked if words not in said), "")
    said.add(new)
    return new or "a little more of the same"


def pool(tubes: Sequence[Tube]) -> Callable[[str], bool]:
    """Whether a tube id goes in by touches, for :func:`adding`; tints and piles do not."""
    strong = {t.id for t in tubes if not t.is_white and (t.tinting_strength >= BY_TOUCH or t.is_black)}
    return lambda i: i in strong
