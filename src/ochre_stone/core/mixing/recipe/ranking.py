"""Which of many equal recipes to take, and the other ways worth showing.

Dozens of mixtures match a target alike. Between those that a hand gets equally near (:mod:`hand`) the better one has
fewer tubes, keeps its colour under lamp light and holds nothing that hurts or fades (common practice, no source; the
weights are judgements in CIEDE2000).
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.mixing.recipe.search import Ints, Paints
from ochre_stone.core.paint.cautions import is_safe
from ochre_stone.core.paint.optics import reflectance, reflectance_to_lab
from ochre_stone.core.paint.tubes import Tube

_PER_TUBE, _PER_LAMP, _PER_HAZARD = 0.06, 0.04, 0.08

WAY_KINDS: dict[str, str] = {
    "fewest tubes": "fewest tubes",
    "least white": "least white: chroma kept",
    "no black": "without black",
    "safest": "nothing that hurts or fades",
    "cheapest": "cheapest",
    "own stock": "from what is in the box",
}


@dataclass(frozen=True)
class Means:
    """What the painter has: millilitres in stock and price per millilitre by tube id; empty where unknown."""

    stock: Mapping[str, float] = field(default_factory=dict)
    price: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True)
class Merits:
    """Figures by which mixtures are told apart, each (m,)."""

    tubes: Array
    lamp: Array
    """CIEDE2000 between daylight and lamp light (illuminant A), each against its own white."""
    hurts: Array
    """How many paints are hazardous or do not last."""
    white: Array
    black: Array
    price: Array
    """Per millilitre; nan where a price is unknown."""

    @property
    def cost(self) -> Array:
        """What a mixture has against it, in CIEDE2000."""
        return np.asarray(_PER_TUBE * self.tubes + _PER_LAMP * self.lamp + _PER_HAZARD * self.hurts)


def spectra_lab(paints: Paints, shares: Array, illuminant: str) -> Array:
    """CIELAB (m, 3) of mixtures, dense ``shares`` (m, n), under an illuminant."""
    return reflectance_to_lab(reflectance(shares @ paints.K, shares @ paints.S, paints.surface), illuminant)


def merits(paints: Paints, tubes: Sequence[Tube], content: Array, parts: Array, index: Ints, means: Means) -> Merits:
    """Merits of mixtures.

    ``paints``: all sources, tubes first; ``content`` (n, t): share of each tube in each source; ``parts`` and
    ``index`` (m, k): the mixtures.
    """
    m, n = len(parts), len(paints.K)
    dense = np.zeros((m, n))
    for column in range(parts.shape[1]):
        dense[np.arange(m), index[:, column]] += parts[:, column]
    dense /= dense.sum(axis=1, keepdims=True)
    lab = spectra_lab(paints, dense, "D65")
    of_tubes = dense @ content
    used = of_tubes > 1e-9
    price = np.array([means.price.get(t.id, np.nan) for t in tubes])
    white = np.array([t.is_white for t in tubes])
    black = np.array([t.is_black for t in tubes])
    unsafe = np.array([not is_safe(t) for t in tubes])
    return Merits(
        tubes=used.sum(axis=1).astype(float),
        lamp=ciede2000(spectra_lab(paints, dense, "A"), lab),
        hurts=(used & unsafe).sum(axis=1).astype(float),
        white=of_tubes @ white,
        black=of_tubes @ black,
        price=np.where(used, of_tubes * np.where(np.isnan(price), 0, price), 0.0).sum(axis=1)
        + np.where((used & np.isnan(price)).any(axis=1), np.nan, 0.0),
    )


def masks(tubes: Sequence[Tube], means: Means) -> dict[str, list[bool]]:
    """Kinds that leave tubes out, and which tubes they leave in; kinds that leave none or all in are not told."""
    out = {"no black": [not t.is_black for t in tubes], "safest": [is_safe(t) for t in tubes]}
    if means.stock:
        out["own stock"] = [means.stock.get(t.id, 0.0) > 0 for t in tubes]
    return {kind: mask for kind, mask in out.items() if any(mask) and not all(mask)}


def pick(kind: str, error: Array, m: Merits, slack: float) -> int | None:
    """The best mixture of a kind that leaves no tube out, among those at most ``slack`` worse than the best (``error``:
    as a hand gets them)."""
    near = error <= error.min() + slack
    figure = {"fewest tubes": m.tubes, "least white": m.white, "cheapest": m.price}[kind]
    score = np.where(near & np.isfinite(figure), figure, np.inf)
    if not np.isfinite(score).any():
        return None
    return int(np.lexsort((error, score))[0])
