"""What it costs to lay a pile at a place: its colour first, then whether it belongs there."""

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.difference import ciede2000_vector
from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.picture.picture import Floats, Mask
from ochre_stone.core.placing.laying_ground import PlacingGround

_VALUE_FIRST = 1.5
"""How much more a difference of value counts than one of hue or chroma (value is judged first; the figure is a
judgement, as all here)."""
_FOREIGN = 64.0
"""Squared CIEDE2000 for a pile that has nothing to do with a thing, where others have: mild, for a dark sky may well
take a cloth's pile."""
_OUT_OF_BAND, _MOST_STEPS, _SLACK = 36.0, 1.5, 0.25
"""Squared CIEDE2000 for each step of value squared by which a pile leaves the band of a mass, the steps that count at
most, and those that do not yet."""
_LEVELS = 128


def colour_costs(lab: Floats, colours: Array) -> tuple[Floats, npt.NDArray[np.intp]]:
    """Squared CIEDE2000, value first, of pixels Lab (n, 3) to ``colours`` (k, 3): a table (m, k) and the row of it for
    each pixel (n,).

    Pixels are rounded to 1 of L* and 2 of a* and b*, and each cell stands at the mean of its pixels.
    """
    q = np.round(lab / np.array([1.0, 2.0, 2.0], np.float32)).astype(np.int64)
    q = np.clip(q + np.array([0, _LEVELS // 2, _LEVELS // 2]), 0, _LEVELS - 1)
    code = (q[:, 0] * _LEVELS + q[:, 1]) * _LEVELS + q[:, 2]
    size = np.bincount(code, minlength=_LEVELS**3)
    there = np.flatnonzero(size)
    at = np.zeros(_LEVELS**3, np.intp)
    at[there] = np.arange(len(there))
    row = at[code]
    mean = np.stack([np.bincount(row, lab[:, i]) for i in range(3)], axis=1) / size[there][:, None]
    v = ciede2000_vector(mean[:, None], colours[None])
    v[..., 0] *= _VALUE_FIRST
    return np.asarray((v**2).sum(axis=-1), dtype=np.float32), row


def out_of_band(colours: Array, bands: npt.ArrayLike) -> Array:
    """What each pile (k,) costs in each mass (m, k); ``bands`` (m, 2): lowest and highest Munsell value of a mass. A
    mass that no pile fits costs nothing for the nearest."""
    value = value_of_lightness(np.clip(colours[:, 0], 0, 100))
    low, high = np.asarray(bands, dtype=float).reshape(-1, 2).T
    gap = np.maximum(np.maximum(low[:, None] - _SLACK - value, value - high[:, None] - _SLACK), 0.0)
    gap = gap - gap.min(axis=1, keepdims=True)
    return np.asarray(_OUT_OF_BAND * np.minimum(gap, _MOST_STEPS) ** 2)


def place_costs(ground: PlacingGround, colours: Array, at_home: Mask, bands: npt.ArrayLike) -> Floats:
    """Squared CIEDE2000 (k, h, w) of laying each pile at each place.

    ``colours`` (k, 3): CIELAB of the mixtures; ``at_home`` (things, k): whether a pile belongs to a thing; ``bands``
    (masses, 2): Munsell values of the masses.
    """
    table, row = colour_costs(ground.melted.reshape(-1, 3), colours)
    out = np.empty((len(colours), len(row)), np.float32)
    foreign, band = _FOREIGN * ~at_home, out_of_band(colours, bands)
    of_both = (foreign[:, None] + band[None]).astype(np.float32).reshape(-1, len(colours))
    lies = ground.thing.ravel().astype(np.intp) * len(band) + ground.mass.ravel()
    for c in range(len(colours)):  # a small table for each pile stays at hand for the processor
        np.take(np.ascontiguousarray(table[:, c]), row, out=out[c])
        out[c] += np.ascontiguousarray(of_both[:, c])[lies]
    return out.reshape(len(colours), *ground.thing.shape)
