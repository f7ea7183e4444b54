"""How the colours of a picture divide: dominant, supporting, accent; warm against cool; quiet greys; the loudest note.

Rules of proportion are common practice, no source; they are given as gentle advice with the reason, never as a verdict.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.reading import NEUTRAL, read
from ochre_stone.core.colour.relations import Warmth, warmth
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.colour.wheel import WheelName, turn, wheel

QUIET = 3.0
"""Munsell chroma up to which a colour is a quiet grey."""
_NEAR = 30.0  # degrees of the wheel within which hues are one voice
_WARM = 0.08
_FEW_QUIET, _MANY_QUIET = 0.15, 0.85
_EVEN = 0.1


@dataclass(frozen=True)
class Voice:
    """Notes of one hue that speak together."""

    role: str
    """dominant, supporting or accent."""
    word: str
    """The hue in words."""
    share: float
    """Share of the picture."""
    members: tuple[int, ...]
    """Indices of its notes."""


@dataclass(frozen=True)
class Proportions:
    """Shares are of the whole picture, 0..1, and add up to 1 with the neutrals."""

    voices: tuple[Voice, ...]
    """Largest first."""
    neutral: float
    """Share without a hue of its own."""
    warm: float
    cool: float
    quiet: float
    """Share of near-neutrals, quiet greys included."""
    loudest: int | None
    """Index of the note of the highest chroma; None where all are neutral."""
    advice: tuple[str, ...]


def proportions(
    lab: Sequence[Lab],
    share: Sequence[float],
    name: WheelName = "traditional",
    school: Warmth = "leans-red",
    in_focus: Sequence[bool | None] = (),
    names: Sequence[str] = (),
) -> Proportions:
    """Proportions of colours Lab (n) by share of the picture (n).

    ``in_focus`` (n): whether each lies in a focus area, None where it has no place; empty without any focus.
    ``names`` (n): how to call them in the advice.
    """
    total = sum(share)
    if not lab or total <= 0:
        return Proportions((), 0.0, 0.0, 0.0, 0.0, None, ())
    area = [s / total for s in share]
    seen = [read(c) for c in lab]
    hued = [i for i, r in enumerate(seen) if r.chroma >= NEUTRAL]
    voices = _voices(lab, area, hued, name)
    warms = [warmth(c, school) for c in lab]
    warm = sum(a for a, t in zip(area, warms, strict=True) if t > _WARM)
    cool = sum(a for a, t in zip(area, warms, strict=True) if t < -_WARM)
    quiet = sum(a for a, r in zip(area, seen, strict=True) if r.chroma <= QUIET)
    loudest = max(hued, key=lambda i: seen[i].chroma) if hued else None
    neutral = sum(area[i] for i in range(len(area)) if i not in hued)
    advice = _advice(voices, warm, cool, quiet, loudest, in_focus, names)
    return Proportions(voices, neutral, warm, cool, quiet, loudest, advice)


def _voices(lab: Sequence[Lab], area: Sequence[float], hued: list[int], name: WheelName) -> tuple[Voice, ...]:
    """Gather notes about the hue with the most area times chroma, then about the next, until none is left."""
    if not hued:
        return ()
    w = wheel(name)
    ab = np.array([lab[i][1:] for i in hued])
    angle = w.angle(np.degrees(np.arctan2(ab[:, 1], ab[:, 0])) % 360)
    weight = np.array([area[i] for i in hued]) * np.hypot(ab[:, 0], ab[:, 1])
    near = np.abs(turn(angle[:, None], angle[None])) <= _NEAR
    left, groups = np.ones(len(hued), bool), []
    while left.any():
        best = int(np.where(left, near @ (weight * left), -1.0).argmax())
        members = near[best] & left
        groups.append(([hued[i] for i in np.flatnonzero(members)], w.word(float(angle[best]))))
        left &= ~members
    groups.sort(key=lambda g: -sum(area[i] for i in g[0]))
    out = []
    for n, (members, word) in enumerate(groups):
        size = sum(area[i] for i in members)
        role = "dominant" if n == 0 else "supporting" if size >= 0.12 else "accent"
        out.append(Voice(role, word, size, tuple(members)))
    return tuple(out)


def _advice(
    voices: Sequence[Voice],
    warm: float,
    cool: float,
    quiet: float,
    loudest: int | None,
    in_focus: Sequence[bool | None],
    names: Sequence[str],
) -> tuple[str, ...]:
    said = []
    if len(voices) > 1 and voices[0].share - voices[1].share < _EVEN:
        said.append(
            f"{voices[0].word.capitalize()} and {voices[1].word} take nearly the same room: a picture holds together "
            "more easily where one hue leads."
        )
    if warm and cool and abs(warm - cool) < _EVEN:
        said.append("Warm and cool are nearly even: let one of them win, so that the other can answer it.")
    if quiet < _FEW_QUIET:
        said.append("Few quiet greys: strong notes have nothing to stand out against.")
    elif quiet > _MANY_QUIET and loudest is not None:
        said.append("Nearly all is quiet grey: a small note of stronger colour would wake it.")
    if voices and not any(v.role == "accent" for v in voices):
        said.append("No accent: a touch of another hue, small and strong, gives the eye a place to rest.")
    if loudest is not None and in_focus and in_focus[loudest] is False:
        called = f"“{names[loudest]}”" if names else "The loudest note"
        said.append(f"{called} is the loudest note and lies outside the focus: it may pull the eye away.")
    return tuple(said)
