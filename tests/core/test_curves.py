"""Curves and rising sequences against SciPy's."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.interpolate import PchipInterpolator
from scipy.optimize import isotonic_regression

from ochre_stone.core.curves import MonotoneCurve, nearest_rising


class AgainstSciPy(unittest.TestCase):
    def test_curves(self):
        rng = np.random.default_rng(4)
        for n in (2, 3, 4, 9, 40):
            for k in range(12):
                x = np.cumsum(rng.uniform(0.05, 3, n))
                y = np.round(rng.normal(0, 2, (n, 3)[: 1 + k % 2]), k % 3)  # rounded: flats and turns too
                at = rng.uniform(x[0] - 1, x[-1] + 1, (5, 7))
                ours, theirs = MonotoneCurve(x, y), PchipInterpolator(x, y)
                np.testing.assert_allclose(ours(at), theirs(at), rtol=1e-9, atol=1e-9)
                np.testing.assert_allclose(ours(x), y, atol=1e-12)

    @settings(max_examples=60, deadline=None)
    @given(st.lists(st.floats(-100, 100), min_size=1, max_size=30))
    def test_rising_sequences(self, y):
        np.testing.assert_allclose(nearest_rising(y), isotonic_regression(y).x, atol=1e-9)

    def test_what_is_no_curve(self):
        for x, y in (([0], [1]), ([0, 0], [1, 2]), ([1, 0], [1, 2]), ([0, 1], [1, 2, 3])):
            with self.assertRaisesRegex(ValueError, "rising x"):
                MonotoneCurve(x, y)


if __name__ == "__main__":
    unittest.main()
