"""What the doses of a pile of the plan are called."""

from ochre_stone.core.document.document import Document
from ochre_stone.core.mixing.recipe.dose import Dose
from ochre_stone.core.mixing.recipe.recipe import TINT
from ochre_stone.core.mixing.strings.targets import Pile


def dose_name(document: Document, pile: Pile, dose: Dose, place: int | None = None) -> str:
    """What was taken up; ``place``: of one of the first mixing, which goes in as the recipe tells."""
    if dose.sole:
        return document.mixed.tube(dose.sole).short
    named = {i.id: i.name for i in pile.recipe.ingredients} | {b.id: b.name for b in pile.recipe.bases}
    if dose.source in named:
        return named[dose.source]
    if dose.source.startswith(TINT):
        return f"{document.mixed.tube(dose.source.removeprefix(TINT)).short} tint"
    if dose.source:
        return dose.source.replace("-", " ")
    planned = pile.recipe.ingredients
    return planned[place].name if place is not None and place < len(planned) else "another pile"
