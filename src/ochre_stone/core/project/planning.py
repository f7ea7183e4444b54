"""From a picture to notes, strings and amounts: what the stations and the command line both ask for."""

import hashlib
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.harmony.schemes import places, pull
from ochre_stone.core.masses.plan import FINE_PIXELS, PREVIEW_PIXELS, MassPlan, refined
from ochre_stone.core.masses.thresholds import histogram, optimal_cuts
from ochre_stone.core.mixing.amounts import Amounts, amounts
from ochre_stone.core.mixing.strings import MixString, plan_string, targets
from ochre_stone.core.paint.palettes import palette
from ochre_stone.core.paint.tubes import Tube, tube
from ochre_stone.core.picture.keys import WORKING_PIXELS, LeftOver, left_over, nearest, suggest
from ochre_stone.core.picture.load import Picture, linear_to_lab
from ochre_stone.core.picture.sampling import sample
from ochre_stone.core.project.document import STRING_ORDER, Document, Mixed, Note


def guess_role(value: float, division: float) -> str:
    """A guess, always editable, from value alone: light above the division of light and shadow, shadow below."""
    if value < 2.0:
        return "dark accent"
    if value < division:
        return "core shadow"
    if value < division + 1.2:
        return "halftone"
    return "highlight" if value > 9.2 else "light"


def note_name(subject: str, role: str, colour: str, others: Sequence[Note]) -> str:
    """A short name that no other note has: subject and role, or the colour in words."""
    plain = colour if subject == "other" else f"{subject}, {role}"
    used = {n.name for n in others}
    return next(name for i in range(1, len(used) + 2) if (name := plain if i == 1 else f"{plain} {i}") not in used)


def suggest_notes(picture: Picture, count: int, document: Document) -> tuple[tuple[Note, ...], LeftOver]:
    """About ``count`` notes that cover the picture, dark to light, named, with guessed subject and role."""
    balance = document.the_balance()
    found, rest = suggest(picture, count, balance)
    value = value_of_lightness(linear_to_lab(balance.apply(picture.reduced(60_000)))[..., 0])
    division = float(optimal_cuts(histogram(value), 2)[2][0])
    notes: list[Note] = []
    for i, key in enumerate(found, 1):
        r = read(key.seen.lab)
        role = guess_role(r.value, division)
        notes.append(
            Note(
                id=f"n{i}",
                name=note_name(key.subject, role, r.name, notes),
                x=key.x,
                y=key.y,
                aperture=key.aperture,
                lab=key.seen.lab,
                spread=key.seen.spread,
                clipped=key.seen.clipped,
                subject=key.subject,
                role=role,
                share=min(key.share, 1.0),
            )
        )
    return tuple(notes), rest


def read_note(
    picture: Picture, document: Document, x: float, y: float, aperture: int, like: Note | None = None
) -> Note:
    """A note of a spot of the picture; ``like`` keeps the id, name, subject and role of an existing note.

    Raises OchreError for a spot outside the picture or an impossible aperture.
    """
    seen = sample(picture, x, y, aperture, document.the_balance())
    r = read(seen.lab)
    spot = {
        "x": x,
        "y": y,
        "aperture": aperture,
        "lab": seen.lab,
        "spread": seen.spread,
        "clipped": seen.clipped,
    }
    if like is not None:
        renamed = {"name": r.name} if like.name == read(like.lab).name else {}
        return Note.model_validate({**like.model_dump(), **spot, **renamed})
    subject = "other"
    if document.notes:  # most likely the thing that a near colour belongs to
        near = min(document.notes, key=lambda n: float(np.linalg.norm(np.array(n.lab) - np.array(seen.lab))))
        if float(np.linalg.norm(np.array(near.lab) - np.array(seen.lab))) < 15:
            subject = near.subject
    role = guess_role(r.value, 5.0)
    return Note(id=document.fresh_note_id(), name=r.name, subject=subject, role=role, **spot)  # type: ignore[arg-type]


def reread(picture: Picture, document: Document) -> Document:
    """The document with every note sampled anew, after the light was set differently."""
    notes = tuple(read_note(picture, document, n.x, n.y, n.aperture, n) for n in document.notes)
    return document.model_copy(update={"notes": notes})


def with_shares(picture: Picture, document: Document) -> tuple[Document, LeftOver]:
    """The document with each note's share of the picture, and what the notes leave uncovered."""
    if not document.notes:
        return document, LeftOver(0.0, 0.0)
    lab = linear_to_lab(document.the_balance().apply(picture.reduced(WORKING_PIXELS)))
    colours = np.array([n.lab for n in document.notes])
    share = np.bincount(nearest(lab, colours).ravel(), minlength=len(colours)) / (lab.shape[0] * lab.shape[1])
    notes = tuple(n.model_copy(update={"share": float(s)}) for n, s in zip(document.notes, share, strict=True))
    return document.model_copy(update={"notes": notes}), left_over(lab, colours)


def note_targets(document: Document) -> Array:
    """Lab (n, 3) of the notes after the pull toward the scheme."""
    h = document.harmony
    lab = np.array([n.lab for n in document.notes], dtype=float).reshape(-1, 3)
    return pull(lab, places(h.scheme, h.rotation), h.amount, h.wheel)


def groups(document: Document) -> dict[str, list[int]]:
    """String id to the indices of its notes, in the order of strings.

    Cast shadows and dark accents form the shadows; without any, the core shadows do, and stay with their subject too.
    """
    found: dict[str, list[int]] = {}
    for i, n in enumerate(document.notes):
        found.setdefault(n.group, []).append(i)
    if "shadows" not in found:
        core = [i for i, n in enumerate(document.notes) if n.role == "core shadow"]
        if core:
            found["shadows"] = core
    return {g: found[g] for g in STRING_ORDER if g in found}


def fingerprint(document: Document) -> str:
    """Changes whenever the strings have to be worked out anew."""
    chosen = [
        [(n.lab, n.group, n.role) for n in document.notes],
        document.harmony.model_dump(),
        document.mix.model_dump(),
    ]
    return hashlib.sha256(repr(chosen).encode()).hexdigest()[:16]


def string_title(string_id: str) -> str:
    """Name of a string as shown."""
    return "Shadows" if string_id == "shadows" else string_id.capitalize()


def mix_strings(document: Document, progress: Callable[[float], None] = lambda share: None) -> Mixed:
    """Work out every wanted string. ``progress`` gets 0..1 and may raise to cancel."""
    goal = note_targets(document)
    wanted = {g: i for g, i in groups(document).items() if g not in document.mix.left_out}
    chosen = palette(document.mix.palette)
    steps = document.mix.steps
    total = max(1, 2 * steps * len(wanted))
    done = 0

    def tick() -> None:
        nonlocal done
        done += 1
        progress(min(1.0, done / total))

    strings = []
    for string_id, members in wanted.items():
        weight = np.array([max(document.notes[i].share, 0.005) for i in members])
        row = targets(goal[members], weight, steps)
        strings.append(
            plan_string(
                string_id,
                string_title(string_id),
                row,
                chosen.tubes,
                chosen.name,
                document.mix.most_tubes,
                tick,
            )
        )
    return Mixed(fingerprint=fingerprint(document), strings=tuple(strings))


def pile_shares(picture: Picture, document: Document) -> dict[str, float]:
    """Share of the picture for each pile: a pixel goes to the string of its nearest note, there to the pile of its
    value."""
    lab = linear_to_lab(document.the_balance().apply(picture.reduced(WORKING_PIXELS))).reshape(-1, 1, 3)
    owner = nearest(lab, np.array([n.lab for n in document.notes])).ravel() if document.notes else np.zeros(0)
    value = np.asarray(value_of_lightness(lab[:, 0, 0]))
    out: dict[str, float] = {}
    mine = {s.id: s for s in document.mixed.strings}
    taken = np.zeros(len(value), dtype=bool)
    # Strings that own notes by their group come first; core shadows lent to the shadows string are not counted twice.
    for string_id, members in groups(document).items():
        if string_id not in mine:
            continue
        own = [i for i in members if document.notes[i].group == string_id]
        pixels = np.isin(owner, own) & ~taken
        taken |= pixels
        levels = np.array([p.target.value for p in mine[string_id].piles])
        counts = np.bincount(np.abs(value[pixels, None] - levels).argmin(axis=1), minlength=len(levels))
        for p, n in zip(mine[string_id].piles, counts, strict=True):
            out[p.id] = float(n / len(value))
    return out


def fine_masses(picture: Picture, document: Document) -> MassPlan:
    """The document's masses at the size at which they are printed."""
    balance = document.the_balance()
    preview, fine = (balance.apply(picture.reduced(n)) for n in (PREVIEW_PIXELS, FINE_PIXELS))
    return refined(preview, fine, document.masses.settings())


@dataclass(frozen=True, eq=False)
class Sheet:
    """Everything that is printed."""

    document: Document
    picture: Picture
    masses: MassPlan
    shares: Mapping[str, float]
    amounts: Amounts
    tubes: tuple[Tube, ...]
    """Tubes in use, most first."""

    @property
    def strings(self) -> tuple[MixString, ...]:
        return self.document.mixed.strings


def make_sheet(picture: Picture, document: Document, masses: MassPlan) -> Sheet:
    """Amounts and cautions for a document whose strings are worked out."""
    shares = pile_shares(picture, document)
    c = document.canvas
    needed = amounts(document.mixed.strings, shares, c.area_cm2, c.thickness, c.spare)
    return Sheet(document, picture, masses, shares, needed, tuple(tube(i) for i in needed.tubes))
