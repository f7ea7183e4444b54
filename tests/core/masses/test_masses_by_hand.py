"""Cuts, classes and the range of paint, against figures worked out by hand."""

import unittest

import numpy as np

from ochre_stone.core.errors import OchreError
from ochre_stone.core.masses.thresholds import classes, equal_cuts, within_variance
from ochre_stone.core.masses.tone import Tone, reach, scene_range


class Cuts(unittest.TestCase):
    def test_equal_steps(self) -> None:
        self.assertEqual(equal_cuts(4), (2.5, 5.0, 7.5))
        self.assertEqual(equal_cuts(2, 3.0, 6.0), (4.5,))
        self.assertEqual(equal_cuts(3, 1.0, 8.5), (3.5, 6.0))

    def test_a_value_belongs_to_the_class_above_its_cut(self) -> None:
        self.assertEqual(
            classes([0.0, 2.49, 2.5, 4.99, 5.0, 10.0, 11.0, -1.0], (2.5, 5.0)).tolist(), [0, 0, 1, 1, 2, 2, 2, 0]
        )

    def test_variance_within(self) -> None:
        """Ten bins of one step: values .5, 1.5 ... of which 2, 1, 0 and 3 are there."""
        counts = [2.0, 1.0, 0, 0, 0, 0, 0, 3.0, 1.0, 0]
        dark, light = np.array([0.5, 0.5, 1.5]), np.array([7.5, 7.5, 7.5, 8.5])
        by_hand = (((dark - dark.mean()) ** 2).sum() + ((light - light.mean()) ** 2).sum()) / 7
        self.assertAlmostEqual(within_variance(counts, (5.0,)), float(by_hand))
        every = np.concatenate([dark, light])
        self.assertAlmostEqual(within_variance(counts, ()), float(every.var()))


class Range(unittest.TestCase):
    def test_evenly_from_black_paint_to_white(self) -> None:
        t = Tone(keep="even", white=9.0, black=1.0, low=0.5, high=9.5)
        self.assertEqual(t.knots(), ((0.5, 1.0), (9.5, 9.0)))
        self.assertAlmostEqual(float(t.value(5.0)), 5.0)
        self.assertAlmostEqual(float(t.value(0.0)), 1.0)
        self.assertAlmostEqual(float(t.value(10.0)), 9.0)
        inside = Tone(keep="even", white=9.0, black=1.0, low=2.0, high=8.0)
        np.testing.assert_allclose(inside.value([2.0, 5.0, 8.0]), [2.0, 5.0, 8.0])  # inside the range of paint already

    def test_what_is_kept_has_slope_one(self) -> None:
        for keep, start, end, shift in (
            ("lights", 3.5, 9.5, -0.5),
            ("darks", 0.5, 6.5, 0.5),
            ("middle", 3.5, 6.5, 0.0),
        ):
            t = Tone(keep=keep, white=9.0, black=1.0, low=0.5, high=9.5)
            knots = t.knots()
            self.assertEqual((knots[0], knots[-1]), ((0.5, 1.0), (9.5, 9.0)))
            kept = [(x, y) for x, y in knots[1:-1] if start + 0.3 < x < end - 0.3]
            self.assertGreater(len(kept), 1, keep)
            for x, y in kept:
                self.assertAlmostEqual(y - x, shift, places=6, msg=keep)
            v = t.value(np.linspace(0, 10, 101))
            self.assertTrue((np.diff(v) >= -1e-9).all())

    def test_a_scene_beyond_paint_altogether(self) -> None:
        for low, high in ((0.0, 0.5), (9.6, 10.0)):
            t = Tone(keep="even", white=9.0, black=1.0, low=low, high=high)
            (_, bottom), (_, top) = t.knots()
            self.assertTrue(1.0 <= bottom < top <= 9.0)
            self.assertAlmostEqual(top - bottom, 0.2)

    def test_what_cannot_be(self) -> None:
        for wrong in (
            {"keep": "x"}, {"black": 8.0, "white": 8.5}, {"low": 6.0, "high": 5.0}, {"low": -0.1}, {"high": 10.1},
            {"black": -0.1}, {"white": 10.1}, {"keep": "drawn"}, {"keep": "drawn", "drawn": ((1.0, 1.0), (1.0, 2.0))},
            {"keep": "drawn", "drawn": ((1.0, 2.0), (2.0, 1.9))}, {"keep": "drawn", "drawn": ((1.0, 2.0), (2.0, 10.5))},
        ):  # fmt: skip
            self.assertRaises(OchreError, Tone, **wrong)
        Tone(keep="drawn", drawn=((1.0, 2.0), (2.0, 2.0)))  # level is allowed

    def test_chroma_eases_with_lightness(self) -> None:
        t = Tone(keep="even", white=8.0, black=1.0, low=0.5, high=9.5)
        light, dark = t.lab(np.array([[90.0, 10, 20], [12.0, 10, 20]]))
        self.assertLess(light[0], 90)
        np.testing.assert_allclose(light[1:], np.array([10, 20]) * light[0] / 90.0)
        self.assertGreater(dark[0], 12)
        np.testing.assert_allclose(dark[1:], [10, 20])  # no colour is made stronger
        same = np.array([[50.0, 1, 2]])
        np.testing.assert_array_equal(Tone().lab(same), same)

    def test_the_scene_s_ends(self) -> None:
        v = np.concatenate([np.full(5, 0.2), np.linspace(2, 8, 990), np.full(5, 9.9)])
        low, high = scene_range(v)
        self.assertAlmostEqual(low, 2.0, delta=0.05)
        self.assertAlmostEqual(high, 8.0, delta=0.05)
        self.assertEqual(scene_range(np.full(9, 12.0)), (10.0, 10.0))
        dark, light = reach([(20.0, 5, 5), (80.0, 0, 0), (50.0, 0, 0)])
        self.assertTrue(1.9 < dark < 2.2 and 7.7 < light < 8.1)
