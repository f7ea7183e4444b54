"""Near enough, in a painter's words: value first, then what is seen first of the rest."""

import unittest

from ochre_stone.core.colour.munsell import munsell_to_lab
from ochre_stone.core.colour.spaces import Lab, as_lab
from ochre_stone.core.mixing.recipe.nearness import MATCHES, NEAR, OUT, nearness


def chip(hue: float, value: float, chroma: float) -> Lab:
    return as_lab(munsell_to_lab(hue, value, chroma))


class Grades(unittest.TestCase):
    def test_by_munsell_steps(self):
        """Hue 25 is 5Y, 15 is 5YR (steps of the Munsell circle); goal, mixture, what is said."""
        for goal, mixture, want in (
            ((15, 5, 6), (15, 5, 6), "matches"),
            ((15, 5, 6), (15, 5.15, 6), "matches"),
            ((15, 5, 6), (15, 5.3, 6), "near (a touch light)"),
            ((15, 5, 6), (15, 4.5, 6), "out of reach (too dark)"),
            ((15, 5, 6), (15, 5, 4.8), "near (a touch grey)"),
            ((15, 5, 6), (15, 5, 7.6), "near (a touch strong)"),
            ((15, 5, 8), (15, 5, 3), "out of reach (too grey)"),
            ((15, 5, 6), (18, 5, 6), "near (a touch yellow)"),
            ((15, 5, 6), (12, 5, 6), "near (a touch red)"),
        ):
            with self.subTest(goal=goal, mixture=mixture):
                self.assertEqual(nearness(chip(*goal), chip(*mixture)).words, want)

    def test_value_is_judged_first(self):
        goal = chip(15, 3, 6)
        wrong_value, wrong_colour = nearness(goal, chip(15, 3.6, 6)), nearness(goal, chip(15, 3, 4.5))
        self.assertEqual((wrong_value.grade, wrong_value.off), (OUT, "light"))
        self.assertEqual((wrong_colour.grade, wrong_colour.off), (NEAR, "grey"))

    def test_a_pile_that_stands_a_touch_beside_is_a_match_for_who_lets_it(self):
        goal, beside = chip(15, 5, 6), chip(15, 5.25, 7.0)
        self.assertEqual(nearness(goal, beside).grade, NEAR)
        self.assertEqual(nearness(goal, beside, 2.0).grade, MATCHES)
