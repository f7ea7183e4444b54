"""Branching: one plan for the whole session, which piles start from tubes and which go on from another pile.

Every pile has a few ways: its recipe from tubes, and additions of one or two paints to a pile nearby. One way is chosen
for each so that the whole costs least: things put on the palette one by one, additions of strong paint, amounts too
small to dose, colour given away, and paint that is mixed and not needed. What is taken from a pile is mixed on top of
it. This is a mixed integer linear programme: a binary per way, the millilitres of each pile and of each draw, and each
pile's depth below the tubes, which forbids circles. HiGHS solves it (Huangfu and Hall 2018, Math. Prog. Comp. 10,
through SciPy) and proves the optimum, or leaves a bound. The prices are judgements.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

LEAST_ML = 0.5
"""The smallest pile worth mixing."""
PER_STRONG, PER_SMALL, PER_MISS, PER_ML = 0.5, 0.5, 0.8, 0.25
"""Prices, in operations: a dose of strong paint; a dose too small to measure well; a weighted CIEDE2000 given away; a
millilitre mixed and not needed."""
DEEPEST = 4
"""Piles mixed on from one another: more, and their errors add up."""
_TIME = 0.5  # seconds for the solver; what it has then is good, and its bound is told


@dataclass(frozen=True)
class Way:
    """One way to a pile."""

    parent: str
    """Id of the pile that it goes on from; "" for tubes alone."""
    share: float
    """Share of the pile that is drawn from the parent, 0..1."""
    operations: int
    """Things put together."""
    strong: int = 0
    small: int = 0
    miss: float = 0.0
    """Weighted CIEDE2000 by which it comes less near than the best way."""
    with_: tuple[str, ...] = ()
    """Ids of what is added to the parent."""

    @property
    def cost(self) -> float:
        return self.operations + PER_STRONG * self.strong + PER_SMALL * self.small + PER_MISS * self.miss


@dataclass(frozen=True)
class Branching:
    """The plan."""

    chosen: Mapping[str, Way]
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
        onward = sum(bool(w.parent) for w in self.chosen.values())
        if self.bound <= 0:
            best = "changed by hand since"
        elif self.proven:
            best = "no better one exists"
        else:
            best = f"at most {self.cost / self.bound - 1:.0%} from best"
        if not onward:
            return f"Every pile starts from tubes: nothing is saved by mixing on ({best})."
        return (
            f"{onward} of {len(self.chosen)} piles go on from another: {saved / max(self.from_tubes, 1e-9):.0%} less "
            f"work than all from tubes ({best})."
        )


def total(ways: Mapping[str, Way], need: Mapping[str, float]) -> tuple[float, dict[str, float]]:
    """Cost of a plan and the millilitres of each pile. Raises ValueError for a circle or a chain beyond ``DEEPEST``.

    ``need``: millilitres wanted of each pile on the canvas.
    """
    depth: dict[str, int] = {}

    def deep(pile: str, below: int = 0) -> int:
        if below > len(ways):
            raise ValueError("piles are mixed on from one another in a circle")
        if pile not in depth:
            parent = ways[pile].parent
            depth[pile] = deep(parent, below + 1) + 1 if parent else 0
        return depth[pile]

    order = sorted(ways, key=deep, reverse=True)
    if any(d > DEEPEST for d in depth.values()):
        raise ValueError(f"more than {DEEPEST} piles are mixed on from one another")
    drawn = dict.fromkeys(ways, 0.0)
    ml: dict[str, float] = {}
    cost = 0.0
    for pile in order:
        w = ways[pile]
        ml[pile] = max(need.get(pile, 0.0) + drawn[pile], LEAST_ML)
        if w.parent:
            drawn[w.parent] += w.share * ml[pile]
        cost += w.cost
    cost += PER_ML * sum(max(ml[p] - need.get(p, 0.0) - drawn[p], 0.0) for p in ways)
    return cost, ml


def branch(ways: Mapping[str, Sequence[Way]], need: Mapping[str, float], time: float = _TIME) -> Branching:
    """The cheapest plan: for each pile (id) one of its ``ways``, each with at least one from tubes.

    ``need``: millilitres of each pile on the canvas; ``time``: seconds for the solver. Raises ValueError where a pile
    has no way from tubes.
    """
    piles = list(ways)
    tubes = {p: min((w for w in ways[p] if not w.parent), key=lambda w: w.cost, default=None) for p in piles}
    if any(w is None for w in tubes.values()):
        raise ValueError("every pile needs a way from tubes")
    plain = {p: w for p, w in tubes.items() if w is not None}
    base, ml = total(plain, need)
    rows = [(p, w) for p in piles for w in ways[p] if not w.parent or w.parent in ways]
    if all(not w.parent for _, w in rows):
        return Branching(plain, ml, base, base, base, tuple(piles))
    chosen, bound = _solve(piles, rows, need, time)
    if chosen is None:
        chosen = plain
    cost, ml = total(chosen, need)
    if cost > base + 1e-9:
        chosen, (cost, ml) = plain, total(plain, need)
    return Branching(chosen, ml, cost, min(bound, cost), base)


def _solve(
    piles: list[str], rows: list[tuple[str, Way]], need: Mapping[str, float], time: float
) -> tuple[dict[str, Way] | None, float]:
    """Ways by HiGHS and the bound; None where it finds none in time."""
    from scipy.optimize import Bounds, LinearConstraint, milp
    from scipy.sparse import lil_matrix

    n, m = len(piles), len(rows)
    at = {p: i for i, p in enumerate(piles)}
    onward = [j for j, (_, w) in enumerate(rows) if w.parent]
    k = len(onward)
    most = sum(need.get(p, 0.0) for p in piles) + n * LEAST_ML
    # y (m) binary, ml (n), draws (k), depth (n), waste (n)
    size = m + n + k + n + n
    ML, DRAW, DEPTH, WASTE = m, m + n, m + n + k, m + n + k + n
    c = np.zeros(size)
    c[:m] = [w.cost for _, w in rows]
    c[WASTE:] = PER_ML
    A = lil_matrix((2 * n + 3 * k, size))
    low, high = np.full(A.shape[0], -np.inf), np.full(A.shape[0], np.inf)
    for j, (p, _) in enumerate(rows):
        A[at[p], j] = 1
    low[:n] = high[:n] = 1
    for i, p in enumerate(piles):  # ml = need + draws + waste
        r = n + i
        A[r, ML + i] = 1
        A[r, WASTE + i] = -1
        low[r] = high[r] = need.get(p, 0.0)
    for d, j in enumerate(onward):
        p, w = rows[j]
        parent = at[w.parent]
        A[n + parent, DRAW + d] = -1
        r = 2 * n + 3 * d
        # draw >= share * ml - most * (1 - y)
        A[r, DRAW + d], A[r, ML + at[p]], A[r, j] = 1, -w.share, -most
        low[r] = -most
        # draw <= most * y
        A[r + 1, DRAW + d], A[r + 1, j] = 1, -most
        high[r + 1] = 0
        # depth of the child >= depth of the parent + 1
        A[r + 2, DEPTH + at[p]], A[r + 2, DEPTH + parent], A[r + 2, j] = 1, -1, -(DEEPEST + 1)
        low[r + 2] = 1 - (DEEPEST + 1)
    # one more draw never hides waste: draw <= share * ml
    extra = lil_matrix((k, size))
    for d, j in enumerate(onward):
        p, w = rows[j]
        extra[d, DRAW + d], extra[d, ML + at[p]] = 1, -w.share
    loops = _loops(rows, onward)
    cuts = lil_matrix((max(len(loops), 1), size))
    for r, loop in enumerate(loops):  # implied by the depths, but they sharpen the bound
        for j in loop:
            cuts[r, j] = 1
    loop_high = np.array([len(loop) - 1 for loop in loops] or [0], dtype=float)
    lower = np.zeros(size)
    lower[ML : ML + n] = LEAST_ML
    upper = np.concatenate([np.ones(m), np.full(n + k, most), np.full(n, float(DEEPEST)), np.full(n, most)])
    whole = np.zeros(size)
    whole[:m] = 1
    found = milp(
        c, integrality=whole, bounds=Bounds(lower, upper),
        constraints=[LinearConstraint(A.tocsr(), low, high),
                     LinearConstraint(extra.tocsr(), -np.inf, np.zeros(k)),
                     LinearConstraint(cuts.tocsr(), -np.inf, loop_high)],
        options={"time_limit": time, "mip_rel_gap": 1e-6},
    )  # fmt: skip
    told = found.mip_dual_bound
    bound = float(told) if told is not None and np.isfinite(told) else 0.0  # every price is above 0
    if found.x is None:
        return None, bound
    picked = {rows[j][0]: rows[j][1] for j in range(m) if found.x[j] > 0.5}
    return picked, bound


def _loops(rows: list[tuple[str, Way]], onward: list[int]) -> list[tuple[int, ...]]:
    """Circles of two and three ways, as their rows."""
    out: dict[str, list[int]] = {}
    for j in onward:
        out.setdefault(rows[j][0], []).append(j)
    found: set[tuple[int, ...]] = set()
    for a in onward:
        for b in out.get(rows[a][1].parent, ()):
            if rows[b][1].parent == rows[a][0]:
                found.add(tuple(sorted((a, b))))
            for c in out.get(rows[b][1].parent, ()):
                if rows[c][1].parent == rows[a][0] and len({a, b, c}) == 3:
                    found.add(tuple(sorted((a, b, c))))
    return sorted(found)


def sequence(chosen: Mapping[str, Way], wanted: Sequence[str]) -> list[str]:
    """The order of mixing: as ``wanted``, but every pile after the one that it goes on from."""
    out: list[str] = []

    def visit(pile: str) -> None:
        if pile in out:
            return
        if chosen[pile].parent:
            visit(chosen[pile].parent)
        out.append(pile)

    for pile in wanted:
        visit(pile)
    return out
