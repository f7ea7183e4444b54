"""How a block-in stands to its picture, in figures and in words."""

from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.masses.shapes import Labels, regions
from ochre_stone.core.placing.laying_ground import PlacingGround

_MANY = 100_000
"""Pixels from which every second row and column is measured."""


@dataclass(frozen=True)
class PlacingFigures:
    """How far it is off, and how clean."""

    piles: int
    """That have a place."""
    shapes: int
    off: float
    """CIEDE2000 to the picture with its detail melted, the mean."""
    worst: float
    """The same, of one spot in twenty."""
    border: float
    """Length of all borders, in sides of the picture."""
    values: float
    """Correlation of its lightness with the picture's; 1 where either has but one."""

    @property
    def words(self) -> str:
        """ "15 piles, 104 shapes; off by 6, one spot in twenty by 14"."""
        many = f"{self.piles} pile{'s' * (self.piles != 1)}, {self.shapes} shape{'s' * (self.shapes != 1)}"
        return f"{many}; off by {self.off:.0f}, one spot in twenty by {self.worst:.0f}"


def placing_figures(ground: PlacingGround, labels: Labels, colours: Array) -> PlacingFigures:
    """Figures of ``labels`` (h, w) in ``colours`` CIELAB (k, 3)."""
    step = 2 if labels.size > _MANY else 1  # a quarter of the pixels tell the same
    melted, flat = ground.melted[::step, ::step], np.asarray(colours, dtype=float)[labels[::step, ::step]]
    far = np.asarray(ciede2000(melted, flat))
    seen, laid = melted[..., 0].ravel(), flat[..., 0].ravel()
    even = min(float(np.std(seen)), float(np.std(laid))) < 1e-6
    edges = int((labels[:, 1:] != labels[:, :-1]).sum() + (labels[1:] != labels[:-1]).sum())
    return PlacingFigures(
        piles=len(np.unique(labels)),
        shapes=len(regions(labels, len(colours))[1]),
        off=float(far.mean()),
        worst=float(np.percentile(far, 95)),
        border=edges / ground.side,
        values=1.0 if even else float(np.corrcoef(seen, laid)[0, 1]),
    )
