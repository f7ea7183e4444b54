"""From notes to strings, amounts and the sheet: what the stations and the command line both ask for."""

import hashlib
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.munsell import lightness_of_value, value_of_lightness
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.harmony.ladders import Rung, Way, by_air, by_rule, sky
from ochre_stone.core.harmony.preview import ways
from ochre_stone.core.harmony.relation import push
from ochre_stone.core.harmony.schemes import places, pull
from ochre_stone.core.masses.gradations import toward
from ochre_stone.core.masses.plan import MassPlan
from ochre_stone.core.masses.statement import Statement
from ochre_stone.core.masses.tone import reach
from ochre_stone.core.mixing.amounts import Amounts, amounts
from ochre_stone.core.mixing.ranking import Means
from ochre_stone.core.mixing.search import weighted_error
from ochre_stone.core.mixing.strings import DARKEST, LIGHTEST, MixString, PileTarget, plan_string, targets
from ochre_stone.core.paint.box import PaintBox
from ochre_stone.core.paint.optics import layer_lab
from ochre_stone.core.paint.tubes import Tube
from ochre_stone.core.picture.keys import WORKING_PIXELS, nearest
from ochre_stone.core.picture.picture import Picture, linear_to_lab
from ochre_stone.core.project.choices import Lab
from ochre_stone.core.project.document import STRING_ORDER, Document, Mixed
from ochre_stone.core.project.massing import stated


def note_targets(document: Document) -> Array:
    """Lab (n, 3) of the notes as they are to be painted: eased into the range of paint, pulled toward the scheme, the
    difference of light and shadow pushed or calmed."""
    return harmonised(document, document.masses.range.tone().lab(_noted(document)))


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


def distance_ladder(document: Document, way: Way | None = None) -> list[Rung]:
    """The document's distance ladder, near to far, by its own way or another; empty without one or its notes."""
    choice = document.harmony.distance
    ids = {n.id: i for i, n in enumerate(document.notes)}
    if choice is None or choice.near not in ids or choice.horizon not in ids:
        return []
    goal = note_targets(document)
    near, horizon = (_lab(goal[ids[i]]) for i in (choice.near, choice.horizon))
    if (way or choice.way) == "air":
        return by_air(near, horizon, choice.steps, choice.first, choice.last, choice.visibility, choice.air)
    return by_rule(near, horizon, choice.steps, choice.first, choice.last)


def sky_notes(document: Document) -> list[tuple[float, Lab]]:
    """Height and target of the notes of the sky: 0 for the lowest in the photo, 1 for the highest."""
    goal = note_targets(document)
    found = [(n.place[1], _lab(goal[i])) for i, n in enumerate(document.notes) if n.subject == "sky" and n.place]
    if len({y for y, _ in found}) < 2:
        return []
    top, bottom = min(y for y, _ in found), max(y for y, _ in found)
    return [((bottom - y) / (bottom - top), lab) for y, lab in found]


def sky_ladder(document: Document) -> list[Rung]:
    """The document's sky ladder, from the horizon up; empty without one or without two notes of the sky."""
    choice, notes = document.harmony.sky, sky_notes(document)
    if choice is None or not notes:
        return []
    return sky(notes, choice.steps, choice.band, choice.strength)


def _lab(row: Array) -> Lab:
    return float(row[0]), float(row[1]), float(row[2])


LADDERS = {"distance": "Distance", "sky-ladder": "Sky ladder"}


def ladders(document: Document) -> dict[str, list[Rung]]:
    """Ladders that are planned, by the id of their string."""
    found = {"distance": distance_ladder(document), "sky-ladder": sky_ladder(document)}
    return {i: rungs for i, rungs in found.items() if rungs}


def ladder_targets(rungs: Sequence[Rung]) -> list[PileTarget]:
    """Piles of a ladder, dark to light, as strings have them; held where paint can go."""
    out = []
    for r in rungs:
        value = min(max(float(value_of_lightness(min(r.lab[0], 100.0))), DARKEST), LIGHTEST)
        out.append(PileTarget((float(lightness_of_value(value)), r.lab[1], r.lab[2]), round(value, 2), "rule"))
    return sorted(out, key=lambda t: t.value)


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
        [(n.id, n.lab, n.group, n.role) for n in document.notes],
        [n.place for n in document.notes if n.subject == "sky"] if document.harmony.sky is not None else [],
        document.harmony.model_dump(),
        document.masses.range.model_dump() if document.masses.range.keep != "scene" else [],
        document.mix.model_dump(),
    ]
    return hashlib.sha256(repr(chosen).encode()).hexdigest()[:16]


def string_title(string_id: str) -> str:
    """Name of a string as shown."""
    if string_id in LADDERS:
        return LADDERS[string_id]
    return "Shadows" if string_id == "shadows" else string_id.capitalize()


def mix_strings(document: Document, progress: Callable[[float], None] = lambda share: None) -> Mixed:
    """Work out every wanted string. ``progress`` gets 0..1 and may raise to cancel."""
    goal = note_targets(document)
    steps = document.mix.steps
    rows = {}
    for string_id, members in groups(document).items():
        weight = np.array([max(document.notes[i].share, 0.005) for i in members])
        rows[string_id] = targets(goal[members], weight, steps)
    rows |= {string_id: ladder_targets(rungs) for string_id, rungs in ladders(document).items()}
    rows = {string_id: row for string_id, row in rows.items() if string_id not in document.mix.left_out}
    chosen = document.mix.chosen()
    total = max(1, 2 * sum(len(row) for row in rows.values()))
    done = 0

    def tick() -> None:
        nonlocal done
        done += 1
        progress(min(1.0, done / total))

    strings = []
    for string_id, row in rows.items():
        strings.append(
            plan_string(
                string_id,
                string_title(string_id),
                row,
                chosen.tubes,
                chosen.name,
                document.mix.most_tubes,
                tick,
                chosen.surface,
                document.mix.order,
            )
        )
    return Mixed(fingerprint=fingerprint(document), strings=tuple(strings), laid=document.mix.laid)


def pile_shares(picture: Picture, document: Document) -> dict[str, float]:
    """Share of the picture for each pile: a pixel goes to the string of its nearest note, there to the pile of its
    value."""
    lab = linear_to_lab(document.seen(picture, WORKING_PIXELS)).reshape(-1, 1, 3)
    owner = nearest(lab, np.array([n.lab for n in document.notes])).ravel() if document.notes else np.zeros(0)
    value = document.masses.range.tone().value(value_of_lightness(np.clip(lab[:, 0, 0], 0, 100)))
    mine = {s.id: s for s in document.mixed.strings}
    # The steps of a ladder lie between notes: what they cover is counted with the notes' own strings.
    out = {p.id: 0.0 for s in mine.values() if s.id in LADDERS for p in s.piles}
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

    @property
    def strings(self) -> tuple[MixString, ...]:
        return self.document.mixed.strings


def make_sheet(picture: Picture, document: Document, masses: MassPlan) -> Sheet:
    """Amounts and cautions for a document whose strings are worked out."""
    shares = pile_shares(picture, document)
    c = document.canvas
    needed = amounts(document.mixed.strings, shares, c.area_cm2, c.thickness, c.spare, document.mixed.tube)
    used = tuple(document.mixed.tube(i) for i in needed.tubes)
    return Sheet(document, picture, masses, shares, needed, used, stated(picture, document))


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
    return reach([(float(c[0]), float(c[1]), float(c[2])) for c in lab])


def blend_words(document: Document) -> list[str]:
    """Each planned blend by its piles, as "from Sky 3 to Sky 5, lighter toward the bottom"; empty without strings."""
    tone, said = document.masses.range.tone(), []
    for b in document.masses.blends:
        dark, light = (pile_for(document, _lab(end)) for end in tone.lab([b.dark, b.light]))
        if dark is not None and light is not None:
            ends = f"from {dark[0]} {dark[1]} to {light[0]} {light[1]}"
            seen = 180 - b.direction if document.frame.mirror else b.direction
            said.append(f"{ends}, lighter toward the {toward(seen)}")
    return said


def pile_for(document: Document, lab: Lab) -> tuple[str, int] | None:
    """The pile that comes nearest to a colour: name of its string and its number from the dark, value counted first."""
    goal = np.array(lab)
    found = [
        (float(weighted_error(np.array(p.target.lab), goal)), s.name, n)
        for s in document.mixed.strings for n, p in enumerate(s.piles, 1)
    ]  # fmt: skip
    return min(found)[1:] if found else None
