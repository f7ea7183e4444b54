"""Read a colour as a painter does: value first, then its name, then hue in words, then chroma."""

import functools
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.munsell import hue_value_chroma, notation_of
from ochre_stone.core.colour.names import colour_name
from ochre_stone.core.colour.spaces import as_lab, lab_to_hex, lch
from ochre_stone.core.colour.wheel import WHEEL_STEPS, wheel

NEUTRAL = 0.75
"""Munsell chroma below which hue is not spoken of."""
# Words for Munsell chroma; common practice, no source.
_CHROMA_WORDS = (
    (NEUTRAL, "neutral"),
    (2.0, "near-neutral"),
    (4.0, "greyish"),
    (7.0, "moderate"),
    (11.0, "strong"),
    (99.0, "very strong"),
)
_VALUE_WORDS = ((1.5, "very dark"), (3.25, "dark"), (4.5, "middle dark"), (5.5, "middle"), (7.0, "middle light"),
                (8.5, "light"), (99.0, "very light"))  # fmt: skip
_LEAN = 7.5  # degrees on the wheel before a lean is worth a word


def chroma_word(chroma: float) -> str:
    """Word for a Munsell chroma."""
    return next(word for limit, word in _CHROMA_WORDS if chroma < limit)


def value_word(value: float) -> str:
    """Word for a Munsell value."""
    return next(word for limit, word in _VALUE_WORDS if value < limit)


def hue_word(angle: float) -> str:
    """Traditional hue in words with its lean, e.g. "orange, leaning yellow-orange"; ``angle`` in degrees."""
    step = round(angle / 30) % 12
    off = (angle - 30 * step + 180) % 360 - 180
    if abs(off) < _LEAN:
        return WHEEL_STEPS[step]
    return f"{WHEEL_STEPS[step]}, leaning {WHEEL_STEPS[(step + (1 if off > 0 else -1)) % 12]}"


@dataclass(frozen=True)
class Reading:
    """What is said of a colour, everywhere in the program."""

    lab: tuple[float, float, float]
    srgb: str
    value: float
    """Munsell value 0..10."""
    munsell_hue: float
    """Munsell hue 0..100, 5 = 5R."""
    munsell: str
    chroma: float
    """Munsell chroma."""
    hue_angle: float
    """Degrees on the traditional wheel, 0 = red, 120 = yellow, 240 = blue."""
    hue: str
    """Traditional hue in words, "neutral" below chroma .75."""
    chroma_word: str
    extrapolated: bool
    """True where the Munsell figures lie outside the renotation data."""

    @property
    def name(self) -> str:
        """A name in painters' words, e.g. "olive-brown" or "light peach"; see :mod:`ochre_stone.core.colour.names`."""
        return colour_name(self.munsell_hue, self.value, self.chroma)

    @property
    def plain_name(self) -> str:
        """Value, chroma and hue in words, e.g. "light dull orange"."""
        if self.hue == "neutral":
            return f"{value_word(self.value)} grey"
        return f"{value_word(self.value)} {self.chroma_word} {self.hue.split(',')[0]}"


def read(lab: npt.ArrayLike) -> Reading:
    """Reading of one Lab colour (3,), D65. Readings are remembered: a window asks for the same ones at every turn."""
    L, a, b = np.asarray(lab, dtype=float).reshape(3).tolist()
    return _read(L, a, b)


@functools.lru_cache(maxsize=4096)
def _read(L: float, a: float, b: float) -> Reading:
    lab = np.array([L, a, b])
    turn, value, chroma, extrapolated = hue_value_chroma(lab)
    angle = float(wheel("traditional").angle(float(lch(lab)[2])))
    word = chroma_word(float(chroma))
    return Reading(
        lab=as_lab(lab),
        srgb=lab_to_hex(lab),
        value=float(value),
        munsell_hue=float(turn),
        munsell=notation_of(float(turn), float(value), float(chroma)),
        chroma=float(chroma),
        hue_angle=angle,
        hue="neutral" if word == "neutral" else hue_word(angle),
        chroma_word=word,
        extrapolated=bool(extrapolated),
    )
