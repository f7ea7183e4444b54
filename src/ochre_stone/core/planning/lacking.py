"""What the plan does not give, and how it is noted: places of the picture that no pile comes near."""

from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import Lab, as_lab
from ochre_stone.core.document.document import Document, Note
from ochre_stone.core.mixing.recipe.search import searcher
from ochre_stone.core.picture.picture import Picture
from ochre_stone.core.placing.missing import MissingPlace, missing_places
from ochre_stone.core.planning.blockin import LaidIn, looked_at
from ochre_stone.core.planning.naming import note_name
from ochre_stone.core.planning.noting import guess_role, read_note
from ochre_stone.core.planning.planning import session_terms
from ochre_stone.core.planning.rows import note_targets

_SURE = 0.5
_REACHED = 4.0
"""CIEDE2000 from the nearest of the palette's grid of mixtures within which it reaches a colour."""


@dataclass(frozen=True, eq=False)
class Lacking:
    """A colour that the plan does not give."""

    place: MissingPlace
    x: float
    """Share of the width, and of the height."""
    y: float
    name: str
    """What lies there, in painters' words."""

    @property
    def words(self) -> str:
        """ "12% of the picture, off by 11, with a note 7"."""
        p = self.place
        area = f"{p.area:.0%}" if p.area >= 0.01 else "under 1%"
        return f"{area} of the picture, off by {p.off:.0f}, with a note {p.left:.0f}"


@dataclass(frozen=True, eq=False)
class AllLacking:
    """What is missing, the most worth first, and what no note would mend."""

    found: tuple[Lacking, ...]
    beyond: float

    @property
    def words(self) -> str:
        """What is beyond the palette, in a sentence; "" where that is next to nothing."""
        if self.beyond < 0.01:
            return ""
        return f"{self.beyond:.0%} of the picture is out of this palette's reach: no note mends that."


def lacking(picture: Picture, document: Document, laid: LaidIn, most: int = 5) -> AllLacking:
    """What a document's plan does not give of its picture."""
    looked = looked_at(picture, document)
    terms = session_terms(document)
    search = searcher(terms.tubes, terms.most, terms.finish)

    def reach(lab: Lab) -> Lab:
        near = search.roughly(np.array(lab))  # the grid of its mixtures tells enough
        return lab if float(ciede2000(near, np.array(lab))) < _REACHED else as_lab(near)

    # What the painter left without a pile is not missed.
    left = [goal for n, goal in zip(document.notes, note_targets(document), strict=True) if n.pile == "none"]
    found = missing_places(looked.ground, np.vstack([laid.colours, *left]), reach, most)
    h, w = looked.ground.thing.shape
    out = []
    for p in found.places:
        thing = looked.things.at(p.row, p.column)
        colour = read(p.lab).name
        name = f"{thing.subject}, {colour}" if thing.sure >= _SURE and thing.subject != "other" else colour
        out.append(Lacking(p, (p.column + 0.5) / w, (p.row + 0.5) / h, name))
    return AllLacking(tuple(out), found.beyond)


def note_of_lacking(picture: Picture, document: Document, one: Lacking) -> Note:
    """The note of a place that is missed, as it would be suggested there."""
    looked = looked_at(picture, document)
    thing = looked.things.at(one.place.row, one.place.column)
    x, y, aperture, _ = looked.melted.spot(one.place.row, one.place.column, one.place.free)
    note = read_note(picture, document, x, y, aperture)
    subject = thing.subject if thing.sure >= _SURE else "other"
    role = guess_role(read(note.lab).value, thing.division, subject)
    name = note_name(subject, role, note.lab, document.notes)
    return note.model_copy(update={"subject": subject, "role": role, "name": name, "share": one.place.area})
