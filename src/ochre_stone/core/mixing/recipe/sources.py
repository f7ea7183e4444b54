"""All that a pile can be mixed from: the tubes of a palette, and base piles or piles that exist, as arrays."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.spaces import Array, as_lab, lch
from ochre_stone.core.mixing.recipe.hand import Deviations, Hand, deviations_of
from ochre_stone.core.mixing.recipe.parts import Dosing, expected, reduce_parts
from ochre_stone.core.mixing.recipe.reasons import explain
from ochre_stone.core.mixing.recipe.recipe import BODY, Ingredient, Recipe, Source
from ochre_stone.core.mixing.recipe.search import Ints, Paints, Searcher, searcher
from ochre_stone.core.paint.optics import Surface
from ochre_stone.core.paint.predict import uncertainty
from ochre_stone.core.paint.tubes import Tube, strength_of


@dataclass(frozen=True)
class Terms:
    """What all recipes of a palette share."""

    tubes: tuple[Tube, ...]
    palette_name: str = "this palette"
    most: int = 4
    """Tubes per recipe, 1 to 5, those inside piles counted."""
    finish: Surface | None = None
    """The dry surface; optics.USUAL where none is named."""
    order: str = "value"
    """What an error weighs, a key of search.ORDERS."""
    hand: Hand = field(default_factory=Hand)
    """By whom it is dosed."""

    @property
    def white(self) -> Tube | None:
        """The tube that tint piles are made with."""
        return next((t for t in self.tubes if t.is_white), None)


@dataclass(frozen=True)
class Sources:
    """A palette prepared for searching, with extra sources at the end of its arrays."""

    terms: Terms
    search: Searcher
    extra: tuple[Source, ...]
    paints: Paints
    deviations: Mapping[int, Deviations]
    """How sources that are dosed by eye themselves may be off, by their index."""
    most: int
    """Tubes per mixture, those inside piles counted."""

    @classmethod
    def of(cls, terms: Terms, extra: Sequence[Source] = (), known: Mapping[str, Deviations] | None = None) -> "Sources":
        """Prepare a palette (its searcher is remembered) and ``extra``; ``known``: how piles among these may be off, by
        their id. What is made of tubes here is dosed by the same hand."""
        search = searcher(terms.tubes, terms.most, terms.finish, terms.order)
        p = search.paints
        if not extra:
            return cls(terms, search, (), p, {}, terms.most)
        spectra = [s.spectra(terms.tubes) for s in extra]
        K = np.vstack([p.K, *(k for k, _ in spectra)])
        S = np.vstack([p.S, *(s for _, s in spectra)])
        paints = Paints(K, S, strength_of(K, S), p.surface, p.weights)
        n, at = len(terms.tubes), {t.id: i for i, t in enumerate(terms.tubes)}
        deviations = {n + k: known[s.id] for k, s in enumerate(extra) if known is not None and s.id in known}
        for k, s in enumerate(extra):
            if s.parts and n + k not in deviations:
                parts = np.array([v for _, v in s.parts])
                index = np.array([at[i] for i, _ in s.parts], dtype=np.intp)
                deviations[n + k] = deviations_of(paints, parts / parts.sum(), index, terms.hand.errors(parts), {})
        return cls(terms, search, tuple(extra), paints, deviations, terms.most)

    def dosing(self, ml: float = 0.0) -> Dosing:
        """How a pile of which ``ml`` millilitres are wanted is dosed."""
        return Dosing(self.terms.hand, ml, self.deviations)

    def deviation_of(self, ingredients: Sequence[Ingredient]) -> Deviations:
        """How a mixture of these sources, dosed by eye, may be off."""
        parts = np.array([i.parts for i in ingredients])
        index = np.array([self.ids.index(i.id) for i in ingredients], dtype=np.intp)
        inner = {int(i): self.deviations[int(i)] for i in index if int(i) in self.deviations}
        return deviations_of(self.paints, parts / parts.sum(), index, self.terms.hand.errors(parts), inner)

    @property
    def tubes(self) -> tuple[Tube, ...]:
        return self.terms.tubes

    @property
    def ids(self) -> list[str]:
        """Of all sources, tubes first."""
        return [*(t.id for t in self.tubes), *(s.id for s in self.extra)]

    def content(self) -> Array:
        """Share of each tube in each source (n, t): tubes themselves, then piles."""
        at = {t.id: i for i, t in enumerate(self.tubes)}
        out = np.zeros((len(self.paints.K), len(self.tubes)))
        out[: len(self.tubes)] = np.eye(len(self.tubes))
        for row, s in enumerate(self.extra, len(self.tubes)):
            for tube_id, share in s.shares:
                out[row, at[tube_id]] += share
        return out

    def tubes_in(self, i: int) -> set[str]:
        """Ids of the tubes that a source holds."""
        n = len(self.tubes)
        return {self.tubes[i].id} if i < n else {tube_id for tube_id, _ in self.extra[i - n].shares}

    def describe(
        self,
        target: Array,
        parts: Array,
        index: Ints,
        lab: Array,
        reachable: bool,
        kind: str = "",
        exact: bool = False,
        by_eye: float | None = None,
    ) -> Recipe:
        """The recipe of one mixture: ``parts`` and ``index`` (k,) of the sources, its Lab (3,); ``by_eye``: what a hand
        gets, where that was worked out.

        ``exact``: parts as they are, to a hundredth; else in the smallest whole proportions.
        """
        told = np.maximum(parts.round(2), 0.01) if exact else reduce_parts(parts)
        if by_eye is None:
            by_eye = float(expected(self.paints, target, told[None], index[None], self.dosing(), plain=True)[0])
        used = [(int(i), float(p)) for i, p in zip(index, told, strict=True) if p > 0]
        ordered, bases = self._in_order(used)
        shares = self._shares(used)
        by_id = {t.id: t for t in self.tubes}
        L, C, h = (float(x) for x in lch(lab))
        _, C0, h0 = (float(x) for x in lch(target))
        why = explain(
            [(i.name, self._spectra(i), i.parts, i.is_pile and not i.is_base) for i in ordered],
            lab,
            target,
            reachable,
            self.terms.palette_name,
            surface=self.paints.surface,
        )
        return Recipe(
            ingredients=ordered,
            shares=tuple(sorted(shares.items(), key=lambda kv: -kv[1])),
            lab=(L, float(lab[1]), float(lab[2])),
            target=as_lab(target),
            de00=float(ciede2000(lab, target)),
            by_eye=by_eye,
            value_error=float(value_of_lightness(L) - value_of_lightness(float(target[0]))),
            hue_error=(h - h0 + 180) % 360 - 180 if min(C, C0) > 4 else 0.0,
            chroma_error=C - C0,
            uncertainty=uncertainty([by_id[i] for i in shares], np.array(list(shares.values())), self.paints.surface),
            why=why,
            bases=bases,
            kind=kind,
        )

    def _in_order(self, used: Sequence[tuple[int, float]]) -> tuple[tuple[Ingredient, ...], tuple[Source, ...]]:
        """Ingredients, piles first, then by power to colour with the body of white before all; and the bases used."""
        n, total = len(self.tubes), sum(p for _, p in used)
        items: list[tuple[float, Ingredient]] = []
        bases = []
        for i, p in used:
            if i < n:
                t = self.tubes[i]
                first = 0.0 if t.is_white and p / total >= BODY else self.paints.strength[i]
                items.append((float(first), Ingredient(t.id, t.short, p)))
            else:
                s = self.extra[i - n]
                items.append((0.5 if s.is_tint else -1.0, Ingredient(s.id, s.name, p, True)))
                if s.parts:
                    bases.append(s)
        items.sort(key=lambda pair: pair[0])
        return tuple(item for _, item in items), tuple(bases)

    def _shares(self, used: Sequence[tuple[int, float]]) -> dict[str, float]:
        """Share of volume of each tube, piles taken apart."""
        n, total = len(self.tubes), sum(p for _, p in used)
        out: dict[str, float] = {}
        for i, p in used:
            held = ((self.tubes[i].id, 1.0),) if i < n else self.extra[i - n].shares
            for tube_id, c in held:
                out[tube_id] = out.get(tube_id, 0.0) + c * p / total
        return out

    def _spectra(self, item: Ingredient) -> tuple[Array, Array]:
        k = self.ids.index(item.id)
        return self.paints.K[k], self.paints.S[k]
