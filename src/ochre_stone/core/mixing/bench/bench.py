"""The bench: paint that is dosed, mixed, cut and scraped off, as on a palette; every act gives a new bench.

Paint is neither made nor lost: what was taken up is in the piles or was scraped off. Volumes are millilitres.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from ochre_stone.core.errors import OchreError
from ochre_stone.core.mixing.recipe.dose import Dose, contents, shrunk, whole_of
from ochre_stone.core.mixing.recipe.recipe import Source
from ochre_stone.core.paint.tubes import Tube

PART_ML = 0.4
"""Millilitres of a part, of which a touch is a quarter: twice what the tip of a knife can tell from nothing."""
MOST_PILES, MOST_ML, MOST_DOSES = 80, 500.0, 200
_NOTHING = 1e-6
"""Millilitres below which there is no paint."""
Volumes = tuple[tuple[str, float], ...]
"""Tube id and millilitres."""


@dataclass(frozen=True)
class Supply(Source):
    """Something at hand to take paint from."""

    ml: float = math.inf
    """How much there is of it."""
    kind: str = "tube"
    """"tube", "tint", "planned" (a pile of the plan), "leftover" or "pile"."""

    @classmethod
    def of_tube(cls, t: Tube) -> "Supply":
        """A tube at hand."""
        return cls(t.id, t.short, ((t.id, 1.0),))


@dataclass(frozen=True)
class BenchPile:
    """A pile that is mixed by hand."""

    id: str
    name: str
    doses: tuple[Dose, ...]
    """In the order in which they went in, smaller where it was cut."""
    before: Volumes = ()
    """What was in it before the last act; empty where it was nothing."""

    @property
    def amounts(self) -> dict[str, float]:
        """Tube id to millilitres."""
        return contents(self.doses)

    @property
    def ml(self) -> float:
        return whole_of(self.doses)

    def shares(self) -> tuple[tuple[str, float], ...]:
        """Tube id and share of volume, the most of it first."""
        inside, whole = self.amounts, self.ml
        return tuple(sorted(((i, v / whole) for i, v in inside.items() if v > 0), key=lambda s: -s[1]))


@dataclass(frozen=True)
class Bench:
    """All piles on the bench, and what became of the paint."""

    piles: tuple[BenchPile, ...] = ()
    made: int = 0
    """How many piles there were ever, for their names."""
    taken: Volumes = ()
    """Tube id and millilitres that were ever taken up."""
    scraped: Volumes = ()
    """The same, scraped off."""
    drawn: tuple[tuple[str, float], ...] = ()
    """Id of a supply and the millilitres taken from it."""

    def pile(self, pile_id: str) -> BenchPile:
        """The pile of that id; KeyError for an unknown one."""
        found = next((p for p in self.piles if p.id == pile_id), None)
        if found is None:
            raise KeyError(pile_id)
        return found

    def left(self, supply: Supply) -> float:
        """Millilitres that a supply has left."""
        return supply.ml - dict(self.drawn).get(supply.id, 0.0)


def add(bench: Bench, pile_id: str, supply: Supply, ml: float) -> Bench:
    """The bench once ``ml`` of a supply went into a pile; "" begins a new one, the last of the piles.

    Raises OchreError where a pile or the bench gets too full, or the supply has less; KeyError for an unknown pile.
    """
    if not (math.isfinite(ml) and ml > 0):
        raise ValueError("a dose needs millilitres above 0")
    if ml > bench.left(supply) + _NOTHING:
        raise OchreError(f"Of {supply.name} there is {max(bench.left(supply), 0.0):.2f} ml left: take less of it.")
    dose = Dose(supply.shares, min(ml, bench.left(supply)), source=supply.id, name=supply.name)
    if not pile_id:
        _room(bench)
        number = bench.made + 1
        new = BenchPile(f"bench-{number}", f"Pile {number}", (dose,))
        bench = replace(bench, piles=(*bench.piles, new), made=number)
    else:
        old = bench.pile(pile_id)
        if old.ml + ml > MOST_ML:
            raise OchreError(f"{old.name} would have more than {MOST_ML:g} ml: scrape some of it off first.")
        bench = _put(bench, replace(old, doses=_joined(old.doses, (dose,)), before=_before(old)))
    drawn = {**dict(bench.drawn), supply.id: dict(bench.drawn).get(supply.id, 0.0) + dose.volume}
    return replace(bench, taken=_summed(bench.taken, contents([dose])), drawn=tuple(drawn.items()))


def cut(bench: Bench, pile_id: str, share: float = 0.5) -> Bench:
    """Set ``share`` (between 0 and 1) of a pile aside, as a new pile beside it. Raises as :func:`add`."""
    if not 0 < share < 1:
        raise ValueError("a pile is cut by a share between 0 and 1")
    old = bench.pile(pile_id)
    _room(bench)
    number = bench.made + 1
    aside = BenchPile(f"bench-{number}", f"Pile {number}", shrunk(old.doses, share))
    kept = replace(old, doses=shrunk(old.doses, 1 - share), before=_before(old))
    at = bench.piles.index(old)
    return replace(bench, piles=(*bench.piles[:at], kept, aside, *bench.piles[at + 1 :]), made=number)


def join(bench: Bench, into: str, other: str, share: float = 1.0) -> Bench:
    """Mix ``share`` of the pile ``other`` into the pile ``into``. Raises as :func:`add`, and ValueError for a pile
    with itself."""
    if into == other:
        raise ValueError("a pile is mixed with another one")
    if not 0 < share <= 1:
        raise ValueError("of a pile a share above 0 is taken, at most all of it")
    first, second = bench.pile(into), bench.pile(other)
    if first.ml + share * second.ml > MOST_ML:
        raise OchreError(f"{first.name} would have more than {MOST_ML:g} ml: scrape some of it off first.")
    mixed = replace(first, doses=_joined(first.doses, shrunk(second.doses, share)), before=_before(first))
    bench = _put(bench, mixed)
    if share == 1.0:
        return replace(bench, piles=tuple(p for p in bench.piles if p.id != other))
    return _put(bench, replace(second, doses=shrunk(second.doses, 1 - share), before=_before(second)))


def scrape(bench: Bench, pile_id: str, share: float = 1.0) -> Bench:
    """Scrape ``share`` of a pile off the bench. Raises KeyError for an unknown pile."""
    if not 0 < share <= 1:
        raise ValueError("of a pile a share above 0 is scraped off, at most all of it")
    old = bench.pile(pile_id)
    gone = contents(shrunk(old.doses, share))
    bench = replace(bench, scraped=_summed(bench.scraped, gone))
    if share == 1.0:
        return replace(bench, piles=tuple(p for p in bench.piles if p.id != pile_id))
    return _put(bench, replace(old, doses=shrunk(old.doses, 1 - share), before=_before(old)))


def cleared(bench: Bench) -> Bench:
    """The bench with every pile scraped off; what supplies have left stays counted."""
    for p in bench.piles:
        bench = scrape(bench, p.id)
    return bench


def lay(bench: Bench, name: str, doses: Sequence[Dose]) -> Bench:
    """The bench with a pile of ``doses`` from what there is without end. Raises OchreError where it is full."""
    _room(bench)
    number = bench.made + 1
    pile = BenchPile(f"bench-{number}", name or f"Pile {number}", _joined((), tuple(doses)))
    return replace(bench, piles=(*bench.piles, pile), made=number, taken=_summed(bench.taken, pile.amounts))


def renamed(bench: Bench, pile_id: str, name: str) -> Bench:
    """The bench with another name for a pile. Raises KeyError for an unknown pile, OchreError for no name."""
    words = " ".join(name.split())[:60]
    if not words:
        raise OchreError("A pile needs a name: type one.")
    return _put(bench, replace(bench.pile(pile_id), name=words))


def _room(bench: Bench) -> None:
    if len(bench.piles) >= MOST_PILES:
        raise OchreError(f"There are {MOST_PILES} piles on the bench: scrape some of them off first.")


def _put(bench: Bench, pile: BenchPile) -> Bench:
    return replace(bench, piles=tuple(pile if p.id == pile.id else p for p in bench.piles))


def _before(pile: BenchPile) -> Volumes:
    return tuple(pile.amounts.items())


def _summed(amounts: Volumes, more: Mapping[str, float]) -> Volumes:
    out = dict(amounts)
    for tube_id, ml in more.items():
        out[tube_id] = out.get(tube_id, 0.0) + ml
    return tuple(out.items())


def _joined(doses: tuple[Dose, ...], more: tuple[Dose, ...]) -> tuple[Dose, ...]:
    """Doses one after the other; what follows on the same source is one dose, and where there are very many, all of a
    source is."""
    out = list(doses)
    for d in more:
        if out and (out[-1].source, out[-1].shares) == (d.source, d.shares):
            out[-1] = replace(out[-1], volume=out[-1].volume + d.volume)
        else:
            out.append(d)
    if len(out) <= MOST_DOSES:
        return tuple(out)
    once: dict[tuple[str, tuple[tuple[str, float], ...]], Dose] = {}
    for d in out:
        key = (d.source, d.shares)
        once[key] = replace(d, volume=d.volume + once[key].volume) if key in once else d
    return tuple(once.values())
