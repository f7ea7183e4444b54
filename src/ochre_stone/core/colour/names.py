"""Names of colours in painters' words: regions of Munsell hue, value and chroma.

The base is the ISCC-NBS method of designating colors (Kelly and Judd, "The ISCC-NBS method of designating colors and a
dictionary of color names", NBS Circular 553, 1955): blocks of Munsell space with a modifier and a hue name. Each word
here stands for the blocks that ``resources/colour/names.json`` names beside it; the limits are from memory, good to
half a value step and a hue step, and what painters mean by olive, sand or rust is common practice, no source.
"""

import functools
import json
import math
from dataclasses import dataclass

from ochre_stone.resources import resource

GREY = 0.5
"""Munsell chroma below which a colour is a plain grey."""
NEAR_GREY = 1.2
"""Chroma below which a colour that no word fits is a grey that leans."""
# Munsell values below which a grey is called so, and a plain hue of no word's region.
_GREYS = ((1.8, "black"), (2.8, "charcoal"), (4.5, "dark grey"), (6.3, "middle grey"), (8.2, "light grey"),
          (9.0, "pale grey"), (99.0, "white"))  # fmt: skip
_VALUES = ((2.0, "very dark"), (4.0, "dark"), (6.8, ""), (8.6, "light"), (99.0, "very pale"))
_CHROMAS = ((2.4, "greyish"), (5.0, "dull"), (10.0, ""), (999.0, "strong"))
_QUIET = frozenset(("ivory", "cream", "sand", "beige", "taupe", "sage", "grey-blue", "slate blue", "powder blue",
                    "dusty rose", "dark green"))  # fmt: skip
"""Words that say themselves that a colour is quiet."""
_NO_LIMIT = 30.0
"""A region whose chroma ends here has no upper end."""


@dataclass(frozen=True)
class NameRegion:
    """What a word covers: hue 0..100 (may pass 100), value 0..10, chroma; and the blocks that it stands for."""

    word: str
    hue: tuple[float, float]
    value: tuple[float, float]
    chroma: tuple[float, float]
    block: str

    def off(self, hue: float, value: float, chroma: float) -> tuple[float, float, float]:
        """How far from the middle in half widths: hue, value, chroma (by its logarithm); 1 at the border."""
        turn = (hue - sum(self.hue) / 2 + 50) % 100 - 50
        low, high = (math.log(c + 0.5) for c in self.chroma)
        strong = (math.log(chroma + 0.5) - (low + high) / 2) / ((high - low) / 2)
        if self.chroma[1] >= _NO_LIMIT:
            strong = min(strong, 0.0)
        half = (self.value[1] - self.value[0]) / 2
        return abs(turn) / ((self.hue[1] - self.hue[0]) / 2), abs(value - sum(self.value) / 2) / half, abs(strong)


@functools.cache
def _table() -> tuple[tuple[NameRegion, ...], list[tuple[float, str]], list[tuple[float, str]]]:
    held = json.loads(resource("colour", "names.json").read_text(encoding="utf-8"))
    found = tuple(
        NameRegion(w["word"], tuple(w["hue"]), tuple(w["value"]), tuple(w["chroma"]), w["block"]) for w in held["words"]
    )
    return found, [(h, noun) for h, _, noun in held["hues"]], [(h, lean) for h, lean in held["greys"]]


def name_regions() -> tuple[NameRegion, ...]:
    """All words with what they cover."""
    return _table()[0]


@functools.lru_cache(maxsize=8192)
def colour_name(hue: float, value: float, chroma: float) -> str:
    """A colour in painters' words; ``hue`` as of Munsell, 0..100 with 5 = 5R and 15 = 5YR, value 0..10, chroma.

    The word whose region holds it and whose middle is nearest, with "light" or "dark" at the ends of what it covers and
    "greyish" or "strong" where it is so for that word; else a grey that leans, or value, chroma and plain hue.

    >>> colour_name(21.5, 3.0, 1.5), colour_name(12.0, 6.9, 4.0), colour_name(0.0, 5.0, 0.1)
    ('dark olive-brown', 'peach', 'middle grey')
    """
    if chroma < GREY:
        return _upto(_GREYS, value)
    words, hues, leans = _table()
    offs = {w: w.off(hue, value, chroma) for w in words}
    best = min(words, key=lambda w: (max(offs[w]) > 1, sum(o * o for o in offs[w])))
    if max(offs[best]) <= 1:
        return _of_word(best, value, chroma)
    if chroma < NEAR_GREY:
        return f"{_upto(leans, hue)} {'white' if value >= 8.8 else _upto(_GREYS, value)}"
    said = (_upto(_VALUES, value), _upto(_CHROMAS, chroma), _upto(hues, hue))
    return " ".join(w for w in said if w)


def _of_word(region: NameRegion, value: float, chroma: float) -> str:
    word = region.word
    if word.split()[0] in ("dark", "light", "pale"):
        return word
    said = []
    low, high = region.value
    wide = high - low
    if wide >= 1.4:
        at = (value - low) / wide
        if at > 1 - 0.5 / wide:
            said.append("light")
        elif (at < 0.75 / wide and value < 6.5) or (value < 3.2 and high > 4):
            said.append("dark")
    least, most = region.chroma
    strength = math.log((chroma + 0.5) / (least + 0.5)) / math.log((min(most, 14.0) + 0.5) / (least + 0.5))
    if strength < 0.15 and least < 4 and word not in _QUIET:
        said.append("greyish")
    elif strength > 1.0 and most < _NO_LIMIT:
        said.append("strong")
    return " ".join((*said, word))


def _upto(steps: "tuple[tuple[float, str], ...] | list[tuple[float, str]]", at: float) -> str:
    return next(word for top, word in steps if at <= top) if at <= steps[-1][0] else steps[-1][1]
