"""The range of paint, and light against shadow."""

import itertools
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from ochre_stone.core.errors import OchreError
from ochre_stone.core.masses.families import GAP, breaks, set_apart
from ochre_stone.core.masses.tone import DARKEST, KEEPS, WHITE_PAINT, Tone, reach, scene_range
from tests.support.drawn import agreement

VALUES = np.linspace(0, 10, 101)


class Tones(unittest.TestCase):
    def tone(self, keep: str, **more) -> Tone:
        return Tone(keep=keep, **({"white": 9.6, "black": 2.4, "low": 0.5, "high": 9.9} | more))

    def test_white_and_matt_black_are_those_of_the_product_description(self):
        self.assertAlmostEqual(WHITE_PAINT, 9.6, delta=0.05)
        self.assertAlmostEqual(DARKEST["matt"], 2.5, delta=0.05)

    def test_the_scene_as_it_is_changes_nothing(self):
        np.testing.assert_array_equal(Tone().value(VALUES), VALUES)
        lab = np.array([[3.0, 10.0, -20.0]])
        np.testing.assert_array_equal(Tone().lab(lab), lab)

    @settings(max_examples=80, deadline=None)
    @given(
        st.sampled_from([k for k in KEEPS if k not in ("scene", "drawn")]),
        st.floats(0, 4),
        st.floats(7, 10),
        st.floats(0, 9),
        st.floats(0, 9),
    )
    def test_every_way_rises_and_stays_inside_the_paint(self, keep, black, white, a, b):
        low, high = sorted((round(a, 2), round(b, 2)))
        tone = Tone(keep=keep, black=black, white=white, low=low, high=high)
        out = tone.value(VALUES)
        self.assertTrue((np.diff(out) >= -1e-9).all())
        self.assertGreaterEqual(out.min(), min(black, white) - 1e-9)
        self.assertLessEqual(out.max(), white + 1e-9)

    def test_what_is_kept_keeps_its_steps(self):
        for keep, inside in (("lights", (4.5, 9.0)), ("darks", (1.0, 5.5)), ("middle", (4.2, 6.2))):
            v = np.linspace(*inside, 20)
            np.testing.assert_allclose(np.diff(self.tone(keep).value(v)), np.diff(v), atol=0.02, err_msg=keep)

    def test_the_middle_keeps_its_very_values(self):
        np.testing.assert_allclose(self.tone("middle").value([4.5, 5.0, 6.0]), [4.5, 5.0, 6.0], atol=0.01)

    def test_a_scene_inside_the_paint_stays(self):
        tone = self.tone("lights", black=1.0, white=9.6, low=2.0, high=8.0)
        np.testing.assert_allclose(tone.value([2.0, 5.0, 8.0]), [2.0, 5.0, 8.0], atol=1e-6)

    def test_drawn(self):
        tone = Tone(keep="drawn", drawn=((0, 2), (5, 6), (10, 9)))
        np.testing.assert_allclose(tone.value([0, 5, 10]), [2, 6, 9], atol=1e-9)

    def test_darks_that_are_raised_gain_no_chroma(self):
        lab = self.tone("lights").lab([[10.0, 8.0, -12.0], [90.0, 5.0, 20.0]])
        self.assertGreater(lab[0, 0], 20)
        self.assertLessEqual(abs(lab[0, 1]), 8.0)
        self.assertLess(lab[1, 2], 20.0)

    def test_bad_ranges_say_why(self):
        for options in (
            {"white": 3.0, "black": 2.0},
            {"low": 8.0, "high": 2.0},
            {"keep": "drawn"},
            {"keep": "sideways"},
            {"keep": "drawn", "drawn": ((0, 5), (5, 2))},
            {"keep": "drawn", "drawn": ((0, 0), (5, 12))},
        ):
            with self.assertRaises(OchreError, msg=str(options)):
                Tone(**options)

    def test_range_of_a_scene_and_of_colours(self):
        value = np.concatenate([np.full(990, 5.0), np.full(4, 0.0), np.full(6, 9.0)])
        low, high = scene_range(value)
        self.assertEqual((low, high), (5.0, 9.0))
        dark, light = reach([(20.0, 0, 0), (96.0, 0, 2), (50.0, 30, 0)])
        self.assertLess(dark, 2.1)
        self.assertAlmostEqual(light, WHITE_PAINT, places=3)


class Families(unittest.TestCase):
    def test_breaks_are_found_worst_first(self):
        found = breaks([2.0, 4.0, 3.0, 8.0], ["shadow", "shadow", "light", "light"], [0.3, 0.2, 0.2, 0.3])
        self.assertEqual([(b.light, b.shadow) for b in found], [(2, 1)])
        self.assertAlmostEqual(found[0].by, 1.0)
        worse = breaks([6.0, 4.0, 3.0], ["shadow", "light", "light"], [0.3, 0.3, 0.4])
        self.assertEqual([b.light for b in worse], [2, 1])

    def test_crumbs_break_nothing(self):
        self.assertEqual(breaks([5.0, 4.0], ["shadow", "light"], [0.5, 0.001]), [])

    def test_apart_already_stays(self):
        v = np.array([2.0, 7.0])
        np.testing.assert_array_equal(set_apart(v, ["shadow", "light"], [0.5, 0.5]), v)
        np.testing.assert_array_equal(set_apart(v, ["light", "light"], [0.5, 0.5]), v)

    @settings(max_examples=60, deadline=None)
    @given(st.lists(st.tuples(st.floats(0.5, 9.5), st.booleans(), st.floats(0.01, 1)), min_size=2, max_size=8))
    def test_the_repair_keeps_the_rule_and_nobody_changes_sides(self, masses):
        values = np.array([m[0] for m in masses])
        families = ["light" if m[1] else "shadow" for m in masses]
        shares = [m[2] for m in masses]
        out = set_apart(values, families, shares)
        light = np.array([m[1] for m in masses])
        if light.any() and not light.all():
            self.assertGreaterEqual(out[light].min() - out[~light].max(), GAP - 1e-6)
        self.assertTrue((out[light] >= values[light] - 1e-9).all(), "lights only get lighter")
        self.assertTrue((out[~light] <= values[~light] + 1e-9).all(), "shadows only get darker")

    def test_the_repair_is_the_least(self):
        """Against every pair of limits on a fine grid."""
        values, families, shares = [3.0, 5.5, 5.0, 8.0], ["shadow", "shadow", "light", "light"], [0.4, 0.1, 0.3, 0.2]
        out = set_apart(values, families, shares)
        cost = float((np.array(shares) * (out - values) ** 2).sum())
        best = np.inf
        for low, high in itertools.product(np.linspace(3, 6, 121), repeat=2):
            if high - low >= GAP - 1e-9:
                tried = [min(3.0, low), min(5.5, low), max(5.0, high), max(8.0, high)]
                best = min(best, float((np.array(shares) * (np.array(tried) - values) ** 2).sum()))
        self.assertLessEqual(cost, best + 1e-4)
        self.assertLess(abs(out[2] - 5.0), abs(out[1] - 5.5), "the larger mass moves less")

    def test_agreement(self):
        truth = np.array([[255, 255, 0, 0, 128]], np.uint8)
        light = np.array([[True, False, False, False, True]])
        self.assertEqual(agreement(light, truth), (0.5, 1.0, 0.75))
