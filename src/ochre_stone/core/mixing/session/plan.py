"""The whole session: every string's piles from tubes, then one plan of what is mixed on from what, then the recipes.

Targets come in as rows; each row is built by its method. The order is that of the work: rows in turn, in each its first
pile as the school has it, and nothing before the pile that it goes on from.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.mixing.recipe.finding import (
    REACH,
    VALUE_OFF,
    Wishes,
    from_pile,
    onward_pairs,
    recipe_of,
    recipes,
    start_onward,
)
from ochre_stone.core.mixing.recipe.recipe import TINT, Recipe, Source, tint_of
from ochre_stone.core.mixing.recipe.search import weighted_error
from ochre_stone.core.mixing.recipe.sources import Sources, Terms
from ochre_stone.core.mixing.session.branching import Branching, Way, branch, sequence, total
from ochre_stone.core.mixing.strings.methods import Kit, kit
from ochre_stone.core.mixing.strings.targets import MixString, Pile, PileTarget
from ochre_stone.core.mixing.technique.loose import loosely
from ochre_stone.core.paint.optics import SATIN
from ochre_stone.core.paint.tubes import Tube

_TINTS_PER_STRING = 2
_EFFORT, _MORE = 10, 60
_PARENTS = 5
"""Piles nearby that are tried as parents."""
_NEARBY = 32.0
"""CIELAB distance, value counted twice, beyond which a pile is no parent."""
_LEAST_DRAW, _SMALL = 0.15, 0.035
_NOTHING = 0.004
"""Share of a pile below which an addition is none."""
_SAME_TARGET = 2.0
"""CIEDE2000 by which a pinned pile's target may move."""
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
class Session:
    """What is planned."""

    strings: tuple[MixString, ...]
    branching: Branching
    kits: Mapping[str, Kit] = field(default_factory=dict)


def plan_session(
    rows: Sequence[Row],
    terms: Terms,
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
    tick = _Ticks(max(1, 3 * sum(len(r.goals) for r in rows)), progress)
    held = {p.pile: p for p in pins}
    drafts = []
    for r in rows:
        allowed = kit(r.method, [g.lab for g in r.goals], terms.tubes, r.mother, terms.finish, terms.order)
        drafts.append(_from_tubes(r, allowed, terms, held, tick))
    piles = [p for d in drafts for p in d.piles]
    want = need or {p.id: 0.0 for p in piles}
    ways = _ways(drafts, terms, tick) if mix_on else {p.id: [_tubes_way(p)] for p in piles}
    plan = branch(ways, want) if piles else Branching({}, {}, 0.0, 0.0, 0.0)
    order = sequence(plan.chosen, [p.id for d in drafts for p in _in_turn(d.piles, d.row.first)])
    final, chosen = _mixed_on(drafts, plan.chosen, order, ways, terms, tick)
    if chosen != dict(plan.chosen):  # what rounding sent back to the tubes is counted as it is
        cost, ml = total(chosen, want)
        plan = replace(plan, chosen=chosen, cost=cost, ml=ml)
    turn = {pile_id: k for k, pile_id in enumerate(order, 1)}
    strings = tuple(_string(d, final, turn) for d in drafts)
    return Session(strings, replace(plan, order=tuple(order)), {d.row.id: d.kit for d in drafts})


class _Ticks:
    """Tells progress, a step at a time."""

    def __init__(self, steps: int, progress: Callable[[float], None]) -> None:
        self._done, self._steps, self._progress = 0, steps, progress

    def __call__(self) -> None:
        self._done += 1
        self._progress(min(1.0, self._done / self._steps))


@dataclass(frozen=True)
class _Draft:
    """A row with its piles from tubes."""

    row: Row
    kit: Kit
    piles: tuple[Pile, ...]
    tints: tuple[Tube, ...]
    """Paints whose tint piles it uses."""


# From tubes


def _from_tubes(row: Row, allowed: Kit, terms: Terms, pins: Mapping[str, Pin], tick: Callable[[], None]) -> _Draft:
    """Recipes from tubes for a row: first as if any tint pile could be made, then with those that most piles want."""
    firsts = []
    wanted: dict[str, int] = {}
    for goal in row.goals:
        firsts.append(_find(row, goal, allowed, terms, None))
        for s in firsts[-1][1][0].tints:
            wanted[s.id] = wanted.get(s.id, 0) + 1
        tick()
    kept = sorted(wanted, key=lambda i: -wanted[i])[:_TINTS_PER_STRING]
    piles = []
    for n, (goal, (reachable, found)) in enumerate(zip(row.goals, firsts, strict=True), 1):
        more = [s.id for s in found[0].tints if s.id not in kept]
        if more:
            again = _find(row, goal, allowed, terms, _paints(allowed, kept))
            if reachable and not again[0]:  # bringing a pile into reach is worth one more tint pile
                kept += more
            else:
                reachable, found = again
        found = [found[0], *(r for r in found[1:] if all(s.id in kept for s in r.tints))]
        pile_id = f"{row.id}-{n}"
        pin = pins.get(pile_id)
        chosen = _pinned(pin, goal, terms, reachable) if pin is not None else None
        if chosen is not None:
            rest = [r for r in found if r.ingredients != chosen.ingredients]
            piles.append(Pile(pile_id, goal, chosen, tuple(rest), reachable, n, True))
        else:
            piles.append(Pile(pile_id, goal, found[0], tuple(found[1:]), reachable, n))
    return _Draft(row, allowed, tuple(piles), _paints(allowed, kept))


def _paints(allowed: Kit, tints: Sequence[str]) -> tuple[Tube, ...]:
    """The tubes that tint piles, by their ids, are made of."""
    return tuple(t for t in allowed.tubes if f"{TINT}{t.id}" in tints)


def _find(
    row: Row, goal: PileTarget, allowed: Kit, terms: Terms, tints: tuple[Tube, ...] | None
) -> tuple[bool, list[Recipe]]:
    """Recipes of a pile by its row's method; where few do not match at the first look, all are rounded."""
    tubes = allowed.tubes
    if row.method == "parents":
        pair = loosely(goal.lab, terms.tubes, terms.finish or SATIN, 1, stirred=True, order=terms.order)
        if pair:
            held = {i for p in (pair[0].first, pair[0].second) for i, _ in p.shares}
            tubes = tuple(t for t in terms.tubes if t.id in held)
    within = replace(terms, tubes=tubes)
    wishes = Wishes(count=4, effort=_EFFORT, tints=tints, mother=allowed.mother)
    answer = recipes(np.array(goal.lab), within, wishes)
    if answer[0] and answer[1][0].de00 > REACH:
        answer = recipes(np.array(goal.lab), within, replace(wishes, effort=_MORE, by_parts=True))
    return answer


def _pinned(pin: Pin, goal: PileTarget, terms: Terms, reachable: bool) -> Recipe | None:
    """The pinned recipe, where its tubes are still there and its target has hardly moved."""
    if float(ciede2000(np.array(pin.target), np.array(goal.lab))) > _SAME_TARGET:
        return None
    ids = {t.id for t in terms.tubes}
    if any(i.removeprefix(TINT) not in ids for i, _ in pin.parts):
        return None
    return recipe_of(dict(pin.parts), np.array(goal.lab), terms, reachable)


# From other piles


def _ways(drafts: Sequence[_Draft], terms: Terms, tick: Callable[[], None]) -> dict[str, list[Way]]:
    """For every pile its ways: from tubes, and from piles nearby."""
    every = [(p, d) for d in drafts for p in d.piles]
    lab = np.array([p.target.lab for p, _ in every])
    strong = frozenset(t.id for t in terms.tubes if t.is_strong)
    out: dict[str, list[Way]] = {}
    for i, (p, d) in enumerate(every):
        out[p.id] = [_measured_way(p, strong)]
        tick()
        if p.pinned or d.row.method != "nearest":
            continue
        far = np.linalg.norm((lab - lab[i]) * np.array([2.0, 1.0, 1.0]), axis=1)
        near = [every[j][0] for j in np.argsort(far) if j != i and far[j] < _NEARBY][:_PARENTS]
        if near:
            out[p.id] += _onward(p, near, d.tints, terms, strong)
    return out


def _measured_way(p: Pile, strong: frozenset[str]) -> Way:
    """A pile's recipe from tubes, with its doses of strong paint and those too small to measure well."""
    items = p.recipe.ingredients
    whole = sum(x.parts for x in items)
    small = sum(x.parts / whole < _SMALL for x in items)
    return Way("", 0.0, len(items), sum(x.id in strong for x in items), small)


def _onward(p: Pile, near: Sequence[Pile], tints: Sequence[Tube], terms: Terms, strong: frozenset[str]) -> list[Way]:
    """Ways to a pile from those nearby, with one or two tubes or tints of its string."""
    white = terms.white
    extra = [tint_of(t, white) for t in tints if white is not None]
    extra += [Source(q.id, q.id, q.recipe.shares) for q in near]
    sources = Sources.of(terms, extra)
    n = len(terms.tubes) + len(extra) - len(near)
    index = np.concatenate([onward_pairs(sources, n + k) for k in range(len(near))])
    if not len(index):
        return []
    goal = np.array(p.target.lab)
    now = float(weighted_error(np.array(p.recipe.lab), np.array(p.recipe.target)))
    errors, shares = sources.paints.refine(goal, start_onward(sources, index, [0.6, 0.2, 0.2]), index, 6, True)
    out = []
    for k, q in enumerate(near):
        mine = np.flatnonzero((index[:, 0] == n + k) & (shares[:, 0] >= _LEAST_DRAW))
        if not len(mine):
            continue
        used = shares[mine, 1:] > _NOTHING
        small = (used & (shares[mine, 1:] < _SMALL)).sum(axis=1)
        price = 0.8 * np.maximum(errors[mine] - now, 0) + used.sum(axis=1) + 0.5 * small
        best = int(np.argmin(price))
        at = mine[best]
        miss = max(float(errors[at]) - now, 0.0)
        with_ = tuple(sources.ids[int(x)] for x, on in zip(index[at][1:], used[best], strict=True) if on)
        if with_ and miss <= _WORSE:
            doses = sum(x in strong for x in with_)
            out.append(Way(q.id, float(shares[at][0]), 1 + len(with_), doses, int(small[best]), miss, with_))
    return out


def _mixed_on(
    drafts: Sequence[_Draft], planned: Mapping[str, Way], order: Sequence[str], ways: Mapping[str, Sequence[Way]],
    terms: Terms, tick: Callable[[], None],
) -> tuple[dict[str, Pile], dict[str, Way]]:  # fmt: skip
    """The piles with the recipes of the plan, in its order; what rounding spoils starts from tubes after all."""
    draft_of = {p.id: d for d in drafts for p in d.piles}
    final = {p.id: p for d in drafts for p in d.piles}
    names = {p.id: f"{d.row.name.lower()} {n}" for d in drafts for n, p in enumerate(d.piles, 1)}
    chosen = dict(planned)
    for pile_id in order:
        way, p = chosen[pile_id], final[pile_id]
        tick()
        if not way.parent:
            continue
        parent = Source(way.parent, names[way.parent], final[way.parent].recipe.shares)
        tints = draft_of[pile_id].tints
        recipe = from_pile(np.array(p.target.lab), terms, parent, way.with_, tints, p.reachable)
        if recipe is None or _gives_away(recipe, p):
            chosen[pile_id] = ways[pile_id][0]
        else:
            final[pile_id] = replace(p, recipe=recipe, alternatives=(p.recipe, *p.alternatives)[:4])
    return final, chosen


def _gives_away(recipe: Recipe, p: Pile) -> bool:
    """Whether mixing on, rounded, costs more colour than it may: a pile in reach stays matched."""
    if p.reachable and p.recipe.de00 <= REACH < recipe.de00:
        return True
    if p.reachable and abs(p.recipe.value_error) <= VALUE_OFF < abs(recipe.value_error):
        return True
    goal = np.array(p.target.lab)
    now = float(weighted_error(np.array(p.recipe.lab), goal))
    return float(weighted_error(np.array(recipe.lab), goal)) > now + _WORSE


def _tubes_way(p: Pile) -> Way:
    return Way("", 0.0, len(p.recipe.ingredients))


# Put together


def _in_turn(piles: Sequence[Pile], first: str) -> list[Pile]:
    n = len(piles)
    return [piles[i] for i in sorted(range(n), key=lambda i: _FIRST[first](i, n))]


def _string(draft: _Draft, final: Mapping[str, Pile], turn: Mapping[str, int]) -> MixString:
    """The string of a row, with the tint piles that its recipes use in the end."""
    piles = tuple(replace(final[p.id], order=turn[p.id]) for p in draft.piles)
    used = {t.id: t for p in piles for t in p.recipe.tints}
    row = draft.row
    return MixString(row.id, row.name, piles, tuple(used.values()), row.method, draft.kit.words)
