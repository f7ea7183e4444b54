"""How a pile looks wet on the palette, where it is planned as it dries."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import Lab, as_lab
from ochre_stone.core.masses.tone import FINISHES
from ochre_stone.core.mixing.recipe.recipe import Recipe
from ochre_stone.core.paint.media import MEDIA, seen
from ochre_stone.core.paint.palettes import Palette
from ochre_stone.core.paint.predict import spectra
from ochre_stone.core.paint.tubes import Tube
from ochre_stone.core.project.document import Document, MixChoice

SEEN = 1.0
"""CIEDE2000 between wet and dry from which both are shown (seen side by side: common practice)."""
_USUAL = {"oil": "satin", "acrylic": "satin", "gouache": "matt", "watercolour": "matt"}


@dataclass(frozen=True)
class Drying:
    """A mixture wet and dry."""

    wet: Lab
    dry: Lab

    @property
    def differs(self) -> bool:
        """Whether it is seen."""
        return float(ciede2000(np.array(self.wet), np.array(self.dry))) >= SEEN

    @property
    def words(self) -> str:
        """What to mix to; "" where nothing is seen."""
        if not self.differs:
            return ""
        step = (self.wet[0] - self.dry[0]) / 10
        if abs(step) < 0.1:
            return "Wet it looks a little different from dry: mix to the wet one."
        return f"Wet it looks {abs(step):.1f} {'lighter' if step > 0 else 'darker'} than dry: mix to that."


def wet_piles(document: Document) -> dict[str, Lab]:
    """Colour of the wet pile, by its id, of those in which it is seen to differ from the dry one."""
    dried = {p.id: drying(document, p.recipe) for s in document.mixed.strings for p in s.piles}
    return {i: d.wet for i, d in dried.items() if d.differs}


def with_paint(document: Document, medium: str | None = None, finish: str | None = None) -> Document:
    """The document in another medium or finish. The range's black goes along where it stood at a finish's usual one.

    Raises ValidationError for one that is not known.
    """
    new = {"medium": medium, "finish": finish}
    mix = MixChoice.model_validate(document.mix.model_dump() | {k: v for k, v in new.items() if v is not None})
    before, after = (FINISHES[m.finish or _USUAL[m.chosen().medium]] for m in (document.mix, mix))
    chosen = document.masses
    if abs(chosen.range.black - before) < 0.02:
        chosen = chosen.model_copy(update={"range": chosen.range.model_copy(update={"black": round(after, 2)})})
    return document.model_copy(update={"mix": mix, "masses": chosen})


def medium_words(mix: MixChoice) -> str:
    """The picture's medium and finish, as "oil" or "acrylic, matt"."""
    name = MEDIA[mix.chosen().medium].name.lower()
    return f"{name}, {mix.finish}" if mix.finish else name


def drying(document: Document, recipe: Recipe) -> Drying:
    """A recipe of the document's strings in the picture's medium, wet beside dry (the recipe's own colour)."""
    return dried(document.mix.chosen(), document.mixed.tube, recipe)


def dried(chosen: Palette, tube: Callable[[str], Tube], recipe: Recipe) -> Drying:
    """A recipe wet beside dry, in the medium and finish of a palette; ``tube``: a tube by its id."""
    K, S = spectra([tube(i) for i, _ in recipe.shares], [c for _, c in recipe.shares])
    wet, dry = (np.array(seen(K, S, MEDIA[chosen.medium], s, finish=chosen.finish)) for s in ("wet", "dry"))
    return Drying(as_lab(np.array(recipe.lab) + wet - dry), recipe.lab)
