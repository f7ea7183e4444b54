"""The place of a colour in the light: light, halftone, shadow, accent. Common practice, no source."""

from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.keys.things import Thing

ACCENT, HIGHLIGHT = 2.0, 9.2
FLAT_THINGS = ("wall", "ground", "water", "sky")
_HALFTONE = 0.8
_OWN = {"foliage": 3.0, "ground": 4.0}
"""Values above which dark stuff of one tone is lit: of the planes of a landscape trees are the darkest, then slopes and
the ground; their lights are below the light of the whole."""


def shadow_of(subject: str) -> str:
    """The shadow on a flat thing is cast by another; that on a round one is its own."""
    return "cast shadow" if subject in FLAT_THINGS else "core shadow"


def role_of(value: float, thing: Thing, whole: float) -> str:
    """Role of a colour of Munsell ``value`` in a thing; ``whole`` parts the picture's light from its dark.

    A dark shirt in the sun is darker than a white wall in the shade: where a thing has a light and a shadow of its
    own, they decide.
    """
    if thing.subject == "sky":
        return "light"
    if thing.parted:
        if value < min(ACCENT, thing.division - 1.2):
            return "dark accent"
        if value < thing.division:
            return shadow_of(thing.subject)
        if value < thing.division + _HALFTONE:
            return "halftone"
        return "highlight" if value > HIGHLIGHT else "light"
    middle = float(value_of_lightness(min(max(thing.look.lab[0], 0.0), 100.0)))
    if value < 1.3 and middle > ACCENT:
        return "dark accent"
    if (
        middle < whole - 1.0 and thing.subject not in _OWN
    ):  # a dark thing: what it shows is more likely its own colour than its shadow
        return "halftone" if middle < ACCENT else shadow_of(thing.subject)
    return "light" if value >= min(thing.division, _OWN.get(thing.subject, 10.0)) else shadow_of(thing.subject)
