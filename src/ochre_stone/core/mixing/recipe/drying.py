"""How a recipe looks wet, where it is planned as it dries."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import Lab, as_lab
from ochre_stone.core.mixing.recipe.recipe import Recipe
from ochre_stone.core.paint.media import MEDIA, seen
from ochre_stone.core.paint.palettes import Palette
from ochre_stone.core.paint.predict import spectra
from ochre_stone.core.paint.tubes import Tube

DRYING_SEEN = 1.0
"""CIEDE2000 between wet and dry from which both are shown (seen side by side: common practice)."""
LITTLE = 0.1
"""Value steps, in tenths of L*, below which no lighter or darker is told."""
DULLER = 3.0
"""CIELAB chroma that a colour loses or gains in drying before that is told: about a step and a half of Munsell chroma
in a flesh (a judgement)."""


@dataclass(frozen=True)
class Drying:
    """A mixture wet and dry."""

    wet: Lab
    dry: Lab

    @property
    def differs(self) -> bool:
        """Whether it is seen."""
        return float(ciede2000(np.array(self.wet), np.array(self.dry))) >= DRYING_SEEN

    @property
    def words(self) -> str:
        """What to mix to; "" where nothing is seen."""
        if not self.differs:
            return ""
        step = (self.wet[0] - self.dry[0]) / 10
        stronger = float(np.hypot(*self.dry[1:]) - np.hypot(*self.wet[1:]))
        becomes = "duller" if stronger <= -DULLER else "stronger" if stronger >= DULLER else ""
        if abs(step) >= LITTLE:
            said = f"Wet it looks {abs(step):.1f} {'lighter' if step > 0 else 'darker'} than dry"
            return f"{said}, and it dries {becomes}: mix to that." if becomes else f"{said}: mix to that."
        if becomes:
            return f"It dries {becomes}, of about the same value: mix to the wet one."
        return "Wet it looks a little different from dry: mix to the wet one."


def dried(chosen: Palette, tube: Callable[[str], Tube], recipe: Recipe) -> Drying:
    """A recipe wet beside dry, in the medium and finish of a palette; ``tube``: a tube by its id."""
    K, S = spectra([tube(i) for i, _ in recipe.shares], [c for _, c in recipe.shares])
    wet, dry = (np.array(seen(K, S, MEDIA[chosen.medium], s, finish=chosen.finish)) for s in ("wet", "dry"))
    return Drying(as_lab(np.array(recipe.lab) + wet - dry), recipe.lab)
