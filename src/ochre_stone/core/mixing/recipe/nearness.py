"""How near is near enough, as a painter says it: a mixture matches, is near, or its goal is out of reach."""

from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.difference import ciede2000, ciede2000_vector
from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.relations import shift
from ochre_stone.core.colour.spaces import Lab

MATCHES, NEAR, OUT = "matches", "near", "out of reach"
REACH = 2.0
"""CIEDE2000 up to which a mixture matches: seen only side by side (common practice)."""
VALUE_OFF = 0.25
"""Steps of ten by which a mixture that matches may miss its value."""
NEAR_ENOUGH, _VALUE_NEAR = 5.0, 0.35
"""CIEDE2000, and steps of value, up to which a mixture is near: a painter would lay it in and go on (judgements)."""
_PER_VALUE = 10.0
"""CIELAB lightness in a step of value, about."""
_WORDS = {"warmer": "warm", "cooler": "cool", "redder": "red", "yellower": "yellow", "bluer": "blue",
          "greener": "green"}  # fmt: skip


@dataclass(frozen=True)
class Nearness:
    """What is said of a mixture and its goal."""

    grade: str
    """``MATCHES``, ``NEAR`` or ``OUT``."""
    off: str
    """What is seen first of the difference, "grey"; "" where it matches."""

    @property
    def words(self) -> str:
        """ "matches", "near (a touch grey)" or "out of reach (too grey)"."""
        if self.grade == MATCHES:
            return MATCHES
        return f"{self.grade} ({'a touch' if self.grade == NEAR else 'too'} {self.off})"


def nearness(goal: Lab, mixture: Lab, touch: float = 0.0) -> Nearness:
    """How near a mixture is to its goal, CIELAB both; ``touch``: CIEDE2000 that the painter lets a pile be off beside.

    >>> nearness((60.0, 15.0, 30.0), (60.5, 15.0, 29.0)).words, nearness((60.0, 15.0, 30.0), (60.0, 12.0, 22.0)).words
    ('matches', 'near (a touch grey)')
    >>> nearness((20.0, 5.0, 5.0), (26.0, 5.0, 5.0)).words
    'out of reach (too light)'
    """
    far = float(ciede2000(np.array(goal), np.array(mixture))) - touch
    values = value_of_lightness(np.clip([mixture[0], goal[0]], 0.0, 100.0))
    step = abs(float(values[0] - values[1])) - touch / _PER_VALUE
    if far <= REACH and step <= VALUE_OFF:
        return Nearness(MATCHES, "")
    wrong = "light" if mixture[0] > goal[0] else "dark"
    off = wrong if step > VALUE_OFF else _first_seen(goal, mixture)
    return Nearness(NEAR if far <= NEAR_ENOUGH and step <= _VALUE_NEAR else OUT, off)


def _first_seen(goal: Lab, mixture: Lab) -> str:
    """The largest part of a difference in one word."""
    light, chroma, hue = (float(x) for x in ciede2000_vector(np.array(mixture), np.array(goal)))
    if abs(light) > max(abs(chroma), abs(hue)):
        return "light" if mixture[0] > goal[0] else "dark"
    if abs(chroma) >= abs(hue):
        return "strong" if np.hypot(*mixture[1:]) > np.hypot(*goal[1:]) else "grey"
    return _WORDS[shift(mixture, goal)]
