"""Notes from a picture or the spot reader: taken, suggested, moved, read anew, merged; named with guesses that can be
edited."""

from collections.abc import Sequence
from typing import Any

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.document.document import Document, Note
from ochre_stone.core.errors import OchreError
from ochre_stone.core.keys.cover import DUPLICATE, LeftOver, left_over, nearest
from ochre_stone.core.keys.melt import WORKING_PIXELS
from ochre_stone.core.keys.roles import ACCENT, HIGHLIGHT, shadow_of
from ochre_stone.core.picture.frame import Point
from ochre_stone.core.picture.picture import Picture, linear_to_lab
from ochre_stone.core.picture.sampling import (
    MOST_APERTURE,
    Gradation,
    Region,
    Sample,
    area_region,
    around,
    gradation,
    line_ends,
    look_at,
    spot_region,
)

_HALFTONE = 1.2


def guess_role(value: float, division: float, subject: str = "other") -> str:
    """A guess for a spot alone, always editable: light above the division of light and shadow, shadow below."""
    if value < ACCENT:
        return "dark accent"
    if subject == "sky":
        return "light"
    if value < division:
        return shadow_of(subject)
    if value < division + _HALFTONE:
        return "halftone"
    return "highlight" if value > HIGHLIGHT else "light"


def read_fields(document: Document, seen: Sample) -> dict[str, Any]:
    """The fields of a note that say what was seen."""
    return {
        "lab": seen.lab,
        "spread": seen.spread,
        "clipped": seen.clipped,
        "pair": seen.pair or (),
        "lifted": min(document.the_balance().lifted(max(seen.lab[0], 0.0)), 20.0),
        "source": "photo",
        "spectrum": (),
    }


def _note(document: Document, fields: dict[str, Any], like: Note | None) -> Note:
    """A new note of these fields, or an old one with them in place; the old name goes where it only told the colour."""
    if like is not None and like.part != "all":
        pair = fields["pair"]
        if pair:
            fields = {**fields, "lab": pair[0 if like.part == "larger" else 1].lab}
        else:
            fields = {**fields, "part": "all"}
    r = read(fields["lab"])
    if like is not None:
        before = read(like.lab)
        renamed = {"name": r.name} if like.name in (before.name, before.plain_name) else {}
        return Note.model_validate({**like.model_dump(), **fields, **renamed})
    subject = "other"
    if document.notes:  # most likely the thing that a near colour belongs to
        near = min(document.notes, key=lambda n: float(np.linalg.norm(np.array(n.lab) - np.array(fields["lab"]))))
        if float(np.linalg.norm(np.array(near.lab) - np.array(fields["lab"]))) < 15:
            subject = near.subject
    role = "" if fields["source"] == "given" else guess_role(r.value, 5.0, subject)
    return Note(id=document.fresh_note_id(), name=r.name, subject=subject, role=role, **fields)


def read_note(
    picture: Picture, document: Document, x: float, y: float, aperture: int, like: Note | None = None
) -> Note:
    """A note of a spot of the picture; ``like`` keeps the id, name, subject and role of an existing note.

    Raises OchreError for a spot outside the picture or an impossible aperture.
    """
    seen = look_at(picture, spot_region(picture, x, y, aperture), document.the_balance())
    return _note(document, _spot_fields(document, seen, x, y, aperture), like)


def _spot_fields(document: Document, seen: Sample, x: float, y: float, aperture: int) -> dict[str, Any]:
    return {"x": x, "y": y, "aperture": aperture, "area": (), **read_fields(document, seen)}


def read_area(picture: Picture, document: Document, points: npt.ArrayLike, like: Note | None = None) -> Note:
    """A note of a drawn area, corners (n, 2) in pixels of the original. Raises OchreError where nothing is inside."""
    corners = np.clip(np.asarray(points, dtype=float), 0, (picture.width - 0.01, picture.height - 0.01))
    region = area_region(picture, corners)
    seen = look_at(picture, region, document.the_balance())
    inside = np.argwhere(region.inside)
    middle = inside.mean(axis=0)
    y, x = (inside[((inside - middle) ** 2).sum(axis=1).argmin()] * region.step + 0.5).tolist()
    side = int(np.clip(region.side, 1, MOST_APERTURE))
    area = tuple((float(a), float(b)) for a, b in corners.tolist())
    place = {"x": x + region.columns.start, "y": y + region.rows.start, "aperture": side, "area": area}
    return _note(document, {**place, **read_fields(document, seen)}, like)


def read_line(
    picture: Picture, document: Document, start: Point, end: Point, aperture: int
) -> tuple[Note, Note, Gradation]:
    """Two notes, at the start and the end of a gradation, that know of each other; and the colours on the way.

    Raises OchreError for a line outside the picture or too short.
    """
    found = gradation(picture, start, end, aperture, document.the_balance())
    first_at, last_at = line_ends(start, end)
    first = _note(document, _spot_fields(document, found.start, *first_at, aperture), None)
    with_first = document.with_note(first)
    last = _note(with_first, _spot_fields(document, found.end, *last_at, aperture), None)
    first = first.model_copy(update={"gradation": last.id, "name": f"{first.name}, start"[:80]})
    last = last.model_copy(update={"gradation": first.id, "name": f"{last.name}, end"[:80]})
    return first, last, found


def move_note(picture: Picture, document: Document, note: Note, x: float, y: float) -> Note:
    """The note picked up and put down with its middle at x, y: read there. Raises OchreError where it cannot lie."""
    if note.locked:
        raise OchreError(f"“{note.name}” is locked: unlock it before you move it.")
    if not note.area or note.place is None:
        return read_note(picture, document, x, y, note.aperture, note)
    shape = np.array(note.area) + np.array([x - note.place[0], y - note.place[1]])
    return read_area(picture, document, shape, note)


def reread(picture: Picture, document: Document) -> Document:
    """The document with every note of the photo sampled anew, after the light was set; locked ones stay."""

    def again(n: Note) -> Note:
        if n.locked or n.place is None or n.source != "photo":
            return n
        if n.area:
            return read_area(picture, document, n.area, n)
        return read_note(picture, document, *n.place, n.aperture, n)

    return document.model_copy(update={"notes": tuple(again(n) for n in document.notes)})


def choose_part(document: Document, note: Note, part: str) -> Document:
    """A note of two colours made to stand for one of them ("larger", "smaller"), or "both": a second note is added.

    Whatever the note stands for, it is kept when the note is read anew.
    """
    if len(note.pair) != 2:
        return document
    larger, smaller = note.pair
    if part in ("larger", "smaller"):
        lab = (larger if part == "larger" else smaller).lab
        return document.with_note(note.model_copy(update={"part": part, "lab": lab}))
    out = document.with_note(note.model_copy(update={"part": "larger", "lab": larger.lab}))
    second = {"id": out.fresh_note_id(), "name": f"{note.name}, other"[:80], "lab": smaller.lab, "part": "smaller"}
    return out.with_note(note.model_copy(update={**second, "gradation": "", "locked": False}))


def region_of(picture: Picture, note: Note) -> Region | None:
    """The pixels that a note was read from; None without a place."""
    if note.place is None:
        return None
    if note.area:
        return area_region(picture, note.area)
    return spot_region(picture, *note.place, note.aperture)


def surround_of(picture: Picture, document: Document, note: Note) -> Lab | None:
    """The light around a note in the picture, as Lab: a ring as wide as the note, at least 2 % of the picture."""
    region = region_of(picture, note)
    if region is None:
        return None
    reach = max(region.side, 0.02 * float(np.sqrt(picture.width * picture.height)), 6.0)
    return around(picture, region, reach, document.the_balance())


def with_shares(picture: Picture, document: Document) -> tuple[Document, LeftOver]:
    """The document with each note's share of the picture, and what the notes leave uncovered."""
    if not document.notes:
        return document, LeftOver(0.0, 0.0)
    lab = linear_to_lab(document.seen(picture, WORKING_PIXELS))
    colours = np.array([n.lab for n in document.notes])
    share = np.bincount(nearest(lab, colours).ravel(), minlength=len(colours)) / (lab.shape[0] * lab.shape[1])
    notes = tuple(n.model_copy(update={"share": float(s)}) for n, s in zip(document.notes, share, strict=True))
    return document.model_copy(update={"notes": notes}), left_over(lab, colours)


def near_duplicates(document: Document, within: float = DUPLICATE) -> list[tuple[str, str]]:
    """Pairs of notes, kept and given up, that one pile serves: same string, nearly the same colour.

    The kept one is locked, or stands for the larger share; two locked notes are never a pair, nor are two ends of a
    gradation.
    """
    order = sorted(document.notes, key=lambda n: (not n.locked, -n.share))
    gone: set[str] = set()
    out = []
    for i, kept in enumerate(order):
        if kept.id in gone:
            continue
        for other in order[i + 1 :]:
            if other.id in gone or other.locked or other.group != kept.group or other.gradation == kept.id:
                continue
            if float(ciede2000(np.array(kept.lab), np.array(other.lab))) < within:
                gone.add(other.id)
                out.append((kept.id, other.id))
    return out


def merged(document: Document, within: float = DUPLICATE) -> Document:
    """The document with near-duplicates merged: the kept note stays as it was read and takes over their share."""
    pairs = near_duplicates(document, within)
    gone = {b for _, b in pairs}
    extra: dict[str, float] = {}
    for kept, given in pairs:
        extra[kept] = extra.get(kept, 0.0) + document.note(given).share
    notes = tuple(
        n.model_copy(
            update={
                "share": min(1.0, n.share + extra.get(n.id, 0.0)),
                "gradation": "" if n.gradation in gone else n.gradation,
            }
        )
        for n in document.notes
        if n.id not in gone
    )
    return document.model_copy(update={"notes": notes})


def note_of_reading(
    document: Document, lab: Lab, spectrum: Sequence[float], place: Point | None, aperture: int = 15
) -> Note:
    """A note of what the spot reader saw; ``place`` in pixels of the photo, None where it has none there."""
    fields: dict[str, Any] = {
        "x": None if place is None else place[0],
        "y": None if place is None else place[1],
        "aperture": aperture,
        "area": (),
        "lab": (min(max(lab[0], 0.0), 130.0), lab[1], lab[2]),
        "spread": 0.0,
        "clipped": 0.0,
        "pair": (),
        "lifted": 1.0,
        "source": "reader",
        "spectrum": tuple(float(v) for v in spectrum),
    }
    return _note(document, fields, None)


def note_of_colour(document: Document, lab: Lab, given: str) -> Note:
    """A note of a colour that was typed or comes from elsewhere, without a place in the picture; ``given``: where it
    comes from, in words. Raises OchreError for what is no colour of a surface."""
    if not (0 <= lab[0] <= 100 and abs(lab[1]) <= 150 and abs(lab[2]) <= 150):
        raise OchreError("That is no colour a surface can have: lightness goes from 0 to 100, a and b to 150.")
    fields: dict[str, Any] = {
        "x": None, "y": None, "area": (), "lab": lab, "spread": 0.0, "clipped": 0.0, "pair": (), "lifted": 1.0,
        "source": "given", "given": given[:120], "spectrum": (),
    }  # fmt: skip
    return _note(document, fields, None)
