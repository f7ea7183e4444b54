"""A session: piles one after another, mixed by eye, looked at, corrected as the program says, or by rule of thumb."""

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from ochre_stone.core.colour.spaces import Array, as_lab
from ochre_stone.core.mixing.correcting.belief import Belief, as_believed
from ochre_stone.core.mixing.correcting.correct import AtHand, Handling, correct
from ochre_stone.core.mixing.correcting.reading import PileSeen, mixed, unsure_within
from ochre_stone.core.mixing.correcting.saying import worded
from ochre_stone.core.mixing.correcting.words import seen_as
from ochre_stone.core.mixing.recipe.dose import Dose, shrunk
from ochre_stone.core.mixing.recipe.finding import Wishes, recipes
from ochre_stone.core.mixing.recipe.hand import Hand
from ochre_stone.core.mixing.recipe.recipe import Recipe, Source, tint_of
from ochre_stone.core.mixing.recipe.sources import Terms
from ochre_stone.core.paint.tubes import Tube
from tests.support.hand import SimulatedHand
from tests.support.truth import Truth, difference

MOST, HOME, FEW_PARTS = 15, 2.0, 8


@dataclass(frozen=True)
class Conditions:
    """How a painter works and sees."""

    dose: float = 0.2
    touch: float = 0.35
    knife: float = 0.03
    noise: float = 1.0
    """Of a reading, CIEDE2000 (root mean square)."""
    bias: float = 0.0
    """By how much all readings of a session are off, one way."""
    words: bool = False
    """Nothing is read: it is said how the pile is off."""
    true_tubes: bool = False


@dataclass
class Outcome:
    """One pile."""

    first: float = 0.0
    """True CIEDE2000 of the first mixture."""
    end: float = 0.0
    corrections: int = 0
    looks: int = 0
    doses: int = 0
    """Put in after the first mixture."""
    growth: float = 1.0
    """The pile at its end over its planned size."""
    used: float = 1.0
    """All paint over the planned size."""
    verdicts: list[str] = field(default_factory=list)
    judged: list[tuple[float, float, float]] = field(default_factory=list)
    """How sure it is said to match, how far off it is said to be, and is."""


class Palette:
    """Real paint on a palette: a hand that errs, a knife that drags, base piles mixed once."""

    def __init__(self, truth: Truth, how: Conditions, rng: np.random.Generator) -> None:
        self.truth, self.how, self.rng = truth, how, rng
        self.bases: dict[str, dict[str, float]] = {}
        self.on_knife: dict[str, float] = {}
        self.hand = SimulatedHand(rng, how.dose, how.touch, how.knife, least_ml=0.05)
        direction = rng.normal(size=3)
        self.bias = how.bias * direction / np.linalg.norm(direction)

    def base(self, source: Source) -> dict[str, float]:
        """Shares of what is really in a base pile."""
        if source.id not in self.bases:
            made = {i: v * float(self.hand.taken(1.0, 1.0)[0]) for i, v in source.parts}
            whole = sum(made.values())
            self.bases[source.id] = {i: v / whole for i, v in made.items()}
        return self.bases[source.id]

    def put(self, pile: dict[str, float], inside: dict[str, float], parts: float, ml: float) -> float:
        """Put so many parts of ``ml`` in all into a pile (in millilitres); returns what went on the palette."""
        taken = float(self.hand.taken(parts, ml)[0])
        for i, v in self.on_knife.items():
            pile[i] = pile.get(i, 0.0) + v
        self.on_knife = {i: c * taken * self.how.knife for i, c in inside.items()}
        for i, c in inside.items():
            pile[i] = pile.get(i, 0.0) + c * taken * (1 - self.how.knife)
        return taken

    def read(self, pile: dict[str, float]) -> Array:
        """What an instrument says of a pile."""
        return self.truth.lab(pile) + self.bias + self.rng.normal(0, self.how.noise / np.sqrt(3), 3)

    def words(self, pile: dict[str, float], goal: Array) -> list[tuple[str, str]]:
        """How a pile is off, said by who sees no finer than the noise; nothing where it matches."""
        L, a, b = self.read(pile) - goal
        if float(np.linalg.norm([L, a, b])) < 2.0:
            return []
        hues = {"too red": 25, "too orange": 58, "too yellow": 90, "too green": 165, "too blue": 265, "too purple": 318}
        hue = np.degrees(np.arctan2(b, a)) % 360
        near = min(hues, key=lambda w: abs((hues[w] - hue + 180) % 360 - 180))
        out = [("too light" if L > 0 else "too dark", _how_much(abs(L)))] if abs(L) > 1.5 else []
        chroma = float(np.hypot(a, b))
        if chroma > 1.5 or not out:
            out.append((near, _how_much(chroma)))
        return out


def _how_much(x: float) -> str:
    return "a little" if x < 4.6 else "clearly" if x < 10 else "a lot"


def by_program(
    tubes: Sequence[Tube], goal: Array, palette: Palette, belief: Belief, name: str, how: Conditions
) -> tuple[Outcome, Belief]:
    """The painter who obeys the program's verdict."""
    hand = Hand(dose=how.dose, touch=how.touch, knife=how.knife)
    out = Outcome()
    white = next(t for t in tubes if t.is_white)
    tints = [tint_of(t, white) for t in tubes if not t.is_white]
    inside = {s.id: s for s in tints}
    at_hand = [AtHand(t.id, t.short, ((t.id, 1.0),)) for t in tubes]
    at_hand += [AtHand(s.id, s.name, s.shares, within=unsure_within(s, hand)) for s in tints]

    def recipe(known: Belief) -> Recipe:
        terms = Terms(tuple(as_believed(known, tubes)), "", 4, None, "value", hand)
        return recipes(goal, terms, Wishes(count=1, effort=16))[1][0]

    def begin(r: Recipe) -> tuple[dict[str, float], tuple[Dose, ...], float]:
        whole = sum(i.parts for i in r.ingredients)
        times = max(1.0, np.ceil(FEW_PARTS / whole))
        ml = float(hand.enough(np.array([i.parts for i in r.ingredients]))) / (whole * times)
        pile: dict[str, float] = {}
        for i in r.ingredients:
            content = palette.base(inside[i.id]) if i.is_pile else {i.id: 1.0}
            palette.put(pile, content, i.parts, i.parts * times * ml)
        return pile, mixed(r.ingredients, inside, hand, times, ml), ml

    first = recipe(belief)
    pile, doses, ml = begin(first)
    planned_ml, planned = sum(pile.values()), sum(d.volume for d in doses)
    used, batch, times = planned_ml, 0, 1
    out.first = difference(palette.truth.lab(pile), goal)
    while True:
        key = f"{name}.{batch}"
        if how.words:
            said = palette.words(pile, goal)
            if not said:
                out.verdicts.append("home")
                break
            lab, noise = seen_as(goal, said)
        else:
            seen = palette.read(pile)
            lab, noise = (float(seen[0]), float(seen[1]), float(seen[2])), how.noise / np.sqrt(3)
        belief = belief.learn(PileSeen(doses, lab, noise, key))
        again: list[Recipe] = []

        def anew(belief: Belief = belief, again: list[Recipe] = again) -> tuple[Dose, ...]:
            again.append(recipe(belief))
            return mixed(again[0].ingredients, inside, hand)

        handling = Handling(planned, hand, ml, "value", HOME, noise, times, anew, batch > 0, how.words)
        if how.words:
            c = worded(belief, doses, as_lab(lab), goal, at_hand, handling, said, key)
        else:
            c = correct(belief, doses, goal, at_hand, handling, key)
        out.verdicts.append(c.verdict)
        out.judged.append((c.sure, c.now, difference(palette.truth.lab(pile), goal)))
        if c.verdict in ("home", "leave") or out.corrections >= MOST:
            break
        if c.verdict == "look":
            out.looks += 1
            times += 1
            if out.looks > 30:
                break
            continue
        out.corrections += 1
        times = 1
        if c.verdict == "again":
            batch += 1
            pile, doses, ml = begin(again[0])
            used += sum(pile.values())
            out.doses += len(again[0].ingredients)
            planned = sum(d.volume for d in doses)
            continue
        if c.keep < 1:
            doses = shrunk(doses, c.keep)
            pile = {i: v * c.keep for i, v in pile.items()}
        share = 0.5 if c.half_first else 1.0
        for i, v in c.additions:
            source = next(s for s in at_hand if s.id == i)
            content = palette.base(inside[i]) if i in inside else {i: 1.0}
            v *= share
            used += palette.put(pile, content, v, v * ml)
            error = float(hand.errors(np.array(v), v * ml))
            doses = (*doses, Dose(source.shares, v, error, i, source.within))
            out.doses += 1
    out.end = difference(palette.truth.lab(pile), goal)
    out.growth, out.used = sum(pile.values()) / planned_ml, used / planned_ml
    return out, belief


def by_rule(tubes: Sequence[Tube], goal: Array, palette: Palette, start: Recipe, how: Conditions) -> Outcome:
    """The painter who adds a touch of one tube at a time: the one whose own colour lies farthest along the way that the
    pile has to go. A touch is a fiftieth of the pile for a weak tube, less for a strong one; after a turn of the way it
    is halved."""
    out = Outcome()
    white = next(t for t in tubes if t.is_white)
    inside = {s.id: s for s in (tint_of(t, white) for t in tubes if not t.is_white)}
    mass = np.array([t.lab for t in tubes])
    power = np.array([max(1.0, t.tinting_strength) for t in tubes])
    pile: dict[str, float] = {}
    whole = sum(i.parts for i in start.ingredients)
    ml = max(1.0, 0.05 * whole / min(i.parts for i in start.ingredients)) / whole
    for i in start.ingredients:
        palette.put(pile, palette.base(inside[i.id]) if i.is_pile else {i.id: 1.0}, i.parts, i.parts * ml)
    planned = used = sum(pile.values())
    out.first = difference(palette.truth.lab(pile), goal)
    touch, before = 0.04, None
    while out.corrections < MOST:
        seen = palette.read(pile)
        if difference(seen, goal) <= HOME - 0.4:
            break
        way = (goal - seen) * np.array([2.0, 1.0, 1.0])
        to = (mass - seen) * np.array([2.0, 1.0, 1.0])
        along = to @ way / (np.linalg.norm(to, axis=1) * np.linalg.norm(way) + 1e-9)
        i = int(np.argmax(along))
        if before is not None and float(before @ way) < 0:
            touch = max(touch / 2, 0.005)
        before = way
        ml_now = max(touch * sum(pile.values()) / power[i], 0.02)
        used += palette.put(pile, {tubes[i].id: 1.0}, 0.25, ml_now)
        out.corrections += 1
        out.doses += 1
    out.end = difference(palette.truth.lab(pile), goal)
    out.growth, out.used = sum(pile.values()) / planned, used / planned
    return out


def calibration(
    belief: Belief, truth: Truth, tubes: Sequence[Tube], rng: np.random.Generator, count: int = 20
) -> list[tuple[float, float]]:
    """What is said of mixtures that were never read, and how far it is off: fresh mixtures, dosed exactly."""
    out = []
    for _ in range(count):
        few = rng.choice(len(tubes), min(len(tubes), int(rng.integers(2, 5))), replace=False)
        c = np.zeros(len(tubes))
        c[few] = rng.dirichlet(np.ones(len(few)))
        real = truth.lab({t.id: float(v) for t, v in zip(tubes, c, strict=True) if v > 0})
        out.append((belief.unsure(c), difference(belief.lab(c), real)))
    return out
