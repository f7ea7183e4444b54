"""Value schools, hue with neighbours, complements, lean, warm and cool, two colours compared, simultaneous contrast."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from ochre_stone.core.colour.appearance import Appearance, Conditions, appearance, xyz_of
from ochre_stone.core.colour.contrast import seen_against
from ochre_stone.core.colour.munsell import munsell_to_lab
from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.relations import compare, complement, hue_phrase, lean, warmer, warmth
from ochre_stone.core.colour.schools import SCHOOLS, School, key_of, school_of
from ochre_stone.core.colour.spaces import lab_to_xyz
from ochre_stone.core.colour.wheel import WHEEL_STEPS, wheel


def on_wheel(angle: float, lightness: float = 60.0, chroma: float = 45.0) -> tuple[float, float, float]:
    """A colour at an angle of the traditional wheel."""
    hue = np.radians(float(wheel("traditional").lab_hue(angle)))
    return lightness, chroma * float(np.cos(hue)), chroma * float(np.sin(hue))


def of(hue: float, value: float, chroma: float) -> tuple[float, float, float]:
    L, a, b = munsell_to_lab(hue, value, chroma).tolist()
    return L, a, b


class Schools(unittest.TestCase):
    @given(st.sampled_from(SCHOOLS), st.floats(0, 10))
    def test_places_go_both_ways(self, s, value):
        self.assertAlmostEqual(s.munsell(s.place(value)), value, delta=1e-9)

    def test_reversed_scales_mirror_each_other(self):
        for n in (5, 6, 9, 10):
            black, white = School(n), School(n, True)
            for v in np.linspace(0.3, 9.7, 40):
                self.assertAlmostEqual(black.place(v) + white.place(v), n + 1)
            self.assertEqual((black.step(0.2), black.step(9.9)), (1, n))
            self.assertEqual((white.step(0.2), white.step(9.9)), (n, 1))

    def test_numbers(self):
        self.assertEqual(School().number(6.34), "6.3")
        nine = School(9)
        self.assertEqual([nine.number(v) for v in (5.0, 5.4, 4.6, 5.1)], ["5", "5+", "5−", "5"])
        self.assertEqual(School(9, True).number(2.0), "8")
        self.assertEqual(School(9, True).number(2.4), "8+", "+ is lighter, whichever way it is counted")
        self.assertEqual(School(5).difference(-2.0), "1.2")

    def test_keys(self):
        for s in SCHOOLS:
            self.assertEqual(school_of(key_of(s)), s)
        self.assertEqual(school_of("nonsense"), School())
        with self.assertRaises(ValueError):
            School(7)


class Hue(unittest.TestCase):
    def test_each_step_names_itself(self):
        for i, word in enumerate(WHEEL_STEPS):
            self.assertEqual(hue_phrase(on_wheel(30.0 * i)), word)

    def test_neighbours_and_how_far(self):
        self.assertEqual(hue_phrase(on_wheel(60 - 10)), "orange, a third toward red-orange")
        self.assertEqual(hue_phrase(on_wheel(60 + 7.5)), "orange, a quarter toward yellow-orange")
        self.assertIn("half way toward", hue_phrase(on_wheel(75)))
        self.assertEqual(hue_phrase((50, 0.5, 0.5)), "neutral")

    def test_perceptual_wheel(self):
        self.assertEqual(hue_phrase(of(15, 5, 8), "perceptual"), "yellow-red")
        self.assertEqual(hue_phrase(of(65, 5, 8), "perceptual"), "blue")
        self.assertIn("a quarter toward yellow-red", hue_phrase(of(7.5, 5, 8), "perceptual"))

    def test_complements(self):
        for angle, word in ((0, "green"), (120, "violet"), (60, "blue"), (30, "blue-green")):
            self.assertEqual(complement(on_wheel(angle)), word)
        self.assertEqual(complement(of(5, 5, 8), "perceptual"), "blue-green (5BG)")
        self.assertEqual(complement((50, 0, 0)), "")


class Beside(unittest.TestCase):
    def test_lean(self):
        self.assertIn("more yellow", lean(on_wheel(75), on_wheel(50)))
        self.assertIn("more red", lean(on_wheel(45), on_wheel(70)))
        self.assertIn("more blue", lean(on_wheel(225), on_wheel(190)))
        self.assertEqual(lean(on_wheel(60), on_wheel(60)), "the same in hue")

    def test_both_schools_of_warm_blues(self):
        """Ultramarine leans red, cerulean leans green, cobalt lies between."""
        ultramarine, cobalt, cerulean = on_wheel(258, 35), on_wheel(242, 40), on_wheel(222, 50)
        self.assertIn("warmer", warmer(ultramarine, cerulean, "leans-red"))
        self.assertIn("warmer", warmer(cobalt, ultramarine, "near-yellow"))
        self.assertIn("warmer", warmer(cerulean, ultramarine, "near-yellow"))
        for s in ("leans-red", "near-yellow"):
            self.assertGreater(warmth(on_wheel(50), s), 0)
            self.assertLess(warmth(on_wheel(235), s), 0)
            self.assertEqual(warmer(on_wheel(50), on_wheel(50), s), "as warm")

    def test_compared(self):
        c = compare(of(5, 4, 8), of(15, 6, 4))
        self.assertAlmostEqual(c.value_step, 2.0, delta=0.02)
        self.assertAlmostEqual(c.chroma_ratio, 0.5, delta=0.03)
        self.assertGreater(c.hue_turn, 20)
        self.assertIn("2.0 times greyer", c.chroma_words)
        self.assertEqual(compare((50, 0, 0), of(5, 5, 12)).chroma_words, "far stronger")
        self.assertEqual(compare(on_wheel(10), on_wheel(190)).turn_words, "opposite hues")
        self.assertEqual(compare((50, 0, 0), on_wheel(60)).hue_turn, 0.0)

    def test_borders(self):
        same = (60.0, 20.0, 20.0)
        self.assertIn("vanishes", compare(same, (60.3, 20.1, 20.0)).border)
        self.assertIn("equal value", compare(of(5, 5, 8), of(55, 5, 8)).border)
        self.assertIn("hard", compare((20, 0, 0), (90, 0, 0)).border)
        self.assertIn("soft", compare((50, 0, 0), (57, 0, 0)).border)


class Seen(unittest.TestCase):
    @given(st.floats(8, 95), st.floats(-60, 60), st.floats(-60, 60), st.floats(0.05, 0.9))
    def test_the_model_goes_both_ways(self, L, a, b, background):
        xyz = lab_to_xyz(np.array([L, a * L / 100, b * L / 100]))
        c = Conditions(background=background)
        seen = appearance(xyz, c)
        if float(seen.J) > 1:
            back = xyz_of(Appearance(seen.J, seen.C, seen.h, seen.M), c)
            np.testing.assert_allclose(back, xyz, atol=1e-6)

    def test_on_its_neutral_a_colour_seems_as_it_is(self):
        L = float(munsell_to_lab(0, 5, 0)[0])
        for lab in ((30.0, 5.0, -20.0), (70.0, 20.0, 40.0)):
            shift = seen_against(lab, (L, 0.0, 0.0))
            np.testing.assert_allclose(shift.seems, lab, atol=0.05)
            self.assertEqual(shift.words(), "will seem as it is.")

    @given(st.floats(30, 80), st.floats(0, 360))
    def test_a_grey_moves_away_from_a_coloured_surround(self, lightness, hue):
        around = on_wheel(hue, lightness, 40.0)
        shift = seen_against((lightness, 0.0, 0.0), around)
        moved = np.array(shift.seems[1:])
        self.assertLess(float(moved @ np.array(around[1:])), 0)
        self.assertGreater(float(np.hypot(*moved)), 1.5)
        self.assertGreater(read(shift.seems).chroma, 0.3)

    def test_never_absurd(self):
        for lab in ((1.0, 0.0, 0.0), (99.0, 0.0, 0.0), (50.0, 80.0, 60.0), (30.0, 40.0, -100.0)):
            for around in ((0.5, 0.0, 0.0), (100.0, 0.0, 0.0), (90.0, -10.0, 90.0), (30.0, 60.0, -90.0)):
                shift = seen_against(lab, around)
                self.assertTrue(np.isfinite(shift.seems).all())
                self.assertTrue(0 <= shift.seems[0] <= 100)
                self.assertLess(abs(shift.value), 3)
                self.assertTrue(shift.words().startswith("will seem"))
