"""How a mixture misses, what each paint did, what a target was made by; the board's places; who is told as what."""

import itertools
import math
import unittest

import numpy as np

from ochre_stone.core.advice.did import white_did
from ochre_stone.core.advice.frame import is_white
from ochre_stone.core.colour.munsell import lightness_of_value
from ochre_stone.core.colour.relations import WARMTHS, shift, warmer, warmth
from ochre_stone.core.mixing.correcting.words import addition_words, volume_words
from ochre_stone.core.mixing.recipe.finding import Wishes, recipe_of, recipes
from ochre_stone.core.mixing.recipe.reasons import miss
from ochre_stone.core.mixing.recipe.recipe import in_a_row
from ochre_stone.core.mixing.recipe.search import Searcher
from ochre_stone.core.mixing.recipe.sources import Terms
from ochre_stone.core.mixing.session.adding import adding, pool
from ochre_stone.core.mixing.session.amounts import grams
from ochre_stone.core.mixing.session.layout import GAP_CM, lay_out, radius_cm
from ochre_stone.core.mixing.strings.shadowlight import estimate
from ochre_stone.core.mixing.strings.targets import targets
from ochre_stone.core.paint.optics import layer_lab
from ochre_stone.core.paint.palettes import palette
from ochre_stone.core.paint.tubes import all_tubes, tube

PORTRAIT = palette("portrait-ten")


def colour(L: float, chroma: float, hue: float) -> np.ndarray:
    return np.array([L, chroma * math.cos(math.radians(hue)), chroma * math.sin(math.radians(hue))])


def _spectra(item):
    t = tube(item.id)
    return t.K, t.S


class Misses(unittest.TestCase):
    def test_reasons_and_comparisons_never_contradict_each_other(self):
        rng = np.random.default_rng(8)
        said = 0
        for _ in range(400):
            lab, goal = (
                colour(float(rng.uniform(25, 85)), float(rng.uniform(8, 60)), float(rng.uniform(0, 360)))
                for _ in range(2)
            )
            words = miss(np.array(lab), np.array(goal))
            for mine, other in (("too warm", "cooler"), ("too cool", "warmer")):
                said += mine in words
                for school in WARMTHS:
                    compared = warmer(lab, goal, school)
                    self.assertFalse(mine in words and compared.endswith(other), (lab, goal, words, compared))
        self.assertGreater(said, 200)

    def test_where_the_schools_differ_the_lean_is_told(self):
        ultramarine, cerulean = colour(40, 40, 285), colour(45, 40, 245)
        self.assertNotEqual(
            warmer(ultramarine, cerulean, "leans-red")[-6:], warmer(ultramarine, cerulean, "near-yellow")[-6:]
        )
        self.assertEqual((shift(ultramarine, cerulean), shift(cerulean, ultramarine)), ("redder", "greener"))
        self.assertIn("too red", miss(np.array(ultramarine), np.array(cerulean)))
        self.assertEqual(shift(colour(60, 40, 62), colour(60, 40, 54)), "yellower")
        self.assertEqual(shift(colour(60, 40, 40), colour(60, 40, 340)), "warmer")

    def test_white_says_all_that_it_does(self):
        white = tube("titanium-white")
        self.assertTrue(is_white(white.K, white.S))
        for t in all_tubes().values():
            self.assertEqual(is_white(t.K, t.S), t.is_white, t.id)
        for base, words in (
            ("cadmium-red", "lightens, cools and dulls"), ("ultramarine-blue", "lightens and cools"),
            ("transparent-red-oxide", "lightens and cools"), ("burnt-sienna", "lightens and cools"),
        ):  # fmt: skip
            t = tube(base)
            said = white_did(layer_lab(t.K, t.S), layer_lab(t.K + 4 * white.K, t.S + 4 * white.S))
            self.assertEqual(in_a_row(said), words)
        olive = recipe_of({"ivory-black": 1.0, "yellow-ochre": 1.0}, np.array([26.0, 0, 8]), Terms(PORTRAIT.tubes))
        self.assertIn("olive, green beside warm colours", olive.why)
        goal, terms = np.array([70.0, 24, 24]), Terms(PORTRAIT.tubes, PORTRAIT.name)
        pale = ({"cadmium-red-light": 0.5, "yellow-ochre": 0.5}, {"cadmium-red-light": 0.5}, {"ultramarine-blue": 0.25})
        found = [recipe_of({"titanium-white": 16.0, **more}, goal, terms) for more in pale]
        white_first = [r.why for r in found if r.why.startswith("White")]
        self.assertTrue(white_first)
        for why in white_first:
            self.assertRegex(why, "^White carries the colour: it lightens.* and dulls;")
        self.assertTrue(any("it lightens, cools and dulls" in why for why in white_first), white_first)

    def test_value_first_then_hue_then_chroma(self):
        goal = colour(50, 20, 60)
        for lab, words in (
            (colour(50, 20, 60), ""),
            (colour(51.9, 23.9, 67.9), ""),
            (colour(52.1, 20, 60), "too light"),
            (colour(47.9, 20, 60), "too dark"),
            (colour(50, 24.1, 60), "too strong"),
            (colour(50, 15.9, 60), "too grey"),
            (colour(50, 20, 69), "too yellow"),
            (colour(50, 20, 51), "too red"),
            (colour(40, 10, 60), "too dark and too grey"),
            (colour(60, 30, 90), "too light and too cool and too strong"),
        ):
            self.assertEqual(miss(lab, goal), words)
        self.assertEqual(miss(colour(50, 20, 90), colour(50, 20, 110)), "too warm")
        self.assertEqual(miss(colour(50, 20, 330), colour(50, 20, 310)), "too warm")
        self.assertEqual(miss(colour(50, 4, 0), colour(50, 4, 180)), "", "greys have no temperature to miss")

    def test_measures_of_the_knife(self):
        for parts, words in (
            (0.125, "half a touch"),
            (0.25, "a touch"),
            (0.375, "⅜"),
            (0.5, "½"),
            (0.875, "⅞"),
            (1.0, "1"),
            (1.5, "1½"),
            (2.25, "2¼"),
            (12.0, "12"),
        ):
            self.assertEqual(volume_words(parts), words)
        self.assertEqual(addition_words(0.25, "black"), "a touch of black")
        self.assertEqual(addition_words(1.5, "ochre"), "1½ ochre")
        self.assertEqual(addition_words(1.5, "sky 3"), "1½ of sky 3")

    def test_weight(self):
        white = tube("titanium-white")
        self.assertAlmostEqual(grams(10, white), 10 * white.density)


class Origins(unittest.TestCase):
    def test_a_rule_is_named_only_where_it_made_the_target(self):
        """Notes of one value give a string that rules made beyond half a step; the step of the note is a note's."""
        L = float(lightness_of_value(5.0))
        found = targets([(L, 20.0, 20.0)], [1.0], 7, active=["ends-quiet"])
        kinds = {round(t.value, 2): (t.origin, t.rules) for t in found}
        self.assertEqual(sum(o == "note" for o, _ in kinds.values()), 1)
        for origin, rules in kinds.values():
            self.assertEqual(rules, ("ends-quiet",) if origin == "rule" else ())
        middle = min(found, key=lambda t: abs(t.value - 5))
        for t in found:
            self.assertLessEqual(math.hypot(*t.lab[1:]), math.hypot(*middle.lab[1:]) + 1e-9)
        self.assertTrue(all(t.rules == () for t in targets([(L, 20.0, 20.0)], [1.0], 7, active=[])))

    def test_between_two_notes_nothing_is_by_rule(self):
        low, high = (float(lightness_of_value(v)) for v in (2.0, 9.0))
        found = targets([(low, 10.0, 0.0), (high, 0.0, 10.0)], [1, 1], 9, active=["ends-quiet"])
        self.assertLessEqual({t.origin for t in found}, {"note", "between"})
        self.assertEqual([t.rules for t in found], [()] * 9)


class Told(unittest.TestCase):
    def test_as_many_recipes_as_are_wanted_best_first_and_none_twice(self):
        terms = Terms(PORTRAIT.tubes, PORTRAIT.name)
        for count in (1, 3, 5):
            for effort in (10, 60):
                _, found = recipes(np.array([55.0, 14, 22]), terms, Wishes(count=count, effort=effort))
                plain = [r for r in found if r.kind == ""]
                self.assertEqual(len(plain), count, (count, effort))
                self.assertEqual(len({tuple(sorted(r.shares)) for r in found}), len(found))
                self.assertLess(plain[0].de00, 2.0)

    def test_no_tube_allowed(self):
        search = Searcher(PORTRAIT.tubes, 3, None, "value")
        with self.assertRaisesRegex(ValueError, "no tube"):
            search.find([50.0, 0, 0], allowed=[False] * 10)
        only = search.find([50.0, 0, 0], allowed=[t.id == "ivory-black" for t in PORTRAIT.tubes])
        used = {int(i) for i, s in zip(only.index[0], only.shares[0], strict=True) if s > 1e-6}
        self.assertEqual(used, {[t.id for t in PORTRAIT.tubes].index("ivory-black")})

    def test_what_an_addition_did(self):
        """White lightened by nothing but itself comes first; a dark sets the value; each line ends at the recipe."""
        terms = Terms(PORTRAIT.tubes, PORTRAIT.name)
        for lab in ((30.0, 8.0, 10.0), (75.0, 10.0, 20.0), (50.0, -15.0, 20.0)):
            _, found = recipes(np.array(lab), terms, Wishes(count=1, tints=()))
            steps = adding(found[0], _spectra, pool(PORTRAIT.tubes))
            self.assertEqual(steps[0].words, "first")
            for before, after in itertools.pairwise(steps):
                if after.words == "sets the value":
                    self.assertGreater(abs(after.lab[0] - before.lab[0]), 8)
                elif after.words in ("lightens", "darkens"):
                    self.assertTrue(4 < abs(after.lab[0] - before.lab[0]) <= 8)
                    self.assertEqual(after.words == "lightens", after.lab[0] > before.lab[0])
                elif after.words in ("brings the colour", "dulls"):
                    more = math.hypot(*after.lab[1:]) - math.hypot(*before.lab[1:])
                    self.assertEqual(after.words == "dulls", more < 0)
                    self.assertGreater(abs(more), 3)
            np.testing.assert_allclose(steps[-1].lab, found[0].lab, atol=1e-6)


class Board(unittest.TestCase):
    def test_one_pile_lies_where_its_value_and_warmth_say(self):
        for lab in ((50.0, 20.0, 30.0), (50.0, -10.0, -30.0), (50.0, 0.0, 0.0)):
            board = lay_out({"a": (lab, 3.0)}, {}, 40, 30)
            (spot,) = board.spots
            self.assertAlmostEqual(spot.x, 0.4 + (0.5 - 0.46 * warmth(lab)) * 39.2, delta=0.1)
            self.assertAlmostEqual(spot.radius, radius_cm(3.0))
            self.assertTrue(board.fits)
        self.assertGreater(warmth((50.0, 20.0, 30.0)), 0.5)
        self.assertLess(warmth((50.0, -10.0, -30.0)), -0.5)
        self.assertAlmostEqual(warmth((50.0, 0.0, 0.0)), 0.0)

    def test_two_in_one_place_part_sideways(self):
        board = lay_out({"a": ((50.0, 5.0, 5.0), 5.0), "b": ((50.0, 5.0, 5.0), 5.0)}, {}, 40, 30)
        a, b = board.spots
        gap = math.hypot(a.x - b.x, a.y - b.y) - a.radius - b.radius
        self.assertTrue(0.5 * GAP_CM < gap < 2 * GAP_CM, gap)
        self.assertGreater(abs(a.x - b.x), abs(a.y - b.y))
        self.assertTrue(board.fits)

    def test_a_tall_narrow_board_and_a_low_wide_one_hold_light_and_dark(self):
        two = {"light": ((90.0, 0.0, 5.0), 4.0), "dark": ((20.0, 0.0, -5.0), 4.0)}
        for width, height in ((12, 40), (40, 12)):
            board = lay_out(two, {"titanium-white": (97.0, 0, 1)}, width, height)
            self.assertTrue(board.fits, (width, height))
            light, dark = board.spots
            self.assertLess(light.y, dark.y)
            for spot in board.spots:
                self.assertTrue(spot.radius <= spot.x <= width - spot.radius and spot.y <= height - spot.radius)

    def test_too_large_for_the_board(self):
        for width, height in ((4, 30), (30, 4)):
            self.assertFalse(lay_out({"a": ((50.0, 0.0, 0.0), 200.0)}, {}, width, height).fits, (width, height))
        with self.assertRaises(ValueError):
            lay_out({}, {}, 0, 10)


class Lights(unittest.TestCase):
    def test_only_pairs_that_are_clearly_darker_teach(self):
        pair = ((70.0, 10.0, 10.0), (40.0, 8.0, 2.0))
        self.assertIsNotNone(estimate([pair]))
        self.assertIsNone(estimate([((70.0, 10, 10), (68.0, 8, 2))]))
        self.assertIsNotNone(estimate([((70.0, 10, 10), (67.9, 8, 2))]))
        with_odd = estimate([pair, ((50.0, 0, 0), (60.0, 0, 0))])
        self.assertEqual(with_odd, estimate([pair]))
