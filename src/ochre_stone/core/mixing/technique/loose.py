"""Luminous mixing: parents of equal value, combined loosely instead of stirred.

Two piles of one value lie side by side as unmixed strokes: the eye adds their light, so the average goes by area in
linear light (XYZ), while stirring them multiplies what each takes away (Kubelka-Munk), which costs chroma. Both are
predicted. Parents of equal value melt in the eye; greys made so from bits of colours at one value stay alive (common
practice, no source).
"""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ochre_stone.core.advice.frame import BLUE, Paint, hues_apart, of_tube, opposite_hue, place, way
from ochre_stone.core.advice.ways import across_rank, nearest_first
from ochre_stone.core.colour.reading import NEUTRAL
from ochre_stone.core.colour.spaces import Array, Lab, as_lab, spectral_weights, xyz_to_lab
from ochre_stone.core.colour.wheel import turn
from ochre_stone.core.mixing.recipe.search import ORDERS, weighted_error
from ochre_stone.core.paint.optics import USUAL, Surface, layer_lab, reflectance
from ochre_stone.core.paint.tubes import Tube

_AREAS = np.linspace(0.05, 0.95, 19)
_APART, _STIRRED_APART = 12.0, 6.0
"""CIELAB distance of two parents below which nothing is broken about their colour, and below which they are one."""
_FAR_HUE, _PER_DEGREE = 40.0, 0.08
_BLACK, _ONE_SIDE, _LOUD, _UMBER = 12.0, 2.0, 2.0, 1.5
"""What practice has against a parent, in CIEDE2000: each degree of hue beyond so many from the colour; that it is a
black or a grey; that both lie on one side of the hue; that it is strong where a grey is wanted; that it is an umber
where more colour is."""
_CARRIES = (30.0, 1.4, 105.0)
"""Degrees of hue within which a parent carries a colour, how many times its chroma that has, and degrees beyond which
the other greys it."""
_LOUD_CHROMA, _HUED = 9.0, 1.5
"""Chroma of a strong parent; chroma of a colour with a hue."""
_LIVELY = 0.02
"""What one unit of chroma between the parents weighs against one of weighted CIEDE2000."""


@dataclass(frozen=True)
class Parent:
    """A tube brought to a value."""

    tube: str
    shares: tuple[tuple[str, float], ...]
    """Tube id and share of volume; sums to 1."""
    lab: tuple[float, float, float]
    parts: tuple[tuple[str, float], ...] = ()
    """The same in countable parts, where it was counted."""


@dataclass(frozen=True)
class Loose:
    """Two parents and what comes of them."""

    first: Parent
    second: Parent
    area: float
    """Share of the first, 0..1, by area and by volume."""
    loose: tuple[float, float, float]
    """Lab of unmixed strokes, from where they melt."""
    full: tuple[float, float, float]
    """Lab of the full mixture of the same amounts."""
    against: float = 0.0
    """What practice has against the pair, in CIEDE2000; see :func:`against`."""

    @property
    def kept(self) -> float:
        """Chroma of the loose mixture over that of the full one; inf where that is a perfect grey."""
        loose, full = (float(np.hypot(c[1], c[2])) for c in (self.loose, self.full))
        return loose / full if full > 1e-6 else float("inf")


def _triple(row: Array) -> tuple[float, float, float]:
    return as_lab(row)


def average(labs: Sequence[Sequence[float]], areas: Sequence[float]) -> tuple[float, float, float]:
    """Lab of unmixed strokes ``labs`` that cover ``areas`` (each above 0, any unit): their light adds up."""
    from ochre_stone.core.colour.spaces import lab_to_xyz

    share = np.asarray(areas, dtype=float)
    if (share <= 0).any():
        raise ValueError("every stroke needs an area above 0")
    return _triple(xyz_to_lab(share / share.sum() @ lab_to_xyz(np.asarray(labs, dtype=float))))


def at_value(tubes: Sequence[Tube], lightness: float, surface: Surface = USUAL) -> list[Parent]:
    """Every tube but the whitest brought to L* ``lightness`` (0..100): with the whitest where it is darker, with the
    darkest where it is lighter, by halving; those that cannot be brought there are left out."""
    white = max(range(len(tubes)), key=lambda i: tubes[i].lab[0])
    dark = min(range(len(tubes)), key=lambda i: tubes[i].lab[0])
    out = []
    for i, t in enumerate(tubes):
        if i == white:
            continue
        own = float(layer_lab(t.K, t.S, surface)[0])
        aid = tubes[white] if own < lightness else tubes[dark]
        if abs(own - lightness) < 0.5:
            out.append(Parent(t.id, ((t.id, 1.0),), _triple(layer_lab(t.K, t.S, surface))))
            continue
        if aid.id == t.id:
            continue
        low, high = 0.0, 1.0
        for _ in range(30):
            c = (low + high) / 2
            L = float(layer_lab(t.K * (1 - c) + aid.K * c, t.S * (1 - c) + aid.S * c, surface)[0])
            if (lightness > L) == (own < lightness):
                low = c
            else:
                high = c
        lab = layer_lab(t.K * (1 - low) + aid.K * low, t.S * (1 - low) + aid.S * low, surface)
        if abs(float(lab[0]) - lightness) < 0.7:
            out.append(Parent(t.id, ((t.id, 1 - low), (aid.id, low)), _triple(lab)))
    return out


def against(first: Paint, second: Paint, target: Lab | Array, has_blue: bool = True) -> float:
    """What practice has against two paints as the parents of a colour, in CIEDE2000: parents lie on either side of its
    hue and near it, or the one carries it and the other, from across, greys it; a black comes last where the palette
    ``has_blue``, and a grey is made of quiet paints (common practice, no source)."""
    wanted, parents = place(target), [first, second]
    if wanted.chroma < _HUED:
        return sum(_LOUD for p in parents if p.chroma > _LOUD_CHROMA)
    out = 0.0
    if not has_blue:
        parents = [replace(p, hue=BLUE, neutral=False) if p.is_black else p for p in parents]
    gaps = [hues_apart(p.hue, wanted.hue) for p in parents]
    near, far = (0, 1) if gaps[0] < gaps[1] else (1, 0)
    if gaps[near] <= _CARRIES[0] and parents[near].chroma >= _CARRIES[1] * wanted.chroma and gaps[far] >= _CARRIES[2]:
        return _BLACK if parents[far].neutral else 0.0
    for p in parents:
        out += _UMBER if p.is_umber and wanted.chroma > p.chroma else 0.0
        out += _BLACK if p.neutral else _PER_DEGREE * max(hues_apart(p.hue, wanted.hue) - _FAR_HUE, 0.0)
    sides = [float(turn(wanted.hue, p.hue)) for p in parents]
    return out + (_ONE_SIDE if sides[0] * sides[1] > 0 else 0.0)


def loosely(
    target: Sequence[float],
    tubes: Sequence[Tube],
    surface: Surface = USUAL,
    count: int = 3,
    stirred: bool = False,
    order: str = "value",
) -> list[Loose]:
    """Pairs of parents at the value of ``target`` Lab (3,) whose loose mixture comes nearest to it, best first.

    ``stirred``: whose full mixture comes nearest instead. What practice has against a pair counts too, and of
    near-equals the pair with more colour in its parents comes first. Empty where the palette has not two tubes that can
    be brought to that value.
    """
    goal = np.asarray(target, dtype=float).reshape(3)
    parents = at_value(tubes, float(goal[0]), surface)
    least = _STIRRED_APART if stirred else _APART
    pairs = [
        (a, b) for a, b in itertools.combinations(parents, 2) if np.linalg.norm(np.subtract(a.lab, b.lab)) >= least
    ]
    if not pairs:
        return []
    by_id = {t.id: t for t in tubes}

    def spectra(p: Parent) -> tuple[Array, Array]:
        K = sum((by_id[i].K * c for i, c in p.shares), np.zeros(36))
        return K, sum((by_id[i].S * c for i, c in p.shares), np.zeros(36))

    a, b = ([spectra(p[side]) for p in pairs] for side in (0, 1))
    Ka, Sa, Kb, Sb = (np.stack(x) for x in ([k for k, _ in a], [s for _, s in a], [k for k, _ in b], [s for _, s in b]))
    share = _AREAS[None, :, None]
    full = layer_lab(
        Ka[:, None] * share + Kb[:, None] * (1 - share), Sa[:, None] * share + Sb[:, None] * (1 - share), surface
    )
    w = spectral_weights()
    light_a, light_b = reflectance(Ka, Sa, surface) @ w, reflectance(Kb, Sb, surface) @ w
    loose = xyz_to_lab(light_a[:, None] * share + light_b[:, None] * (1 - share), w.sum(axis=0))
    error = weighted_error(full if stirred else loose, goal, np.array(ORDERS[order]))
    best = error.argmin(axis=1)
    rows = np.arange(len(pairs))
    alive = np.array([np.hypot(*p.lab[1:]) + np.hypot(*q.lab[1:]) for p, q in pairs])
    paints = {t.id: of_tube(t, surface) for t in tubes}
    has_blue = any(p.is_blue for p in paints.values())
    disliked = np.array([against(paints[p.tube], paints[q.tube], goal, has_blue) for p, q in pairs])
    ranked = np.argsort(error[rows, best] + disliked - _LIVELY * np.minimum(alive, 120), kind="stable")[:count]
    out = []
    for r in ranked:
        first, second = pairs[r]
        strokes, stirred_through = _triple(loose[r, best[r]]), _triple(full[r, best[r]])
        out.append(Loose(first, second, float(_AREAS[best[r]]), strokes, stirred_through, float(disliked[r])))
    return out


def alive_grey(pile: Sequence[float], tubes: Sequence[Tube], surface: Surface = USUAL) -> list[Parent]:
    """Bits of colour at the value of ``pile`` Lab that grey it without stirring it dead: those that lie across from it
    on the traditional wheel, the surest first; at most three. Empty for a grey."""
    stands = place(np.asarray(pile, dtype=float))
    if stands.chroma < NEUTRAL:
        return []
    there = {p.tube: p for p in at_value(tubes, float(pile[0]), surface)}
    found = []
    for t in tubes:
        paint = of_tube(t, surface)
        if t.id not in there or paint.neutral or paint.is_umber:
            continue
        goes = (place(there[t.id].lab).vector - stands.vector)[1:]
        inward = float(goes @ -way(stands.hue)) / max(float(np.linalg.norm(goes)), 1e-6)
        gap = hues_apart(paint.hue, opposite_hue(stands.hue))
        if inward > 0:
            found.append((gap, across_rank(inward, gap, paint.chroma), there[t.id]))
    return nearest_first(found)[:3]
