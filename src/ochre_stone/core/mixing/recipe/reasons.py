"""Say why: what each paint does in a mixture, computed by leaving it out."""

from collections.abc import Sequence

import numpy as np

from ochre_stone.core.advice.did import verbs, white_did
from ochre_stone.core.advice.frame import is_white
from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.relations import shift
from ochre_stone.core.colour.spaces import Array, as_lab, lch
from ochre_stone.core.mixing.recipe.nearness import NEAR, OUT, nearness
from ochre_stone.core.mixing.recipe.recipe import in_a_row
from ochre_stone.core.paint.optics import Surface, layer_lab

ReasonItem = tuple[str, tuple[Array, Array], float, bool]
"""Name, (K, S), parts, is a pile of the picture."""
_OLIVE, _QUIET = (85.0, 110.0), 16.0
"""CIELAB hue, and most chroma, of an olive that looks green by its neighbours only."""
_TOO = {"warmer": "too warm", "cooler": "too cool", "redder": "too red", "yellower": "too yellow", "bluer": "too blue",
        "greener": "too green"}  # fmt: skip


def by_neighbours(lab: Array) -> str:
    """What is to be said of a colour that the eye judges by its neighbours; "" of others."""
    _, C, h = (float(x) for x in lch(lab))
    quiet = _OLIVE[0] <= h <= _OLIVE[1] and C <= _QUIET
    return "olive, green beside warm colours" if quiet and "olive" in read(as_lab(lab)).name else ""


def miss(lab: Array, target: Array) -> str:
    """How a mixture misses its target, value first, e.g. "too dark and too grey"; "" when it does not."""
    L, C, h = (float(x) for x in lch(lab))
    L0, C0, h0 = (float(x) for x in lch(target))
    words = []
    if abs(L - L0) > 2:
        words.append("too light" if L > L0 else "too dark")
    if min(C, C0) > 5 and abs((h - h0 + 180) % 360 - 180) > 8:
        words.append(_TOO[shift(as_lab(lab), as_lab(target))])
    if abs(C - C0) > 4:
        words.append("too strong" if C > C0 else "too grey")
    return " and ".join(words)


def explain(
    items: Sequence[ReasonItem], lab: Array, target: Array, reachable: bool, palette_name: str, surface: Surface
) -> str:
    """One line of reason for a recipe."""
    total = sum(i[2] for i in items)
    K = np.array(sum(i[1][0] * i[2] for i in items)) / total
    S = np.array(sum(i[1][1] * i[2] for i in items)) / total
    base = max(items, key=lambda i: (i[3], i[2] * float(i[1][0].max() + 0.02)))
    clauses = []
    carries = f"mixed on from {base[0]}" if base[3] else f"{base[0]} carries the colour"
    for name, (k, s), parts, _ in items:
        white = is_white(k, s)
        if (name == base[0] and not white) or len(items) == 1:
            continue
        rest = total - parts
        without = layer_lab((K * total - k * parts) / rest, (S * total - s * parts) / rest, surface)
        does = in_a_row(white_did(without, lab)) if white else verbs(without, lab)[0]
        if name == base[0]:
            carries += f": it {does}"
        else:
            clauses.append(f"{'a touch of ' if parts == 0.25 else ''}{name} {does}")
    text = "; ".join([carries, *clauses]) if clauses else f"{base[0]} as it comes"
    if seen := by_neighbours(lab):
        text += f"; {seen}"
    off = miss(lab, target)
    found = nearness(as_lab(target), as_lab(lab))
    if not reachable and found.grade == NEAR:
        text = f"{found.words}: {text}"
    elif not reachable and found.grade == OUT:
        name = f"these{palette_name[5:]}" if palette_name.startswith("These ") else palette_name
        text = f"out of reach of {name}" + (f", the nearest is {off}: " if off else ": ") + text
    elif any(i[0].endswith(" tint") for i in items):
        text += "; the tint can be counted"
    elif off:
        text += f"; a little {off}"
    return text[0].upper() + text[1:] + "."
