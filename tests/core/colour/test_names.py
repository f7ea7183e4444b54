"""Colours named in painters' words."""

import unittest

from ochre_stone.core.colour.munsell import parse_notation
from ochre_stone.core.colour.names import GREY, colour_name, name_regions
from ochre_stone.core.colour.reading import read


def named(notation: str) -> str:
    return colour_name(*parse_notation(notation))


class Names(unittest.TestCase):
    def test_painters_words_for_colours_they_know(self):
        """Munsell notations of everyday colours (common practice, no source)."""
        for notation, word in (
            ("1.5Y 3/1.5", "olive-brown"),
            ("2.5YR 7/4", "peach"),
            ("5YR 5/2", "taupe"),
            ("7.5YR 3/3", "brown"),
            ("10YR 5.8/7", "ochre"),
            ("5Y 3.5/3", "olive"),
            ("5GY 4.5/5", "moss green"),
            ("5B 7/6", "sky blue"),
            ("5PB 1.8/5", "navy"),
            ("7.5R 4/7", "brick red"),
            ("2.5YR 3.5/8", "rust"),
            ("1Y 8.5/6", "straw"),
            ("10YR 9/1.5", "ivory"),
            ("10YR 8.4/3", "cream"),
            ("10YR 7/2.5", "sand"),
            ("5P 5.3/4", "mauve"),
            ("2.5B 5/2.5", "grey-blue"),
            ("5RP 7.4/6", "pink"),
            ("3.5YR 5/7.5", "copper"),
            ("5YR 6/4", "tan"),
        ):
            self.assertIn(word, named(notation), notation)

    def test_greys_by_value_and_by_their_lean(self):
        for value, word in (
            (1, "black"),
            (2.5, "charcoal"),
            (4, "dark grey"),
            (5, "middle grey"),
            (7, "light grey"),
            (8.8, "pale grey"),
            (9.5, "white"),
        ):
            self.assertEqual(colour_name(33.0, value, GREY - 0.01), word)
        self.assertEqual(colour_name(70.0, 5.0, 0.8), "cool middle grey")
        self.assertEqual(colour_name(15.0, 7.0, 0.7), "warm light grey")

    def test_ends_of_a_word_are_light_and_dark(self):
        brown = next(r for r in name_regions() if r.word == "brown")
        self.assertEqual(colour_name(15.5, brown.value[0] + 0.3, 3.5), "dark brown")
        self.assertEqual(colour_name(18.5, brown.value[1] - 0.3, 2.9), "light brown")

    def test_a_tan_and_a_brown_of_ten_yellow_red(self):
        """Light and moderate yellowish brown by the ISCC-NBS method (from memory)."""
        self.assertIn("tan", colour_name(20.2, 6.0, 3.0))
        self.assertIn("brown", colour_name(20.2, 5.0, 3.0))
        for value in (3.0, 4.0, 5.0, 6.0):
            for word in ("olive", "yellow"):
                self.assertNotIn(word, colour_name(20.0, value, 3.0))

    def test_without_a_word_value_chroma_and_hue_are_said(self):
        self.assertEqual(colour_name(90.0, 9.0, 6.0), "very pale purple")
        self.assertEqual(colour_name(20.0, 4.0, 12.0), "dark strong orange-yellow")

    def test_every_colour_has_a_name_without_a_stray_word(self):
        for hue in range(0, 100, 3):
            for value in (0.5, 2.2, 4.1, 6.6, 8.9, 9.9):
                for chroma in (0.0, 0.6, 1.1, 2.0, 4.5, 9.0, 18.0):
                    said = colour_name(float(hue), value, chroma)
                    self.assertTrue(said and said == said.strip() and "  " not in said)
                    self.assertNotIn("bright", said)
                    self.assertEqual(len(set(said.split())), len(said.split()), said)

    def test_the_middle_of_each_region_has_its_word_or_a_neighbours(self):
        own = 0
        for r in name_regions():
            middle = sum(r.hue) / 2 % 100, sum(r.value) / 2, (r.chroma[0] * min(r.chroma[1], 14)) ** 0.5
            own += r.word in colour_name(*middle)
            self.assertTrue(r.block, "says which blocks it stands for")
        self.assertGreater(own, 0.9 * len(name_regions()))

    def test_a_reading_says_both_names(self):
        r = read((30.0, 2.0, 9.0))
        self.assertEqual(r.name, "dark olive-brown")
        self.assertIn("near-neutral", r.plain_name)


if __name__ == "__main__":
    unittest.main()
