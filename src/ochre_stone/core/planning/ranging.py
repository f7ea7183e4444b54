"""The range of values, proposed by itself: what is darker or lighter than paint is no failure of the palette."""

import numpy as np

from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.document.choices import RangeChoice
from ochre_stone.core.document.document import Document
from ochre_stone.core.planning.planning import palette_reach

_BEYOND, _INSIDE = 0.15, 0.1
"""Steps of value beyond which a note is out of the paint's range, and by which the darkest stays inside it: the very
darkest mixture has one hue only (judgement)."""


def with_proposed_range(document: Document) -> tuple[Document, str]:
    """The document with its range brought into the palette's, where notes lie beyond it and nothing was said of the
    range yet; and what is to be said of that, "" for nothing.

    The end that fits keeps its differences; the other gives way evenly, in its order (:class:`tone.Tone`).
    """
    if document.masses.range != RangeChoice() or not document.notes:
        return document, ""
    dark, light = palette_reach(document)
    values = np.asarray(value_of_lightness(np.clip([n.lab[0] for n in document.notes], 0, 100)))
    low, high = float(values.min()), float(values.max())
    too_dark, too_light = low < dark - _BEYOND, high > light + _BEYOND
    if not (too_dark or too_light):
        return document, ""
    keep = "middle" if too_dark and too_light else "lights" if too_dark else "darks"
    chosen = RangeChoice.model_validate(
        {
            "keep": keep,
            "black": round(dark + _INSIDE, 2),
            "white": round(min(light, 10.0), 2),
            "low": round(low, 2),
            "high": round(max(high, low), 2),
        }
    )
    what = "Darks and lights" if keep == "middle" else "Darks" if too_dark else "Lights"
    words = f"{what} beyond this paint are brought into its range, in their order: see Mass, Range."
    return document.model_copy(update={"masses": document.masses.model_copy(update={"range": chosen})}), words
