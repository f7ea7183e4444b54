"""What would bring a pile on the bench nearer to a target: the correcting advice, for paint that is known."""

from collections.abc import Sequence

import numpy as np

from ochre_stone.core.mixing.bench.bench import Bench, BenchPile, Supply
from ochre_stone.core.mixing.correcting.belief import Belief
from ochre_stone.core.mixing.correcting.correct import AtHand, Correction, Handling, correct
from ochre_stone.core.mixing.recipe.dose import shrunk
from ochre_stone.core.mixing.recipe.hand import Hand
from ochre_stone.core.paint.optics import Surface
from ochre_stone.core.paint.tubes import Tube

SEEN_NOISE = 0.3
"""Noise of looking at a pile on the bench, CIEDE2000: its colour is worked out, the painter compares it by eye."""
MOST_AT_HAND = 24


def nearer(
    pile: BenchPile,
    target: Sequence[float],
    supplies: Sequence[Supply],
    tubes: Sequence[Tube],
    surface: Surface,
    part_ml: float,
    hand: Hand | None = None,
    order: str = "value",
    bench: Bench | None = None,
) -> Correction:
    """The smallest addition that brings ``pile`` nearer to ``target`` (Lab), in parts of ``part_ml``.

    ``supplies``: what may be added, of which those that hold ``tubes`` alone count; ``bench``: for what they have
    left. Raises ValueError for a pile without paint, with a tube that is not among ``tubes``, or with nothing at hand.
    """
    ids = {t.id for t in tubes}
    if any(i not in ids for i in pile.amounts):
        raise ValueError("this pile holds tubes that are not on the palette: choose the palette it was mixed with")
    doses = [d for d in shrunk(pile.doses, 1 / part_ml) if d.volume > 0]
    at_hand = [
        AtHand(s.id, s.name, s.shares, most=_left(bench, s) / part_ml, is_pile=s.kind != "tube")
        for s in supplies
        if all(i in ids for i, _ in s.shares) and _left(bench, s) > 0
    ][:MOST_AT_HAND]
    if not at_hand:
        raise ValueError("there is nothing at hand to add: choose a palette, or leftovers that are not used up")
    n = Belief.prior(tubes, surface)
    known = Belief(n.tubes, n.figures, np.zeros_like(n.cov), surface, (), n.values, np.zeros_like(n.spread))
    planned = max(pile.ml / part_ml, 8.0)
    handling = Handling(planned, hand or Hand(), part_ml, order, noise=SEEN_NOISE)
    return correct(known, doses, target, at_hand, handling)


def _left(bench: Bench | None, supply: Supply) -> float:
    return supply.ml if bench is None else bench.left(supply)
