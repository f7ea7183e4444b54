"""Hue weights, fits and pulls."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from ochre_stone.core.colour.gamut import most_chroma
from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.spaces import lch
from ochre_stone.core.colour.wheel import turn, wheel
from ochre_stone.core.harmony.schemes import BINS, OFFSETS, fit, hue_weights, places, pull

colours = st.lists(st.tuples(st.floats(5, 95), st.floats(-60, 60), st.floats(-60, 60)), min_size=1, max_size=12)


class Weights(unittest.TestCase):
    def test_greys_have_no_say(self):
        grey_and_red = hue_weights([(50, 1, 1), (50, 40, 20)], [100, 1], "traditional")
        red_alone = hue_weights([(50, 40, 20)], [1], "traditional")
        np.testing.assert_allclose(grey_and_red, red_alone)
        self.assertEqual(hue_weights([(50, 0, 0)], [1], "traditional").sum(), 0)

    def test_bigger_and_brighter_count_more(self):
        h = hue_weights([(50, 40, 20), (50, -40, 20)], [3, 1], "traditional")
        self.assertAlmostEqual(h.max(), 0.75, delta=0.01)


class Fits(unittest.TestCase):
    def test_neutral_notes_give_no_scheme(self):
        found = fit(np.zeros(BINS))
        self.assertEqual([s.name for s in found], ["none"])

    def test_ranked_and_complete(self):
        found = fit(hue_weights([(50, 40, 20), (50, -30, 10)], [1, 1], "traditional"))
        self.assertEqual({s.name for s in found}, {*OFFSETS, "none"})
        scores = [s.score for s in found]
        self.assertEqual(scores, sorted(scores, reverse=True))

    def test_red_and_green_are_complementary_on_the_traditional_wheel(self):
        w = wheel("traditional")
        notes = []
        for angle in (0, 180):
            h = np.radians(float(w.lab_hue(angle)))
            notes.append((50, 40 * np.cos(h), 40 * np.sin(h)))
        best = fit(hue_weights(notes, [1, 1], "traditional"))[0]
        self.assertEqual(best.name, "complementary")
        self.assertTrue(best.clear)
        self.assertGreater(best.explained, 0.9)

    def test_bad_hues(self):
        for bad in (np.zeros(10), np.full(BINS, np.nan), np.full(BINS, -1.0)):
            with self.assertRaises(ValueError):
                fit(bad)


class Pulls(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(
        colours,
        st.sampled_from(list(OFFSETS)),
        st.floats(0, 359),
        st.floats(0, 1),
        st.sampled_from(["traditional", "perceptual"]),
    )
    def test_value_is_kept_and_chroma_as_far_as_it_can_be(self, lab, scheme, rotation, amount, name):
        lab = np.array(lab)
        pulled = pull(lab, places(scheme, rotation), amount, name)
        np.testing.assert_allclose(value_of_lightness(pulled[:, 0]), value_of_lightness(lab[:, 0]), atol=1e-9)
        before, after = lch(lab)[1], lch(pulled)[1]
        self.assertTrue((after <= before + 1e-6).all())
        # Where the new hue can be as strong inside sRGB, chroma is kept exactly.
        roomy = before <= most_chroma(lab[:, 0], lch(pulled)[2])
        np.testing.assert_allclose(after[roomy], before[roomy], atol=1e-6)

    def test_full_pull_stands_on_the_nearest_arm(self):
        w = wheel("traditional")
        rng = np.random.default_rng(1)
        lab = np.stack([np.full(30, 50.0), *rng.uniform(-50, 50, (2, 30))], axis=1)
        arms = places("triad", 20)
        angle = w.angle(lch(pull(lab, arms, 1.0, "traditional"))[2])
        before = w.angle(lch(lab)[2])
        off = np.abs(turn(np.array(arms)[None], angle[:, None]))
        self.assertLess(off.min(axis=1).max(), 0.1)
        # The shorter way: nobody turns more than half the gap between two arms.
        self.assertLessEqual(np.abs(turn(before, angle)).max(), 60.1)

    def test_half_pull_goes_half_way(self):
        w = wheel("traditional")
        h = np.radians(float(w.lab_hue(40)))
        lab = [(50, 30 * np.cos(h), 30 * np.sin(h))]
        half = pull(lab, (0.0,), 0.5, "traditional")
        self.assertAlmostEqual(float(w.angle(lch(half)[2])[0]), 20, delta=0.2)

    def test_no_scheme_no_pull(self):
        lab = np.array([(50, 10, 10.0)])
        np.testing.assert_array_equal(pull(lab, places("none", 0), 1.0, "traditional"), lab)
        with self.assertRaises(ValueError):
            pull(lab, (0.0,), 1.5, "traditional")
