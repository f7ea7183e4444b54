"""CIEDE2000 against its published test pairs and a general-purpose library.

Source: Sharma, Wu and Dalal 2005, "The CIEDE2000 color-difference formula: implementation notes, supplementary test
data, and mathematical observations", Color Research and Application 30(1), table 1.
"""

import unittest

import colour
import numpy as np

from ochre_stone.core.colour.difference import ciede2000, ciede2000_vector

# L1 a1 b1 L2 a2 b2 dE00
PAIRS = np.array(
    [
        [50, 2.6772, -79.7751, 50, 0, -82.7485, 2.0425],
        [50, 3.1571, -77.2803, 50, 0, -82.7485, 2.8615],
        [50, 2.8361, -74.0200, 50, 0, -82.7485, 3.4412],
        [50, -1.3802, -84.2814, 50, 0, -82.7485, 1.0000],
        [50, -1.1848, -84.8006, 50, 0, -82.7485, 1.0000],
        [50, -0.9009, -85.5211, 50, 0, -82.7485, 1.0000],
        [50, 0, 0, 50, -1, 2, 2.3669],
        [50, -1, 2, 50, 0, 0, 2.3669],
        [50, 2.4900, -0.0010, 50, -2.4900, 0.0009, 7.1792],
        [50, 2.4900, -0.0010, 50, -2.4900, 0.0010, 7.1792],
        [50, 2.4900, -0.0010, 50, -2.4900, 0.0011, 7.2195],
        [50, 2.4900, -0.0010, 50, -2.4900, 0.0012, 7.2195],
        [50, -0.0010, 2.4900, 50, 0.0009, -2.4900, 4.8045],
        [50, -0.0010, 2.4900, 50, 0.0010, -2.4900, 4.8045],
        [50, -0.0010, 2.4900, 50, 0.0011, -2.4900, 4.7461],
        [50, 2.5, 0, 50, 0, -2.5, 4.3065],
        [50, 2.5, 0, 73, 25, -18, 27.1492],
        [50, 2.5, 0, 61, -5, 29, 22.8977],
        [50, 2.5, 0, 56, -27, -3, 31.9030],
        [50, 2.5, 0, 58, 24, 15, 19.4535],
        [50, 2.5, 0, 50, 3.1736, 0.5854, 1.0000],
        [50, 2.5, 0, 50, 3.2972, 0, 1.0000],
        [50, 2.5, 0, 50, 1.8634, 0.5757, 1.0000],
        [50, 2.5, 0, 50, 3.2592, 0.3350, 1.0000],
        [60.2574, -34.0099, 36.2677, 60.4626, -34.1751, 39.4387, 1.2644],
        [63.0109, -31.0961, -5.8663, 62.8187, -29.7946, -4.0864, 1.2630],
        [61.2901, 3.7196, -5.3901, 61.4292, 2.2480, -4.9620, 1.8731],
        [35.0831, -44.1164, 3.7933, 35.0232, -40.0716, 1.5901, 1.8645],
        [22.7233, 20.0904, -46.6940, 23.0331, 14.9730, -42.5619, 2.0373],
        [36.4612, 47.8580, 18.3852, 36.2715, 50.5065, 21.2231, 1.4146],
        [90.8027, -2.0831, 1.4410, 91.1528, -1.6435, 0.0447, 1.4441],
        [90.9257, -0.5406, -0.9208, 88.6381, -0.8985, -0.7239, 1.5381],
        [6.7747, -0.2908, -2.4247, 5.8714, -0.0985, -2.2286, 0.6377],
        [2.0776, 0.0795, -1.1350, 0.9033, -0.0636, -0.5514, 0.9082],
    ]
)


class PublishedPairs(unittest.TestCase):
    def test_all_34_pairs_to_four_places(self):
        self.assertEqual(len(PAIRS), 34)
        np.testing.assert_allclose(ciede2000(PAIRS[:, 3:6], PAIRS[:, :3]), PAIRS[:, 6], atol=1e-4)

    def test_symmetric(self):
        np.testing.assert_allclose(ciede2000(PAIRS[:, :3], PAIRS[:, 3:6]), PAIRS[:, 6], atol=1e-4)

    def test_vector_has_the_same_length_and_keeps_the_sign_of_lightness(self):
        vector = ciede2000_vector(PAIRS[:, 3:6], PAIRS[:, :3])
        np.testing.assert_allclose(np.linalg.norm(vector, axis=1), PAIRS[:, 6], atol=1e-4)
        moved = PAIRS[:, 3] != PAIRS[:, 0]
        self.assertTrue((np.sign(vector[moved, 0]) == np.sign(PAIRS[moved, 3] - PAIRS[moved, 0])).all())


class Opposite(unittest.TestCase):
    def test_exactly_opposite_hues_are_as_far_apart_both_ways(self):
        """Between such hues lies the one a quarter turn up from the lower angle (CIE 142: half the sum of both)."""
        for a, b in ((30, 40), (-90, 40), (-90, -40), (60, 0), (0, -50), (-20, 0.5)):
            for stretch in (1, 2):
                there, back = (50, a, b), (60, -stretch * a, -stretch * b)
                self.assertAlmostEqual(float(ciede2000(there, back)), float(ciede2000(back, there)), places=9)
                # A hair to either side of opposite it is one of two values; the one between is the upper's.
                angle = np.arctan2(b, a) % np.pi
                h1, h2 = angle, angle + np.pi - 1e-7
                c1 = np.hypot(a, b) * (1 if np.arctan2(b, a) % (2 * np.pi) < np.pi else stretch)
                c2 = np.hypot(a, b) * (stretch if np.arctan2(b, a) % (2 * np.pi) < np.pi else 1)
                near = ciede2000((50, c1 * np.cos(h1), c1 * np.sin(h1)), (60, c2 * np.cos(h2), c2 * np.sin(h2)))
                self.assertAlmostEqual(float(ciede2000(there, back)), float(near), places=3)

    def test_greys_and_the_same_colour(self):
        self.assertEqual(float(ciede2000((50, 20, -30), (50, 20, -30))), 0.0)
        self.assertEqual(float(ciede2000((50, 0, 0), (50, 0, 0))), 0.0)
        self.assertAlmostEqual(float(ciede2000((50, 0, 0), (50, 3, 4))), float(ciede2000((50, 3, 4), (50, 0, 0))))


class AgainstColourScience(unittest.TestCase):
    def test_random_colours(self):
        rng = np.random.default_rng(1)
        one = rng.uniform([0, -90, -90], [100, 90, 90], (500, 3))
        two = one + rng.normal(0, 8, one.shape)
        np.testing.assert_allclose(ciede2000(two, one), colour.delta_E(one, two, method="CIE 2000"), atol=1e-6)
