"""Darks out of reach: value first, their order kept, and one pile for what is darker than the paint."""

import unittest
from itertools import pairwise

import numpy as np

from ochre_stone.core.colour.munsell import lightness_of_value
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.mixing.recipe.finding import recipe_of
from ochre_stone.core.mixing.recipe.sources import Terms
from ochre_stone.core.mixing.session.darkest import darkest
from ochre_stone.core.mixing.session.drafting import StringRow
from ochre_stone.core.mixing.session.plan import plan_session
from ochre_stone.core.mixing.strings.leans import dark_lean, is_darkest
from ochre_stone.core.mixing.strings.targets import Pile, PileTarget
from ochre_stone.core.paint.palettes import palette

EARTH_AND_BLUE, TEN = palette("underpainting-three"), palette("portrait-ten")
WARM, COOL, NEUTRAL = (16.0, 6.0, 8.0), (16.0, 1.0, -11.0), (16.0, 0.0, 0.0)


def planned(*wanted: tuple[float, float, float], terms: Terms | None = None) -> list[Pile]:
    """Piles, dark to light, of notes at a Munsell value with a* and b*."""
    goals = []
    for n, (value, a, b) in enumerate(sorted(wanted)):
        goals.append(PileTarget((float(lightness_of_value(value)), a, b), value, "note", (), (f"n{n}",)))
    row = StringRow("shadows", "Shadows", tuple(goals))
    found = plan_session([row], terms or Terms(EARTH_AND_BLUE.tubes, EARTH_AND_BLUE.name), {"shadows-1": 1.0})
    return [p for s in found.strings for p in s.piles]


class TheDarkest(unittest.TestCase):
    """Red oxide and ultramarine make darks that lean either way (common practice, no source)."""

    def test_each_lean_has_its_own_and_none_is_a_tube_alone(self) -> None:
        terms = Terms(EARTH_AND_BLUE.tubes)
        for goal, way in ((WARM, "warm"), (COOL, "cool"), (NEUTRAL, "")):
            parts = darkest(terms, goal)
            made = recipe_of(parts, np.array(goal), terms)
            self.assertEqual(set(parts), {"transparent-red-oxide", "ultramarine-blue"})
            self.assertIn(dark_lean(made.lab), (way, ""), made.lab)
            self.assertLess(made.lab[0], 25.0)

    def test_no_mixture_of_the_other_lean(self) -> None:
        only_red = Terms(tuple(t for t in EARTH_AND_BLUE.tubes if t.id != "ultramarine-blue"))
        self.assertEqual(darkest(only_red, COOL), {})

    def test_what_is_darker_than_the_paint_is_one_pile(self) -> None:
        piles = planned((0.2, 4, 4), (0.8, 6, 8), (1.1, 8, 6), (3.0, 12, 10))
        self.assertEqual([p.target.notes for p in piles], [("n0", "n1", "n2"), ("n3",)])
        dark, other = piles
        self.assertTrue(is_darkest(dark))
        self.assertFalse(is_darkest(other))
        self.assertLess(dark.recipe.lab[0], 18.0, "red oxide alone stands at 23")
        self.assertLess(abs(other.recipe.value_error), 0.1)

    def test_two_leans_are_two_piles(self) -> None:
        piles = planned((0.2, 4, 4), (0.4, 6, 8), (0.3, 1, -9), (0.5, 1, -11))
        self.assertEqual(sorted(p.target.notes for p in piles), [("n0", "n2"), ("n1", "n3")])
        self.assertEqual({dark_lean(p.recipe.lab) for p in piles}, {"warm", "cool"})

    def test_its_paint_is_enough_for_all_its_notes(self) -> None:
        goals = [PileTarget((at, 4.0, 4.0), 0.5, "note", (), (n,)) for at, n in ((5.0, "x"), (9.0, "y"))]
        row = StringRow("shadows", "Shadows", tuple(goals))
        found = plan_session([row], Terms(EARTH_AND_BLUE.tubes), {"shadows-1": 3.0, "shadows-2": 4.0})
        self.assertEqual(list(found.branching.ml.values()), [7.0])


class ValueFirst(unittest.TestCase):
    def test_a_dark_red_keeps_its_value_where_the_palette_has_none(self) -> None:
        (p,) = planned((2.6, 43.3, 22.9))
        self.assertLess(abs(p.recipe.value_error), 0.25, p.recipe.lab)
        self.assertEqual(dark_lean(p.recipe.lab), "warm")

    def test_within_reason(self) -> None:
        """A teal that ends near by .3 of a step too light is not given up for a grey of its value."""
        teal: Lab = (9.0, -9.0, -1.0)
        row = StringRow("shadows", "Shadows", (PileTarget(teal, 0.9, "note", (), ("n",)),))
        (string,) = plan_session([row], Terms(TEN.tubes)).strings
        (p,) = string.piles
        self.assertLess(p.recipe.de00, 3.0)
        self.assertEqual(p.nearness.words, "near (a touch light)")

    def test_the_order_of_the_darks_is_kept(self) -> None:
        piles = planned((1.9, -3, 11), (2.2, 32, 22), (2.6, 38, 30), (3.0, 10, 19), (2.0, 20, 11), (1.7, 1, -11))
        found = sorted(piles, key=lambda p: p.target.lab[0])
        for one, other in pairwise(found):
            self.assertLess(one.recipe.lab[0], other.recipe.lab[0] + 0.5, (one.target, other.target))
