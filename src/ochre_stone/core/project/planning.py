"""From notes to strings, amounts and the sheet: what the stations and the command line both ask for."""

import functools
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
from ochre_stone.core.mixing.correcting import Belief, Reading, as_believed, believe
from ochre_stone.core.mixing.ranking import Means
from ochre_stone.core.mixing.search import weighted_error
from ochre_stone.core.mixing.session import Bounds, Pin, Row, plan_session
from ochre_stone.core.mixing.shadowlight import Lights, estimate
from ochre_stone.core.mixing.strings import DARKEST, LIGHTEST, MixString, PileTarget, targets
from ochre_stone.core.mixing.subjects import BY_ID, flush, through_leaf
from ochre_stone.core.paint.box import PaintBox
from ochre_stone.core.paint.optics import Surface, layer_lab
from ochre_stone.core.paint.tubes import Tube
from ochre_stone.core.picture.keys import WORKING_PIXELS, nearest
from ochre_stone.core.picture.picture import Picture, linear_to_lab
from ochre_stone.core.project.choices import Lab
from ochre_stone.core.project.document import STRING_ORDER, SUBJECTS, Document, Mixed, Note
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


PARTS = {"lit": "lit", "shade": "shaded", "near": "near", "middle": "in the middle", "far": "far"}
"""Endings of strings of a subject that is kept apart, and their words."""
ADDED = {
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
    return note.group


def groups(document: Document) -> dict[str, list[int]]:
    """String id to the indices of its notes, in the order of strings.

    Cast shadows and dark accents form the shadows; without any, the core shadows do, and stay with their subject too.
    """
    found: dict[str, list[int]] = {}
    for i, n in enumerate(document.notes):
        found.setdefault(string_of(document, n), []).append(i)
    if "shadows" not in found:
        core = [i for i, n in enumerate(document.notes) if n.role == "core shadow"]
        if core:
            found["shadows"] = core
    order = [f"{g}{part}" for g in STRING_ORDER for part in ("", *(f"-{p}" for p in PARTS))]
    return {g: found[g] for g in order if g in found}


def fingerprint(document: Document) -> str:
    """Changes whenever the strings have to be worked out anew."""
    chosen = [
        [(n.id, n.lab, n.group, n.role) for n in document.notes],
        [n.distance for n in document.notes] if document.mix.apart else [],
        [n.place for n in document.notes if n.subject == "sky"] if document.harmony.sky is not None else [],
        document.harmony.model_dump(),
        document.masses.range.model_dump() if document.masses.range.keep != "scene" else [],
        document.mix.model_dump(),
        [r.model_dump() for r in document.readings] if document.mix.learn else [],
    ]
    return hashlib.sha256(repr(chosen).encode()).hexdigest()[:16]


def string_title(string_id: str) -> str:
    """Name of a string as shown."""
    if string_id in LADDERS or string_id in ADDED:
        return (LADDERS | ADDED)[string_id]
    subject, _, part = string_id.partition("-")
    return f"{subject.capitalize()}, {PARTS[part]}" if part in PARTS else string_id.capitalize()


def lights(document: Document) -> Lights | None:
    """Light and ambient light, from the notes of subjects that are noted in both; None without such a pair.

    Cast shadows tell most: nothing but the surroundings lights them. Core shadows, which hold light thrown back, count
    where there are not two of these.
    """
    goal = note_targets(document)
    pairs: dict[str, list[tuple[Lab, Lab]]] = {"cast shadow": [], "core shadow": []}
    for subject in SUBJECTS:
        of = [(n, _lab(goal[i])) for i, n in enumerate(document.notes) if n.subject == subject]
        lit = [(n.share, lab) for n, lab in of if n.role == "light"]
        for n, lab in of:
            if lit and n.role in pairs:
                pairs[n.role].append((max(lit)[1], lab))
    cast = estimate(pairs["cast shadow"])
    return cast if cast is not None and cast.pairs > 1 else estimate(pairs["cast shadow"] + pairs["core shadow"])


def _added(document: Document, goal: Array, rows: dict[str, list[PileTarget]]) -> dict[str, list[PileTarget]]:
    """Strings that rules add, where there is what they need."""
    mix, out = document.mix, {}

    def held(rule: str, labs: Sequence[Lab]) -> list[PileTarget]:
        made = []
        for lab in labs:
            value = min(max(float(value_of_lightness(min(max(lab[0], 0.0), 100.0))), DARKEST), LIGHTEST)
            colour = (float(lightness_of_value(value)), lab[1], lab[2])
            made.append(PileTarget(colour, round(value, 2), "rule", (rule,)))
        return sorted(made, key=lambda t: t.value)

    skin = next((rows[s] for s in rows if s.partition("-")[0] == "skin"), None)
    if mix.rule("skin-flush") and skin:
        out["skin-flush"] = held("skin-flush", flush(skin[len(skin) // 2].lab))
    leaves = [_lab(goal[i]) for i, n in enumerate(document.notes) if n.subject == "foliage" and n.lit]
    if mix.rule("foliage-through") and leaves:
        out["foliage-through"] = held("foliage-through", through_leaf(max(leaves)))
    light = lights(document)
    if light is None:
        return out
    if mix.rule("sky-clouds") and any(n.subject == "sky" for n in document.notes):
        lit = (95.0, 0.5, 4.0)
        shaded = Lights(_root(light.ratio, 0.35), light.pairs, light.spread).cast_shadow(lit)
        out["sky-clouds"] = held("sky-clouds", [shaded, lit])
    dark = {n.subject for n in document.notes if not n.lit}
    alone = [
        (n.share, _lab(goal[i])) for i, n in enumerate(document.notes)
        if n.role == "light" and n.subject not in dark and n.subject != "sky"
    ]  # fmt: skip
    things = [lab for _, lab in sorted(alone, reverse=True)[:5]]
    floor = [
        (n.share, _lab(goal[i])) for i, n in enumerate(document.notes) if n.lit and n.subject in ("ground", "wall")
    ]
    if mix.rule("shadows-form") and things:
        below = max(floor)[1] if floor else None
        out["shadows-form"] = held("shadows-form", [light.form_shadow(c, below) for c in things])
    if mix.rule("shadows-cast") and things:
        out["shadows-cast"] = held("shadows-cast", [light.cast_shadow(c) for c in things])
    return out


def _root(ratio: tuple[float, float, float], power: float) -> tuple[float, float, float]:
    return ratio[0] ** power, ratio[1] ** power, ratio[2] ** power


def wanted_rows(document: Document) -> list[Row]:
    """The strings that are wanted, with their targets."""
    goal = note_targets(document)
    mix = document.mix
    active = [r for r in BY_ID if mix.rule(r)]
    rows: dict[str, list[PileTarget]] = {}
    for string_id, members in groups(document).items():
        notes = [document.notes[i] for i in members]
        weight = np.array([max(n.share, 0.005) for n in notes])
        subject = string_id.partition("-")[0]
        rows[string_id] = targets(goal[members], weight, mix.steps, subject, [n.lit for n in notes], active)
    rows |= {string_id: ladder_targets(rungs) for string_id, rungs in ladders(document).items()}
    rows |= _added(document, goal, rows)
    out = []
    for string_id, row in rows.items():
        if string_id not in mix.left_out:
            how = mix.of_string(string_id)
            title = string_title(string_id)
            out.append(Row(string_id, title, tuple(row), how.method, how.mother, how.first))
    return out


@functools.lru_cache(maxsize=16)
def _believed(tubes: tuple[Tube, ...], readings: tuple[Reading, ...], finish: Surface) -> Belief:
    return believe(tubes, readings, finish)


def belief(document: Document) -> Belief:
    """What is known of the palette's tubes after the readings of the session; readings of piles with tubes that are
    not on the palette teach nothing here."""
    chosen = document.mix.chosen()
    there = {t.id for t in chosen.tubes}
    readings = tuple(
        Reading(tuple((i, v) for i, v in r.amounts if v > 0), r.lab, r.noise) for r in document.readings
        if all(i in there for i, _ in r.amounts) and any(v > 0 for _, v in r.amounts)
    )  # fmt: skip
    return _believed(chosen.tubes, readings, chosen.surface)


def session_tubes(document: Document) -> tuple[Tube, ...]:
    """The palette's tubes, as the readings show them where the painter lets them teach."""
    tubes = document.mix.chosen().tubes
    return as_believed(belief(document), tubes) if document.mix.learn and document.readings else tubes


def _pins(document: Document) -> list[Pin]:
    """Piles that stay: as they were mixed, else as they were chosen."""
    pins = {p.pile: Pin(p.pile, p.parts, p.target) for p in document.mix.pins}
    if document.mix.learn:
        for r in document.readings:
            # Recipes are told in quarters of a part: eighths that were added count double.
            pins[r.pile] = Pin(r.pile, tuple((i, 2 * v) for i, v in r.amounts if v > 0), r.target)
    return list(pins.values())


def _shares(document: Document, rows: Mapping[str, Sequence[float]]) -> dict[str, float]:
    """Share of the picture per pile by the shares of the notes; ``rows``: string id to the values of its piles."""
    goal, of = note_targets(document), groups(document)
    out: dict[str, float] = {}
    for string_id, values in rows.items():
        out |= {f"{string_id}-{n + 1}": 0.0 for n in range(len(values))}
        for i in of.get(string_id, ()):
            note = document.notes[i]
            if string_of(document, note) == string_id:
                value = float(value_of_lightness(min(max(goal[i][0], 0.0), 100.0)))
                out[f"{string_id}-{int(np.abs(np.array(values) - value).argmin()) + 1}"] += note.share
    return out


def note_shares(document: Document) -> dict[str, float]:
    """Share of the picture per pile of the strings, by the notes alone: for a scene without a photo."""
    return _shares(document, {s.id: [p.target.value for p in s.piles] for s in document.mixed.strings})


def rough_need(document: Document, rows: Sequence[Row]) -> dict[str, float]:
    """Millilitres per pile by the shares of the notes: enough to weigh what is mixed on from what."""
    c = document.canvas
    per_share = c.area_cm2 * c.thickness / 10 * (1 + c.spare)
    shares = _shares(document, {r.id: [g.value for g in r.goals] for r in rows})
    return {i: share * per_share for i, share in shares.items()}


def mix_strings(document: Document, progress: Callable[[float], None] = lambda share: None) -> Mixed:
    """Work out every wanted string. ``progress`` gets 0..1 and may raise to cancel."""
    rows = wanted_rows(document)
    chosen, mix = document.mix.chosen(), document.mix
    bounds = Bounds(session_tubes(document), chosen.name, mix.most_tubes, chosen.surface, mix.order)
    session = plan_session(rows, bounds, rough_need(document, rows), _pins(document), mix.mix_on, progress)
    tweaks = tuple(s.id for s in session.strings if s.id in ADDED)
    return Mixed(
        fingerprint=fingerprint(document), strings=session.strings, laid=mix.laid, branching=session.branching,
        tweaks=tweaks,
    )  # fmt: skip


def pile_cover(
    picture: Picture, document: Document, masses: MassPlan | None = None
) -> tuple[dict[str, float], dict[str, float]]:
    """Share of the picture for each pile, and its thickness where masses have their own (millimetres, a mean).

    A pixel goes to the string of its nearest note, there to the pile of its value; its thickness is that of its mass.
    """
    seen = document.seen(picture, WORKING_PIXELS)
    lab = linear_to_lab(seen).reshape(-1, 1, 3)
    owner = nearest(lab, np.array([n.lab for n in document.notes])).ravel() if document.notes else np.zeros(0)
    value = document.masses.range.tone().value(value_of_lightness(np.clip(lab[:, 0, 0], 0, 100)))
    own_mm = dict(document.canvas.thick)
    mm = np.full(len(value), document.canvas.thickness)
    if own_mm and masses is not None:
        rows = np.linspace(0, masses.labels.shape[0] - 1, seen.shape[0]).round().astype(int)
        columns = np.linspace(0, masses.labels.shape[1] - 1, seen.shape[1]).round().astype(int)
        at = masses.labels[np.ix_(rows, columns)].ravel()
        for mass, thickness in own_mm.items():
            mm[at == mass] = thickness
    mine = {s.id: s for s in document.mixed.strings}
    # The steps of a ladder and of what rules add lie between notes: what they cover is counted with the notes' strings.
    out = {p.id: 0.0 for s in mine.values() for p in s.piles}
    thick: dict[str, float] = {}
    taken = np.zeros(len(value), dtype=bool)
    # Strings that own notes by their group come first; core shadows lent to the shadows string are not counted twice.
    for string_id, members in groups(document).items():
        if string_id not in mine:
            continue
        own = [i for i in members if string_of(document, document.notes[i]) == string_id]
        pixels = np.isin(owner, own) & ~taken
        taken |= pixels
        levels = np.array([p.target.value for p in mine[string_id].piles])
        which = np.abs(value[pixels, None] - levels).argmin(axis=1)
        counts = np.bincount(which, minlength=len(levels))
        layers = np.bincount(which, weights=mm[pixels], minlength=len(levels))
        for p, n, layer in zip(mine[string_id].piles, counts, layers, strict=True):
            out[p.id] = float(n / len(value))
            if own_mm and n:
                thick[p.id] = float(layer / n)
    return out, thick


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
    shares, thick = pile_cover(picture, document, masses)
    c = document.canvas
    needed = amounts(document.mixed.strings, shares, c.area_cm2, c.thickness, c.spare, document.mixed.tube, thick)
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
