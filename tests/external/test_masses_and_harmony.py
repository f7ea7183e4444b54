"""Thresholds against scikit-image's multi-Otsu; schemes against hue distributions with known answers.

Sources: Liao, Chen and Chung 2001, J. Inf. Sci. Eng. 17 (multi-Otsu, as in scikit-image); Otsu 1979; the synthetic
sets follow the templates of traditional colour teaching (common practice, no source).
"""

import unittest

import numpy as np
from skimage.filters import threshold_multiotsu

from ochre_stone.core.harmony import schemes
from ochre_stone.core.masses.thresholds import BINS, TOP, histogram, optimal_cuts, within_variance
from tests.helpers import demo_picture


class Thresholds(unittest.TestCase):
    def values(self) -> np.ndarray:
        from ochre_stone.core.colour.munsell import value_of_lightness
        from ochre_stone.core.picture.picture import linear_to_lab

        return np.asarray(value_of_lightness(linear_to_lab(demo_picture().reduced(60_000))[..., 0]))

    def test_never_worse_than_multi_otsu(self):
        value = self.values()
        counts = histogram(value)
        quantised = (np.clip(value * BINS / TOP, 0, BINS - 1).astype(int) + 0.5) * TOP / BINS
        cuts = optimal_cuts(counts, 4)
        for k in (2, 3, 4):
            reference = threshold_multiotsu(quantised, classes=k, nbins=BINS)
            ours = within_variance(counts, cuts[k])
            theirs = within_variance(counts, reference + TOP / BINS / 2)
            self.assertLessEqual(ours, theirs + 1e-9, k)
            self.assertAlmostEqual(ours, theirs, delta=0.002 * theirs, msg=str(k))

    def test_exact_against_exhaustive_search(self):
        """Every way to cut a small histogram in three."""
        rng = np.random.default_rng(0)
        for _ in range(5):
            counts = rng.integers(0, 50, 24).astype(float)
            best = min(
                within_variance(counts, [a * TOP / 24, b * TOP / 24])
                for a in range(1, 23) for b in range(a + 1, 24)
            )  # fmt: skip
            self.assertAlmostEqual(within_variance(counts, optimal_cuts(counts, 3)[3]), best, places=9)

    def test_more_values_leave_less_error(self):
        counts = histogram(self.values())
        cuts = optimal_cuts(counts, 9)
        errors = [within_variance(counts, cuts[k]) for k in range(2, 10)]
        self.assertEqual(errors, sorted(errors, reverse=True))


def synthetic(name: str, rng: np.random.Generator, noise: float, hard: bool = False) -> np.ndarray:
    """A hue histogram of a known scheme at a random turn: arms of random weight and width, a floor of stray hues."""
    arms = np.array(schemes.OFFSETS[name])
    if hard:
        arms = arms + rng.normal(0, 6, len(arms))
    weight = np.maximum(rng.dirichlet([3] * len(arms)), 0.1)
    weight /= weight.sum()
    if name == "accented-analogous":
        weight = np.concatenate([weight[:3] / weight[:3].sum() * 0.82, [0.18]])
    turn, width = rng.random() * 360, rng.uniform(5, 16) if hard else 8.0
    hues = [
        turn + a + rng.normal(0, 3) + rng.normal(0, width, max(int(3000 * w), 1))
        for a, w in zip(arms, weight, strict=True)
    ]
    hues.append(rng.random(int(noise * 3000)) * 360)
    counts = np.histogram(np.concatenate(hues) % 360, schemes.BINS, (0, 360))[0].astype(float)
    return counts / counts.sum()


class Schemes(unittest.TestCase):
    def right(self, hard: bool, count: int) -> float:
        rng = np.random.default_rng(2)
        hits = 0
        for name in schemes.OFFSETS:
            for _ in range(count):
                noise = rng.uniform(0.05, 0.35) if hard else 0.1
                hits += schemes.fit(synthetic(name, rng, noise, hard))[0].name == name
        return hits / (count * len(schemes.OFFSETS))

    def test_easy_set(self):
        self.assertGreaterEqual(self.right(False, 25), 0.97)

    def test_hard_set(self):
        self.assertGreaterEqual(self.right(True, 40), 0.80)

    def test_wide_schemes_do_not_win_for_being_wide(self):
        rng = np.random.default_rng(7)
        for _ in range(20):
            even = np.histogram(rng.random(3000) * 360, schemes.BINS, (0, 360))[0] / 3000
            self.assertEqual(schemes.fit(even)[0].name, "none")

    def test_rotation_is_found(self):
        rng = np.random.default_rng(3)
        for turn in (0, 45, 200, 355):
            hues = (turn + rng.normal(0, 6, 2000)) % 360
            found = schemes.fit(np.histogram(hues, schemes.BINS, (0, 360))[0].astype(float))[0]
            self.assertEqual(found.name, "monochrome")
            self.assertLessEqual(abs((found.rotation - turn + 180) % 360 - 180), 5)
