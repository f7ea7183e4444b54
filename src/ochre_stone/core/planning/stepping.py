"""Step down: each pile of a string as the darker one before it plus so much white."""

from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.document.document import Document
from ochre_stone.core.mixing.recipe.recipe import Source, dose_words, parts_words
from ochre_stone.core.mixing.technique.lighter import step_down
from ochre_stone.core.planning.planning import session_terms


@dataclass(frozen=True)
class Stepped:
    """A pile as the one before plus white."""

    pile: str
    before: str
    """Id of the darker pile."""
    name: str
    """Its name."""
    parts: tuple[float, float]
    """Of that pile and of white."""
    white: str
    off: float
    """CIEDE2000 of what comes of it from the pile's recipe."""

    @property
    def words(self) -> str:
        """ "3 of skin 2, 1 white: off by 2.4"."""
        added = dose_words(self.white, self.parts[1])
        return f"{dose_words(self.name, self.parts[0], True)}, {added}: off by {self.off:.1f}"

    @property
    def short(self) -> str:
        """The same as a label, "3 + 1 w", as on charts."""
        pile, white = (parts_words(p).replace("touch", "t") for p in self.parts)
        return f"{pile} + {white} w"


def stepped(document: Document, pile_id: str) -> Stepped | None:
    """A pile as the darker one beside it in its string plus white; None for the darkest, and where white does not get
    there."""
    for s in document.mixed.strings:
        for q, p in pairwise(s.piles):
            if p.id != pile_id:
                continue
            terms = session_terms(document)
            if p.recipe.lab[0] <= q.recipe.lab[0] or terms.white is None:
                return None
            found = step_down(Source(q.id, q.name, q.recipe.shares), p.recipe.lab[0], terms)
            if found is None:
                return None
            off = float(ciede2000(found[1], np.array(p.recipe.lab)))
            return Stepped(p.id, q.id, q.name, found[0], terms.white.short, off)
    return None
