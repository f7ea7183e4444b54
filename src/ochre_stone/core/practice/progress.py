"""How a painter does: a figure for each drill, results over time, and what to practise next.

Figures are honest: a threshold is an estimate with its spread, a mean error is that of all answers of late, and beside
it stands what who always answers the same would reach. Drills come back after growing times while they go well, and
sooner where they do not (Leitner 1972, So lernt man lernen; spaced returns hold better than massed ones: Cepeda et al.
2006, Psychological Bulletin 132).
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from ochre_stone.core.practice.drill import Drill
from ochre_stone.core.practice.every import DRILLS
from ochre_stone.core.practice.threshold import Posterior
from ochre_stone.core.practice.updown import EQUILIBRIUM, level_after

DAY = 86_400.0
RETURNS = (0.6, 2.0, 4.0, 8.0, 16.0, 30.0)
"""Days after which a drill comes back, by how often it has gone well in a row."""
LATELY = 40
"""Answers that the figure of a drill is made of."""
_FEWEST = 4
_TOGETHER = 3 * 3600.0
"""Answers that lie closer together than this are one sitting."""
_AT_ONCE = 4
"""Drills of one plan."""


class Answered(Protocol):
    """An answer, as the log keeps it."""

    @property
    def at(self) -> float: ...
    @property
    def drill(self) -> str: ...
    @property
    def level(self) -> float: ...
    @property
    def right(self) -> bool: ...
    @property
    def error(self) -> float: ...


def next_level(drill: Drill, answers: Sequence[Answered]) -> float:
    """How hard the next question is: the difference that is asked, or the level."""
    of = [a for a in answers if a.drill == drill.id]
    if drill.asks is not None:
        return Posterior.prior(drill.asks).after((a.level, a.right) for a in of[-LATELY:]).ask
    return float(level_after((a.right for a in of), drill.levels))


@dataclass(frozen=True)
class Figure:
    """How a painter does at one drill."""

    value: float
    """The threshold, or the mean error; the less the better."""
    spread: float
    """One standard deviation of it."""
    answers: int
    skill: float
    """1 where nothing is off, 0 for who always answers the same or guesses, below 0 for worse."""
    bias: float = 0.0
    """Mean error with its sign, of a place on a scale."""

    def place(self, drill: Drill) -> float:
        """0 for a beginner, 1 for a steady eye, beyond either end."""
        return float(np.log(drill.beginner / max(self.value, 1e-3)) / np.log(drill.beginner / drill.steady))


def figure(drill: Drill, answers: Iterable[Answered]) -> Figure | None:
    """The figure of the last answers; None where there are too few."""
    of = [a for a in answers if a.drill == drill.id][-LATELY:]
    if len(of) < _FEWEST:
        return None
    if drill.asks is not None:
        known = Posterior.prior(drill.asks).after((a.level, a.right) for a in of)
        value = known.threshold
        spread = value * (10**known.spread - 10**-known.spread) / 2
        skill = 1 - float(np.log(value / drill.asks.least) / np.log(drill.asks.most / drill.asks.least))
        return Figure(value, spread, len(of), skill)
    errors = np.array([a.error for a in of])
    size = np.abs(errors)
    constant = _CONSTANT.get(drill.id, 2 * drill.beginner)
    value = float(size.mean())
    spread = float(size.std(ddof=1) / np.sqrt(len(of)))
    return Figure(value, spread, len(of), 1 - value / constant, float(errors.mean()))


_CONSTANT = {"value-scale": 2.05, "value": 2.05, "value-hue": 2.05, "hue": 3.0, "chroma": 3.4}
"""Mean error of who always names the middle: a quarter of the range that is asked evenly (values of 1.2 to 9.4, the
wheel's twelve steps), of chroma as its questions come."""


@dataclass(frozen=True)
class Sitting:
    """One round of a drill, with the figure up to then."""

    at: float
    share: float
    """Of right answers."""
    figure: Figure | None


def sittings(drill: Drill, answers: Sequence[Answered]) -> list[Sitting]:
    """Rounds of a drill in the order of time."""
    of = [a for a in answers if a.drill == drill.id]
    rounds: list[list[Answered]] = []
    for a in of:
        if rounds and a.at - rounds[-1][-1].at < _TOGETHER:
            rounds[-1].append(a)
        else:
            rounds.append([a])
    out, sofar = [], 0
    for r in rounds:
        sofar += len(r)
        out.append(Sitting(r[-1].at, sum(a.right for a in r) / len(r), figure(drill, of[:sofar])))
    return out


def due(drill: Drill, answers: Sequence[Answered]) -> float:
    """When a drill should come back, seconds since 1970; 0 for one that was never done.

    A round went well where more than seven answers of ten were right, what its questions are aimed at, or where the
    figure got better.
    """
    box, before = 0, float("inf")
    rounds = sittings(drill, answers)
    for r in rounds:
        value = r.figure.value if r.figure is not None else float("inf")
        well = r.share >= EQUILIBRIUM or value < 0.97 * before
        box = min(box + 1, len(RETURNS) - 1) if well else max(box - 2, 0)
        before = value
    return rounds[-1].at + RETURNS[box] * DAY if rounds else 0.0


@dataclass(frozen=True)
class Proposed:
    """A drill of the plan."""

    drill: Drill
    why: str


def practice_plan(answers: Sequence[Answered], now: float, hue: bool = True, picture: bool = True) -> list[Proposed]:
    """What to practise now: what is due and weakest first, then what is new, in the order of the drills.

    ``hue``: whether drills that cannot be done without telling hues are wanted; ``picture``: whether there is one.
    """
    out: list[tuple[float, Proposed]] = []
    for n, drill in enumerate(DRILLS.values()):
        if (drill.hue and not hue) or (drill.picture and not picture):
            continue
        when = due(drill, answers)
        found = figure(drill, answers)
        if when == 0.0:
            out.append((10.0 + n, Proposed(drill, "new")))
        elif when <= now:
            place = found.place(drill) if found is not None else 0.0
            days = (now - when) / DAY
            why = "weak" if place < 0.35 else "due again" if days < 1 else f"due for {days:.0f} days"
            out.append((place - 0.02 * min(days, 10), Proposed(drill, why)))
    return [p for _, p in sorted(out, key=lambda x: x[0])][:_AT_ONCE]


def said(drill: Drill, found: Figure | None) -> str:
    """How a painter does, in words; what is typical is judgement."""
    if found is None:
        return "Not enough answers yet."
    typical = f"typically {drill.beginner:g} at first, {drill.steady:g} with a steady eye (our judgement)"
    words = f"{found.value:.2g} ± {found.spread:.1g} ({drill.measure}); {typical}"
    if drill.asks is None and abs(found.bias) > 1.5 * found.spread and drill.id.startswith("value"):
        words += f"; on the whole {abs(found.bias):.1f} too {'light' if found.bias > 0 else 'dark'}"
    return f"{words}."
