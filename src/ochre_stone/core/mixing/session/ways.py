"""The ways of every pile: from tubes, and on from piles that were mixed before it; and its recipe by the way chosen."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from ochre_stone.core.mixing.recipe.finding import from_piles, onward_rows, start_onward
from ochre_stone.core.mixing.recipe.hand import Deviations, by_eye, propagated
from ochre_stone.core.mixing.recipe.nearness import REACH, VALUE_OFF
from ochre_stone.core.mixing.recipe.recipe import Recipe, Source, tint_of
from ochre_stone.core.mixing.recipe.sources import Sources, Terms
from ochre_stone.core.mixing.session.branching import PER_MISS, PER_STRONG, Branching, MixWay
from ochre_stone.core.mixing.session.drafting import Draft
from ochre_stone.core.mixing.strings.targets import Pile

_PARENTS, _KEPT = 5, 6
"""Piles nearby that are tried as parents, and ways that are weighed against one another."""
_NEARBY = 32.0
"""CIELAB distance, value counted twice, beyond which a pile is no parent."""
_LEAST_DRAW = 0.15
_GATHERED = 2
"""Tubes more than in one pile that a chain may gather."""
_NOTHING = 0.004
"""Share of a pile below which an addition is none."""
_WORSE = 1.0
"""CIEDE2000, as mixed by eye, that mixing on may cost before the pile starts from tubes after all."""


def first_way(recipe: Recipe, terms: Terms) -> MixWay:
    """A recipe from tubes as a way: what is put together, and its doses of strong paint."""
    strong = {t.id for t in terms.tubes if t.is_strong}
    parts = np.array([i.parts for i in recipe.ingredients])
    doses = sum(i.id in strong for i in recipe.ingredients)
    return MixWay((), len(parts), doses, least_ml=float(terms.hand.enough(parts)))


@dataclass
class Onward:
    """Piles that go on from others."""

    terms: Terms
    need: Mapping[str, float]
    on: bool = True
    across: bool = False
    """Also from piles of other strings."""
    _deviations: dict[str, Deviations] = field(default_factory=dict)

    def ways(self, drafts: Sequence[Draft], turn: Sequence[str], tick: Callable[[], None]) -> dict[str, list[MixWay]]:
        """For every pile, in the order of mixing, its ways from piles that come before it."""
        of = {p.id: (p, d) for d in drafts for p in d.piles}
        for p, _ in of.values():
            sources = Sources.of(self.terms, p.recipe.bases)
            self._deviations[p.id] = sources.deviation_of(p.recipe.ingredients)
        out: dict[str, list[MixWay]] = {}
        for k, i in enumerate(turn):
            p, d = of[i]
            tick()
            before = [of[j] for j in turn[:k] if self.across or of[j][1].row.id == d.row.id]
            on = self._on(p, d, before)
            if d.row.method == "chain" and on:
                out[i] = on
            else:
                out[i] = [first_way(p.recipe, self.terms), *on]
            best = min([p.recipe.by_eye, *(w.miss for w in on)])  # until here they hold what a hand gets
            out[i] = [replace(w, miss=(w.miss if w.draws else p.recipe.by_eye) - best) for w in out[i]]
        return out

    def _on(self, p: Pile, d: Draft, before: Sequence[tuple[Pile, Draft]]) -> list[MixWay]:
        """Ways on; ``miss`` is the CIEDE2000 that a hand gets, for now."""
        chain = d.row.method == "chain"
        if p.pinned or not before or not (chain or (self.on and d.row.method == "nearest")):
            return []
        lab = np.array([q.target.lab for q, _ in before])
        far = np.linalg.norm((lab - p.target.lab) * np.array([2.0, 1.0, 1.0]), axis=1)
        if chain:  # from the pile beside it
            own = [q for q, e in before if e.row.id == d.row.id]
            number = [int(q.id.rsplit("-", 1)[1]) for q in own]
            mine = int(p.id.rsplit("-", 1)[1])
            near = [own[int(np.argmin([abs(n - mine) for n in number]))]] if own else []
        else:
            near = [before[j][0] for j in np.argsort(far, kind="stable") if far[j] < _NEARBY][:_PARENTS]
        return self._priced(p, near, d) if near else []

    def _most(self, d: Draft) -> int:
        """Tubes per pile; a chain gathers some on its way."""
        return self.terms.most + (_GATHERED if d.row.method == "chain" else 0)

    def _sources(self, d: Draft, piles: Sequence[Source], most: int) -> Sources:
        white = self.terms.white
        tints = [tint_of(t, white) for t in d.tints] if white is not None else []
        return replace(Sources.of(self.terms, [*tints, *piles], self._deviations), most=most)

    def _priced(self, p: Pile, near: Sequence[Pile], d: Draft) -> list[MixWay]:
        sources = self._sources(d, [Source(q.id, q.id, q.recipe.shares) for q in near], self._most(d))
        n = len(sources.ids) - len(near)
        index = onward_rows(sources, range(n, n + len(near)))
        if not len(index):
            return []
        goal = np.array(p.target.lab)
        _, shares = sources.paints.refine(goal, start_onward(sources, index, [0.6, 0.2, 0.2]), index, 6, True)
        drawn = np.where(index >= n, shares, 0.0)
        used = shares > _NOTHING
        fits = (drawn[:, 0] >= _LEAST_DRAW) & ((index < n) | (shares >= _LEAST_DRAW) | ~used).all(axis=1)
        rows = np.flatnonzero(fits & (used.sum(axis=1) > 1))
        if not len(rows):
            return []
        hand = self.terms.hand
        here = {i: w for i, w in sources.deviations.items() if (index[rows] == i).any()}
        errors = hand.errors(np.where(used[rows], 1.0, 0.0))
        eye = by_eye(*propagated(sources.paints, shares[rows], index[rows], errors, here), goal)
        strong = np.array([i < len(self.terms.tubes) and self.terms.tubes[i].is_strong for i in range(n + len(near))])
        price = PER_MISS * eye + used[rows].sum(axis=1) + PER_STRONG * (strong[index[rows]] & used[rows]).sum(axis=1)
        ids = sources.ids
        out: dict[tuple[str, ...], MixWay] = {}
        for k in np.argsort(price, kind="stable"):
            r = rows[k]
            rest = zip(index[r].tolist(), shares[r].tolist(), strict=True)
            mine = [(ids[i], c, i >= n) for i, c in rest if c > _NOTHING]
            draws = tuple((i, c) for i, c, is_pile in mine if is_pile)
            with_ = tuple(i for i, _, is_pile in mine if not is_pile)
            parents = tuple(sorted(i for i, _ in draws))
            worse = eye[k] > p.recipe.by_eye + _WORSE and d.row.method != "chain"  # which is asked for
            if parents in out or worse:
                continue
            doses = int((strong[index[r]] & used[r]).sum())
            least = float(hand.enough(np.where(used[r], shares[r], 0.0)))
            out[parents] = MixWay(draws, len(mine), doses, float(eye[k]), with_, least)
            if len(out) == _KEPT:
                break
        return list(out.values())

    def mixed(
        self, drafts: Sequence[Draft], plan: Branching, tick: Callable[[], None]
    ) -> tuple[dict[str, Pile], dict[str, MixWay]]:
        """The piles with the recipes of the plan, in its order; what rounding spoils starts from tubes after all."""
        draft_of = {p.id: d for d in drafts for p in d.piles}
        final = {p.id: p for d in drafts for p in d.piles}
        names = {p.id: f"{d.row.name.lower()} {n}" for d in drafts for n, p in enumerate(d.piles, 1)}
        chosen = dict(plan.chosen)
        same: dict[str, str] = {}
        for i in plan.order:
            way, p = chosen[i], final[i]
            tick()
            if any(q in same for q in way.parents):  # it goes on from what stands there
                drawn: dict[str, float] = {}
                for q, share in way.draws:
                    drawn[same.get(q, q)] = drawn.get(same.get(q, q), 0.0) + share
                way = replace(way, draws=tuple(drawn.items()))
            if not way.draws:
                continue
            parents = [Source(q, names[q], final[q].recipe.shares) for q in way.parents]
            sources = self._sources(draft_of[i], parents, self._most(draft_of[i]))
            goal = np.array(p.target.lab)
            recipe = from_piles(goal, sources, way.parents, way.with_, plan.ml[i], p.reachable)
            asked = draft_of[i].row.method == "chain"
            if recipe is None or (not asked and _gives_away(recipe, p)):
                chosen[i] = first_way(p.recipe, self.terms)
                continue
            self._deviations[i] = sources.deviation_of(recipe.ingredients)
            final[i] = replace(p, recipe=recipe, alternatives=(p.recipe, *p.alternatives)[:4])
            chosen[i] = self._as_rounded(way, recipe)
            if len(recipe.ingredients) == 1:
                same[i] = recipe.ingredients[0].id
        return final, chosen

    def _as_rounded(self, way: MixWay, recipe: Recipe) -> MixWay:
        parts = np.array([x.parts for x in recipe.ingredients])
        whole = float(parts.sum())
        shares: dict[str, float] = {x.id: x.parts / whole for x in recipe.ingredients}
        draws = tuple((i, shares[i]) for i in way.parents)
        with_ = tuple(x.id for x in recipe.ingredients if x.id not in way.parents)
        strong = {t.id for t in self.terms.tubes if t.is_strong}
        return replace(
            way,
            draws=draws,
            operations=len(parts),
            strong=sum(i in strong for i in with_),
            with_=with_,
            least_ml=float(self.terms.hand.enough(parts)),
        )


def _gives_away(recipe: Recipe, p: Pile) -> bool:
    """Whether mixing on, rounded, costs more colour than it may: a pile in reach stays matched."""
    if p.reachable and p.recipe.de00 <= REACH < recipe.de00:
        return True
    if abs(recipe.value_error) > max(VALUE_OFF, abs(p.recipe.value_error) + 0.5 * VALUE_OFF):  # value first
        return True
    return recipe.by_eye > p.recipe.by_eye + _WORSE
