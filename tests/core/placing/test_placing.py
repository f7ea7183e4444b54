"""Each place gets a pile, in few clean shapes: on blocks whose answer is known."""

import unittest

import numpy as np

from ochre_stone.core.colour.difference import ciede2000, ciede2000_vector
from ochre_stone.core.keys.pieces import steepness
from ochre_stone.core.masses.shapes import regions
from ochre_stone.core.placing.costs import colour_costs, out_of_band, place_costs
from ochre_stone.core.placing.figures import placing_figures
from ochre_stone.core.placing.laying_ground import PlacingGround
from ochre_stone.core.placing.place import placed

DARK, MIDDLE, LIGHT = (25.0, 5.0, -10.0), (50.0, 20.0, 25.0), (85.0, 0.0, 10.0)
COLOURS = np.array([DARK, MIDDLE, LIGHT])
WHOLE = ((0.0, 10.0),)


def ground(lab: np.ndarray, thing: np.ndarray | None = None, kept: np.ndarray | None = None) -> PlacingGround:
    shape = lab.shape[:2]
    lab = lab.astype(np.float32)
    return PlacingGround(
        lab,
        lab,
        steepness(lab),
        np.zeros(shape, np.int32) if thing is None else thing.astype(np.int32),
        np.zeros(shape, np.uint8),
        np.zeros(shape, np.float32) if kept is None else kept.astype(np.float32),
    )


def stripes(noise: float = 0.0, width: int = 60, height: int = 90) -> np.ndarray:
    """Three stripes of the colours, dark to light, with grain."""
    lab = np.concatenate([np.full((height, width, 3), c) for c in COLOURS], axis=1)
    return lab + noise * np.random.default_rng(5).standard_normal(lab.shape)


def everywhere(things: int, piles: int) -> np.ndarray:
    return np.ones((things, piles), bool)


class Costs(unittest.TestCase):
    def test_value_counts_half_as_much_again(self) -> None:
        lab = np.array([[40.0, 0.0, 0.0], [40.0, 12.0, 0.0]], np.float32)
        table, row = colour_costs(lab, np.array([[46.0, 0.0, 0.0]]))
        want = ciede2000_vector(lab.astype(float), np.array([46.0, 0.0, 0.0]))
        want[..., 0] *= 1.5
        np.testing.assert_allclose(table[row][:, 0], (want**2).sum(axis=-1), rtol=1e-4)

    def test_the_table_is_near_the_pixels(self) -> None:
        rng = np.random.default_rng(2)
        lab = rng.uniform((5, -40, -40), (95, 40, 40), (5000, 3)).astype(np.float32)
        table, row = colour_costs(lab, COLOURS)
        v = ciede2000_vector(lab[:, None].astype(float), COLOURS[None])
        v[..., 0] *= 1.5
        exact = np.sqrt((v**2).sum(axis=-1))
        off = np.abs(np.sqrt(table[row]) - exact)
        self.assertLess(float(np.percentile(off, 95)), 1.5)
        self.assertLess(float(off.max()), 5.0)

    def test_a_pile_outside_the_band_of_a_mass_costs_more_but_never_all_of_them(self) -> None:
        cost = out_of_band(COLOURS, ((0.0, 4.0), (9.5, 10.0)))
        self.assertEqual(cost[0, 0], 0.0)
        self.assertGreater(cost[0, 2], cost[0, 1])
        self.assertEqual(cost[1].min(), 0.0, "one that fits the least costs nothing")
        self.assertLessEqual(cost.max(), 36.0 * 1.5**2)

    def test_what_belongs_elsewhere_costs_more(self) -> None:
        g = ground(stripes())
        home = np.array([[True, True, False]])
        more = place_costs(g, COLOURS, home, WHOLE) - place_costs(g, COLOURS, everywhere(1, 3), WHOLE)
        np.testing.assert_allclose(more, np.broadcast_to(np.reshape([0, 0, 64.0], (3, 1, 1)), more.shape), atol=1e-3)


class Places(unittest.TestCase):
    def test_each_stripe_gets_its_pile_and_grain_makes_no_shapes(self) -> None:
        g = ground(stripes(4.0))
        labels = placed(g, COLOURS, everywhere(1, 3), WHOLE)
        self.assertEqual(len(regions(labels, 3)[1]), 3)
        self.assertLess(float((labels != np.repeat([0, 1, 2], 60)[None]).mean()), 0.02)

    def test_the_same_answer_twice(self) -> None:
        g = ground(stripes(6.0))
        first, second = (placed(g, COLOURS, everywhere(1, 3), WHOLE) for _ in range(2))
        np.testing.assert_array_equal(first, second)

    def test_one_pile_covers_all_and_none_is_refused(self) -> None:
        g = ground(stripes(2.0))
        self.assertEqual(set(placed(g, COLOURS[1:2], everywhere(1, 1), WHOLE).ravel().tolist()), {0})
        for k in (0, 256):
            with self.assertRaises(ValueError):
                placed(g, np.zeros((k, 3)), everywhere(1, k), WHOLE)

    def test_a_thing_keeps_to_its_own_pile_where_two_are_nearly_as_near(self) -> None:
        """A patch between two piles' colours: that which belongs to the thing wins, unless it is far the worse."""
        between = np.array([[50.0, 10.0, 0.0], [50.0, -10.0, 0.0]])
        lab = np.full((80, 80, 3), (50.0, -0.5, 0.0))
        for home, want in (((True, False), 0), ((False, True), 1), ((True, True), 1)):
            labels = placed(ground(lab), between, np.array([home]), WHOLE)
            self.assertEqual(set(labels.ravel().tolist()), {want})
        labels = placed(ground(np.full((80, 80, 3), (50.0, -10.0, 0.0))), between, np.array([[True, False]]), WHOLE)
        self.assertEqual(set(labels.ravel().tolist()), {1}, "mildly: far the nearer one is taken all the same")

    def test_small_shapes_stay_where_the_painter_looks(self) -> None:
        lab = np.zeros((200, 200, 3)) + DARK
        lab[98:103, 98:103] = LIGHT
        kept = np.zeros((200, 200))
        kept[80:120, 80:120] = 1.0
        for looks, want in ((None, 1), (kept, 2)):
            labels = placed(ground(lab, kept=looks), COLOURS, everywhere(1, 3), WHOLE, 0.0, 0.15)
            self.assertEqual(len(np.unique(labels)), want)

    def test_figures(self) -> None:
        g = ground(stripes())
        labels = np.repeat(np.repeat([0, 1, 2], 60)[None], 90, axis=0).astype(np.uint8)
        found = placing_figures(g, labels, COLOURS)
        self.assertEqual((found.piles, found.shapes), (3, 3))
        self.assertLess(found.off, 1e-4)
        self.assertAlmostEqual(found.border, 2 * 90 / np.sqrt(90 * 180))
        self.assertAlmostEqual(found.values, 1.0)
        self.assertEqual(found.words, "3 piles, 3 shapes; off by 0, one spot in twenty by 0")
        one = placing_figures(g, np.zeros_like(labels), COLOURS[1:2])
        self.assertEqual((one.piles, one.shapes, one.border, one.values), (1, 1, 0.0, 1.0))
        self.assertAlmostEqual(one.off, float(ciede2000(g.melted, COLOURS[1]).mean()))


if __name__ == "__main__":
    unittest.main()
