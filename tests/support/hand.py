"""The one simulated hand that doses paint: none of the program's, and as bad as a painter's by eye."""

from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.spaces import Array

TOUCH = 0.25
"""Parts up to which a dose is a touch."""


@dataclass
class SimulatedHand:
    """Doses each thing off by a log-normal, a touch by a wider one; some of it stays on the knife for the next dose.

    What is less than ``least_ml`` is off by as much more. With ``slop_ml`` it is careful instead: off by a normal of
    ``dose`` and so many millilitres. ``times``: as many hands at once, each with errors of its own.
    """

    rng: np.random.Generator
    dose: float = 0.2
    touch: float = 0.35
    knife: float = 0.03
    least_ml: float = 0.0
    slop_ml: float = 0.0
    times: int = 1

    def taken(self, parts: float, ml: float) -> Array:
        """Millilitres (times,) that are taken up where so many parts, ``ml``, are meant."""
        if self.slop_ml:
            off = ml * (1 + self.dose * self.rng.normal(size=self.times))
            return np.asarray(np.maximum(off + self.slop_ml * self.rng.normal(size=self.times), 0.0))
        sigma = self.touch if parts <= TOUCH else self.dose
        if ml < self.least_ml:
            sigma = self.touch * self.least_ml / ml
        return np.asarray(ml * np.exp(self.rng.normal(0, sigma, self.times)))

    def mixed(self, doses: list[tuple[Array, float, float]]) -> Array:
        """What is in a pile (times, n), millilitres by tube, of doses: shares (..., n), parts, millilitres."""
        pile, left = 0.0, 0.0
        for shares, parts, ml in doses:
            taken = self.taken(parts, ml)[:, None] * shares
            pile, left = pile + left + taken * (1 - self.knife), taken * self.knife
        return np.asarray(pile)
