"""The order of adding of a pile of the strings: what goes in first, and what it looks like after each addition."""

from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.spaces import Array, Lab, as_lab
from ochre_stone.core.document.document import Document
from ochre_stone.core.mixing.recipe.recipe import PARENT, Ingredient, Source
from ochre_stone.core.mixing.session.adding import Step, adding, making, pool
from ochre_stone.core.mixing.session.amounts import Amounts
from ochre_stone.core.mixing.strings.targets import Pile
from ochre_stone.core.paint.optics import layer_lab
from ochre_stone.core.paint.predict import spectra
from ochre_stone.core.planning.planning import note_shares, paint_needed, session_tubes


def steps_of(document: Document, pile: Pile, needed: Amounts | None = None) -> list[Step]:
    """What is done for a pile's recipe, in order; ingredients may be tubes, base piles of the recipe, or other piles of
    the document. Tubes count as the session's readings show them. ``needed``: paint for the whole plan; where it is
    not known yet, by the shares of the notes."""
    tubes, mixed = session_tubes(document), document.mixed
    by_id = {t.id: t for t in tubes}
    piles = {q.id: q.recipe.shares for s in mixed.strings for q in s.piles}
    bases = {b.id: b.shares for b in pile.recipe.bases}

    def find(item: Ingredient) -> tuple[Array, Array]:
        shares = piles.get(item.id) or bases.get(item.id) or ((item.id, 1.0),)
        known = [by_id.get(i) or mixed.tube(i) for i, _ in shares]
        return spectra(known, [c for _, c in shares])

    string = next((s for s in mixed.strings if any(q.id == pile.id for q in s.piles)), None)
    paint = needed or paint_needed(document, note_shares(document), {})
    surface, hand = document.mix.chosen().surface, document.mix.hand.made()
    mother = string.mother if string is not None else ""
    steps = adding(pile.recipe, find, pool(tubes), surface, paint.piles.get(pile.id, 0.0), hand, mother)
    makes = []
    for base in bases_before(document).get(pile.id, ()):
        lab = as_lab(layer_lab(*find(Ingredient(base.id, base.name, 1.0, True)), surface))
        words = _made_for(document, base, lab, paint.bases.get(base.id, 0.0))
        makes.append(making(base, lambda i: (by_id.get(i) or mixed.tube(i)).short, lab, words))
    return [*makes, *steps]


def bases_before(document: Document) -> dict[str, list[Source]]:
    """Base piles by the pile before which they are made: the first that wants them."""
    out: dict[str, list[Source]] = {}
    there: set[str] = set()
    for p in sorted((p for s in document.mixed.strings for p in s.piles), key=lambda p: p.order):
        for base in p.recipe.bases:
            if base.id not in there:
                there.add(base.id)
                out.setdefault(p.id, []).append(base)
    return out


def _made_for(document: Document, base: Source, lab: Lab, ml: float) -> str:
    """What a base pile is made for, and how much of it."""
    if base.id.startswith(PARENT):
        return f"{ml:.1f} ml, to value {float(value_of_lightness(lab[0])):.1f}: compare it with the other parent"
    users = [q for s in document.mixed.strings for q in s.piles if any(b.id == base.id for b in q.recipe.bases)]
    many = f"for {len(users)} piles" if len(users) > 1 else "for this pile"
    return f"{ml:.1f} ml, {many}"
