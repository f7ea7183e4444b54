"""A pile described in words, as a colour and how unsure that is."""

from collections.abc import Sequence

import numpy as np

WORDS: dict[str, tuple[str, float]] = {
    "too light": ("L", 1.0), "too dark": ("L", -1.0), "too strong": ("C", 1.0), "too grey": ("C", -1.0),
    "too red": ("h", 25.0), "too orange": ("h", 58.0), "too yellow": ("h", 90.0), "too green": ("h", 165.0),
    "too blue": ("h", 265.0), "too purple": ("h", 315.0), "too warm": ("w", 58.0), "too cool": ("w", 238.0),
    "too chalky": ("M", 1.0), "too muddy": ("M", -1.0),
}  # fmt: skip
"""Each word with its kind and its way: of lightness, of chroma, toward a hue (degrees of CIELAB), warm or cool, and of
milk or mud: chalky is too light, too grey and too cool at once, as white makes it; muddy too dark and too grey."""
HOW_MUCH: dict[str, float] = {"a little": 3.0, "clearly": 7.0, "a lot": 14.0}
"""Units that the words stand for, CIELAB's of a grey: a third, two thirds and one and a half of a value step. Of a
strong colour as much more as CIEDE2000 lets pass there: clearly too orange is seen on an orange too (judgements)."""
_PER_CHROMA, _PER_HUE = 0.045, 0.015
"""Growth of a just seen difference with CIELAB chroma, along it and across it: S_C and S_H of CIE 142-2001."""
_COOL = 238.0
_ROUGH, _LEAST = 0.25, 0.75
"""How unsure words are: a share of what they say, and as much of whatever is said (judgements)."""


def excludes(word: str, other: str) -> bool:
    """Whether of two words only one is said: opposites, and of hues one."""
    return word != other and WORDS[word][0] == WORDS[other][0]


def seen_as(target: Sequence[float], said: Sequence[tuple[str, str]]) -> tuple[tuple[float, float, float], float]:
    """Colour of a pile that was described against its ``target`` Lab in words, and how unsure that is (CIEDE2000).

    ``said``: pairs as ("too red", "a little"), keys of ``WORDS`` and ``HOW_MUCH``. Words for hue move the colour toward
    that hue; "too strong" and "too grey" along its own. Raises ValueError where nothing is said or a word is unknown.
    """
    if not said:
        raise ValueError("say at least one way in which the pile is off")
    L, a, b = (float(v) for v in target)
    largest = 0.0
    for what, how in said:
        if what not in WORDS or how not in HOW_MUCH:
            raise ValueError(f"'{what}, {how}' is not understood: say {', '.join(WORDS)}; {', '.join(HOW_MUCH)}")
        much = HOW_MUCH[how]
        largest = max(largest, much)
        dL, da, db = _moved(WORDS[what], much, a, b)
        L, a, b = L + dL, a + da, b + db
    return (min(max(L, 0.0), 100.0), float(a), float(b)), _ROUGH * largest + _LEAST


def _moved(word: tuple[str, float], much: float, a: float, b: float) -> tuple[float, float, float]:
    """How a word moves a colour."""
    kind, way = word
    chroma = float(np.hypot(a, b))
    along = much * (1 + _PER_CHROMA * chroma)
    if kind == "L":
        return way * much, 0.0, 0.0
    if kind in ("h", "w"):
        turn = np.radians(way) - np.arctan2(b, a)
        S = np.hypot((1 + _PER_CHROMA * chroma) * np.cos(turn), (1 + _PER_HUE * chroma) * np.sin(turn))
        return 0.0, *_toward(way, much * float(S))
    if kind == "C":
        return 0.0, *_along(a, b, way * along)
    grey = _along(a, b, -0.6 * along)
    if way < 0:
        return -0.6 * much, *grey
    cool = _toward(_COOL, 0.4 * much)
    return 0.6 * much, grey[0] + cool[0], grey[1] + cool[1]


def _toward(hue: float, much: float) -> tuple[float, float]:
    return much * float(np.cos(np.radians(hue))), much * float(np.sin(np.radians(hue)))


def _along(a: float, b: float, more: float) -> tuple[float, float]:
    """A change of chroma along the colour's own hue, at most down to grey."""
    chroma = float(np.hypot(a, b))
    if chroma < 1e-6:
        return (more, 0.0) if more > 0 else (0.0, 0.0)
    return max(more, -chroma) * a / chroma, max(more, -chroma) * b / chroma


class Saying:
    """What is being said of a pile: each word again says more, after "a lot" it is taken back."""

    def __init__(self) -> None:
        self.said: dict[str, str] = {}

    def press(self, word: str) -> None:
        """A word once more; what it excludes is not said any longer."""
        degrees = list(HOW_MUCH)
        now = self.said.get(word)
        self.said = {w: how for w, how in self.said.items() if not excludes(word, w)}
        if now is None:
            self.said[word] = degrees[0]
        elif now == degrees[-1]:
            del self.said[word]
        else:
            self.said[word] = degrees[degrees.index(now) + 1]

    def degree(self, word: str) -> int:
        """0 for a word that is not said, 1 to 3 for how much."""
        how = self.said.get(word)
        return 0 if how is None else list(HOW_MUCH).index(how) + 1

    def pairs(self) -> list[tuple[str, str]]:
        """What is said, as :func:`seen_as` takes it."""
        return list(self.said.items())

    def clear(self) -> None:
        """Say nothing."""
        self.said = {}


def said_words(said: Sequence[tuple[str, str]]) -> str:
    """What was said, as "a little too red, clearly too light"."""
    return ", ".join(f"{how} {what}" for what, how in said)


def said_of(text: str) -> list[tuple[str, str]]:
    """What :func:`said_words` wrote, the loudest first; empty for another text.

    >>> said_of("a little too red, clearly too light")
    [('too light', 'clearly'), ('too red', 'a little')]
    """
    out = []
    for piece in text.split(", "):
        for how in HOW_MUCH:
            what = piece.removeprefix(f"{how} ")
            if piece.startswith(how) and what in WORDS:
                out.append((what, how))
    return sorted(out, key=lambda pair: -HOW_MUCH[pair[1]])


_EIGHTHS = ("", "⅛", "¼", "⅜", "½", "⅝", "¾", "⅞")


def volume_words(parts: float) -> str:
    """An addition as it is measured, in eighths of a part."""
    eighths = round(parts * 8)
    whole, rest = divmod(eighths, 8)
    if eighths <= 1:
        return "half a touch"
    if eighths == 2:
        return "a touch"
    return f"{whole or ''}{_EIGHTHS[rest]}"


def addition_words(parts: float, name: str) -> str:
    """An addition with its name: "a touch of black", "1½ ochre"."""
    words = volume_words(parts)
    return f"{words} of {name}" if "touch" in words or name[-1:].isdigit() else f"{words} {name}"
