"""Recipes: which tubes and piles, in parts a hand can measure, what colour comes out, and why."""

import itertools
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.spaces import Array, lch
from ochre_stone.core.mixing.parts import MOST_PARTS, reduce_parts, round_found
from ochre_stone.core.mixing.ranking import Means, Merits, masks, merits, pick
from ochre_stone.core.mixing.reasons import explain
from ochre_stone.core.mixing.search import Found, Ints, Paints, Searcher, searcher
from ochre_stone.core.paint.optics import Surface
from ochre_stone.core.paint.predict import uncertainty
from ochre_stone.core.paint.tubes import Tube

REACH = 2.0
"""A target is in reach when the best continuous mixture is nearer than this CIEDE2000: seen only side by side (common
practice)."""
VALUE_OFF = 0.25
"""Steps of ten by which a pile in reach may miss its value."""
TINT_WHITE = 10.0
"""A tint pile is one part of paint to ten of white (common practice, no source)."""
_QUICK = 12
"""Effort up to which fewer starts and fewer runners-up are looked at: many piles at once."""
MOTHER = 1 / 12
"""Least share of a mother colour in every pile."""
_CAUTION = 0.12
"""What one CIEDE2000 of uncertainty weighs against one of predicted error when recipes are ranked."""
SLACK = 1.5
"""How much worse than the best another way may match, in weighted CIEDE2000."""
_SMALL = 1 / 30
"""Below this share of a pile a paint cannot be dosed from the tube."""


@dataclass(frozen=True)
class Source:
    """Something to mix from that is not a tube: a tint pile or a pile that exists."""

    id: str
    name: str
    shares: tuple[tuple[str, float], ...]
    """Tube id and share of volume; sums to 1."""

    def spectra(self, tubes: Sequence[Tube]) -> tuple[Array, Array]:
        by_id = {t.id: t for t in tubes}
        K = sum((by_id[i].K * c for i, c in self.shares), np.zeros(36))
        S = sum((by_id[i].S * c for i, c in self.shares), np.zeros(36))
        return K, S


@dataclass(frozen=True)
class Ingredient:
    """A tube or a pile with its parts (whole, a half, or .25 for a touch)."""

    id: str
    name: str
    parts: float
    is_pile: bool = False


@dataclass(frozen=True)
class Recipe:
    """One way to mix a target."""

    ingredients: tuple[Ingredient, ...]
    """In the order of adding: piles and weak or light paint first, strong paint last."""
    shares: tuple[tuple[str, float], ...]
    """Tube id and share of volume after all piles are taken apart; sums to 1."""
    lab: tuple[float, float, float]
    target: tuple[float, float, float]
    de00: float
    value_error: float
    """Munsell value steps; positive is too light."""
    hue_error: float
    """CIELAB hue turn in degrees, 0 for near-greys."""
    chroma_error: float
    """CIELAB chroma; positive is too bright."""
    uncertainty: float
    why: str
    tints: tuple[Source, ...] = ()
    """Tint piles that the ingredients use."""
    kind: str = ""
    """What it is the best at, a key of ranking.KINDS; empty for the plain best."""

    @property
    def tube_parts(self) -> dict[str, float]:
        """Parts per tube when every tint pile is counted out in its tubes, in lowest terms: whole parts throughout
        where tint piles are used, else as measured. Holds nothing for piles that are mixed onward from.
        """
        out: dict[str, float] = {}
        for item in self.ingredients:
            if not item.is_pile:
                out[item.id] = out.get(item.id, 0.0) + item.parts * (TINT_WHITE + 1 if self.tints else 1)
            for tint in self.tints:
                if tint.id == item.id:
                    for tube_id, share in tint.shares:
                        out[tube_id] = out.get(tube_id, 0.0) + item.parts * share * (TINT_WHITE + 1)
        if not self.tints:
            return out
        quarters = np.round(np.array(list(out.values())) * 4).astype(int)
        return {i: float(q) for i, q in zip(out, quarters // np.gcd.reduce(quarters), strict=True)}


def parts_words(parts: float) -> str:
    """ "touch", "½" or the number of parts."""
    return {0.25: "touch", 0.5: "½"}.get(parts, f"{parts:g}")


def ingredient_words(item: Ingredient) -> str:
    """An ingredient as it is read out: "4 white", "touch of black", "10 of pile 2"."""
    of = "of " if item.is_pile or item.parts == 0.25 else ""
    return f"{parts_words(item.parts)} {of}{item.name}"


def tint_of(paint: Tube, white: Tube) -> Source:
    """The tint pile of a paint: one part to ten of white."""
    total = TINT_WHITE + 1
    return Source(f"tint-{paint.id}", f"{paint.short} tint", ((white.id, TINT_WHITE / total), (paint.id, 1 / total)))


@dataclass(frozen=True)
class Bench:
    """A palette prepared for searching, with extra sources at the end of its arrays."""

    tubes: tuple[Tube, ...]
    search: Searcher
    sources: tuple[Source, ...]
    paints: Paints

    @classmethod
    def of(
        cls, tubes: Sequence[Tube], sources: Sequence[Source] = (), most: int = 4, finish: Surface | None = None,
        order: str = "value",
    ) -> "Bench":  # fmt: skip
        """Prepare ``tubes`` (the searcher is remembered) and ``sources``."""
        search = searcher(tuple(tubes), most, finish, order)
        p = search.paints
        if not sources:
            return cls(tuple(tubes), search, (), p)
        spectra = [s.spectra(tubes) for s in sources]
        K = np.vstack([p.K, *(k for k, _ in spectra)])
        S = np.vstack([p.S, *(s for _, s in spectra)])
        power = np.array([max(float(k[4:33].max()), 0.5 * float(s.max())) for k, s in spectra])
        return cls(
            tuple(tubes), search, tuple(sources), Paints(K, S, np.concatenate([p.power, power]), p.surface, p.weights)
        )

    def content(self) -> Array:
        """Share of each tube in each source (n, t): tubes themselves, then piles."""
        at = {t.id: i for i, t in enumerate(self.tubes)}
        out = np.zeros((len(self.paints.K), len(self.tubes)))
        out[: len(self.tubes)] = np.eye(len(self.tubes))
        for row, s in enumerate(self.sources, len(self.tubes)):
            for tube_id, share in s.shares:
                out[row, at[tube_id]] += share
        return out

    def recipe(
        self, target: Array, parts: Array, index: Ints, lab: Array, reachable: bool, palette_name: str, kind: str = "",
        exact: bool = False,
    ) -> Recipe:  # fmt: skip
        """Describe one rounded mixture."""
        n = len(self.tubes)
        told = np.maximum(parts.round(2), 0.01) if exact else reduce_parts(parts)
        used = [(int(i), float(p)) for i, p in zip(index, told, strict=True) if p > 0]
        total = sum(p for _, p in used)
        shares: dict[str, float] = {}
        items, tints = [], []
        for i, p in used:
            if i < n:
                t = self.tubes[i]
                items.append(
                    (
                        0.0 if t.is_white and p / total > 0.4 else self.paints.power[i],
                        Ingredient(t.id, t.short, p),
                    )
                )
                shares[t.id] = shares.get(t.id, 0.0) + p / total
            else:
                s = self.sources[i - n]
                items.append((-1.0 if not s.id.startswith("tint-") else 0.5, Ingredient(s.id, s.name, p, True)))
                if s.id.startswith("tint-"):
                    tints.append(s)
                for tube_id, c in s.shares:
                    shares[tube_id] = shares.get(tube_id, 0.0) + c * p / total
        items.sort(key=lambda pair: pair[0])
        by_id = {t.id: t for t in self.tubes}
        L, C, h = (float(x) for x in lch(lab))
        _, C0, h0 = (float(x) for x in lch(target))
        ordered = tuple(item for _, item in items)
        why = explain(
            [(i.name, self._spectra(i), i.parts, i.is_pile) for i in ordered],
            lab, target, reachable, palette_name, surface=self.paints.surface,
        )  # fmt: skip
        return Recipe(
            ingredients=ordered,
            shares=tuple(sorted(shares.items(), key=lambda kv: -kv[1])),
            lab=(L, float(lab[1]), float(lab[2])),
            target=(float(target[0]), float(target[1]), float(target[2])),
            de00=float(ciede2000(lab, target)),
            value_error=float(value_of_lightness(L) - value_of_lightness(float(target[0]))),
            hue_error=(h - h0 + 180) % 360 - 180 if min(C, C0) > 4 else 0.0,
            chroma_error=C - C0,
            uncertainty=uncertainty([by_id[i] for i in shares], np.array(list(shares.values())), self.paints.surface),
            why=why,
            tints=tuple(tints),
            kind=kind,
        )

    def _spectra(self, item: Ingredient) -> tuple[Array, Array]:
        ids = [t.id for t in self.tubes] + [s.id for s in self.sources]
        k = ids.index(item.id)
        return self.paints.K[k], self.paints.S[k]


def _through_tints(bench: Bench, found: Found) -> Found | None:
    """Rewrite mixtures that hold a paint too small to dose, so that it goes in from its tint pile."""
    n = len(bench.tubes)
    white = next((i for i, t in enumerate(bench.tubes) if t.is_white), None)
    tint_at = {s.id: n + j for j, s in enumerate(bench.sources)}
    if white is None:
        return None
    rows: list[tuple[float, Array, Ints]] = []
    for error, c, idx in zip(found.error, found.shares, found.index, strict=True):
        if white not in idx:
            continue
        w = int(np.flatnonzero(idx == white)[0])
        c, idx = c.copy(), idx.copy()
        for j in np.argsort(c):
            at = tint_at.get(f"tint-{bench.tubes[idx[j]].id}") if j != w else None
            if at is not None and 1e-5 < c[j] < _SMALL and c[w] > TINT_WHITE * c[j]:
                c[w] -= TINT_WHITE * c[j]
                c[j] *= TINT_WHITE + 1
                idx[j] = at
        if (idx >= n).any():
            rows.append((float(error), c, idx))
    if not rows:
        return None
    return Found(np.array([r[0] for r in rows]), np.stack([r[1] for r in rows]), np.stack([r[2] for r in rows]))


def _tubes_in(bench: Bench, i: int) -> set[str]:
    n = len(bench.tubes)
    return {bench.tubes[i].id} if i < n else {tube_id for tube_id, _ in bench.sources[i - n].shares}


def onward_pairs(bench: Bench, pile: int, most: int) -> Ints:
    """Rows (m, 3): the source ``pile`` with every pair of tubes or tints, all tubes together at most ``most``."""
    n = len(bench.tubes)
    held = _tubes_in(bench, pile)
    others = [i for i in range(len(bench.paints.K)) if i < n or bench.sources[i - n].id.startswith("tint-")]
    pairs = [
        (pile, a, b) for k, a in enumerate(others) for b in others[k + 1 :]
        if len(held | _tubes_in(bench, a) | _tubes_in(bench, b)) <= most
    ]  # fmt: skip
    return np.array(pairs, dtype=np.intp).reshape(-1, 3)


def start_onward(bench: Bench, index: Ints, shares: Sequence[float]) -> Array:
    """Starting points (m, k) of a search over ``index`` (m, k) at these shares."""
    v = np.sqrt(np.tile(np.asarray(shares, dtype=float), (len(index), 1)) * bench.paints.power[index])
    return np.asarray(v / np.linalg.norm(v, axis=1, keepdims=True))


def from_pile(
    target: Array,
    tubes: Sequence[Tube],
    pile: Source,
    with_: Sequence[str],
    tints: Sequence[Tube] = (),
    most: int = 4,
    palette_name: str = "this palette",
    finish: Surface | None = None,
    order: str = "value",
    reachable: bool = True,
) -> Recipe | None:
    """The best measurable way from ``pile`` to ``target`` with the tubes or tints ``with_`` (ids, one or two); None
    where that is no mixture."""
    goal = np.asarray(target, dtype=float).reshape(3)
    white = next((t for t in tubes if t.is_white), None)
    sources = [*([tint_of(t, white) for t in tints] if white is not None else []), pile]
    bench = Bench.of(tubes, sources, most, finish, order)
    ids = [*(t.id for t in tubes), *(s.id for s in sources)]
    at = [ids.index(i) for i in (pile.id, *with_)]
    index = np.array([at, at], dtype=np.intp)
    v = np.vstack([start_onward(bench, index[:1], [0.8, *[0.2 / len(with_)] * len(with_)]),
                   start_onward(bench, index[:1], [0.3, *[0.7 / len(with_)] * len(with_)])])  # fmt: skip
    error, shares = bench.paints.refine(goal, v, index, rounds=12, all_of_them=True)
    best = int(np.argmin(error))
    found = Found(error[best : best + 1], shares[best : best + 1], index[:1])
    pool = _pool(bench, goal, [(0.0, found)], 1, {s.id for s in sources}, Means())
    for row in np.argsort(pool.cost, kind="stable"):
        if pool.parts[row][pool.index[row] == at[0]].sum() > 0:
            return bench.recipe(goal, pool.parts[row], pool.index[row], pool.lab[row], reachable, palette_name)
    return None


def with_mother(paints: Paints, mother: int, floor: float = MOTHER) -> Paints:
    """The paints, each with ``floor`` of the paint at that index mixed in."""
    K = paints.K * (1 - floor) + paints.K[mother] * floor
    S = paints.S * (1 - floor) + paints.S[mother] * floor
    return replace(paints, K=K, S=S, power=np.maximum(K[:, 4:33].max(axis=1), 0.5 * S.max(axis=1)))


def _through_mother(bench: Bench, goal: Array, mother: int, most: int) -> Found:
    """The best mixtures of the mother colour with at most ``most`` - 1 other tubes."""
    n = len(bench.tubes)
    others = [i for i in range(n) if i != mother]
    k = min(max(most - 1, 1), 3, len(others))
    subsets = np.array([(*s, mother) for s in itertools.combinations(others, k)], dtype=np.intp)
    rows: list[tuple[Array, Array]] = []
    for floor in (MOTHER, 1.3 * MOTHER):  # rounding may take a part away: the second leaves room for that
        mixed = with_mother(bench.search.paints, mother, floor)
        v = np.full((len(subsets), k + 1), (k + 1) ** -0.5)
        error, shares = mixed.refine(goal, v, subsets, rounds=12, all_of_them=True)
        shares = shares * (1 - floor)
        shares[:, -1] += floor
        rows.append((error, shares))
    best = [np.argsort(error)[:8] for error, _ in rows]  # of both, for few are rounded
    error, shares = (np.concatenate([r[i][at] for r, at in zip(rows, best, strict=True)]) for i in (0, 1))
    return Found(error, shares, np.concatenate([subsets[at] for at in best]))


@dataclass(frozen=True)
class Pool:
    """Measurable mixtures that compete: weighted error, cost, parts and index (m, ...), Lab (m, 3)."""

    error: Array
    cost: Array
    parts: Array
    index: Ints
    lab: Array
    merits: Merits


def _pool(bench: Bench, goal: Array, pieces: Sequence[tuple[float, Found]], effort: int, ready: set[str],
          means: Means, least: tuple[int, float] | None = None) -> Pool:  # fmt: skip
    """Round and judge continuous mixtures; each piece has a handicap, below 0 for mixtures that are less work."""
    rounded = [(handicap, round_found(bench.paints, goal, found, effort, least=least)) for handicap, found in pieces]
    widest = max(r[1].shape[1] for _, r in rounded)
    error = np.concatenate([r[0] for _, r in rounded])
    parts = np.concatenate([np.pad(r[1], ((0, 0), (0, widest - r[1].shape[1]))) for _, r in rounded])
    index = np.concatenate([np.pad(r[2], ((0, 0), (0, widest - r[2].shape[1])), "edge") for _, r in rounded])
    lab = np.concatenate([r[3] for _, r in rounded])
    handicap = np.concatenate([np.full(len(r[0]), h) for h, r in rounded])
    found = merits(bench.paints, bench.tubes, bench.content(), parts, index, means)
    # A tint pile is one more pile to make: it has to earn that, unless the string makes it anyway.
    n = len(bench.tubes)
    toll = np.array([0.0] * n + [
        0.05 if s.id in ready or not s.id.startswith("tint-") else 0.6 for s in bench.sources
    ])  # fmt: skip
    fuss = 0.08 * parts.sum(axis=1) / MOST_PARTS + (toll[index] * (parts > 0)).sum(axis=1)
    return Pool(error, error + handicap + fuss + found.cost, parts, index, lab, found)


def recipes(
    target: Array,
    tubes: Sequence[Tube],
    most: int = 4,
    count: int = 5,
    tints: Sequence[Tube] | None = None,
    palette_name: str = "this palette",
    effort: int = 60,
    finish: Surface | None = None,
    order: str = "value",
    means: Means | None = None,
    mother: str = "",
    by_parts: bool = False,
) -> tuple[bool, list[Recipe]]:
    """Whether ``target`` Lab (3,) is in reach of ``tubes``, and at most ``count`` measurable recipes, best first.

    ``most``: tubes per recipe, 1 to 5, those inside piles counted. ``tints``: paints whose tint pile may be
    used (default: all but whites). ``effort``: subsets rounded. ``finish``: the dry surface (default: the
    data's, satin). ``order``: what an error weighs, a key of search.ORDERS. ``by_parts``: what no parts that
    can be counted come near to is out of reach too. ``mother``: id of a tube of which every mixture holds at
    least ``MOTHER``. ``means``: where given, the best of each kind of ``ranking.KINDS`` follows, with its kind,
    where it is another one.
    """
    goal = np.asarray(target, dtype=float).reshape(3)
    white = next((t for t in tubes if t.is_white), None)
    tinted = [t for t in tubes if not t.is_white] if tints is None else list(tints)
    sources = [tint_of(t, white) for t in tinted] if white is not None else []
    bench = Bench.of(tubes, sources, most, finish, order)
    found = bench.search.find(goal, 60 if effort > _QUICK else 32)
    best = Found(found.error[:effort], found.shares[:effort], found.index[:effort])
    if mother:
        best = _through_mother(bench, goal, [t.id for t in tubes].index(mother), most)
    reachable = float(ciede2000(bench.search.paints.lab(found.shares[:1], found.index[:1])[0], goal)) <= REACH
    pieces = [(0.0, best)]
    if tinted and not mother and (through := _through_tints(bench, best)) is not None:
        pieces.append((0.0, through))
    ready = {s.id for s in sources if tints is not None}
    least = ([t.id for t in tubes].index(mother), 0.95 * MOTHER) if mother else None
    pool = _pool(bench, goal, pieces, effort, ready, means or Means(), least)
    far = ciede2000(pool.lab, goal)
    reachable = reachable and bool(far.min() <= REACH or not by_parts)
    if reachable:  # no simpler recipe is worth a pile that no longer matches
        off = np.maximum(far - 0.95 * REACH, 0.0)
        step = np.abs(value_of_lightness(np.clip(pool.lab[:, 0], 0, 100)) - value_of_lightness(min(goal[0], 100.0)))
        pool = replace(pool, cost=pool.cost + 4.0 * off + 8.0 * np.maximum(step - 0.95 * VALUE_OFF, 0.0))
    out: list[tuple[float, Recipe]] = []
    seen: set[tuple[tuple[int, float], ...]] = set()

    def take(pool: Pool, row: int, kind: str = "") -> Recipe | None:
        p, i = pool.parts[row], pool.index[row]
        key = tuple(sorted((int(j), float(x)) for j, x in zip(i, p / p.sum(), strict=True) if x > 0))
        if key in seen:
            return None
        seen.add(key)
        return bench.recipe(goal, p, i, pool.lab[row], reachable, palette_name, kind)

    for row in np.argsort(pool.cost, kind="stable"):
        recipe = take(pool, int(row))
        if recipe is not None:
            # Between near-equals the surer mixture wins: less strong paint, better known tubes.
            out.append((float(pool.cost[row]) + _CAUTION * recipe.uncertainty, recipe))
        if len(out) == (max(count + 3, 6) if effort > _QUICK else count):
            break
    out.sort(key=lambda pair: pair[0])
    chosen = [recipe for _, recipe in out[:count]]
    if means is None:
        return reachable, chosen
    seen = {_key(bench, r) for r in chosen}
    for kind, mask in masks(tubes, means).items():
        piece = bench.search.find(goal, 12, mask)
        few = _pool(bench, goal, [(0.0, piece)], 12, ready, means)
        recipe = take(few, int(np.argmin(few.cost)), kind)
        if recipe is not None:
            chosen.append(recipe)
    for kind in ("fewest tubes", "least white", "cheapest", "steadiest"):
        at = pick(kind, pool.error, pool.merits, SLACK)
        recipe = take(pool, at, kind) if at is not None else None
        if recipe is not None:
            chosen.append(recipe)
    return reachable, chosen


def recipe_of(
    parts: Mapping[str, float], target: Array, tubes: Sequence[Tube], palette_name: str = "this palette",
    finish: Surface | None = None, order: str = "value", reachable: bool = True,
) -> Recipe:  # fmt: skip
    """The recipe that these ``parts`` are: ids of tubes and tint piles ("tint-..."), each above 0.

    Raises ValueError for parts of nothing, or of what is not on the palette.
    """
    white = next((t for t in tubes if t.is_white), None)
    tints = [tint_of(t, white) for t in tubes if white is not None and f"tint-{t.id}" in parts]
    bench = Bench.of(tubes, tints, 4, finish, order)
    ids = [*(t.id for t in tubes), *(s.id for s in tints)]
    unknown = [i for i in parts if i not in ids]
    if unknown or not parts or min(parts.values()) <= 0:
        raise ValueError(f"no recipe: {', '.join(unknown) or 'every paint needs parts above 0'}")
    index = np.array([[ids.index(i) for i in parts]], dtype=np.intp)
    amounts = np.array([list(parts.values())], dtype=float)
    lab = bench.paints.lab(amounts / amounts.sum(), index)[0]
    return bench.recipe(np.asarray(target, dtype=float), amounts[0], index[0], lab, reachable, palette_name, exact=True)


def _key(bench: Bench, recipe: Recipe) -> tuple[tuple[int, float], ...]:
    """What tells mixtures apart: sources and their shares."""
    ids = {name: i for i, name in enumerate([*(t.id for t in bench.tubes), *(s.id for s in bench.sources)])}
    whole = sum(i.parts for i in recipe.ingredients)
    return tuple(sorted((ids[i.id], i.parts / whole) for i in recipe.ingredients))
