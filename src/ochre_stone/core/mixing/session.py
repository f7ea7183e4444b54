"""The whole session: every string's piles from tubes, then one plan of what is mixed on from what, then the recipes.

Targets come in as rows; each row is built by its method. The order is that of the work: rows in turn, in each its first
pile as the school has it, and nothing before the pile that it goes on from.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.mixing.branching import Branching, Way, branch, sequence, total
from ochre_stone.core.mixing.luminous import loosely
from ochre_stone.core.mixing.methods import Kit, kit
from ochre_stone.core.mixing.recipe import (
    REACH,
    VALUE_OFF,
    Bench,
    Recipe,
    Source,
    from_pile,
    onward_pairs,
    recipe_of,
    recipes,
    start_onward,
    tint_of,
)
from ochre_stone.core.mixing.search import weighted_error
from ochre_stone.core.mixing.strings import MixString, Pile, PileTarget
from ochre_stone.core.paint.optics import SATIN, Surface
from ochre_stone.core.paint.tubes import Tube

_TINTS_PER_STRING = 2
_EFFORT, _MORE = 10, 60
_PARENTS = 5
"""Piles nearby that are tried as parents."""
_NEARBY = 32.0
"""CIELAB distance, value counted twice, beyond which a pile is no parent."""
_LEAST_DRAW, _SMALL = 0.15, 0.035
_WORSE = 1.2
"""Weighted CIEDE2000 that mixing on may cost before the pile starts from tubes after all."""
_FIRST: dict[str, Callable[[int, int], float]] = {
    "middle": lambda i, n: abs(i - (n - 1) // 2) + 0.1 * (i < (n - 1) // 2),
    "lightest": lambda i, n: float(n - i),
    "darkest": lambda i, n: float(i),
}
FIRST = tuple(_FIRST)


@dataclass(frozen=True)
class Pin:
    """A pile that the painter chose or mixed: its tubes and tints with their parts."""

    pile: str
    parts: tuple[tuple[str, float], ...]
    target: tuple[float, float, float]
    """What it was chosen for: it is let go where the pile is wanted elsewhere now."""


@dataclass(frozen=True)
class Row:
    """A string as wanted."""

    id: str
    name: str
    goals: tuple[PileTarget, ...]
    method: str = "nearest"
    mother: str = ""
    first: str = "middle"
    """Which pile is mixed first, a key of ``FIRST``."""


@dataclass(frozen=True)
class Bounds:
    """What all recipes of a session share."""

    tubes: tuple[Tube, ...]
    palette_name: str
    most: int = 4
    finish: Surface | None = None
    order: str = "value"


@dataclass(frozen=True)
class Session:
    """What is planned."""

    strings: tuple[MixString, ...]
    branching: Branching
    kits: Mapping[str, Kit] = field(default_factory=dict)


def _row_piles(row: Row, kit_: Kit, b: Bounds, pins: Mapping[str, Pin],
               tick: Callable[[], None]) -> tuple[list[Pile], list[Tube]]:  # fmt: skip
    """Recipes from tubes for a row, and the paints whose tint piles it uses."""

    def find(goal: PileTarget, tints: Sequence[Tube] | None) -> tuple[bool, list[Recipe]]:
        tubes: Sequence[Tube] = kit_.tubes
        if row.method == "parents":
            pair = loosely(goal.lab, b.tubes, b.finish or SATIN, 1, stirred=True, order=b.order)
            if pair:
                held = {i for p in (pair[0].first, pair[0].second) for i, _ in p.shares}
                tubes = [t for t in b.tubes if t.id in held]
        for effort in (_EFFORT, _MORE):  # few pass the first look and not match: then all are rounded
            answer = recipes(np.array(goal.lab), tubes, b.most, 4, tints, b.palette_name, effort, b.finish, b.order,
                             None, kit_.mother, effort == _MORE)  # fmt: skip
            if not answer[0] or answer[1][0].de00 <= REACH:
                break
        return answer

    firsts = []
    wanted: dict[str, int] = {}
    for goal in row.goals:
        firsts.append(find(goal, None))
        for s in firsts[-1][1][0].tints:
            wanted[s.id] = wanted.get(s.id, 0) + 1
        tick()
    kept = sorted(wanted, key=lambda i: -wanted[i])[:_TINTS_PER_STRING]
    tints = [t for t in kit_.tubes if f"tint-{t.id}" in kept]
    piles = []
    for n, (goal, (reachable, found)) in enumerate(zip(row.goals, firsts, strict=True), 1):
        if any(s.id not in kept for s in found[0].tints):
            reachable, found = find(goal, tints)
        found = [found[0], *(r for r in found[1:] if all(s.id in kept for s in r.tints))]
        pile_id = f"{row.id}-{n}"
        pin = pins.get(pile_id)
        chosen = _pinned(pin, goal, b, reachable) if pin is not None else None
        if chosen is not None:
            rest = [r for r in found if r.ingredients != chosen.ingredients]
            piles.append(Pile(pile_id, goal, chosen, tuple(rest), reachable, n, True))
        else:
            piles.append(Pile(pile_id, goal, found[0], tuple(found[1:]), reachable, n))
    return piles, tints


def _pinned(pin: Pin, goal: PileTarget, b: Bounds, reachable: bool) -> Recipe | None:
    """The pinned recipe, where its tubes are still there and its target has hardly moved."""
    if float(ciede2000(np.array(pin.target), np.array(goal.lab))) > 2.0:
        return None
    ids = {t.id for t in b.tubes}
    if any(i.removeprefix("tint-") not in ids for i, _ in pin.parts):
        return None
    return recipe_of(dict(pin.parts), np.array(goal.lab), b.tubes, b.palette_name, b.finish, b.order, reachable)


def _ways(piles: Sequence[Pile], tints: Mapping[str, Sequence[Tube]], rows: Mapping[str, Row], b: Bounds,
          tick: Callable[[], None]) -> dict[str, list[Way]]:  # fmt: skip
    """For every pile its ways: from tubes, and from piles nearby."""
    lab = np.array([p.target.lab for p in piles])
    strong = {t.id for t in b.tubes if t.is_strong}
    white = next((t for t in b.tubes if t.is_white), None)
    out: dict[str, list[Way]] = {}
    for i, p in enumerate(piles):
        string = p.id.rsplit("-", 1)[0]
        items = p.recipe.ingredients
        whole = sum(x.parts for x in items)
        small = sum(x.parts / whole < _SMALL for x in items)
        error = float(weighted_error(np.array(p.recipe.lab), np.array(p.recipe.target)))
        from_tubes = Way("", 0.0, len(items), sum(x.id in strong for x in items), small)
        out[p.id] = [from_tubes]
        tick()
        if p.pinned or rows[string].method != "nearest":
            continue
        far = np.linalg.norm((lab - lab[i]) * np.array([2.0, 1.0, 1.0]), axis=1)
        near = [j for j in np.argsort(far) if j != i and far[j] < _NEARBY][:_PARENTS]
        if not near:
            continue
        # Only what the pile's own way holds, or what it might lean on: its tubes, white, and the string's tints.
        sources = [tint_of(t, white) for t in tints.get(string, ()) if white is not None]
        sources += [Source(piles[j].id, piles[j].id, piles[j].recipe.shares) for j in near]
        bench = Bench.of(b.tubes, sources, b.most, b.finish, b.order)
        n = len(b.tubes) + len(sources) - len(near)
        index = np.concatenate([onward_pairs(bench, n + k, b.most) for k in range(len(near))])
        if not len(index):
            continue
        goal = np.array(p.target.lab)
        errors, shares = bench.paints.refine(goal, start_onward(bench, index, [0.6, 0.2, 0.2]), index, 6, True)
        for k, j in enumerate(near):
            mine = np.flatnonzero((index[:, 0] == n + k) & (shares[:, 0] >= _LEAST_DRAW))
            if not len(mine):
                continue
            c = shares[mine]
            used = c[:, 1:] > 0.004
            small_ones = (used & (c[:, 1:] < _SMALL)).sum(axis=1)
            price = 0.8 * np.maximum(errors[mine] - error, 0) + used.sum(axis=1) + 0.5 * small_ones
            at = mine[int(np.argmin(price))]
            miss = max(float(errors[at]) - error, 0.0)
            if miss > _WORSE:
                continue
            with_ = [int(x) for x, share in zip(index[at][1:], shares[at][1:], strict=True) if share > 0.004]
            names = [b.tubes[x].id if x < len(b.tubes) else sources[x - len(b.tubes)].id for x in with_]
            if not names:
                continue
            out[p.id].append(
                Way(piles[j].id, float(shares[at][0]), 1 + len(names), sum(x in strong for x in names),
                    int(small_ones[int(np.flatnonzero(mine == at)[0])]), miss, tuple(names))
            )  # fmt: skip
    return out


def plan_session(
    rows: Sequence[Row],
    bounds: Bounds,
    need: Mapping[str, float] | None = None,
    pins: Sequence[Pin] = (),
    mix_on: bool = True,
    progress: Callable[[float], None] = lambda share: None,
) -> Session:
    """Strings for ``rows``, each pile with the recipe that the whole plan gives it.

    ``need``: millilitres of each pile on the canvas, by its id (row id, hyphen, number from the dark); ``pins``: piles
    that stay as they are; ``mix_on``: whether piles may go on from other piles. ``progress`` gets 0..1 and may raise
    to cancel.
    """
    count = sum(len(r.goals) for r in rows)
    done, steps = 0, max(1, 3 * count)

    def tick() -> None:
        nonlocal done
        done += 1
        progress(min(1.0, done / steps))

    by_id = {r.id: r for r in rows}
    held = {p.pile: p for p in pins}
    b = bounds
    kits = {
        r.id: kit(r.method, [g.lab for g in r.goals], b.tubes, r.mother, b.finish, b.order) for r in rows
    }  # fmt: skip
    made: dict[str, list[Pile]] = {}
    tints: dict[str, list[Tube]] = {}
    for r in rows:
        made[r.id], tints[r.id] = _row_piles(r, kits[r.id], b, held, tick)
    piles = [p for r in rows for p in made[r.id]]
    want = need or {p.id: 0.0 for p in piles}
    ways = _ways(piles, tints, by_id, b, tick) if mix_on else {p.id: [_tubes_way(p)] for p in piles}
    plan = branch(ways, want) if piles else Branching({}, {}, 0.0, 0.0, 0.0)
    wish = [p.id for r in rows for p in _in_turn(made[r.id], r.first)]
    order = sequence(plan.chosen, wish)
    final = {p.id: p for p in piles}
    names = {p.id: f"{r.name.lower()} {n}" for r in rows for n, p in enumerate(made[r.id], 1)}
    chosen = dict(plan.chosen)
    for pile_id in order:
        way, p = chosen[pile_id], final[pile_id]
        tick()
        if not way.parent:
            continue
        parent = Source(way.parent, names[way.parent], final[way.parent].recipe.shares)
        string = pile_id.rsplit("-", 1)[0]
        recipe = from_pile(np.array(p.target.lab), b.tubes, parent, way.with_, tints[string], b.most, b.palette_name,
                           b.finish, b.order, p.reachable)  # fmt: skip
        now = float(weighted_error(np.array(p.recipe.lab), np.array(p.target.lab)))
        if recipe is None or _gives_away(recipe, p, now):
            chosen[pile_id] = ways[pile_id][0]
            continue
        final[pile_id] = replace(p, recipe=recipe, alternatives=(p.recipe, *p.alternatives)[:4])
    if chosen != dict(plan.chosen):  # what rounding sent back to the tubes is counted as it is
        cost, ml = total(chosen, want)
        plan = replace(plan, chosen=chosen, cost=cost, ml=ml)
    turn = {pile_id: k for k, pile_id in enumerate(order, 1)}
    strings = []
    for r in rows:
        row = tuple(replace(final[p.id], order=turn[p.id]) for p in made[r.id])
        used = {t.id: t for p in row for t in p.recipe.tints}
        strings.append(MixString(r.id, r.name, row, tuple(used.values()), r.method, kits[r.id].words))
    return Session(tuple(strings), replace(plan, order=tuple(order)), kits)


def _gives_away(recipe: Recipe, p: Pile, now: float) -> bool:
    """Whether mixing on, rounded, costs more colour than it may: a pile in reach stays matched."""
    if p.reachable and p.recipe.de00 <= REACH < recipe.de00:
        return True
    if p.reachable and abs(p.recipe.value_error) <= VALUE_OFF < abs(recipe.value_error):
        return True
    return float(weighted_error(np.array(recipe.lab), np.array(p.target.lab))) > now + _WORSE


def _tubes_way(p: Pile) -> Way:
    return Way("", 0.0, len(p.recipe.ingredients))


def _in_turn(piles: Sequence[Pile], first: str) -> list[Pile]:
    n = len(piles)
    return [piles[i] for i in sorted(range(n), key=lambda i: _FIRST[first](i, n))]
