"""A photo of the palette against the plan: what is expected where, and what was seen taken for readings."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.boardphoto.layout import Expected, Layout, SeenRegion
from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.document.document import Document
from ochre_stone.core.mixing.session.amounts import Amounts
from ochre_stone.core.mixing.session.layout import Board, lay_out
from ochre_stone.core.planning.mending import goal_of, last_reading, with_reading
from ochre_stone.core.planning.pinning import pile_of


def laid_out(document: Document, needed: Amounts) -> Board:
    """Where piles and tubes go on the palette (:func:`layout.lay_out`), as large as they are mixed."""
    piles = {
        p.id: (p.recipe.lab, needed.piles[p.id])
        for s in document.mixed.strings
        for p in s.piles
        if p.id in needed.piles
    }
    tubes = {i: document.mixed.tube(i).lab for i in needed.tubes}
    return lay_out(piles, tubes, document.canvas.board_width, document.canvas.board_height)


def layout_of(document: Document, needed: Amounts) -> Layout:
    """What is expected on the palette: each pile as it was seen last, else as it is planned; each tube as its data
    say."""
    board = laid_out(document, needed)
    lab: dict[str, Lab] = {p.id: p.recipe.lab for s in document.mixed.strings for p in s.piles}
    for pile_id in list(lab):
        seen = last_reading(document, pile_id)
        if seen is not None and not any(c.pile == pile_id for c in document.put_in):
            lab[pile_id] = seen.lab
    piles = [Expected(s.id, lab[s.id], s.x, s.y, s.radius) for s in board.spots]
    dabs = [Expected(d.id, document.mixed.tube(d.id).lab, d.x, d.y, d.radius, True) for d in board.dabs]
    return Layout(board.width, board.height, (*piles, *dabs))


@dataclass(frozen=True)
class Taken:
    """A pile of the photo that counts as a reading."""

    pile: str
    lab: Lab
    noise: float


def to_take(piles: Sequence[SeenRegion], names: Mapping[int, str]) -> list[Taken]:
    """What of a photo counts: every pile that can be read and whose name is sure or was said.

    ``names``: by number of a pile in the photo, what the painter said that it is, "" for none of these. Wrong advice
    costs paint: what is asked and not answered does not count.
    """
    out = {}
    for p in piles:
        name = names.get(p.number, "" if p.asks or p.is_tube else p.id)
        if name and not p.unreadable:
            out[name] = Taken(name, p.lab, p.noise)
    return list(out.values())


def with_photo(document: Document, taken: Sequence[Taken]) -> Document:
    """The document with a reading of every pile that was taken; raises KeyError for an unknown pile."""
    for t in taken:
        document = with_reading(document, t.pile, t.lab, "photo", noise=t.noise)
    return document


def read_lately(document: Document) -> list[Taken]:
    """Every pile as it was read last, where nothing went in since."""
    out = {}
    for r in document.readings:
        out[r.pile] = Taken(r.pile, r.lab, r.noise)
    known = {p.id for s in document.mixed.strings for p in s.piles}
    put = {c.pile for c in document.put_in}
    return [t for i, t in out.items() if i in known and i not in put and last_reading(document, i) is not None]


def by_importance(document: Document, taken: Sequence[Taken]) -> list[tuple[Taken, float]]:
    """What was taken with the CIEDE2000 by which it is off, those first that matter most: how far they are off beyond
    what the photo can tell, times the share of the picture that they cover."""
    goal = {t.pile: goal_of(document, pile_of(document, t.pile)) for t in taken}
    off = {t.pile: float(ciede2000(np.array(t.lab), np.array(goal[t.pile]))) for t in taken}
    ml = document.mixed.branching.ml if document.mixed.branching is not None else {}
    most = max(ml.values(), default=1.0)

    def weight(t: Taken) -> float:
        return max(off[t.pile] - t.noise, 0.0) * (0.3 + 0.7 * ml.get(t.pile, 0.0) / most)

    return [(t, off[t.pile]) for t in sorted(taken, key=weight, reverse=True)]
