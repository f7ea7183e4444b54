"""Pieces of a picture merged into things, across light and shadow.

Shading moves a surface's colour along a line toward black: a* and b* over L* + 16 stay (the offset of CIELAB's cube
root). So neighbours are alike where these are alike, however different in lightness; greys, which have no such line,
part by lightness. Merging runs in rounds of mutually nearest neighbours (Boruvka's rounds; compare Haris and others
1998, IEEE Trans. Image Process. 7).
"""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.keys.pieces import Numbers
from ochre_stone.core.picture.picture import Floats

STOP = 17.0
"""Cost at which the merging of neighbours ends."""
JOIN = 6.0
"""Cost below which pieces that lie apart are one thing."""
SMALL = 0.004
"""Share of the picture below which a piece joins its nearest neighbour."""
FEWEST = 6
_REDGREEN, _SKYLIGHT = 1.8, 0.65

Labels64 = npt.NDArray[np.int64]


def unlike(a: Array, b: Array) -> Array:
    """How unlike two mean colours (..., 3) are when shading is set aside, about in units of Lab.

    Blue counts less where the darker of the two is the bluer: so skylight does to shadows.
    """
    la, lb = a[..., 0], b[..., 0]
    low = np.minimum(la, lb) + 16
    pa, pb = a[..., 1:] / (la[..., None] + 16), b[..., 1:] / (lb[..., None] + 16)
    red = (pa[..., 0] - pb[..., 0]) * low
    yellow = (pa[..., 1] - pb[..., 1]) * low
    bluer = np.where(la < lb, yellow, -yellow) < 0
    yellow = np.where(bluer, _SKYLIGHT * yellow, yellow)
    chroma = np.minimum(np.hypot(a[..., 1], a[..., 2]), np.hypot(b[..., 1], b[..., 2]))
    light = (0.22 + 0.5 * np.exp(-chroma / 12)) * (la - lb)
    return np.asarray(np.sqrt(_REDGREEN * red * red + yellow * yellow + light * light))


@dataclass
class _Graph:
    """Regions with mean colour and size, and which touch: lower, higher, contrast and length of their border."""

    mean: Array
    size: Array
    fixed: Labels64
    owner: Labels64
    i: Labels64
    j: Labels64
    contrast: Array
    length: Array

    def join(self, into: Labels64, gone: Labels64) -> None:
        """Regions taken into others, pair by pair; no region stands in two pairs."""
        total = self.size[into] + self.size[gone]
        self.mean[into] = (self.mean[into] * self.size[into, None] + self.mean[gone] * self.size[gone, None]) / total[
            :, None
        ]
        self.size[into], self.size[gone] = total, 0
        to = np.arange(len(self.size))
        to[gone] = into
        self.owner = to[self.owner]
        i, j = to[self.i], to[self.j]
        keep = i != j
        i, j, contrast, length = i[keep], j[keep], self.contrast[keep], self.length[keep]
        k = len(self.size)
        code, back = np.unique(np.minimum(i, j) * k + np.maximum(i, j), return_inverse=True)
        self.length = np.bincount(back, length, minlength=len(code)).astype(float)
        self.contrast = np.bincount(back, contrast * length, minlength=len(code)) / self.length
        self.i, self.j = code // k, code % k

    def cost(self, whole: float) -> Array:
        """Of merging each pair of neighbours."""
        colour = unlike(self.mean[self.i], self.mean[self.j])
        border = np.minimum(self.contrast / 4, 40) * (colour / (colour + 6))
        a, b = self.size[self.i], self.size[self.j]
        out = (0.75 * colour + 0.25 * border) * (a * b / (a + b) / whole / SMALL) ** 0.22
        out[self.fixed[self.i] != self.fixed[self.j]] = np.inf
        return np.asarray(out)


def _graph(pieces: Numbers, lab: Floats, steep: Floats, fixed: Labels64) -> _Graph:
    k = len(fixed)
    flat = pieces.ravel()
    size = np.bincount(flat, minlength=k).astype(float)
    sums = np.stack([np.bincount(flat, lab[..., c].ravel(), minlength=k).astype(float) for c in range(3)], axis=1)
    codes, weights = [], []
    for here, there in (
        ((slice(None), slice(1, None)), (slice(None), slice(None, -1))),
        ((slice(1, None), slice(None)), (slice(None, -1), slice(None))),
    ):
        differ = pieces[here] != pieces[there]
        x, y = pieces[here][differ].astype(np.int64), pieces[there][differ].astype(np.int64)
        codes.append(np.minimum(x, y) * k + np.maximum(x, y))
        weights.append(np.maximum(steep[here][differ], steep[there][differ]))
    code, back, count = np.unique(np.concatenate(codes), return_inverse=True, return_counts=True)
    contrast = np.bincount(back, np.concatenate(weights), minlength=len(code)) / np.maximum(count, 1)
    return _Graph(
        mean=sums / np.maximum(size, 1)[:, None],
        size=size,
        fixed=fixed.copy(),
        owner=np.arange(k),
        i=code // k,
        j=code % k,
        contrast=contrast,
        length=count.astype(float),
    )


def _rounds(g: _Graph, whole: float) -> None:
    """Merge mutually nearest neighbours while that is cheap."""
    left = int((g.size > 0).sum())
    while len(g.i) and left > FEWEST:
        cost = g.cost(whole)
        best = np.full(len(g.size), np.inf)
        np.minimum.at(best, g.i, cost)
        np.minimum.at(best, g.j, cost)
        both = (cost <= best[g.i]) & (cost <= best[g.j]) & (cost <= STOP)
        if not both.any():
            return
        into, gone = g.i[both], g.j[both]
        for side in (0, 1):  # of equal costs, a region takes part once
            _, first = np.unique((into, gone)[side], return_index=True)
            into, gone = into[first], gone[first]
        free = ~np.isin(gone, into)
        g.join(into[free], gone[free])
        left -= int(free.sum())


def _take_in_small(g: _Graph, whole: float) -> None:
    """The smallest first, each into the neighbour that is most like it."""
    while True:
        touching = np.zeros(len(g.size), bool)
        touching[g.i] = touching[g.j] = True
        small = np.flatnonzero((g.size > 0) & (g.size < SMALL * whole) & (g.fixed == 0) & touching)
        if not len(small):
            return
        r = small[g.size[small].argmin()]
        around = np.concatenate([g.j[g.i == r], g.i[g.j == r]])
        free = around[g.fixed[around] == 0]
        around = free if len(free) else around
        into = around[unlike(g.mean[r][None], g.mean[around]).argmin()]
        g.join(np.array([into]), np.array([r]))


def _join_apart(g: _Graph) -> None:
    """What lies apart and is of one colour is one thing: sky on both sides of a tower."""
    while True:
        ids = np.flatnonzero((g.size > 0) & (g.fixed == 0))
        if len(ids) < 2:
            return
        m = g.mean[ids]
        gap = unlike(m[:, None], m[None]) + 0.08 * np.abs(m[:, None, 0] - m[None, :, 0])
        np.fill_diagonal(gap, np.inf)
        a, b = np.unravel_index(int(gap.argmin()), gap.shape)
        if gap[a, b] > JOIN:
            return
        g.join(ids[[a]], ids[[b]])


def merge(pieces: Numbers, lab: Floats, steep: Floats, fixed: Labels64 | None = None) -> tuple[Numbers, Labels64]:
    """Number of the thing of each pixel (h, w), from 0, and the group of each thing.

    ``pieces`` (h, w) of a smoothed picture ``lab`` (h, w, 3); ``fixed`` (k,): group of each piece; pieces of different
    groups stay apart, those of one group above 0 are one thing; 0 is free.
    """
    k = int(pieces.max()) + 1
    g = _graph(pieces, lab, steep, np.zeros(k, np.int64) if fixed is None else fixed.astype(np.int64))
    whole = float(pieces.size)
    _rounds(g, whole)
    _take_in_small(g, whole)
    _join_apart(g)
    for group in sorted(set(g.fixed[g.size > 0].tolist()) - {0}):
        own = np.flatnonzero((g.size > 0) & (g.fixed == group))
        for other in own[1:]:
            g.join(own[:1], np.array([other]))
    names, back = np.unique(g.owner[pieces], return_inverse=True)
    return np.asarray(back.reshape(pieces.shape), dtype=np.int32), g.fixed[names]
