"""A pile described in words, as a colour and how unsure that is."""

from collections.abc import Sequence

import numpy as np

WORDS: dict[str, tuple[str, float]] = {
    "too light": ("L", 1.0), "too dark": ("L", -1.0), "too strong": ("C", 1.0), "too grey": ("C", -1.0),
    "too red": ("h", 25.0), "too yellow": ("h", 90.0), "too green": ("h", 165.0), "too blue": ("h", 265.0),
}  # fmt: skip
HOW_MUCH: dict[str, float] = {"a little": 3.0, "clearly": 7.0, "a lot": 14.0}
"""CIELAB units that the words stand for: a third, two thirds and one and a half of a value step (judgements)."""


def seen_as(target: Sequence[float], said: Sequence[tuple[str, str]]) -> tuple[tuple[float, float, float], float]:
    """Colour of a pile that was described against its ``target`` Lab in words, and how unsure that is (CIEDE2000).

    ``said``: pairs as ("too red", "a little"), keys of ``WORDS`` and ``HOW_MUCH``. Words for hue move the colour toward
    that hue; "too strong" and "too grey" along its own. Raises ValueError where nothing is said or a word is unknown.
    """
    if not said:
        raise ValueError("say at least one way in which the pile is off")
    L, a, b = (float(v) for v in target)
    chroma, hue = float(np.hypot(a, b)), float(np.degrees(np.arctan2(b, a)))
    largest = 0.0
    for what, how in said:
        if what not in WORDS or how not in HOW_MUCH:
            raise ValueError(f"'{what}, {how}' is not understood: say {', '.join(WORDS)}; {', '.join(HOW_MUCH)}")
        kind, way = WORDS[what]
        much = HOW_MUCH[how]
        largest = max(largest, much)
        if kind == "L":
            L += way * much
        elif kind == "C":
            more = max(-chroma, way * much)
            a, b = a + more * np.cos(np.radians(hue)), b + more * np.sin(np.radians(hue))
        else:
            a, b = a + much * np.cos(np.radians(way)), b + much * np.sin(np.radians(way))
    return (min(max(L, 0.0), 100.0), float(a), float(b)), 0.35 * largest + 1.0


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
