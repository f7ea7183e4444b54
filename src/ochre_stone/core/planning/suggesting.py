"""Notes that the program proposes: of the whole picture, or of an area that the painter draws; and what they are."""

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.reading import read
from ochre_stone.core.document.document import Document, Note
from ochre_stone.core.errors import OchreError
from ochre_stone.core.keys.area import suggest_in
from ochre_stone.core.keys.cover import LeftOver
from ochre_stone.core.keys.melt import WORKING_PIXELS, KeyColour, Known, melt, things_in
from ochre_stone.core.keys.whole import suggest
from ochre_stone.core.picture.frame import Point, framed
from ochre_stone.core.picture.picture import Picture
from ochre_stone.core.picture.sampling import in_polygon
from ochre_stone.core.planning.massing import focus_mask
from ochre_stone.core.planning.naming import note_name
from ochre_stone.core.planning.noting import read_fields

NEAR = 5.0
"""Units of Lab within which a suggested note says what a note says already."""


@dataclass(frozen=True)
class Suggested:
    """Notes, dark to light, named, and what is to be said of them."""

    notes: tuple[Note, ...]
    rest: LeftOver
    """What they leave over of the picture, or of the area."""
    sure: dict[str, float] = field(default_factory=dict)
    """0..1 of each note's subject, by id; below a half the subject is 'other'."""
    things: dict[str, int] = field(default_factory=dict)
    """The thing of the picture that each note lies on, by id."""
    kept: float = 1.0
    """Share of a drawn outline that was looked at: its main thing."""
    missing: tuple[str, ...] = ()
    """Parts of a form that are not there, in words."""

    def words(self, new: Sequence[Note]) -> str:
        """What is to be said of those that were added, ``new``."""
        ids = {n.id for n in new}
        unnamed = [i for i in ids if self.sure.get(i, 1.0) < 0.5]
        said = []
        there = len(self.notes) - len(new)
        if there:
            said.append(f"{there} more {'are' if there > 1 else 'is'} on the scale already.")
        if self.kept < 0.97:
            said.append(
                f"The outline takes in more than one thing: only its main thing was looked at, {self.kept:.0%} of it."
            )
        if self.missing:
            said.append(f"Not there: {', '.join(self.missing)}.")
        if unnamed:
            things = len({self.things[i] for i in unnamed})
            many = f"{len(unnamed)} notes have" if len(unnamed) > 1 else "1 note has"
            on = f", on {things} things" if things > 1 else ""
            said.append(f"{many} no sure name{on}: say what {'they are' if len(unnamed) > 1 else 'it is'} (Ctrl+U).")
        return " ".join(said)


def known_of(document: Document) -> tuple[Known, ...]:
    """What the painter has said of whole things."""
    return tuple(Known(*n.place, n.subject) for n in document.notes if n.whole_thing and n.place is not None)


def suggest_notes(picture: Picture, count: int, document: Document) -> Suggested:
    """About ``count`` notes that cover what the frame shows; focus areas count more, named things keep their name."""
    seen = framed(picture, document.frame)
    focus = focus_mask(picture, document, seen.shape(WORKING_PIXELS))
    looked_at = None if focus is None else focus.astype(np.float32)
    found, rest = suggest(seen, count, document.the_balance(), looked_at, known_of(document))
    return _noted(document, found, rest)


def suggest_here(
    picture: Picture, document: Document, points: npt.ArrayLike, shape: str, count: int, all_of_it: bool = False
) -> Suggested:
    """Notes of the area with corners ``points`` (n, 2) in pixels of the original, besides those that are in it.

    ``shape``: see core/keys/area; ``count`` is of the shape "count" alone. Raises OchreError for an impossible area.
    """
    corners = np.clip(np.asarray(points, dtype=float), 0, (picture.width - 0.01, picture.height - 0.01))
    there = [n.lab for n in document.notes if n.place is not None and in_polygon(corners, *n.place)]
    standing = np.array(there).reshape(-1, 3)
    found = suggest_in(
        framed(picture, document.frame),
        corners,
        shape,
        count,
        document.the_balance(),
        known_of(document),
        standing,
        all_of_it,
    )
    return _noted(document, found.keys, found.rest, found.kept, found.missing)


def _noted(
    document: Document, found: Sequence[KeyColour], rest: LeftOver, kept: float = 1.0, missing: tuple[str, ...] = ()
) -> Suggested:
    notes: list[Note] = []
    taken = {n.id for n in document.notes}
    ids = (i for k in range(1, len(found) + len(taken) + 2) if (i := f"n{k}") not in taken)
    for key, new_id in zip(found, ids, strict=False):
        others = [*document.notes, *notes]
        notes.append(
            Note(
                id=new_id,
                name=note_name(key.subject, key.role, key.seen.lab, others),
                x=key.x,
                y=key.y,
                aperture=key.aperture,
                subject=key.subject,
                role=key.role,
                share=min(key.share, 1.0),
                **read_fields(document, key.seen),
            )
        )
    pairs = list(zip(notes, found, strict=True))
    return Suggested(
        tuple(notes), rest, {n.id: k.sure for n, k in pairs}, {n.id: k.thing for n, k in pairs}, kept, missing
    )


def added(document: Document, found: Suggested) -> tuple[Document, tuple[Note, ...]]:
    """The document with those suggested notes that say something new, and these as they were proposed.

    A note that was taken meanwhile keeps its id and its place: the new one gets another.
    """
    new = tuple(
        n
        for n in found.notes
        if all(float(np.linalg.norm(np.array(n.lab) - np.array(m.lab))) >= NEAR for m in document.notes)
    )
    out = document
    for n in new:
        there = any(m.id == n.id for m in out.notes)
        out = out.with_note(n.model_copy(update={"id": out.fresh_note_id()}) if there else n)
    return out, new


def spread_thing(picture: Picture, document: Document, note_id: str) -> tuple[Document, tuple[str, ...]]:
    """What a note is, said of the whole thing that it lies on: the document, and the ids of the other notes named.

    Locked notes stay; names that only told subject and role follow. Raises OchreError for a note without a place in
    the frame.
    """
    note = document.note(note_id)
    melted = melt(framed(picture, document.frame), document.the_balance())
    things = things_in(melted)

    def thing(place: Point | None) -> int | None:
        at = None if place is None else melted.at(*place)
        return None if at is None else int(things.number[at])

    own = thing(note.place)
    if own is None:
        raise OchreError(f"“{note.name}” has no place in the picture: spread from a note that was taken in it.")
    out = document.with_note(note.model_copy(update={"whole_thing": True}))
    named = []
    for other in document.notes:
        if other.id == note.id or thing(other.place) != own:
            continue
        changed: dict[str, object] = {"whole_thing": False}
        if other.subject != note.subject and not other.locked:
            named.append(other.id)
            rest = [n for n in out.notes if n.id != other.id]
            plain = read(other.lab)
            told = note_name(other.subject, other.role, other.lab, ())
            plainly = other.name in (plain.name, plain.plain_name)
            if plainly or other.name.startswith((f"{other.subject}, ", told)):
                changed |= {"name": note_name(note.subject, other.role, other.lab, rest)}
            changed |= {"subject": note.subject}
        out = out.with_note(other.model_copy(update=changed))
    return out, tuple(named)
