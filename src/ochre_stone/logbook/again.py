"""Find a colour among the piles of the past, and mix one again: what went in, for the amount wanted, with the tubes
that are there now."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ochre_stone.core.colour.difference import apart
from ochre_stone.core.colour.spaces import Array, Lab, as_lab
from ochre_stone.core.errors import OchreError
from ochre_stone.core.mixing.bench.bench import Supply
from ochre_stone.core.mixing.correcting.words import addition_words
from ochre_stone.core.mixing.recipe.parts import reduce_parts
from ochre_stone.core.mixing.recipe.search import nearest_mixture
from ochre_stone.core.paint.media import MEDIA
from ochre_stone.core.paint.optics import Surface, layer_lab
from ochre_stone.core.paint.tubes import Tube
from ochre_stone.logbook.book import Book, Past
from ochre_stone.logbook.entry import Entry, TubeThen

WITHIN = 4.0
"""CIELAB about a colour in which piles are looked for first; up to eight times as far where there are too few."""
_LOOKED = 36
_SAME = 0.5
"""CIEDE2000 by which a mixture may come out another way with the tubes of now, and counts as the same."""
_EIGHTH = 0.125
Find = Callable[[str], Tube]


@dataclass(frozen=True)
class Found:
    """A pile of the past that is near a colour."""

    entry: Entry
    now: Lab
    """How it would come out with the tubes of now."""
    off: float
    """CIEDE2000 from the colour."""
    lacking: tuple[str, ...] = ()
    """Names of tubes in it that are not there any more."""


def find_again(
    book: Book, lab: Lab, find: Find, surface: Surface, count: int = 6, medium: str | None = None
) -> list[Found]:
    """The nearest piles of the past to a colour (Lab), as they would come out with the present tubes, best first.

    ``find``: a present tube by its id, raising OchreError for one that is not there. What was seen of a pile is kept:
    the tubes' change is added to it.
    """
    pasts: list[Past] = []
    for wide in (1, 2, 4, 8):
        pasts = [p for p in book.near(lab, WITHIN * wide) if medium is None or p.medium == medium]
        if len(pasts) >= _LOOKED:
            break
    close = sorted(pasts, key=lambda p: apart(p.lab, lab))[:_LOOKED]
    tubes = book.tubes()
    out = []
    for e in book.entries([p.uid for p in close]):
        now, lacking = with_tubes(e, tubes, find, surface)
        out.append(Found(e, now, apart(now, lab), lacking))
    out.sort(key=lambda f: (bool(f.lacking), f.off))
    return out[:count]


def with_tubes(
    entry: Entry, tubes: Mapping[str, TubeThen], find: Find, surface: Surface
) -> tuple[Lab, tuple[str, ...]]:
    """How what went into a pile would come out with the tubes of now (Lab), and the names of those that are gone."""
    then_k, then_s, now_k, now_s = (np.zeros(36) for _ in range(4))
    lacking = []
    whole = entry.ml or 1.0
    for key, ml in entry.inside().items():
        was = tubes[key]
        K, S = was.spectra()
        then_k += ml / whole * K
        then_s += ml / whole * S
        try:
            t = find(was.tube)
            K, S = t.K, t.S
        except OchreError:
            lacking.append(was.name or was.tube)
        now_k += ml / whole * K
        now_s += ml / whole * S
    then, now = layer_lab(then_k, then_s, surface), layer_lab(now_k, now_s, surface)
    out = entry.came_out
    lab = np.array(out) + now - then if out is not None else now
    return as_lab(np.clip(lab, [0, -150, -150], [100, 150, 150])), tuple(lacking)


@dataclass(frozen=True)
class Remix:
    """How a pile of the past is mixed again."""

    entry: Entry
    doses: tuple[tuple[str, str, float], ...]
    """Tube id, name and millilitres, in the order in which they went in."""
    comes_out: Lab
    corrected: bool
    """Whether the amounts are others than then, because the tubes are."""
    why: str
    lacking: tuple[str, ...] = ()

    @property
    def ml(self) -> float:
        return sum(ml for _, _, ml in self.doses)

    def parts(self) -> list[tuple[str, float]]:
        """Name and parts, the least of them an eighth or more."""
        least = min(ml for _, _, ml in self.doses)
        scaled = np.array([ml / least for _, _, ml in self.doses])
        unit = 0.25 if scaled.max() > 12 else 1.0
        rounded = np.maximum(np.round(scaled * unit / _EIGHTH) * _EIGHTH, _EIGHTH)
        quarters = np.maximum(np.round(scaled * unit * 4) / 4, 0.25)
        told: Array = reduce_parts(quarters) if np.allclose(quarters, rounded, atol=0.13) else rounded
        return [(name, float(p)) for (_, name, _), p in zip(self.doses, told, strict=True)]

    def words(self) -> str:
        """What goes in, by parts and by millilitres."""
        parts = ", ".join(addition_words(p, name) for name, p in self.parts())
        ml = ", ".join(f"{v:.2f} ml {name}" for _, name, v in self.doses)
        return f"{parts} ({ml})"


def mix_again(
    entry: Entry, tubes: Mapping[str, TubeThen], find: Find, surface: Surface, ml: float | None = None,
    opened: Mapping[str, float] | None = None,
) -> Remix:  # fmt: skip
    """What goes in to mix a pile of the past again, ``ml`` millilitres of it (default: as much as then).

    Exactly what went in, scaled; where the tubes are others by now and it would come out another way, the amounts of
    the same tubes that come nearest to how it was. ``opened``: when a tube was opened, seconds since 1970, where that
    is known: of one that was opened since and not calibrated yet it is said. Raises ValueError for an amount that is
    none.
    """
    made = _mixed_again(entry, tubes, find, surface, ml)
    new = sorted({tubes[k].name or tubes[k].tube for k in entry.inside()
                  if (opened or {}).get(tubes[k].tube, 0.0) > entry.begun})  # fmt: skip
    if not new or made.corrected:
        return made
    return replace(made, why=f"{made.why} Opened since: {', '.join(new)}; put in a little less of it first, and look.")


def _mixed_again(
    entry: Entry, tubes: Mapping[str, TubeThen], find: Find, surface: Surface, ml: float | None
) -> Remix:
    wanted = entry.ml if ml is None else ml
    if not (np.isfinite(wanted) and 0 < wanted <= 10_000):
        raise ValueError("a pile is mixed again in more than 0 and at most 10000 ml")
    inside = [(key, v) for key, v in entry.inside().items() if v > 0]
    whole = sum(v for _, v in inside)
    now, lacking = with_tubes(entry, tubes, find, surface)
    goal = entry.came_out or now
    scaled = tuple((tubes[k].tube, tubes[k].name or tubes[k].tube, v / whole * wanted) for k, v in inside)
    off = apart(now, goal)
    if lacking or off <= _SAME:
        why = "Exactly what went in."
        if lacking:
            why = f"{', '.join(lacking)}: not there any more; take what comes nearest, and look."
        elif off > 0.05:
            why = f"Exactly what went in: the tubes differ a little since ({off:.1f} off)."
        return Remix(entry, scaled, now, False, why, lacking)
    t = [find(i) for i, _, _ in scaled]
    K, S = np.stack([x.K for x in t]), np.stack([x.S for x in t])
    # What the figures do not know of the pile stays: the goal is moved by it.
    shares = np.array([v for _, _, v in scaled]) / wanted
    offset = np.array(now) - layer_lab(shares @ K, shares @ S, surface)
    if len(t) == 1:
        return Remix(entry, scaled, now, False, f"The tube differs since: it comes out {off:.1f} another way.")
    _, found = nearest_mixture(K, S, as_lab(np.array(goal) - offset), surface, min(len(t), 4))
    out = as_lab(layer_lab(found @ K, found @ S, surface) + offset)
    if apart(out, goal) > off - 0.1 or (found > 0).sum() < 1:
        return Remix(entry, scaled, now, False, f"The tubes differ since: it comes out {off:.1f} another way.")
    doses = tuple((i, name, float(c) * wanted) for (i, name, _), c in zip(scaled, found, strict=True) if c > 1e-3)
    changed = _changed(scaled, found, wanted)
    why = f"The tubes differ since: as then it would come out {off:.1f} another way, so {changed}."
    return Remix(entry, doses, out, True, why)


def _changed(scaled: Sequence[tuple[str, str, float]], found: Array, wanted: float) -> str:
    """Which amounts are others, most first."""
    said = []
    for (_, name, was), c in zip(scaled, found, strict=True):
        now = float(c) * wanted
        if abs(now - was) > 0.05 * max(was, 0.02):
            said.append((abs(np.log(max(now, 1e-6) / was)), f"{'less' if now < was else 'more'} {name}"))
    return " and ".join(words for _, words in sorted(said, reverse=True)[:2]) or "a little of each is changed"


@dataclass(frozen=True)
class Leftover:
    """What is left of a pile."""

    past: Past
    ml: float
    hours: float
    """Since it was said."""
    entry: Entry

    @property
    def id(self) -> str:
        return f"left-{self.past.uid[:24]}"


def open_hours(medium: str) -> float:
    """Hours for which a pile of a medium can be mixed on from."""
    return MEDIA[medium].open_hours


def leftovers(book: Book, now: float) -> list[Leftover]:
    """What is left and not dried out, the newest first."""
    longest = max(m.open_hours for m in MEDIA.values())
    pasts = [p for p in book.leftovers(now - longest * 3600) if now - p.left_at <= open_hours(p.medium) * 3600]
    return [
        Leftover(p, e.left_ml or 0.0, (now - p.left_at) / 3600, e)
        for p, e in zip(pasts, book.entries([p.uid for p in pasts]), strict=True)
    ]  # fmt: skip


def as_supplies(left: Sequence[Leftover], tubes: Mapping[str, TubeThen]) -> list[Supply]:
    """Leftovers to mix on from."""
    out = []
    for one in left:
        inside: dict[str, float] = {}
        for key, ml in one.entry.inside().items():
            inside[tubes[key].tube] = inside.get(tubes[key].tube, 0.0) + ml
        whole = sum(inside.values())
        if whole > 0:
            shares = tuple((i, v / whole) for i, v in inside.items() if v > 0)
            out.append(Supply(one.id, one.past.name or "a pile", shares, one.ml, "leftover"))
    return out


def age_words(hours: float) -> str:
    """How old a leftover is."""
    if hours < 1.5:
        return "just now" if hours < 0.2 else "an hour old"
    if hours < 36:
        return f"{hours:.0f} hours old"
    return f"{hours / 24:.0f} days old"
