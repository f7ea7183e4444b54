"""Which colours a painter would blend into one another: those of one thing, or of one family of hue.

Common practice, no source: between water and rock, or a leaf and a gap of sky, nothing is mixed; the brush sets one
beside the other. The limits are judgements.
"""

import numpy as np

from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import Lab

_TELLS, _COLOURED = 6.0, 10.0
"""Chroma (CIELAB) from which a colour has a hue that is seen, and from which it is no grey any more."""
_ONE_THING = 45.0, 22.0
_ANY = 35.0, 15.0
"""Degrees of hue (CIELAB) that two colours may differ by, and how much chroma a grey may gain: in one thing, in a row
of different ones."""
FAMILIES = (
    (9.0, "reds"), (20.0, "oranges"), (30.0, "yellows"), (50.0, "greens"), (62.0, "blue-greens"), (79.0, "blues"),
    (90.0, "violets"), (97.0, "pinks"), (100.1, "reds"),
)  # fmt: skip
"""Where each family of hue ends (Munsell hue 0 to 100, 5 = 5R), and what painters call it."""
_GREY = 1.5
_EARTH = 4.7, 6.5
"""Munsell chroma below which a colour is a grey; value and chroma below which an orange is a brown, a yellow an
olive."""


FAMILY_NAMES = ("reds", "pinks", "oranges", "browns", "yellows", "olives", "greens", "blue-greens", "blues", "violets",
                "greys")  # fmt: skip
"""All families, in their order."""


def kindred(one: Lab, other: Lab, one_thing: bool = False) -> bool:
    """Whether in-betweens may be set between two colours (Lab). ``one_thing``: both are of it, so that it may lose its
    colour toward its lights and darks.

    >>> kindred((40, 10, 30), (70, 12, 40)), kindred((45, -25, -10), (50, 20, 30)), kindred((20, 2, 2), (50, 0, -28))
    (True, False, False)
    """
    hue, chroma = _ONE_THING if one_thing else _ANY
    c0, c1 = (float(np.hypot(c[1], c[2])) for c in (one, other))
    if min(c0, c1) < _COLOURED and abs(c0 - c1) > chroma:
        return False
    if min(c0, c1) < _TELLS:
        return True
    turn = np.degrees(np.arctan2(one[2], one[1]) - np.arctan2(other[2], other[1]))
    return bool(abs((turn + 180) % 360 - 180) <= hue)


def family(lab: Lab) -> str:
    """The family that a colour (Lab) belongs to in a painter's words: greys, browns, olives, or one of FAMILIES.

    >>> family((60, 2, 3)), family((30, 12, 22)), family((80, 5, 75)), family((40, 15, -40))
    ('greys', 'browns', 'yellows', 'blues')
    """
    seen = read(lab)
    if seen.chroma < _GREY:
        return "greys"
    named = next(name for end, name in FAMILIES if seen.munsell_hue < end)
    if seen.value < _EARTH[0] and seen.chroma < _EARTH[1]:
        return {"oranges": "browns", "yellows": "olives"}.get(named, named)
    return named
