"""The order of adding of a pile of the strings: what goes in first, and what it looks like after each addition."""

from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.mixing.recipe.recipe import Ingredient
from ochre_stone.core.mixing.session.adding import Step, adding, pool
from ochre_stone.core.mixing.strings.targets import Pile
from ochre_stone.core.paint.predict import spectra
from ochre_stone.core.project.document import Document
from ochre_stone.core.project.planning import session_tubes


def steps_of(document: Document, pile: Pile) -> list[Step]:
    """Additions of a pile's recipe in order; ingredients may be tubes, tints of the recipe, or other piles of the
    document. Tubes count as the session's readings show them."""
    tubes = session_tubes(document)
    by_id = {t.id: t for t in tubes}
    piles = {q.id: q.recipe.shares for s in document.mixed.strings for q in s.piles}
    tints = {t.id: t.shares for t in pile.recipe.tints}

    def find(item: Ingredient) -> tuple[Array, Array]:
        shares = piles.get(item.id) or tints.get(item.id) or ((item.id, 1.0),)
        known = [by_id.get(i) or document.mixed.tube(i) for i, _ in shares]
        return spectra(known, [c for _, c in shares])

    return adding(pile.recipe, find, pool(tubes), document.mix.chosen().surface)
