"""The block-in seen before it is mixed: the picture laid in with exactly the plan's piles."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.document.document import Document
from ochre_stone.core.keys.cover import nearest
from ochre_stone.core.keys.melt import Melt, melt, things_in
from ochre_stone.core.keys.pieces import steepness
from ochre_stone.core.keys.things import Things
from ochre_stone.core.later import later
from ochre_stone.core.masses.plan import MassPlan
from ochre_stone.core.masses.shapes import Labels, enlarge
from ochre_stone.core.mixing.recipe.nearness import NEAR_ENOUGH
from ochre_stone.core.mixing.strings.targets import Pile
from ochre_stone.core.picture.frame import framed
from ochre_stone.core.picture.picture import Floats, Mask, Picture
from ochre_stone.core.placing.costs import place_costs
from ochre_stone.core.placing.figures import PlacingFigures, placing_figures
from ochre_stone.core.placing.laying_ground import PlacingGround
from ochre_stone.core.placing.numbers import NumberSpot, number_spots
from ochre_stone.core.placing.place import placed
from ochre_stone.core.planning.massing import focus_mask, make_ground, make_plan
from ochre_stone.core.planning.rows import note_targets, notes_without_pile
from ochre_stone.core.planning.suggesting import known_of

cv2 = later("cv2")

ONE_COLOUR = 1.5
"""CIEDE2000 below which two piles are one here: which of them a place got would be chance (a judgement)."""
_FACE_WIDE, _FACE_HIGH, _SOFT = 0.5, 0.62, 0.01
_SURE = 0.5
_NO_PILE, _VALUE_TWICE = 30.0, np.array([2.0, 1.0, 1.0])
"""CIELAB distance, value counted twice, from which a place is none for its pile: a step and a half of value (a
judgement; on well noted photographs 1 to 4 % of the picture lie beyond)."""
_SMALLER = 0.25
"""How much smaller a shape may be than one of the masses: a block-in has several colours for each."""
_REMEMBERED, _REMEMBERED_LAID = 3, 20


@dataclass(frozen=True, eq=False)
class LaidIn:
    """Where each pile goes."""

    labels: Labels
    """Index into ``piles`` (h, w)."""
    piles: tuple[tuple[Pile, ...], ...]
    """Darkest first; those of one colour are one here, the one that is mixed first in front."""
    colours: Array
    """CIELAB (k, 3) of their mixtures."""
    figures: PlacingFigures
    bare: Mask
    """Where the pile that came nearest is none for the place (h, w): too far from it, or not even near where the place
    is that of a note without a pile."""

    @property
    def covered(self) -> dict[str, float]:
        """The same as :attr:`shares` without what is bare: what paint is for."""
        counts = np.bincount(self.labels[~self.bare], minlength=len(self.piles)) / self.labels.size
        out = {p.id: 0.0 for group in self.piles for p in group}
        return out | {group[0].id: float(c) for group, c in zip(self.piles, counts, strict=True)}

    @property
    def shares(self) -> dict[str, float]:
        """Share of the picture of each pile by its id, all together 1; piles of one colour: with the first."""
        counts = np.bincount(self.labels.ravel(), minlength=len(self.piles)) / self.labels.size
        out = {p.id: 0.0 for group in self.piles for p in group}
        return out | {group[0].id: float(c) for group, c in zip(self.piles, counts, strict=True)}

    @cached_property
    def spots(self) -> tuple[NumberSpot, ...]:
        """Where names and numbers stand, the largest shapes first."""
        return tuple(number_spots(self.labels, len(self.piles)))

    @cached_property
    def _enlarged(self) -> dict[tuple[int, int], Labels]:
        return {}

    def enlarged(self, width: int, height: int) -> Labels:
        """The labels at another size, with smooth borders; the last size is remembered."""
        large = self._enlarged.get((width, height))
        if large is None:
            large = enlarge(self.labels, len(self.piles), width, height)
            self._enlarged.clear()
            self._enlarged[width, height] = large
        return large

    def at(self, x: float, y: float) -> Pile:
        """The pile of a place, given as shares of width and height."""
        h, w = self.labels.shape
        return self.piles[int(self.labels[min(max(int(y * h), 0), h - 1), min(max(int(x * w), 0), w - 1)])][0]

    def places(self, pile_id: str) -> Mask:
        """Where a pile goes (h, w)."""
        mine = [i for i, group in enumerate(self.piles) if any(p.id == pile_id for p in group)]
        return np.isin(self.labels, mine)


def as_painted(document: Document, lab: Floats) -> Floats:
    """A Lab picture (h, w, 3) as it is to be painted: in the range of the paint, and harmony moves a colour as it moves
    its note."""
    tone, flat = document.masses.range.tone(), lab.reshape(-1, 3)
    out = np.asarray(tone.lab(flat), dtype=np.float32)
    if document.notes:
        notes = np.array([n.lab for n in document.notes])
        moved = note_targets(document) - tone.lab(notes)
        if np.abs(moved).max() > 1e-6:
            out = (out + moved[nearest(lab, notes).ravel()]).astype(np.float32)
    return np.asarray(out.reshape(lab.shape), dtype=np.float32)


@dataclass(frozen=True, eq=False)
class LookedAt:
    """What places are given on, and what lies where."""

    ground: PlacingGround
    melted: Melt
    things: Things
    masses: MassPlan


def looked_at(picture: Picture, document: Document) -> LookedAt:
    """What a document's picture is laid in by, and what lies where; the last ones are remembered with it."""
    m = melt(framed(picture, document.frame), document.the_balance())
    masses = make_plan(make_ground(picture, document), picture, document)
    key = (
        document.light_key, document.masses.focus, document.masses.range, document.harmony, id(masses),
        tuple((n.id, n.lab, n.place, n.subject, n.lit, n.share, n.whole_thing) for n in document.notes),
    )  # fmt: skip

    def make() -> LookedAt:
        h, w = m.lab.shape[:2]
        focus = focus_mask(picture, document, (h, w))
        where = None if focus is None else focus.astype(np.float32)
        things = things_in(m, known_of(document), where)
        kept = np.zeros((h, w), np.float32) if where is None else where.copy()
        for f in things.faces:
            middle = int(f.left + f.side / 2), int(f.top + f.side / 2)
            cv2.ellipse(kept, middle, (int(_FACE_WIDE * f.side), int(_FACE_HIGH * f.side)), 0, 0, 360, 1.0, -1)
        kept = cv2.GaussianBlur(kept, (0, 0), _SOFT * float(np.sqrt(h * w)))
        mass = masses.labels
        if mass.shape != (h, w):
            mass = np.asarray(cv2.resize(mass, (w, h), interpolation=cv2.INTER_NEAREST))
        melted = as_painted(document, m.melted)
        ground = PlacingGround(as_painted(document, m.lab), melted, steepness(melted), things.number, mass, kept)
        return LookedAt(ground, m, things, masses)

    return picture.remembered.recent("placing grounds", key, make, _REMEMBERED)


def placing_ground(picture: Picture, document: Document) -> PlacingGround:
    """What a document's picture is laid in by; the last ones are remembered with it."""
    return looked_at(picture, document).ground


def one_of_each(piles: Sequence[Pile]) -> tuple[tuple[Pile, ...], ...]:
    """Piles, darkest first, those of one colour together; in each the one that is mixed first in front."""
    out: list[list[Pile]] = []
    for p in sorted(piles, key=lambda p: p.order):
        far = ciede2000(np.array([g[0].recipe.lab for g in out]).reshape(-1, 3), np.array(p.recipe.lab))
        same = np.flatnonzero(np.asarray(far) < ONE_COLOUR)
        if len(same):
            out[int(same[0])].append(p)
        else:
            out.append([p])
    return tuple(tuple(g) for g in sorted(out, key=lambda g: g[0].recipe.lab[0]))


def block_in(picture: Picture, document: Document, hidden: Collection[str] = ()) -> LaidIn | None:
    """The document's picture laid in with its piles but those that are ``hidden`` (ids); None without a pile."""
    piles = one_of_each([p for s in document.mixed.strings for p in s.piles if p.id not in hidden])
    if not piles:
        return None
    looked, m = looked_at(picture, document), document.masses

    def make() -> tuple[LookedAt, LaidIn]:
        colours = np.array([g[0].recipe.lab for g in piles])
        home, bands = _at_home(looked, document, piles), _bands(looked.masses, document)
        labels = placed(looked.ground, colours, home, bands, m.outline, m.smallest * _SMALLER)
        figures = placing_figures(looked.ground, labels, colours)
        return looked, LaidIn(labels, piles, colours, figures, _bare(looked.ground, document, colours[labels]))

    wished = tuple((n.id, n.pile) for n in document.notes if n.pile)
    # The ground is held by what is remembered, so that its identity stays its own.
    key = id(looked), piles, m.outline, m.smallest, tuple(sorted(notes_without_pile(document))), wished
    return picture.remembered.recent("block-ins", key, make, _REMEMBERED_LAID)[1]


def laying_costs(picture: Picture, document: Document, laid: LaidIn) -> Floats:
    """What it costs (k, h, w) to lay each pile of a block-in at each place, see :func:`costs.place_costs`."""
    looked = looked_at(picture, document)
    home, bands = _at_home(looked, document, laid.piles), _bands(looked.masses, document)
    return place_costs(looked.ground, laid.colours, home, bands)


def _bare(ground: PlacingGround, document: Document, laid: Array) -> Mask:
    far = np.linalg.norm((ground.melted - laid) * _VALUE_TWICE, axis=2) > _NO_PILE
    without = notes_without_pile(document) - {n.id for n in document.notes if n.pile == "none"}  # others go there
    if without:
        goal = note_targets(document)
        alone = [k for k, n in enumerate(document.notes) if n.id in without]
        theirs = np.isin(nearest(ground.melted, goal), alone)
        theirs[theirs] = np.asarray(ciede2000(ground.melted[theirs], laid[theirs])) > NEAR_ENOUGH
        far |= theirs
    return np.asarray(far)


def _at_home(looked: LookedAt, document: Document, piles: Sequence[Sequence[Pile]]) -> Mask:
    """Whether each pile belongs to each thing (things, k): it has a note there, or one of the thing's sure subject;
    what stands on no note belongs everywhere, and so does all where nothing belongs."""
    noted: Mapping[str, int] = {
        n.id: int(looked.things.number[at])
        for n in document.notes
        if n.place is not None and (at := looked.melted.at(*n.place)) is not None
    }
    subject = {n.id: n.subject for n in document.notes}
    notes = [{i for p in group for i in p.target.notes} for group in piles]
    out = np.zeros((len(looked.things.all), len(piles)), bool)
    for c, mine in enumerate(notes):
        out[[noted[i] for i in mine if i in noted], c] = True
    for t in looked.things.all:
        if t.sure >= _SURE:
            out[t.number] |= [any(subject.get(i) == t.subject for i in mine) for mine in notes]
    out |= ~out.any(axis=1, keepdims=True)
    return np.asarray(out | np.array([not mine for mine in notes])[None])


def _bands(masses: MassPlan, document: Document) -> npt.NDArray[np.float64]:
    """Lowest and highest Munsell value (m, 2) of each mass as it is to be painted."""
    eased = document.masses.range.tone().value([0.0, *masses.thresholds, 10.0])
    steps = np.array([m.step for m in masses.masses])
    return np.stack([eased[steps], eased[steps + 1]], axis=1)
