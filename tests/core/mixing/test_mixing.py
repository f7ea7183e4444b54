"""Parts, recipes, strings and amounts."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.mixing.recipe.parts import LEVELS, MOST_PARTS, neighbours, reduce_parts
from ochre_stone.core.mixing.recipe.recipe import parts_words
from ochre_stone.core.mixing.recipe.search import Searcher
from ochre_stone.core.mixing.recipe.sources import Terms
from ochre_stone.core.mixing.session.amounts import amounts, ribbon_cm
from ochre_stone.core.mixing.session.drafting import StringRow
from ochre_stone.core.mixing.session.plan import plan_session
from ochre_stone.core.mixing.strings.targets import DARKEST, LIGHTEST, targets, value_steps
from ochre_stone.core.paint.palettes import palette
from ochre_stone.core.paint.predict import predict
from ochre_stone.core.paint.tubes import tube
from tests.support.made import find_recipes

PORTRAIT = palette("portrait-ten")
SKIN = [(78, 8, 20), (66, 16, 28), (50, 20, 28), (34, 16, 20)]


class Parts(unittest.TestCase):
    @given(st.lists(st.floats(0.001, 1), min_size=2, max_size=4))
    def test_neighbours_are_measurable(self, shares):
        c = np.array(shares) / sum(shares)
        rows = neighbours(c)
        self.assertTrue(np.isin(rows, LEVELS).all())
        self.assertLessEqual(rows.sum(axis=1).max(), MOST_PARTS)
        self.assertGreater(rows.sum(axis=1).min(), 0)

    @given(st.lists(st.sampled_from([0.25, 0.5, *range(1, 9)]), min_size=1, max_size=4))
    def test_reducing_keeps_proportions(self, parts):
        before = np.array(parts, float)
        after = reduce_parts(before)
        np.testing.assert_allclose(after / after.sum(), before / before.sum(), atol=1e-12)
        self.assertLessEqual(after.sum(), max(MOST_PARTS, before.sum()))

    def test_reducing(self):
        np.testing.assert_array_equal(reduce_parts(np.array([2.0, 4, 0])), [1, 2, 0])
        np.testing.assert_array_equal(reduce_parts(np.array([0.5, 0.25])), [2, 1])
        np.testing.assert_array_equal(reduce_parts(np.array([12, 0.25])), [12, 0.25])
        np.testing.assert_array_equal(reduce_parts(np.array([1, 0.25])), [4, 1])
        rows = reduce_parts(np.array([[1, 3, 0.25], [6, 3, 0]]))
        np.testing.assert_array_equal(rows, [[1, 3, 0.25], [2, 1, 0]])

    def test_words(self):
        said = [parts_words(x) for x in (0.125, 0.25, 0.5, 3.0, 2.75)]
        self.assertEqual(said, ["half a touch", "touch", "½", "3", "2¾"])


class Recipes(unittest.TestCase):
    def test_prediction_is_that_of_the_parts(self):
        """What the recipe says comes out is what its parts give when mixed, tint piles taken apart."""
        for target in ((76, 6, 14), (62, 14, 22), (90, 2, 6), (30, 8, 8), (70, -8, -18)):
            for r in find_recipes(np.array(target, float), PORTRAIT.tubes)[1]:
                self.assertLess(float(ciede2000(predict(r.tube_parts).lab, r.lab)), 1e-6)
                self.assertLess(float(ciede2000(predict(dict(r.shares)).lab, r.lab)), 1e-6)
                self.assertAlmostEqual(float(ciede2000(r.lab, target)), r.de00, places=6)
                self.assertAlmostEqual(sum(c for _, c in r.shares), 1.0)

    def test_limits_are_kept(self):
        for most in (1, 2, 3, 4):
            for r in find_recipes(np.array([60.0, 10, 20]), PORTRAIT.tubes, most=most, tints=())[1]:
                self.assertLessEqual(len(r.ingredients), most)
                self.assertTrue(all(i.parts in LEVELS for i in r.ingredients))
                self.assertTrue(all(i.id in PORTRAIT.paints for i in r.ingredients))

    def test_reachable_or_not(self):
        self.assertTrue(find_recipes(np.array([62.0, 14, 22]), PORTRAIT.tubes)[0])
        reachable, found = find_recipes(np.array([60.0, -45, 45]), PORTRAIT.tubes, palette_name="Portrait of ten")
        self.assertFalse(reachable)
        self.assertIn("ut of reach of Portrait of ten", found[0].why)
        self.assertLess(abs(found[0].value_error), 0.3)  # value holds even where chroma cannot

    def test_pale_tints_go_through_a_tint_pile(self):
        pale = np.array([91.0, 1.5, 5])
        direct = find_recipes(pale, palette("four-tube-earth").tubes, tints=())[1][0]
        through = find_recipes(pale, palette("four-tube-earth").tubes)[1][0]
        self.assertTrue(through.bases)
        self.assertLess(through.de00, direct.de00)
        self.assertLess(through.de00, 3)
        self.assertIn("the tint can be counted", through.why)
        self.assertTrue(all(float(n).is_integer() for n in through.tube_parts.values()))

    def test_order_of_adding_starts_weak_and_ends_strong(self):
        r = find_recipes(
            np.array([65.0, -12, -25]),
            [tube(i) for i in ("titanium-white", "yellow-ochre", "phthalo-blue-green-shade")],
            tints=(),
        )[1][0]
        self.assertEqual(r.ingredients[-1].id, "phthalo-blue-green-shade")

    def test_reasons_are_sentences(self):
        for target in ((70, 10, 20), (40, -8, 20), (20, 2, -10)):
            for r in find_recipes(np.array(target, float), PORTRAIT.tubes)[1]:
                self.assertTrue(r.why[0].isupper() and r.why.endswith("."), r.why)

    def test_a_single_tube(self):
        reachable, found = find_recipes(np.array(tube("yellow-ochre").lab), [tube("yellow-ochre")])
        self.assertTrue(reachable)
        self.assertLess(found[0].de00, 0.1)
        self.assertIn("as it comes", found[0].why)

    def test_targets_must_be_colours(self):
        with self.assertRaises(ValueError):
            Searcher(PORTRAIT.tubes).find([np.nan, 0, 0])
        with self.assertRaises(ValueError):
            Searcher([])
        with self.assertRaises(ValueError):
            Searcher(PORTRAIT.tubes, most=6)
        with self.assertRaises(ValueError):
            Searcher(PORTRAIT.tubes * 3)


class Targets(unittest.TestCase):
    @settings(max_examples=80, deadline=None)
    @given(st.floats(0.5, 9.7), st.floats(0.5, 9.7), st.integers(3, 9))
    def test_even_steps_on_the_grid_that_paint_can_reach(self, one, other, steps):
        levels = value_steps(min(one, other), max(one, other), steps)
        self.assertEqual(len(levels), steps)
        gaps = np.diff(levels)
        np.testing.assert_allclose(gaps, gaps[0], atol=1e-9)
        self.assertGreaterEqual(gaps[0], 0.5 - 1e-9)
        self.assertTrue(levels[0] >= DARKEST - 1e-9 and levels[-1] <= LIGHTEST + 1e-9, levels)
        low, high = (min(max(v, DARKEST), LIGHTEST) for v in sorted((one, other)))
        spare = 0.5 * (steps - 1) > high - low  # so many piles need more room than the notes have
        self.assertTrue(spare or (levels[0] <= low + 1e-9 and levels[-1] >= high - 1e-9), "every end is covered")
        self.assertTrue(spare or (levels[0] > low - 0.5 - 1e-9 and levels[-1] < high + 0.5 + 1e-9), "no farther")

    def test_curve_goes_through_the_notes(self):
        row = targets(SKIN, [1, 1, 1, 1], 9)
        for lab in SKIN:
            near = min(row, key=lambda t: abs(t.lab[0] - lab[0]))
            if abs(near.lab[0] - lab[0]) < 1:
                self.assertLess(np.hypot(near.lab[1] - lab[1], near.lab[2] - lab[2]), 1.5)

    def test_hue_and_chroma_follow_the_notes(self):
        """Not base plus white: chroma is highest in the middle, as the notes say."""
        row = targets(SKIN, [1, 1, 1, 1], 5)
        chroma = [np.hypot(*t.lab[1:]) for t in row]
        self.assertGreater(chroma[2], chroma[0])
        self.assertGreater(chroma[2], chroma[-1])

    def test_one_note_makes_a_string_by_rule(self):
        row = targets([(60, 10, 20)], [1], 5)
        self.assertEqual([t.origin for t in row].count("rule"), 4)
        self.assertLess(np.hypot(*row[0].lab[1:]), np.hypot(10, 20))

    def test_bad_counts(self):
        with self.assertRaises(ValueError):
            targets(SKIN, [1] * 4, 12)
        with self.assertRaises(ValueError):
            targets(np.zeros((0, 3)), [], 5)


def planned(string_id, goals, most=4, progress=lambda share: None, **row):
    """One string, worked out by itself."""
    wanted = StringRow(string_id, string_id.capitalize(), tuple(goals), **row)
    return plan_session([wanted], Terms(PORTRAIT.tubes, PORTRAIT.name, most), progress=progress).strings[0]


class Strings(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.string = planned("skin", targets(SKIN, [1] * 4, 5))
        cls.sky = planned("sky", targets([(88, -2, -4), (70, -4, -18), (55, 0, -30)], [1] * 3, 5))

    def test_dark_to_light_and_close(self):
        for s in (self.string, self.sky):
            values = [p.recipe.lab[0] for p in s.piles]
            self.assertEqual(values, sorted(values))
            for p in s.piles:
                if p.reachable:
                    self.assertLess(p.recipe.de00, 3, p.id)
                    self.assertLess(abs(p.recipe.value_error), 0.2, p.id)

    def test_every_pile_can_be_mixed_in_order(self):
        for s in (self.string, self.sky):
            self.assertEqual(sorted(p.order for p in s.piles), [1, 2, 3, 4, 5])
            made = {t.id for t in s.bases}
            for p in sorted(s.piles, key=lambda p: p.order):
                for item in p.recipe.ingredients:
                    if item.is_pile:
                        self.assertIn(item.id, made, f"{p.id} needs {item.id} before it is made")
                made.add(p.id)

    def test_onward_mixtures_are_predicted_from_what_is_in_the_pile(self):
        for s in (self.string, self.sky):
            for p in s.piles:
                self.assertLess(float(ciede2000(predict(dict(p.recipe.shares)).lab, p.recipe.lab)), 1e-6)

    def test_tubes_inside_piles_count(self):
        """At most four tubes in all, however a pile came about; fewer where fewer are asked for."""
        few = planned("skin", targets(SKIN, [1] * 4, 5), most=3)
        for s, most in ((self.string, 4), (self.sky, 4), (few, 3)):
            for p in s.piles:
                for r in (p.recipe, *p.alternatives):
                    self.assertLessEqual(len(r.shares), most, p.id)

    def test_cancelling(self):
        class StopError(Exception):
            pass

        def stop(share: float) -> None:
            raise StopError

        with self.assertRaises(StopError):
            planned("x", targets(SKIN, [1] * 4, 5), progress=stop)

    def test_words(self):
        every = [i for s in (self.string, self.sky) for p in s.piles for i in p.recipe.ingredients]
        self.assertTrue(any(" of sky " in i.said for i in every))


class Amounts(unittest.TestCase):
    def setUp(self) -> None:
        self.string = planned("sky", targets([(88, -2, -4), (70, -4, -18), (55, 0, -30)], [1] * 3, 5))
        self.shares = {p.id: 0.1 for p in self.string.piles}

    def test_paint_is_neither_lost_nor_made(self):
        """All tubes together hold what the piles hold after others have drawn from them (but for a pile that its
        smallest dose makes a little larger)."""
        a = amounts([self.string], self.shares, 1200, 0.2, 0.3)
        own = 5 * 0.1 * 1200 * 0.02 * 1.3
        drawn, from_bases = 0.0, 0.0
        for p in self.string.piles:
            whole = sum(i.parts for i in p.recipe.ingredients)
            drawn += sum(a.piles[p.id] * i.parts / whole for i in p.recipe.ingredients if i.id in a.piles)
            from_bases += sum(a.piles[p.id] * i.parts / whole for i in p.recipe.ingredients if i.is_base)
        self.assertAlmostEqual(sum(a.piles.values()), own + drawn, delta=0.05)
        left_of_bases = sum(a.bases.values()) - from_bases  # what is mixed only so that it can be dosed
        self.assertGreaterEqual(left_of_bases, -1e-9)
        self.assertAlmostEqual(a.total, own + left_of_bases, delta=0.05)

    def test_scales_with_canvas_and_thickness(self):
        """Twice the canvas or the thickness: twice the paint, but for the base piles, which have a least."""
        for more in ({"canvas_cm2": 19200}, {"canvas_cm2": 9600, "thickness_mm": 0.4}):
            one, two = amounts([self.string], self.shares, 9600), amounts([self.string], self.shares, **more)
            for i, ml in one.piles.items():
                self.assertAlmostEqual(two.piles[i], 2 * ml, places=6)
            self.assertAlmostEqual(two.total, 2 * one.total, delta=sum(one.bases.values()))

    def test_no_pile_is_too_small_to_mix(self):
        a = amounts([self.string], {}, 1200)
        self.assertTrue(all(v >= 1.0 for v in a.piles.values()))

    def test_share_of_white_and_ribbon(self):
        a = amounts([self.string], self.shares, 1200)
        self.assertGreater(a.white_share, 0.5)  # a sky is mostly white
        self.assertEqual(ribbon_cm(3.0), 6.0)
        with self.assertRaises(ValueError):
            amounts([self.string], self.shares, 0)
