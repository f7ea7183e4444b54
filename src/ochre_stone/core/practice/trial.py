"""A question: what is shown, what is asked, and what the answer was worth."""

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Literal

from ochre_stone.core.colour.spaces import Array, Lab
from ochre_stone.core.mixing.bench.bench import Supply
from ochre_stone.core.paint.optics import Surface


@dataclass(frozen=True)
class Patch:
    """One flat colour, and what lies around it where that is not the neutral grey."""

    lab: Lab
    words: str = ""
    """Beside it: "A", "target"."""
    ground: Lab | None = None


@dataclass(frozen=True, eq=False)
class Scene:
    """A picture with spots marked on it."""

    linear: Array
    """Linear light (h, w, 3)."""
    marks: tuple[tuple[str, float, float], ...]
    """Name, x and y in pixels."""


@dataclass(frozen=True)
class OneOf:
    """One of several answers."""

    words: tuple[str, ...]
    right: int
    patches: tuple[Lab, ...] = ()
    """What the answers look like, where they are colours."""


@dataclass(frozen=True)
class Number:
    """A place on a scale."""

    what: Literal["value", "hue", "chroma"]
    right: float
    low: float
    high: float
    step: float
    tolerance: float
    """An error up to here counts as right."""


@dataclass(frozen=True)
class Adjust:
    """Patches that are each moved along a row of colours."""

    ladders: tuple[tuple[Lab, ...], ...]
    start: tuple[int, ...]
    names: tuple[str, ...]
    words: tuple[str, str]
    """What a step on and a step back does."""
    measure: Callable[[tuple[int, ...]], float] = field(repr=False)
    """How far off a setting is."""
    best: tuple[int, ...]
    """A setting that is right."""
    tolerance: float


@dataclass(frozen=True, eq=False)
class PlacedCuts:
    """Cuts between values, on the picture's own curve."""

    values: Array
    """Values of the picture's pixels (n,)."""
    count: int
    best: tuple[float, ...]
    tolerance: float


@dataclass(frozen=True)
class Match:
    """A colour to be mixed, in few additions."""

    target: Lab
    start: tuple[tuple[str, float], ...]
    """Tubes and millilitres of the pile that is there."""
    supplies: tuple[Supply, ...]
    own_way: tuple[str, ...]
    """What the program would add, step by step."""
    own_off: float
    within: float
    surface: Surface


Asked = OneOf | Number | Adjust | PlacedCuts | Match


@dataclass(frozen=True, eq=False)
class Trial:
    """One question of a drill."""

    question: str
    asked: Asked
    patches: tuple[Patch, ...] = ()
    scene: Scene | None = None
    scale: bool = False
    """Whether the value scale may be looked at."""
    level: float = 0.0
    """How hard: the difference that is to be seen, or the level."""
    why: str = ""
    """What there is to learn, told with the truth."""


@dataclass(frozen=True)
class Verdict:
    """What an answer was worth."""

    right: bool
    error: float
    """How far off, in the drill's measure; 0 where it is right or wrong only."""
    words: str
    truth: tuple[Patch, ...] = ()
    """What is to be looked at, touching."""
