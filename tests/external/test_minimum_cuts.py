"""The places of piles against exact minimum cuts (Greig, Porteous and Seheult 1989, J. R. Statist. Soc. B 51), by
SciPy's maximum flow (Dinic 1970)."""

import unittest

import numpy as np
from scipy.sparse import csr_matrix
from scipy.sparse.csgraph import maximum_flow

from ochre_stone.core.keys.pieces import steepness
from ochre_stone.core.placing.costs import place_costs
from ochre_stone.core.placing.laying_ground import PlacingGround
from ochre_stone.core.placing.merging import PartGraph, joined_parts, part_graph


def ground(lab: np.ndarray) -> PlacingGround:
    shape, lab = lab.shape[:2], lab.astype(np.float32)
    nothing = np.zeros(shape, np.float32)
    return PlacingGround(lab, lab, steepness(lab), np.zeros(shape, np.int32), np.zeros(shape, np.uint8), nothing)


class AgainstMinimumCuts(unittest.TestCase):
    """Two piles on small pictures, the least energy on the same parts."""

    def test_the_energy_is_within_eight_per_cent_of_the_least(self) -> None:
        rng = np.random.default_rng(11)
        ratios = []
        for _ in range(6):
            lab = rng.normal(50, 18, (12, 14, 1)).repeat(5, axis=0).repeat(5, axis=1) * np.array([1.0, 0.3, -0.2])
            g = ground(lab + rng.normal(0, 3, lab.shape))
            piles = np.array([[35.0, 10.0, -6.0], [65.0, 20.0, -14.0]])
            costs = place_costs(g, piles, np.ones((1, 2), bool), ((0.0, 10.0),))
            _, graph = part_graph(g, costs, costs.argmin(axis=0).astype(np.uint8))
            per_border = 60.0
            mine = joined_parts(graph, per_border, 0.0)
            least, cut = self.cut(graph, per_border)
            self.assertAlmostEqual(least, self.energy(graph, cut, per_border), delta=1e-3 * least)
            ratios.append(self.energy(graph, mine, per_border) / least)
        self.assertGreaterEqual(min(ratios), 1 - 1e-3)
        self.assertLess(max(ratios), 1.08, ratios)

    @staticmethod
    def energy(graph: PartGraph, label: np.ndarray, per_border: float) -> float:
        own = graph.cost[np.arange(len(label)), label].sum()
        return float(own + per_border * graph.border[label[graph.i] != label[graph.j]].sum())

    @staticmethod
    def cut(graph: PartGraph, per_border: float) -> tuple[float, np.ndarray]:
        n, fine = len(graph.size), 100.0
        cost = np.round(graph.cost * fine).astype(np.int64)
        shift = cost.min(axis=1)
        border = np.round(per_border * graph.border * fine).astype(np.int64)
        source, sink = n, n + 1
        rows = [np.full(n, source), np.arange(n), graph.i, graph.j]
        columns = [np.arange(n), np.full(n, sink), graph.j, graph.i]
        weights = [cost[:, 1] - shift, cost[:, 0] - shift, border, border]
        net = csr_matrix(
            (np.concatenate(weights).astype(np.int32), (np.concatenate(rows), np.concatenate(columns))),
            shape=(n + 2, n + 2),
        )
        found = maximum_flow(net, source, sink)
        left = net - found.flow
        seen, queue = {source}, [source]
        while queue:
            x = queue.pop()
            row = left[x]
            for y, room in zip(row.indices.tolist(), row.data.tolist(), strict=True):
                if room > 0 and y not in seen:
                    seen.add(y)
                    queue.append(y)
        label = np.array([0 if x in seen else 1 for x in range(n)])
        return float((found.flow_value + shift.sum()) / fine), label


if __name__ == "__main__":
    unittest.main()
