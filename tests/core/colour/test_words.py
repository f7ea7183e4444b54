"""Words for colours at and beside each line, colours outside the screen, and how far a surround may push."""

import itertools
import math
import unittest

import numpy as np

from ochre_stone.core.colour.contrast import Shift, seen_against
from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.munsell import munsell_to_lab
from ochre_stone.core.colour.reading import NEUTRAL, chroma_word, hue_word, read, value_word
from ochre_stone.core.colour.relations import LOST_BORDER, Comparison, compare, complement
from ochre_stone.core.colour.spaces import SRGB_TO_XYZ, as_lab, decode_srgb, lab_to_srgb, lch, xyz_to_lab


class Words(unittest.TestCase):
    def test_value_and_chroma_change_at_their_lines(self):
        """A line belongs to the lighter and to the stronger word."""
        for lines, word in (
            (
                (
                    ("very dark", 1.5),
                    ("dark", 3.25),
                    ("middle dark", 4.5),
                    ("middle", 5.5),
                    ("middle light", 7.0),
                    ("light", 8.5),
                    ("very light", 11),
                ),
                value_word,
            ),
            (
                (
                    ("neutral", NEUTRAL),
                    ("near-neutral", 2.0),
                    ("greyish", 4.0),
                    ("moderate", 7.0),
                    ("strong", 11.0),
                    ("very strong", 40),
                ),
                chroma_word,
            ),
        ):
            for (name, line), (after, _) in itertools.pairwise(lines):
                self.assertEqual(word(line - 1e-6), name)
                self.assertEqual(word(line), after)

    def test_hues_lean_beyond_seven_and_a_half_degrees(self):
        for angle, words in (
            (0, "red"),
            (7.4, "red"),
            (7.6, "red, leaning red-orange"),
            (352.4, "red, leaning red-violet"),
            (120, "yellow"),
            (112.6, "yellow"),
            (112.4, "yellow, leaning yellow-orange"),
            (240, "blue"),
            (359, "red"),
        ):
            self.assertEqual(hue_word(angle), words, angle)

    def test_borders(self):
        for gap, step, words in (
            (0.9, 0.0, "the border vanishes"),
            (1.0, 0.0, "the border is all but lost"),
            (LOST_BORDER, 0.3, "equal value: the border is held by colour alone, and glows"),
            (9.0, 0.35, "a soft border"),
            (9.0, -0.9, "a soft border"),
            (9.0, 1.0, "a firm border"),
            (9.0, -2.4, "a firm border"),
            (9.0, 2.5, "a hard border"),
        ):
            self.assertEqual(Comparison(step, 0.0, 1.0, gap).border, words, (gap, step))

    def test_turns_and_chromas(self):
        for angle, words in (
            (4.4, "same hue"),
            (-4.6, "0.2 hue steps apart"),
            (60, "2.0 hue steps apart"),
            (150, "5.0 hue steps apart"),
            (-150.1, "opposite hues"),
        ):
            self.assertEqual(Comparison(0, angle, 1, 9).turn_words, words)
        for ratio, words in (
            (0.87, "1.1 times greyer"),
            (0.88, "as strong"),
            (1.14, "as strong"),
            (1.15, "1.1 times as strong"),
            (2.5, "2.5 times as strong"),
            (0.25, "4.0 times greyer"),
            (20, "far stronger"),
            (0.05, "far greyer"),
        ):
            self.assertEqual(Comparison(0, 0, ratio, 9).chroma_words, words, ratio)

    def test_a_grey_has_no_turn_and_two_greys_one_strength(self):
        grey, other, red = (50.0, 0.0, 1.0), (60.0, 1.0, 0.0), as_lab(munsell_to_lab(5.0, 4.0, 8.0))
        self.assertEqual((compare(grey, red).hue_turn, compare(red, grey).hue_turn), (0.0, 0.0))
        self.assertEqual(compare(grey, other).chroma_ratio, 1.0)
        found = compare(red, (70.0, red[1] / 2, red[2] / 2))
        self.assertAlmostEqual(found.value_step, read((70.0, 0.0, 0.0)).value - 4.0, delta=0.02)
        self.assertAlmostEqual(found.gap, float(ciede2000(np.array(red), np.array((70.0, red[1] / 2, red[2] / 2)))))
        self.assertEqual(complement(grey), "")
        self.assertEqual(complement(red), "green")


class Screen(unittest.TestCase):
    def test_beyond_black_and_white(self):
        np.testing.assert_allclose(
            lab_to_srgb([[-5, 0, 0], [0, 0, 0], [120, 0, 0], [100, 0, 0]]),
            [[0] * 3, [0] * 3, [1] * 3, [1] * 3],
            atol=2e-3,
        )

    def test_inside_is_exact_and_outside_keeps_lightness_and_hue(self):
        rgb = np.random.default_rng(3).random((200, 3))
        lab = xyz_to_lab(decode_srgb(rgb) @ SRGB_TO_XYZ.T)
        np.testing.assert_allclose(lab_to_srgb(lab), rgb, atol=1e-3)
        for hue in range(0, 360, 30):
            far = np.array([60.0, 140 * math.cos(math.radians(hue)), 140 * math.sin(math.radians(hue))])
            seen = xyz_to_lab(decode_srgb(lab_to_srgb(far)) @ SRGB_TO_XYZ.T)
            self.assertAlmostEqual(float(seen[0]), 60.0, delta=0.1)
            self.assertLess(abs((float(lch(seen)[2]) - hue + 180) % 360 - 180), 0.5)
            # As strong as can be: a little more is outside.
            C = float(lch(seen)[1])
            more = np.array([60.0, far[1] / 140 * (C + 1), far[2] / 140 * (C + 1)])
            back = xyz_to_lab(decode_srgb(lab_to_srgb(more)) @ SRGB_TO_XYZ.T)
            self.assertLess(float(lch(back)[1]), C + 0.3)


class Surround(unittest.TestCase):
    def test_a_push_has_an_end(self):
        """However strong the surround, a colour seems at most 1.6 times as strong, and a dozen units."""
        for lab in ((50.0, 0.0, 0.0), (60.0, 30.0, 20.0), (40.0, -20.0, 30.0), (70.0, 5.0, -15.0)):
            for hue in range(0, 360, 45):
                around = (lab[0], 90 * math.cos(math.radians(hue)), 90 * math.sin(math.radians(hue)))
                shift = seen_against(lab, around)
                C = math.hypot(*shift.seems[1:])
                self.assertLessEqual(C, 1.6 * math.hypot(*lab[1:]) + 12.0 + 1e-6)
                self.assertTrue(0 <= shift.seems[0] <= 100)

    def test_words(self):
        for seems, words in (
            ((50.0, 0.0, 0.0), "will seem as it is."),
            ((53.0, 0.0, 0.0), "will seem a little lighter (0.3)."),
            ((42.0, 0.0, 0.0), "will seem darker (0.8)."),
        ):
            self.assertEqual(Shift((50.0, 0.0, 0.0), seems).words(), words)
        blue = Shift((50.0, 0.0, 0.0), (50.0, 0.0, -12.0)).words()
        self.assertTrue(blue.startswith("will seem toward blue"), blue)
        red = (50.0, 40.0, 25.0)
        self.assertIn("greyer", Shift(red, (50.0, 30.0, 19.0)).words())
        self.assertIn("stronger", Shift(red, (50.0, 48.0, 30.0)).words())
