"""The bench in a project: what is at hand, what is opened on it, and what is kept of it."""

import math
from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np

from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.document.choices import PinChoice
from ochre_stone.core.document.document import Document, Note
from ochre_stone.core.errors import OchreError
from ochre_stone.core.mixing.bench.bench import Bench, BenchPile, Supply, lay
from ochre_stone.core.mixing.recipe.dose import Dose
from ochre_stone.core.mixing.recipe.parts import Dosing, counted_out
from ochre_stone.core.mixing.recipe.recipe import TINT, Source, tint_of
from ochre_stone.core.mixing.recipe.search import paints_of
from ochre_stone.core.mixing.session.drafting import brought
from ochre_stone.core.paint.box import OwnTube, PaintBox, PigmentPart
from ochre_stone.core.paint.chart import Cell
from ochre_stone.core.paint.palettes import Palette
from ochre_stone.core.paint.tubes import Tube, all_tubes
from ochre_stone.core.planning.dosenames import dose_name
from ochre_stone.core.planning.mending import begun, held, part_ml
from ochre_stone.core.planning.noting import note_of_colour
from ochre_stone.core.planning.pinning import pile_of
from ochre_stone.core.planning.rows import string_of

MIXED_BY_HAND = "mixed by hand on the bench"
_MOST_PIGMENTS = 6
_LEAST_PIGMENT = 0.005
"""Share below which a pigment is left out of a tube's label."""


def tube_finder(document: Document, palette: Palette, box: PaintBox) -> Callable[[str], Tube]:
    """Finds any tube that a pile can hold: of the palette in hand, of the picture's, of its strings, of the box, or a
    generic one. It raises OchreError for a tube that is nowhere any more."""
    chosen = document.mix.chosen()
    tubes = {t.id: t for t in (*(o.tube() for o in box.tubes), *chosen.own, *palette.own)}

    def find(tube_id: str) -> Tube:
        return tubes[tube_id] if tube_id in tubes else document.mixed.tube(tube_id)

    return find


def at_hand(document: Document, palette: Palette, leftovers: Sequence[Supply] = ()) -> list[Supply]:
    """All that paint can be taken from: the palette's tubes, a tint of each, the plan's piles, and leftovers."""
    white = next((t for t in palette.tubes if t.is_white), None)
    out = [Supply.of_tube(t) for t in palette.tubes]
    if white is not None:
        tints = [tint_of(t, white) for t in palette.tubes if not t.is_white]
        out += [Supply(s.id, s.name, s.shares, kind="tint") for s in tints]
    for s in document.mixed.strings:
        out += [Supply(p.id, p.name, p.recipe.shares, kind="planned") for p in s.piles]
    return [*out, *leftovers]


def as_supply(pile: BenchPile) -> Supply:
    """A pile on the bench, to make a row from."""
    return Supply(pile.id, pile.name, pile.shares(), ml=pile.ml, kind="pile")


def target_of(document: Document, note_id: str = "", pile_id: str = "") -> tuple[Lab, str]:
    """Colour and name of a note, or of a pile of the plan, to mix toward. Raises KeyError for an unknown one."""
    if note_id:
        note = document.note(note_id)
        return note.lab, note.name
    pile = pile_of(document, pile_id)
    return pile.target.lab, pile.name


def with_planned(document: Document, pile_id: str, as_mixed: bool) -> Document:
    """The document with a pile of the plan opened on the bench, its target beside it: as planned, or as it is by now.

    Raises KeyError for an unknown pile, OchreError where the bench is full.
    """
    pile = pile_of(document, pile_id)
    inside = held(document, pile).doses if as_mixed else begun(document, pile)
    per_part, first = part_ml(document, pile), len(pile.recipe.ingredients)
    doses = []
    for n, d in enumerate(inside):
        if d.volume > 0:
            name = dose_name(document, pile, d, n if n < first else None)
            doses.append(replace(d, volume=d.volume * per_part, name=name))
    lab, name = target_of(document, pile_id=pile_id)
    return _with_bench(document, lay(document.bench.bench, name, doses), lab, name)


def with_cell(document: Document, cell: Cell, known: Callable[[str], Tube]) -> Document:
    """The document with a cell of a chart mixed on the bench. Raises OchreError where it is full."""
    whole = sum(p for _, p in cell.parts)
    ml = document.bench.part_ml * 5
    doses = [Dose.of_tube(i, ml * p / whole, name=known(i).short) for i, p in cell.parts]
    return _with_bench(document, lay(document.bench.bench, f"Cell {cell.label}", doses), None, "")


def _with_bench(document: Document, bench: Bench, target: Lab | None, name: str) -> Document:
    fields: dict[str, object] = {"bench": bench}
    if target is not None:
        fields |= {"target": target, "target_name": name}
    return document.model_copy(update={"bench": document.bench.model_copy(update=fields)})


def as_note(document: Document, pile: BenchPile, lab: Lab) -> tuple[Document, Note]:
    """The document with the colour of a pile as a note. Raises OchreError for what is no colour of a surface."""
    note = note_of_colour(document, lab, MIXED_BY_HAND).model_copy(update={"name": pile.name[:80]})
    return document.with_note(note), note


def as_planned(document: Document, pile: BenchPile, lab: Lab, subject: str) -> tuple[Document, Note]:
    """The document with a pile kept in the plan, among the piles of ``subject``: a note of its colour, which harmony
    does not move, and its recipe chosen for the pile that will stand there. A subject without other notes gets an
    accent of a single pile.

    Raises OchreError for a pile with tubes that are not on the picture's palette.
    """
    on_palette = {t.id for t in document.mix.chosen().tubes}
    lacking = sorted(i for i, _ in pile.shares() if i not in on_palette)
    if lacking:
        name = document.mix.chosen().name
        raise OchreError(
            f"{pile.name} holds {', '.join(lacking)}, which {name} has not: mix this picture with a "
            "palette that has it, or keep the pile as a note."
        )
    note = note_of_colour(document, lab, MIXED_BY_HAND).model_copy(update={"name": pile.name[:80], "subject": subject})
    new = document.with_note(note)
    harmony = new.harmony.model_copy(update={"held": (*new.harmony.held, note.id)})
    parts = _countable(new, pile, lab)
    pin = PinChoice(pile=brought(string_of(new, note) or subject, note.id), parts=parts, target=lab)
    mix = new.mix.model_copy(update={"pins": (*new.mix.pins, pin)})
    return new.model_copy(update={"harmony": harmony, "mix": mix}), note


def _countable(document: Document, pile: BenchPile, lab: Lab) -> tuple[tuple[str, float], ...]:
    """Tubes and tints of a pile, and the parts in which a hand gets nearest to its colour; other piles in it by their
    tubes."""
    chosen, amounts, shares = document.mix.chosen(), dict[str, float](), dict[str, tuple[tuple[str, float], ...]]()
    for d in pile.doses:
        tint = d.source.startswith(TINT) and d.source.removeprefix(TINT) in {t.id for t in chosen.tubes}
        for i, part, inside in [(d.source, 1.0, d.shares)] if tint else [(i, c, ((i, 1.0),)) for i, c in d.shares]:
            amounts[i] = amounts.get(i, 0.0) + d.volume * part
            shares[i] = inside
    used = [i for i, ml in amounts.items() if ml > 0]
    spectra = [Source(i, i, shares[i], ()).spectra(chosen.tubes) for i in used]
    K, S = np.stack([k for k, _ in spectra]), np.stack([s for _, s in spectra])
    paints = paints_of(K, S, chosen.surface, document.mix.order)
    whole = np.array([amounts[i] for i in used])
    dosing = Dosing(document.mix.hand.made(), pile.ml)
    parts = counted_out(paints, whole / whole.sum(), np.array(lab), dosing)
    return tuple((i, float(p)) for i, p in zip(used, parts, strict=True) if p > 0)


def as_tube(box: PaintBox, pile: BenchPile, name: str, medium: str) -> PaintBox:
    """The box with a pile kept as a convenience mixture of the painter's own, by its pigments.

    Raises OchreError for a pile of more pigments than a tube can name, ValueError (pydantic's) for a field that does
    not hold.
    """
    pigments: dict[str, float] = {}
    for tube_id, share in pile.shares():
        own = box.own(tube_id)
        inside = [(p.pigment, p.parts) for p in own.parts] if own is not None else [(tube_id, 1.0)]
        whole = math.fsum(p for _, p in inside)
        for pigment, parts in inside:
            if pigment not in all_tubes():
                raise OchreError(f"{pile.name} holds {pigment}, which is not in your box any more: it cannot be kept.")
            pigments[pigment] = pigments.get(pigment, 0.0) + share * parts / whole
    told = {i: c for i, c in pigments.items() if c >= _LEAST_PIGMENT}
    if len(told) > _MOST_PIGMENTS:
        many = f"{len(told)} pigments, a tube has at most {_MOST_PIGMENTS}"
        raise OchreError(f"{pile.name} holds {many}: mix a plainer one.")
    label = tuple(PigmentPart(pigment=i, parts=round(c * 100, 3)) for i, c in told.items())
    words = " ".join(name.split()) or pile.name
    fields = {"id": box.fresh_id(words), "name": words, "parts": label, "medium": medium, "stock_ml": round(pile.ml, 2),
              "remark": MIXED_BY_HAND}  # fmt: skip
    return box.with_tube(OwnTube.model_validate(fields))
