"""Corners, views and what a photo lost, against figures worked out by hand."""

import itertools
import math
import unittest
from unittest import mock

import numpy as np

from ochre_stone.core.colour.spaces import encode_srgb
from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture import simplify
from ochre_stone.core.picture.frame import square_corners
from ochre_stone.core.picture.losses import Losses
from ochre_stone.core.picture.picture import linear_to_code
from ochre_stone.core.picture.views import View, exaggerate, show, squint

LUMINANCE = np.array([0.2126, 0.7152, 0.0722])


class Corners(unittest.TestCase):
    def test_in_any_order_they_come_out_clockwise(self) -> None:
        wanted = ((10.0, 20.0), (300.0, 5.0), (310.0, 220.0), (0.0, 200.0))
        for aside, down in ((0, 0), (3000, 0), (0, 3000)):
            there = tuple((x + aside, y + down) for x, y in wanted)
            for order in itertools.permutations(there):
                self.assertEqual(square_corners(order), there)

    def test_what_is_no_rectangle(self) -> None:
        for points in (
            ((0, 0), (9, 0), (9, 9)),
            ((0, 0), (100, 0), (50, 20), (50, 100)),
            ((0, 0), (1, 0), (100, 100), (0, 100)),
        ):
            self.assertRaises(OchreError, square_corners, points)
        far = ((1000.0, 0.0), (1100.0, 0.0), (1100.0, 100.0), (1000.0, 100.0))
        self.assertEqual(square_corners((far[2], far[0], far[3], far[1])), far)


class Views(unittest.TestCase):
    def test_codes_end_at_white(self) -> None:
        linear = np.array([[[-0.2, 0.0, 0.5], [1.0, 1.2, 9.0]]], np.float32)
        code = linear_to_code(linear)
        self.assertEqual(code[0, 0, 0], 0)
        self.assertEqual(code[0, 1].tolist(), [255, 255, 255])
        self.assertEqual(int(code[0, 0, 2]), round(float(encode_srgb(np.array(0.5))) * 255))

    def test_chroma_grows_from_the_grey_of_its_own_luminance(self) -> None:
        dull = np.array([[[0.30, 0.28, 0.26]]], np.float32)
        y = float(dull[0, 0] @ LUMINANCE)
        out = exaggerate(dull, 3.0)[0, 0]
        np.testing.assert_allclose(out, y + 3 * (dull[0, 0] - y), atol=1e-4)
        self.assertAlmostEqual(float(out @ LUMINANCE), y, places=3)
        strong = np.array([[[0.9, 0.2, 0.1]]], np.float32)
        out = exaggerate(strong, 3.0)[0, 0]
        self.assertLessEqual(float(out.max()), 1.0001)
        self.assertAlmostEqual(float(out.max()), 1.0, places=3)  # as far as it can go
        self.assertAlmostEqual(float(out @ LUMINANCE), float(strong[0, 0] @ LUMINANCE), places=3)
        black_end = exaggerate(np.array([[[0.02, 0.2, 0.2]]], np.float32), 3.0)[0, 0]
        self.assertAlmostEqual(float(black_end.min()), 0.0, places=3)

    def test_a_squint_blurs_by_its_share_of_the_picture(self) -> None:
        edge = np.zeros((200, 400, 3), np.float32)
        edge[:, 200:] = 1.0
        self.assertIs(squint(edge, 0.0), edge)
        self.assertRaises(ValueError, squint, edge, 1.1)
        self.assertRaises(ValueError, squint, edge, -0.1)
        for strength in (0.25, 0.5, 1.0):
            sigma = 0.04 * strength * math.sqrt(200 * 400)
            row = squint(edge, strength)[100, :, 0]
            slope = np.diff(row)
            at = np.arange(len(slope)) + 0.5 - 199.5
            spread = math.sqrt(float((slope * at**2).sum() / slope.sum()))
            self.assertAlmostEqual(spread / sigma, 1.0, delta=0.15)
            self.assertAlmostEqual(float(row.mean()), 0.5, places=3)

    def test_views_combine(self) -> None:
        rng = np.random.default_rng(1)
        linear = rng.random((40, 60, 3)).astype(np.float32)
        values = show(linear, View(value=True))
        self.assertTrue((values[..., 0] == values[..., 1]).all() and (values[..., 1] == values[..., 2]).all())
        grey = encode_srgb((linear @ LUMINANCE).astype(float)) * 255
        self.assertLess(float(np.abs(values[..., 0] - grey).max()), 1.6)
        plain, mirrored = show(linear, View()), show(linear, View(mirror=True))
        np.testing.assert_array_equal(mirrored, plain[:, ::-1])


class Lost(unittest.TestCase):
    def said(self, lights: float, darks: float) -> str:
        none = np.zeros((2, 2), np.float32)
        return Losses(none, none, lights, darks, 0.0).words

    def test_from_when_on_it_is_told(self) -> None:
        self.assertIn("Nothing", self.said(0.00049, 0.00049))
        self.assertEqual(self.said(0.0005, 0.0), "Lights burnt out on 0.1% of the picture.")
        self.assertEqual(self.said(0.0, 0.0020), "Darks crushed on 0.2% of the picture.")
        both = self.said(0.003, 0.002)
        self.assertTrue(
            both.startswith("Lights burnt out on 0.3% and darks crushed on 0.2% of the picture. Judge"), both
        )
        self.assertNotIn("Judge", self.said(0.0025, 0.002))
        self.assertIn("10%", self.said(0.104, 0.0))
        self.assertIn("9.9%", self.said(0.099, 0.0))


class Melting(unittest.TestCase):
    def test_tile_by_tile_is_as_in_one_piece(self) -> None:
        rng = np.random.default_rng(2)
        channel = (100 * rng.random((70, 90))).astype(np.float32)
        kept = rng.random((70, 90)).astype(np.float32)
        for focus in (None, kept):
            whole = simplify.smooth_lightness(channel, 0.5, focus)
            with mock.patch.object(simplify, "_TILE", 24):
                tiled = simplify.smooth_lightness(channel, 0.5, focus)
            np.testing.assert_allclose(tiled, whole, atol=1e-4)  # processors round the ends of rows in their own ways

    def test_a_small_spot_melts_and_a_broad_step_stays(self) -> None:
        channel = np.full((64, 64), 40.0, dtype=np.float32)
        channel[:, 32:] = 70.0
        channel[28:32, 10:14] = 42.0
        melted = simplify.smooth_lightness(channel, 0.5)
        self.assertLess(float(np.ptp(melted[20:40, 4:24])), 0.4)
        self.assertGreater(float(melted[:, 40:].mean() - melted[:, :24].mean()), 20)
        self.assertAlmostEqual(float(melted.mean()), float(channel.mean()), delta=0.5)
