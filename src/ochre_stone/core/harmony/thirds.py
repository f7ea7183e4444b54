"""What two colours share: the primaries of the traditional wheel that both hold.

Two near-complements live together without mud where both contain a common third colour: red-orange and blue-green
both hold yellow (common practice, no source).
"""

from dataclasses import dataclass

from ochre_stone.core.colour.reading import NEUTRAL, read
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.colour.wheel import turn

PRIMARY_HUES = (("red", 0.0), ("yellow", 120.0), ("blue", 240.0))
HOLDS = 0.125
"""Part of a hue that a primary must make up: an eighth is half a step of the twelve."""
OPPOSITE = 110.0
"""Degrees apart from which two hues are as good as opposite."""


@dataclass(frozen=True)
class Shared:
    """What two colours have in common."""

    thirds: tuple[str, ...]
    """Primaries that both hold, the strongest first."""
    apart: float
    """Degrees between them on the traditional wheel; 0 where either is neutral."""

    @property
    def words(self) -> str:
        """In a sentence."""
        opposite = self.apart >= OPPOSITE
        if not self.thirds:
            return "share no primary" + (", and grey each other" if opposite else "")
        both = " and ".join(self.thirds)
        if opposite:
            return f"are opposites that both hold {both}, and live together without mud"
        return f"both hold {both}"


def parts(lab: Lab) -> dict[str, float]:
    """Parts of red, yellow and blue in a hue (they add up to 1); all 0 for a neutral."""
    r = read(lab)
    if r.chroma < NEUTRAL:
        return {word: 0.0 for word, _ in PRIMARY_HUES}
    return {word: max(0.0, 1 - abs(float(turn(place, r.hue_angle))) / 120) for word, place in PRIMARY_HUES}


def shared(first: Lab, second: Lab) -> Shared:
    """What two colours share."""
    a, b = parts(first), parts(second)
    common = {w: min(a[w], b[w]) for w in a}
    thirds = tuple(w for w in sorted(common, key=lambda w: -common[w]) if common[w] >= HOLDS)
    neutral = not any(a.values()) or not any(b.values())
    apart = 0.0 if neutral else abs(float(turn(read(first).hue_angle, read(second).hue_angle)))
    return Shared(thirds, apart)
