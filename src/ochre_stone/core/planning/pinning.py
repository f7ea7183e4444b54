"""Recipes that the painter chose: kept with the document, and put into its strings."""

from dataclasses import replace

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.document.choices import PinChoice
from ochre_stone.core.document.document import Document
from ochre_stone.core.mixing.recipe.recipe import Recipe
from ochre_stone.core.mixing.session.branching import MixWay
from ochre_stone.core.mixing.session.drafting import SAME_TARGET, brought_into
from ochre_stone.core.mixing.strings.targets import Pile
from ochre_stone.core.planning.rows import fingerprint, is_current


def choose_recipe(document: Document, pile_id: str, recipe: Recipe) -> Document:
    """The document with another recipe, from tubes, chosen for a pile; it stays when strings are worked out anew.

    Raises ValueError for a recipe that draws from another pile, and KeyError for an unknown pile.
    """
    if _goes_on(recipe):
        raise ValueError("a recipe that goes on from another pile cannot be kept: choose one from tubes")
    pile = pile_of(document, pile_id)
    counted = any(not b.is_tint for b in recipe.bases)  # what is made for one method alone is taken apart
    parts = tuple(recipe.tube_parts.items()) if counted else tuple((i.id, i.parts) for i in recipe.ingredients)
    mine = PinChoice(pile=pile_id, parts=parts, target=pile.target.lab)
    pins = (*(p for p in document.mix.pins if p.pile != pile_id), mine)
    return _with_pins(document, pins, replace(pile, recipe=recipe, pinned=True))


def _goes_on(recipe: Recipe) -> bool:
    return any(i.is_pile and not i.is_base for i in recipe.ingredients)


def let_go(document: Document, pile_id: str) -> Document:
    """The document in which the plan chooses a pile's recipe again."""
    pins = tuple(p for p in document.mix.pins if p.pile != pile_id and not _brought_here(document, p, pile_id))
    return document.model_copy(update={"mix": document.mix.model_copy(update={"pins": pins})})


def _brought_here(document: Document, pin: PinChoice, pile_id: str) -> bool:
    """Whether a pile that was brought in from elsewhere stands there."""
    if not brought_into(pin.pile, pile_id.rpartition("-")[0]):
        return False
    return float(ciede2000(np.array(pin.target), np.array(pile_of(document, pile_id).target.lab))) <= SAME_TARGET


def pile_of(document: Document, pile_id: str) -> Pile:
    """A pile of the strings; KeyError where there is none."""
    for s in document.mixed.strings:
        for p in s.piles:
            if p.id == pile_id:
                return p
    raise KeyError(pile_id)


def _with_pins(document: Document, pins: tuple[PinChoice, ...], pile: Pile) -> Document:
    """Pins, and the strings with one pile changed; current at once where nothing is mixed on from it."""
    new = document.model_copy(update={"mix": document.mix.model_copy(update={"pins": pins})})
    old = pile_of(document, pile.id)
    if any(i.id == pile.id for s in document.mixed.strings for p in s.piles for i in p.recipe.ingredients):
        return new  # what goes on from it has to be worked out anew
    rest = tuple(a for a in old.alternatives if a.ingredients != pile.recipe.ingredients)
    pile = replace(pile, alternatives=rest if _goes_on(old.recipe) else (old.recipe, *rest))
    strings = []
    for s in document.mixed.strings:
        piles = tuple(pile if p.id == pile.id else p for p in s.piles)
        bases = {b.id: b for p in piles for b in p.recipe.bases}
        strings.append(replace(s, piles=piles, bases=tuple(bases.values())))
    plan = document.mixed.branching
    if plan is not None and pile.id in plan.chosen:
        way = MixWay((), len(pile.recipe.ingredients))
        cost = plan.cost + way.cost - plan.chosen[pile.id].cost
        plan = replace(plan, chosen={**plan.chosen, pile.id: way}, cost=cost, bound=0.0)
    ready = is_current(document)
    mixed = document.mixed.model_copy(
        update={
            "strings": tuple(strings),
            "branching": plan,
            "fingerprint": fingerprint(new) if ready else document.mixed.fingerprint,
        }
    )
    return new.model_copy(update={"mixed": mixed})
