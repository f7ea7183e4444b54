"""Which notes have their pile, how near it comes, and which the palette cannot reach."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import Lab, as_lab
from ochre_stone.core.document.document import Document
from ochre_stone.core.mixing.recipe.finding import Wishes, recipes
from ochre_stone.core.mixing.recipe.nearness import MATCHES, NEAR, OUT, Nearness, nearness
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
    near: Nearness | None
    """How near the palette comes to it: its own pile tells; without one None, where it was not searched for."""
    why: str = ""
    """Where it is out of reach, what its pile lacks, in words."""

    @property
    def reach(self) -> bool | None:
        """Whether the palette matches it; None where that is not known."""
        return None if self.near is None else self.near.grade == MATCHES

    @property
    def is_out(self) -> bool:
        """Whether it is known to be out of the palette's reach."""
        return self.near is not None and self.near.grade == OUT

    @property
    def is_near(self) -> bool:
        """Whether its pile is near it, and no match."""
        return self.own and self.near is not None and self.near.grade == NEAR

    @property
    def has_pile(self) -> bool:
        """Whether it can be painted with that pile."""
        return self.own and self.near is not None and not self.is_out


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
        has = n.id in own or float(gap[k]) <= document.mix.touch
        # Its pile may stand a touch beside it, for a weightier note.
        beside = 0.0 if n.id == next(iter(piles[k].target.notes), "") else document.mix.touch
        near = nearness(as_lab(goal), piles[k].recipe.lab, beside) if has else None
        if near is None and search:
            near = nearness(as_lab(goal), recipes(goal, session_terms(document), Wishes(count=1))[1][0].lab)
        why = lacks(as_lab(goal), piles[k].recipe.lab) if has and near is not None and near.grade == OUT else ""
        out[n.id] = Covered(n.id, piles[k].id, float(gap[k]), has, near, why)
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
    """In one sentence: "22 of 24 notes have their pile, 3 of them near it; 2 are out of reach of this palette."."""
    out = sum(c.own and c.is_out for c in found.values())
    near = sum(c.is_near for c in found.values())
    without = sum(not c.own for c in found.values())
    beside = f", {near} of them near" if near else ""
    said = [f"{sum(c.has_pile for c in found.values())} of {len(found)} notes have their pile{beside}"]
    if out:
        said.append(f"{out} {'is' if out == 1 else 'are'} out of reach of this palette")
    if without:
        said.append(f"{without} {'has' if without == 1 else 'have'} none")
    return "; ".join(said) + "."
