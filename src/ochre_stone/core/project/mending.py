"""A pile on the palette: what is in it, how it was seen, and what to add; between the document and the arithmetic."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import Lab, as_lab
from ochre_stone.core.mixing.correcting.belief import PHOTO, READER, Belief
from ochre_stone.core.mixing.correcting.correct import (
    HOME,
    AtHand,
    Correction,
    Handling,
    correct,
    start_again,
)
from ochre_stone.core.mixing.correcting.words import seen_as
from ochre_stone.core.mixing.recipe.recipe import tint_of
from ochre_stone.core.mixing.strings.targets import Pile
from ochre_stone.core.project.choices import PileContents, PileReading
from ochre_stone.core.project.document import Document
from ochre_stone.core.project.pinning import pile_of
from ochre_stone.core.project.planning import belief

DOSE = 0.125
"""Half a touch: the smallest addition that is told, in parts."""
SAME = 2.0
"""CIEDE2000 by which a target may move while its pile counts as the same."""
FEW_PARTS = 8
"""Below so many parts a touch is too large a share of a pile to mend it."""
TYPED = 0.5
"""Noise of figures typed in from an instrument of the painter's own."""
Amounts = tuple[tuple[str, float], ...]


def begun(pile: Pile) -> Amounts:
    """What a pile holds when it is mixed as planned: tubes, in parts of its recipe; a recipe of few parts is counted
    several times over, so that a touch stays a small share of it."""
    whole = sum(i.parts for i in pile.recipe.ingredients)
    whole *= max(1, math.ceil(FEW_PARTS / whole))
    return tuple((i, c * whole) for i, c in pile.recipe.shares)


def contents(document: Document, pile: Pile) -> Amounts:
    """What a pile holds now: what went in since it was read, else as it was read last, else as planned."""
    since = put_since(document, pile.id)
    if since is not None:
        return since
    last = last_reading(document, pile.id)
    return last.amounts if last is not None else begun(pile)


def put_since(document: Document, pile_id: str) -> Amounts | None:
    """What a pile holds where something went in since it was seen; None where nothing did, or it is another pile."""
    if last_reading(document, pile_id) is None:
        return None
    return next((c.amounts for c in document.put_in if c.pile == pile_id), None)


def put(document: Document, pile_id: str, amounts: Amounts) -> Document:
    """The document with a pile that holds ``amounts`` now, and was not seen since."""
    rest = tuple(c for c in document.put_in if c.pile != pile_id)
    return document.model_copy(update={"put_in": (*rest, PileContents(pile=pile_id, amounts=amounts))})


def forget(document: Document, pile_id: str) -> Document:
    """The document without the readings of a pile: it counts as mixed as planned again."""
    return document.model_copy(
        update={
            "readings": tuple(r for r in document.readings if r.pile != pile_id),
            "put_in": tuple(c for c in document.put_in if c.pile != pile_id),
        }
    )


def last_reading(document: Document, pile_id: str) -> PileReading | None:
    """How a pile was seen last."""
    return next(iter(reversed(readings_of(document, pile_id))), None)


def readings_of(document: Document, pile_id: str) -> list[PileReading]:
    """How a pile was seen, first to last; what was seen of a pile that stood in its place with another target is
    not this one's."""
    found = [r for r in document.readings if r.pile == pile_id]
    if not found:
        return []
    target = np.array(pile_of(document, pile_id).target.lab)
    return [r for r in found if float(ciede2000(np.array(r.target), target)) <= SAME]


def with_reading(
    document: Document, pile_id: str, lab: Sequence[float], how: str, said: str = "", noise: float | None = None
) -> Document:
    """The document with a pile as it was seen: ``how`` "reader", "photo", "typed" or "words" (these with ``noise``).

    Raises KeyError for an unknown pile and ValueError for a colour that nothing has.
    """
    pile = pile_of(document, pile_id)
    sd = noise if noise is not None else {"reader": READER, "photo": PHOTO, "typed": TYPED}[how]
    L, a, b = (float(v) for v in lab)
    if not (0 <= L <= 105 and abs(a) <= 150 and abs(b) <= 150):
        raise ValueError("a pile has L* 0 to 105, and a* and b* within 150")
    reading = PileReading.model_validate(
        {"pile": pile_id, "target": pile.target.lab, "amounts": contents(document, pile), "lab": (L, a, b),
         "noise": sd, "how": how, "said": said}
    )  # fmt: skip
    rest = tuple(c for c in document.put_in if c.pile != pile_id)
    return document.model_copy(update={"readings": (*document.readings, reading), "put_in": rest})


def with_words(document: Document, pile_id: str, said: Sequence[tuple[str, str]]) -> Document:
    """The document with a pile described in words; raises as :func:`saying.seen_as` and KeyError."""
    pile = pile_of(document, pile_id)
    lab, noise = seen_as(pile.target.lab, said)
    words = ", ".join(f"{what} {how}" if how != "a little" else f"a little {what}" for what, how in said)
    return with_reading(document, pile_id, lab, "words", words, noise)


def after(amounts: Amounts, additions: Sequence[tuple[Amounts, float]], keep: float = 1.0) -> Amounts:
    """Contents after ``additions`` (tubes by share, and volume), ``keep`` of the old pile being kept."""
    out = {i: v * keep for i, v in amounts}
    for shares, volume in additions:
        for tube_id, c in shares:
            out[tube_id] = out.get(tube_id, 0.0) + c * volume
    return tuple((i, round(v, 6)) for i, v in out.items())


def at_hand(document: Document, pile: Pile) -> list[AtHand]:
    """What may be added to a pile: the tubes, the tint piles of its string, and other piles of its string."""
    tubes = document.mix.chosen().tubes
    ids = {t.id for t in tubes}
    out = [AtHand(t.id, t.short, ((t.id, 1.0),)) for t in tubes]
    string = next((s for s in document.mixed.strings if any(p.id == pile.id for p in s.piles)), None)
    white = next((t for t in tubes if t.is_white), None)
    if white is not None:
        tints = [tint_of(t, white) for t in tubes if t.is_strong]
        out += [AtHand(s.id, s.name, s.shares) for s in tints]
    if string is not None:
        for n, p in enumerate(string.piles, 1):
            there = contents(document, p)
            whole = sum(v for _, v in there)
            if p.id != pile.id and whole > 0 and all(i in ids for i, _ in there):
                shares = tuple((i, v / whole) for i, v in there if v > 0)
                out.append(AtHand(p.id, f"{string.name.lower()} {n}", shares, is_pile=True))
    return out


@dataclass(frozen=True)
class Advice:
    """What to do about a pile, and what was learnt."""

    correction: Correction
    sources: tuple[AtHand, ...]
    learnt: tuple[str, ...]
    again: tuple[tuple[str, float], ...]
    """Tube id and share of the mixture to start again with, where that is the verdict."""
    again_lab: Lab | None = None

    def source(self, source_id: str) -> AtHand:
        """Something at hand, by its id."""
        return next(s for s in self.sources if s.id == source_id)


def advise(document: Document, pile_id: str) -> Advice:
    """What to add to a pile that was read, from all readings of the session.

    Raises KeyError for an unknown pile and ValueError for one that was not read, or whose tubes are not on the palette.
    """
    pile = pile_of(document, pile_id)
    last = last_reading(document, pile_id)
    if last is None:
        raise ValueError("read the pile first, or say how it is off")
    known: Belief = belief(document)
    ids = {t.id for t in known.tubes}
    if any(i not in ids for i, _ in last.amounts):
        raise ValueError("this pile holds tubes that are not on the palette any more: start it again")
    sources = at_hand(document, pile)
    planned = sum(v for _, v in readings_of(document, pile_id)[0].amounts)
    home = 0.5 if last.how == "words" else HOME  # who says that it is off sees that it is
    handling = Handling(planned, DOSE, document.mix.order, home)
    found = correct(known, last.amounts, pile.target.lab, sources, last.lab, handling)
    again: tuple[tuple[str, float], ...] = ()
    lab: Lab | None = None
    if found.verdict == "again":
        shares = start_again(known, pile.target.lab, document.mix.most_tubes)
        again = tuple(sorted(shares.items(), key=lambda kv: -kv[1]))
        row = known.lab(np.array([shares.get(t.id, 0.0) for t in known.tubes]))
        lab = as_lab(row)
    return Advice(found, tuple(sources), tuple(known.words()[:3]), again, lab)


def with_advice(document: Document, pile_id: str, advice: Advice, share: float = 1.0) -> Document:
    """The document once ``share`` of what was advised went into a pile, or it was begun anew.

    Raises KeyError for an unknown pile.
    """
    pile, c = pile_of(document, pile_id), advice.correction
    if c.verdict == "again":
        whole = sum(v for _, v in begun(pile))
        return put(document, pile_id, tuple((i, s * whole) for i, s in advice.again))
    keep = c.keep if c.verdict == "cut" else 1.0
    added = [(advice.source(i).shares, v * keep * share) for i, v in c.additions]
    return put(document, pile_id, after(contents(document, pile), added, keep))


def advice_or_why(document: Document, pile_id: str) -> Advice | str:
    """Advice, or in one sentence why there is none."""
    try:
        return advise(document, pile_id)
    except ValueError as error:
        return f"{str(error)[0].upper()}{str(error)[1:]}."
