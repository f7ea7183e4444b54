"""Recipes: which tubes and piles, in parts a hand can measure, what colour comes out, and why."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.spaces import Array, lch
from ochre_stone.core.mixing.parts import MOST_PARTS, reduce_parts, round_found
from ochre_stone.core.mixing.reasons import explain
from ochre_stone.core.mixing.search import Found, Ints, Paints, Searcher, searcher
from ochre_stone.core.paint.predict import uncertainty
from ochre_stone.core.paint.tubes import Tube

REACH = 2.0
"""A target is in reach when the best continuous mixture is nearer than this CIEDE2000: seen only side by side (common
practice)."""
TINT_WHITE = 10.0
"""A tint pile is one part of paint to ten of white (common practice, no source)."""
_CAUTION = 0.12
"""What one CIEDE2000 of uncertainty weighs against one of predicted error when recipes are ranked."""
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
    def of(cls, tubes: Sequence[Tube], sources: Sequence[Source] = (), most: int = 4) -> "Bench":
        """Prepare ``tubes`` (the searcher is remembered) and ``sources``."""
        search = searcher(tuple(tubes), most)
        p = search.paints
        if not sources:
            return cls(tuple(tubes), search, (), p)
        spectra = [s.spectra(tubes) for s in sources]
        K = np.vstack([p.K, *(k for k, _ in spectra)])
        S = np.vstack([p.S, *(s for _, s in spectra)])
        power = np.array([max(float(k[4:33].max()), 0.5 * float(s.max())) for k, s in spectra])
        return cls(tuple(tubes), search, tuple(sources), Paints(K, S, np.concatenate([p.power, power]), p.surface))

    def recipe(
        self, target: Array, parts: Array, index: Ints, lab: Array, reachable: bool, palette_name: str
    ) -> Recipe:
        """Describe one rounded mixture."""
        n = len(self.tubes)
        used = [(int(i), float(p)) for i, p in zip(index, reduce_parts(parts), strict=True) if p > 0]
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
            uncertainty=uncertainty([by_id[i] for i in shares], np.array(list(shares.values()))),
            why=why,
            tints=tuple(tints),
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


def _from_pile(bench: Bench, target: Array, pile: int, most: int) -> Found | None:
    """Continuous mixtures of one pile with two tubes or tints, refined from two starts; None where nothing fits.

    All tubes together, those in the pile counted, stay at ``most``.
    """
    n = len(bench.tubes)

    def tubes_in(i: int) -> set[str]:
        return {bench.tubes[i].id} if i < n else {tube_id for tube_id, _ in bench.sources[i - n].shares}

    held = tubes_in(pile)
    others = [
        i for i in range(len(bench.paints.K)) if i != pile and (i < n or bench.sources[i - n].id.startswith("tint-"))
    ]
    pairs = np.array(
        [
            (pile, a, b)
            for k, a in enumerate(others)
            for b in others[k + 1 :]
            if len(held | tubes_in(a) | tubes_in(b)) <= most
        ],
        dtype=np.intp,
    )
    if not len(pairs):
        return None
    index = np.vstack([pairs, pairs])
    start = np.vstack([np.tile([0.8, 0.1, 0.1], (len(pairs), 1)), np.tile([0.3, 0.35, 0.35], (len(pairs), 1))])
    v = np.sqrt(start * bench.paints.power[index])
    v /= np.linalg.norm(v, axis=1, keepdims=True)
    error, shares = bench.paints.refine(target, v, index, rounds=10)
    order = np.argsort(error)[:24]
    return Found(error[order], shares[order], index[order])


def recipes(
    target: Array,
    tubes: Sequence[Tube],
    most: int = 4,
    count: int = 5,
    tints: Sequence[Tube] | None = None,
    pile: Source | None = None,
    palette_name: str = "this palette",
    effort: int = 60,
) -> tuple[bool, list[Recipe]]:
    """Whether ``target`` Lab (3,) is in reach of ``tubes``, and at most ``count`` measurable recipes, best first.

    ``most``: tubes per recipe, 1 to 4, those inside piles counted. ``tints``: paints whose tint pile may be used
    (default: all but whites). ``pile``: a pile that exists and may be mixed onward from. ``effort``: subsets rounded.
    """
    goal = np.asarray(target, dtype=float).reshape(3)
    white = next((t for t in tubes if t.is_white), None)
    tinted = [t for t in tubes if not t.is_white] if tints is None else list(tints)
    sources = [tint_of(t, white) for t in tinted] if white is not None else []
    if pile is not None:
        sources.append(pile)
    bench = Bench.of(tubes, sources, most)
    found = bench.search.find(goal)
    best = Found(found.error[:effort], found.shares[:effort], found.index[:effort])
    reachable = float(ciede2000(bench.search.paints.lab(found.shares[:1], found.index[:1])[0], goal)) <= REACH
    pool = [(0.0, round_found(bench.paints, goal, best, effort))]
    if tinted and (through := _through_tints(bench, best)) is not None:
        pool.append((0.0, round_found(bench.paints, goal, through, effort)))
    if pile is not None and (onward := _from_pile(bench, goal, len(bench.paints.K) - 1, most)) is not None:
        pool.append((-0.2, round_found(bench.paints, goal, onward, effort)))
    n = len(tubes)
    ready = {s.id for s in sources if tints is not None}
    # A tint pile is one more pile to make: it has to earn that, unless the string makes it anyway.
    toll = np.array([0.0] * n + [0.05 if s.id in ready or not s.id.startswith("tint-") else 0.6 for s in sources])
    ranked: list[tuple[float, Array, Ints, Array]] = []
    for handicap, (error, parts, index, lab) in pool:
        for e, p, i, colour in zip(error, parts, index, lab, strict=True):
            fuss = 0.02 * int((p > 0).sum()) + 0.08 * float(p.sum()) / MOST_PARTS + float(toll[i[p > 0]].sum())
            ranked.append((float(e) + handicap + fuss, p, i, colour))
    ranked.sort(key=lambda r: r[0])
    out: list[tuple[float, Recipe]] = []
    seen: set[tuple[tuple[str, float], ...]] = set()
    for cost, p, i, colour in ranked:
        key = tuple(sorted((int(j), float(x)) for j, x in zip(i, p / p.sum(), strict=True) if x > 0))
        if key in seen:  # type: ignore[comparison-overlap]
            continue
        seen.add(key)  # type: ignore[arg-type]
        recipe = bench.recipe(goal, p, i, colour, reachable, palette_name)
        # Between near-equals the surer mixture wins: less strong paint, better known tubes.
        out.append((cost + _CAUTION * recipe.uncertainty, recipe))
        if len(out) == max(count + 3, 6):
            break
    out.sort(key=lambda pair: pair[0])
    return reachable, [recipe for _, recipe in out[:count]]
