"""What happens when two piles meet: the mixture half and half, against what the two promised.

Each note is first mixed from the palette; then equal volumes of the two mixtures are predicted by Kubelka-Munk
(docs/colour-model.md). A pair goes dull where the meeting keeps less than .45 of the mean chroma of its parents, and
stays lively where it keeps .8 or more; the limits are judgements.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.munsell import hue_value_chroma
from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import Lab, as_lab
from ochre_stone.core.mixing.recipe.finding import Wishes, recipes
from ochre_stone.core.mixing.recipe.sources import Terms
from ochre_stone.core.paint.optics import USUAL, Surface, layer_lab
from ochre_stone.core.paint.tubes import Tube

_DULL, _LIVELY = 0.45, 0.8
_GREY = 2.5
"""Munsell chroma below which a parent is a grey already, and has nothing to lose."""


@dataclass(frozen=True)
class Meeting:
    """Two notes mixed half and half."""

    first: int
    second: int
    lab: Lab
    kept: float
    """Munsell chroma of the mixture over the mean of its parents'."""
    tubes: tuple[str, ...]
    """Ids of tubes that both recipes hold, white left out."""

    @property
    def verdict(self) -> str:
        """dull, lively or quiet."""
        return "goes dull" if self.kept < _DULL else "stays lively" if self.kept >= _LIVELY else "greys a little"


def meetings(
    notes: Sequence[Lab],
    tubes: Sequence[Tube],
    palette_name: str = "",
    most: int = 4,
    finish: Surface | None = None,
    progress: Callable[[float], None] = lambda share: None,
) -> list[Meeting]:
    """Every pair of notes that are no greys, dullest first.

    ``notes``: colours Lab. ``progress`` gets 0..1 and may raise to cancel; the recipes are the slow part.
    """
    terms = Terms(tuple(tubes), palette_name, most, finish)
    shares, weights = [], []
    for n, lab in enumerate(notes):
        _, found = recipes(np.array(lab), terms, Wishes(count=1, effort=12, tints=()))
        of = dict(found[0].shares)
        shares.append(of)
        weights.append(np.array([of.get(t.id, 0.0) for t in tubes]))
        progress((n + 1) / len(notes))
    K, S = np.stack([t.K for t in tubes]), np.stack([t.S for t in tubes])
    white = {t.id for t in tubes if t.is_white}
    chroma = np.array([read(lab).chroma for lab in notes])
    hued = np.flatnonzero(chroma >= _GREY)
    first, second = (hued[i] for i in np.triu_indices(len(hued), 1))
    if not len(first):
        return []
    whole = np.stack([w / w.sum() for w in weights])
    c = (whole[first] + whole[second]) / 2
    mixed = layer_lab(c @ K, c @ S, finish or USUAL)
    kept = hue_value_chroma(mixed)[2] / ((chroma[first] + chroma[second]) / 2)
    out = [
        Meeting(i, j, as_lab(lab), float(k), tuple(t for t in shares[i] if t in shares[j] and t not in white))
        for i, j, lab, k in zip(first.tolist(), second.tolist(), mixed, kept.tolist(), strict=True)
    ]
    return sorted(out, key=lambda m: m.kept)
