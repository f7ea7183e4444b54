"""Key colours of a whole picture and of a drawn area."""

import unittest

import numpy as np

from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.spaces import hex_to_lab
from ochre_stone.core.errors import OchreError
from ochre_stone.core.keys.area import AREA_SHAPES, SHAPE_BY_ID, bands, main_thing, suggest_in
from ochre_stone.core.keys.whole import suggest
from ochre_stone.core.picture.frame import Frame, framed
from tests.support.made import blocks, demo_picture, orchard, picture

SHIRT = [(1080, 700), (1300, 700), (1350, 940), (1080, 940)]


class Whole(unittest.TestCase):
    def test_flat_colours_are_all_found(self):
        colours = ((200, 60, 60), (60, 120, 60), (60, 60, 180), (220, 210, 120), (30, 30, 30))
        found, rest = suggest(framed(picture(blocks(*colours)), Frame()), 8)
        for c in colours:
            goal = hex_to_lab("#{:02x}{:02x}{:02x}".format(*c))
            gap = min(float(np.linalg.norm(np.array(k.seen.lab) - goal)) for k in found)
            self.assertLess(gap, 3, c)
        self.assertLess(rest.p95, 3)

    def test_notes_stand_in_the_middle_of_their_blocks(self):
        seen = framed(picture(blocks((150, 80, 60), (90, 110, 140), (225, 220, 210), side=60)), Frame())
        found, left = suggest(seen, 3)
        self.assertEqual(len(found), 3)
        self.assertLess(left.mean, 1.0)
        for k in found:
            self.assertAlmostEqual(k.share, 1 / 3, delta=0.03)
            self.assertTrue(5 < k.x % 60 < 55 and 5 < k.y < 115 and k.aperture >= 5, (k.x, k.y, k.aperture))

    def test_demo_is_covered_and_its_loudest_colour_is_kept(self):
        found, rest = suggest(framed(demo_picture(), Frame()), 12)
        self.assertEqual(len(found), 12)
        self.assertLess(rest.mean, 5.8)
        self.assertLess(rest.p95, 12)
        self.assertAlmostEqual(sum(k.share for k in found), 1.0, delta=0.02)
        lightness = [k.seen.lab[0] for k in found]
        self.assertEqual(lightness, sorted(lightness))
        self.assertTrue([k for k in found if k.seen.lab[2] > 45], "the quinces: two percent of the picture")

    def test_more_notes_leave_less(self):
        p = framed(picture(orchard()), Frame())
        self.assertLess(suggest(p, 12)[1].mean, suggest(p, 3)[1].mean)
        for wrong in (1, 41):
            with self.assertRaises(ValueError):
                suggest(p, wrong)

    def test_a_small_strong_accent_keeps_a_note(self):
        """A red tassel of a thousandth of a picture of greys and browns."""
        rng = np.random.default_rng(0)
        code = np.full((400, 600, 3), (120, 110, 100), np.uint8)
        code[:200] = (90, 90, 95)
        code[:, 400:] = (60, 50, 45)
        code = np.clip(code + rng.normal(0, 2, code.shape), 0, 255).astype(np.uint8)
        code[250:266, 200:216] = (210, 30, 40)
        found, _ = suggest(framed(picture(code), Frame()), 8)
        reds = [k for k in found if k.seen.lab[1] > 40]
        self.assertEqual(len(reds), 1)
        self.assertTrue(200 <= reds[0].x <= 216 and 250 <= reds[0].y <= 266)

    def test_the_focus_area_gets_more(self):
        seen = framed(demo_picture(), Frame())
        focus = np.zeros(seen.shape(250_000), np.float32)
        h, w = focus.shape
        focus[h // 5 : h // 2, w // 2 : w * 3 // 4] = 1

        def inside(found: list) -> int:
            return sum(800 < k.x < 1200 and 240 < k.y < 600 for k in found)

        self.assertGreater(inside(suggest(seen, 12, None, focus)[0]), inside(suggest(seen, 12)[0]))


class Area(unittest.TestCase):
    def values(self, shape: str, **more: object) -> list[float]:
        found = suggest_in(framed(demo_picture(), Frame()), SHIRT, shape, **more)
        for k in found.keys:
            self.assertTrue(1080 <= k.x <= 1350 and 700 <= k.y <= 940)
        return [float(value_of_lightness(k.seen.lab[0])) for k in found.keys]

    def test_so_many_lights_middles_and_darks(self):
        for shape in ("2-2-2", "1-2-3", "1-1-1"):
            counts = SHAPE_BY_ID[shape].counts
            values = self.values(shape)
            self.assertEqual(len(values), sum(counts))
            self.assertEqual(values, sorted(values))
        self.assertGreater(self.values("1-1-1")[2] - self.values("1-1-1")[0], 1.5)
        self.assertEqual(len(self.values("count", count=9)), 9)
        self.assertEqual([s.id for s in AREA_SHAPES], list(SHAPE_BY_ID))

    def test_more_notes_in_a_thing_leave_less_of_it_over(self):
        seen = framed(demo_picture(), Frame())
        one, two = (suggest_in(seen, SHIRT, s).rest for s in ("1-1-1", "2-2-2"))
        self.assertLess(two.mean, one.mean)
        self.assertLess(two.mean, 5)

    def test_what_stands_already_is_left_to_it(self):
        seen = framed(demo_picture(), Frame())
        first = suggest_in(seen, SHIRT, "count", 3).keys
        again = suggest_in(seen, SHIRT, "count", 3, standing=[k.seen.lab for k in first]).keys
        for k in again:
            gap = min(float(np.linalg.norm(np.array(k.seen.lab) - np.array(f.seen.lab))) for f in first)
            self.assertGreater(gap, 2)

    def test_a_loose_outline_keeps_to_its_main_thing(self):
        number = np.zeros((60, 60), np.int32)
        number[:, 52:] = 1
        number[10:16, 10:16] = 2
        area = np.ones((60, 60), bool)
        everywhere = np.array([3300.0, 9000.0, 36.0])
        kept = main_thing(area, number, everywhere)
        self.assertFalse(kept[:, 52:].any())
        self.assertTrue(kept[12, 12], "a small thing all inside belongs to it")
        number[:, 30:] = 1
        self.assertTrue(main_thing(area, number, everywhere).all(), "two halves are both meant")

    def test_a_loose_outline_on_the_demo(self):
        seen = framed(demo_picture(), Frame())
        loose = [(770, 560), (1480, 560), (1480, 1140), (770, 1140)]
        found, everything = (suggest_in(seen, loose, "2-2-2", all_of_it=a) for a in (False, True))
        self.assertLess(found.kept, 0.99)
        self.assertEqual(everything.kept, 1.0)

    def test_parts_that_are_not_there_are_said(self):
        sky = [(1100, 30), (1560, 30), (1560, 190), (1100, 190)]
        found = suggest_in(framed(demo_picture(), Frame()), sky, "form")
        self.assertIn("core shadow", found.missing)
        self.assertEqual(len(found.keys) + len(found.missing), 6)

    def test_through_a_frame_places_stay_those_of_the_photo(self):
        whole, cut = Frame(), Frame(crop=(0.6, 0.7, 0.6, 0.55), mirror=True)
        a, b = (suggest_in(framed(demo_picture(), f), SHIRT, "1-1-1").keys for f in (whole, cut))
        for k, other in zip(a, b, strict=True):
            self.assertLess(float(np.linalg.norm(np.array(k.seen.lab) - np.array(other.seen.lab))), 8)

    def test_what_cannot_be_asked(self):
        seen = framed(demo_picture(), Frame())
        for points in ([(0, 0), (9, 0), (9, 3)], [(0, 0), (50, 50)], [(-50, -50), (-10, -50), (-10, -10)]):
            with self.assertRaises(OchreError):
                suggest_in(seen, points)
        with self.assertRaises(ValueError):
            suggest_in(seen, SHIRT, "3-3-3")
        with self.assertRaises(ValueError):
            suggest_in(seen, SHIRT, "count", 21)

    def test_odd_pictures(self):
        """Tiny, long, black, white and flat: notes or one sentence."""
        for shape in ((32, 32), (40, 900), (900, 40)):
            h, w = shape
            grey = np.linspace(0, 255, w).astype(np.uint8)[None, :, None].repeat(h, axis=0).repeat(3, axis=2)
            for code in (np.zeros((h, w, 3), np.uint8), np.full((h, w, 3), 255, np.uint8), grey):
                seen = framed(picture(code), Frame())
                self.assertGreaterEqual(len(suggest(seen, 12)[0]), 1)
                corners = [(0, 0), (w, 0), (w, h), (0, h)]
                self.assertGreaterEqual(len(suggest_in(seen, corners, "2-2-2").keys), 1)
                if code.any():
                    self.assertGreaterEqual(len(suggest_in(seen, corners, "form").keys), 1)
                else:
                    with self.assertRaisesRegex(OchreError, "no light and no shadow"):
                        suggest_in(seen, corners, "form")

    def test_bands_of_one_value(self):
        flat = np.full((30, 30), 5.0, np.float32)
        self.assertEqual(sum(int(m.sum()) for m in bands(flat, np.ones((30, 30), bool))), 900)
