"""A pile on the palette: what is in it, how it was seen, and what to add; between the document and the arithmetic."""

import functools
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import Array, Lab, as_lab
from ochre_stone.core.document.choices import PileContents, PileReading
from ochre_stone.core.document.document import Document
from ochre_stone.core.mixing.correcting.belief import Belief, as_believed
from ochre_stone.core.mixing.correcting.correct import HOME, AtHand, Correction, Handling, correct
from ochre_stone.core.mixing.correcting.other import better_tube
from ochre_stone.core.mixing.correcting.reading import PHOTO, READER, mixed, unsure_within
from ochre_stone.core.mixing.correcting.saying import worded
from ochre_stone.core.mixing.correcting.words import said_of, said_words, seen_as
from ochre_stone.core.mixing.recipe.dose import Dose, contents, shrunk, whole_of
from ochre_stone.core.mixing.recipe.finding import Wishes, recipes
from ochre_stone.core.mixing.recipe.hand import Hand
from ochre_stone.core.mixing.recipe.recipe import Recipe, Source, tint_of
from ochre_stone.core.mixing.recipe.search import nearest_mixture
from ochre_stone.core.mixing.recipe.sources import Terms
from ochre_stone.core.mixing.strings.targets import Pile
from ochre_stone.core.paint.optics import Surface, layer_lab
from ochre_stone.core.paint.tubes import Tube, all_tubes
from ochre_stone.core.planning.pinning import pile_of
from ochre_stone.core.planning.planning import batch_key, belief

SAME = 2.0
"""CIEDE2000 by which a target may move while its pile counts as the same."""
FEW_PARTS = 8
"""Below so many parts a touch is too large a share of a pile to mend it."""
TYPED = 0.5
"""Noise of figures typed in from an instrument of the painter's own."""
_SHARED = 0.25
"""Share of a pile that may be taken for another."""
_MAKING = 0.1
"""What a tint pile that is not there yet costs more than one that is, CIEDE2000."""
Doses = tuple[Dose, ...]


def goal_of(document: Document, pile: Pile) -> Lab:
    """What a pile is corrected toward: its target, or what the palette, as its data say, mixes nearest to one that is
    out of reach. A pile that was read has the recipe of what was mixed, which is no goal."""
    if pile.reachable:
        return as_lab(pile.target.lab)
    chosen = document.mix.chosen()
    return _nearest(chosen.tubes, chosen.surface, as_lab(pile.target.lab), document.mix.most_tubes, document.mix.order)


@functools.lru_cache(maxsize=256)
def _nearest(tubes: tuple[Tube, ...], surface: Surface, target: Lab, most: int, order: str) -> Lab:
    K, S = np.stack([t.K for t in tubes]), np.stack([t.S for t in tubes])
    shares = nearest_mixture(K, S, target, surface, min(most, 4), order)[1]
    return as_lab(layer_lab(shares @ K, shares @ S, surface))


def part_ml(document: Document, pile: Pile) -> float:
    """Millilitres of one part of a pile, in the parts in which its contents are told: those of the recipe by which it
    was begun, or begun anew."""
    parts = np.array([i.parts for i in pile.recipe.ingredients])
    planned = document.mixed.branching.ml.get(pile.id, 0.0) if document.mixed.branching is not None else 0.0
    ml = max(planned, float(document.mix.hand.made().enough(parts)))
    return ml / _first_parts(document, pile)


def _first_parts(document: Document, pile: Pile) -> float:
    """Parts in all that a pile held when it was begun, or begun anew: as it was read first since, else as it is."""
    since = put_since(document, pile.id)
    last = since or last_reading(document, pile.id)
    if last is None:
        return sum(i.parts for i in pile.recipe.ingredients) * _times(pile.recipe)
    own = [r for r in readings_of(document, pile.id) if r.batch == last.batch]
    return whole_of((own[0] if own else last).doses)


def _times(recipe: Recipe) -> int:
    """How often a recipe of few parts is counted, so that a touch stays a small share of its pile."""
    return max(1, math.ceil(FEW_PARTS / sum(i.parts for i in recipe.ingredients)))


def begun(document: Document, pile: Pile) -> Doses:
    """What goes into a pile when it is mixed as planned, in parts of its recipe, each thing dosed by eye."""
    inside = {b.id: b for b in pile.recipe.bases}
    every = {p.id: p for s in document.mixed.strings for p in s.piles}
    for i in pile.recipe.ingredients:
        if i.is_pile and i.id not in inside and i.id in every:
            inside[i.id] = Source(i.id, i.name, tuple(_shares(held(document, every[i.id]).doses).items()))
    known = all(not i.is_pile or i.id in inside for i in pile.recipe.ingredients)
    hand, times, ml = document.mix.hand.made(), _times(pile.recipe), part_ml(document, pile)
    if not known:  # piles that are gone: by its tubes
        whole = sum(i.parts for i in pile.recipe.ingredients) * times
        return tuple(Dose.of_tube(i, c * whole, hand.dose) for i, c in pile.recipe.shares)
    return mixed(pile.recipe.ingredients, inside, hand, times, ml)


def _shares(doses: Sequence[Dose]) -> dict[str, float]:
    inside = contents(doses)
    whole = sum(inside.values())
    return {i: v / whole for i, v in inside.items() if v > 0}


def held(document: Document, pile: Pile) -> PileContents:
    """What a pile holds now: what went in since it was read, else as it was read last, else as planned."""
    since = put_since(document, pile.id)
    if since is not None:
        return since
    last = last_reading(document, pile.id)
    return last if last is not None else _contents(pile.id, begun(document, pile), 0)


def _contents(pile_id: str, doses: Doses, batch: int) -> PileContents:
    return PileContents(pile=pile_id, doses=tuple(replace(d, volume=round(d.volume, 6)) for d in doses), batch=batch)


def put_since(document: Document, pile_id: str) -> PileContents | None:
    """What a pile holds where something went in since it was seen; None where nothing did, or it is another pile."""
    if last_reading(document, pile_id) is None:
        return None
    return next((c for c in document.put_in if c.pile == pile_id), None)


def put(document: Document, pile_id: str, doses: Doses, batch: int) -> Document:
    """The document with a pile that holds ``doses`` now, and was not seen since."""
    rest = tuple(c for c in document.put_in if c.pile != pile_id)
    return document.model_copy(update={"put_in": (*rest, _contents(pile_id, doses, batch))})


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
    now = held(document, pile)
    reading = PileReading.model_validate(
        {
            "pile": pile_id,
            "doses": now.doses,
            "batch": now.batch,
            "target": pile.target.lab,
            "lab": (L, a, b),
            "noise": sd,
            "how": how,
            "said": said,
            "gloss": document.mix.chosen().surface.g,
        }
    )
    rest = tuple(c for c in document.put_in if c.pile != pile_id)
    return document.model_copy(update={"readings": (*document.readings, reading), "put_in": rest})


def with_words(document: Document, pile_id: str, said: Sequence[tuple[str, str]]) -> Document:
    """The document with a pile described in words; raises as :func:`words.seen_as` and KeyError."""
    pile = pile_of(document, pile_id)
    lab, noise = seen_as(goal_of(document, pile), said)
    return with_reading(document, pile_id, lab, "words", said_words(said), noise)


def addable(document: Document, pile: Pile) -> list[AtHand]:
    """What may be added to a pile: the tubes, a tint of every tube, base piles that are there, and the other piles of
    its string."""
    tubes, hand = document.mix.chosen().tubes, document.mix.hand.made()
    ids = {t.id for t in tubes}
    out = [AtHand(t.id, t.short, ((t.id, 1.0),)) for t in tubes]
    there = {b.id: b for s in document.mixed.strings for b in s.bases if all(i in ids for i, _ in b.shares)}
    white = next((t for t in tubes if t.is_white), None)
    made = [tint_of(t, white) for t in tubes if not t.is_white] if white is not None else []
    for base in {**{s.id: s for s in made}, **there}.values():
        trouble = 0.0 if base.id in there else _MAKING
        out.append(AtHand(base.id, base.name, base.shares, within=unsure_within(base, hand), trouble=trouble))
    string = next((s for s in document.mixed.strings if any(p.id == pile.id for p in s.piles)), None)
    for p in string.piles if string is not None else ():
        inside = _shares(held(document, p).doses) if p.id != pile.id else {}
        if string is not None and inside and all(i in ids for i in inside):
            theirs = whole_of(held(document, p).doses) * part_ml(document, p)
            most = _SHARED * theirs / part_ml(document, pile)
            out.append(AtHand(p.id, p.name, tuple(inside.items()), most=most, is_pile=True))
    return out


@dataclass(frozen=True)
class Advice:
    """What to do about a pile, and what was learnt."""

    correction: Correction
    sources: tuple[AtHand, ...]
    learnt: tuple[str, ...]
    again: Recipe | None = None
    """What to start again with, where that is the verdict."""
    instead: str = ""
    """What else would do, where nothing at hand brings it nearer."""

    @property
    def puts(self) -> bool:
        """Whether there is something to put in, or a pile to begin anew."""
        return self.again is not None or (self.correction.verdict in ("add", "cut") and bool(self.correction.additions))

    def source(self, source_id: str) -> AtHand:
        """Something at hand, by its id."""
        return next(s for s in self.sources if s.id == source_id)

    @property
    def to_make(self) -> list[tuple[str, tuple[tuple[str, float], ...]]]:
        """Tints that go in and are not on the palette yet: name, and tube and share of each half."""
        lacking = {s.id for s in self.sources if s.trouble > 0}
        used = self.again.bases if self.again is not None else [self.source(i) for i, _ in self.correction.additions]
        return [(s.name, s.shares) for s in used if s.id in lacking]

    def again_words(self) -> list[str]:
        """What a new pile is made of, "3 white" each."""
        return [i.said for i in self.again.ingredients] if self.again is not None else []


class _Anew:
    """A new pile of the same colour, from what was learnt; worked out when it is asked for."""

    def __init__(self, document: Document, pile: Pile, known: Belief) -> None:
        self.document, self.pile, self.known = document, pile, known
        self.recipe: Recipe | None = None

    def doses(self) -> Doses:
        mix = self.document.mix
        chosen, hand = mix.chosen(), mix.hand.made()
        tubes = as_believed(self.known, chosen.tubes)
        terms = Terms(tubes, chosen.name, mix.most_tubes, chosen.surface, mix.order, hand)
        self.recipe = recipes(np.array(goal_of(self.document, self.pile)), terms, Wishes(count=1, effort=24))[1][0]
        return anew_doses(self.recipe, hand)


def anew_doses(recipe: Recipe, hand: Hand) -> Doses:
    """What goes into a pile by a recipe from tubes and tints."""
    times = _times(recipe)
    parts = np.array([i.parts for i in recipe.ingredients])
    ml = float(hand.enough(parts)) / (float(parts.sum()) * times)
    return mixed(recipe.ingredients, {b.id: b for b in recipe.bases}, hand, times, ml)


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
    sources = addable(document, pile)
    planned = _first_parts(document, pile)
    anew = _Anew(document, pile, known)
    seen = readings_of(document, pile_id)
    times = sum(1 for r in seen if r.doses == last.doses and r.batch == last.batch)
    words = last.how == "words"
    handling = Handling(
        planned,
        document.mix.hand.made(),
        part_ml(document, pile),
        document.mix.order,
        HOME,
        last.noise,
        times,
        anew.doses,
        last.batch > 0,
        words,
    )
    goal = goal_of(document, pile)
    key, said = batch_key(last), said_of(last.said) if words else []
    if said:
        found = worded(known, last.doses, last.lab, goal, sources, handling, said, key)
    else:
        found = correct(known, last.doses, goal, sources, handling, key)
    again = anew.recipe if found.verdict == "again" else None
    instead = _instead(document, pile, known, last) if found.verdict == "leave" else ""
    return Advice(found, tuple(sources), tuple(known.words()[:3]), again, instead)


def _instead(document: Document, pile: Pile, known: Belief, last: PileReading) -> str:
    """What else would do for a pile that comes no nearer: another pile that is nearer, or a tube that is not there."""
    goal = np.array(goal_of(document, pile))
    off = float(ciede2000(np.array(last.lab), goal))
    said = []
    near: list[tuple[float, str]] = []
    for s in document.mixed.strings:
        for p in s.piles:
            seen = last_reading(document, p.id)
            if p.id != pile.id and seen is not None:
                near.append((float(ciede2000(np.array(seen.lab), goal)), p.name))
    if near and min(near)[0] < 0.7 * off:
        said.append(f"take {min(near)[1]}, which is {min(near)[0]:.1f} from it")
    there = {t.id for t in known.tubes}
    others = [t for t in all_tubes().values() if t.id not in there]
    found = better_tube(known, last.doses, last.lab, goal, others)
    if found is not None and found[1] < 0.6 * off:
        said.append(f"take {found[0].short}, which is not on this palette and would bring it to {found[1]:.1f}")
    return ", or ".join(said)


def with_advice(document: Document, pile_id: str, advice: Advice, share: float = 1.0) -> Document:
    """The document once ``share`` of what was advised went into a pile, or it was begun anew.

    Raises KeyError for an unknown pile.
    """
    pile, c = pile_of(document, pile_id), advice.correction
    now = held(document, pile)
    hand = document.mix.hand.made()
    if c.verdict == "again" and advice.again is not None:
        return put(document, pile_id, anew_doses(advice.again, hand), now.batch + 1)
    doses = shrunk(now.doses, c.keep)
    ml = part_ml(document, pile)
    for source_id, volume in c.additions:
        source, parts = advice.source(source_id), volume * share
        error = float(hand.errors(np.array(parts), parts * ml))
        doses = (*doses, Dose(source.shares, parts, round(error, 4), source_id, source.within))
    return put(document, pile_id, doses, now.batch)


def advice_or_why(document: Document, pile_id: str) -> Advice | str:
    """Advice, or in one sentence why there is none."""
    try:
        return advise(document, pile_id)
    except ValueError as error:
        return f"{str(error)[0].upper()}{str(error)[1:]}."


def expected_of(advice: Advice) -> Lab:
    """The colour that a pile is expected to have once the advice was followed."""
    lab: Array | Lab = advice.again.lab if advice.again is not None else advice.correction.expected
    return as_lab(lab)
