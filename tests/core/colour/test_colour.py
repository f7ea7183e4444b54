"""Spaces, wheel, readings and typed colours."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from ochre_stone.core.colour import munsell, spaces
from ochre_stone.core.colour.parse import parse_colour
from ochre_stone.core.colour.reading import chroma_word, hue_word, read
from ochre_stone.core.colour.wheel import WHEEL_STEPS, turn, wheel
from ochre_stone.core.errors import OchreError

labs = st.tuples(st.floats(1, 99), st.floats(-80, 80), st.floats(-80, 80))


class Spaces(unittest.TestCase):
    @given(labs)
    def test_lab_and_xyz_are_inverse(self, lab):
        np.testing.assert_allclose(spaces.xyz_to_lab(spaces.lab_to_xyz(lab)), lab, atol=1e-8)

    @given(st.floats(0, 1))
    def test_transfer_curve_is_its_own_inverse(self, code):
        self.assertAlmostEqual(float(spaces.encode_srgb(spaces.decode_srgb(code))), code, places=6)

    @given(labs)
    def test_colours_beyond_srgb_keep_lightness_and_hue(self, lab):
        shown = spaces.xyz_to_lab(spaces.decode_srgb(spaces.lab_to_srgb(lab)) @ spaces.SRGB_TO_XYZ.T)
        self.assertAlmostEqual(float(shown[0]), lab[0], delta=0.5)
        _, C, h = spaces.lch(shown)
        if C > 5:
            self.assertLess(abs(float(turn(h, spaces.lch(lab)[2]))), 3)

    def test_hex(self):
        self.assertEqual(spaces.lab_to_hex(spaces.hex_to_lab("#c9a27e")), "#c9a27e")
        self.assertEqual(spaces.lab_to_hex((100, 0, 0)), "#ffffff")
        with self.assertRaises(ValueError):
            spaces.hex_to_lab("#12345")

    def test_adaptation_takes_one_white_to_the_other(self):
        warm = np.array([1.05, 1.0, 0.5])
        there = spaces.adaptation(warm) @ warm
        np.testing.assert_allclose(there / there[1], spaces.WHITE_D65, atol=1e-9)


class Munsell(unittest.TestCase):
    @given(st.floats(0.5, 99.5))
    def test_value_of_lightness_and_back(self, lightness):
        value = munsell.value_of_lightness(lightness)
        self.assertAlmostEqual(float(munsell.lightness_of_value(value)), lightness, delta=0.01)

    def test_value_rises_with_lightness_and_stays_near_a_tenth_of_it(self):
        L = np.linspace(10, 96, 200)
        value = munsell.value_of_lightness(L)
        self.assertTrue((np.diff(value) > 0).all())
        self.assertLess(np.abs(value - L / 10).max(), 0.12)

    @settings(max_examples=40, deadline=None)
    @given(st.floats(0, 99.9), st.floats(2, 8.5), st.floats(0.15, 1))
    def test_notation_to_lab_and_back(self, hue, value, strength):
        chroma = max(1.0, strength * min(7.0, 1.8 * value))  # dark yellows of more chroma do not exist
        lab = munsell.munsell_to_lab(hue, value, chroma)
        h, v, c, _ = munsell.hue_value_chroma(lab)
        self.assertAlmostEqual(float(v), value, delta=0.01)
        self.assertAlmostEqual(float(c), chroma, delta=0.05)
        self.assertLess(abs((float(h) - hue + 50) % 100 - 50), 0.6)

    def test_notation(self):
        self.assertEqual(munsell.notation(munsell.notation_to_lab("5YR 6.5/4")), "5YR 6.5/4")
        self.assertEqual(munsell.notation((51, 0, 0)), "N 5.0")
        self.assertEqual(munsell.parse_notation("10rp 4/6"), (0.0, 4.0, 6.0))
        self.assertEqual(munsell.parse_notation("N 5.5/"), (0.0, 5.5, 0.0))

    def test_bad_notation(self):
        for text in ("5ZZ 4/4", "12R 4/4", "5R 11/4", "5R 4/99", "red", "N 12"):
            with self.assertRaises(ValueError, msg=text):
                munsell.parse_notation(text)

    def test_never_fails(self):
        lab = np.random.default_rng(0).uniform([-5, -200, -200], [130, 200, 200], (5000, 3))
        hue, value, chroma, _ = munsell.hue_value_chroma(lab)
        self.assertTrue(np.isfinite(hue).all() and np.isfinite(value).all() and np.isfinite(chroma).all())
        self.assertTrue(((hue >= 0) & (hue <= 100)).all())

    def test_outside_the_book_is_flagged(self):
        self.assertTrue(munsell.hue_value_chroma((50, 120, 120))[3])
        self.assertFalse(munsell.hue_value_chroma((50, 10, 10))[3])
        self.assertTrue(munsell.hue_value_chroma((4, 1, 1))[3])


class Wheels(unittest.TestCase):
    @given(st.sampled_from(["traditional", "perceptual"]), st.floats(0, 359.99))
    def test_there_and_back(self, name, hue):
        w = wheel(name)
        self.assertLess(abs(float(turn(w.lab_hue(w.angle(hue)), hue))), 0.01)

    def test_order_is_kept_all_round(self):
        for name in ("traditional", "perceptual"):
            angle = wheel(name).angle(np.arange(0, 360, 0.5))
            steps = np.diff(np.unwrap(np.radians(angle)))
            self.assertGreater(steps.min(), 0, name)
            self.assertLess(np.degrees(steps.max()) / 0.5, 3, name)

    def test_complements_of_the_painters(self):
        w = wheel("traditional")
        for one, other in (("red", "green"), ("yellow", "violet"), ("blue", "orange")):
            angle = 30.0 * WHEEL_STEPS.index(one)
            self.assertEqual(w.word(angle + 180), other)

    def test_words(self):
        self.assertEqual(hue_word(60), "orange")
        self.assertEqual(hue_word(70), "orange, leaning yellow-orange")
        self.assertEqual(hue_word(355), "red")
        self.assertEqual(hue_word(348), "red, leaning red-violet")
        self.assertEqual(wheel("perceptual").word(95), "yellow")


class Readings(unittest.TestCase):
    def test_known_colours(self):
        self.assertEqual(read((51, 0, 0)).hue, "neutral")
        self.assertIn("grey", read((51, 0, 0)).name)
        self.assertEqual(read((45, 55, 35)).hue.split(",")[0], "red")
        self.assertEqual(read((85, 0, 80)).hue.split(",")[0], "yellow")
        self.assertEqual(read((40, -5, -40)).hue.split(",")[0], "blue")
        self.assertEqual(chroma_word(3), "greyish")


class TypedColours(unittest.TestCase):
    def test_three_ways(self):
        np.testing.assert_allclose(parse_colour("lab 62 14 22"), [62, 14, 22])
        np.testing.assert_allclose(parse_colour("lab 62, 14, -22"), [62, 14, -22])
        np.testing.assert_allclose(parse_colour("#808080"), [53.585, 0, 0], atol=0.01)
        self.assertAlmostEqual(float(parse_colour("munsell N 5")[0]), 51.0, delta=0.1)

    def test_one_clear_sentence(self):
        for text in (
            "",
            "blue",
            "lab 1 2",
            "lab 200 0 0",
            "lab a b c",
            "lab nan 0 0",
            "#12",
            "#gggggg",
            "munsell x",
            "munsell 5R",
        ):
            with self.assertRaises(OchreError, msg=text) as caught:
                parse_colour(text)
            self.assertNotIn("\n", str(caught.exception))
            self.assertIn("lab 62 14 22", str(caught.exception))
