"""Piles mixed loosely: parents that the painter chose, or that come nearest, brought to the pile's value."""

from dataclasses import dataclass

from ochre_stone.core.document.choices import LooseChoice
from ochre_stone.core.document.document import Document
from ochre_stone.core.mixing.recipe.recipe import Source, dose_words
from ochre_stone.core.mixing.strings.targets import Pile
from ochre_stone.core.mixing.technique.loose import Parent, loosely
from ochre_stone.core.mixing.technique.parents import brought_to
from ochre_stone.core.mixing.technique.together import Together, nearest_parts, source_of, together
from ochre_stone.core.paint.optics import USUAL
from ochre_stone.core.planning.planning import session_terms

_PAIRS = 6


@dataclass(frozen=True)
class Loosened:
    """A pile mixed loosely, or why it cannot be."""

    pile: str
    made: Together | None
    names: tuple[str, ...]
    """Of its parents."""
    why: str = ""


def pile_sources(document: Document) -> list[Source]:
    """All piles of the strings, to mix from."""
    return [Source(p.id, p.name, p.recipe.shares) for s in document.mixed.strings for p in s.piles]


def suggested(document: Document, pile: Pile) -> list[tuple[str, str]]:
    """Pairs of tubes whose loose mixture comes nearest to a pile, best first."""
    terms = session_terms(document)
    found = loosely(pile.target.lab, terms.tubes, terms.finish or USUAL, _PAIRS, order=terms.order)
    ids = dict.fromkeys(i for p in found for i in (p.first.tube, p.second.tube))
    there = {i for i in ids if brought_to(source_of(i, terms), pile.target.lab[0], terms) is not None}
    return [(p.first.tube, p.second.tube) for p in found if {p.first.tube, p.second.tube} <= there]


def loosened(document: Document, pile: Pile, parents: tuple[str, ...], parts: tuple[float, ...] = ()) -> Loosened:
    """A pile from two or three ``parents`` (ids of tubes or piles) brought to its value; in the ``parts`` given, or in
    those that come nearest."""
    terms, piles = session_terms(document), pile_sources(document)
    brought: list[Parent] = []
    names = []
    for i in parents:
        try:
            source = source_of(i, terms, piles)
        except KeyError:
            return Loosened(pile.id, None, (), f"“{i}” is on this palette no more: choose another parent.")
        names.append(source.name)
        one = brought_to(source, pile.target.lab[0], terms)
        if one is None:
            why = f"{source.name[0].upper()}{source.name[1:]} cannot be brought to this value: choose another parent."
            return Loosened(pile.id, None, tuple(names), why)
        brought.append(one)
    measured = parts if len(parts) == len(brought) else nearest_parts(brought, pile.target.lab, terms)
    return Loosened(pile.id, together(brought, measured, terms), tuple(names))


def chosen_loose(document: Document) -> list[Loosened]:
    """All piles that are mixed loosely, as far as they still are there."""
    piles = {p.id: p for s in document.mixed.strings for p in s.piles}
    return [loosened(document, piles[c.pile], c.parents, c.parts) for c in document.mix.loose if c.pile in piles]


def with_loose(document: Document, pile_id: str, choice: LooseChoice | None) -> tuple[LooseChoice, ...]:
    """The document's loose mixtures with that of a pile put in place, or taken out."""
    rest = tuple(c for c in document.mix.loose if c.pile != pile_id)
    return rest if choice is None else (*rest, choice)


def brought_words(document: Document, parent: Parent) -> str:
    """A parent as it is made, "1 cadmium red light, 2 white"."""
    piles = {p.id: p.name for p in pile_sources(document)}

    def name(i: str) -> str:
        return piles[i] if i in piles else document.mixed.tube(i).short

    if len(parent.parts) == 1:
        return f"{name(parent.tube)} as it comes"
    return ", ".join(dose_words(name(i), parts, i in piles) for i, parts in parent.parts)
