"""The frame: places go both ways, cuts stay inside, and what is shown is what lies there in the photo."""

import unittest
from dataclasses import replace

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture.frame import (
    CANVASES,
    MOST_FRAMES,
    Frame,
    canvas_size,
    fitted,
    framed,
    largest,
    square_corners,
    turn_from_line,
)
from ochre_stone.core.picture.picture import linear_to_code
from tests.support.made import demo_picture, orchard, picture

W, H = 1600, 1200
FRAMES = st.builds(
    lambda turn, x, y, w, h, mirror: fitted(Frame(turn=turn, crop=(x, y, w, h), mirror=mirror), W, H),
    st.floats(-45, 45),
    st.floats(0, 1),
    st.floats(0, 1),
    st.floats(0.05, 1.5),
    st.floats(0.05, 1.5),
    st.booleans(),
)


class Geometry(unittest.TestCase):
    @settings(max_examples=120, deadline=None)
    @given(FRAMES, st.floats(0, 1), st.floats(0, 1))
    def test_a_fitted_cut_lies_inside_and_places_go_both_ways(self, frame, u, v):
        seen = framed(demo_picture(), frame)
        for x in (0, seen.width):
            for y in (0, seen.height):
                px, py = seen.to_original(x, y)
                self.assertTrue(-1.5 <= px <= W + 1.5 and -1.5 <= py <= H + 1.5, (px, py))
        at = seen.to_original(u * seen.width, v * seen.height)
        back = seen.from_original(*at)
        self.assertAlmostEqual(back[0], u * seen.width, delta=1e-6)
        self.assertAlmostEqual(back[1], v * seen.height, delta=1e-6)

    @settings(max_examples=60, deadline=None)
    @given(st.floats(-45, 45), st.floats(0.4, 2.5))
    def test_the_largest_cut_has_the_aspect_and_cannot_grow(self, turn, aspect):
        frame = largest(Frame(turn=turn), W, H, aspect)
        w, h = frame.crop[2] * W, frame.crop[3] * H
        self.assertAlmostEqual(w / h, aspect, delta=1e-6)
        same = fitted(frame, W, H)
        self.assertAlmostEqual(same.crop[2], frame.crop[2], delta=1e-6)
        grown = fitted(replace(frame, crop=(0.5, 0.5, frame.crop[2] * 1.1, frame.crop[3] * 1.1)), W, H)
        self.assertAlmostEqual(grown.crop[2], frame.crop[2], delta=1e-6)

    def test_a_cut_slides_along_the_side_it_meets(self):
        cut = fitted(Frame(crop=(0.98, 0.3, 0.4, 0.4)), W, H)
        self.assertAlmostEqual(cut.crop[0], 0.8, delta=1e-4)
        self.assertAlmostEqual(cut.crop[1], 0.3, delta=1e-4)

    def test_canvases_read(self):
        self.assertEqual(canvas_size("12 × 16 in"), (12, 16, "in"))
        for words in CANVASES:
            short, long, unit = canvas_size(words)
            self.assertLessEqual(short, long)
            self.assertIn(unit, ("in", "cm"))
        for wrong in ("12x16", "12 x 16", "a x b cm", "0 x 4 cm"):
            with self.assertRaises(ValueError):
                canvas_size(wrong)

    def test_impossible_frames_are_refused(self):
        for wrong in (
            {"corners": ((0.0, 0.0), (1.0, 1.0))},
            {"corners": ((0.0, 0.0), (0.0, 90.0), (90.0, 90.0), (90.0, 0.0))},
            {"turn": 50.0},
            {"crop": (2.0, 0.5, 1.0, 1.0)},
        ):
            with self.assertRaises(ValueError):
                Frame(**wrong)


class Drawn(unittest.TestCase):
    def test_a_line_that_should_be_level_or_upright(self):
        self.assertAlmostEqual(turn_from_line((0, 0), (100, 10)), -5.71, delta=0.01)
        self.assertAlmostEqual(turn_from_line((100, 10), (0, 0)), -5.71, delta=0.01)
        self.assertAlmostEqual(turn_from_line((0, 0), (10, -100)), -5.71, delta=0.01)
        with self.assertRaises(OchreError):
            turn_from_line((0, 0), (3, 3))

    def test_straightening_makes_a_slanted_border_level(self):
        pixels = np.zeros((300, 400, 3), np.uint8)
        yy, xx = np.mgrid[:300, :400]
        pixels[yy > 100 + 0.2 * xx] = 255
        p = picture(pixels)
        frame = largest(Frame(turn=turn_from_line((10, 102), (390, 178))), 400, 300)
        shown = framed(p, frame).reduced(120_000)[..., 1]
        border = [(column > 0.5).argmax() for column in shown.T]
        self.assertLess(np.ptp(border), 4)

    def test_corners_in_any_order(self):
        true = ((20.0, 30.0), (300.0, 20.0), (310.0, 220.0), (10.0, 230.0))
        for order in ((0, 1, 2, 3), (2, 0, 3, 1), (3, 2, 1, 0)):
            self.assertEqual(square_corners([true[i] for i in order]), true)
        for wrong in (true[:3], ((0, 0), (100, 0), (10, 10), (0, 100)), ((0, 0), (5, 0), (5, 5), (0, 5))):
            with self.assertRaises(OchreError):
                square_corners(wrong)


class Shown(unittest.TestCase):
    def test_a_photographed_print_is_squared_up(self):
        """A print warped into a larger photo comes back as it was, within the blur of two resamplings."""
        import cv2

        print_ = cv2.resize(orchard(), (640, 480), interpolation=cv2.INTER_CUBIC)
        corners = np.array([(150, 90), (760, 140), (720, 610), (110, 560)], np.float32)
        ends = np.array([(0, 0), (640, 0), (640, 480), (0, 480)], np.float32)
        photo = cv2.warpPerspective(print_, cv2.getPerspectiveTransform(ends, corners), (860, 700))
        frame = Frame(corners=square_corners(corners))
        seen = framed(picture(photo), frame)
        back = cv2.resize(linear_to_code(seen.reduced(2_000_000)), (640, 480)).astype(int)
        inner = np.abs(back - print_)[20:-20, 20:-20]
        self.assertLess(float(np.median(inner)), 4)
        self.assertLess(float(np.percentile(inner, 95)), 22)

    def test_mirror_and_crop_show_the_right_pixels(self):
        p = picture(orchard())
        seen = framed(p, Frame(crop=(0.5, 0.5, 0.5, 0.5), mirror=True))
        np.testing.assert_allclose(seen.reduced(10**6), p.linear()[60:180, 80:240][:, ::-1], atol=1e-5)

    def test_the_copy_keeps_the_light_of_the_frame(self):
        p = demo_picture()
        for frame in (Frame(turn=7.0), Frame(crop=(0.4, 0.6, 0.5, 0.3)), Frame(turn=-20.0, mirror=True)):
            seen = framed(p, fitted(frame, W, H))
            fine, small = seen.warp(900_000), seen.reduced(20_000)
            self.assertLessEqual(small.shape[0] * small.shape[1], 20_400)
            np.testing.assert_allclose(small.mean(axis=(0, 1)), fine.mean(axis=(0, 1)), rtol=0.01)

    def test_scale_tells_original_pixels_per_frame_pixel(self):
        p = demo_picture()
        self.assertAlmostEqual(framed(p, Frame(turn=12, crop=(0.5, 0.5, 0.5, 0.5))).scale_at(800, 600), 1.0, delta=1e-3)
        near_far = Frame(corners=((400.0, 200.0), (1200.0, 200.0), (1590.0, 1190.0), (10.0, 1190.0)))
        seen = framed(p, near_far)
        self.assertGreater(seen.scale_at(800, 1100), 1.5 * seen.scale_at(800, 220))


class Memory(unittest.TestCase):
    def test_dragging_a_cut_about_does_not_fill_the_memory(self):
        p = picture(np.repeat(np.repeat(orchard(), 6, axis=0), 6, axis=1))
        for i in range(60):
            framed(p, Frame(crop=(0.4 + i * 0.003, 0.5, 0.6, 0.6))).reduced(1_000_000)
        self.assertLess(p.remembered.bytes_held, 200_000_000)
        first = framed(p, Frame(crop=(0.4, 0.5, 0.6, 0.6)))
        for i in range(1, MOST_FRAMES):
            framed(p, Frame(crop=(0.4 + i * 0.003, 0.5, 0.6, 0.6)))
        self.assertIs(framed(p, first.frame), first, "the last few are kept")
        for i in range(MOST_FRAMES):
            framed(p, Frame(crop=(0.5 + i * 0.003, 0.5, 0.6, 0.6)))
        self.assertIsNot(framed(p, first.frame), first, "older ones go")

    def test_several_threads_get_the_same_copies(self):
        from concurrent.futures import ThreadPoolExecutor

        p = picture(orchard())
        frames = [Frame(turn=float(t)) for t in range(-20, 20)]
        with ThreadPoolExecutor(4) as pool:
            sums = list(pool.map(lambda f: float(framed(p, fitted(f, 320, 240)).reduced(20_000).sum()), frames * 3))
        for i, total in enumerate(sums[:40]):
            self.assertEqual({total}, {sums[i + 40], total, sums[i + 80]})
