"""Places on the palette, unmixed strokes, glazes, shadows worked out, and how much paint."""

import unittest

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.relations import warmth
from ochre_stone.core.colour.spaces import lab_to_xyz
from ochre_stone.core.mixing.session.amounts import Amounts, grams, shopping
from ochre_stone.core.mixing.session.layout import lay_out, radius_cm
from ochre_stone.core.mixing.strings.shadowlight import estimate
from ochre_stone.core.mixing.technique.glazes import (
    MEDIUM,
    coat,
    ground_of,
    is_transparent,
    plan_glaze,
    underpainting,
    white_ground,
)
from ochre_stone.core.mixing.technique.loose import alive_grey, at_value, average, loosely
from ochre_stone.core.paint.optics import reflectance_to_lab, seen_through_surface
from ochre_stone.core.paint.palettes import palette
from ochre_stone.core.paint.tubes import tube

PORTRAIT = palette("portrait-ten").tubes


class Layout(unittest.TestCase):
    def setUp(self):
        self.piles = {
            f"p{k}": ((L, *hue), 4.0)
            for k, (L, hue) in enumerate((L, h) for L in (30, 50, 70) for h in ((20, 30), (0, 0), (-5, -25)))
        }
        self.board = lay_out(self.piles, {t.id: t.lab for t in PORTRAIT}, 40, 30)

    def test_apart_and_inside(self):
        self.assertTrue(self.board.fits, self.board.words)
        spots = self.board.spots
        for i, a in enumerate(spots):
            for b in spots[i + 1 :]:
                self.assertGreater(np.hypot(a.x - b.x, a.y - b.y), a.radius + b.radius)

    def test_light_above_warm_left_neutral_between(self):
        at = {s.id: s for s in self.board.spots}
        for column in range(3):
            y = [at[f"p{3 * row + column}"].y for row in range(3)]
            self.assertEqual(y, sorted(y, reverse=True))
        for row in range(3):
            x = [at[f"p{3 * row + column}"].x for column in range(3)]
            self.assertEqual(x, sorted(x))
        dabs = sorted(self.board.dabs, key=lambda d: d.x)
        warm = [warmth(tube(d.id).lab) for d in dabs]
        self.assertEqual(warm, sorted(warm, reverse=True))

    def test_too_much_for_a_small_palette_is_said(self):
        crowded = lay_out({f"q{k}": ((50.0, 0.0, 0.0), 60.0) for k in range(9)}, {}, 12, 10)
        self.assertFalse(crowded.fits)
        self.assertIn("too many", crowded.words)
        self.assertTrue(lay_out({}, {}, 20, 20).fits)
        with self.assertRaises(ValueError):
            lay_out({}, {}, 0, 20)

    def test_a_dome_holds_its_paint(self):
        """Volume of a cap of radius r and height .4 r, by geometry: pi h (3 r2 + h2) / 6."""
        r = radius_cm(6.0)
        h = 0.4 * r
        self.assertAlmostEqual(np.pi * h * (3 * r**2 + h**2) / 6, 6.0)


class Luminous(unittest.TestCase):
    def test_light_adds_up_by_area(self):
        """Grassmann's additivity: the average is linear in XYZ (CIE 15)."""
        red, green = (50.0, 60.0, 40.0), (50.0, -50.0, 40.0)
        seen = average([red, green], [1, 3])
        np.testing.assert_allclose(
            lab_to_xyz(np.array(seen)), lab_to_xyz(np.array(red)) * 0.25 + lab_to_xyz(np.array(green)) * 0.75, atol=1e-9
        )
        with self.assertRaises(ValueError):
            average([red, green], [1, 0])

    def test_parents_stand_at_one_value(self):
        parents = at_value(PORTRAIT, 55.0)
        self.assertGreater(len(parents), 5)
        for p in parents:
            self.assertAlmostEqual(p.lab[0], 55.0, delta=0.7)
            self.assertAlmostEqual(sum(c for _, c in p.shares), 1.0)

    def test_loose_is_near_and_livelier_than_stirred(self):
        found = loosely((55, 4, 6), PORTRAIT)
        self.assertTrue(found)
        self.assertLess(float(ciede2000(np.array(found[0].loose), np.array([55.0, 4, 6]))), 4)
        for pair in found:
            self.assertAlmostEqual(pair.loose[0], 55, delta=2.0)
        stirred = loosely((55, 12, 20), PORTRAIT, stirred=True)
        self.assertLess(float(ciede2000(np.array(stirred[0].full), np.array([55.0, 12, 20]))), 4)

    def test_bits_that_grey_lie_across(self):
        for p in alive_grey((60, 25, 30), PORTRAIT):
            self.assertLess(np.dot(p.lab[1:], (25, 30)), 0)
            self.assertAlmostEqual(p.lab[0], 60, delta=0.7)
        self.assertEqual(alive_grey((60, 0, 0), PORTRAIT), [])


class Glazes(unittest.TestCase):
    def test_films_only_take_light_away_from_a_white_ground(self):
        ground = white_ground()
        for t in filter(is_transparent, PORTRAIT):
            R = ground
            for _ in range(4):
                new = coat(t, 9, 12, R)
                self.assertTrue((new <= R + 0.02).all(), t.id)
                R = new

    def test_two_coats_are_one_twice_as_thick(self):
        """Films of one paint in optical contact add up in thickness (Kubelka 1948)."""
        t, ground = tube("burnt-sienna"), white_ground()
        np.testing.assert_allclose(coat(t, 9, 12, coat(t, 9, 12, ground)), coat(t, 9, 24, ground), atol=1e-9)
        np.testing.assert_allclose(coat(t, 9, 0, ground), ground, atol=1e-12)

    def test_a_colour_that_a_glaze_makes_is_found_again(self):
        t, ground = tube("alizarin-crimson"), white_ground()
        goal = reflectance_to_lab(seen_through_surface(coat(t, MEDIUM[1], 12.0, ground)))
        best = plan_glaze(goal, ground, PORTRAIT)[0]
        self.assertLess(best.off, 1.0)
        self.assertLessEqual(len(best.coats), 4)

    def test_underpainting_is_lighter_and_nearer_than_white(self):
        for target in ((45.0, 30.0, 25.0), (30.0, -10.0, 15.0)):
            shares, glaze = underpainting(target, PORTRAIT)
            self.assertAlmostEqual(sum(c for _, c in shares), 1.0, delta=0.05)
            self.assertGreater(glaze.under[0], target[0])
            self.assertLess(glaze.off, 4.0)

    def test_a_toned_ground(self):
        for lab in ((62.0, 12.0, 34.0), (42.0, 18.0, 22.0), (95.0, 0.0, 2.0)):
            R = ground_of(lab, PORTRAIT)
            seen = reflectance_to_lab(seen_through_surface(R))
            self.assertLess(np.linalg.norm(seen - np.array(lab)), 5.0)
            best = plan_glaze((lab[0] - 12, lab[1] + 4, lab[2]), R, PORTRAIT)[0]
            self.assertLess(best.coats[0].lab[0], seen[0] + 0.5)

    def test_none_without_transparent_tubes(self):
        opaque = [tube("titanium-white"), tube("yellow-ochre"), tube("cadmium-red")]
        self.assertEqual(plan_glaze((50, 20, 20), white_ground(), opaque), [])
        self.assertIsNone(underpainting((50, 20, 20), opaque))
        with self.assertRaises(ValueError):
            plan_glaze((50, 0, 0), white_ground(), PORTRAIT, most=9)


class Shadows(unittest.TestCase):
    def test_the_lights_behind_pairs_are_found_again(self):
        """Surfaces lit by a known sun and sky: the ratio of the two comes back from the notes."""
        from ochre_stone.core.colour.spaces import BRADFORD, xyz_to_lab

        ratio = np.array([0.14, 0.18, 0.27])  # bluer, 2.5 stops lower
        pairs = []
        for xyz in ((0.3, 0.3, 0.2), (0.5, 0.55, 0.6), (0.2, 0.15, 0.1)):
            cones = BRADFORD @ np.array(xyz)
            dark = np.linalg.inv(BRADFORD) @ (cones * ratio)
            pairs.append((tuple(xyz_to_lab(np.array(xyz))), tuple(xyz_to_lab(dark))))
        found = estimate(pairs)
        np.testing.assert_allclose(found.ratio, ratio, rtol=1e-6)
        self.assertIn("cooler", found.words)
        self.assertAlmostEqual(found.spread, 0.0, places=6)
        np.testing.assert_allclose(found.cast_shadow(pairs[1][0]), pairs[1][1], atol=1e-6)

    def test_what_a_form_shadow_faces_comes_back(self):
        found = estimate([((70, 5, 10), (40, 4, 2))])
        grey = (65.0, 0.0, 0.0)
        alone, facing = found.form_shadow(grey), found.form_shadow(grey, (60.0, 30.0, 40.0))
        self.assertGreater(facing[0], alone[0])
        self.assertGreater(facing[2] - alone[2], 2)  # the warm floor's yellow
        self.assertLess(facing[0], grey[0])

    def test_no_pair_no_light(self):
        self.assertIsNone(estimate([]))
        self.assertIsNone(estimate([((40, 0, 0), (60, 0, 0))]))


class HowMuch(unittest.TestCase):
    def test_what_is_short(self):
        needed = Amounts({}, {}, {"titanium-white": 60.0, "yellow-ochre": 5.0, "raw-umber": 3.0})
        rows = shopping(needed, {"titanium-white": 15.0, "yellow-ochre": 5.0})
        self.assertEqual(
            [(r.tube, round(r.short, 1), r.to_buy()) for r in rows],
            [("titanium-white", 45.0, 2), ("raw-umber", 3.0, 1)],
        )
        self.assertIsNone(rows[1].stock)

    def test_weight(self):
        self.assertAlmostEqual(grams(10, tube("titanium-white")), 10 * tube("titanium-white").density)


if __name__ == "__main__":
    unittest.main()
