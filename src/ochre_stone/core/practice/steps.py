"""Paint that is stepped touch by touch, with white and with black."""

import numpy as np

from ochre_stone.core.colour.spaces import Array, Lab, as_lab
from ochre_stone.core.paint.optics import Surface, layer_lab
from ochre_stone.core.paint.tubes import Tube

_STEPS, _GROWS = 40, 0.115
_TOUCH = 0.25


def stepped_level(t: Tube, white: Tube, black: Tube | None, surface: Surface) -> tuple[tuple[Lab, ...], int]:
    """A part of a tube's paint with black, as it comes, and with white, touch by touch; and where it is as it comes.

    A touch of what is added is counted larger the more is in the pile, as who mixes takes larger ones.
    """
    grow = _TOUCH * (np.exp(_GROWS * np.arange(1, _STEPS + 1)) - 1) / _GROWS
    lighter = _with(t, white, grow, surface)
    darker = _with(t, black, grow[: _STEPS // 2], surface)[::-1] if black is not None else np.zeros((0, 3))
    own = layer_lab(t.K, t.S, surface)[None]
    row = np.concatenate([darker, own, lighter])
    return tuple(as_lab(lab) for lab in row), len(darker)


def _with(t: Tube, other: Tube, parts: Array, surface: Surface) -> Array:
    k, s = t.K + parts[:, None] * other.K, t.S + parts[:, None] * other.S
    return layer_lab(k, s, surface)
