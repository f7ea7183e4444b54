"""Find a colour among the piles of the past, as they would come out with the tubes of now; and what is left of them."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.difference import apart
from ochre_stone.core.colour.spaces import Lab, as_lab
from ochre_stone.core.errors import OchreError
from ochre_stone.core.mixing.bench.bench import Supply
from ochre_stone.core.paint.media import MEDIA
from ochre_stone.core.paint.optics import Surface, layer_lab
from ochre_stone.core.paint.tubes import Tube
from ochre_stone.logbook.book import Book, Past
from ochre_stone.logbook.entry import Entry, TubeThen

WITHIN = 4.0
"""CIELAB about a colour in which piles are looked for first; up to eight times as far where there are too few."""
_LOOKED = 36
Find = Callable[[str], Tube]


@dataclass(frozen=True)
class FoundAgain:
    """A pile of the past that is near a colour."""

    entry: Entry
    now: Lab
    """How it would come out with the tubes of now."""
    off: float
    """CIEDE2000 from the colour."""
    lacking: tuple[str, ...] = ()
    """Names of tubes in it that are not there any more."""


def find_again(book: Book, lab: Lab, find: Find, surface: Surface, count: int = 6) -> list[FoundAgain]:
    """The nearest piles of the past to a colour (Lab), as they would come out with the present tubes, best first.

    ``find``: a present tube by its id, raising OchreError for one that is not there. What was seen of a pile is kept:
    the tubes' change is added to it.
    """
    pasts: list[Past] = []
    for wide in (1, 2, 4, 8):
        pasts = book.near(lab, WITHIN * wide)
        if len(pasts) >= _LOOKED:
            break
    close = sorted(pasts, key=lambda p: apart(p.lab, lab))[:_LOOKED]
    tubes = book.tubes()
    out = []
    for e in book.entries([p.uid for p in close]):
        now, lacking = with_tubes(e, tubes, find, surface)
        out.append(FoundAgain(e, now, apart(now, lab), lacking))
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
    entries = {e.uid: e for e in book.entries([p.uid for p in pasts])}  # without those that cannot be read
    found = [(p, entries[p.uid]) for p in pasts if p.uid in entries]
    return [Leftover(p, e.left_ml or 0.0, (now - p.left_at) / 3600, e) for p, e in found]


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
            out.append(Supply(one.id, one.past.name or "a pile", shares, ml=one.ml, kind="leftover"))
    return out


def age_words(hours: float) -> str:
    """How old a leftover is."""
    if hours < 1.5:
        return "just now" if hours < 0.2 else "an hour old"
    if hours < 36:
        return f"{hours:.0f} hours old"
    return f"{hours / 24:.0f} days old"
