"""What an addition did to a pile, in verbs: for reasons, steps and *What does what* alike."""

import numpy as np

from ochre_stone.core.advice.frame import PER_VALUE, Stands, hues_apart, place
from ochre_stone.core.advice.roles import LITTLE_CHROMA, whitening
from ochre_stone.core.colour.relations import shift
from ochre_stone.core.colour.spaces import Array, as_lab

_HUED = 0.6
"""Munsell chroma below which no turn of hue is told."""


def verbs(before: Array, after: Array) -> list[str]:
    """What was done to a colour Lab (3,), the strongest first: "darkens", "dulls", "warms" or "makes it redder"; warm
    and cool only where nobody would dispute it.

    >>> verbs(np.array([60.0, 10.0, 30.0]), np.array([50.0, 9.0, 28.0]))
    ['darkens', 'dulls', 'cools']
    """
    a, b = place(before), place(after)
    turn = np.radians(hues_apart(a.hue, b.hue)) * (a.chroma * b.chroma) ** 0.5 if min(a.chroma, b.chroma) > _HUED else 0
    way = shift(as_lab(after), as_lab(before))
    ranked = [
        (PER_VALUE * abs(b.value - a.value), "lightens" if b.value > a.value else "darkens"),
        (abs(b.chroma - a.chroma), "strengthens" if b.chroma > a.chroma else "dulls"),
        (float(turn), {"warmer": "warms", "cooler": "cools"}.get(way, f"makes it {way}")),
    ]
    return [words for _, words in sorted(ranked, key=lambda r: -r[0])]


def white_did(before: Array, after: Array) -> list[str]:
    """Everything that white did: it cools and dulls what it lightens, wherever it does.

    >>> white_did(np.array([41.0, 60.0, 45.0]), np.array([60.0, 45.0, 25.0]))
    ['lightens', 'cools', 'dulls']
    """
    a, b = place(before), place(after)
    said = ["lightens"]
    if whitening(a, _gained(a, b)) < 0:
        said.append("cools")
    if b.chroma < a.chroma - LITTLE_CHROMA:
        said.append("dulls")
    return said


def _gained(before: Stands, after: Stands) -> Array:
    return np.asarray((after.vector - before.vector)[1:])
