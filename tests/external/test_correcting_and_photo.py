"""Correcting and the photo of the palette against things outside the program.

Sources: chi-square's quantiles (SciPy; Abramowitz and Stegun 1964, table 26.8, from memory: three degrees of freedom,
.8: 4.64); the projective transform of scikit-image; all permutations in place of the assignment; colour-science's
observer, illuminant and CIEDE2000 for the painter's own forward optics. "Warm is toward orange, cool toward blue",
"white makes chalky: lighter, greyer, cooler" are common practice, no source.
"""

import itertools
import unittest

import numpy as np
import scipy.stats
from skimage.transform import ProjectiveTransform

from ochre_stone.core.boardphoto.layout import Expected, Layout, SeenRegion
from ochre_stone.core.boardphoto.naming import cost_of, name_all
from ochre_stone.core.boardphoto.square import Squared
from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import lch
from ochre_stone.core.mixing.correcting.belief import four_in_five
from ochre_stone.core.mixing.correcting.words import seen_as
from ochre_stone.core.paint.optics import layer_lab
from ochre_stone.core.paint.palettes import palette
from tests.support.truth import Truth, difference, lab_of


class FourInFive(unittest.TestCase):
    def test_chi_square(self):
        self.assertAlmostEqual(scipy.stats.chi2.ppf(0.8, 3), 4.64, places=2)
        for alike in (1, 2, 3):
            V = np.diag([1.0] * alike + [0.0] * (3 - alike))
            self.assertAlmostEqual(four_in_five(V), float(np.sqrt(scipy.stats.chi2.ppf(0.8, alike))), delta=0.02)


class ThePhoto(unittest.TestCase):
    def test_squaring_up_is_the_projective_transform(self):
        corners = np.array([[210.0, 180], [1830, 240], [1740, 1390], [150, 1290]])
        squared = Squared.of(np.zeros((800, 1000, 3), np.uint8), corners, 40.0, 30.0)
        theirs = ProjectiveTransform.from_estimate(corners, np.array([[0.0, 0], [40, 0], [40, 30], [0, 30]]))
        points = np.random.default_rng(1).uniform(200, 1300, (20, 2))
        np.testing.assert_allclose(squared.to_board(points), theirs(points), atol=0.02)
        np.testing.assert_allclose(squared.to_photo(squared.to_board(points)), points, atol=0.05)

    def test_names_are_the_cheapest_of_all_permutations(self):
        """Five piles and five plans, all at their places but for chance: no permutation costs less."""
        rng = np.random.default_rng(4)
        for _ in range(5):
            at, lab = rng.uniform(3, 20, (5, 2)), rng.uniform([30, -20, -20], [80, 20, 20], (5, 3))
            plan = Layout(24, 24, tuple(Expected(str(k), tuple(lab[k].tolist()), *at[k], 1.2) for k in range(5)))
            where, seen_lab = at + rng.normal(0, 0.4, (5, 2)), lab + rng.normal(0, 1.5, (5, 3))
            piles = [SeenRegion(k, *where[k], 1.2, tuple(seen_lab[k].tolist()), 1.0, 0.0, 0.5) for k in range(5)]
            got = [p.id for p in name_all(piles, plan)]

            def cost(order, where=where, at=at, seen_lab=seen_lab, lab=lab):
                off = ciede2000(seen_lab, lab[list(order)]) / 3
                return float((off**2).sum() + (((where - at[list(order)]) / 0.5) ** 2).sum())

            best = min(itertools.permutations(range(5)), key=cost)
            self.assertEqual(got, [str(k) for k in best])
            self.assertGreater(cost_of(piles[:4], plan), cost_of(piles, plan) - 20)


class ThePainter(unittest.TestCase):
    def test_its_optics_are_ours_where_its_tubes_are(self):
        """Written apart, by colour-science's tables: the same colours within a fifth of a CIEDE2000."""
        tubes = palette("portrait-ten").tubes
        K, S = np.stack([t.K for t in tubes]), np.stack([t.S for t in tubes])
        shares = np.random.default_rng(2).dirichlet(np.ones(len(tubes)), 30)
        for c in shares:
            self.assertLess(difference(lab_of(c @ K, c @ S), layer_lab(c @ K, c @ S)), 0.2)

    def test_its_tubes_are_not_what_their_data_say(self):
        tubes = palette("portrait-ten").tubes
        off, others = [], 0
        for seed in range(8):
            truth = Truth(tubes, np.random.default_rng(seed))
            others += len(truth.other)
            for t in tubes:
                other = {"titanium-white": 3.0, t.id: 1.0 + 3.0 * t.is_white}
                c = np.array([other.get(u.id, 0.0) for u in tubes])
                K, S = np.stack([u.K for u in tubes]), np.stack([u.S for u in tubes])
                off.append(difference(truth.lab(other), layer_lab(c @ K / c.sum(), c @ S / c.sum())))
        self.assertTrue(2.0 < np.median(off) < 8.0, np.median(off))
        self.assertTrue(0.08 < others / (8 * len(tubes)) < 0.35)


class Words(unittest.TestCase):
    def test_warm_and_cool_and_chalky(self):
        grey = (55.0, 0.0, 0.0)
        warm, cool, milk = (seen_as(grey, [(w, "clearly")])[0] for w in ("too warm", "too cool", "too chalky"))
        self.assertTrue(30 < lch(np.array(warm))[2] < 90)
        self.assertTrue(210 < lch(np.array(cool))[2] < 270)
        self.assertGreater(milk[0], 55)
        self.assertLess(milk[2], 0)


if __name__ == "__main__":
    unittest.main()
