"""Everything from one neutral: a grey pile is mixed first, and every pile of the string goes on from it.

The grey stands at the middle value of the string, so that it has to be moved least; colour, white or a dark then turn
it into each pile. It is a black with white, else the pair of tubes, in whatever amounts, or the three, that come to a
grey; a palette that comes to none has no neutral (common practice, no source; the figures are judgements).
"""

import itertools
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.advice.frame import of_tube
from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.munsell import hue_value_chroma
from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.colour.wheel import WHEEL_STEPS
from ochre_stone.core.mixing.recipe.compete import Rounding, compete
from ochre_stone.core.mixing.recipe.finding import Wishes, onward_rows, recipes, start_onward
from ochre_stone.core.mixing.recipe.nearness import REACH
from ochre_stone.core.mixing.recipe.parts import LEVELS, MOST_PARTS, reduce_parts
from ochre_stone.core.mixing.recipe.ranking import Means
from ochre_stone.core.mixing.recipe.recipe import NEUTRAL, Recipe, Source, in_a_row
from ochre_stone.core.mixing.recipe.search import Found
from ochre_stone.core.mixing.recipe.sources import Sources, Terms
from ochre_stone.core.mixing.strings.targets import NO_NEUTRAL
from ochre_stone.core.paint.optics import USUAL, Surface, layer_lab
from ochre_stone.core.paint.tubes import Tube

GREY_ENOUGH, LEANS = 0.6, 1.2
"""Most Munsell chroma of a neutral; and of what is taken for one, and said to lean, where there is none."""
CLEANER = 1.5
"""CIEDE2000 by which a pile from tubes must come nearer than one from the neutral, where that is not even near."""
_ROUNDED = 24
_LEAST = 0.08
"""Least share of the neutral in a pile: less is not mixed from it."""
_TRIED = 8
"""Sets of tubes that are counted out in parts."""
_VALUE_NEAR = 4.0
"""L* by which a neutral in countable parts may miss the middle value."""
_MOST_OF_ONE = 6.0
_PER_PART, _PER_GREY = 0.1, 4.0
"""What a part to count, and a unit of Munsell chroma, weigh against one L*."""
_RATIOS: dict[int, Array] = {
    1: np.ones((1, 1)),
    2: np.array([(x, 1 - x) for x in np.linspace(0.05, 0.95, 37)]),
    3: np.array([(a, b, 1 - a - b) for a in np.linspace(0.06, 0.82, 20) for b in np.linspace(0.06, 0.82, 20)
                 if a + b < 0.95]),
}  # fmt: skip
_HALVINGS = 14


@dataclass(frozen=True)
class Grey:
    """Tubes that come to a grey with white."""

    tubes: tuple[Tube, ...]
    """The white first."""
    chroma: float
    """Munsell chroma at its best."""


def grey_sets(tubes: Sequence[Tube], lightness: float, surface: Surface = USUAL) -> Iterator[Grey]:
    """Sets of tubes whose mixture with white at L* ``lightness`` (0..100) is a grey, in the order in which a painter
    would take them: a black, the pairs, the threes; of each the darkest first, for dark tubes make most grey of least
    paint; then those that lean, the greyest first. Empty for a palette without a white.
    """
    white = max((t for t in tubes if t.is_white), key=lambda t: t.lab[0], default=None)
    if white is None:
        return
    leaning: list[Grey] = []
    rest = [t for t in tubes if not t.is_white]
    blacks = [t for t in rest if of_tube(t, surface).is_black]
    for count, usable in ((1, blacks), (2, rest), (3, rest)):
        sets = list(itertools.combinations(usable, count))
        if not sets:
            continue
        chroma = _greyest(sets, white, lightness, surface)
        found = [Grey((white, *s), float(c)) for s, c in zip(sets, chroma, strict=True) if c <= LEANS]
        # A black in a pair leads: a touch of an earth warms it.
        order = [(g.chroma > GREY_ENOUGH, not set(g.tubes) & set(blacks), np.mean([t.lab[0] for t in g.tubes[1:]]))
                 for g in found]  # fmt: skip
        for i in sorted(range(len(found)), key=lambda i: order[i]):
            if found[i].chroma <= GREY_ENOUGH:
                yield found[i]
        leaning += [found[i] for i in range(len(found)) if order[i][0]]
    yield from sorted(leaning, key=lambda g: g.chroma + 0.1 * len(g.tubes))


def _greyest(sets: Sequence[tuple[Tube, ...]], white: Tube, lightness: float, surface: Surface) -> Array:
    """Least Munsell chroma (m,) of sets of tubes with so much white as brings them to L* ``lightness``."""
    ratio = _RATIOS[len(sets[0])]
    K = np.einsum("rk,mkb->mrb", ratio, np.stack([[t.K / t.strength for t in s] for s in sets]))
    S = np.einsum("rk,mkb->mrb", ratio, np.stack([[t.S / t.strength for t in s] for s in sets]))
    low, high = np.zeros((*K.shape[:2], 1)), np.full((*K.shape[:2], 1), 60.0)
    for _ in range(_HALVINGS):
        n = (low + high) / 2
        light = layer_lab(K + n * white.K, S + n * white.S, surface)[..., :1] > lightness
        low, high = np.where(light, low, n), np.where(light, n, high)
    lab = layer_lab(K + low * white.K, S + low * white.S, surface)
    chroma = np.where(np.abs(lab[..., 0] - lightness) <= 2.0, np.hypot(lab[..., 1], lab[..., 2]), np.inf)
    best = lab[np.arange(len(sets)), chroma.argmin(axis=1)]
    there = np.isfinite(chroma.min(axis=1))
    return np.where(there, hue_value_chroma(best)[2], np.inf)


def neutral_pile(string_id: str, name: str, goals: Sequence[Sequence[float]], terms: Terms) -> Source | None:
    """The neutral of a string (its id and name) whose piles should be ``goals`` Lab (g, 3), in countable parts; None
    where the palette has none."""
    middle = (float(np.min([g[0] for g in goals])) + float(np.max([g[0] for g in goals]))) / 2
    surface = terms.finish or USUAL
    best: tuple[float, Grey, Array] | None = None
    for grey in itertools.islice(grey_sets(terms.tubes, middle, surface), _TRIED):
        counted = _counted(grey, middle, surface)
        if counted is not None and (best is None or counted[0] < best[0]):
            best = counted[0], grey, counted[1]
        if best is not None and best[0] <= GREY_ENOUGH:
            break
    if best is None:
        return None
    _, grey, counts = best
    parts = tuple((t.id, float(n)) for t, n in zip(grey.tubes, counts, strict=True))
    shares = tuple((i, n / float(counts.sum())) for i, n in parts)
    return Source(f"{NEUTRAL}{string_id}", f"{name.lower()} neutral", shares, parts)


def _counted(grey: Grey, lightness: float, surface: Surface) -> tuple[float, Array] | None:
    """Munsell chroma and the parts (n,) of a grey in which it can be counted out: few, and near enough to the value;
    None where none comes out grey."""
    few = [x for x in LEVELS if 0 < x <= _MOST_OF_ONE]
    colours = np.array(list(itertools.product(few, repeat=len(grey.tubes) - 1)))
    whites = np.array([x for x in LEVELS if x >= 1])
    parts = np.concatenate([np.repeat(whites, len(colours))[:, None], np.tile(colours, (len(whites), 1))], axis=1)
    parts = np.unique(reduce_parts(parts[parts.sum(axis=1) <= MOST_PARTS]), axis=0)
    share = parts / parts.sum(axis=1, keepdims=True)
    lab = layer_lab(share @ np.stack([t.K for t in grey.tubes]), share @ np.stack([t.S for t in grey.tubes]), surface)
    near = np.abs(lab[:, 0] - lightness) <= _VALUE_NEAR
    parts, lab = parts[near], lab[near]
    if not len(parts):
        return None
    chroma = hue_value_chroma(lab)[2]
    cost = np.abs(lab[:, 0] - lightness) + _PER_PART * parts.sum(axis=1) + _PER_GREY * chroma
    cost += np.where(chroma > GREY_ENOUGH, 100.0, 0.0)
    best = int(np.argmin(cost))
    return (float(chroma[best]), parts[best]) if chroma[best] <= LEANS else None


def neutral_words(neutral: Source | None, tubes: Sequence[Tube], surface: Surface = USUAL) -> str:
    """What is said of a string's neutral: of what it is mixed, and which way it leans where it is no true grey."""
    if neutral is None:
        return f"{NO_NEUTRAL}: its piles start from tubes"
    short = {t.id: t.short for t in tubes}
    said = f"a neutral of {in_a_row([short[i] for i, _ in neutral.parts])}"
    seen = read(layer_lab(*neutral.spectra(tubes), surface))
    if seen.chroma > GREY_ENOUGH:
        said += (
            f", the nearest that this palette has to a grey: it leans {WHEEL_STEPS[round(seen.hue_angle / 30) % 12]}"
        )
    return said


def from_neutral(target: Array, terms: Terms, neutral: Source, ml: float, count: int = 4) -> tuple[bool, list[Recipe]]:
    """Whether a colour is in reach from the neutral with the tubes of ``terms``, and recipes that hold it, best first.

    ``ml``: millilitres wanted. Where no mixture that holds the neutral comes out, the nearest from the tubes.
    """
    sources = Sources.of(terms, [neutral])
    at = len(terms.tubes)
    index = onward_rows(sources, [at])
    if not len(index):
        return recipes(target, terms, Wishes(count=count, tints=(), ml=ml))
    error, shares = sources.paints.refine(target, start_onward(sources, index, [0.6, 0.2, 0.2]), index, 14, True)
    rows = np.flatnonzero(shares[:, 0] >= _LEAST)
    rows = rows[np.argsort(error[rows], kind="stable")][:_ROUNDED]
    if not len(rows):
        return recipes(target, terms, Wishes(count=count, tints=(), ml=ml))
    found = Found(error[rows], shares[rows], index[rows])
    nearest = float(ciede2000(sources.paints.lab(found.shares[:1], found.index[:1])[0], target))
    rounding = Rounding(sources.dosing(ml), _ROUNDED, frozenset({neutral.id}))
    field = compete(sources, target, [(0.0, found)], rounding, Means())
    out: list[Recipe] = []
    for row in np.argsort(field.cost, kind="stable"):
        if field.parts[row][field.index[row] == at].sum() > 0:
            near = nearest <= REACH and float(ciede2000(field.lab[row], target)) <= REACH
            out.append(sources.describe(target, field.parts[row], field.index[row], field.lab[row], near))
        if len(out) == count:
            break
    if not out:
        return recipes(target, terms, Wishes(count=count, tints=(), ml=ml))
    return nearest <= REACH and out[0].de00 <= REACH, out
