"""How small a difference can be before it is not seen any more: a Bayesian estimate that asks where it learns most.

QUEST (Watson and Pelli 1983, Perception and Psychophysics 33): the chance of a right answer follows a Weibull function
of the logarithm of the difference, and each answer multiplies what is believed of the threshold. The next question is
put at the mean of the belief (King-Smith et al. 1994, Vision Research 34), the one change of ZEST. Slope, lapses and
the level of the threshold are QUEST's own: a threshold of two choices is the difference that is answered rightly in 82
cases of a hundred. Who guesses ends at the easiest end: right answers by chance are part of the function.
"""

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.spaces import Array

SLOPE, LAPSES = 3.5, 0.01
"""Beta and delta of QUEST."""
_GRID = 240


@dataclass(frozen=True)
class Range:
    """Differences that are asked, in the drill's own measure, and of how many answers one is right."""

    least: float
    most: float
    choices: int = 2

    @property
    def guess(self) -> float:
        """Share of right answers of who guesses."""
        return 1 / self.choices


@dataclass(frozen=True, eq=False)
class Posterior:
    """What is believed of a threshold: ``p`` (n,) over the logarithms ``at`` (n,), to the base 10."""

    of: Range
    at: Array
    p: Array

    @classmethod
    def prior(cls, of: Range) -> "Posterior":
        """Before any answer: anywhere in the range and a little beyond, its geometric middle the likeliest."""
        low, high = np.log10(of.least), np.log10(of.most)
        at = np.linspace(low - 0.15, high + 0.15, _GRID)
        z = (at - (low + high) / 2) / (0.6 * (high - low))
        p = np.exp(-0.5 * z * z)
        return cls(of, at, p / p.sum())

    def after(self, answers: Iterable[tuple[float, bool]]) -> "Posterior":
        """After answers at differences, right or wrong."""
        p = np.log(self.p)
        for x, right in answers:
            seen = psychometric(np.log10(np.clip(x, 1e-6, None)) - self.at, self.of.guess)
            p = p + np.log(seen if right else 1 - seen)
        p = np.exp(p - p.max())
        return Posterior(self.of, self.at, p / p.sum())

    @property
    def threshold(self) -> float:
        """The difference at the mean of the belief."""
        return float(10 ** (self.p @ self.at))

    @property
    def spread(self) -> float:
        """Standard deviation of the belief, in decades."""
        mean = self.p @ self.at
        return float(np.sqrt(self.p @ (self.at - mean) ** 2))

    @property
    def ask(self) -> float:
        """The difference to ask next."""
        return float(np.clip(self.threshold, self.of.least, self.of.most))


def psychometric(off: Array | float, guess: float) -> Array:
    """The psychometric function: the chance of a right answer.

    Parameters: ``off``: log10 of the difference over the threshold; ``guess``: share of right answers by chance, 0..1.

    Returns: 0..1, of the shape of ``off``.

    Source: Watson and Pelli 1983, equation 3: 1 - (1 - gamma) exp(-10^(beta x)), with delta of lapses.

    At the threshold, two choices: 81 to 82 of a hundred, the lapses counted.

    >>> round(float(psychometric(0.0, 0.5)), 3)
    0.813
    """
    whole = 1 - (1 - guess) * np.exp(-(10 ** (SLOPE * np.asarray(off, dtype=float))))
    return np.asarray(LAPSES * guess + (1 - LAPSES) * whole)
