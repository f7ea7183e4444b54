"""What is said of a plan, the rule of two families, cuts and classes: by their figures."""

import itertools
import unittest

import numpy as np

from ochre_stone.core.colour.munsell import lightness_of_value
from ochre_stone.core.masses import shapes
from ochre_stone.core.masses.families import breaks, set_apart
from ochre_stone.core.masses.gradations import toward
from ochre_stone.core.masses.plan import PAINTED_LIGHT, MassSettings, grey_of_value, plan, prepare
from ochre_stone.core.masses.render import Ramp, painted
from ochre_stone.core.masses.statement import Statement, state
from ochre_stone.core.masses.thresholds import (
    TONE_BINS,
    TOP,
    classes,
    equal_cuts,
    histogram,
    optimal_cuts,
    within_variance,
)
from ochre_stone.core.picture.picture import lab_to_linear


def stripes(*values: float, widths: tuple[int, ...] = (), height: int = 90) -> np.ndarray:
    """Linear light of upright stripes of these Munsell values."""
    row = np.repeat(np.array(values), widths or (60,) * len(values))
    lab = np.zeros((height, len(row), 3), np.float32)
    lab[..., 0] = lightness_of_value(row)[None]
    return lab_to_linear(lab)


def plan_of(linear: np.ndarray, values: int, **more: object):
    return plan(prepare(linear, 0.0), MassSettings(values=values, smallest=0, outline=0, **more))


class Said(unittest.TestCase):
    def test_key_range_and_what_leads(self):
        for values, widths, key, span in (
            ((1.0, 8.0), (40, 60), "middle key", "full range"),
            ((2.0, 7.9), (90, 10), "low key", "middle range"),
            ((6.0, 9.0), (40, 60), "high key", "narrow range"),
            ((2.9, 7.1), (50, 50), "middle key", "middle range"),
        ):
            found = state(plan_of(stripes(*values, widths=widths), 2))
            self.assertEqual((found.key, found.range), (key, span), values)
            self.assertAlmostEqual(found.contrast, values[1] - values[0], delta=0.05)
            self.assertEqual(found.shares[0][0], int(widths[1] > widths[0]))

    def test_sizes(self):
        def sizes(*shares: float) -> str:
            return Statement("", "", 0, tuple(enumerate(shares)), None, None, None).size_words

        self.assertIn("Masses 1 and 2 are of one size", sizes(0.40, 0.36, 0.24))
        self.assertEqual(sizes(0.5, 0.3, 0.2), "Mass 1 leads with 50%; the shares are large, middle and small.")
        self.assertEqual(sizes(0.5, 0.27, 0.23), "Mass 1 leads with 50%; the others are much alike in size.")
        self.assertEqual(sizes(0.97, 0.03, 0.0), "Mass 1 leads with 97%; the shares are large, middle and small.")

    def test_where_the_strongest_contrast_falls(self):
        for widths in ((30, 240), (135, 135), (240, 30)):
            found = state(plan_of(stripes(2.0, 8.0, widths=widths), 2))
            self.assertEqual(found.meets, (0, 1))
            self.assertAlmostEqual(found.strongest[0], widths[0] / 270, delta=0.02)
        at = Statement("", "", 0, ((0, 1.0),), (0.2, 0.8), (0, 1), True)
        self.assertEqual(
            at.place_words, "The strongest contrast falls at the bottom left, where 1 meets 2: inside the focus."
        )

    def test_directions(self):
        words = ["right", "bottom right", "bottom", "bottom left", "left", "top left", "top", "top right"]
        for i, word in enumerate(words):
            self.assertEqual([toward(45 * i + off) for off in (-20, 0, 20)], [word] * 3)


class Families(unittest.TestCase):
    def test_breaks_by_how_much(self):
        found = breaks([3.0, 5.0, 5.0, 6.0], ["light", "shadow", "light", "shadow"], [0.2, 0.3, 0.3, 0.2])
        self.assertEqual(
            [(b.light, b.shadow, b.by) for b in found], [(0, 3, 3.0), (0, 1, 2.0), (2, 3, 1.0), (2, 1, 0.0)]
        )
        self.assertEqual(breaks([3.0, 5.0], ["light", "shadow"], [0.002, 0.5]), [])
        self.assertEqual(len(breaks([3.0, 5.0], ["light", "shadow"], [0.0021, 0.5])), 1)

    def test_apart_by_the_least_weighted_squares(self):
        """Against every dividing value in steps of a hundredth."""
        rng = np.random.default_rng(3)
        for _ in range(12):
            v = rng.uniform(1, 9, 5)
            w = rng.uniform(0.05, 0.5, 5)
            families = ["light" if x else "shadow" for x in rng.integers(0, 2, 5)]
            if len(set(families)) < 2:
                continue
            light = np.array([f == "light" for f in families])

            def moved(t: float, v=v, light=light):
                return np.where(light, np.maximum(v, t + 0.25), np.minimum(v, t - 0.25))

            got = set_apart(v, families, w)
            cost = float((w * (got - v) ** 2).sum())
            best = min(float((w * (moved(t) - v) ** 2).sum()) for t in np.arange(0.25, 9.75, 0.01))
            if v[light].min() - v[~light].max() >= 0.5:
                np.testing.assert_allclose(got, v)
            else:
                self.assertLessEqual(cost, best + 1e-4)
                self.assertGreaterEqual(got[light].min() - got[~light].max(), 0.5 - 1e-6)


class Cuts(unittest.TestCase):
    def test_variance_within_classes_by_hand(self):
        counts = np.zeros(10)
        counts[[1, 3, 6, 8]] = (1, 1, 1, 3)  # values 1.5, 3.5, 6.5, 8.5
        self.assertAlmostEqual(within_variance(counts, [5.0]), (1 + 1 + 2.25 * 1 + 0.25 * 3) / 6)
        self.assertAlmostEqual(within_variance(counts, [2.0, 5.0, 7.0]), 0.0)
        one = np.array([1.5, 3.5, 6.5, 8.5, 8.5, 8.5])
        self.assertAlmostEqual(within_variance(counts, []), float(one.var()))

    def test_optimal_is_the_best_of_all(self):
        rng = np.random.default_rng(1)
        counts = rng.integers(0, 30, 16).astype(float)
        for k in (2, 3, 4):
            got = within_variance(counts, optimal_cuts(counts, k)[k])
            every = itertools.combinations(np.arange(1, 16) * TOP / 16, k - 1)
            self.assertAlmostEqual(got, min(within_variance(counts, c) for c in every))

    def test_bins_and_classes(self):
        value = np.array([0.0, 2.4, 2.6, 5.1, 10.0])
        self.assertEqual(histogram(value).sum(), 5)
        self.assertEqual(len(histogram(value)), TONE_BINS)
        self.assertEqual(classes(value, [2.5, 5.0]).tolist(), [0, 0, 1, 2, 2])
        self.assertEqual(equal_cuts(4), (2.5, 5.0, 7.5))
        self.assertEqual(equal_cuts(2, 4.0, 8.0), (6.0,))

    def test_greys_of_values(self):
        """sRGB of L* 0, 50 and 100 (IEC 61966-2-1): 0, 119 and 255; below L* 8 the straight part."""
        value = [
            0.0,
            *np.interp([5.0, 50.0], lightness_of_value(np.linspace(0, 10, 2001)), np.linspace(0, 10, 2001)),
            10,
        ]
        self.assertEqual(grey_of_value(value).tolist(), [0, 17, 119, 255])


class Shapes(unittest.TestCase):
    def test_rims_up_to_two_radii_go_and_wider_bands_stay(self):
        for width, stays in ((1, False), (4, False), (5, True), (7, True)):
            labels = np.zeros((40, 60), np.uint8)
            labels[:, 30:] = 2
            labels[:, 30 - width : 30] = 1
            found = shapes.remove_rims(labels, 3, 2)
            self.assertEqual(bool((found[5:-5] == 1).any()), stays, width)
        line = np.zeros((40, 60), np.uint8)
        line[:, 30:32] = 1
        np.testing.assert_array_equal(shapes.remove_rims(line, 3, 2), line)
        np.testing.assert_array_equal(shapes.remove_rims(line, 2, 2), line)

    def test_a_tie_of_votes_goes_to_the_darker(self):
        labels = np.indices((30, 30)).sum(axis=0).astype(np.uint8) % 2
        self.assertEqual(int(shapes.smooth_edges(labels, 2, 3.0)[9:-9, 9:-9].max()), 0)

    def test_painted_families_part_a_value_in_two(self):
        linear = stripes(3.0, 7.0, 3.0, widths=(60, 60, 60))
        hand = np.zeros(linear.shape[:2], np.uint8)
        hand[:, 120:] = PAINTED_LIGHT
        found = plan(prepare(linear, 0.0), MassSettings(values=2, smallest=0, outline=0), hand)
        self.assertEqual([(m.step, m.family) for m in found.masses], [(0, "shadow"), (0, "light"), (1, "light")])
        for m in found.masses:
            self.assertAlmostEqual(m.share, 1 / 3, delta=0.02)


class Ramps(unittest.TestCase):
    def test_a_ramp_fills_its_area_from_end_to_end(self):
        found = plan_of(stripes(3.0, 7.0), 2)
        areas = np.ones((90, 120), np.int32)
        areas[:, 60:] = 2
        flat = painted(found, 120, 90)
        ramped = painted(found, 120, 90, [Ramp(0.2, 0.5, 90.0, 2.0, 8.0)], areas)
        np.testing.assert_array_equal(ramped[:, 62:], flat[:, 62:])
        low, high = grey_of_value([2.0, 8.0]).tolist()
        self.assertTrue((np.diff(ramped[:, 20].astype(int)) >= 0).all())
        self.assertEqual((int(ramped[0, 20]), int(ramped[-1, 20])), (low, high))
        self.assertEqual(len(set(ramped[45, 5:50].tolist())), 1)

    def test_a_ramp_whose_place_is_an_edge_now_changes_nothing(self):
        found = plan_of(stripes(3.0, 7.0), 2)
        areas = np.zeros((90, 120), np.int32)
        np.testing.assert_array_equal(
            painted(found, 120, 90, [Ramp(0.2, 0.5, 0.0, 2.0, 8.0)], areas), painted(found, 120, 90)
        )
