"""Harmony against figures worked out by hand."""

import math
import unittest

import numpy as np

from ochre_stone.core.colour.wheel import wheel
from ochre_stone.core.harmony.proportions import proportions
from ochre_stone.core.harmony.schemes import ARM_SD, BINS, dominant, fit, hue_weights


def lab(L: float, C: float, h: float) -> tuple[float, float, float]:
    return (L, C * math.cos(math.radians(h)), C * math.sin(math.radians(h)))


class Hues(unittest.TestCase):
    def test_a_hue_alone_is_the_middle_of_its_bin(self) -> None:
        for k in (0, 7, 40, 71):
            h = np.zeros(BINS)
            h[k] = 2.0
            self.assertAlmostEqual(dominant(h), (k + 0.5) * 360 / BINS, places=6)
        self.assertIsNone(dominant(np.zeros(BINS)))

    def test_one_far_away_does_not_pull(self) -> None:
        hues = np.zeros(BINS)
        hues[20], hues[56] = 1.0, 0.4
        self.assertAlmostEqual(dominant(hues) or 0.0, 20.5 * 360 / BINS, places=3)

    def test_two_near_hues_meet_between_by_their_weight(self) -> None:
        h = np.zeros(BINS)
        h[10], h[12] = 3.0, 1.0
        angle = dominant(h)
        softened = math.exp(-0.5 * (10 / ARM_SD) ** 2)  # what counts of a hue two bins away from the peak
        self.assertAlmostEqual(angle, 10.5 * 5 + 10 * softened / (3 + softened), delta=0.05)
        h[40] = 2.9  # another hue, lighter than both together, has no say
        self.assertAlmostEqual(dominant(h), angle, delta=0.5)

    def test_shares_are_area_times_chroma_beyond_the_floor(self) -> None:
        found = hue_weights([lab(50, 24, 20), lab(60, 44, 200), lab(50, 3, 100)], [0.5, 0.25, 0.25], "traditional")
        w = wheel("traditional")
        a, b = (int(w.angle(h) * BINS / 360) % BINS for h in (20.0, 200.0))
        self.assertAlmostEqual(found[a], 0.5 * 20 / (0.5 * 20 + 0.25 * 40))
        self.assertAlmostEqual(found[b], 0.25 * 40 / (0.5 * 20 + 0.25 * 40))
        self.assertAlmostEqual(float(found.sum()), 1.0)
        self.assertEqual(float(hue_weights([lab(50, 3, 100)], [1.0], "traditional").sum()), 0.0)

    def test_a_scheme_is_fitted_where_its_arms_are(self) -> None:
        h = np.zeros(BINS)
        h[0], h[36] = 0.6, 0.4
        best = fit(h)[0]
        self.assertEqual(best.name, "complementary")
        arms = sorted(a % 360 for a in best.arms)
        self.assertLess(min(abs(arms[0] - 2.5), abs(arms[0] - 2.5 + 360)), 6)
        self.assertAlmostEqual(arms[1] - arms[0], 180.0)
        self.assertGreater(best.explained, 0.8)

    def test_an_anchor_holds_an_arm(self) -> None:
        h = np.zeros(BINS)
        h[5], h[41] = 0.5, 0.5
        for found in fit(h, anchor=100.0):
            if found.name != "none":
                off = [abs((a - 100.0 + 180) % 360 - 180) for a in found.arms]
                self.assertLess(min(off), 1e-6, found.name)


class Shares(unittest.TestCase):
    def test_shares_of_the_whole(self) -> None:
        colours = [lab(50, 40, 30), lab(60, 30, 35), lab(50, 45, 210), lab(70, 1, 0)]
        found = proportions(colours, [2.0, 1.0, 0.5, 1.5], names=["a", "b", "c", "d"])
        self.assertEqual([v.members for v in found.voices], [(0, 1), (2,)])
        self.assertEqual([v.role for v in found.voices], ["dominant", "accent"])
        self.assertAlmostEqual(found.voices[0].share, 0.6)
        self.assertAlmostEqual(found.neutral, 0.3)
        self.assertAlmostEqual(found.quiet, 0.3)
        self.assertAlmostEqual(found.warm, 0.6)
        self.assertAlmostEqual(found.cool, 0.1)
        self.assertEqual(found.loudest, 2)

    def test_a_second_hue_of_an_eighth_supports(self) -> None:
        for share, role in ((0.13, "supporting"), (0.11, "accent")):
            found = proportions([lab(50, 40, 30), lab(50, 40, 210)], [1 - share, share])
            self.assertEqual(found.voices[1].role, role)

    def test_nothing_has_no_shares(self) -> None:
        for found in (proportions([], []), proportions([lab(50, 10, 0)], [0.0])):
            self.assertEqual((found.voices, found.neutral, found.loudest, found.advice), ((), 0.0, None, ()))

    def test_even_hues_and_sides_are_told(self) -> None:
        near = " ".join(proportions([lab(50, 40, 30), lab(50, 40, 210)], [0.54, 0.46]).advice)
        self.assertIn("same room", near)
        self.assertIn("nearly even", near)
        far = " ".join(proportions([lab(50, 40, 30), lab(50, 40, 210)], [0.56, 0.44]).advice)
        self.assertNotIn("same room", far)
        self.assertNotIn("nearly even", far)
