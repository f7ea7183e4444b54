"""All piles from one photo: on painted boards whose light, card, piles and colours are known exactly."""

import json
import unittest
from dataclasses import replace

import cv2
import numpy as np

from ochre_stone.core.boardphoto.body import Doubt, body_of
from ochre_stone.core.boardphoto.camera import camera_corrected, from_tubes, unlike_data
from ochre_stone.core.boardphoto.card import BORDER_Y, CARD_Y, contrast_of, find_card, without_contrast
from ochre_stone.core.boardphoto.layout import Expected, Layout, SeenRegion
from ochre_stone.core.boardphoto.light import fit_light
from ochre_stone.core.boardphoto.naming import cost_of, name_all
from ochre_stone.core.boardphoto.outlines import pile_outlines
from ochre_stone.core.boardphoto.read import BoardPhoto
from ochre_stone.core.boardphoto.single import read_one
from ochre_stone.core.boardphoto.square import Squared, in_order, plain_code, propose_corners
from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import encode_srgb
from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture.balance import Balance, balance_from
from ochre_stone.core.picture.load import load_bytes
from ochre_stone.core.picture.picture import Picture, lab_to_linear, linear_to_lab, srgb_encoding
from ochre_stone.core.planning.palettephoto import layout_of, to_take
from ochre_stone.core.planning.planning import paint_needed, pile_cover
from ochre_stone.core.store.files import open_project
from ochre_stone.resources import resource

PX, MARGIN, WIDTH, HEIGHT = 40, 5, 24, 18
PILES = {
    "a": (30.0, 20.0, 18.0, 5.0, 7.0), "b": (62.0, 14.0, 24.0, 10.0, 7.0), "c": (45.0, -16.0, 20.0, 15.0, 7.0),
    "d": (55.0, -2.0, -24.0, 5.0, 13.0), "e": (75.0, 6.0, 30.0, 10.0, 13.0), "f": (24.0, 2.0, -4.0, 15.0, 13.0),
}  # fmt: skip
"""Lab and place of each pile, cm."""
TUBES = {"red": (42.0, 55.0, 35.0, 4.0), "blue": (22.0, 12.0, -38.0, 10.0), "yellow": (78.0, 8.0, 78.0, 16.0)}


def layout(**moved):
    piles = [Expected(i, p[:3], *moved.get(i, p[3:]), 1.3) for i, p in PILES.items()]
    return Layout(WIDTH, HEIGHT, (*piles, *(Expected(i, t[:3], t[3], 1.6, 0.9, True) for i, t in TUBES.items())))


def linear_of(lab):
    return lab_to_linear(np.array([[lab]], dtype=float))[0, 0]


def photo(gain=0.8, cast=(1.0, 1.0, 1.0), fall=0.0, card=True, surface=(0.75, 0.74, 0.72), piles=None, grain=0.004):
    """A photo (h, w, 3) from straight above: a board with piles, dabs and a card on a dark table."""
    h, w = (HEIGHT + 2 * MARGIN) * PX, (WIDTH + 2 * MARGIN) * PX
    rng = np.random.default_rng(3)
    x = np.full((h, w, 3), 0.09)
    o = MARGIN * PX
    x[o : o + HEIGHT * PX, o : o + WIDTH * PX] = surface

    def disc(lab, cx, cy, r):
        at = int((cx + MARGIN) * PX), int((cy + MARGIN) * PX)
        mask = np.zeros((h, w), np.uint8)
        cv2.circle(mask, at, int(r * PX), 1, -1)
        x[mask > 0] = linear_of(lab)

    for p in (PILES if piles is None else piles).values():
        disc(p[:3], p[3], p[4], 1.3)
    for t in TUBES.values():
        disc(t[:3], t[3], 1.6, 0.85)
    if card:
        top, left = int((13 + MARGIN) * PX), int((18.5 + MARGIN) * PX)
        x[top : top + 4 * PX, left : left + 5 * PX] = BORDER_Y
        rim = int(0.6 * PX)
        x[top + rim : top + 4 * PX - rim, left + rim : left + 5 * PX - rim] = CARD_Y
    ramp = np.linspace(1, 1 - fall, w)[None, :, None]
    x = x * gain * np.array(cast) * ramp * (1 + grain * rng.standard_normal((h, w, 1)))
    code = np.clip(encode_srgb(np.clip(x, 0, 1)) * 255, 0, 255).round().astype(np.uint8)
    return Picture(code, "board.png", b"", (), srgb_encoding(1))


def corners():
    o = MARGIN * PX
    return np.array([(o, o), (o + WIDTH * PX, o), (o + WIDTH * PX, o + HEIGHT * PX), (o, o + HEIGHT * PX)], float)


def read(picture, plan=None, **how):
    board = BoardPhoto.of(plain_code(picture), plan or layout(), corners(), **how)
    return board, board.piles()


class Boards(unittest.TestCase):
    def check(self, piles, most=1.6):
        named = {p.id: p for p in piles if not p.is_tube}
        self.assertEqual(set(named), set(PILES))
        for i, p in named.items():
            lab = np.array(PILES[i][:3])
            self.assertLess(float(ciede2000(np.array(p.lab), lab)), most, i)
            self.assertGreater(p.sure, 0.9)
            self.assertFalse(p.asks or p.unreadable)
        return named

    def test_under_plain_light(self):
        board, piles = read(photo())
        self.assertIsNotNone(board.card)
        self.check(piles)
        self.assertEqual({p.id for p in piles if p.is_tube}, set(TUBES))

    def test_a_warm_light_that_falls_off_is_taken_out(self):
        board, piles = read(photo(cast=(1.12, 1.0, 0.75), fall=0.45))
        self.check(piles, 2.0)
        self.assertGreater(float(np.ptp(np.log(board.light.white))), 0.2)
        plain = self.check(read(photo())[1])
        for p in piles:
            if p.id in plain:
                self.assertGreater(p.noise, plain[p.id].noise)

    def test_a_white_palette_does_without_a_card(self):
        board, piles = read(photo(card=False, surface=(0.87, 0.87, 0.87), cast=(1.05, 1.0, 0.9)))
        self.assertIsNone(board.card)
        self.check(piles, 2.5)

    def test_a_card_is_pointed_at_or_there_is_none(self):
        given = photo()
        at = (MARGIN + 21) * PX, (MARGIN + 15) * PX
        board, piles = read(given, card=at)
        self.assertAlmostEqual(board.card.x, 21.0, delta=0.2)
        self.assertIsNone(board.card.border)
        self.check(piles, 2.5)
        self.assertIsNone(read(given, card=None)[0].card)
        with self.assertRaisesRegex(OchreError, "too far from the palette"):
            read(given, card=(-4000.0, -4000.0))

    def test_a_palette_that_is_burnt_out_altogether_is_told(self):
        white = Picture(np.full_like(photo().code, 255), "board.png", b"", (), srgb_encoding(1))
        with self.assertRaisesRegex(OchreError, "burnt out: take it again with less light"):
            read(white)

    def test_burnt_piles_are_refused(self):
        piles = [p for p in read(photo(gain=1.9))[1] if not p.is_tube]
        burnt = [p for p in piles if p.unreadable]
        self.assertTrue(burnt)
        self.assertTrue(any(p.lab[0] > 60 for p in burnt))
        self.assertFalse(any(p.asks for p in burnt))  # nobody is asked to name what cannot be read

    def test_strangers_missing_ones_and_ones_that_changed_places(self):
        there = {i: p for i, p in PILES.items() if i != "f"}
        there["stranger"] = (50.0, 55.0, -30.0, 20.0, 10.0)
        _, piles = read(photo(piles=there))
        by = {p.id: p for p in piles if not p.is_tube}
        self.assertNotIn("f", by)
        self.assertIn("", by)
        self.assertAlmostEqual(by[""].x, 20.0, delta=0.2)
        swapped = PILES | {"a": PILES["a"][:3] + PILES["b"][3:], "b": PILES["b"][:3] + PILES["a"][3:]}
        self.check(read(photo(piles=swapped))[1])  # colours so far apart outweigh a few centimetres

    def test_like_colours_in_doubtful_places_are_asked_for(self):
        """Two planned piles of nearly one colour, one there, halfway between them."""
        plan = layout()
        twin = Expected("twin", (62.0, 13.0, 23.0), 12.6, 7.0, 1.3)
        plan = Layout(plan.width, plan.height, (*plan.expected, twin))
        there = PILES | {"b": (62.0, 13.5, 23.5, 11.3, 7.0)}
        _, piles = read(photo(piles=there), plan)
        p = next(p for p in piles if p.id in ("b", "twin"))
        self.assertTrue(p.asks)
        self.assertEqual({p.id, p.other}, {"b", "twin"})

    def test_two_piles_that_touch_are_parted_by_the_plan_or_by_hand(self):
        touching = PILES | {"b": (*PILES["b"][:3], 7.2, 7.0)}
        _, piles = read(photo(piles=touching), layout(b=(7.5, 7.2)))
        self.assertEqual({p.id for p in piles if not p.is_tube}, set(PILES))
        # of one colour, and one of them is not planned: joined, then split and joined again by hand
        like = {i: p for i, p in PILES.items() if i != "b"} | {"x": (*PILES["a"][:3], 7.1, 7.0)}
        board, piles = read(photo(piles=like))
        p = next(q for q in piles if q.id == "a")
        parted = board.with_split(p.number)
        both = parted.named_as_found()
        self.assertGreater(p.radius, 1.6)
        self.assertEqual(len(both), len(piles) + 1)
        one, other = (q for q in both if q.number in (p.number, int(parted.marks.max())))
        self.assertAlmostEqual(one.radius, other.radius, delta=0.3)
        joined = parted.with_joined(one.number, other.number).named_as_found()
        self.assertEqual(len(joined), len(piles))

    def test_where_piles_lie_in_the_photo(self):
        board, piles = read(photo())
        a = next(p for p in piles if p.id == "a")
        x, y = (5 + MARGIN) * PX, (7 + MARGIN) * PX
        self.assertEqual(board.number_at(x, y), a.number)
        self.assertEqual(board.number_at(0, 0), 0)
        edge = np.array(pile_outlines(board)[a.number])
        far = np.hypot(*(edge - (x, y)).T) / PX
        self.assertTrue((far > 1.0).all() and (far < 1.5).all(), (far.min(), far.max()))

    def test_corners_that_are_none(self):
        half = plain_code(photo())
        for bad in (np.zeros((4, 2)), corners()[[0, 2, 1, 3]]):
            with self.assertRaisesRegex(OchreError, "drag each to its corner"):
                BoardPhoto.of(half, layout(), bad)

    def test_corners_are_proposed(self):
        found = propose_corners(plain_code(photo()))
        self.assertLess(float(np.abs(found - corners()).max()), 0.6 * PX)
        grey = np.full((600, 800, 3), 120, np.uint8)
        self.assertIsNone(propose_corners(grey))
        np.testing.assert_allclose(in_order(corners()[[2, 0, 3, 1]]), corners())


class Example(unittest.TestCase):
    """The photo that ships: simulated, tubes and piles off."""

    def test_found_named_and_read(self):
        truth = json.loads(resource("demo", "palette.json").read_text(encoding="utf-8"))
        picture = load_bytes(resource("demo", "palette.jpg").read_bytes(), "palette.jpg")
        project = open_project(resource("demo", "orchard-keeper.ochre"))
        needed = paint_needed(project.document, *pile_cover(project.picture, project.document))
        plan = layout_of(project.document, needed)
        half = plain_code(picture)
        found = propose_corners(half)
        self.assertLess(float(np.linalg.norm(found - truth["corners"], axis=1).max()), 30)
        board = BoardPhoto.of(half, plan, found)
        self.assertLess(abs(board.card.x - truth["card"][0]) + abs(board.card.y - truth["card"][1]), 0.5)
        piles = board.piles()
        taken = {t.pile: t for t in to_take(piles, {})}
        real = {p["id"]: np.array(p["lab"]) for p in truth["piles"]}
        off = np.array([float(ciede2000(np.array(t.lab), real[i])) for i, t in taken.items()])
        said = np.array([t.noise for t in taken.values()])
        self.assertGreaterEqual(len(taken), 16)
        self.assertLess(float(np.median(off)), 1.8)
        self.assertGreaterEqual(int((off < 2.8 * said).sum()), len(off) - 1)
        asked = [p for p in piles if p.asks]
        self.assertLessEqual(len(asked), 1)  # a pale pile hardly differs from the white palette
        named = {t.pile for t in to_take(piles, {p.number: p.id for p in asked})}
        self.assertEqual(named, set(taken) | {p.id for p in asked})
        self.assertEqual({t.pile for t in to_take(piles, {piles[0].number: ""})} - set(taken), set())


class Parts(unittest.TestCase):
    def test_border_over_grey_tells_the_contrast(self):
        bent = photo()
        squared = Squared.of(plain_code(bent), corners(), WIDTH, HEIGHT)
        card = find_card(squared)
        self.assertAlmostEqual(contrast_of(card)[0], 1.0, delta=0.03)
        x = np.array([0.2, 0.5, 0.8])
        a = 1.2
        y = x**a / (x**a + (1 - x) ** a)
        np.testing.assert_allclose(without_contrast(y, a), x, atol=1e-9)
        steep = replace(card, grey=card.grey * 0.8)
        self.assertGreater(contrast_of(steep)[0], 1.02)
        self.assertGreater(contrast_of(None)[1], contrast_of(card)[1])

    def test_light_is_the_surface_s(self):
        h, w = 300, 400
        yy, xx = np.mgrid[0:h, 0:w]
        true = 0.3 * xx / w - 0.2 * (yy / h) ** 2 - 1.0
        log = np.repeat(true[..., None], 3, axis=2).astype(np.float32)
        log[100:160, 100:200] -= 1.5  # a pile
        found = fit_light(log, np.ones((h, w), bool), np.ones((h, w), bool))
        off = np.abs(found.log[..., 1] - true)
        self.assertLess(float(np.percentile(off, 95)), 0.03)

    def test_a_body_is_what_neither_gloss_nor_streaks_are(self):
        rng = np.random.default_rng(1)
        lab = np.tile([50.0, 10.0, 20.0], (1000, 1)) + rng.normal(0, 0.5, (1000, 3))
        lab[:200, 0] += 35  # gloss
        lab[200:300, 1:] += 25  # streaks
        light = ((lab[:, 0] + 16) / 116) ** 3
        body = body_of(lab.astype(np.float32), light.astype(np.float32), np.zeros(1000, bool))
        np.testing.assert_allclose(body.lab, [50, 10, 20], atol=1.0)
        half = np.arange(1000) % 2 == 0
        self.assertAlmostEqual(body_of(lab.astype(np.float32), light.astype(np.float32), half).burnt, 0.5)

    def test_every_doubt_makes_noise(self):
        plain = Doubt(1.0, 20.0, 0.0, 0.2, 0.05, True)
        for more in (
            {"spread": 4.0},
            {"chroma": 80.0},
            {"burnt": 0.3},
            {"contrast": 2.0},
            {"cast": 1.0},
            {"card": False},
        ):
            self.assertGreater(replace(plain, **more).noise(), plain.noise(), more)

    def seen(self, number, lab, x, y, **more):
        return SeenRegion(number, x, y, 1.2, lab, 1.0, 0.0, 0.5, **more)

    def test_names_are_given_all_at_once(self):
        """Two piles nearer to one place than to the other: the best whole, not the nearest for each."""
        plan = Layout(20, 20, (Expected("p", (50.0, 0, 0), 5, 5, 1.2), Expected("q", (50.0, 0, 0), 9, 5, 1.2)))
        got = name_all([self.seen(1, (50.0, 0, 0), 6.5, 5), self.seen(2, (50.0, 0, 0), 9.5, 5)], plan)
        self.assertEqual([p.id for p in got], ["p", "q"])
        self.assertEqual(name_all([], plan), [])
        self.assertEqual(cost_of([], plan), 0.0)
        empty = name_all([self.seen(1, (50.0, 0, 0), 5, 5)], Layout(20, 20, ()))
        self.assertEqual((empty[0].id, empty[0].sure), ("", 0.0))

    def test_dabs_of_tubes_tell_how_the_camera_turns_colours(self):
        plan = layout()
        wrong = np.array([[0.9, 0.1, 0.0], [0.03, 0.97, 0.0], [0.0, 0.05, 0.95]])
        tubes = [e for e in plan.expected if e.is_tube]
        seen = []
        for k, e in enumerate(tubes):
            rgb = wrong @ linear_of(e.lab)
            lab = linear_to_lab(rgb[None].astype(np.float32))[0].astype(float)
            seen.append(self.seen(k, tuple(lab.tolist()), e.x, e.y, id=e.id, is_tube=True, sure=1.0))
        fix = from_tubes(seen, plan)
        for p, e in zip(seen, tubes, strict=True):
            before = float(ciede2000(np.array(p.lab), np.array(e.lab)))
            self.assertLess(
                float(ciede2000(camera_corrected(np.array(p.lab), fix), np.array(e.lab))), 0.8 * before + 0.1
            )
        np.testing.assert_allclose(
            camera_corrected(np.array([80.0, 0, 0]), fix), [80, 0, 0], atol=0.05
        )  # white stays white
        self.assertIsNone(from_tubes(seen[:2], plan))
        self.assertGreater(
            unlike_data(seen[:2], plan),
            unlike_data([replace(p, lab=e.lab) for p, e in zip(seen, tubes, strict=True)], plan),
        )


class OneClick(unittest.TestCase):
    def test_the_whole_pile_is_read_wherever_it_is_clicked(self):
        picture = photo(cast=(1.1, 1.0, 0.85))
        card = picture.linear()[int((15 + MARGIN) * PX), int((21 + MARGIN) * PX)]
        light = balance_from(card, "card")
        for i, (L, a, b, x, y) in PILES.items():
            for dx, dy in ((0, 0), (0.8, -0.4)):
                found = read_one(picture, (x + dx + MARGIN) * PX, (y + dy + MARGIN) * PX, light)
                self.assertLess(float(ciede2000(np.array(found.lab), np.array([L, a, b]))), 2.0, i)
                far = np.hypot(*(found.outline - ((x + MARGIN) * PX, (y + MARGIN) * PX)).T) / PX
                self.assertTrue(1.0 < far.max() < 1.6, i)
                self.assertGreater(found.noise, 1.2)
                self.assertFalse(found.burnt_out)

    def test_burnt_out_and_outside(self):
        bright = photo(gain=2.5)
        x, y = (10 + MARGIN) * PX, (13 + MARGIN) * PX
        self.assertTrue(read_one(bright, x, y, Balance()).burnt_out)
        with self.assertRaisesRegex(OchreError, "outside"):
            read_one(bright, -5, 10, Balance())


if __name__ == "__main__":
    unittest.main()
