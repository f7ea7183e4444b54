"""Areas, lines, two colours in one, and what surrounds a spot."""

import unittest

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import lch
from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture.balance import Balance, as_rows
from ochre_stone.core.picture.sampling import area_region, around, gradation, look_at, sample, spot_region, two_colours
from tests.support.made import blocks, orchard, picture

RED_BLUE = picture(blocks((200, 60, 60), (60, 60, 200), side=100))


def ramp() -> np.ndarray:
    across = np.linspace(40, 220, 300)
    return np.repeat(np.repeat(across[None, :, None], 120, axis=0), 3, axis=2).astype(np.uint8)


class Areas(unittest.TestCase):
    def test_only_what_is_inside_counts(self):
        triangle = area_region(RED_BLUE, [(5, 5), (95, 5), (5, 95)])
        self.assertAlmostEqual(int(triangle.inside.sum()), 90 * 90 / 2, delta=150)
        seen = look_at(RED_BLUE, triangle)
        self.assertLess(seen.spread, 0.1)
        self.assertIsNone(seen.pair)

    def test_partly_outside_is_fine_wholly_is_not(self):
        self.assertGreater(int(area_region(RED_BLUE, [(-50, -50), (40, -50), (40, 40), (-50, 40)]).inside.sum()), 1000)
        for wrong in ([(5, 5), (9, 9)], [(900, 900), (950, 900), (950, 950)], [(5, 5), (5.2, 5), (5, 5.2)]):
            with self.assertRaises(OchreError):
                area_region(RED_BLUE, wrong)

    def test_nothing_is_lighter_than_white(self):
        """Exposure raised four stops, in colour and in grey: held at white, hue kept."""
        bright = Balance(as_rows(np.eye(3) * 16))
        for x in (50, 150):
            seen = sample(RED_BLUE, x, 50, 9, bright)
            plain = sample(RED_BLUE, x, 50, 9)
            self.assertLessEqual(seen.lab[0], 100.01)
            self.assertGreater(seen.lab[0], plain.lab[0])
            turned = float(lch(np.array(seen.lab))[2]) - float(lch(np.array(plain.lab))[2])
            self.assertLess(abs((turned + 180) % 360 - 180), 1)
            self.assertTrue(max(map(abs, seen.lab[1:])) < 300)

    def test_a_huge_area_is_thinned_not_slow_and_stays_true(self):
        big = picture(np.repeat(np.repeat(orchard(), 8, axis=0), 8, axis=1))
        seen = look_at(big, area_region(big, [(10, 10), (2500, 10), (2500, 850), (10, 850)]))
        near = look_at(picture(orchard()), area_region(picture(orchard()), [(1, 1), (312, 1), (312, 106), (1, 106)]))
        self.assertLess(float(ciede2000(np.array(seen.lab), np.array(near.lab))), 0.6)


class TwoColours(unittest.TestCase):
    def test_both_are_named_with_their_shares(self):
        seen = look_at(RED_BLUE, area_region(RED_BLUE, [(70, 10), (190, 10), (190, 90), (70, 90)]))
        assert seen.pair is not None
        self.assertAlmostEqual(seen.pair[0].share, 0.75, delta=0.02)
        self.assertLess(seen.pair[0].lab[2], 0, "the larger part is blue")
        for part, x in zip(seen.pair, (150, 50), strict=True):
            self.assertLess(float(ciede2000(np.array(part.lab), np.array(sample(RED_BLUE, x, 50, 9).lab))), 0.3)

    def test_gradations_noise_and_rare_specks_are_one_colour(self):
        rng = np.random.default_rng(3)
        self.assertIsNone(sample(picture(ramp()), 150, 60, 101).pair)
        self.assertIsNone(two_colours(np.array([60, 10, 10]) + rng.normal(0, 4, (2000, 3))))
        specks = np.tile([60.0, 10, 10], (1000, 1))
        specks[:60] = (20, 40, -30)
        self.assertIsNone(two_colours(specks))
        self.assertIsNone(two_colours(specks[:5]))

    def test_near_colours_are_one(self):
        lab = np.tile([60.0, 10, 10], (1000, 1))
        lab[500:] += (3, 2, 0)
        self.assertIsNone(two_colours(lab))

    def test_how_many_may_lie_between(self):
        """A tenth between three and seven tenths of the way makes it a gradation; nearer to an end it is noise."""
        ends = [[30.0, 0, 0]] * 440 + [[70.0, 0, 0]] * 440
        for place, pair in ((0.25, True), (0.33, False), (0.5, False), (0.67, False), (0.75, True)):
            lab = np.array([*ends, *[[30.0 + 40 * place, 0, 0]] * 120])
            found = two_colours(lab)
            self.assertEqual(found is not None, pair, place)
            if found is not None:
                self.assertEqual(sorted(round(p.lab[0]) for p in found), [30, 70])
                self.assertAlmostEqual(sum(p.share for p in found), 1.0)


class Lines(unittest.TestCase):
    def test_a_gradation_has_two_ends_and_a_smooth_way(self):
        seen = gradation(picture(ramp()), (10, 60), (290, 60), 9)
        self.assertTrue(seen.smooth)
        self.assertGreater(seen.end.lab[0] - seen.start.lab[0], 50)
        way = [c[0] for c in seen.profile]
        self.assertEqual(way, sorted(way))

    def test_an_edge_is_no_gradation(self):
        self.assertFalse(gradation(RED_BLUE, (10, 50), (190, 50), 9).smooth)
        self.assertTrue(gradation(RED_BLUE, (10, 50), (90, 50), 9).smooth, "an even colour is smooth")

    def test_too_short_or_outside(self):
        for ends in (((5, 5), (8, 8)), ((5, 5), (500, 5))):
            with self.assertRaises(OchreError):
                gradation(RED_BLUE, *ends, 9)


class Around(unittest.TestCase):
    def test_the_ring_sees_the_neighbour_not_the_spot(self):
        pixels = np.full((200, 200, 3), (60, 60, 200), np.uint8)
        pixels[80:120, 80:120] = (200, 60, 60)
        p = picture(pixels)
        ring = around(p, area_region(p, [(80, 80), (120, 80), (120, 120), (80, 120)]), 30)
        blue = sample(p, 20, 20, 9).lab
        self.assertLess(float(ciede2000(np.array(ring), np.array(blue))), 1.5)

    def test_at_the_corner_and_for_every_size(self):
        p = picture(orchard())
        for x, y, aperture, reach in ((0, 0, 1, 3), (319, 239, 101, 400), (160, 120, 15, 30)):
            self.assertTrue(np.isfinite(around(p, spot_region(p, x, y, aperture), reach)).all())
