"""Another palette, or another number of piles, tried on the picture before it is chosen: the same block-in with it."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.document.document import Document, MixChoice, Mixed
from ochre_stone.core.picture.picture import Picture
from ochre_stone.core.planning.blockin import LaidIn, block_in
from ochre_stone.core.planning.coverage import coverage
from ochre_stone.core.planning.noting import with_shares
from ochre_stone.core.planning.planning import mix_strings
from ochre_stone.core.planning.rows import is_current

COUNTS = (6, 9, 12, 18)
"""Numbers of piles to choose from by looking: a poster, the least that reads, a block-in, one with its halftones."""
_ALIKE, _ALIKE_AT_WORST = 3.5, 10.0
"""CIEDE2000 between two block-ins, the mean and what one spot in twenty exceeds, within which they look the same when
they are small (judgements: on the demo five palettes of nine look as one, three speak at once)."""
_EVERY = 3


@dataclass(frozen=True, eq=False)
class Tried:
    """What comes of a choice."""

    mix: MixChoice
    mixed: Mixed
    laid: LaidIn | None
    """None where there is no pile."""
    have: int
    """Notes that can be painted with their pile, of ``notes``."""
    notes: int

    @property
    def words(self) -> str:
        """ "10 of 12 notes, off by 6"."""
        off = f", off by {self.laid.figures.off:.0f}" if self.laid is not None else ""
        return f"{self.have} of {self.notes} notes{off}"


def tried(
    picture: Picture, document: Document, mix: MixChoice, progress: Callable[[float], None] = lambda share: None
) -> Tried:
    """A document's picture planned and laid in with another ``mix``; ``progress`` gets 0..1 and may raise to cancel."""
    asked = document.model_copy(update={"mix": mix})
    if not is_current(asked):
        measured = with_shares(picture, asked)[0]
        asked = measured.model_copy(update={"mixed": mix_strings(measured, progress)})
    found = coverage(asked)
    have = sum(c.has_pile for c in found.values())
    return Tried(mix, asked.mixed, block_in(picture, asked), have, len(found))


def looks_alike(a: LaidIn, b: LaidIn) -> bool:
    """Whether two block-ins of one picture look the same when they are small."""
    one, other = (x.colours[x.labels[::_EVERY, ::_EVERY]] for x in (a, b))
    far = np.asarray(ciede2000(one, other))
    return bool(far.mean() < _ALIKE and np.percentile(far, 95) < _ALIKE_AT_WORST)


def alike_words(these: Mapping[str, LaidIn], chosen: str) -> str:
    """Which of these block-ins, by their names, look as the chosen one does: "Double primaries and Prismatic look the
    same here as Portrait of ten."; "" for none."""
    alike = [name for name, laid in these.items() if name != chosen and looks_alike(laid, these[chosen])]
    if not alike:
        return ""
    if len(alike) == len(these) - 1 and len(alike) > 1:
        return f"All {len(these)} look the same here: nothing need be bought."
    return f"{_listed(alike)} {'look' if len(alike) > 1 else 'looks'} the same here as {chosen}."


def _listed(names: Sequence[str]) -> str:
    return f"{', '.join(names[:-1])} and {names[-1]}" if len(names) > 1 else names[0]
