"""Ladders, proportions and relations by their figures: what each formula gives, worked out by hand."""

import math
import unittest

import numpy as np

from ochre_stone.core.colour.munsell import munsell_to_lab
from ochre_stone.core.colour.relations import WARMTHS
from ochre_stone.core.colour.spaces import SRGB_TO_XYZ, XYZ_TO_SRGB, lab_to_xyz, xyz_to_lab
from ochre_stone.core.harmony.ladders import by_air, by_rule, distances, extinction, sky
from ochre_stone.core.harmony.proportions import proportions
from ochre_stone.core.harmony.relation import Relation, Relations, push


def munsell(hue: float, value: float, chroma: float) -> tuple[float, float, float]:
    L, a, b = munsell_to_lab(hue, value, chroma).tolist()
    return L, a, b


RED, BLUE, YELLOW = munsell(5, 5, 8), munsell(67, 4, 6), munsell(25, 8, 8)
GREY = (50.0, 0.0, 0.0)


class Ladders(unittest.TestCase):
    LAB, HORIZON = (40.0, 20.0, 30.0), (80.0, 0.0, -10.0)

    def test_by_the_rule_rung_by_rung(self):
        """Value by s^.8, yellow by 1 - (1 - s / .65)^2, red eased from .25 to 1.05 and a fifth of the yellow that went
        on top of it, with s from 0 to .9."""
        rungs = by_rule(self.LAB, self.HORIZON, 4, 1.0, 8.0)
        for s, r in zip((0.0, 0.3, 0.6, 0.9), rungs, strict=True):
            x = min(max((s - 0.25) / 0.8, 0), 1)
            yellow = 1 - (1 - min(s / 0.65, 1)) ** 2
            red = x * x * (3 - 2 * x)
            want = (40 + 40 * s**0.8, 20 - 20 * red + 0.2 * 40 * yellow * (1 - red), 30 - 40 * yellow)
            np.testing.assert_allclose(r.lab, want, atol=1e-9)
        np.testing.assert_allclose([r.at for r in rungs], [1, 2, 4, 8])

    def test_by_air_each_band_by_its_own_extinction(self):
        """Koschmieder: a contrast of 2 % is left at the visibility; haze goes with wavelength to the -1.3."""
        beta = extinction(20.0, 1.3)
        self.assertAlmostEqual(float(beta[1]), -math.log(0.02) / 20)
        self.assertAlmostEqual(float(beta[2] / beta[0]), (465 / 610) ** -1.3)
        np.testing.assert_allclose(distances(3, 1, 9), [1, 3, 9])
        rungs = by_air(self.LAB, self.HORIZON, 3, 1.0, 9.0, 20.0, "haze")
        thing, horizon = (XYZ_TO_SRGB @ lab_to_xyz(np.array(c)) for c in (self.LAB, self.HORIZON))
        for d, r in zip((0.0, 2.0, 8.0), rungs, strict=True):
            left = np.exp(-beta * d)
            np.testing.assert_allclose(
                r.lab, xyz_to_lab(SRGB_TO_XYZ @ (left * thing + (1 - left) * horizon)), atol=1e-6
            )

    def test_a_sky_of_two_notes_is_straight_in_the_root_of_height(self):
        rungs = sky([(0.0, (90.0, 0.0, 0.0)), (1.0, (50.0, 0.0, -40.0))], 5)
        self.assertEqual([r.lab[0] for r in rungs], sorted((r.lab[0] for r in rungs), reverse=True))
        for r in rungs:
            np.testing.assert_allclose(r.lab, (90 - 40 * math.sqrt(r.at), 0, -40 * math.sqrt(r.at)), atol=0.01)


class Proportions(unittest.TestCase):
    def test_shares_are_counted(self):
        found = proportions([RED, BLUE, YELLOW, GREY], [4, 2, 1, 3])
        self.assertEqual(
            [(v.word, v.role, round(v.share, 6), v.members) for v in found.voices],
            [("red", "dominant", 0.4, (0,)), ("blue", "supporting", 0.2, (1,)), ("yellow", "accent", 0.1, (2,))],
        )
        self.assertAlmostEqual(found.neutral, 0.3)
        self.assertAlmostEqual(found.quiet, 0.3)
        for school in WARMTHS:  # they differ in blues alone: red and yellow are warm in both
            self.assertAlmostEqual(proportions([RED, BLUE, YELLOW, GREY], [4, 2, 1, 3], school=school).warm, 0.5)
        self.assertAlmostEqual(found.cool, 0.2)
        self.assertEqual(found.loudest, 0)
        self.assertEqual(found.advice, ())

    def test_what_is_advised_and_when(self):
        def advice(lab, share, **more):
            return " ".join(proportions(lab, share, **more).advice)

        self.assertIn("Red and blue take nearly the same room", advice([RED, BLUE], [0.54, 0.46]))
        self.assertNotIn("same room", advice([RED, BLUE], [0.56, 0.44]))
        self.assertIn("Warm and cool are nearly even", advice([RED, BLUE, GREY], [0.34, 0.26, 0.4]))
        self.assertNotIn("nearly even", advice([RED, BLUE, GREY], [0.36, 0.24, 0.4]))
        self.assertIn("Few quiet greys", advice([RED, GREY], [0.86, 0.14]))
        self.assertNotIn("Few quiet", advice([RED, GREY], [0.84, 0.16]))
        self.assertIn("Nearly all is quiet", advice([RED, GREY], [0.14, 0.86]))
        self.assertNotIn("Nearly all", advice([RED, GREY], [0.16, 0.84]))
        self.assertIn("No accent", advice([RED, BLUE], [0.88, 0.12]))
        self.assertNotIn("No accent", advice([RED, BLUE], [0.89, 0.11]))
        outside = advice([RED, BLUE], [0.9, 0.1], in_focus=[False, True], names=["hat", "sea"])
        self.assertIn("“hat” is the loudest note and lies outside the focus", outside)
        self.assertNotIn("loudest", advice([RED, BLUE], [0.9, 0.1], in_focus=[True, False], names=["hat", "sea"]))
        self.assertEqual(proportions([RED], [0.0]).voices, ())

    def test_hues_within_thirty_degrees_are_one_voice(self):
        near = proportions([munsell(5, 5, 8), munsell(8, 5, 8), BLUE], [1, 1, 1]).voices
        self.assertEqual([v.members for v in near], [(0, 1), (2,)])


class Relate(unittest.TestCase):
    def of(self, *turns: float) -> str:
        found = tuple(Relation(f"thing {i}", 2.0, 0.0, t, 0.0) for i, t in enumerate(turns))
        return Relations(found, len({t > 0 for t in turns if abs(t) >= 0.12}) <= 1).words

    def test_words(self):
        self.assertEqual(self.of(0.2), "Consistent: light cool, shadow warm in 1 of 1 subject.")
        self.assertEqual(self.of(-0.12, 0.11), "Consistent: light warm, shadow cool in 1 of 2 subjects.")
        self.assertIn("one temperature", self.of(0.11, -0.11))
        self.assertIn("shadows go warm in thing 0, cool in thing 1", self.of(0.3, -0.3))
        self.assertIn("No subject", self.of())
        self.assertEqual(Relation("x", 1, 0, 0.11, 0).says, "no turn of temperature")

    def test_a_push_of_half_makes_the_difference_half_as_large_again(self):
        lab = [(70.0, 10.0, 20.0), (40.0, 2.0, 4.0)]
        for amount in (0.5, -0.4):
            out = push(lab, ["skin"] * 2, [True, False], [0.3, 0.3], amount)
            np.testing.assert_allclose(out[0, 1:] - out[1, 1:], np.array([8.0, 16.0]) * (1 + amount), atol=1e-6)
            np.testing.assert_allclose(out[:, 0], [70, 40])
            np.testing.assert_allclose(out[:, 1:].mean(axis=0), [6, 12], atol=1e-6)
        small = push(lab, ["skin"] * 2, [True, False], [0.6, 0.2], 0.5)
        self.assertGreater(np.linalg.norm(small[1] - lab[1]), np.linalg.norm(small[0] - lab[0]))
        alone = push(lab, ["skin", "sky"], [True, False], [0.3, 0.3], 0.5)
        np.testing.assert_allclose(alone, lab)
        with self.assertRaises(ValueError):
            push(lab, ["skin"] * 2, [True, False], [0.3, 0.3], 1.1)
