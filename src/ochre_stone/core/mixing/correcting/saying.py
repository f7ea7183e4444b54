"""What to put into a pile that was described in words: the word says with what, a dose how much.

A painter who calls a pile too orange puts a touch of blue into it: what lies across the traditional wheel turns it
back. The figures of such a reading are too rough to search by; they fix the size of the dose and no more (common
practice, no source). Where the search over all that was read would end nearer with something else, that is told beside
it.
"""

from collections.abc import Callable, Mapping, Sequence
from collections.abc import Set as AbstractSet
from dataclasses import dataclass, replace

import numpy as np

from ochre_stone.core.advice.frame import BLUE, GREEN, ORANGE, RED, VIOLET, YELLOW, Paint, Touch, of_tube, opposite_hue
from ochre_stone.core.advice.ways import (
    ACROSS,
    StartPile,
    cooling,
    darkening,
    dulling,
    leading_to,
    lightening,
    strengthening,
    warming,
)  # fmt: skip
from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import Array, Lab, as_lab
from ochre_stone.core.mixing.correcting.belief import Belief
from ochre_stone.core.mixing.correcting.correct import LARGEST, AtHand, Correction, Handling, correct
from ochre_stone.core.mixing.recipe.dose import Dose, contents
from ochre_stone.core.mixing.recipe.recipe import TINT
from ochre_stone.core.paint.optics import layer_lab

_HUES: dict[str, float] = {
    "too red": RED, "too orange": ORANGE, "too yellow": YELLOW, "too green": GREEN, "too blue": BLUE,
    "too purple": VIOLET,
}  # fmt: skip
_OTHERS: dict[str, Callable[[StartPile, Sequence[Paint]], list[Touch]]] = {
    "too light": darkening, "too dark": lightening, "too strong": dulling, "too grey": strengthening,
    "too warm": cooling, "too cool": warming, "too chalky": strengthening, "too muddy": strengthening,
}  # fmt: skip
_NO_TINT = ("too light", "too grey", "too chalky")
"""Words that no tint mends, for it is mostly white."""
_NO_WHITE = (*_NO_TINT, "too cool")
"""Words beside whose remedy no white goes in: it lightens, cools and chalks."""
_SURER = 1.0
"""CIEDE2000 by which a neighbour must be expected to end nearer than what the word names first."""
_PASSES = 0.6
"""CIEDE2000 by which the least dose may end farther off before any neighbour is surer."""
_WEIGHED, _MOST_WORDS = 3, 2
"""Paints that are weighed for a word; words that are acted on, the loudest first."""
_MOST_ADDED = 0.5
"""Most of a dose against the pile."""
_TOLD = 0.1
"""CIEDE2000 by which the search without the words must end nearer to be told."""
_ABOUT, _GROWN = 0.4, 2.5
"""CIEDE2000 that a smaller dose may end farther off, and one that keeps the pile to its size."""
_OVERSHOOTS = 0.5
"""CIEDE2000 that the least dose of a tube must be farther off than one of its tint, for that to be made."""


def remedies(word: str, pile: StartPile, paints: Sequence[Paint]) -> list[Touch]:
    """Paints that mend what a word of :data:`words.WORDS` says of a pile, best first: what lies across from a hue that
    there is too much of; a black where that is a blue and none is there."""
    if word in _HUES:
        return leading_to(pile, paints, opposite_hue(_HUES[word]), ACROSS)
    return _OTHERS[word](pile, paints)


@dataclass(frozen=True)
class _Put:
    """One addition, and where the pile is expected with it."""

    source: AtHand
    volume: float
    lab: Lab
    off: float
    """CIEDE2000 from the goal."""
    instead_of: str = ""
    """Short name of the tube that the word names first, where a neighbour is surer."""
    black: bool = False


@dataclass(frozen=True, eq=False)
class _Stands:
    """A pile as it is: its paint by the most probable tubes, and the colour that was said of it."""

    belief: Belief
    tubes: tuple[Array, Array]
    """K and S (n, 36) of the belief's tubes."""
    amounts: Array
    seen: Array
    goal: Array
    how: Handling

    @classmethod
    def of(
        cls, belief: Belief, pile: Sequence[Dose], seen: Lab, goal: Sequence[float] | Array, how: Handling
    ) -> "_Stands":
        inside = contents(pile)
        amounts = np.array([inside.get(t.id, 0.0) for t in belief.tubes])
        return cls(belief, belief.spectra(), amounts, np.asarray(seen, dtype=float), np.reshape(goal, 3), how)

    def spectra(self) -> tuple[Array, Array]:
        """K and S (36,) of the pile."""
        c = self.amounts / self.amounts.sum()
        return c @ self.tubes[0], c @ self.tubes[1]

    def lab(self, amounts: Array) -> Array:
        """Lab (m, 3) of amounts (m, n)."""
        c = amounts / amounts.sum(axis=-1, keepdims=True)
        return layer_lab(c @ self.tubes[0], c @ self.tubes[1], self.belief.surface)

    def mending(self, word: str, at_hand: Sequence[AtHand]) -> list[Paint]:
        """Tubes at hand that mend a word, best first."""
        there, surface = {s.id for s in at_hand}, self.belief.surface
        paints = [of_tube(t, surface) for t in self.belief.tubes if t.id in there]
        inside = [t.id for t, v in zip(self.belief.tubes, self.amounts, strict=True) if v > 0]
        start = StartPile.of(*self.spectra(), inside, surface)
        return [t.paint for t in remedies(word, start, paints)[:_WEIGHED]]

    def with_(self, source: AtHand, volume: float) -> "_Stands":
        """The pile with an addition: what was said of it and the optics do not explain is carried on."""
        added = self.amounts + volume * _shares(self.belief, source)
        before, after = self.lab(np.stack([self.amounts, added]))
        moved = after - before
        return replace(self, amounts=added, seen=self.seen + moved)

    def best(self, source: AtHand) -> _Put | None:
        """The smallest dose of a source that ends about as near as any: at least what can be measured."""
        size = float(self.amounts.sum())
        levels = self.how.levels()[1:]
        levels = levels[levels <= min(_MOST_ADDED * size, source.most)]
        if not len(levels):
            return None
        added = self.amounts + levels[:, None] * _shares(self.belief, source)
        lab = self.seen + self.lab(added) - self.lab(self.amounts[None])
        off = ciede2000(lab, self.goal)
        within = levels <= max(LARGEST * (self.how.planned or size) - size, float(levels[0]))
        enough = off[within].min() <= off.min() + _GROWN  # rather than grow so large that it has to be cut
        at = int(np.argmax(off <= (off[within].min() if enough else off.min()) + _ABOUT))
        return _Put(source, float(levels[at]), as_lab(lab[at]), float(off[at]))


def _shares(belief: Belief, source: AtHand) -> Array:
    at = {t.id: i for i, t in enumerate(belief.tubes)}
    out = np.zeros(len(at))
    for tube_id, c in source.shares:
        out[at[tube_id]] += c
    return out


def by_words(
    belief: Belief,
    pile: Sequence[Dose],
    seen: Lab,
    target: Sequence[float] | Array,
    at_hand: Sequence[AtHand],
    how: Handling,
    said: Sequence[tuple[str, str]],
) -> Correction | None:
    """What to put into a pile that is off as ``said``, pairs as ("too red", "a little"), loudest first; None where no
    tube at hand leads there.

    ``seen``: the colour that the words stand for (:func:`words.seen_as`); the rest as :func:`correct.correct`.
    """
    begun = now = _Stands.of(belief, pile, seen, target, how)
    put: list[_Put] = []
    why: list[str] = []
    for word, _ in said[:_MOST_WORDS]:
        found = _mended(word, now, at_hand)
        if found is None or any(p.source.id == found.source.id for p in put):
            continue
        put.append(found)
        why.append(_why(word, found.source.name, found.black, found.instead_of))
        now = now.with_(found.source, found.volume)
    if not put:
        return None
    half = begun
    for p in put:
        half = half.with_(p.source, p.volume / 2)
    size, grown = float(begun.amounts.sum()), float(now.amounts.sum())
    keep = 0.5 if how.planned is not None and grown > LARGEST * how.planned else 1.0
    return Correction(
        tuple((p.source.id, p.volume * keep) for p in put),
        tuple(p.source.name for p in put),
        as_lab(now.seen),
        as_lab(half.seen),
        float(ciede2000(now.seen, now.goal)),
        float(ciede2000(begun.seen, begun.goal)),
        grown / size,
        "cut" if keep < 1 else "add",
        keep,
        give=how.noise,
        why=" ".join(why),
    )


def _mended(word: str, now: _Stands, at_hand: Sequence[AtHand]) -> _Put | None:
    """The addition for one word: the tube that it names, a surer neighbour, or the tint where a touch is too much."""
    by_id = {s.id: s for s in at_hand}
    tints = word not in _NO_TINT
    tried = [p for p in (_tried(now, by_id, paint, tints) for paint in now.mending(word, at_hand)) if p is not None]
    if not tried:
        return None
    first, surer = tried[0], min(tried, key=lambda p: p.off)
    passes = first.off > float(ciede2000(now.seen, now.goal)) + _PASSES
    if surer.off < first.off - (0.0 if passes else _SURER):
        return replace(surer, instead_of=first.source.name)
    return first


def _tried(now: _Stands, by_id: dict[str, AtHand], paint: Paint, tints: bool) -> _Put | None:
    tube = now.best(by_id[paint.id])
    tint = now.best(by_id[TINT + paint.id]) if tints and TINT + paint.id in by_id else None
    best = tint if tube is None or (tint is not None and tint.off < tube.off - _OVERSHOOTS) else tube
    return replace(best, black=paint.is_black) if best is not None else None


_TURNS = {
    "too light": "darkens it", "too dark": "lightens it", "too strong": "greys it", "too grey": "strengthens it",
    "too warm": "cools it", "too cool": "warms it", "too chalky": "gives it back its colour",
    "too muddy": "gives it back its colour",
}  # fmt: skip


def _why(word: str, name: str, black: bool, instead_of: str) -> str:
    """Why this: "Too orange: ultramarine lies across from it."; a black is the blue where there is none."""
    across = "is the blue of this palette" if black else "lies across from it"
    surer = f", surer here than {instead_of}" if instead_of else ""
    return f"{word.capitalize()}: {name} {_TURNS.get(word, across)}{surer}."


def differs(first: Correction, second: Correction) -> bool:
    """Whether two corrections put other things in; a tint counts as its tube."""
    return {i.removeprefix(TINT) for i, _ in first.additions} != {i.removeprefix(TINT) for i, _ in second.additions}


def worded(
    belief: Belief,
    pile: Sequence[Dose],
    seen: Lab,
    target: Sequence[float] | Array,
    at_hand: Sequence[AtHand],
    how: Handling,
    said: Sequence[tuple[str, str]],
    seen_as: str = "",
) -> Correction:
    """What to do about a pile that was described in words; parameters as :func:`by_words` and :func:`correct.correct`.

    The words fix the paints: what mends the loudest has to be in it. Within these the search over all that was read
    and said finds how much; where that finds nothing, the dose is as large as the word. What the search would take
    without that bound is told beside it where that is expected to end nearer. A new pile is begun, or nothing is found,
    as the search says.
    """
    searched = correct(belief, pile, target, at_hand, how, seen_as)
    led = by_words(belief, pile, seen, target, at_hand, how, said)
    if led is None or searched.verdict == "again":
        return searched
    now = _Stands.of(belief, pile, seen, target, how)
    mends = [{p.id: p for p in now.mending(word, at_hand)} for word, _ in said[:_MOST_WORDS]]
    white = set() if any(word in _NO_WHITE for word, _ in said) else {t.id for t in belief.tubes if t.is_white}
    may = set().union(*mends) | white
    found = searched
    if not _keeps(found, mends[0], may):
        within = [s for s in at_hand if set(_coloured(s, belief)) <= may]
        found = correct(belief, pile, target, within, how, seen_as) if within else searched
    if not _keeps(found, mends[0], may) or found.de00 > led.de00:
        found = led
    else:
        found = replace(found, why=_why_of(said, mends, found))
    nearer = searched.verdict in ("add", "cut") and searched.de00 < found.de00 - _TOLD
    other = searched if nearer and differs(found, searched) else None
    return replace(found, sure=searched.sure, others=(other,) if other is not None else ())


def _coloured(source: AtHand, belief: Belief) -> list[str]:
    """Ids of the tubes in a source; of a tint without its white, which comes along."""
    whites = {t.id for t in belief.tubes if t.is_white}
    return [i for i, _ in source.shares if not (i in whites and len(source.shares) > 1)]


def _keeps(found: Correction, first: Mapping[str, Paint], may: AbstractSet[str]) -> bool:
    """Whether a correction puts in what mends the loudest word, and nothing that mends none."""
    put = {i.removeprefix(TINT) for i, _ in found.additions}
    return found.verdict in ("add", "cut") and bool(put & set(first)) and put <= may


def _why_of(said: Sequence[tuple[str, str]], mends: Sequence[Mapping[str, Paint]], found: Correction) -> str:
    """Why just these paints, word by word."""
    names = {i.removeprefix(TINT): n for (i, _), n in zip(found.additions, found.names, strict=True)}
    out = []
    for (word, _), tubes in zip(said, mends, strict=False):
        put = next((i for i in tubes if i in names), None)
        if put is not None:
            first = next(iter(tubes))
            out.append(_why(word, names[put], tubes[put].is_black, tubes[first].name if put != first else ""))
    return " ".join(out)
