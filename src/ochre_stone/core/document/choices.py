"""What the painter chose for masses and harmony, checked when it is read."""

from collections.abc import Callable, Collection
from typing import Annotated, Literal

from pydantic import AfterValidator, Field, field_validator, model_validator

from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.colour.wheel import WheelName
from ochre_stone.core.frozen import Frozen
from ochre_stone.core.harmony.ladders import Air, DistanceWay, SkyBand
from ochre_stone.core.harmony.schemes import TITLES
from ochre_stone.core.masses.families import Family
from ochre_stone.core.masses.plan import MassSettings
from ochre_stone.core.masses.tone import DARKEST, Keep, Tone
from ochre_stone.core.mixing.bench.bench import MOST_DOSES, MOST_ML, MOST_PILES, PART_ML, Bench
from ochre_stone.core.mixing.recipe.dose import Dose, contents
from ochre_stone.core.mixing.recipe.hand import Hand
from ochre_stone.core.mixing.strings.schools import FIRST, METHODS
from ochre_stone.core.paint.optics import ANCHORS
from ochre_stone.core.picture.frame import Point

HandHabit = tuple[Annotated[str, Field(min_length=1, max_length=80)], Annotated[float, Field(ge=0.2, le=5)]]
"""Id of a tube, and what is taken of it over what is meant."""
MOST_FOCUS, MOST_PAINTED = 20, 100
"""How many areas may be drawn."""


def one_of(words: Collection[str]) -> Callable[[str], str]:
    """A check that a field holds one of the known words."""

    def check(word: str) -> str:
        if word not in words:
            raise ValueError(f"must be one of {', '.join(words)}")
        return word

    return check


class Area(Frozen):
    """A drawn area."""

    points: tuple[Point, ...] = Field(min_length=3, max_length=400)
    """Corners in pixels of the upright, full-size reference."""


class PaintedArea(Area):
    """An area that the painter put into the light or the shadow by hand."""

    family: Family


class RangeChoice(Frozen):
    """How the scene's range is brought into that of paint; values are Munsell's."""

    keep: Keep = "scene"
    white: float = Field(default=Tone().white, ge=0, le=10)
    black: float = Field(default=DARKEST["glossy"], ge=0, le=10)
    low: float = Field(default=0.0, ge=0, le=10)
    high: float = Field(default=10.0, ge=0, le=10)
    drawn: tuple[Point, ...] = Field(default=(), max_length=12)

    @model_validator(mode="after")
    def _possible(self) -> "RangeChoice":
        self.tone()
        return self

    def tone(self) -> Tone:
        return Tone(self.keep, self.white, self.black, self.low, self.high, self.drawn)


class Blend(Frozen):
    """An area planned as a blend between two piles."""

    x: float = Field(ge=0)
    y: float = Field(ge=0)
    """A place inside it, in pixels of the upright, full-size reference."""
    direction: float = Field(ge=0, lt=360)
    """Degrees toward the light end in the reference, clockwise from the right."""
    dark: Lab
    light: Lab
    """Colours of its ends."""


class Swap(Frozen):
    """Another hue for a mass, values kept."""

    mass: int = Field(ge=0, lt=18)
    hue: float = Field(ge=0, lt=360)
    """CIELAB hue in degrees."""
    chroma: float = Field(ge=0, le=140)
    place: Point | None = None
    """A place in the one shape that it is for, pixels of the original; none for the whole mass."""


class MassChoice(Frozen):
    """How the masses are made, and what is planned for them."""

    values: int = Field(default=4, ge=2, le=9)
    smallest: float = Field(default=0.2, ge=0, le=10)
    simplify: float = Field(default=0.5, ge=0, le=1)
    outline: float = Field(default=0.2, ge=0, le=1)
    cuts: tuple[float, ...] = ()
    locked: tuple[float, ...] = ()
    equal: bool = False
    """The cuts are equal steps, and stay so for another number of values."""
    families: tuple[tuple[int, Family], ...] = ()
    division: float | None = Field(default=None, ge=0, le=10)
    apart: bool = False
    focus: tuple[Area, ...] = Field(default=(), max_length=MOST_FOCUS)
    painted: tuple[PaintedArea, ...] = Field(default=(), max_length=MOST_PAINTED)
    range: RangeChoice = RangeChoice()
    edges: tuple[tuple[int, int, str], ...] = ()
    blends: tuple[Blend, ...] = Field(default=(), max_length=40)
    swaps: tuple[Swap, ...] = Field(default=(), max_length=40)
    hues: bool = False
    """Things of different hue in one value are shapes of their own."""

    @model_validator(mode="after")
    def _possible(self) -> "MassChoice":
        self.settings()
        if self.cuts and any(all(abs(c - x) > 1e-6 for x in self.cuts) for c in self.locked):
            raise ValueError("locked thresholds must be among the thresholds")
        if len({(s.mass, s.place) for s in self.swaps}) != len(self.swaps):
            raise ValueError("two swaps are for the same mass")
        return self

    def settings(self) -> MassSettings:
        return MassSettings(
            self.values,
            self.smallest,
            self.simplify,
            self.outline,
            self.cuts,
            self.locked,
            self.families,
            self.division,
            self.apart,
            self.range.tone(),
            self.edges,
        )


class StringChoice(Frozen):
    """How a string is built."""

    id: str = Field(min_length=1, max_length=40)
    method: Annotated[str, AfterValidator(one_of(METHODS))] = "nearest"
    mother: str = Field(default="", max_length=80)
    """Tube that goes into every pile; "" for the one that costs least."""
    first: Annotated[str, AfterValidator(one_of(FIRST))] = "middle"
    """Which pile is mixed first."""
    stand: Literal["", "notes", "even", "1-2-3", "1-1-1"] = ""
    """Where its piles stand; "" as all strings'."""
    count: int = Field(default=0, ge=0, le=20)
    """How many piles; 0 as all strings'. A shape has its own number."""

    @model_validator(mode="after")
    def _steps(self) -> "StringChoice":
        if self.stand == "even" and self.count not in (0, *range(2, 10)):
            raise ValueError(f"has {self.count} even steps: choose 2 to 9")
        return self


class HandChoice(Frozen):
    """What the painter's hand can do; by default what is common practice."""

    least_ml: float = Field(default=Hand().least_ml, ge=0.005, le=1)
    dose: float = Field(default=Hand().dose, ge=0, le=1)
    touch: float = Field(default=Hand().touch, ge=0, le=1)
    knife: float = Field(default=Hand().knife, ge=0, le=0.5)
    pile_ml: float = Field(default=Hand().pile_ml, ge=0.1, le=20)

    habits: tuple[HandHabit, ...] = Field(default=(), max_length=48)
    """Tubes of which the painter takes more or less than is meant, by how much: the plan allows for it."""

    def made(self) -> Hand:
        return Hand(self.least_ml, self.dose, self.touch, self.knife, self.pile_ml)


class LooseChoice(Frozen):
    """How a pile is mixed loosely: from which tubes or piles, brought to its value, and how much of each."""

    pile: str = Field(min_length=1, max_length=60)
    parents: tuple[Annotated[str, Field(min_length=1, max_length=80)], ...] = Field(min_length=2, max_length=3)
    parts: tuple[Annotated[float, Field(gt=0, le=100)], ...] = Field(min_length=2, max_length=3)

    @model_validator(mode="after")
    def _matching(self) -> "LooseChoice":
        if len(self.parts) != len(self.parents) or len(set(self.parents)) != len(self.parents):
            raise ValueError("needs two or three different parents, and parts of each")
        return self


class PinChoice(Frozen):
    """A recipe that the painter chose for a pile; it stays while the pile is wanted where it was."""

    pile: str = Field(min_length=1, max_length=60)
    parts: tuple[tuple[str, Annotated[float, Field(gt=0, le=1000)]], ...] = Field(min_length=1, max_length=24)
    """Tubes and tint piles."""
    target: Lab


class PileContents(Frozen):
    """What a pile holds since something went in that was not seen yet."""

    pile: str = Field(min_length=1, max_length=60)
    doses: tuple[Dose, ...] = Field(min_length=1, max_length=400)
    """In the order in which they went in."""
    batch: int = Field(default=0, ge=0, le=10_000)
    """How often it was begun anew."""

    @property
    def amounts(self) -> tuple[tuple[str, float], ...]:
        """Tube id and parts, as meant."""
        return tuple(contents(self.doses).items())


class PileReading(PileContents):
    """What a pile looked like, with what was in it then."""

    target: Lab
    lab: Lab
    noise: float = Field(gt=0, le=50)
    """Standard deviation of the reading in each direction, CIEDE2000."""
    how: Literal["reader", "photo", "words", "typed"]
    said: str = Field(default="", max_length=200)
    """The words, where it was said in words."""
    gloss: float = Field(default=ANCHORS.g, ge=0, le=1)
    """Share of the surface's reflection that was seen, as optics.Surface has it."""


class BenchChoice(Frozen):
    """What lies on the bench, where piles are mixed by hand."""

    bench: Bench = Bench()
    part_ml: float = Field(default=PART_ML, ge=0.05, le=10)
    """Millilitres of a part; a touch is a quarter of it."""
    target: Lab | None = None
    """What is mixed toward; none for mixing without a target."""
    target_name: str = Field(default="", max_length=120)

    @field_validator("bench")
    @classmethod
    def _whole(cls, bench: Bench) -> Bench:
        if len(bench.piles) > MOST_PILES or any(len(p.doses) > MOST_DOSES for p in bench.piles):
            raise ValueError("has more piles or doses than a bench can hold")
        if any(not p.doses or p.ml > 2 * MOST_ML for p in bench.piles):
            raise ValueError("has a pile without paint, or with too much of it")
        if len({p.id for p in bench.piles}) != len(bench.piles):
            raise ValueError("has two piles of the same id")
        return bench


class DistanceLadder(Frozen):
    """A note followed to the horizon."""

    near: str = Field(min_length=1, max_length=40)
    """Id of the near note, and of the one that stands for the horizon."""
    horizon: str = Field(min_length=1, max_length=40)
    steps: int = Field(default=5, ge=2, le=9)
    way: DistanceWay = "air"
    air: Air = "haze"
    visibility: float = Field(default=20.0, gt=0, le=300)
    """Kilometres."""
    first: float = Field(default=0.1, gt=0, le=300)
    last: float = Field(default=10.0, gt=0, le=300)
    """Kilometres to the first and the last rung."""

    @model_validator(mode="after")
    def _rising(self) -> "DistanceLadder":
        if self.last <= self.first:
            raise ValueError("the last rung must be farther away than the first")
        return self


class SkyLadder(Frozen):
    """A sky from horizon to zenith, from notes of the subject sky."""

    steps: int = Field(default=5, ge=2, le=9)
    band: SkyBand = "none"
    strength: float = Field(default=0.6, ge=0, le=1)


class HarmonyChoice(Frozen):
    """Which wheel and scheme, how it is turned, and how far the notes are pulled."""

    wheel: WheelName = "traditional"
    scheme: Annotated[str, AfterValidator(one_of(TITLES))] = "none"
    rotation: float = Field(default=0.0, ge=0, lt=360)
    amount: float = Field(default=0.0, ge=0, le=1)
    locked: bool = False
    """The dominant hue keeps its arm: schemes are fitted and turned about it."""
    accents: tuple[int, ...] = Field(default=(), max_length=4)
    """Arms that are kept for accents."""
    held: tuple[str, ...] = Field(default=(), max_length=500)
    """Ids of notes that harmony does not move."""
    push: float = Field(default=0.0, ge=-1, le=1)
    """How far the difference of light and shadow is pushed (above 0) or calmed."""
    distance: DistanceLadder | None = None
    sky: SkyLadder | None = None

    @field_validator("accents")
    @classmethod
    def _arms(cls, accents: tuple[int, ...]) -> tuple[int, ...]:
        if len(set(accents)) != len(accents) or any(not 0 <= i < 4 for i in accents):
            raise ValueError("must be different arms, counted from 0")
        return accents
