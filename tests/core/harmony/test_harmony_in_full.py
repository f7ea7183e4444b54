"""Locked dominant, accents, proportions, light against shadow, shared thirds, ladders, preview."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.gamut import most_chroma, within_srgb
from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.spaces import BRADFORD, SRGB_TO_XYZ, XYZ_TO_SRGB, decode_srgb, lab_to_xyz, lch, xyz_to_lab
from ochre_stone.core.colour.wheel import turn, wheel
from ochre_stone.core.harmony.ladders import by_air, by_rule, sky, through_air
from ochre_stone.core.harmony.preview import recoloured, ways
from ochre_stone.core.harmony.proportions import proportions
from ochre_stone.core.harmony.relation import push, relations
from ochre_stone.core.harmony.schemes import ACCENT_SHARE, BINS, OFFSETS, dominant, fit, places, pull
from ochre_stone.core.harmony.thirds import parts, shared


def hue(angle: float, L: float = 55.0, C: float = 35.0) -> tuple[float, float, float]:
    """A colour at a place of the traditional wheel."""
    h = np.radians(float(wheel("traditional").lab_hue(angle)))
    return L, float(C * np.cos(h)), float(C * np.sin(h))


def angle_of(lab: object) -> float:
    return float(wheel("traditional").angle(float(lch(np.asarray(lab))[2])))


class Gamut(unittest.TestCase):
    def test_the_border_is_the_border(self):
        rng = np.random.default_rng(0)
        L, h = rng.uniform(5, 95, 200), rng.uniform(0, 360, 200)
        C = most_chroma(L, h)
        for share, inside in ((0.97, True), (1.05, False)):
            ab = np.stack([L, share * C * np.cos(np.radians(h)), share * C * np.sin(np.radians(h))], axis=1)
            rgb = lab_to_xyz(ab) @ XYZ_TO_SRGB.T
            fits = (rgb >= -1e-4).all(axis=1) & (rgb <= 1.0001).all(axis=1)
            self.assertGreater(float((fits == inside).mean()), 0.97)

    def test_held(self):
        out = within_srgb(60.0, [5.0, 300.0], 30.0)
        np.testing.assert_allclose(lch(out)[1][0], 5.0)
        self.assertLess(float(lch(out)[1][1]), 110)
        np.testing.assert_allclose(lch(out)[2], 30.0)


class Anchored(unittest.TestCase):
    def hues(self, *angles_and_weights: tuple[float, float]) -> np.ndarray:
        rng = np.random.default_rng(2)
        marks = np.concatenate([(a + rng.normal(0, 6, round(3000 * w))) % 360 for a, w in angles_and_weights])
        return np.histogram(marks, BINS, (0, 360))[0].astype(float)

    def test_dominant(self):
        self.assertLess(abs(dominant(self.hues((217, 0.6), (30, 0.4))) - 217), 4)
        self.assertLess(abs(float(turn(0, dominant(self.hues((359, 1.0)))))), 4)
        self.assertIsNone(dominant(np.zeros(BINS)))

    def test_one_arm_stays_on_the_dominant_hue(self):
        hues = self.hues((217, 0.6), (30, 0.4))
        keep = dominant(hues)
        for s in fit(hues, keep):
            if s.name != "none":
                self.assertLess(min(abs(float(turn(keep, a))) for a in s.arms), 1e-6, s.name)
        free = {s.name: s.score for s in fit(hues)}
        for s in fit(hues, keep):
            self.assertLessEqual(s.score, free[s.name] + 1e-9, "a free scheme fits at least as well")


class Accents(unittest.TestCase):
    def test_large_notes_keep_away_from_accent_arms(self):
        arms = (0.0, 180.0)
        lab = [hue(20), hue(170), hue(165)]
        share = [0.5, 0.4, 0.05]
        out = pull(lab, arms, 1.0, "traditional", accents=(1,), share=share)
        got = [angle_of(c) for c in out]
        self.assertLess(abs(float(turn(0, got[0]))), 1)
        self.assertLess(abs(float(turn(0, got[1]))), 1, "too large for the accent")
        self.assertLess(abs(float(turn(180, got[2]))), 1, "small: drawn to the accent")
        self.assertGreater(0.4, ACCENT_SHARE)

    def test_all_arms_accents_is_as_none(self):
        lab, share = [hue(20), hue(170)], [0.5, 0.5]
        np.testing.assert_allclose(
            pull(lab, (0.0, 180.0), 1.0, "traditional", (0, 1), share), pull(lab, (0.0, 180.0), 1.0, "traditional")
        )

    def test_held_notes_stay(self):
        lab = np.array([hue(20), hue(40)])
        out = pull(lab, (0.0,), 1.0, "traditional", held=[True, False])
        np.testing.assert_allclose(out[0], lab[0], atol=1e-12)
        self.assertLess(abs(float(turn(0, angle_of(out[1])))), 1)

    @settings(max_examples=80, deadline=None)
    @given(
        st.floats(8, 95),
        st.floats(0, 359.9),
        st.floats(0, 1),
        st.sampled_from(list(OFFSETS)),
        st.floats(0, 359),
        st.floats(0, 1),
    )
    def test_inside_the_screen_stays_inside(self, L, h, share, scheme, rotation, amount):
        lab = within_srgb(L, share * float(most_chroma(L, h)), h)[None]
        out = pull(lab, places(scheme, rotation), amount, "traditional")
        self.assertLess(abs(float(value_of_lightness(out[0, 0]) - value_of_lightness(L))), 0.1)
        self.assertLessEqual(float(lch(out)[1][0]), float(lch(lab)[1][0]) + 1e-6)
        rgb = lab_to_xyz(out) @ XYZ_TO_SRGB.T
        self.assertTrue(((rgb > -0.012) & (rgb < 1.012)).all(), rgb)


class Proportions(unittest.TestCase):
    def test_roles_and_shares(self):
        lab = [hue(240), hue(230), hue(60), hue(0, C=60), (50.0, 0.0, 0.0)]
        p = proportions(lab, [0.3, 0.2, 0.25, 0.05, 0.2])
        self.assertEqual(
            [(v.role, v.members) for v in p.voices], [("dominant", (0, 1)), ("supporting", (2,)), ("accent", (3,))]
        )
        self.assertAlmostEqual(sum(v.share for v in p.voices) + p.neutral, 1.0)
        self.assertEqual(p.loudest, 3)
        self.assertAlmostEqual(p.warm, 0.30, delta=1e-6)
        self.assertAlmostEqual(p.cool, 0.50, delta=1e-6)
        self.assertAlmostEqual(p.quiet, 0.20, delta=1e-6)

    def test_advice_says_why(self):
        even = proportions([hue(40), hue(220)], [0.5, 0.5])
        self.assertTrue(any("nearly the same room" in a for a in even.advice))
        self.assertTrue(any("Warm and cool are nearly even" in a for a in even.advice))
        self.assertTrue(any("quiet greys" in a for a in even.advice))
        outside = proportions([hue(40), hue(0, C=70)], [0.9, 0.1], in_focus=[True, False], names=["wall", "scarf"])
        self.assertTrue(any("“scarf”" in a and "outside the focus" in a for a in outside.advice))

    def test_nothing_and_only_greys(self):
        self.assertEqual(proportions([], []).voices, ())
        greys = proportions([(50.0, 0, 0), (70.0, 0.5, 0)], [0.5, 0.5])
        self.assertEqual((greys.voices, greys.loudest, greys.neutral), ((), None, 1.0))


class Relations(unittest.TestCase):
    def notes(self):
        lab = [(75.0, 14.0, 26.0), (40.0, 10.0, 4.0), (70.0, -4.0, 30.0), (35.0, -6.0, 6.0)]
        return lab, ["skin", "skin", "foliage", "foliage"], [True, False, True, False], [0.3, 0.2, 0.3, 0.2]

    def test_warm_light_and_cool_shadow(self):
        found = relations(*self.notes())
        self.assertTrue(found.consistent)
        self.assertEqual({r.says for r in found.found}, {"light warm, shadow cool"})
        self.assertIn("2 of 2 subjects", found.words)

    def test_one_that_turns_the_other_way_is_named(self):
        lab, subjects, light, share = self.notes()
        lab += [(80.0, -3.0, -14.0), (45.0, 8.0, 12.0)]
        found = relations(lab, [*subjects, "wall", "wall"], [*light, True, False], [*share, 0.1, 0.1])
        self.assertFalse(found.consistent)
        self.assertIn("warm in wall, cool in skin, foliage", found.words)

    def test_a_shadow_that_is_only_darker_has_no_turn_whatever_the_colour(self):
        """Local colour is no temperature: a fifth of the light on any thing gives no turn, although it looks duller."""
        for lab in ((80.0, 0.0, 60.0), (55.0, -2.0, -30.0), (60.0, 45.0, 20.0), (70.0, -30.0, 30.0)):
            dim = xyz_to_lab(lab_to_xyz(np.array(lab)) * 0.2)
            found = relations([lab, tuple(dim)], ["x", "x"], [True, False], [0.5, 0.5]).found[0]
            self.assertAlmostEqual(found.warmer_by, 0.0, places=6)
            self.assertLess(found.chroma_step, 0)
            self.assertEqual(found.says, "no turn of temperature")

    def test_a_known_light_is_found_on_any_thing(self):
        """Sunlight against the light of a blue sky (illuminants D50 and D75 of CIE 15): shadows under the second are
        cool, by the same amount on a grey and on a red surface."""
        sun, sky = np.array([0.9642, 1.0, 0.8251]), np.array([0.9497, 1.0, 1.2264])
        turns = []
        for reflectance in (0.4, 0.7):
            thing = np.array([0.5, 0.5 * reflectance, 0.3 * reflectance])
            cones = BRADFORD @ thing
            lit, dark = (
                np.linalg.solve(BRADFORD, cones * (BRADFORD @ light)) * k for light, k in ((sun, 1.0), (sky, 0.2))
            )
            pair = [tuple(xyz_to_lab(c)) for c in (lit, dark)]
            turns.append(relations(pair, ["x", "x"], [True, False], [0.5, 0.5]).found[0].warmer_by)
        self.assertAlmostEqual(turns[0], turns[1], places=6)
        self.assertLess(turns[0], -0.4)

    def test_without_pairs(self):
        self.assertIn("No subject", relations([hue(0)], ["skin"], [True], [1.0]).words)

    def test_push_and_calm(self):
        lab, subjects, light, share = self.notes()
        before = np.array(lab)
        for amount in (0.5, -1.0):
            out = push(lab, subjects, light, share, amount)
            np.testing.assert_array_equal(out[:, 0], before[:, 0])
            gap = before[0, 1:] - before[1, 1:]
            np.testing.assert_allclose(out[0, 1:] - out[1, 1:], gap * (1 + amount), atol=0.5)
        np.testing.assert_array_equal(push(lab, subjects, light, share, 0.0), before)
        stays = push(lab, subjects, light, share, 1.0, [True, False, False, False])
        np.testing.assert_array_equal(stays[0], before[0])
        with self.assertRaises(ValueError):
            push(lab, subjects, light, share, 1.5)

    def test_the_mean_of_a_subject_stays(self):
        lab, subjects, light, share = self.notes()
        out = push(lab, subjects, light, share, 0.6)
        w = np.array(share[:2])[:, None]
        np.testing.assert_allclose((out[:2] * w).sum(axis=0), (np.array(lab[:2]) * w).sum(axis=0), atol=1e-6)


class Thirds(unittest.TestCase):
    def test_textbook_pairs(self):
        """Red-orange and blue-green both hold yellow (product description); pure opposites share nothing."""
        s = shared(hue(30), hue(210))
        self.assertEqual(s.thirds, ("yellow",))
        self.assertIn("without mud", s.words)
        self.assertEqual(shared(hue(0), hue(180)).thirds, ())
        self.assertEqual(set(shared(hue(60), hue(90)).thirds), {"red", "yellow"})

    def test_parts_add_up(self):
        for a in range(0, 360, 17):
            self.assertAlmostEqual(sum(parts(hue(a)).values()), 1.0, places=6)
        self.assertEqual(set(parts((50.0, 0.0, 0.0)).values()), {0.0})


class Ladders(unittest.TestCase):
    near, horizon = (38.0, -14.0, 26.0), (80.0, -3.0, -9.0)

    def test_nothing_happens_without_air_and_everything_far_away(self):
        out = through_air(self.near, self.horizon, [0.0, 2000.0], 20.0, "haze")
        np.testing.assert_allclose(out[0], self.near, atol=1e-6)
        np.testing.assert_allclose(out[1], self.horizon, atol=1e-3)

    def test_fog_is_even_and_clear_air_is_bluer(self):
        black = (0.0, 0.0, 0.0)
        white = (100.0, 0.0, 0.0)
        fog = through_air(black, white, [3.0], 20.0, "fog")[0]
        np.testing.assert_allclose(fog[1:], 0.0, atol=1e-3)
        haze, clear = (through_air(black, white, [3.0], 20.0, a)[0] for a in ("haze", "clear"))
        self.assertLess(haze[2], -2)
        self.assertLess(clear[2], haze[2])

    def test_both_ladders_go_lighter_and_duller_and_end_at_the_horizon(self):
        for rungs in (
            by_air(self.near, self.horizon, 6, 0.1, 40.0, 20.0, "haze"),
            by_rule(self.near, self.horizon, 6, 0.1, 40.0),
        ):
            L = [r.lab[0] for r in rungs]
            self.assertEqual(L, sorted(L))
            np.testing.assert_allclose(rungs[0].lab, self.near, atol=1.5)
            self.assertLess(np.linalg.norm(np.subtract(rungs[-1].lab, self.horizon)), 9)
            self.assertEqual(rungs[0].at, 0.1)
            self.assertAlmostEqual(rungs[-1].at, 40.0)

    def test_by_the_rule_yellow_goes_before_red(self):
        rungs = by_rule((45.0, 12.0, 30.0), (78.0, -2.0, -12.0), 7, 0.1, 20)
        half = rungs[3].lab
        yellow_gone = (30.0 - half[2]) / (30.0 + 12.0)
        red_gone = (12.0 - half[1]) / (12.0 + 2.0)
        self.assertGreater(yellow_gone, red_gone + 0.2)

    def test_by_the_rule_a_little_red_makes_up_for_the_yellow(self):
        rungs = by_rule((40.0, -8.0, 28.0), (75.0, -2.0, -14.0), 7, 0.1, 20)
        a = [r.lab[1] for r in rungs]
        self.assertGreater(max(a[1:4]), -4.0, "a green goes over a duller, warmer one")
        self.assertLess(abs(a[-1] + 2.0), 2.0, "and loses the red again toward the horizon")
        blue = by_rule((40.0, 4.0, -10.0), (75.0, -2.0, -14.0), 5, 0.1, 20)
        self.assertEqual([r.lab[1] for r in blue], sorted((r.lab[1] for r in blue), reverse=True), "no yellow to lose")

    def test_bad_distances(self):
        with self.assertRaises(ValueError):
            through_air(self.near, self.horizon, [-1.0], 20.0)
        with self.assertRaises(ValueError):
            through_air(self.near, self.horizon, [1.0], 0.0)

    def test_a_sky_goes_through_its_notes(self):
        notes = [(0.0, (85.0, 2.0, 8.0)), (0.3, (70.0, -2.0, -15.0)), (1.0, (50.0, -2.0, -35.0))]
        rungs = sky(notes, 9)
        np.testing.assert_allclose(rungs[0].lab, notes[0][1], atol=1e-6)
        np.testing.assert_allclose(rungs[-1].lab, notes[-1][1], atol=1e-6)
        L = [r.lab[0] for r in rungs]
        self.assertEqual(L, sorted(L, reverse=True))

    def test_a_band_keeps_values(self):
        notes = [(0.0, (85.0, 0.0, 0.0)), (1.0, (50.0, -2.0, -35.0))]
        plain = sky(notes, 7)
        for band, axis in (("pink", 1), ("warm", 2)):
            banded = sky(notes, 7, band, 1.0)
            self.assertEqual([r.lab[0] for r in banded], [r.lab[0] for r in plain])
            self.assertGreater(banded[1].lab[axis], plain[1].lab[axis] + 4, band)
            np.testing.assert_allclose(banded[-1].lab, plain[-1].lab, atol=0.1)
        with self.assertRaises(ValueError):
            sky(notes[:1], 5)


class Preview(unittest.TestCase):
    def setUp(self) -> None:
        self.before = np.array([hue(30), hue(200), (60.0, 2.0, 3.0)])
        self.after = pull(self.before, places("complementary", 10), 0.8, "traditional")

    def test_notes_go_where_their_targets_are(self):
        out = recoloured(self.before.astype(np.float32), ways(self.before, self.after))
        self.assertLess(float(np.linalg.norm(out - self.after, axis=1).max()), 2.0)

    def test_values_stay_to_the_last_bit(self):
        rng = np.random.default_rng(1)
        lab = rng.uniform((0, -60, -60), (100, 60, 60), (4000, 3)).astype(np.float32)
        out = recoloured(lab, ways(self.before, self.after))
        np.testing.assert_array_equal(out[:, 0], lab[:, 0])

    def test_colours_of_the_screen_stay_colours_of_the_screen(self):
        """sRGB in, sRGB out, though chroma grows and hues turn: every 17th code of each channel. What the border's
        table leaves at its sharp corner (yellow) is clipped by an amount that is hard to see."""
        code = np.arange(0, 256, 17) / 255
        rgb = np.stack(np.meshgrid(code, code, code), axis=-1).reshape(-1, 3)
        lab = xyz_to_lab(decode_srgb(rgb) @ SRGB_TO_XYZ.T)
        brighter = self.before * (1, 1.8, 1.8)
        for after in (self.after, brighter):
            out = recoloured(lab.astype(np.float32), ways(self.before, after)).astype(float)
            self.assertGreater(float(np.linalg.norm(out - lab, axis=1).max()), 5)
            back = lab_to_xyz(out) @ np.linalg.inv(SRGB_TO_XYZ).T
            off = ciede2000(xyz_to_lab(np.clip(back, 0, 1) @ SRGB_TO_XYZ.T), out)
            self.assertLess(float(off.max()), 1.5)
            self.assertLess(float(np.percentile(off, 98)), 0.3)

    def test_turned_and_shifted_by_hand(self):
        """One note, turned by ninety degrees; a grey, moved by (4, -6); and nothing beyond their reach."""
        grid = ways([(50.0, 20.0, 0.0)], [(50.0, 0.0, 20.0)])
        np.testing.assert_allclose(recoloured(np.array([[50, 20, 0]], np.float32), grid), [[50, 0, 20]], atol=0.3)
        np.testing.assert_allclose(recoloured(np.array([[50, 0, -20]], np.float32), grid)[0, 0], 50)
        moved = recoloured(np.array([[50, 0, 0]], np.float32), ways([(50.0, 0.0, 0.0)], [(50.0, 4.0, -6.0)]))
        np.testing.assert_allclose(moved, [[50, 4, -6]], atol=0.2)
        far = recoloured(np.array([[50, -90, 90]], np.float32), ways([(50.0, 20.0, 0.0)], [(50.0, 0.0, 20.0)]))
        self.assertLess(float(np.abs(far - [[50, -90, 90]]).max()), 6.0)

    def test_nothing_moved_moves_nothing(self):
        lab = np.random.default_rng(1).uniform((0, -40, -40), (100, 40, 40), (500, 3)).astype(np.float32)
        np.testing.assert_allclose(recoloured(lab, ways(self.before, self.before)), lab, atol=1e-4)

    def test_no_bands(self):
        """A fine ramp of colour comes out as a ramp: no step is much larger than it was."""
        t = np.linspace(0, 1, 4000)[:, None]
        ramp = (np.array([[40, 30, 40]]) * (1 - t) + np.array([[75, -25, -30]]) * t).astype(np.float32)
        out = recoloured(ramp, ways(self.before, self.after))
        before = np.linalg.norm(np.diff(ramp, axis=0), axis=1)
        after = np.linalg.norm(np.diff(out, axis=0), axis=1)
        self.assertLess(float((after / before).max()), 4.0)
