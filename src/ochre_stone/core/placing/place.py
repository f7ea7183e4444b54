"""Each place gets its pile, in few clean shapes."""

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.later import later
from ochre_stone.core.masses.shapes import Labels, remove_rims, smooth_edges
from ochre_stone.core.picture.picture import Floats, Mask
from ochre_stone.core.placing.costs import place_costs
from ochre_stone.core.placing.laying_ground import PlacingGround
from ochre_stone.core.placing.merging import DETAIL, as_labels, joined_parts, part_graph

cv2 = later("cv2")

_PER_BORDER = 0.8
"""Squared CIEDE2000 that a pixel of border costs, for a pixel of the picture's side (a judgement: fewer and larger
shapes than a picture has, more than its masses)."""
_ROUNDS = 2
_VOTES = np.array([[0.35, 0.5, 0.35], [0.5, 0.0, 0.5], [0.35, 0.5, 0.35]], np.float32)
_SIMPLEST, _FINEST = 0.014, 0.002
"""Blur of the outlines, in sides of the picture, where they are as simple and as fine as can be."""
_RIM = 0.004
_LOOKED_AT = 0.4


def placed(
    ground: PlacingGround,
    colours: Array,
    at_home: Mask,
    bands: npt.ArrayLike,
    outline: float = 0.2,
    smallest: float = 0.05,
) -> Labels:
    """Index of the pile (h, w) that each place gets, the same for the same input.

    ``colours`` (k, 3): CIELAB of the mixtures, dark to light, at most 255; ``at_home`` (things, k) and ``bands``
    (masses, 2) as of :func:`costs.place_costs`; ``outline`` 0 fine .. 1 simple; ``smallest``: per cent of the picture
    below which a shape joins another, an eighth of it where the painter looks. Raises ValueError without a pile.
    """
    if not 0 < len(colours) < 256:
        raise ValueError(f"{len(colours)} piles: a picture is laid in with 1 to 255")
    k = len(colours)
    costs = place_costs(ground, np.asarray(colours, dtype=float), at_home, bands)
    per_border, least = _PER_BORDER * ground.side, smallest / 100 * ground.thing.size
    region, graph = part_graph(ground, costs, costs.argmin(axis=0).astype(np.uint8))
    labels = _polished(as_labels(region, joined_parts(graph, per_border, least)), costs, ground, per_border)
    labels = _with_outlines(labels, k, ground, outline)
    labels = remove_rims(labels, k, max(1, round(_RIM * ground.side)))
    region, graph = part_graph(ground, costs, labels)
    return as_labels(region, joined_parts(graph, 0.0, least))


def _polished(labels: Labels, costs: Floats, ground: PlacingGround, per_border: float) -> Labels:
    """Pixels at the borders change sides where that is cheaper, with the votes of their eight neighbours."""
    share = (per_border * (1 - DETAIL * ground.kept)).astype(np.float32)
    for _ in range(_ROUNDS):
        best = np.full(labels.shape, np.inf, np.float32)
        out = np.zeros_like(labels)
        for c in np.unique(labels).tolist():
            own = (labels == c).astype(np.float32)
            votes = cv2.filter2D(own, -1, _VOTES, borderType=cv2.BORDER_REPLICATE)
            cost = cv2.subtract(costs[c], cv2.multiply(share, votes))
            np.copyto(out, c, where=cost < best)
            np.minimum(cost, best, out=best)
        labels = out
    return labels


def _with_outlines(labels: Labels, count: int, ground: PlacingGround, outline: float) -> Labels:
    """Outlines as simple as is asked for; finer where the painter looks."""
    sigma = (_FINEST + (_SIMPLEST - _FINEST) * outline) * ground.side
    soft = smooth_edges(labels, count, sigma)
    looked_at = ground.kept > _LOOKED_AT
    return np.where(looked_at, smooth_edges(labels, count, max(0.6, sigma / 3)), soft) if looked_at.any() else soft
