"""The palette squared up and its card, against plain geometry and a camera whose contrast is known."""

import unittest

import cv2
import numpy as np

from ochre_stone.core.boardphoto.card import (
    BORDER_Y,
    CARD_Y,
    CONTRAST,
    CONTRAST_SD,
    CONTRAST_SEEN_SD,
    Card,
    card_at,
    contrast_of,
    find_card,
    without_contrast,
)
from ochre_stone.core.boardphoto.square import MARGIN_CM, PER_CM, Squared, in_order, propose_corners
from ochre_stone.core.colour.spaces import decode_srgb, encode_srgb
from ochre_stone.core.errors import OchreError


def camera(code: np.ndarray, a: float) -> np.ndarray:
    """x^a / (x^a + (1 - x)^a)."""
    return code**a / (code**a + (1 - code) ** a)


class Square(unittest.TestCase):
    def test_corners_in_any_order_come_out_clockwise_from_the_top_left(self) -> None:
        wanted = np.array([[10.0, 12], [200, 8], [210, 150], [5, 160]])
        for turn in range(4):
            for flip in (1, -1):
                np.testing.assert_array_equal(in_order(np.roll(wanted, turn, axis=0)[::flip]), wanted)

    def test_a_palette_seen_aslant_is_straight_again(self) -> None:
        """A square of 4 cm on a palette of 20 by 15 stands where it stands, through a perspective of our own."""
        high, wide = 400, 520
        half = np.full((high, wide, 3), 90, np.uint8)
        corners = np.array([[120.0, 100], [900, 140], [960, 700], [70, 660]])  # of the whole photo
        plain = np.array([[0, 0], [20, 0], [20, 15], [0, 15]], np.float32)
        to_photo = cv2.getPerspectiveTransform(plain, corners.astype(np.float32))
        square = np.array([[[8.0, 5], [12, 5], [12, 9], [8, 9]]], np.float32)
        there = (cv2.perspectiveTransform(square, to_photo)[0] - 0.5) / 2
        cv2.fillPoly(half, [np.round(there).astype(np.int32)], (200, 40, 40))
        s = Squared.of(half, corners, 20.0, 15.0)
        self.assertEqual(s.code.shape, (int((15 + 2 * MARGIN_CM) * PER_CM), int((20 + 2 * MARGIN_CM) * PER_CM), 3))
        self.assertEqual(s.offset, int(MARGIN_CM * PER_CM))
        red = np.argwhere(s.code[..., 0] > 150) / PER_CM - MARGIN_CM
        np.testing.assert_allclose(red.min(axis=0), (5, 8), atol=0.15)
        np.testing.assert_allclose(red.max(axis=0), (9, 12), atol=0.15)

    def test_the_ground_in_the_middle_is_the_palette(self) -> None:
        half = np.full((480, 640, 3), 60, np.uint8)
        corners = np.array([[90.0, 70], [560, 90], [575, 410], [60, 400]])
        cv2.fillPoly(half, [corners.astype(np.int32)], (150, 150, 148))
        found = propose_corners(half)
        np.testing.assert_allclose(found / 2, corners, atol=14)
        self.assertIsNone(propose_corners(np.full((480, 640, 3), 60, np.uint8)))


class Cards(unittest.TestCase):
    def test_the_contrast_is_what_it_was(self) -> None:
        code = np.linspace(0.05, 0.95, 19)
        for a in (0.9, 1.0, 1.15, 1.4):
            np.testing.assert_allclose(without_contrast(camera(code, a), a), code, atol=1e-9)
            grey, border = (np.full(3, decode_srgb(camera(encode_srgb(np.array(y)), a))) for y in (CARD_Y, BORDER_Y))
            found, sure = contrast_of(Card(0, 0, grey, border, np.zeros((1, 1), bool)))
            self.assertAlmostEqual(found, a, delta=0.011)
            self.assertEqual(sure, CONTRAST_SEEN_SD)
        self.assertEqual(contrast_of(None), (CONTRAST, CONTRAST_SD))
        burnt = np.array([np.nan, float(border[1]), float(border[2])])
        self.assertAlmostEqual(contrast_of(Card(0, 0, grey, burnt, np.zeros((1, 1), bool)))[0], 1.4, delta=0.011)
        self.assertEqual(contrast_of(Card(0, 0, grey, None, np.zeros((1, 1), bool))), (CONTRAST, CONTRAST_SD))

    def photo(self, **card: object) -> Squared:
        """A palette of 20 by 15 on a table, with a card of 5 by 4 cm and a border of 6 mm beside it."""
        side = {"left": 3.0, "border": 230, "grey": 118, "wide": 5.0} | card
        code = np.full((int(25 * PER_CM), int(30 * PER_CM), 3), 80, np.uint8)
        noise = np.random.default_rng(1).integers(0, 60, (*code.shape[:2], 1))
        code = (code + noise).astype(np.uint8)

        def fill(x: float, y: float, w: float, h: float, value: object) -> None:
            a, b = (int((v + MARGIN_CM) * PER_CM) for v in (x, y))
            code[b : b + int(h * PER_CM), a : a + int(w * PER_CM)] = value

        fill(side["left"] - 0.6, 3.4, side["wide"] + 1.2, 5.2, side["border"])
        fill(side["left"], 4.0, side["wide"], 4.0, side["grey"])
        return Squared(code[::2, ::2], code, np.eye(3), 20.0, 15.0)

    def test_a_card_is_found_where_it_lies(self) -> None:
        found = find_card(self.photo())
        self.assertAlmostEqual(found.x, 5.5, delta=0.1)
        self.assertAlmostEqual(found.y, 6.0, delta=0.1)
        np.testing.assert_allclose(found.grey, decode_srgb(118 / 255), rtol=0.02)
        np.testing.assert_allclose(found.border, decode_srgb(230 / 255), rtol=0.02)
        inside = np.argwhere(found.mask) / PER_CM - MARGIN_CM
        np.testing.assert_allclose(inside.min(axis=0), (4, 3), atol=0.2)

    def test_what_is_no_card(self) -> None:
        for other in (
            {"border": 118},  # no border
            {"border": 160},  # far too dark a border
            {"border": (230, 180, 120)},  # of another hue
            {"wide": 15.0},  # far too long
            {"wide": 0.8},  # far too small
        ):
            self.assertIsNone(find_card(self.photo(**other)), other)

    def test_pointed_at(self) -> None:
        card = card_at(self.photo(), 5.5, 6.0)
        self.assertEqual((card.x, card.y, card.border), (5.5, 6.0, None))
        np.testing.assert_allclose(card.grey, decode_srgb(118 / 255), rtol=0.02)
        self.assertAlmostEqual(float(card.mask.sum()), (2 * int(0.7 * PER_CM)) ** 2)
        with self.assertRaisesRegex(OchreError, "too far"):
            card_at(self.photo(), 60.0, 6.0)
