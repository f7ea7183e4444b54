"""Where the piles of strings stand: on the notes, at even steps, in a shape; how many, and what is dropped first."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.document.document import Document, MixChoice, Note
from ochre_stone.core.mixing.strings.budget import kept
from ochre_stone.core.mixing.strings.shapes import SHAPES, shaped
from ochre_stone.core.mixing.strings.targets import PileTarget, between, on_notes, targets
from ochre_stone.core.picture.sampling import in_polygon

IMPORTANT = {"skin": 2.0}
"""How much more a note of a subject matters than its share says: a head is looked at first (judgement)."""
KEPT = 1e4
"""The same of a note whose pile is to be kept: nothing outweighs it."""
IN_FOCUS = 2.0
"""How much more a note in a focus area matters (judgement)."""


def weight_of(note: Note, document: Document) -> float:
    """What being a little off costs at a note: the root of its share, so that small things are not lost (judgement)."""
    looked_at = note.place is not None and any(in_polygon(a.points, *note.place) for a in document.masses.focus)
    weight = float(max(note.share, 0.002) ** 0.5 * IMPORTANT.get(note.subject, 1.0))
    weight *= IN_FOCUS if looked_at else 1.0
    return weight * KEPT if note.pile == "keep" else weight


@dataclass(frozen=True)
class Members:
    """The notes of a string, their Lab (n, 3) as they are to be painted, and what each weighs (n,)."""

    notes: tuple[Note, ...]
    goal: Array
    weight: Array


def stands(mix: MixChoice, string_id: str) -> str:
    """Where the piles of a string stand: "notes", "even" or one of SHAPES."""
    return mix.of_string(string_id).stand or mix.stand


def standing_rows(
    strings: Mapping[str, Members], mix: MixChoice, active: Collection[str], taken: int = 0
) -> dict[str, list[PileTarget]]:
    """Targets, dark to light, of each string by its id; strings that are left out take no pile.

    ``active``: ids of the rules that shape even steps; ``taken``: piles of ladders and added strings, which the number
    for the session counts. Strings with a number or a shape of their own keep it; among the others the piles that
    lose least are kept, then the widest gaps are closed as far as there is room.
    """
    wanted = {s: m for s, m in strings.items() if not mix.leaves_out(s)}
    rows: dict[str, list[PileTarget]] = {}
    on_them: dict[str, list[PileTarget]] = {}
    for s, m in wanted.items():
        how, kind = mix.of_string(s), stands(mix, s)
        if kind == "even":
            rows[s] = _even(s, m, how.count or mix.steps, active)
            continue
        piles = on_notes(m.goal, m.weight, [n.id for n in m.notes], mix.touch)
        if kind in SHAPES:
            rows[s] = shaped(piles, m.goal, m.weight, [n.id for n in m.notes], SHAPES[kind][1])
        elif how.count:
            few = _kept([(s, t) for t in piles], wanted, how.count).get(s, [])
            rows[s] = [*few, *_steps(few, m, mix.step)[: how.count - len(few)]]
        else:
            on_them[s] = piles
    room = max(mix.piles - taken - sum(map(len, rows.values())), 1) if mix.piles else None
    if room is not None:  # what is kept stays, however few are asked for
        kept_notes = {n.id for m in wanted.values() for n in m.notes if n.pile == "keep"}
        room = max(room, sum(bool(kept_notes & set(t.notes)) for row in on_them.values() for t in row))
    if room is not None:
        found = _kept([(s, t) for s, row in on_them.items() for t in row], wanted, room)
        on_them = {s: found.get(s, []) for s in on_them}
    steps = [
        (_gap(t, on_them[s]), s, t) for s in on_them if on_them[s] for t in _steps(on_them[s], wanted[s], mix.step)
    ]
    steps.sort(key=lambda e: -e[0])
    if room is not None:
        steps = steps[: max(room - sum(map(len, on_them.values())), 0)]
    for s, row in on_them.items():
        rows[s] = [*row, *(t for _, own, t in steps if own == s)]
    return {s: sorted(rows[s], key=lambda t: t.lab[0]) for s in strings if rows.get(s)}


def _steps(piles: Sequence[PileTarget], m: Members, step: float) -> list[PileTarget]:
    """Steps between piles of one thing, as far as it is known, the widest gap first: shadows fall on many things, and
    what has no name may be anything."""
    subject = {n.id: n.subject for n in m.notes}
    out: list[tuple[float, PileTarget]] = []
    for one in dict.fromkeys(subject.values()):
        own = [k for k, n in enumerate(m.notes) if n.subject == one]
        standing = [t for t in piles if subject[t.notes[0]] == one]
        shadows = len(set(subject.values())) > 1
        found = between(standing, m.goal[own], m.weight[own], step, one != "other" and not shadows)
        out += [(_gap(t, standing), t) for t in found]
    return [t for _, t in sorted(out, key=lambda e: -e[0])]


def _even(string_id: str, m: Members, steps: int, active: Collection[str]) -> list[PileTarget]:
    weight = np.array([max(n.share, 0.005) for n in m.notes])
    subject = string_id.partition("-")[0]
    return targets(m.goal, weight, steps, subject, [n.lit for n in m.notes], active)


def _kept(
    piles: Sequence[tuple[str, PileTarget]], strings: Mapping[str, Members], most: int
) -> dict[str, list[PileTarget]]:
    """Of piles with their strings those that lose least, by string."""
    by_id = {(s, n.id): float(w) for s, m in strings.items() for n, w in zip(m.notes, m.weight, strict=True)}
    weight = [sum(by_id[s, i] for i in t.notes) for s, t in piles]
    keep = kept([t.lab for _, t in piles], weight, most)[0] if piles else []
    out: dict[str, list[PileTarget]] = {}
    for k in keep:
        out.setdefault(piles[k][0], []).append(piles[k][1])
    return out


def _gap(step: PileTarget, row: Sequence[PileTarget]) -> float:
    """Value steps between the two neighbours that a step lies between."""
    below = max((t.value for t in row if t.value <= step.value), default=step.value)
    above = min((t.value for t in row if t.value >= step.value), default=step.value)
    return above - below
