"""Locked thresholds, focus, painted families, statement, alternatives, edges in hue, turns, outlines, swaps."""

import re
import unittest
from dataclasses import replace
from pathlib import Path

import cv2
import numpy as np
from PIL import Image

from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.errors import OchreError
from ochre_stone.core.masses import edges, shapes
from ochre_stone.core.masses.alternatives import alternatives
from ochre_stone.core.masses.gradations import areas, toward, turns
from ochre_stone.core.masses.outlines import bezier, kinds_along, outlines, plan_outlines
from ochre_stone.core.masses.plan import PAINTED_LIGHT, PAINTED_SHADOW, MassSettings, grey_of_value, plan, prepare
from ochre_stone.core.masses.render import Ramp, painted
from ochre_stone.core.masses.statement import state, strongest_contrast
from ochre_stone.core.masses.swap import swapped
from ochre_stone.core.masses.thresholds import TONE_BINS, TOP, equal_cuts, histogram, optimal_cuts, within_variance
from ochre_stone.core.masses.tone import Tone
from ochre_stone.core.picture.picture import lab_to_linear
from ochre_stone.core.picture.simplify import smooth_lightness
from ochre_stone.resources import resource
from tests.core.masses.test_borders import of_lab, values_picture
from tests.support.drawn import agreement
from tests.support.made import demo_picture


class Locked(unittest.TestCase):
    def setUp(self) -> None:
        rng = np.random.default_rng(4)
        self.counts = histogram(np.clip(rng.normal([[2], [5], [7.5]], 0.8, (3, 4000)), 0, 10))

    def test_locked_cuts_are_among_the_cuts(self):
        for k in (3, 5, 8):
            cuts = optimal_cuts(self.counts, 9, [4.0, 6.0])[k]
            self.assertEqual(len(cuts), k - 1)
            for want in (4.0, 6.0):
                self.assertLess(np.abs(cuts - want).min(), TOP / TONE_BINS)

    def test_the_others_are_the_best_that_the_lock_allows(self):
        """Against every other pair of cuts."""
        small = self.counts.reshape(32, 8).sum(axis=1)
        got = within_variance(small, optimal_cuts(small, 3, [TOP * 20 / 32])[3])
        best = min(within_variance(small, sorted([TOP * 20 / 32, TOP * b / 32])) for b in range(1, 32) if b != 20)
        self.assertAlmostEqual(got, best, places=9)

    def test_without_locks_nothing_changes(self):
        np.testing.assert_array_equal(optimal_cuts(self.counts, 5)[5], optimal_cuts(self.counts, 5, [])[5])

    def test_too_few_classes_for_the_locks(self):
        self.assertNotIn(2, optimal_cuts(self.counts, 4, [3.0, 6.0]))
        for bad in ([0.0], [10.0], [3.0, 3.001]):
            with self.assertRaises(ValueError):
                optimal_cuts(self.counts, 4, bad)
        with self.assertRaises(OchreError):
            MassSettings(values=2, locked=(3.0, 6.0))

    def test_equal_steps(self):
        self.assertEqual(equal_cuts(4), (2.5, 5.0, 7.5))
        self.assertEqual(equal_cuts(2, 1.0, 9.0), (5.0,))


class Shapes(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.linear = demo_picture().reduced(120_000)
        cls.ground = prepare(cls.linear, 0.5)

    def boundary(self, settings: MassSettings) -> int:
        labels = plan(self.ground, settings).labels
        return int((labels[:, 1:] != labels[:, :-1]).sum() + (labels[1:] != labels[:-1]).sum())

    def test_three_controls_each_do_their_own(self):
        plain = MassSettings(values=5, smallest=0.1)
        self.assertLess(
            plan(self.ground, replace(plain, smallest=1.0)).regions, plan(self.ground, plain).regions, "smallest shape"
        )
        self.assertLess(self.boundary(replace(plain, outline=0.9)), 0.9 * self.boundary(plain), "simple outlines")
        melted = plan(prepare(self.linear, 1.0), plain)
        self.assertLess(melted.regions, plan(prepare(self.linear, 0.0), plain).regions, "detail")

    def test_a_focus_keeps_more_than_the_rest(self):
        h, w = self.ground.value.shape
        mask = np.zeros((h, w), bool)
        mask[h // 6 : h // 2, w // 3 : w * 2 // 3] = True
        settings = MassSettings(values=5, smallest=0.5, outline=0.5)
        without = plan(self.ground, settings).labels
        within = plan(prepare(self.linear, 0.5, mask), settings).labels

        def turns_in(labels: np.ndarray, where: np.ndarray) -> int:
            return int(((labels[:, 1:] != labels[:, :-1]) & where[:, 1:]).sum())

        self.assertGreater(turns_in(within, mask), 1.15 * turns_in(without, mask))
        far = ~cv2.dilate(mask.astype(np.uint8), np.ones((31, 31))).astype(bool)
        self.assertLess(abs(turns_in(within, far) - turns_in(without, far)), 0.15 * turns_in(without, far))

    def test_smoothing_by_a_map_is_smoothing_by_a_number(self):
        L = np.ascontiguousarray(self.ground.lab[..., 0])
        even = smooth_lightness(L, 0.5)
        mapped = smooth_lightness(L, 0.5, np.zeros_like(L))
        self.assertLess(float(np.abs(even - mapped).max()), 0.2)
        kept = smooth_lightness(L, 0.5, np.ones_like(L))
        self.assertLess(float(np.abs(kept - L).mean()), float(np.abs(even - L).mean()))


class Painted(unittest.TestCase):
    def setUp(self) -> None:
        value = np.full((120, 160), 7.0)
        value[:, 80:] = 3.0
        self.ground = prepare(values_picture(value), 0.3)

    def test_a_value_in_both_families_is_two_masses(self):
        by_hand = np.zeros((120, 160), np.uint8)
        by_hand[40:80, 20:60] = PAINTED_SHADOW
        found = plan(self.ground, MassSettings(values=2), by_hand)
        self.assertEqual([(m.step, m.family) for m in found.masses], [(0, "shadow"), (1, "shadow"), (1, "light")])
        self.assertEqual(found.masses[found.labels[60, 40]].family, "shadow")
        self.assertAlmostEqual(sum(m.share for m in found.masses), 1.0, places=6)

    def test_the_rule_and_its_repair(self):
        by_hand = np.zeros((120, 160), np.uint8)
        by_hand[10:110, 90:150] = PAINTED_LIGHT
        by_hand[40:80, 20:60] = PAINTED_SHADOW
        broken = plan(self.ground, MassSettings(values=2), by_hand)
        self.assertTrue(broken.breaks())
        self.assertEqual(plan(self.ground, MassSettings(values=2)).culprits(), [])
        painted_light = next(m for m in broken.masses if (m.step, m.family) == (0, "light"))
        painted_shadow = next(m for m in broken.masses if (m.step, m.family) == (1, "shadow"))
        self.assertLess(painted_shadow.share, painted_light.share)
        self.assertIn(painted_shadow.index, broken.culprits(), "the smaller one moves most, so it is shown")
        mended = plan(self.ground, MassSettings(values=2, apart=True), by_hand)
        self.assertEqual(mended.breaks(), [])
        np.testing.assert_array_equal(mended.labels, broken.labels)
        self.assertEqual([m.measured for m in mended.masses], [m.measured for m in broken.masses])

    def test_a_painted_spot_below_the_smallest_shape_stays(self):
        by_hand = np.zeros((120, 160), np.uint8)
        by_hand[50:58, 30:38] = PAINTED_SHADOW
        found = plan(self.ground, MassSettings(values=2, smallest=1.0), by_hand)
        self.assertEqual(found.masses[found.labels[54, 34]].family, "shadow")

    def test_division_by_hand(self):
        found = plan(self.ground, MassSettings(values=2, division=8.0))
        self.assertEqual({m.family for m in found.masses}, {"shadow"})
        self.assertNotEqual(found.division, found.suggested)

    def test_range_and_edges_by_hand(self):
        found = plan(
            self.ground, MassSettings(values=2, tone=Tone("even", 9.0, 4.0, 3.0, 7.0), edges=((0, 1, "soft"),))
        )
        self.assertGreaterEqual(min(m.value for m in found.masses), 4.0)
        self.assertLess(found.masses[0].measured, 3.2)
        self.assertEqual(found.borders[0].kind, "soft")
        self.assertIn(found.borders[0].found, ("firm", "hard"))


class Statements(unittest.TestCase):
    def made(self, value: np.ndarray, **options):
        ground = prepare(values_picture(value), 0.2)
        return plan(ground, MassSettings(**options))

    def test_key_and_range(self):
        light = np.full((80, 100), 8.0)
        light[:, :20] = 7.0
        said = state(self.made(light, values=2))
        self.assertEqual((said.key, said.range), ("high key", "narrow range"))
        dark = np.full((80, 100), 1.5)
        dark[:, :15] = 9.0
        said = state(self.made(dark, values=2))
        self.assertEqual((said.key, said.range), ("low key", "full range"))
        self.assertEqual(said.shares[0][0], 0)
        self.assertIn("leads with", said.size_words)

    def test_masses_of_one_size_are_told(self):
        even = np.full((80, 100), 3.0)
        even[:, 50:] = 7.0
        self.assertIn("of one size", state(self.made(even, values=2)).size_words)

    def test_the_strongest_contrast_and_the_focus(self):
        value = np.full((200, 200), 5.0)
        value[:, 100:] = 5.8
        value[20:60, 20:60] = 9.0
        value[60:90, 20:60] = 1.0
        found = self.made(value, values=4)
        x, y = strongest_contrast(found)
        self.assertLess(np.hypot(x - 0.2, y - 0.3), 0.12)
        focus = np.zeros((200, 200), np.float32)
        focus[20:100, 10:70] = 1
        self.assertTrue(state(found, focus).in_focus)
        self.assertIn("inside the focus", state(found, focus).place_words)
        self.assertFalse(state(found, 1 - focus).in_focus)
        self.assertIsNone(state(found).in_focus)

    def test_one_flat_value_has_no_contrast(self):
        flat = self.made(np.full((60, 60), 5.0), values=2)
        self.assertIsNone(state(flat).strongest)
        self.assertIn("no contrast", state(flat).place_words)

    def test_alternatives(self):
        ground = prepare(demo_picture().reduced(60_000), 0.5)
        found = alternatives(ground, MassSettings(values=7, smallest=0.4, tone=Tone("even", low=0, high=10)))
        self.assertEqual([len(a.plan.masses) for a in found], [3, 4, 5, 4, 4])
        five, lights, darks = found[2].plan, found[3].plan, found[4].plan
        self.assertEqual(lights.thresholds, five.thresholds[:-1])
        self.assertEqual(darks.thresholds, five.thresholds[1:])
        self.assertTrue(all(a.settings.smallest == 0.4 and a.settings.tone.keep == "even" for a in found))


class Borders(unittest.TestCase):
    def two_hues(self, step: float) -> np.ndarray:
        lab = np.zeros((300, 300, 3), np.float32)
        lab[:, :150] = (60, 35, 40)
        lab[:, 150:] = (60 + step, -5, -35)
        return lab

    def test_two_hues_of_one_value_vanish(self):
        lines = edges.vanishing(self.two_hues(0.0))
        self.assertTrue(lines[:, 145:155].any(axis=1).mean() > 0.9)
        self.assertFalse(lines[:, :120].any() or lines[:, 180:].any())

    def test_a_border_that_value_shows_does_not(self):
        self.assertFalse(edges.vanishing(self.two_hues(20.0)).any())

    def test_grain_is_no_border(self):
        lab = self.two_hues(0)
        lab[:] = (60, 5, 5)
        lab += np.random.default_rng(1).normal(0, 4, lab.shape).astype(np.float32)
        self.assertFalse(edges.vanishing(lab).any())

    def test_lost_in_value_and_held_by_hue(self):
        labels = np.zeros((300, 300), np.uint8)
        labels[:, 150:] = 1
        meets = edges.classify(labels, self.two_hues(2.0))[(0, 1)]
        self.assertEqual(meets.kind, "lost")
        self.assertGreater(meets.hue_step, edges.HUE_SEEN)

    def test_one_border_may_change_along_its_way(self):
        L = np.full((400, 400), 40.0, np.float32)
        L[:, 200:] += 35
        soft = cv2.GaussianBlur(L, (0, 0), 8)
        L[200:] = soft[200:]
        labels = np.zeros(L.shape, np.uint8)
        labels[:, 200:] = 1
        kinds = edges.kind_map(labels, np.dstack([L, 0 * L, 0 * L]))
        column = kinds[:, 199]
        self.assertEqual(edges.EDGE_KINDS[column[60]], "hard")
        self.assertIn(edges.EDGE_KINDS[column[340]], ("soft", "lost"))
        said = edges.kind_map(labels, np.dstack([L, 0 * L, 0 * L]), ((0, 1, "firm"),))
        self.assertEqual(set(said[:, 199].tolist()), {edges.EDGE_KINDS.index("firm")})


class Turns(unittest.TestCase):
    def sky(self, angle: float) -> np.ndarray:
        """A plane that turns toward ``angle`` over a flat dark ground, with an edge between."""
        rows, columns = np.mgrid[0:240, 0:320]
        along = columns * np.cos(np.radians(angle)) + rows * np.sin(np.radians(angle))
        along = (along - along[:160].min()) / (along[:160].max() - along[:160].min())
        lab = np.zeros((240, 320, 3), np.float32)
        lab[..., 0], lab[..., 2] = 55 + 30 * along, -20 + 15 * along
        lab[160:] = (25, 0, 10)
        return lab

    def test_direction_and_ends(self):
        for angle in (0, 90, 200):
            lab = self.sky(angle)
            found = plan(prepare(of_lab(lab), 0.5), MassSettings(values=4))
            turned = turns(lab, found)
            self.assertEqual(len(turned), 1, angle)
            t = turned[0]
            self.assertLess(abs((t.direction - angle + 180) % 360 - 180), 5)
            self.assertLess(t.dark[0], t.light[0])
            self.assertGreater(t.fit, 0.9)
            self.assertLess(t.y, 0.67)
            self.assertAlmostEqual(t.dark[2], -19, delta=3)

    def test_a_cut_through_it_is_no_end_of_it(self):
        lab = self.sky(90)
        found = plan(prepare(of_lab(lab), 0.3), MassSettings(values=5))
        self.assertGreater(len(turns(lab, found)[0].masses), 1)

    def test_flats_are_no_turns(self):
        lab = np.zeros((200, 200, 3), np.float32)
        lab[..., 0] = 50
        lab[:, 100:, 0] = 70
        lab[..., 0] += np.random.default_rng(0).normal(0, 1, (200, 200))
        self.assertEqual(turns(lab, plan(prepare(of_lab(lab), 0.5), MassSettings(values=3))), [])

    def test_words(self):
        self.assertEqual([toward(d) for d in (0, 90, 181, 315, 359)], ["right", "bottom", "left", "top right", "right"])

    def test_a_planned_blend_is_drawn_as_one(self):
        lab = self.sky(90)
        found = plan(prepare(of_lab(lab), 0.3), MassSettings(values=4))
        t = turns(lab, found)[0]
        dark, light = value_of_lightness(np.array([t.dark[0], t.light[0]]))
        ramp = Ramp(t.x, t.y, t.direction, float(dark), float(light))
        grey = painted(found, 320, 240, [ramp], areas(lab)).astype(int)
        down = grey[10:140, 160]
        self.assertTrue((np.diff(down) >= 0).all())
        self.assertGreater(len(np.unique(down)), 20, "no steps")
        self.assertEqual(int(painted(found, 320, 240)[200, 160]), int(grey[200, 160]))
        self.assertLess(abs(int(grey[20, 160]) - int(grey_of_value(float(dark)))), 12)


class Outlines(unittest.TestCase):
    def test_a_circle_is_round_and_at_its_place(self):
        rows, columns = np.mgrid[0:200, 0:200]
        labels = ((rows - 99.5) ** 2 + (columns - 99.5) ** 2 < 60**2).astype(np.uint8)
        found = outlines(labels, 2)
        self.assertEqual(len(found), 1)
        reach = np.hypot(*(found[0].points * 200 - 100).T)
        self.assertLess(float(np.abs(reach - 60).max()), 0.8)

    def test_no_stair_steps(self):
        """A slanting border: nodes lie on a straight line to a fraction of a pixel."""
        rows, columns = np.mgrid[0:300, 0:300]
        labels = (columns > 80 + rows * 0.37).astype(np.uint8)
        points = outlines(labels, 2)[0].points * 300
        inner = points[(points[:, 1] > 15) & (points[:, 1] < 285) & (points[:, 0] < 250)]
        off = (inner[:, 0] - 80.5 - inner[:, 1] * 0.37) / np.hypot(1, 0.37)
        self.assertLess(float(off.std()), 0.15)

    def test_sheets_are_nested_and_holes_are_there(self):
        labels = np.zeros((150, 150), np.uint8)
        labels[20:130, 20:130] = 2
        labels[60:90, 60:90] = 1
        found = outlines(labels, 3)
        self.assertEqual(sorted(p.sheet for p in found), [1, 2, 2])

    def test_shapes_at_the_frame_run_beyond_it(self):
        labels = np.zeros((100, 100), np.uint8)
        labels[:, 50:] = 1
        points = outlines(labels, 2)[0].points
        self.assertLess(points[:, 1].min(), 0)
        self.assertGreater(points[:, 0].max(), 1)

    def test_curves_pass_through_their_nodes(self):
        points = np.array([(0, 0), (1, 0), (1, 1), (0, 1)], float)
        ends = [piece[2] for piece in bezier(points)]
        np.testing.assert_allclose(ends, np.roll(points, -1, axis=0))

    def test_they_cover_the_masses(self):
        found = plan(prepare(demo_picture().reduced(60_000), 0.5), MassSettings(values=4))
        h, w = found.labels.shape
        drawn = np.zeros((h, w), np.uint8)
        for sheet in range(1, 4):
            rings = [
                np.round(p.points * (w, h) * 16 - 8).astype(np.int32) for p in plan_outlines(found) if p.sheet == sheet
            ]
            mask = np.zeros((h, w), np.uint8)
            cv2.fillPoly(mask, rings, 1, shift=4)
            drawn[mask > 0] = sheet
        self.assertGreater(float((drawn == found.labels).mean()), 0.97)

    def test_kinds_follow_the_path(self):
        labels = np.zeros((100, 100), np.uint8)
        labels[:, 50:] = 1
        kinds = np.full((100, 100), 255, np.uint8)
        kinds[:50, 49], kinds[50:, 49] = 3, 1
        paths = outlines(labels, 2)
        got = kinds_along(paths, kinds)[0]
        on = np.abs(paths[0].points[:, 0] - 0.5) < 0.02
        self.assertEqual(set(got[on & (paths[0].points[:, 1] < 0.4)].tolist()), {3})
        self.assertEqual(set(got[on & (paths[0].points[:, 1] > 0.6)].tolist()), {1})


class Swaps(unittest.TestCase):
    def test_value_stays_and_hue_is_free(self):
        rng = np.random.default_rng(3)
        lab = np.dstack([rng.uniform(10, 90, (60, 80)), np.full((60, 80), 20.0), np.full((60, 80), 10.0)])
        lab = lab.astype(np.float32)
        labels = np.zeros((60, 80), np.uint8)
        labels[:, 40:] = 1
        out = swapped(lab, labels, {1: (250.0, 30.0)})
        np.testing.assert_array_equal(out[..., 0], lab[..., 0])
        np.testing.assert_allclose(out[:, :35], lab[:, :35])
        hue = np.degrees(np.arctan2(out[:, 50:, 2], out[:, 50:, 1])) % 360
        np.testing.assert_allclose(hue, 250.0, atol=0.5)
        rgb = lab_to_linear(out[:, 50:])
        self.assertGreater(float(rgb.min()), -0.02)
        self.assertLess(float(rgb.max()), 1.02)

    def test_nothing_to_swap(self):
        lab = np.zeros((10, 10, 3), np.float32)
        np.testing.assert_array_equal(swapped(lab, np.zeros((10, 10), np.uint8), {5: (0.0, 10.0)}), lab)


class Merging(unittest.TestCase):
    def test_smaller_shapes_stay_in_a_focus(self):
        labels = np.zeros((60, 60), np.uint8)
        labels[10:15, 10:15] = 1
        labels[40:45, 40:45] = 1
        kept = np.zeros((60, 60), np.float32)
        kept[:30, :30] = 1
        value = labels.astype(np.float32)
        out = shapes.merge_small(labels, value, [0.0, 1.0], 60, kept)
        self.assertEqual((int(out[12, 12]), int(out[42, 42])), (1, 0))


class Truth(unittest.TestCase):
    def test_the_published_figures_are_the_programs(self):
        """docs/masses.md against the demo scene's own mask of lit and shaded pixels."""
        truth = np.asarray(Image.open(resource("demo", "light_mask.png")))
        ground = prepare(demo_picture().reduced(250_000), 0.5)
        text = (Path(__file__).parents[3] / "docs" / "masses.md").read_text(encoding="utf-8")

        def score(**options) -> tuple[float, float, float]:
            found = plan(ground, MassSettings(values=5, **options))
            light = np.array([m.family == "light" for m in found.masses])
            return agreement(light[shapes.enlarge(found.labels, len(light), 1600, 1200)], truth)

        said = re.search(r"as suggested \| (\d+) % \| (\d+) % \| (\d+) %", text)
        np.testing.assert_allclose([100 * x for x in score()], [int(x) for x in said.groups()], atol=1.0)
        moved = re.search(r"best value \(([\d.]+)\) \| \| \| (\d+) %", text)
        self.assertAlmostEqual(100 * score(division=float(moved[1]))[2], int(moved[2]), delta=1.0)
