"""Which notes have their pile, how near it comes, and which the palette cannot reach."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.mixing.recipe.finding import Wishes, recipes
from ochre_stone.core.project.document import Document
from ochre_stone.core.project.planning import session_terms
from ochre_stone.core.project.rows import note_targets, string_of


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
        if string_of(document, n) in document.mix.left_out and n.id not in own:
            continue
        gap = np.asarray(ciede2000(mixtures, goal))
        k = own.get(n.id, int(gap.argmin()))
        near = n.id in own or float(gap[k]) <= document.mix.touch
        reach = piles[k].reachable if near else None
        if reach is None and search:
            reach = recipes(goal, session_terms(document), Wishes(count=1))[0]
        out[n.id] = Covered(n.id, piles[k].id, float(gap[k]), near, reach)
    return out


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
