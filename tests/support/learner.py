"""Simulated learners: they see no better than their threshold, name with their error, or do not look at all."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.practice.drill import Drill, GivenAnswer, Material, judge
from ochre_stone.core.practice.progress import next_level
from ochre_stone.core.practice.threshold import psychometric
from ochre_stone.core.practice.trial import Adjust, Match, Number, OneOf, PlacedCuts, Trial

MATERIAL = Material()


@dataclass(frozen=True)
class Done:
    """An answer."""

    at: float
    drill: str
    level: float
    right: bool
    error: float


Answering = Callable[[Trial, np.random.Generator], GivenAnswer]


def practise(
    drill: Drill,
    answering: Answering,
    count: int,
    seed: int = 3,
    material: Material = MATERIAL,
    start: float = 0.0,
    before: tuple[Done, ...] = (),
) -> list[Done]:
    """So many questions in a row, each as hard as the drill asks after the answers before."""
    rng, out = np.random.default_rng(seed), list(before)
    for k in range(count):
        trial = drill.make(rng, next_level(drill, out), material)
        verdict = judge(trial, answering(trial, rng))
        out.append(Done(start + 6.0 * k, drill.id, trial.level, verdict.right, verdict.error))
    return out


def seeing(threshold: float) -> Answering:
    """Who sees differences as the psychometric function says for this threshold."""

    def answer(trial: Trial, rng: np.random.Generator) -> GivenAnswer:
        asked = trial.asked
        assert isinstance(asked, OneOf)
        n = len(asked.words)
        if rng.uniform() < psychometric(np.log10(trial.level / threshold), 1 / n):
            return asked.right
        return int(rng.choice([k for k in range(n) if k != asked.right]))

    return answer


def naming(error: float, bias: float = 0.0) -> Answering:
    """Who names places with an error of their own; of other settings, the best one moved a little."""

    def answer(trial: Trial, rng: np.random.Generator) -> GivenAnswer:
        asked = trial.asked
        off = rng.normal(bias, error)
        if isinstance(asked, Number):
            unit = 30.0 if asked.what == "hue" else 1.0
            return float(asked.right + off * unit)
        if isinstance(asked, Adjust):
            return tuple(int(b + round(rng.normal(0, 10 * error))) for b in asked.best)
        assert isinstance(asked, PlacedCuts)
        return tuple(float(c + rng.normal(0, error)) for c in asked.best)

    return answer


def always(place: float = 0.5) -> Answering:
    """Who does not look: the same answer every time."""

    def answer(trial: Trial, rng: np.random.Generator) -> GivenAnswer:
        asked = trial.asked
        if isinstance(asked, OneOf):
            return int(place * (len(asked.words) - 1))
        if isinstance(asked, Number):
            return asked.low + place * (asked.high - asked.low)
        if isinstance(asked, Adjust):
            return tuple(int(place * (len(row) - 1)) for row in asked.ladders)
        if isinstance(asked, PlacedCuts):
            return tuple(10 * place for _ in range(asked.count))
        assert isinstance(asked, Match)
        return (50.0, 0.0, 0.0), 1

    return answer
