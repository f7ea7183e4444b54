"""How long mixing takes: by piles, base piles and the things that go into them."""

from collections.abc import Sequence
from dataclasses import dataclass

from ochre_stone.core.mixing.strings.targets import MixString

_SETTING_UP, _PER_THING = 0.8, 0.5
"""Minutes that a pile takes to begin, and for each thing that goes into it, before anyone has measured it (common
practice, no source)."""


def pile_minutes(things: int) -> float:
    """Minutes that a pile of so many things is expected to take, before anyone has measured it.

    >>> pile_minutes(4)
    2.8
    """
    return _SETTING_UP + _PER_THING * things


@dataclass(frozen=True)
class MixingTime:
    """What a plan asks of the hand."""

    minutes: float
    piles: int
    bases: int
    """Tints, neutrals and parents, each a pile to be made first."""
    doses: int
    """Things that are put together in all of them."""
    own_pace: bool = False
    """Whether the minutes are those of the painter's log."""

    @property
    def words(self) -> str:
        """ "About 45 minutes of mixing, without corrections: 18 piles and 3 made before them, 75 doses."."""
        before = f" and {self.bases} made before them" if self.bases else ""
        how = "at the pace of your log" if self.own_pace else "without corrections"
        about = max(5, 5 * round(self.minutes / 5))
        return f"About {about} minutes of mixing, {how}: {self.piles} piles{before}, {self.doses} doses."


def mixing_time(strings: Sequence[MixString], pace: float | None = None) -> MixingTime:
    """Of the whole plan; ``pace``: how many times the expected minutes the painter takes, by the log."""
    piles = [len(p.recipe.ingredients) for s in strings for p in s.piles]
    bases = [len(b.parts) for b in {b.id: b for s in strings for b in s.bases}.values()]
    minutes = sum(pile_minutes(n) for n in (*piles, *bases)) * (pace or 1.0)
    return MixingTime(minutes, len(piles), len(bases), sum(piles) + sum(bases), pace is not None)
