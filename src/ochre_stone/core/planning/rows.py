"""From notes to the strings that are wanted: what each pile should be, after range, scheme, rules and ladders."""

import hashlib
from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.munsell import lightness_of_value, value_of_lightness
from ochre_stone.core.colour.spaces import Array, Lab, as_lab
from ochre_stone.core.document.choices import PileReading
from ochre_stone.core.document.document import STRING_ORDER, Document, Note
from ochre_stone.core.harmony.ladders import DistanceWay, LadderRung, by_air, by_rule, sky
from ochre_stone.core.harmony.preview import ways
from ochre_stone.core.harmony.relation import push
from ochre_stone.core.harmony.schemes import places, pull
from ochre_stone.core.mixing.session.drafting import StringRow
from ochre_stone.core.mixing.strings.kindred import FAMILY_NAMES, family
from ochre_stone.core.mixing.strings.shadowlight import Lights
from ochre_stone.core.mixing.strings.subjects import RULE_BY_ID
from ochre_stone.core.mixing.strings.targets import DARKEST, LIGHTEST, Pile, PileTarget
from ochre_stone.core.paint.usual import EDITION
from ochre_stone.core.planning.added import added_rows, lights_of
from ochre_stone.core.planning.standing import Members, standing_rows, weight_of


def note_targets(document: Document) -> Array:
    """Lab (n, 3) of the notes as they are to be painted: eased into the range of paint, pulled toward the scheme, the
    difference of light and shadow pushed or calmed."""
    return harmonised(document, document.masses.range.tone().lab(_noted(document)))


def target_by_note(document: Document) -> dict[str, Lab]:
    """The rows of :func:`note_targets` by the notes' ids."""
    return {n.id: as_lab(goal) for n, goal in zip(document.notes, note_targets(document), strict=True)}


def pile_by_note(document: Document) -> dict[str, Pile]:
    """For each note of a string, by its id, its pile: the one that was made for it, else that of its string which comes
    nearest to it."""
    own = {i: p for s in document.mixed.strings for p in s.piles for i in p.target.notes}
    strings = {s.id: s for s in document.mixed.strings}
    out: dict[str, Pile] = {}
    for n, goal in zip(document.notes, note_targets(document), strict=True):
        string = strings.get(string_of(document, n)) or strings.get(n.subject)
        if n.id in own:
            out[n.id] = own[n.id]
        elif string is not None:
            at = int(nearest_of(np.array([p.target.lab for p in string.piles]), goal[None])[0])
            out[n.id] = string.piles[at]
    return out


def notes_without_pile(document: Document) -> set[str]:
    """Ids of the notes that no pile was made for, where piles stand on notes: those of strings that are left out, and
    those that fell away because fewer piles were asked for."""
    own = {i for s in document.mixed.strings for p in s.piles for i in p.target.notes}
    return {n.id for n in document.notes} - own if own else set()


def mixture_by_note(document: Document) -> dict[str, Lab]:
    """The mixtures of :func:`pile_by_note`."""
    return {i: p.recipe.lab for i, p in pile_by_note(document).items()}


def nearest_of(piles: Array, lab: Array) -> npt.NDArray[np.intp]:
    """Index of the pile (m, 3) that each colour (n, 3) goes to: the nearest in CIELAB, value counted twice (common
    practice: value before hue)."""
    weighted = np.array([2.0, 1.0, 1.0])
    gaps = ((lab * weighted)[:, None, :] - (piles * weighted)[None, :, :]) ** 2
    return np.asarray(gaps.sum(axis=2).argmin(axis=1))


def _noted(document: Document) -> Array:
    return np.array([n.lab for n in document.notes], dtype=float).reshape(-1, 3)


def harmonised(document: Document, lab: Array) -> Array:
    """Colours Lab (n, 3) of the document's notes after the scheme and the push; values as they are."""
    h, notes = document.harmony, document.notes
    share, held = [n.share for n in notes], [n.id in h.held for n in notes]
    pulled = pull(lab, places(h.scheme, h.rotation), h.amount, h.wheel, h.accents, share, held)
    return push(pulled, [n.subject for n in notes], [n.lit for n in notes], share, h.push, held)


def harmony_ways(document: Document) -> Array | None:
    """How harmony moves the colours of the whole picture (a grid as of ``preview.ways``); None where it moves none."""
    lab = _noted(document)
    if not len(lab):
        return None
    after = harmonised(document, lab)
    return None if np.allclose(lab, after, atol=1e-6) else ways(lab, after)


def distance_ladder(document: Document, way: DistanceWay | None = None) -> list[LadderRung]:
    """The document's distance ladder, near to far, by its own way or another; empty without one or its notes."""
    choice = document.harmony.distance
    ids = {n.id: i for i, n in enumerate(document.notes)}
    if choice is None or choice.near not in ids or choice.horizon not in ids:
        return []
    goal = note_targets(document)
    near, horizon = (as_lab(goal[ids[i]]) for i in (choice.near, choice.horizon))
    if (way or choice.way) == "air":
        return by_air(near, horizon, choice.steps, choice.first, choice.last, choice.visibility, choice.air)
    return by_rule(near, horizon, choice.steps, choice.first, choice.last)


def sky_notes(document: Document) -> list[tuple[float, Lab]]:
    """Height and target of the notes of the sky: 0 for the lowest in the photo, 1 for the highest."""
    goal = note_targets(document)
    found = [(n.place[1], as_lab(goal[i])) for i, n in enumerate(document.notes) if n.subject == "sky" and n.place]
    if len({y for y, _ in found}) < 2:
        return []
    top, bottom = min(y for y, _ in found), max(y for y, _ in found)
    return [((bottom - y) / (bottom - top), lab) for y, lab in found]


def sky_ladder(document: Document) -> list[LadderRung]:
    """The document's sky ladder, from the horizon up; empty without one or without two notes of the sky."""
    choice, notes = document.harmony.sky, sky_notes(document)
    if choice is None or not notes:
        return []
    return sky(notes, choice.steps, choice.band, choice.strength)


LADDERS = {"distance": "Distance", "sky-ladder": "Sky ladder"}


def ladders(document: Document) -> dict[str, list[LadderRung]]:
    """Ladders that are planned, by the id of their string."""
    found = {"distance": distance_ladder(document), "sky-ladder": sky_ladder(document)}
    return {i: rungs for i, rungs in found.items() if rungs}


def ladder_targets(rungs: Sequence[LadderRung]) -> list[PileTarget]:
    """Piles of a ladder, dark to light, as strings have them; held where paint can go."""
    out = []
    for r in rungs:
        value = min(max(float(value_of_lightness(min(r.lab[0], 100.0))), DARKEST), LIGHTEST)
        out.append(PileTarget((float(lightness_of_value(value)), r.lab[1], r.lab[2]), round(value, 2), "rule"))
    return sorted(out, key=lambda t: t.lab[0])


PART_WORDS = {"lit": "lit", "shade": "shaded", "near": "near", "middle": "in the middle", "far": "far"}
"""Endings of strings of a subject that is kept apart, and their words."""
ADDED_ROWS = {
    "skin-flush": "Lips and cheeks", "foliage-through": "Sun through leaves", "sky-clouds": "Clouds",
    "shadows-form": "Form shadows", "shadows-cast": "Cast shadows",
}  # fmt: skip
"""Strings that rules of subjects add."""


def string_of(document: Document, note: Note) -> str:
    """The string that a note belongs to: its subject or a part of it, or the shadows."""
    how = dict(document.mix.apart).get(note.subject)
    if how == "light":
        part = "lit" if note.lit else "shade"
        # A subject that is noted on one side only stays whole.
        sides = {n.lit for n in document.notes if n.subject == note.subject}
        return f"{note.subject}-{part}" if len(sides) == 2 else note.group
    if how == "distance" and note.group == note.subject:
        found = {n.distance or "near" for n in document.notes if n.group == note.subject}
        return f"{note.subject}-{note.distance or 'near'}" if len(found) > 1 else note.subject
    return f"other-{family(note.lab)}" if note.group == "other" else note.group


def groups(document: Document) -> dict[str, list[int]]:
    """String id to the indices of its notes, in the order of strings; each note is in one.

    Cast shadows and dark accents form the shadows; a core shadow stays with its thing. What has no name goes by its
    family of hue.
    """
    found: dict[str, list[int]] = {}
    for i, n in enumerate(document.notes):
        found.setdefault(string_of(document, n), []).append(i)
    parts = ("", *(f"-{p}" for p in (*PART_WORDS, *FAMILY_NAMES)))
    order = [f"{g}{part}" for g in STRING_ORDER for part in parts]
    return {g: found[g] for g in order if g in found}


def palette_print(document: Document, edition: int = EDITION) -> str:
    """Changes whenever the paint changes that strings are mixed from: palette, tubes, medium, finish, and the figures
    of the pigments that ship."""
    mix = document.mix
    chosen = [mix.palette, mix.laid.model_dump() if mix.laid is not None else None, mix.medium, mix.finish]
    return hashlib.sha256(repr([*chosen, edition] if edition > 1 else chosen).encode()).hexdigest()[:8]


DARKS_ARE_DEEPER = (
    "This project is planned anew: darks are deeper now, for paint is seen wet or varnished, where it was seen with a "
    "satin sheen before."
)


def of_older_paint(document: Document) -> bool:
    """Whether the document's strings were mixed from the palette that is chosen, by the figures of an older program:
    they are to be worked out anew, and :data:`DARKS_ARE_DEEPER` is said."""
    if not document.mixed.strings or of_this_palette(document):
        return False
    theirs, _, rest = document.mixed.fingerprint.partition("-")
    return bool(theirs) and (not rest or theirs in (palette_print(document, n) for n in range(1, EDITION)))


def of_this_palette(document: Document) -> bool:
    """Whether the document's strings were mixed from the paint that is chosen now: no pile of another palette is gone
    on from with the tubes of this one."""
    theirs, _, rest = document.mixed.fingerprint.partition("-")
    if rest:
        return theirs == palette_print(document)
    if theirs:  # strings of an older program do not tell, and its paint was another
        return False
    there = {t.id for t in document.mix.chosen().tubes}
    return all(i in there for s in document.mixed.strings for p in s.piles for i, _ in p.recipe.shares)


def is_current(document: Document) -> bool:
    """Whether the document's strings are those of its notes, scheme and palette as they are."""
    return document.mixed.fingerprint == fingerprint(document)


def measured(document: Document) -> list[PileReading]:
    """Readings that later piles are mixed by: what was said of a pile mends that pile alone."""
    return [r for r in document.readings if r.how != "words"]


def fingerprint(document: Document) -> str:
    """Changes whenever the strings have to be worked out anew; what stands before "-" is the paint's."""
    unsaid = {"tints"} if document.mix.tints is None else set()  # plans that were saved before it could be said stay
    chosen = [
        [(n.id, n.lab, n.group, n.role) for n in document.notes],
        [n.distance for n in document.notes] if document.mix.apart else [],
        *([(n.id, n.pile) for n in document.notes if n.pile],) * any(n.pile for n in document.notes),
        [n.place for n in document.notes if n.subject == "sky"] if document.harmony.sky is not None else [],
        document.harmony.model_dump(),
        document.masses.range.model_dump() if document.masses.range.keep != "scene" else [],
        document.mix.model_dump(exclude={"loose"} | unsaid),
        [a.model_dump() for a in document.masses.focus],
        [r.model_dump() for r in measured(document)] if document.mix.learn else [],
    ]
    return f"{palette_print(document)}-{hashlib.sha256(repr(chosen).encode()).hexdigest()[:16]}"


def string_title(string_id: str) -> str:
    """Name of a string as shown."""
    if string_id in LADDERS or string_id in ADDED_ROWS:
        return (LADDERS | ADDED_ROWS)[string_id]
    subject, _, part = string_id.partition("-")
    if part in FAMILY_NAMES:
        return part.capitalize()
    return f"{subject.capitalize()}, {PART_WORDS[part]}" if part in PART_WORDS else string_id.capitalize()


def lights(document: Document) -> Lights | None:
    """Light and ambient light, from the notes of subjects that are noted in both; None without such a pair."""
    return lights_of(document, note_targets(document))


def members(document: Document, goal: Array) -> dict[str, Members]:
    """The notes of each string; ``goal``: Lab (n, 3) of all notes as they are to be painted."""
    notes, out = document.notes, {}
    for s, every in groups(document).items():
        m = [i for i in every if notes[i].pile != "none"]
        if m:
            weight = np.array([weight_of(notes[i], document) for i in m])
            out[s] = Members(tuple(notes[i] for i in m), goal[m], weight)
    return out


def wanted_rows(document: Document) -> list[StringRow]:
    """The strings that are wanted, with their targets."""
    goal, mix = note_targets(document), document.mix
    active = [r for r in RULE_BY_ID if mix.rule(r)]
    strings = members(document, goal)
    climbing = {string_id: ladder_targets(rungs) for string_id, rungs in ladders(document).items()}
    rows = standing_rows(strings, mix, active)
    added = added_rows(document, goal, rows)
    if mix.piles:
        taken = sum(len(row) for s, row in (climbing | added).items() if not mix.leaves_out(s))
        rows = standing_rows(strings, mix, active, taken)
    out = []
    for string_id, row in (rows | climbing | added).items():
        if not mix.leaves_out(string_id):
            how = mix.of_string(string_id)
            title = string_title(string_id)
            out.append(StringRow(string_id, title, tuple(row), how.method, how.mother, how.first))
    return out
