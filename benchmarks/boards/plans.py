"""Planned palettes to be photographed: the demo, one of earths and one of primaries, piles of near colours close by."""

import functools
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.boardphoto.layout import Layout
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.document.document import Document, MixChoice
from ochre_stone.core.picture.load import load
from ochre_stone.core.picture.picture import Picture
from ochre_stone.core.planning.noting import with_shares
from ochre_stone.core.planning.palettephoto import layout_of
from ochre_stone.core.planning.planning import mix_strings, paint_needed, pile_cover
from ochre_stone.core.planning.suggesting import suggest_notes
from ochre_stone.core.store.files import open_project
from ochre_stone.resources import resource
from tests.support.cases import PHOTOS

NOTES = 30


@dataclass(frozen=True, eq=False)
class Planned:
    """A palette as it is planned."""

    layout: Layout
    shares: dict[str, Array]
    """By pile: shares of its tubes, in their order."""
    tubes: tuple[str, ...]
    K: Array
    S: Array


def planned(picture: Picture, document: Document) -> Planned:
    """The palette of a document whose strings are worked out."""
    needed = paint_needed(document, *pile_cover(picture, document))
    layout = layout_of(document, needed)
    piles = {p.id: dict(p.recipe.shares) for s in document.mixed.strings for p in s.piles}
    tubes = tuple(e.id for e in layout.expected if e.is_tube)
    shares = {e.id: np.array([piles[e.id].get(i, 0.0) for i in tubes]) for e in layout.expected if not e.is_tube}
    made = [document.mixed.tube(i) for i in tubes]
    return Planned(layout, shares, tubes, np.stack([t.K for t in made]), np.stack([t.S for t in made]))


@functools.cache
def plans() -> dict[str, Planned]:
    """By name: the demo, earths, primaries."""
    demo = open_project(resource("demo", "orchard-keeper.ochre"))
    assert demo.picture is not None
    out = {"demo": planned(demo.picture, demo.document)}
    for name, photo, palette in (
        ("earths", "still life", "four-tube-earth"),
        ("primaries", "flower", "three-primaries-black"),
    ):
        picture = load(PHOTOS[photo])
        document = Document(title=name, reference=picture.name, mix=MixChoice(palette=palette))
        document = document.model_copy(update={"notes": suggest_notes(picture, NOTES, document).notes})
        document = with_shares(picture, document)[0]
        document = document.model_copy(update={"mixed": mix_strings(document)})
        out[name] = planned(picture, document)
    return out
