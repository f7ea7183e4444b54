"""The picture's medium and finish, and its piles wet beside dry."""

from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.document.document import Document, MixChoice
from ochre_stone.core.masses.tone import DARKEST
from ochre_stone.core.mixing.recipe.drying import Drying, dried
from ochre_stone.core.mixing.recipe.recipe import Recipe
from ochre_stone.core.paint.media import MEDIA
from ochre_stone.core.paint.usual import FINISH_WORDS


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
    before, after = (DARKEST[m.finish or MEDIA[m.chosen().medium].finish] for m in (document.mix, mix))
    chosen = document.masses
    if abs(chosen.range.black - before) < 0.02:
        chosen = chosen.model_copy(update={"range": chosen.range.model_copy(update={"black": round(after, 2)})})
    return document.model_copy(update={"mix": mix, "masses": chosen})


def medium_words(mix: MixChoice) -> str:
    """The picture's medium and finish, as "oil" or "acrylic, matt"."""
    name = MEDIA[mix.chosen().medium].name.lower()
    return f"{name}, {FINISH_WORDS[mix.finish]}" if mix.finish else name


def drying(document: Document, recipe: Recipe) -> Drying:
    """A recipe of the document's strings in the picture's medium, wet beside dry (the recipe's own colour)."""
    return dried(document.mix.chosen(), document.mixed.tube, recipe)
