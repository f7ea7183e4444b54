"""One colour against another, in painters' words: lean, complement, warmer or cooler, and whether a border shows.

The words are common practice, no source; the two schools of warm and cool are those of docs/guide. Hue turns are on the
traditional wheel, chroma is Munsell's.
"""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.munsell import HUE_NAMES, hue_value_chroma
from ochre_stone.core.colour.reading import NEUTRAL, read
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.colour.wheel import PERCEPTUAL, WHEEL_STEPS, WheelName, turn

Warmth = Literal["leans-red", "near-yellow"]
WARMTHS: dict[Warmth, str] = {
    "leans-red": "ultramarine warm (leans red), cerulean cool",
    "near-yellow": "cobalt warm, ultramarine cool (leans away from yellow)",
}
WARMEST = 45.0
"""The warmest place of the traditional wheel, between red-orange and orange; nobody disputes it."""
# The coldest place in each school. In the first, blues get warmer toward violet: it is a blue that leans green. In the
# second, they get warmer toward green: it is a blue that leans violet.
_COLDEST: dict[Warmth, float] = {"leans-red": 225.0, "near-yellow": 258.0}
_WARM_POLES = (40.0, 78.0)
"""Hues that one painter or another holds for the warmest."""
_HALF_WARM = 3.0
"""Munsell chroma at which a colour counts for half as warm or cool as its hue."""
_FRACTIONS = ((0.09, ""), (0.21, "a little"), (0.29, "a quarter"), (0.42, "a third"), (0.51, "half way"))
LOST_BORDER = 1.5
"""CIEDE2000 below which a border between two flat colours that touch is hardly seen; below 1 it vanishes."""


def hue_phrase(lab: Lab, name: WheelName = "traditional") -> str:
    """Hue with its neighbour, e.g. "orange, a third toward red-orange"; "neutral" below chroma .75."""
    if read(lab).chroma < NEUTRAL:
        return "neutral"
    if name == "traditional":
        return _phrase(read(lab).hue_angle, 30.0, WHEEL_STEPS, 0.0)
    return _phrase(float(hue_value_chroma(np.array(lab))[0]) * 3.6, 36.0, PERCEPTUAL, 18.0)


def _phrase(angle: float, step: float, words: tuple[str, ...], first: float) -> str:
    place = (angle - first) / step
    nearest = round(place)
    off = place - nearest
    lean = next(word for limit, word in _FRACTIONS if abs(off) <= limit)
    word = words[nearest % len(words)]
    if not lean:
        return word
    return f"{word}, {lean} toward {words[(nearest + (1 if off > 0 else -1)) % len(words)]}"


def complement(lab: Lab, name: WheelName = "traditional") -> str:
    """The colour opposite on a wheel, in words; "" for a neutral."""
    if read(lab).chroma < NEUTRAL:
        return ""
    if name == "traditional":
        return _phrase(read(lab).hue_angle + 180, 30.0, WHEEL_STEPS, 0.0).split(",")[0]
    hue = (float(hue_value_chroma(np.array(lab))[0]) + 50) % 100
    return f"{PERCEPTUAL[int(hue // 10) % 10]} ({round(hue % 10 * 2) / 2:g}{HUE_NAMES[int(hue // 10) % 10]})"


def _primaries(lab: Lab) -> dict[str, float]:
    """How much red, yellow and blue a colour holds on the traditional wheel, by chroma."""
    r = read(lab)
    out = {}
    for word, place in (("red", 0.0), ("yellow", 120.0), ("blue", 240.0)):
        out[word] = r.chroma * max(0.0, 1 - abs(float(turn(place, r.hue_angle))) / 120)
    return out


def lean(lab: Lab, than: Lab) -> str:
    """ "more yellow, less blue" than another colour; "the same in hue" where nothing differs enough."""
    mine, other = _primaries(lab), _primaries(than)
    gaps = {w: mine[w] - other[w] for w in mine}
    more, less = max(gaps, key=lambda w: gaps[w]), min(gaps, key=lambda w: gaps[w])
    said = []
    if gaps[more] > 0.4:
        said.append(f"{'a little ' if gaps[more] < 1.2 else ''}more {more}")
    if gaps[less] < -0.4:
        said.append(f"{'a little ' if gaps[less] > -1.2 else ''}less {less}")
    return ", ".join(said) or "the same in hue"


def warmth(lab: Lab, school: Warmth = "leans-red") -> float:
    """How warm a colour is, -1 to 1: by its hue, less so the greyer it is.

    How much warmer one colour is than another, and the places of tubes on the palette, are told by it; which word is
    said where painters might dispute it, :func:`shift` knows. Common practice, no source: orange to red-orange is
    warmest, and yellow-green and red-violet are neither; a blue is coldest, and which of the blues is all that the
    schools differ in. A grey is neither; what goes greyer grows cooler if it was warm.
    """
    r = read(lab)
    onward, cold = (r.hue_angle - WARMEST) % 360, _COLDEST[school] - WARMEST
    if min(onward, 360 - onward) <= 90:
        place = 1 - min(onward, 360 - onward) / 90
    else:
        place = -(onward - 90) / (cold - 90) if onward <= cold else -(270 - onward) / (270 - cold)
    return place * r.chroma / (r.chroma + _HALF_WARM)


def warmer(lab: Lab, than: Lab, school: Warmth = "leans-red") -> str:
    """ "warmer", "a little cooler", "as warm" ... than another colour."""
    return warmer_by(warmth(lab, school) - warmth(than, school))


def warmer_by(gap: float) -> str:
    """A difference of :func:`warmth` in words."""
    if abs(gap) < 0.03:
        return "as warm"
    return f"{'much ' if abs(gap) > 0.5 else 'a little ' if abs(gap) < 0.12 else ''}{'warmer' if gap > 0 else 'cooler'}"


def _about(lab: Lab, pole: float) -> float:
    """How warm a colour is where ``pole`` is held for the warmest hue and its opposite for the coldest."""
    r = read(lab)
    return (1 - abs(float(turn(pole, r.hue_angle))) / 90) * r.chroma / (r.chroma + _HALF_WARM)


def shift(lab: Lab, than: Lab) -> str:
    """Which way a colour lies of another: "warmer" or "cooler" where all would say so, whether they hold red-orange for
    the warmest or yellow-orange; where they differ the lean, which nobody disputes: "redder", "yellower", "bluer" or
    "greener"."""
    gaps = [_about(lab, pole) - _about(than, pole) for pole in _WARM_POLES]
    if (gaps[0] > 0) == (gaps[1] > 0):
        return "warmer" if gaps[0] > 0 else "cooler"
    here = read(than).hue_angle % 360
    onward = float(turn(here, read(lab).hue_angle)) > 0
    back, on = ("redder", "yellower") if here < 120 else ("yellower", "bluer") if here < 200 else ("greener", "redder")
    return on if onward else back


@dataclass(frozen=True)
class Comparison:
    """Two colours side by side."""

    value_step: float
    """Munsell value of the second less that of the first."""
    hue_turn: float
    """Degrees on the traditional wheel from the first to the second, the shorter way; 0 where either is neutral."""
    chroma_ratio: float
    """Munsell chroma of the second over that of the first; 1 where both are neutral."""
    gap: float
    """CIEDE2000."""

    @property
    def border(self) -> str:
        """Whether the border would show where the two touch."""
        if self.gap < 1.0:
            return "the border vanishes"
        if self.gap < LOST_BORDER:
            return "the border is all but lost"
        if abs(self.value_step) < 0.35:
            return "equal value: the border is held by colour alone, and glows"
        if abs(self.value_step) < 1.0:
            return "a soft border"
        return "a firm border" if abs(self.value_step) < 2.5 else "a hard border"

    @property
    def turn_words(self) -> str:
        """The hue turn in steps of the twelve-step wheel."""
        steps = abs(self.hue_turn) / 30
        if steps < 0.15:
            return "same hue"
        if abs(self.hue_turn) > 150:
            return "opposite hues"
        return f"{steps:.1f} hue steps apart"

    @property
    def chroma_words(self) -> str:
        """The ratio of chromas."""
        ratio = self.chroma_ratio
        if 0.87 < ratio < 1.15:
            return "as strong"
        if not 0.05 < ratio < 20:
            return "far stronger" if ratio > 1 else "far greyer"
        return f"{ratio:.1f} times as strong" if ratio > 1 else f"{1 / ratio:.1f} times greyer"


def compare(first: Lab, second: Lab) -> Comparison:
    """How the second colour differs from the first."""
    a, b = read(first), read(second)
    neutral = a.chroma < NEUTRAL or b.chroma < NEUTRAL
    ratio = 1.0 if a.chroma < NEUTRAL and b.chroma < NEUTRAL else b.chroma / max(a.chroma, 0.1)
    return Comparison(
        b.value - a.value,
        0.0 if neutral else float(turn(a.hue_angle, b.hue_angle)),
        ratio,
        float(ciede2000(np.array(first), np.array(second))),
    )
