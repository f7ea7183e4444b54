"""Which notes have their pile, how near it comes, and which the palette cannot reach."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import Lab, as_lab
from ochre_stone.core.document.document import Document
from ochre_stone.core.mixing.recipe.finding import REACH, Wishes, recipes
from ochre_stone.core.planning.planning import session_terms
from ochre_stone.core.planning.rows import note_targets, string_of

_CHROMA, _VALUE = 0.5, 0.15
"""Munsell steps of chroma and of value from which a difference is named."""


@dataclass(frozen=True)
class Covered:
    """A note and the pile that comes nearest to it."""

    note: str
    pile: str
    """Id of the pile; "" without any pile."""
    de00: float
    """CIEDE2000 from the note as it is to be painted to the mixture."""
    own: bool
    """Whether the pile was made for it, or is within the painter's touch of it."""
    reach: bool | None
    """Whether it is in reach of the palette: its own pile tells; without one None, where it was not searched for."""
    why: str = ""
    """Where it is out of reach, what its pile lacks, in words."""

    @property
    def has_pile(self) -> bool:
        """Whether it can be painted with that pile."""
        return self.own and bool(self.reach)


def coverage(document: Document, search: bool = False) -> dict[str, Covered]:
    """By id, every note of a string that is not left out; empty while no strings are worked out. ``search``: find out
    for notes without a pile too whether the palette reaches them (some 20 ms each)."""
    piles = [p for s in document.mixed.strings for p in s.piles]
    if not piles:
        return {}
    mixtures = np.array([p.recipe.lab for p in piles])
    own = {i: k for k, p in enumerate(piles) for i in p.target.notes}
    out = {}
    for n, goal in zip(document.notes, note_targets(document), strict=True):
        if document.mix.leaves_out(string_of(document, n)) and n.id not in own:
            continue
        gap = np.asarray(ciede2000(mixtures, goal))
        k = own.get(n.id, int(gap.argmin()))
        near = n.id in own or float(gap[k]) <= document.mix.touch
        reach = piles[k].reachable and float(gap[k]) <= document.mix.touch + REACH if near else None
        if reach is None and search:
            reach = recipes(goal, session_terms(document), Wishes(count=1))[0]
        why = lacks(as_lab(goal), as_lab(mixtures[k])) if near and not reach else ""
        out[n.id] = Covered(n.id, piles[k].id, float(gap[k]), near, reach, why)
    return out


def lacks(goal: Lab, mixture: Lab) -> str:
    """What keeps a mixture from its goal, the largest first: "too strong by 2.1 in chroma, too dark by 0.3 in value".

    Munsell value and chroma; a hue is named where neither is off by much.
    """
    a, b = read(goal), read(mixture)
    off = []
    chroma, value = a.chroma - b.chroma, a.value - b.value
    if abs(chroma) >= _CHROMA:
        off.append((abs(chroma) / _CHROMA, f"too {'strong' if chroma > 0 else 'grey'} by {abs(chroma):.1f} in chroma"))
    if abs(value) >= _VALUE:
        off.append((abs(value) / _VALUE, f"too {'light' if value > 0 else 'dark'} by {abs(value):.1f} in value"))
    return ", ".join(words for _, words in sorted(off, reverse=True)) or f"its hue, {a.hue}, is not there"


def coverage_words(found: Mapping[str, Covered]) -> str:
    """In one sentence: "22 of 24 notes have their pile; 2 are out of reach of this palette."."""
    out = sum(c.own and not c.reach for c in found.values())
    without = sum(not c.own for c in found.values())
    said = [f"{sum(c.has_pile for c in found.values())} of {len(found)} notes have their pile"]
    if out:
        said.append(f"{out} {'is' if out == 1 else 'are'} out of reach of this palette")
    if without:
        said.append(f"{without} {'has' if without == 1 else 'have'} none")
    return "; ".join(said) + "."
