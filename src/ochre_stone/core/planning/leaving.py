"""Fewer piles by leaving one out: which costs the picture least; and what is kept however few there are."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.document.document import Document
from ochre_stone.core.mixing.strings.targets import Pile
from ochre_stone.core.picture.picture import Picture
from ochre_stone.core.placing.figures import placing_figures
from ochre_stone.core.planning.blockin import LaidIn, laying_costs, looked_at
from ochre_stone.core.planning.standing import IMPORTANT

LEAST_LEFT = 9
"""Piles below which planning anew with a number does better than leaving out one more (measured on four pictures)."""
_SMALLEST = 0.002
_LOOKED_AT = 5.0
"""How much more a place counts where the painter looks."""


@dataclass(frozen=True)
class Missed:
    """A pile and what the picture loses without it."""

    pile: Pile
    loss: float
    """How much dearer its places become, of all the picture, over the root of their share: small things are not given
    up for being small. Heads count more, and places that are looked at."""
    off: float
    """CIEDE2000 of the block-in to the picture, the mean, as its places go to the next best pile; and before."""
    before: float

    @property
    def words(self) -> str:
        """ "quince's shadow is missed least: off by 6.4 without it, 6.2 with it"."""
        return f"{self.pile.name} is missed least: off by {self.off:.1f} without it, {self.before:.1f} with it"


def least_missed(picture: Picture, document: Document, laid: LaidIn) -> Missed | None:
    """The pile that the picture loses least with, of those that stand on notes none of which is kept; None where there
    is none, or fewer than would do.

    Distances count squared: with a milder measure small bright things are given up first, which no painter would do.
    """
    subject = {n.id: n.subject for n in document.notes}
    kept = {n.id for n in document.notes if n.pile == "keep"}
    may = [i for i, g in enumerate(laid.piles) if _may_go(g, kept)]
    if not may or len(laid.piles) < 2:
        return None
    ground, k = looked_at(picture, document).ground, len(laid.piles)
    cost, label = laying_costs(picture, document, laid).reshape(k, -1).T, laid.labels.ravel()
    weight = 1 + _LOOKED_AT * ground.kept.ravel()
    order = np.argsort(cost, axis=1)[:, :2]
    other = np.where(order[:, 0] == label, order[:, 1], order[:, 0])
    every = np.arange(len(label))
    rise = np.bincount(label, weight * np.maximum(cost[every, other] - cost[every, label], 0), k) / weight.sum()
    share = np.maximum(np.bincount(label, minlength=k) / len(label), _SMALLEST)
    things = [[subject.get(i, "") for p in g for i in p.target.notes] for g in laid.piles]
    matters = [max([IMPORTANT.get(s, 1.0) for s in own], default=1.0) for own in things]
    loss = rise / np.sqrt(share) * matters
    worst = min(may, key=lambda i: (loss[i], laid.piles[i][0].order))
    without = np.where(label == worst, other, label).astype(laid.labels.dtype).reshape(laid.labels.shape)
    off = placing_figures(ground, without, laid.colours).off
    return Missed(laid.piles[worst][0], float(loss[worst]), off, laid.figures.off)


def _may_go(group: Sequence[Pile], kept: Collection[str]) -> bool:
    notes = {i for p in group for i in p.target.notes}
    return bool(notes) and all(p.target.notes for p in group) and not notes & set(kept)


def with_wish(document: Document, pile: Pile, wish: str) -> Document:
    """The document with the notes of a pile kept ("keep"), left without one ("none"), or as the plan has it ("")."""
    mine = set(pile.target.notes)
    notes = tuple(n.model_copy(update={"pile": wish}) if n.id in mine else n for n in document.notes)
    return document.model_copy(update={"notes": notes})
