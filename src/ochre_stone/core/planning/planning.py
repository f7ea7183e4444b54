"""From the strings that are wanted to recipes, amounts and the sheet: what stations and command line both ask for."""

import functools
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ochre_stone.core.colour.spaces import Lab, as_lab
from ochre_stone.core.document.choices import PileContents
from ochre_stone.core.document.document import Document, Mixed
from ochre_stone.core.masses.gradations import toward
from ochre_stone.core.masses.plan import MassPlan
from ochre_stone.core.masses.statement import Statement
from ochre_stone.core.masses.tone import reach
from ochre_stone.core.mixing.correcting.belief import Belief, as_believed, believe
from ochre_stone.core.mixing.correcting.reading import PileSeen
from ochre_stone.core.mixing.recipe.ranking import Means
from ochre_stone.core.mixing.recipe.search import weighted_error
from ochre_stone.core.mixing.recipe.sources import Terms
from ochre_stone.core.mixing.session.amounts import Amounts, amounts
from ochre_stone.core.mixing.session.drafting import Pin, StringRow
from ochre_stone.core.mixing.session.plan import MixOn, plan_session
from ochre_stone.core.mixing.strings.targets import MixString, Pile
from ochre_stone.core.paint.box import PaintBox
from ochre_stone.core.paint.optics import Surface, layer_lab
from ochre_stone.core.paint.tubes import Tube
from ochre_stone.core.picture.picture import Picture
from ochre_stone.core.planning.massing import stated
from ochre_stone.core.planning.naming import named
from ochre_stone.core.planning.rows import (
    ADDED_ROWS,
    fingerprint,
    groups,
    measured,
    nearest_of,
    note_targets,
    notes_without_pile,
    pile_by_note,
    wanted_rows,
)

MOST_READINGS = 120
"""The last so many readings teach: more tell nothing new of the same tubes."""


@functools.lru_cache(maxsize=16)
def _believed(tubes: tuple[Tube, ...], readings: tuple[PileSeen, ...], finish: Surface) -> Belief:
    return believe(tubes, readings, finish)


def batch_key(held: PileContents) -> str:
    """The name under which a belief knows a pile: one that was begun anew is another."""
    return f"{held.pile}.{held.batch}"


def belief(document: Document, words: bool = True) -> Belief:
    """What is known of the palette's tubes after the readings of the session; readings of piles with tubes that are
    not on the palette teach nothing here. ``words``: whether what was only said of piles counts too."""
    chosen = document.mix.chosen()
    tubes = with_habits(chosen.tubes, dict(document.mix.hand.habits))
    there = {t.id for t in tubes}
    readings = tuple(
        PileSeen(r.doses, r.lab, r.noise, batch_key(r), replace(chosen.surface, g=r.gloss))
        for r in (document.readings if words else measured(document))
        if all(i in there for i, _ in r.amounts) and any(v > 0 for _, v in r.amounts)
    )
    return _believed(tubes, readings[-MOST_READINGS:], chosen.surface)


def session_tubes(document: Document) -> tuple[Tube, ...]:
    """The palette's tubes, as the readings show them where the painter lets them teach."""
    tubes = with_habits(document.mix.chosen().tubes, dict(document.mix.hand.habits))
    return as_believed(belief(document, words=False), tubes) if document.mix.learn and measured(document) else tubes


def with_habits(tubes: tuple[Tube, ...], habits: Mapping[str, float]) -> tuple[Tube, ...]:
    """The tubes as a painter gets them of whom habits are known: who takes 1.3 of a red that is meant gets what a red
    gives that is 1.3 times as strong."""
    return tuple(
        replace(t, K=t.K * habits[t.id], S=t.S * habits[t.id], stamp=f"{t.stamp}~{habits[t.id]:.4f}")
        if t.id in habits
        else t
        for t in tubes
    )


def session_terms(document: Document) -> Terms:
    """What all recipes of a document share: its palette as the readings show it, tubes per pile, what errors weigh."""
    chosen, mix = document.mix.chosen(), document.mix
    hand = mix.hand.made()
    return Terms(session_tubes(document), chosen.name, mix.most_tubes, chosen.surface, mix.order, hand)


def _pins(document: Document) -> list[Pin]:
    """Piles that stay: as they were mixed, else as they were chosen."""
    pins = {p.pile: Pin(p.pile, p.parts, p.target) for p in document.mix.pins}
    if document.mix.learn:
        for r in document.readings:
            pins[r.pile] = Pin(r.pile, tuple((i, v) for i, v in r.amounts if v > 0), r.target)
    return list(pins.values())


def note_shares(document: Document) -> dict[str, float]:
    """Share of the picture per pile of the strings, by the notes alone: for a scene without a photo. What has no pile
    is not shared out."""
    out = {p.id: 0.0 for s in document.mixed.strings for p in s.piles}
    found, without = pile_by_note(document), notes_without_pile(document)
    for n in document.notes:
        if n.id in found and n.id not in without:
            out[found[n.id].id] += n.share
    return out


def rough_need(document: Document, rows: Sequence[StringRow]) -> dict[str, float]:
    """Millilitres per pile by the shares of the notes: enough to weigh what is mixed on from what."""
    c = document.canvas
    per_share = c.area_cm2 * c.thickness / 10 * (1 + c.spare)
    goal, of = note_targets(document), groups(document)
    out: dict[str, float] = {}
    for r in rows:
        out |= {f"{r.id}-{n}": 0.0 for n in range(1, len(r.goals) + 1)}
        own = {i for g in r.goals for i in g.notes}
        for i in of.get(r.id, ()):
            if own and document.notes[i].id not in own:
                continue
            at = int(nearest_of(np.array([g.lab for g in r.goals]), goal[i][None])[0])
            out[f"{r.id}-{at + 1}"] += document.notes[i].share * per_share
    return out


def mix_strings(document: Document, progress: Callable[[float], None] = lambda share: None) -> Mixed:
    """Work out every wanted string. ``progress`` gets 0..1 and may raise to cancel."""
    rows = wanted_rows(document)
    mix, need = document.mix, rough_need(document, rows)
    session = plan_session(
        rows, session_terms(document), need, _pins(document), MixOn(mix.mix_on, mix.across), mix.tints, progress
    )
    tweaks = tuple(s.id for s in session.strings if s.id in ADDED_ROWS)
    mixed = Mixed(
        fingerprint=fingerprint(document),
        strings=session.strings,
        laid=mix.laid,
        branching=session.branching,
        tweaks=tweaks,
    )
    return named(document.model_copy(update={"mixed": mixed})).mixed


MOST_GLIMPSED = 3
"""Strings that are worked out for a glimpse: more are not quicker than the whole."""


def _stands(row: StringRow, there: Mapping[str, Pile]) -> bool:
    """Whether a row wants its piles where they are, but for rounding; ``there``: all piles by id. One whose notes have
    their pile in another place is not missed."""
    shared = {i for p in there.values() for i in p.target.notes}
    ids = {f"{row.id}-{n}" for n in range(1, len(row.goals) + 1)}
    if any(i not in ids for i in there if i.rpartition("-")[0] == row.id):
        return False
    for n, goal in enumerate(row.goals, 1):
        pile = there.get(f"{row.id}-{n}")
        if pile is None:
            if not goal.notes or not set(goal.notes) <= shared:
                return False
            continue
        old = pile.target
        same = (goal.value, goal.rules) == (old.value, old.rules) and set(goal.notes) <= set(old.notes)
        if not (same and np.allclose(goal.lab, old.lab)):
            return False
    return True


def glimpse_strings(document: Document) -> Mixed | None:
    """The strings as they stood, with those whose piles are wanted elsewhere now worked out from tubes alone.

    It shows what a moved note does, long before the whole session is planned. None where nothing moved, or too much,
    or where the others cannot stand without what moved.
    """
    before = {s.id: s for s in document.mixed.strings}
    rows = wanted_rows(document)
    there = {p.id: p for s in before.values() for p in s.piles}
    moved = [r for r in rows if not _stands(r, there)]
    if not before or not 0 < len(moved) <= MOST_GLIMPSED:
        return None
    terms, tints = session_terms(document), document.mix.tints
    found = plan_session(moved, terms, None, _pins(document), MixOn(False), tints).strings
    new = before | {s.id: s for s in found}
    strings = tuple(new[r.id] for r in rows if r.id in new)
    gone = {p.id for s in before.values() for p in s.piles} - {p.id for s in strings for p in s.piles}
    if any(i.id in gone for s in strings for p in s.piles for i in p.recipe.ingredients):
        return None  # a pile goes on from one that is no more
    seen = document.model_copy(update={"mixed": document.mixed.model_copy(update={"strings": strings})})
    return named(seen).mixed


def pile_cover(
    picture: Picture, document: Document, masses: MassPlan | None = None
) -> tuple[dict[str, float], dict[str, float]]:
    """Share of the picture for each pile, and its thickness where masses have their own (millimetres, a mean): what the
    pile covers in the block-in (:func:`blockin.block_in`). What has no pile there is left out: the shares add up to
    less than 1 by that."""
    from ochre_stone.core.planning.blockin import block_in  # it is not there before a picture is

    laid = block_in(picture, document)
    if laid is None:
        return {}, {}
    own_mm, shares = dict(document.canvas.thick), laid.covered
    if not own_mm or masses is None:
        return shares, {}
    h, w = laid.labels.shape
    rows = np.linspace(0, masses.labels.shape[0] - 1, h).round().astype(int)
    columns = np.linspace(0, masses.labels.shape[1] - 1, w).round().astype(int)
    each = np.array([own_mm.get(m.index, document.canvas.thickness) for m in masses.masses])
    mm = each[masses.labels[np.ix_(rows, columns)]]
    there = ~laid.bare
    counts = np.bincount(laid.labels[there], minlength=len(laid.piles))
    layers = np.bincount(laid.labels[there], weights=mm[there], minlength=len(laid.piles))
    thick = {p.id: float(layer / n) for g, n, layer in zip(laid.piles, counts, layers, strict=True) if n for p in g[:1]}
    return shares, thick


def paint_needed(document: Document, shares: Mapping[str, float], thick: Mapping[str, float]) -> Amounts:
    """Paint for the document's strings, by what its piles cover (:func:`pile_cover`)."""
    c, mixed = document.canvas, document.mixed
    hand = document.mix.hand.made()
    found = amounts(mixed.strings, shares, c.area_cm2, c.thickness, c.spare, mixed.tube, thick, hand)
    covered = sum(shares.values())
    return replace(found, uncovered=max(1.0 - covered, 0.0) if covered > 0 else 0.0)


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
    statement: Statement
    dated: str = ""
    """Day of the sheet as it is printed; "" for none."""

    @property
    def strings(self) -> tuple[MixString, ...]:
        return self.document.mixed.strings


def make_sheet(picture: Picture, document: Document, masses: MassPlan, dated: str = "") -> Sheet:
    """Amounts and cautions for a document whose strings are worked out; ``dated``: the day, as it is printed."""
    document = named(document)
    shares, thick = pile_cover(picture, document, masses)
    needed = paint_needed(document, shares, thick)
    used = tuple(document.mixed.tube(i) for i in needed.tubes)
    return Sheet(document, picture, masses, shares, needed, used, stated(picture, document), dated)


def means_of(box: PaintBox) -> Means:
    """What the painter has: stock and prices of the tubes in use, by tube and, for those of one pigment, by pigment."""
    own = [t for t in box.tubes if not t.archived]
    stock = {t.id: t.stock_ml for t in own}
    price = {t.id: t.price_per_ml for t in own if t.price > 0}
    for t in own:
        if len(t.parts) == 1:  # a palette that ships names the pigment, not the tube
            pigment = t.parts[0].pigment
            stock[pigment] = stock.get(pigment, 0.0) + t.stock_ml
            if t.price > 0:
                price[pigment] = min(price.get(pigment, t.price_per_ml), t.price_per_ml)
    return Means(stock, price)


def palette_reach(document: Document) -> tuple[float, float]:
    """Darkest and lightest Munsell value that the document's palette reaches: its tubes and equal pairs of them."""
    tubes, finish = document.mix.chosen().tubes, document.mix.chosen().surface
    K, S = np.stack([t.K for t in tubes]), np.stack([t.S for t in tubes])
    i, j = np.triu_indices(len(tubes))
    lab = layer_lab((K[i] + K[j]) / 2, (S[i] + S[j]) / 2, finish)
    return reach([as_lab(c) for c in lab])


def blend_words(document: Document) -> list[str]:
    """Each planned blend by its piles, as "from sky low to sky high, lighter toward the bottom"; empty without
    strings."""
    tone, said = document.masses.range.tone(), []
    for b in document.masses.blends:
        dark, light = (pile_for(document, as_lab(end)) for end in tone.lab([b.dark, b.light]))
        if dark is not None and light is not None:
            ends = f"from {dark.name} to {light.name}"
            seen = 180 - b.direction if document.frame.mirror else b.direction
            said.append(f"{ends}, lighter toward the {toward(seen)}")
    return said


def pile_for(document: Document, lab: Lab) -> Pile | None:
    """The pile that comes nearest to a colour, value counted first."""
    goal = np.array(lab)
    piles = [p for s in document.mixed.strings for p in s.piles]
    return min(piles, key=lambda p: float(weighted_error(np.array(p.target.lab), goal)), default=None)
