"""Branching: one plan for the whole session, which piles start from tubes and which go on from other piles.

Every pile has a few ways: its recipe from tubes, and one or two piles that are there already with additions of up to
two paints. One way is chosen for each so that the whole costs least: things put on the palette one by one, additions of
strong paint, colour that a hand is expected to lose, and paint that is mixed and not needed: a pile has to be large
enough for its smallest dose. What is taken from a pile is mixed on top of it. A pile goes on only from piles that come
before it in the order of mixing, so there are no circles. This is a mixed integer linear programme: a binary per way,
the millilitres of each pile and of each draw. HiGHS solves it (Huangfu and Hall 2018, Math. Prog. Comp. 10, through
SciPy) and proves the optimum, or leaves a bound. The prices are judgements.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.programme import Programme

PER_STRONG, PER_MISS, PER_ML = 0.5, 1.5, 0.25
"""Prices, in operations: a dose of strong paint; a weighted CIEDE2000 that a hand is expected to be farther off than by
the best way; a millilitre mixed and not needed."""
_TIME = 0.5  # seconds for the solver; what it has then is good, and its bound is told


@dataclass(frozen=True)
class MixWay:
    """One way to a pile."""

    draws: tuple[tuple[str, float], ...]
    """Ids of the piles that it goes on from, and the share of the pile that is drawn from each; empty for tubes."""
    operations: int
    """Things put together."""
    strong: int = 0
    miss: float = 0.0
    """Weighted CIEDE2000 by which a hand is expected to be farther off than by the best way."""
    with_: tuple[str, ...] = ()
    """Ids of what is added to those piles."""
    least_ml: float = 1.0
    """Millilitres below which a dose is too small, or the pile a smear."""

    @property
    def parents(self) -> tuple[str, ...]:
        return tuple(i for i, _ in self.draws)

    @property
    def cost(self) -> float:
        return self.operations + PER_STRONG * self.strong + PER_MISS * self.miss


@dataclass(frozen=True)
class Branching:
    """The plan."""

    chosen: Mapping[str, MixWay]
    ml: Mapping[str, float]
    """Millilitres of each pile, what others draw from it counted in."""
    cost: float
    bound: float
    """No plan costs less than this."""
    from_tubes: float
    """What it costs where every pile starts from tubes."""
    order: tuple[str, ...] = field(default=())

    @property
    def proven(self) -> bool:
        """Whether no better plan exists, but for a hundredth."""
        return self.cost <= self.bound + 0.01

    @property
    def words(self) -> str:
        """One sentence on how good the plan is."""
        saved = self.from_tubes - self.cost
        onward = sum(bool(w.draws) for w in self.chosen.values())
        if self.bound <= 0:
            best = "changed by hand since"
        elif self.proven:
            best = "no better one exists"
        else:
            best = f"at most {self.cost / self.bound - 1:.0%} from best"
        if not onward:
            return f"Every pile starts from tubes: nothing is saved by mixing on ({best})."
        gain = f"{saved / max(self.from_tubes, 1e-9):.0%} less work than all from tubes ({best})"
        goes = "goes" if onward == 1 else "go"
        return f"{onward} of {len(self.chosen)} piles {goes} on from another: {gain}."


def total(ways: Mapping[str, MixWay], need: Mapping[str, float]) -> tuple[float, dict[str, float]]:
    """Cost of a plan, its piles in the order of mixing, and the millilitres of each pile.

    ``need``: millilitres wanted of each pile on the canvas. Raises ValueError where a pile goes on from one that comes
    after it.
    """
    turn = {p: i for i, p in enumerate(ways)}
    drawn = dict.fromkeys(ways, 0.0)
    ml: dict[str, float] = {}
    cost = 0.0
    for pile in reversed(list(ways)):
        w, wanted = ways[pile], need.get(pile, 0.0) + drawn[pile]
        ml[pile] = max(wanted, w.least_ml)
        for parent, share in w.draws:
            if turn[parent] >= turn[pile]:
                raise ValueError(f"'{pile}' goes on from '{parent}', which is mixed later")
            drawn[parent] += share * ml[pile]
        cost += w.cost + PER_ML * (ml[pile] - wanted)
    return cost, {p: ml[p] for p in ways}


def branch(ways: Mapping[str, Sequence[MixWay]], need: Mapping[str, float], time: float = _TIME) -> Branching:
    """The cheapest plan: for each pile (id), in the order of mixing, one of its ``ways``.

    ``need``: millilitres of each pile on the canvas; ``time``: seconds for the solver. Raises ValueError where a pile
    has no way at all, or one from a pile that comes after it.
    """
    piles = list(ways)
    turn = {p: i for i, p in enumerate(piles)}
    for p in piles:
        if not ways[p]:
            raise ValueError(f"'{p}' has no way")
        if any(turn.get(i, len(piles)) >= turn[p] for w in ways[p] for i in w.parents):
            raise ValueError(f"'{p}' goes on from a pile that is not there before it")
    plain = {p: min(ways[p], key=lambda w: (bool(w.draws), w.cost)) for p in piles}  # tubes, where they may be
    base, ml = total(plain, need)
    rows = [(p, w) for p in piles for w in ways[p]]
    if len(rows) == len(piles):
        return Branching(plain, ml, base, base, base, tuple(piles))
    chosen, bound = _solve(piles, rows, need, time)
    if chosen is None:
        chosen = plain
    cost, ml = total(chosen, need)
    if cost > base + 1e-9:
        chosen, (cost, ml) = plain, total(plain, need)
    return Branching(chosen, ml, cost, min(bound, cost), base, tuple(piles))


def _most(piles: list[str], rows: list[tuple[str, MixWay]], need: Mapping[str, float]) -> Array:
    """Millilitres that no plan goes beyond, for each pile: tight bounds make the programme quick."""
    at = {p: i for i, p in enumerate(piles)}
    drawn = np.zeros((len(piles), len(piles)))  # the largest share of each that any way draws from each
    least = np.zeros(len(piles))
    for p, w in rows:
        least[at[p]] = max(least[at[p]], w.least_ml)
        for parent, share in w.draws:
            drawn[at[p], at[parent]] = max(drawn[at[p], at[parent]], share)
    most = np.zeros(len(piles))
    for i in reversed(range(len(piles))):
        most[i] = max(need.get(piles[i], 0.0) + float(drawn[:, i] @ most), least[i])
    return most


def _solve(
    piles: list[str], rows: list[tuple[str, MixWay]], need: Mapping[str, float], time: float
) -> tuple[dict[str, MixWay] | None, float]:
    """Ways by HiGHS and the bound; None where it finds none in time."""
    n, m = len(piles), len(rows)
    at = {p: i for i, p in enumerate(piles)}
    draws = [(j, parent, share) for j, (_, w) in enumerate(rows) for parent, share in w.draws]
    k = len(draws)
    most = _most(piles, rows, need)
    # y (m) binary, ml (n), draws (k), waste (n)
    size = m + n + k + n
    ML, DRAW, WASTE = m, m + n, m + n + k
    c = np.zeros(size)
    c[:m] = [w.cost for _, w in rows]
    c[WASTE:] = PER_ML
    upper = np.concatenate([np.ones(m), most, [share * most[at[rows[j][0]]] for j, _, share in draws], most])
    programme = Programme(c, np.zeros(size), upper, np.arange(size) < m)
    for i, p in enumerate(piles):
        mine = [j for j, (pile, _) in enumerate(rows) if pile == p]
        taken = [(DRAW + d, -1.0) for d, (_, parent, _) in enumerate(draws) if parent == p]
        programme.row([(j, 1.0) for j in mine], 1.0, 1.0)  # one way for each
        needed = need.get(p, 0.0)
        programme.row([(ML + i, 1.0), (WASTE + i, -1.0), *taken], needed, needed)  # ml = need + draws + waste
        programme.row([(ML + i, 1.0), *((j, -rows[j][1].least_ml) for j in mine)], 0.0)  # ml >= what the way needs
    for d, (j, _, share) in enumerate(draws):
        mine_ml, full = ML + at[rows[j][0]], share * most[at[rows[j][0]]]
        # draw >= share * (ml - most * (1 - y)), <= share * ml, <= share * most * y
        programme.row([(DRAW + d, 1.0), (mine_ml, -share), (j, -full)], -full)
        programme.row([(DRAW + d, 1.0), (mine_ml, -share)], high=0.0)
        programme.row([(DRAW + d, 1.0), (j, -full)], high=0.0)
    found = programme.solve(time, 1e-6)
    bound = found.bound or 0.0  # every price is above 0
    if found.x is None:
        return None, bound
    picked = {rows[j][0]: rows[j][1] for j in range(m) if found.x[j] > 0.5}
    return {p: picked[p] for p in piles}, bound
