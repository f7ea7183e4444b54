"""Pieces, things, faces and forms: on pictures made for it."""

import dataclasses
import unittest

import numpy as np

from ochre_stone.core.colour.spaces import xyz_to_lab
from ochre_stone.core.keys import faces
from ochre_stone.core.keys.form import form_parts
from ochre_stone.core.keys.melt import Known, melt, things_in
from ochre_stone.core.keys.merging import unlike
from ochre_stone.core.keys.pieces import pieces_of, steepness
from ochre_stone.core.keys.roles import role_of
from ochre_stone.core.keys.things import Thing, Things, division_of
from ochre_stone.core.picture.frame import Frame, framed
from ochre_stone.core.picture.picture import linear_to_code
from tests.support.made import demo_picture, picture

SHIRT, WALL, LEAF, SKY = (0.30, 0.05, 0.04), (0.62, 0.60, 0.52), (0.05, 0.13, 0.03), (0.26, 0.42, 0.72)


def painted(*parts: tuple[tuple[float, float, float], slice, slice], size: tuple[int, int] = (240, 320)) -> np.ndarray:
    """Linear light of rectangles with a little noise, code values out."""
    rng = np.random.default_rng(3)
    out = np.zeros((*size, 3))
    for colour, rows, columns in parts:
        out[rows, columns] = colour
    return np.asarray(linear_to_code(np.clip(out * rng.normal(1, 0.01, out.shape), 0, 1)))


def looked_at(code: np.ndarray, *known: Known) -> Things:
    return things_in(melt(framed(picture(code), Frame())), known)


class Merging(unittest.TestCase):
    def test_shading_is_set_aside_and_hue_is_not(self):
        """One reflectance under five amounts of light, against other reflectances in full light."""
        light = np.array([1.0, 0.6, 0.35, 0.2, 0.12])
        to_xyz = np.array([[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]])
        for colour in (SHIRT, LEAF, (0.05, 0.2, 0.25)):
            shaded = xyz_to_lab(light[:, None] * np.array(colour) @ to_xyz.T)
            own = max(float(unlike(shaded[0], s)) for s in shaded[1:4])
            other = min(
                float(unlike(shaded[0], xyz_to_lab(np.array(c) @ to_xyz.T))) for c in (WALL, SKY, (0.1, 0.1, 0.5))
            )
            self.assertLess(own, 0.75 * other, colour)

    def test_a_thing_in_light_and_shadow_is_one(self):
        lit, dark = slice(0, 160), slice(160, 320)
        code = painted(
            (WALL, slice(0, 120), slice(None)),
            (SHIRT, slice(120, 240), lit),
            (tuple(0.3 * c for c in SHIRT), slice(120, 240), dark),
        )
        things = looked_at(code)
        self.assertEqual(things.number[180, 60], things.number[180, 260])
        self.assertNotEqual(things.number[180, 60], things.number[40, 60])
        shirt = things.at(*(v * things.number.shape[0] // 240 for v in (180, 60)))
        self.assertTrue(shirt.parted)
        self.assertEqual([role_of(v, shirt, things.whole) for v in (5.0, 2.2)], ["light", "core shadow"])

    def test_what_lies_apart_is_one_thing(self):
        tower = painted((SKY, slice(None), slice(None)), (SHIRT, slice(None), slice(130, 190)))
        things = looked_at(tower)
        self.assertEqual(things.number[100, 30], things.number[100, 290])

    def test_pieces_cover_all_and_keep_to_edges(self):
        lab = np.zeros((130, 170, 3), np.float32)
        lab[..., 0] = 30
        lab[:, 85:, 0] = 70
        pieces = pieces_of(lab, steepness(lab))
        self.assertGreaterEqual(int(pieces.min()), 0)
        left, right = set(pieces[:, :83].ravel().tolist()), set(pieces[:, 87:].ravel().tolist())
        self.assertFalse(left & right)
        tiny = np.zeros((4, 6, 3), np.float32)
        self.assertEqual(pieces_of(tiny, steepness(tiny)).shape, (4, 6))


class Names(unittest.TestCase):
    def scene(self) -> np.ndarray:
        rng = np.random.default_rng(0)
        out = np.zeros((240, 320, 3))
        out[:110] = np.array(SKY) * np.linspace(0.85, 1.25, 110)[:, None, None]
        leaves = rng.uniform(0.3, 1.5, (33, 80)).repeat(4, axis=0).repeat(4, axis=1)[:130]
        out[110:] = np.array(LEAF) * leaves[:, :, None]
        return np.asarray(linear_to_code(np.clip(out, 0, 1)))

    def test_a_sky_over_leaves(self):
        things = looked_at(self.scene())
        h, w = things.number.shape
        self.assertEqual((things.at(h // 5, w // 2).subject, things.at(h * 4 // 5, w // 2).subject), ("sky", "foliage"))

    def test_what_the_painter_says_stands(self):
        things = looked_at(self.scene(), Known(160.0, 40.0, "wall"))
        h, w = things.number.shape
        self.assertEqual((things.at(h // 5, w // 2).subject, things.at(h // 5, w // 2).sure), ("wall", 0.95))

    def test_a_flat_thing_is_other_and_unsure(self):
        things = looked_at(painted(((0.2, 0.15, 0.1), slice(None), slice(None))))
        self.assertEqual({(t.subject, t.sure < 0.5) for t in things.all}, {("other", True)})
        self.assertAlmostEqual(sum(t.weight for t in things.all), 1.0)

    def test_a_division_needs_two_solid_parts(self):
        rng = np.random.default_rng(1)
        two = np.concatenate([rng.normal(3, 0.2, 400), rng.normal(7, 0.2, 600)])
        cut, parted = division_of(two, 5.5)
        self.assertTrue(parted and 3.5 < cut < 6.5, cut)
        self.assertEqual(division_of(rng.normal(4, 0.2, 500), 5.5), (5.5, False))
        self.assertEqual(division_of(np.append(rng.normal(4, 0.3, 990), np.full(10, 9.0)), 5.5), (5.5, False))


class Roles(unittest.TestCase):
    def thing(self, lightness: float, subject: str = "other", parted: bool = False, division: float = 5.0) -> Thing:
        look = looked_at(painted(((0.2, 0.2, 0.2), slice(None), slice(None)))).all[0].look
        look = dataclasses.replace(look, lab=(lightness, 0.0, 0.0))
        return Thing(0, look, np.array([]), 1.0, division, parted, subject, 0.9)

    def test_at_and_beside_each_line(self):
        for thing, value, want in (
            (self.thing(50, "sky"), 2.0, "light"),
            (self.thing(50, "cloth", True), 1.9, "dark accent"),
            (self.thing(50, "cloth", True), 2.1, "core shadow"),
            (self.thing(50, "wall", True), 4.9, "cast shadow"),
            (self.thing(50, "cloth", True), 5.0, "halftone"),
            (self.thing(50, "cloth", True), 5.9, "light"),
            (self.thing(50, "cloth", True), 9.3, "highlight"),
            (self.thing(50), 5.1, "light"),
            (self.thing(50), 4.9, "core shadow"),
            (self.thing(50), 1.2, "dark accent"),
            (self.thing(15), 1.5, "halftone"),
            (self.thing(40, "foliage"), 3.1, "light"),
            (self.thing(40, "foliage"), 2.9, "core shadow"),
            (self.thing(40, "ground"), 4.1, "light"),
            (self.thing(40, "ground"), 3.9, "cast shadow"),
        ):
            self.assertEqual(
                role_of(value, thing, 5.5 if thing.subject != "other" else 5.2), want, (thing.subject, value)
            )


class Faces(unittest.TestCase):
    def test_none_in_what_is_none(self):
        rng = np.random.default_rng(5)
        for code in (np.full((200, 200, 3), (190, 140, 110), np.uint8), rng.integers(0, 255, (200, 240, 3), np.uint8)):
            m = melt(framed(picture(code), Frame()))
            self.assertEqual(faces.find_faces(code, m.lab), [])

    def test_a_tiny_picture(self):
        m = melt(framed(picture(np.full((32, 40, 3), 120, np.uint8)), Frame()))
        self.assertEqual(faces.find_faces(np.full((32, 40, 3), 120, np.uint8), m.lab), [])

    def test_skin_is_found_in_light_and_shadow_about_a_face(self):
        lab = np.zeros((200, 200, 3), np.float32)
        lab[:] = (60, -10, -20)
        lab[60:160, 60:100] = (70, 18, 20)
        lab[60:160, 100:140] = (35, 18 * 51 / 86, 20 * 51 / 86)
        found = faces.skin_of(faces.Face(60, 60, 80), lab)
        self.assertGreater(float(found[65:150, 65:135].mean()), 0.95)
        self.assertEqual(int(found[:, :50].sum()), 0)


class Form(unittest.TestCase):
    def sphere(self, step: bool = False) -> tuple[np.ndarray, np.ndarray]:
        """Values of a ball lit from the left, with reflected light on the right; ``step``: a hard shadow across."""
        y, x = np.mgrid[-60:60, -60:60] / 55.0
        inside = x**2 + y**2 < 1
        z = np.sqrt(np.clip(1 - x**2 - y**2, 0, 1))
        lit = np.clip(-0.8 * x + 0.6 * z, 0, 1)
        value = 2.2 + 5.5 * lit + np.where(lit <= 0, 1.6 * np.clip(x - 0.75, 0, 1) / 0.25, 0)
        if step:
            value = np.where((y > 0.25) & (x < 0.2), 2.4, value)
        return value.astype(np.float32), inside

    def test_a_ball_has_its_parts(self):
        value, inside = self.sphere()
        parts = form_parts(value, inside)
        self.assertTrue({"light", "halftone", "core shadow", "reflected light"} <= set(parts), set(parts))
        mean = {k: float(value[m].mean()) for k, m in parts.items()}
        self.assertTrue(mean["light"] > mean["halftone"] > mean["reflected light"] > mean["core shadow"], mean)
        x = {k: float(np.nonzero(m)[1].mean()) for k, m in parts.items()}
        self.assertTrue(x["light"] < x["core shadow"] < x["reflected light"], x)

    def test_a_hard_edge_is_a_cast_shadow(self):
        value, inside = self.sphere(step=True)
        cast = form_parts(value, inside)["cast shadow"]
        self.assertGreater(float(np.nonzero(cast)[0].mean()), 70)
        self.assertNotIn("cast shadow", form_parts(*self.sphere()))

    def test_flat_things_have_two(self):
        rng = np.random.default_rng(2)
        value = rng.normal(5, 0.05, (80, 80)).astype(np.float32)
        self.assertEqual(set(form_parts(value, np.ones((80, 80), bool))), {"light", "halftone"})


class OnTheDemo(unittest.TestCase):
    def test_the_shirt_is_one_thing_and_no_face_is_made_up(self):
        things = things_in(melt(framed(demo_picture(), Frame())))
        self.assertEqual(things.faces, ())
        h, w = things.number.shape
        at = [things.number[int(y * h / 1200), int(x * w / 1600)] for x, y in ((1000, 850), (1200, 950), (1080, 1000))]
        self.assertEqual(len(set(at)), 1)
        self.assertEqual(things.all[int(at[0])].subject, "cloth")
