"""What else would do for a pile that comes no nearer with what is at hand."""

from collections.abc import Sequence

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.mixing.correcting.belief import Belief
from ochre_stone.core.mixing.correcting.correct import ADDED_PARTS
from ochre_stone.core.mixing.recipe.dose import Dose, contents
from ochre_stone.core.paint.optics import layer_lab
from ochre_stone.core.paint.tubes import Tube


def better_tube(
    belief: Belief, pile: Sequence[Dose], seen: Sequence[float], target: Array, others: Sequence[Tube]
) -> tuple[Tube, float] | None:
    """Of tubes that are not on the palette, the one that brings a pile nearest to its target, alone or with the
    palette's white, and the CIEDE2000 that is left; None where there are none.

    ``seen``: Lab of the pile as it is; what the belief does not explain of it is carried on.
    """
    if not others:
        return None
    K, S = belief.spectra()
    c = np.zeros(len(belief.tubes))
    at = {t.id: i for i, t in enumerate(belief.tubes)}
    for tube_id, v in contents(pile).items():
        c[at[tube_id]] += v
    size = float(c.sum())
    rest = np.asarray(seen, dtype=float) - layer_lab(c @ K / size, c @ S / size, belief.surface)
    white = next((i for i, t in enumerate(belief.tubes) if t.is_white), None)
    levels = ADDED_PARTS[size >= ADDED_PARTS]
    much = np.stack(np.meshgrid(levels, levels if white is not None else levels[:1], indexing="ij"), -1).reshape(-1, 2)
    k = c @ K + (much[:, 1:] * K[white] if white is not None else 0.0)
    s = c @ S + (much[:, 1:] * S[white] if white is not None else 0.0)
    grown = (size + much.sum(axis=1))[:, None]
    best: tuple[Tube, float] | None = None
    for t in others:
        lab = layer_lab(k + much[:, :1] * t.K, s + much[:, :1] * t.S, belief.surface) + rest * (size / grown)
        off = float(ciede2000(lab, target).min())
        if best is None or off < best[1]:
            best = t, off
    return best
