"""Places merged: connected places of one nearest pile are parts, and parts join where their border costs more than it
shows.

Region merging in the order of the energy that a pixel of border brings (Koepfler, Lopez and Morel 1994, SIAM J. Numer.
Anal. 31), with prices looked at again only when their turn comes.
"""

import heapq
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.masses.shapes import Labels, Regions, regions
from ochre_stone.core.picture.picture import Floats
from ochre_stone.core.placing.laying_ground import PlacingGround

_SOFT, _STEEP = 0.35, 20.0
"""What a pixel of border costs at least, where the picture has an edge; the steepness of a clear edge."""
_least = np.minimum.reduce  # asked thousands of times: without the detour that ``min`` takes
DETAIL, SMALLER = 0.67, 0.875
"""How much less border costs, and smaller shapes may be, where the painter looks."""
_ASIDE = (
    ((slice(None), slice(1, None)), (slice(None), slice(None, -1))),
    ((slice(1, None), slice(None)), (slice(None, -1), slice(None))),
)


@dataclass
class PartGraph:
    """Parts: what each pile costs there (n, k), size (n,), pairs that touch (m,) with the weight of their border, and
    how much the painter looks there (n,)."""

    cost: Array
    size: Array
    i: npt.NDArray[np.int64]
    j: npt.NDArray[np.int64]
    border: Array
    kept: Array


def part_graph(ground: PlacingGround, costs: Floats, labels: Labels) -> tuple[Regions, PartGraph]:
    """The part of each pixel (h, w), from 0, of connected places of one pile, and how parts lie beside one another."""
    k = len(costs)
    region, _ = regions(labels, k)
    n = int(region.max()) + 1
    flat = region.ravel()
    cost = np.stack([np.bincount(flat, c.ravel(), minlength=n) for c in costs], axis=1).astype(float)
    size = np.bincount(flat, minlength=n).astype(float)
    kept = np.bincount(flat, ground.kept.ravel(), minlength=n) / size
    codes, weights = [], []
    for a, b in _ASIDE:
        differ = region[a] != region[b]
        x, y = region[a][differ].astype(np.int64), region[b][differ].astype(np.int64)
        codes.append(np.minimum(x, y) * n + np.maximum(x, y))
        steep = np.maximum(ground.steep[a][differ], ground.steep[b][differ])
        weights.append((_SOFT + (1 - _SOFT) * np.exp(-steep / _STEEP)) * (1 - DETAIL * ground.kept[a][differ]))
    code, back = np.unique(np.concatenate(codes), return_inverse=True)
    border = np.bincount(back, np.concatenate(weights), minlength=len(code)).astype(float)
    return region, PartGraph(cost, size, code // n, code % n, border, kept)


def joined_parts(graph: PartGraph, per_border: float, least: float) -> npt.NDArray[np.intp]:
    """The pile (n,) that each part gets. Neighbours join while a pixel of border saved costs less than ``per_border``;
    then what is below ``least`` pixels joins the neighbour that it costs least."""
    joining = _Joining(graph)
    if per_border > 0:  # no joining is cheaper than nothing
        joining.cheapest(per_border)
    joining.small(per_border, least)
    return joining.piles()


class _Joining:
    """Parts that join."""

    def __init__(self, graph: PartGraph) -> None:
        self.graph = graph
        self.rows = list(graph.cost)
        self.best = graph.cost.min(axis=1).tolist()
        self.size, self.kept = graph.size.tolist(), graph.kept.tolist()
        self.parent = list(range(len(self.rows)))
        self.around: list[dict[int, float]] = [{} for _ in self.rows]
        for x, y, w in zip(graph.i.tolist(), graph.j.tolist(), graph.border.tolist(), strict=True):
            self.around[x][y] = self.around[y][x] = w

    def _more(self, x: int, y: int) -> float:
        """What joining two parts costs in colour."""
        return float(_least(self.rows[x] + self.rows[y]) - self.best[x] - self.best[y])

    def _price(self, x: int, y: int) -> float:
        return self._more(x, y) / self.around[x][y]

    def _join(self, x: int, y: int) -> None:
        """``y`` into ``x``."""
        self.parent[y] = x
        self.rows[x] = self.rows[x] + self.rows[y]
        self.best[x] = float(_least(self.rows[x]))
        whole = self.size[x] + self.size[y]
        self.kept[x] = (self.kept[x] * self.size[x] + self.kept[y] * self.size[y]) / whole
        self.size[x] = whole
        for z, w in self.around[y].items():
            del self.around[z][y]
            if z != x:
                self.around[x][z] = self.around[z][x] = self.around[x].get(z, 0.0) + w
        self.around[y] = {}

    def cheapest(self, most: float) -> None:
        """Join in the order of price, up to ``most``."""
        g, best = self.graph, np.array(self.best)
        more = (g.cost[g.i] + g.cost[g.j]).min(axis=1) - best[g.i] - best[g.j]
        heap = list(zip((more / g.border).tolist(), g.i.tolist(), g.j.tolist(), strict=True))
        heapq.heapify(heap)
        while heap and heap[0][0] < most:
            _, x, y = heapq.heappop(heap)
            if self.parent[x] != x or self.parent[y] != y or y not in self.around[x]:
                continue
            now = self._price(x, y)  # it may have changed since it was put there
            if heap and now > heap[0][0] + 1e-9:
                if now < most:
                    heapq.heappush(heap, (now, x, y))
                continue
            if len(self.around[x]) < len(self.around[y]):
                x, y = y, x
            changed = [z for z in self.around[y] if z != x]
            self._join(x, y)
            for z in changed:
                heapq.heappush(heap, (self._price(x, z), x, z))

    def small(self, per_border: float, least: float) -> None:
        """Join what is too small, the smallest first."""

        def too_small(x: int) -> bool:
            return bool(self.size[x] < least * (1 - SMALLER * self.kept[x]))

        queue = [(self.size[x], x) for x, p in enumerate(self.parent) if p == x and too_small(x)]
        heapq.heapify(queue)
        while queue:
            size, x = heapq.heappop(queue)
            if self.parent[x] != x or size != self.size[x] or not self.around[x]:
                continue
            near = self.around[x]
            into = min(near, key=lambda y: self._more(x, y) - per_border * near[y])
            self._join(into, x)
            if too_small(into):
                heapq.heappush(queue, (self.size[into], into))

    def piles(self) -> npt.NDArray[np.intp]:
        """The pile of each part."""
        own = [int(r.argmin()) for r in self.rows]
        return np.array([own[self._root(x)] for x in range(len(self.rows))], dtype=np.intp)

    def _root(self, x: int) -> int:
        while self.parent[x] != x:
            self.parent[x] = self.parent[self.parent[x]]
            x = self.parent[x]
        return x


def as_labels(part: Regions, piles: npt.NDArray[np.intp]) -> Labels:
    """The pile of each pixel."""
    return np.asarray(piles.astype(np.uint8)[part])
