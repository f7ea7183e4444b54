"""Darks: which way they lean, and which are darker than the paint."""

from collections.abc import Sequence

import numpy as np

from ochre_stone.core.mixing.recipe.nearness import OUT
from ochre_stone.core.mixing.strings.targets import Pile

DARKER = 1.0
"""Lightness that is seen in the dark."""
_A_DARK = 30.0
"""Lightness below which a colour is a dark: value 3."""
_NEUTRAL = 3.0
"""CIELAB chroma below which a dark leans nowhere (a judgement)."""
_TURN = 60.0
"""Degrees of hue within which a colour leans as another."""
_WARM = (-45.0, 135.0)
"""CIELAB hues between which a colour is warm: crimson to leaf green (common practice, no source)."""


def dark_lean(lab: Sequence[float]) -> str:
    """Which way a dark CIELAB colour leans: "warm", "cool" or "".

    >>> dark_lean((16.0, 6.0, 8.0)), dark_lean((18.0, 0.8, -11.0)), dark_lean((17.0, 1.0, 0.3))
    ('warm', 'cool', '')
    """
    if np.hypot(lab[1], lab[2]) < _NEUTRAL:
        return ""
    return "warm" if _WARM[0] < float(np.degrees(np.arctan2(lab[2], lab[1]))) < _WARM[1] else "cool"


def leans_as(lab: Sequence[float], goal: Sequence[float]) -> bool:
    """Whether a CIELAB colour leans as its goal does; one that leans nowhere is no other lean.

    >>> leans_as((20.0, 4.0, 4.0), (16.0, 6.0, 8.0)), leans_as((18.0, 1.6, -9.0), (16.0, 6.0, 8.0))
    (True, False)
    """
    if min(np.hypot(lab[1], lab[2]), np.hypot(goal[1], goal[2])) < _NEUTRAL:
        return True
    turn = np.degrees(np.arctan2(lab[2], lab[1]) - np.arctan2(goal[2], goal[1]))
    return bool(abs((turn + 180.0) % 360.0 - 180.0) <= _TURN)


def is_below(pile: Pile) -> bool:
    """Whether a dark is lighter than it should be because nothing darker was found."""
    own = pile.pinned or pile.target.origin == "rule"
    return not own and not pile.reachable and pile.target.lab[0] < min(_A_DARK, pile.recipe.lab[0] - DARKER)


def is_darkest(pile: Pile) -> bool:
    """Whether a pile stands for notes that are darker than the paint."""
    return len(pile.target.notes) > 1 and is_below(pile) and pile.nearness.grade == OUT
