"""From notes to strings, amounts and the sheet: what the stations and the command line both ask for."""

import hashlib
from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.harmony.schemes import places, pull
from ochre_stone.core.masses.plan import FINE_PIXELS, PREVIEW_PIXELS, MassPlan, refined
from ochre_stone.core.mixing.amounts import Amounts, amounts
from ochre_stone.core.mixing.strings import MixString, plan_string, targets
from ochre_stone.core.paint.palettes import palette
from ochre_stone.core.paint.tubes import Tube, tube
from ochre_stone.core.picture.keys import WORKING_PIXELS, nearest
from ochre_stone.core.picture.picture import Picture, linear_to_lab
from ochre_stone.core.project.document import STRING_ORDER, Document, Mixed


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
    lab = linear_to_lab(document.seen(picture, WORKING_PIXELS)).reshape(-1, 1, 3)
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
    preview, fine = (document.seen(picture, n) for n in (PREVIEW_PIXELS, FINE_PIXELS))
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
