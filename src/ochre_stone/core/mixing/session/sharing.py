"""Piles that would be mixed twice: what ends in one mixture is one pile, for all notes that want it."""

from collections.abc import Mapping
from dataclasses import replace

from ochre_stone.core.mixing.recipe.recipe import Ingredient, Recipe
from ochre_stone.core.mixing.session.branching import Branching, MixWay, total
from ochre_stone.core.mixing.strings.targets import Pile


def same_mixture(recipe_of: Mapping[str, Pile]) -> dict[str, str]:
    """Id of each pile that another one makes unnecessary, and of that one; ``recipe_of``: piles by id, the one that is
    mixed first in front. A pile of nothing but another is that other one, and one recipe is mixed once; what the
    painter chose stays."""
    shared: dict[str, str] = {}
    known: dict[tuple[tuple[str, float], ...], str] = {}
    for i, p in recipe_of.items():
        inside = p.recipe.ingredients
        key = tuple(sorted((x.id, x.parts) for x in inside))
        if p.pinned or p.target.origin == "rule":  # a rung of a ladder stands for its place in it
            known.setdefault(key, i)
        elif len(inside) == 1 and inside[0].is_pile and inside[0].id in recipe_of:
            shared[i] = shared.get(inside[0].id, inside[0].id)
        elif key in known:
            shared[i] = known[key]
        else:
            known[key] = i
    return shared


def with_shared(piles: Mapping[str, Pile], shared: Mapping[str, str]) -> dict[str, Pile]:
    """The piles that stay, with the notes of those that they stand for."""
    out = dict(piles)
    for gone, kept in shared.items():
        stays, goes = out[kept], out.pop(gone)
        notes = tuple(dict.fromkeys((*stays.target.notes, *goes.target.notes)))
        target = replace(stays.target, notes=notes, origin="note" if notes else stays.target.origin)
        out[kept] = replace(stays, target=target)
    return {i: replace(p, recipe=_from_what_stays(p.recipe, shared)) for i, p in out.items()}


def _from_what_stays(recipe: Recipe, shared: Mapping[str, str]) -> Recipe:
    """The recipe with the piles that stay; what was drawn from two that are one now is drawn from that."""
    if not any(x.id in shared for x in recipe.ingredients):
        return recipe
    inside: dict[str, Ingredient] = {}
    for x in recipe.ingredients:
        kept = shared.get(x.id, x.id)
        there = inside.get(kept)
        inside[kept] = replace(x, id=kept) if there is None else replace(there, parts=there.parts + x.parts)
    return replace(recipe, ingredients=tuple(inside.values()))


def without(
    plan: Branching, ways: Mapping[str, MixWay], shared: Mapping[str, str], need: Mapping[str, float]
) -> Branching:
    """The plan without the piles that others stand for; their paint is counted with those."""
    wanted = dict(need)
    for gone, kept in shared.items():
        wanted[kept] = wanted.get(kept, 0.0) + wanted.pop(gone, 0.0)
    order = tuple(i for i in plan.order if i not in shared)
    chosen = {}
    for i in order:
        drawn: dict[str, float] = {}
        for q, share in ways[i].draws:
            drawn[shared.get(q, q)] = drawn.get(shared.get(q, q), 0.0) + share
        chosen[i] = replace(ways[i], draws=tuple(drawn.items()))
    cost, ml = total(chosen, wanted)
    return replace(plan, chosen=chosen, order=order, cost=cost, ml=ml, bound=min(plan.bound, cost))
