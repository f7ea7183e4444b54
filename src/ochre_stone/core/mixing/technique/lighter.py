"""Lighter and darker: the ways that painters argue about, side by side, with what each does to chroma and warmth.

Lighter with white, with a yellow or another warm light, with a lighter pile; darker with the complement, a blue, a
brown or black (common practice, no source). Each is brought to the same value, in parts that can be counted, so that
what is left to compare is its colour.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.relations import warmth
from ochre_stone.core.colour.spaces import Array, Lab, as_lab, lch
from ochre_stone.core.mixing.recipe.recipe import Source, dose_words
from ochre_stone.core.mixing.recipe.sources import Terms
from ochre_stone.core.mixing.technique.parents import as_source, levelled
from ochre_stone.core.paint.optics import USUAL, Surface, layer_lab
from ochre_stone.core.paint.tubes import Tube

VALUE_STEP = 10.0
"""L* of one value step."""
_MOST_PARTS, _PER_PART, _NEAR = 10.0, 0.15, 2.5
_MOST_ADDED = 0.75
"""Share from which it is another pile rather than this one."""
_MOVED = 2.5
"""L* below which nothing was made lighter or darker."""
_YELLOW, _WARM, _BLUE, _BROWN = (70.0, 112.0), (15.0, 112.0), (225.0, 315.0), (30.0, 88.0)
"""CIELAB hue of tints, degrees."""
_OPPOSED = 125.0
_COLOURED, _STRONG = 6.0, 30.0


@dataclass(frozen=True)
class Move:
    """One way to a lighter or darker colour."""

    kind: str
    """"white", "yellow", "warm light", "lighter pile", "complement", "blue", "brown" or "black"."""
    source: Source
    """What is added."""
    parts: tuple[float, float]
    """Of the pile and of what is added."""
    lab: Lab
    chroma: float
    """CIELAB chroma gained."""
    warmer: float
    """Warmth (-1 to 1) gained."""
    off: float
    """CIEDE2000 from the colour that was wanted."""
    there: bool = True
    """Whether it gets to the value that was wanted."""

    @property
    def words(self) -> str:
        """What to do, "3 of it, 1 white"."""
        added = dose_words(self.source.name, self.parts[1], self.kind == "lighter pile")
        return f"{dose_words('it', self.parts[0], True)}, {added}"


def moves(pile: Source, goal: Sequence[float], terms: Terms, lighter_piles: Sequence[Source] = ()) -> list[Move]:
    """Ways from ``pile`` to the lightness of ``goal`` Lab (3,), in the order in which they are named above; those that
    do not get there go as far as they do, and those that hardly move it are left out.

    ``lighter_piles``: piles at hand, from which the nearest that is light enough is taken.
    """
    surface = terms.finish or USUAL
    own = layer_lab(*pile.spectra(terms.tubes), surface)
    tried = _lightening(own, goal, terms, lighter_piles) if goal[0] > own[0] else _darkening(own, goal, terms)
    out = []
    for kind, source in tried:
        found = counted(pile, source, float(goal[0]), terms)
        if found is None or (found[1][0] - own[0]) * np.sign(goal[0] - own[0]) < _MOVED:
            continue
        parts, lab = found
        stronger, warmer = float(lch(lab)[1] - lch(own)[1]), warmth(as_lab(lab)) - warmth(as_lab(own))
        off = float(ciede2000(lab, np.array(goal, dtype=float)))
        there = abs(float(lab[0]) - float(goal[0])) <= _NEAR
        out.append(Move(kind, source, parts, as_lab(lab), stronger, warmer, off, there))
    return out


def counted(pile: Source, more: Source, lightness: float, terms: Terms) -> tuple[tuple[float, float], Array] | None:
    """Parts of a pile and of ``more`` that come nearest to L* ``lightness``, and their Lab; None where neither
    can be counted."""
    surface, paints = terms.finish or USUAL, (pile.spectra(terms.tubes), more.spectra(terms.tubes))
    found = levelled(*paints, lightness, surface, _MOST_PARTS, _MOST_ADDED)
    if found is None:
        return None
    parts, lab = found
    few = parts[:, 1] <= 4 * parts[:, 0]
    if not few.any():
        return None
    parts, lab = parts[few], lab[few]
    best = int(np.argmin(np.abs(lab[:, 0] - lightness) + _PER_PART * parts.sum(axis=1)))
    return (float(parts[best, 0]), float(parts[best, 1])), lab[best]


def step_down(before: Source, lightness: float, terms: Terms) -> tuple[tuple[float, float], Array] | None:
    """A pile as the one before it plus so much white: parts of both and the Lab that comes of them; None without a
    white, or where white does not get there."""
    white = terms.white
    found = counted(before, as_source(white), lightness, terms) if white is not None else None
    return found if found is not None and abs(float(found[1][0]) - lightness) <= _NEAR else None


def _lightening(own: Array, goal: Sequence[float], terms: Terms, piles: Sequence[Source]) -> list[tuple[str, Source]]:
    surface = terms.finish or USUAL
    light = [t for t in terms.tubes if t.lab[0] > own[0] + _MOVED and not t.is_white]
    out = [("white", as_source(terms.white))] if terms.white is not None else []
    hued = {t.id: _hue(t, terms) for t in light}
    strong = [t for t in light if lch(np.array(t.lab))[1] > _STRONG]
    yellow = _most(strong, lambda t: t.lab[2], lambda t: _within(hued[t.id], _YELLOW))
    if yellow is not None:
        out.append(("yellow", as_source(yellow)))
    warm = _most(light, lambda t: t.lab[0], lambda t: t is not yellow and _within(hued[t.id], _WARM))
    if warm is not None:
        out.append(("warm light", as_source(warm)))
    there = [(p, layer_lab(*p.spectra(terms.tubes), surface)) for p in piles]
    there = [(p, lab) for p, lab in there if lab[0] > own[0] + _MOVED]
    if there:  # light enough, then as near in colour as there is
        nearest = min(there, key=lambda pair: (pair[1][0] < goal[0], float(ciede2000(pair[1], own))))
        out.append(("lighter pile", nearest[0]))
    return out


def _darkening(own: Array, goal: Sequence[float], terms: Terms) -> list[tuple[str, Source]]:
    dark = [t for t in terms.tubes if t.lab[0] < own[0] - _MOVED and not t.is_white]
    hues = {t.id: _hue(t, terms) for t in dark}
    _, C, h = (float(x) for x in lch(own))
    out: list[tuple[str, Source]] = []

    def add(kind: str, found: Tube | None) -> None:
        if found is not None and all(s.id != found.id for _, s in out):
            out.append((kind, as_source(found)))

    if C > _COLOURED:
        apart = {i: abs((hue - h + 180) % 360 - 180) if hue is not None else 0.0 for i, hue in hues.items()}
        add("complement", _most(dark, lambda t: apart[t.id], lambda t: apart[t.id] > _OPPOSED and not t.is_black))
    add("blue", _most(dark, lambda t: -t.lab[0], lambda t: not t.is_black and _within(hues[t.id], _BLUE)))
    add("brown", _most(dark, lambda t: -t.lab[0], lambda t: not t.is_black and _within(hues[t.id], _BROWN)))
    add("black", _most(dark, lambda t: -t.lab[0], lambda t: t.is_black))
    return out


def _most(tubes: Sequence[Tube], figure: Callable[[Tube], float], fits: Callable[[Tube], bool]) -> Tube | None:
    return max((t for t in tubes if fits(t)), key=figure, default=None)


def _within(hue: float | None, span: tuple[float, float]) -> bool:
    return hue is not None and span[0] <= hue <= span[1]


def _hue(t: Tube, terms: Terms) -> float | None:
    """CIELAB hue of a tint, where a dark paint shows it; None for a grey."""
    white, surface = terms.white, terms.finish or USUAL
    share = 0.0 if white is None else 0.8
    lab = _tint(t, white, share, surface)
    return float(lch(lab)[2]) % 360 if float(lch(lab)[1]) > _COLOURED else None


def _tint(t: Tube, white: Tube | None, share: float, surface: Surface) -> Array:
    if white is None:
        return layer_lab(t.K, t.S, surface)
    return layer_lab(t.K * (1 - share) + white.K * share, t.S * (1 - share) + white.S * share, surface)
