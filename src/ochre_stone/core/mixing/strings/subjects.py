"""What is known of skin, foliage, sky and shadows: suggestions with a reason, each of which can be switched off.

A rule never moves a pile that a note stands for: the notes were measured. It shapes what lies between the notes and
beyond them. All rules are common practice, no source; the figures are judgements.
"""

from collections.abc import Collection, Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.spaces import Lab


@dataclass(frozen=True)
class Rule:
    """One suggestion."""

    id: str
    subject: str
    title: str
    why: str
    on: bool = True
    """Whether it is taken unless the painter says otherwise."""
    adds: bool = False
    """Whether it plans a string of its own rather than shaping one."""


RULES: tuple[Rule, ...] = (
    Rule(
        "ends-quiet", "", "Ends quieter than the middle",
        "The middle carries the colour; light and dark ends are more neutral.",
    ),
    Rule(
        "skin-highlight", "skin", "Highlight cooler, without blue",
        "White alone is cool enough: the highlight loses yellow first, and needs no blue.",
    ),
    Rule(
        "skin-halftone", "skin", "Halftone greyer",
        "Where light turns to shadow, skin goes greyer and a little greenish.",
    ),
    Rule(
        "skin-shadow", "skin", "Shadow warm where skin faces skin",
        "A shadow takes colour from what it faces: skin facing skin goes redder.",
    ),
    Rule(
        "skin-flush", "skin", "Lips and cheeks redder",
        "Blood shows there: the same values, redder, as a short string beside the skin.",
        on=False, adds=True,
    ),
    Rule(
        "foliage-dull", "foliage", "Dull the strong green",
        "Greens from the tube, or from a strong yellow and blue, are far too strong for nature.",
    ),
    Rule(
        "foliage-light", "foliage", "Light leaves yellower",
        "Sun on leaves is warm: beyond the notes the lights turn yellower.",
    ),
    Rule(
        "foliage-warm", "foliage", "Leaf shadows toward red-brown",
        "Red is the complement of green: the darks sink toward brown.",
    ),
    Rule(
        "foliage-cool", "foliage", "Leaf shadows toward blue",
        "Under an open sky the darks take its blue.",
        on=False,
    ),
    Rule(
        "foliage-through", "foliage", "Leaves with the sun through them",
        "Light that comes through a leaf is yellower and stronger than light that falls on it.",
        on=False, adds=True,
    ),
    Rule(
        "sky-clouds", "sky", "Clouds, lit and shaded",
        "A cloud is white paper in the same light: lit by the sun, shaded by the sky.",
        on=False, adds=True,
    ),
    Rule(
        "shadows-form", "shadows", "Form shadows worked out",
        "For things noted in the light alone: their colour in the light that reaches the shadows of the "
        "other notes, and what the ground throws up.",
        on=False, adds=True,
    ),
    Rule(
        "shadows-cast", "shadows", "Cast shadows worked out",
        "For things noted in the light alone: their colour in the light of the sky alone; some of the "
        "thing's own colour stays.",
        on=False, adds=True,
    ),
)  # fmt: skip
RULE_BY_ID = {r.id: r for r in RULES}


def turned(lab: Lab, toward: float, degrees: float) -> Lab:
    """The colour turned on the CIELAB hue circle toward hue ``toward``, at most so far and never past it."""
    chroma, hue = float(np.hypot(lab[1], lab[2])), float(np.degrees(np.arctan2(lab[2], lab[1])))
    way = (toward - hue + 180) % 360 - 180
    new = np.radians(hue + float(np.clip(way, -degrees, degrees)))
    return lab[0], float(chroma * np.cos(new)), float(chroma * np.sin(new))


def duller(lab: Lab, factor: float) -> Lab:
    """The colour with its chroma times ``factor``."""
    return lab[0], lab[1] * factor, lab[2] * factor


@dataclass(frozen=True)
class Span:
    """Values (Munsell) that the notes of a string reach, and where its light ends."""

    low: float
    high: float
    turn: float | None
    """Between the darkest note in the light and the lightest in shadow; None without both."""


def span(values: Sequence[float], lit: Sequence[bool]) -> Span:
    """Of notes with these values and families."""
    light = [v for v, on in zip(values, lit, strict=True) if on]
    dark = [v for v, on in zip(values, lit, strict=True) if not on]
    turn = (min(light) + max(dark)) / 2 if light and dark and min(light) > max(dark) else None
    return Span(min(values), max(values), turn)


def shape(subject: str, lab: Lab, value: float, where: Span, active: Collection[str]) -> tuple[Lab, list[Rule]]:
    """A target that no note stands for, as the ``active`` rules would have it, and the rules that moved it.

    ``value``: Munsell value of the target; ``where``: what the notes of the string reach.
    """
    above, below = max(value - where.high, 0.0), max(where.low - value, 0.0)
    said: list[Rule] = []

    def on(rule_id: str) -> bool:
        rule = RULE_BY_ID[rule_id]
        if rule.subject not in ("", subject) or rule_id not in active:
            return False
        said.append(rule)
        return True

    if subject == "skin":
        if above and on("skin-highlight"):
            lab = lab[0], lab[1] * 0.88**above, max(lab[2] * 0.78**above, 0.0)
        turning = where.turn is not None and abs(value - where.turn) <= 0.75 and not above and not below
        if turning and on("skin-halftone"):
            lab = turned(duller(lab, 0.85), 110.0, 6.0)
        if below and on("skin-shadow"):
            lab = turned(lab, 40.0, 10.0 * below)
    elif subject == "foliage":
        chroma, hue = float(np.hypot(lab[1], lab[2])), float(np.degrees(np.arctan2(lab[2], lab[1])) % 360)
        if chroma > 32 and 95 < hue < 185 and on("foliage-dull"):
            lab = duller(lab, max(0.75, 32 / chroma))
        if above and on("foliage-light"):
            lab = turned(lab, 98.0, 8.0 * above)
        if below:
            if on("foliage-cool"):
                lab = turned(lab, 230.0, 18.0 * below)
            elif on("foliage-warm"):
                lab = turned(lab, 60.0, 14.0 * below)
    return lab, said


def flush(middle: Lab) -> list[Lab]:
    """Cheek and lip for a skin whose middle is ``middle``: at its value and a step (of ten) darker, redder."""
    cheek = turned(middle, 25.0, 14.0)
    lip = turned(duller((middle[0] - 9.0, middle[1], middle[2]), 1.2), 22.0, 24.0)
    return [lip, duller(cheek, 1.1)]


def through_leaf(lit: Lab) -> list[Lab]:
    """Two colours of leaves with the sun through them, for leaves that are ``lit`` from the front: darker overlapped
    leaves first."""
    one = turned(duller((min(lit[0] + 5.0, 92.0), lit[1], lit[2]), 1.35), 105.0, 8.0)
    two = turned(duller((max(lit[0] - 7.0, 12.0), lit[1], lit[2]), 1.25), 110.0, 8.0)
    return [two, one]
