"""Dark natural colours, and the palettes that they are mixed from, for tests and benchmarks.

Fifty of the colours were made up when the darks were found to be grey, thirty later: leaf greens, browns,
blue-greens, violets, wine reds and near-blacks of L* 11 to 44. A palette without a red of crimson's kind reaches few
violets and wine reds, and that is right.
"""

from collections.abc import Sequence

import numpy as np

from ochre_stone.core.mixing.recipe.finding import Wishes, recipes
from ochre_stone.core.mixing.recipe.sources import Terms
from ochre_stone.core.paint.palettes import palette
from ochre_stone.core.paint.tubes import Tube

PAINTS = {
    "five": "titanium-white cadmium-yellow-medium cadmium-red ultramarine-blue burnt-umber",
    "seven": " ".join(palette("double-primaries").paints),
    "eight": "titanium-white cadmium-yellow-light yellow-ochre cadmium-red-light alizarin-crimson ultramarine-blue "
    "burnt-sienna ivory-black",
    "ten": "titanium-white azo-yellow-light cadmium-yellow-medium yellow-ochre cadmium-red-light alizarin-crimson "
    "ultramarine-blue phthalo-green-blue-shade burnt-sienna raw-umber",
    "portrait": " ".join(palette("portrait-ten").paints),
    "landscape": " ".join(palette("landscape-greens").paints),
}
CRIMSON = ("seven", "eight", "ten", "portrait")
"""Palettes with a red of crimson's kind."""
OF_CRIMSON = ("violets", "wine reds")
"""Kinds that need one."""
COLOURS: dict[str, list[tuple[float, float, float]]] = {
    "leaf greens": [
        *((18, -6, 8), (20, -8, 9), (22, -5, 8), (25, -7, 12), (29, -9, 16), (30, -6, 20), (32, -12, 20)),
        *((35, -14, 24), (38, -10, 28), (40, -16, 26)),
        *((20, -9, 11), (24, -11, 17), (27, -5, 12), (33, -10, 24), (37, -15, 20), (44, -12, 30)),
    ],
    "browns": [
        *((16, 7, 8), (18, 10, 11), (20, 6, 9), (22, 13, 15), (25, 10, 16), (28, 15, 20), (30, 8, 16), (33, 18, 24)),
        *((36, 12, 22), (40, 16, 28)),
        *((14, 5, 5), (21, 9, 13), (24, 17, 18), (27, 6, 12), (31, 20, 26), (42, 18, 30)),
    ],
    "blue-greens": [
        *((15, -6, -3), (18, -9, -4), (20, -12, -2), (22, -10, -8), (25, -15, -6), (28, -16, 2), (30, -14, -12)),
        *((33, -20, -4), (36, -18, -12), (40, -22, 0)),
        *((17, -7, -5), (23, -8, -3), (27, -14, -9), (35, -16, -6)),
    ],
    "violets": [
        *((15, 10, -12), (17, 14, -14), (19, 12, -20), (21, 18, -16), (24, 16, -22), (26, 22, -20), (29, 18, -26)),
        *((32, 24, -22), (35, 20, -18), (40, 24, -26)),
        *((16, 8, -9), (20, 10, -15), (25, 14, -14), (33, 16, -20)),
    ],
    "wine reds": [
        *((15, 16, 5), (17, 22, 6), (19, 20, 9), (21, 26, 8), (24, 30, 12), (26, 24, 8), (29, 34, 14), (32, 30, 10)),
        *((35, 38, 16), (38, 34, 10)),
        *((16, 17, 3), (20, 24, 10), (27, 32, 14), (33, 26, 7)),
    ],
    "near-blacks": [(11, 1, -3), (12, 2, 2), (13, -3, 2), (14, 0, -6), (15, 3, -4), (14, 4, 3)],
}
"""CIELAB, by kind."""


def nearest(tubes: Sequence[Tube]) -> dict[str, np.ndarray]:
    """CIEDE2000 of the first recipe offered for each colour, by kind."""
    terms = Terms(tuple(tubes))
    return {
        kind: np.array([nearest_one(np.array(c, float), terms) for c in colours]) for kind, colours in COLOURS.items()
    }


def nearest_one(colour: np.ndarray, terms: Terms) -> float:
    """CIEDE2000 of the first recipe offered for a colour Lab (3,)."""
    return recipes(colour, terms, Wishes(count=1))[1][0].de00
