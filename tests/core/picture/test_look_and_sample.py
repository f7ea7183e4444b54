"""Balance, views and samples."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from ochre_stone.core.colour.spaces import SRGB_TO_XYZ, xyz_to_lab
from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture.balance import WHITE_LUMINANCE, Balance, balance_from
from ochre_stone.core.picture.sampling import sample, spot
from ochre_stone.core.picture.simplify import smooth_lightness
from ochre_stone.core.picture.views import View, show, squint
from tests.support.made import blocks, orchard, picture


class Light(unittest.TestCase):
    @given(st.tuples(st.floats(0.2, 0.6), st.floats(0.2, 0.6), st.floats(0.2, 0.6)), st.sampled_from(["grey", "white"]))
    def test_the_clicked_spot_becomes_neutral(self, rgb, kind):
        balanced = balance_from(rgb, kind).apply(np.array(rgb))
        lab = xyz_to_lab(balanced @ SRGB_TO_XYZ.T)
        self.assertLess(np.hypot(lab[1], lab[2]), 0.05)
        y = float(SRGB_TO_XYZ[1] @ balanced)
        self.assertAlmostEqual(
            y, WHITE_LUMINANCE if kind == "white" else float(SRGB_TO_XYZ[1] @ np.array(rgb)), delta=1e-3
        )

    def test_refuses_what_cannot_be_a_neutral(self):
        for rgb, word in (
            ((0.001, 0.001, 0.001), "dark"),
            ((1.0, 0.9, 0.8), "burnt out"),
            ((0.7, 0.05, 0.05), "colourful"),
        ):
            with self.assertRaises(OchreError) as caught:
                balance_from(rgb, "grey")
            self.assertIn(word, str(caught.exception))

    def test_no_balance_changes_nothing(self):
        rgb = np.random.default_rng(0).random((5, 3)).astype(np.float32)
        np.testing.assert_array_equal(Balance().apply(rgb), rgb)


class Views(unittest.TestCase):
    def test_value_view_is_grey_of_the_same_luminance(self):
        linear = picture(blocks((200, 40, 40), (40, 90, 200))).linear()
        shown = show(linear, View(value=True))
        self.assertTrue((shown[..., 0] == shown[..., 1]).all() and (shown[..., 1] == shown[..., 2]).all())
        y = float(SRGB_TO_XYZ[1] @ linear[10, 10])
        from ochre_stone.core.colour.spaces import decode_srgb

        self.assertAlmostEqual(float(decode_srgb(shown[10, 10, 0] / 255)), y, delta=0.005)

    def test_squint_keeps_the_light_and_melts_detail(self):
        linear = picture(orchard()).linear()
        soft = squint(linear, 0.7)
        self.assertAlmostEqual(float(soft.mean()), float(linear.mean()), delta=0.01)
        self.assertLess(float(np.abs(np.diff(soft, axis=1)).mean()), float(np.abs(np.diff(linear, axis=1)).mean()) / 3)
        np.testing.assert_array_equal(squint(linear, 0.0), linear)
        with self.assertRaises(ValueError):
            squint(linear, 2.0)

    def test_as_is_gives_the_picture_back(self):
        pixels = orchard()
        self.assertLessEqual(int(np.abs(show(picture(pixels).linear(), View()).astype(int) - pixels).max()), 1)


class Samples(unittest.TestCase):
    def test_median_of_a_disc(self):
        stripes = blocks((200, 60, 60), (60, 60, 200), side=100)
        p = picture(stripes)
        red = sample(p, 40, 50, 31)
        self.assertLess(red.spread, 0.1)
        self.assertEqual(red.spread_words, "even")
        at_border = sample(p, 100, 50, 31)
        self.assertGreater(at_border.spread, 6)
        self.assertEqual(at_border.spread_words, "mixed")
        assert at_border.pair is not None
        for part, lab in zip(at_border.pair, sorted((red.lab, sample(p, 160, 50, 31).lab)), strict=True):
            self.assertAlmostEqual(part.share, 0.5, delta=0.06)
            self.assertTrue(any(np.allclose(q.lab, lab, atol=0.2) for q in at_border.pair))

    def test_robust_against_specks(self):
        pixels = np.full((100, 100, 3), 120, np.uint8)
        pixels[::5, ::5] = 255
        clean = sample(picture(np.full((100, 100, 3), 120, np.uint8)), 50, 50, 41)
        self.assertAlmostEqual(sample(picture(pixels), 50, 50, 41).lab[0], clean.lab[0], delta=0.01)

    def test_apertures_are_round_and_never_empty(self):
        p = picture(orchard())
        counts = [len(spot(p, 100, 100, a)) for a in (1, 3, 15, 101)]
        self.assertEqual(counts[0], 1)
        self.assertAlmostEqual(counts[2], np.pi * 7.5**2, delta=12)
        self.assertAlmostEqual(counts[3], np.pi * 50.5**2, delta=60)

    @settings(max_examples=60, deadline=None)
    @given(st.floats(0, 319.99), st.floats(0, 239.99), st.integers(1, 101))
    def test_anywhere_in_the_picture(self, x, y, aperture):
        seen = sample(ORCHARD, x, y, aperture)
        self.assertTrue(np.isfinite(seen.lab).all())

    def test_outside_and_impossible_apertures(self):
        p = picture(orchard())
        for x, y, aperture in ((-1, 5, 9), (5, 1000, 9), (5, 5, 0), (5, 5, 102)):
            with self.assertRaises(OchreError):
                sample(p, x, y, aperture)

    def test_clipping_is_seen(self):
        burnt = np.full((80, 80, 3), 255, np.uint8)
        self.assertGreater(sample(picture(burnt), 40, 40, 9).clipped, 0.9)
        self.assertEqual(sample(picture(orchard()), 40, 20, 9).clipped, 0.0)

    def test_sampling_follows_the_light(self):
        p = picture(blocks((180, 150, 120), (100, 90, 80)))
        balance = balance_from(p.linear()[60, 20], "grey")
        lab = sample(p, 20, 60, 15, balance).lab
        self.assertLess(np.hypot(lab[1], lab[2]), 0.1)


ORCHARD = picture(orchard())


class Simplify(unittest.TestCase):
    def test_detail_melts_and_edges_stay(self):
        rng = np.random.default_rng(0)
        step = np.where(np.arange(200) < 100, 30.0, 70.0)[None].repeat(150, axis=0)
        noisy = (step + rng.normal(0, 5, step.shape)).astype(np.float32)
        smooth = smooth_lightness(noisy, 0.3)
        self.assertLess(smooth[:, :90].std(), 1.5)
        edge = smooth.mean(axis=0)
        self.assertGreater(edge[104] - edge[95], 25)

    def test_zero_changes_nothing(self):
        noisy = np.random.default_rng(0).random((40, 40)).astype(np.float32)
        np.testing.assert_array_equal(smooth_lightness(noisy, 0.0), noisy)
        with self.assertRaises(ValueError):
            smooth_lightness(noisy, 1.5)
