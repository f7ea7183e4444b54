"""From the project to the log: a pile of the plan as the document tells it, and one of the bench, as entries."""

import uuid
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from ochre_stone.core.colour.difference import apart
from ochre_stone.core.colour.spaces import Lab, as_lab
from ochre_stone.core.document.choices import PileReading
from ochre_stone.core.document.document import Document
from ochre_stone.core.mixing.bench.bench import BenchPile
from ochre_stone.core.mixing.recipe.dose import Dose
from ochre_stone.core.mixing.session.minutes import pile_minutes
from ochre_stone.core.mixing.strings.targets import Pile
from ochre_stone.core.paint.palettes import Palette
from ochre_stone.core.paint.predict import predict
from ochre_stone.core.paint.tubes import Tube
from ochre_stone.core.planning.dosenames import dose_name
from ochre_stone.core.planning.mending import SAME, begun, part_ml
from ochre_stone.core.planning.pinning import pile_of
from ochre_stone.logbook.entry import Cut, Entry, Put, Seen, TubeThen, tube_key


def fresh_uid() -> str:
    """A name for an entry that no other has."""
    return uuid.uuid4().hex


def tube_then(t: Tube) -> TubeThen:
    """A tube as it is now, for the log."""
    return TubeThen(tube=t.id, stamp=t.stamp, name=t.short, k=tuple(t.K.tolist()), s=tuple(t.S.tolist()))


@dataclass(frozen=True)
class Steps:
    """What happened to a pile, one thing after the other."""

    puts: tuple[Dose, ...]
    """As they were put in, before any cut."""
    cuts: tuple[tuple[int, float], ...]
    """After so many things, and the share that was kept."""
    first: int
    """How many of the things were of the first mixing."""


def course_steps(states: Sequence[Sequence[Dose]]) -> Steps:
    """What happened between the states of a pile: all doses in it each time, smaller where it was cut.

    Raises ValueError where a state does not go on from the one before.
    """
    puts, cuts = list(states[0]), []
    first = len(puts)
    for before, after in pairwise(states):
        if len(after) < len(before):
            raise ValueError("a pile holds less than it did")
        keep = after[0].volume / before[0].volume if before[0].volume > 0 else 1.0
        if keep < 1 - 1e-4:
            cuts.append((len(puts), min(keep, 1.0)))
        puts += after[len(before) :]
    return Steps(tuple(puts), tuple(cuts), first)


def numbers_of(document: Document, pile_id: str) -> list[int]:
    """Which beginnings of a pile the document tells of: 0 for the first, 1 for where it was begun anew."""
    found = {r.batch for r in document.readings if r.pile == pile_id}
    return sorted(found | {c.batch for c in document.put_in if c.pile == pile_id})


def _readings(document: Document, pile: Pile, number: int) -> list[PileReading]:
    target = pile.target.lab
    return [r for r in document.readings if r.pile == pile.id and r.batch == number and apart(r.target, target) <= SAME]


def planned_entry(
    document: Document, pile_id: str, number: int, now: float, old: Entry | None = None, started: bool = False
) -> Entry | None:
    """The entry of a pile of the plan as the document tells it; None where it was not mixed.

    ``old``: the entry as the log has it: what happened before keeps its time and amount, and what is not the plan's
    business (line, what is left, how it dried) stays. ``started``: the painter has said that it is begun. Raises
    KeyError for an unknown pile.
    """
    pile = pile_of(document, pile_id)
    readings = _readings(document, pile, number)
    since = next((c for c in document.put_in if c.pile == pile_id and c.batch == number), None)
    states = [r.doses for r in readings]
    if since is not None and (readings or number > 0):
        states.append(since.doses)
    if not states:
        if not started:
            return None
        states = [begun(document, pile)]
    steps = course_steps(states)
    per_part = part_ml(document, pile)
    had = list(old.puts) if old is not None else []
    puts = []
    for n, d in enumerate(steps.puts):
        shares = tuple((_key(document, i), c) for i, c in d.shares)
        same = n < len(had) and had[n].dose.shares == shares and abs(had[n].parts - d.volume) < 1e-4
        at, ml = (had[n].at, had[n].ml) if same else (now, d.volume * per_part)
        name = dose_name(document, pile, d, n if n < steps.first else None)
        dose = replace(d, shares=shares, volume=round(ml, 6), name=name)
        puts.append(Put(at=at, dose=dose, parts=round(d.volume, 6), first=n < steps.first))
    old_cuts, old_seen = (old.cuts, old.seen) if old is not None else ((), ())
    cuts = [
        Cut(at=old_cuts[n].at if n < len(old_cuts) and old_cuts[n].place == place else now, place=place, keep=keep)
        for n, (place, keep) in enumerate(steps.cuts)
    ]
    seen = []
    for n, r in enumerate(readings):
        place = len(r.doses)
        was = old_seen[n] if n < len(old_seen) else None
        same = was is not None and was.place == place and was.lab == r.lab and was.how == r.how
        seen.append(
            Seen(
                at=was.at if same and was is not None else now,
                place=place,
                lab=r.lab,
                noise=r.noise,
                how=r.how,
                said=r.said[:200],
                gloss=r.gloss,
            )
        )
    planned_ml = document.mixed.branching.ml.get(pile_id, 0.0) if document.mixed.branching is not None else 0.0
    chosen = document.mix.chosen()
    fields = {
        "uid": fresh_uid(), "project": document.uid, "pile": pile_id, "number": number, "origin": "plan",
        "name": pile.name[:200], "begun": now,
        "planned": tuple((_key(document, i), c) for i, c in pile.recipe.shares), "planned_ml": planned_ml,
        "planned_minutes": pile_minutes(len(pile.recipe.ingredients)),
    }  # fmt: skip
    if old is not None:
        fields = old.model_dump() | {"name": fields["name"]}
    whole = {
        "title": document.title[:200], "medium": chosen.medium, "palette": chosen.name[:200],
        "target": as_lab(pile.target.lab), "puts": tuple(puts), "cuts": tuple(cuts), "seen": tuple(seen),
    }  # fmt: skip
    made = Entry.model_validate(fields | whole)
    return made.model_copy(update={"predicted": _predicted(made, document.mixed.tube, chosen)})


def bench_entry(
    document: Document,
    pile: BenchPile,
    lab: Lab,
    known: Callable[[str], Tube],
    palette: Palette,
    now: float,
    left_ml: float | None = None,
) -> Entry:
    """The entry of a pile of the bench that the painter says was mixed; ``lab``: as it looks, ``left_ml``: of a
    leftover."""
    part = document.bench.part_ml
    by_eye = document.mix.hand.dose
    doses = [
        replace(
            d,
            shares=tuple((tube_key(i, known(i).stamp), c) for i, c in d.shares),
            volume=round(d.volume, 6),
            error=by_eye,
        )
        for d in pile.doses
        if d.volume > 0
    ]
    puts = tuple(Put(at=now, dose=d, parts=round(d.volume / part, 6)) for d in doses)
    return Entry(
        uid=fresh_uid(),
        project=document.uid,
        title=document.title[:200],
        name=pile.name,
        origin="bench",
        begun=now,
        finished=now,
        medium=palette.medium,
        palette=palette.name[:200],
        target=document.bench.target,
        predicted=lab,
        left_ml=left_ml,
        left_at=now if left_ml is not None else None,
        puts=puts,
    )


def tubes_in(entry: Entry, find: Callable[[str], Tube]) -> list[TubeThen]:
    """The tubes that an entry made now holds, as they are now."""
    ids = {key.partition("@")[0] for p in entry.puts for key, _ in p.dose.shares}
    ids |= {key.partition("@")[0] for key, _ in entry.planned}
    return [tube_then(find(i)) for i in sorted(ids)]


def _key(document: Document, tube_id: str) -> str:
    return tube_key(tube_id, document.mixed.tube(tube_id).stamp)


def _predicted(entry: Entry, find: Callable[[str], Tube], palette: Palette) -> Lab | None:
    inside: dict[str, float] = {}
    for key, ml in entry.inside().items():
        inside[key.partition("@")[0]] = inside.get(key.partition("@")[0], 0.0) + ml
    there = {i: ml for i, ml in inside.items() if ml > 0}
    return predict(there, find, palette.surface).lab if there else None
