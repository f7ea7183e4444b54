"""Few colours for many, what they leave over, and the words for it."""

import itertools
import unittest

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.keys.cover import CAP, LeftOver, left_over, medoids, nearest


class Coverage(unittest.TestCase):
    def test_words_by_what_is_left(self):
        self.assertEqual(
            LeftOver(3.9, 8.9).words(12),
            "12 notes cover the picture closely: a typical spot lies a touch of paint away (4), even the least covered "
            "twentieth is near one (9).",
        )
        for mean, said, away in (
            (4.0, "cover the picture well", "a small correction away"),
            (6.0, "cover most of the picture", "a clear correction away"),
            (9.0, "leave much of the picture uncovered", "another pile away"),
        ):
            words = LeftOver(mean, 9.0).words(1)
            self.assertTrue(words.startswith(f"1 note {said}: a typical spot lies {away} "), words)
        self.assertIn("needs a correction of its pile (9)", LeftOver(4, 9.0).words(2))
        self.assertIn("needs a correction of its pile (14)", LeftOver(4, 13.9).words(2))
        self.assertIn("look for small accents (14)", LeftOver(4, 14.0).words(2))

    def test_left_over_is_mean_and_95th_of_the_nearest(self):
        lab = np.zeros((10, 10, 3), np.float32)
        lab[..., 0] = 50
        lab[:1] = (60, 0, 0)
        found = left_over(lab, np.array([[50.0, 0, 0]]))
        far = left_over(lab[:1], np.array([[50.0, 0, 0]])).mean
        self.assertGreater(far, 8)
        self.assertAlmostEqual(found.mean, far / 10)
        self.assertAlmostEqual(found.p95, far)

    def test_every_pixel_goes_to_its_nearest(self):
        lab = np.repeat(np.array([[[20, 0, 0], [50, 30, 10], [80, 0, 30]]], np.float32), 5, axis=1)
        self.assertEqual(
            nearest(lab, np.array([[82.0, 0, 30], [22, 0, 0], [50, 28, 10]])).tolist(), [[1] * 5 + [2] * 5 + [0] * 5]
        )


class Medoids(unittest.TestCase):
    def test_swaps_come_within_a_little_of_exhaustive_search(self):
        rng = np.random.default_rng(4)
        ratios = []
        for _ in range(30):
            colours = rng.uniform((20, -40, -40), (90, 40, 40), (11, 3))
            weight = rng.uniform(0.1, 1, 11)
            gap = np.minimum(np.stack([ciede2000(colours, c) for c in colours], axis=1), CAP)

            def cost(which: tuple[int, ...], gap: np.ndarray = gap, weight: np.ndarray = weight) -> float:
                return float((weight * gap[:, list(which)].min(axis=1)).sum())

            best = min(cost(c) for c in itertools.combinations(range(11), 4))
            found = medoids(colours, weight, 4, np.ones(11, bool))
            self.assertEqual(len(set(found.tolist())), 4)
            ratios.append(cost(tuple(found.tolist())) / best)
        self.assertLess(max(ratios), 1.12)
        self.assertGreater(sum(r < 1.0001 for r in ratios), 20)

    def test_only_those_that_may(self):
        colours = np.array([[20.0, 0, 0], [50, 0, 0], [80, 0, 0]])
        may = np.array([True, False, True])
        self.assertEqual(sorted(medoids(colours, np.ones(3), 3, may).tolist()), [0, 2])
        self.assertEqual(medoids(colours, np.ones(3), 2, np.zeros(3, bool)).tolist(), [])

    def test_what_stands_is_not_chosen_again(self):
        colours = np.array([[20.0, 0, 0], [50, 0, 0], [80, 0, 0]])
        weight = np.array([5.0, 1.0, 2.0])
        self.assertEqual(medoids(colours, weight, 1, np.ones(3, bool)).tolist(), [0])
        fixed = np.array([[20.0, 0, 0]])
        self.assertEqual(medoids(colours, weight, 1, np.ones(3, bool), None, fixed).tolist(), [2])
