"""Colours as people type them."""

import numpy as np

from ochre_stone.core.colour.munsell import notation_to_lab
from ochre_stone.core.colour.spaces import Array, hex_to_lab
from ochre_stone.core.errors import OchreError


def parse_colour(text: str) -> Array:
    """Lab (3,) of "lab 62 14 22", "#c9a27e" or "munsell 5YR 6.5/4". Raises OchreError for anything else."""
    word = text.strip()
    try:
        if word.startswith("#"):
            return hex_to_lab(word)
        kind, _, rest = word.partition(" ")
        if kind.lower() == "munsell":
            return notation_to_lab(rest)
        if kind.lower() == "lab":
            lab = np.array([float(x) for x in rest.replace(",", " ").split()])
            if lab.shape == (3,) and np.isfinite(lab).all() and 0 <= lab[0] <= 100 and np.abs(lab[1:]).max() <= 200:
                return lab
            raise ValueError(f"'{text}': lab needs L* from 0 to 100, then a* and b*")
    except ValueError as error:
        message = str(error) if str(error).startswith("'") else f"'{text}' is not a colour"
        raise OchreError(f"{message}; write lab 62 14 22, #c9a27e or munsell 5YR 6.5/4.") from None
    raise OchreError(f"'{text}' is not a colour; write lab 62 14 22, #c9a27e or munsell 5YR 6.5/4.")
