"""Names of things: each rule, and each of its bounds from both sides. What the bounds are is a judgement (common
practice, no source); that one means what it says is checked here."""

import math
import unittest
from dataclasses import replace
from typing import Any

import numpy as np

from ochre_stone.core.keys import naming
from ochre_stone.core.keys.faces import Face
from ochre_stone.core.keys.merging import unlike
from ochre_stone.core.keys.naming import name_things
from ochre_stone.core.keys.roles import role_of, shadow_of
from ochre_stone.core.keys.things import Thing, ThingLook, Things, division_of, weigh


def polar(L: float, C: float, h: float) -> tuple[float, float, float]:
    return (L, C * math.cos(math.radians(h)), C * math.sin(math.radians(h)))


PLAIN = ThingLook(
    lab=polar(50, 20, 320), share=0.1, skin=False, top=0.0, bottom=0.0, side=0.0, wide=0.3, x=0.5, y=0.5, high=0.3,
    low=0.7, rough=1.0, round=0.3, brighter_down=0.0, contrast=3.0, spread=5.0,
)  # fmt: skip


def look(**fields: Any) -> ThingLook:
    return replace(PLAIN, **fields)


class Bounds(unittest.TestCase):
    def rule(self, rule: Any, is_: str, of: ThingLook, *tips: dict[str, Any]) -> None:
        """A look that a rule names so; and each of ``tips`` tips it over, a hair the other way does not."""
        self.assertEqual(rule(of)[0], is_, of)
        for tip in tips:
            self.assertNotEqual(rule(replace(of, **tip))[0], is_, tip)


class ByFace(Bounds):
    def name(self, f: ThingLook) -> tuple[str, float]:
        return naming._by_face(f)

    def test_hair(self) -> None:
        hair = look(by_face=0.121, y=0.59, share=0.011, lab=polar(15, 10, 100), rough=2.21)
        self.rule(
            self.name, "hair", hair, {"by_face": 0.119}, {"y": 0.61}, {"share": 0.009}, {"rough": 2.19},
            {"lab": polar(13.5, 10, 100)}, {"lab": polar(15, 10, 112)},
        )  # fmt: skip
        large = replace(hair, share=0.199, lab=polar(61, 44, 331))
        self.rule(self.name, "hair", large, {"share": 0.201}, {"lab": polar(63, 44, 331)}, {"lab": polar(61, 46, 331)},
                  {"lab": polar(61, 44, 329)})  # fmt: skip
        self.assertEqual(self.name(replace(hair, lab=polar(15, 7.9, 200)))[0], "hair")  # grey hair has any hue
        self.assertEqual(self.name(replace(hair, lab=polar(27.5, 10, 100)))[1], 0.6)
        self.assertEqual(self.name(replace(hair, lab=polar(26.5, 10, 100)))[1], 0.45)

    def test_cloth_and_wall(self) -> None:
        shirt = look(below_face=0.26, share=0.021, face_away=0.89, top=0.09)
        self.rule(self.name, "cloth", shirt, {"below_face": 0.1}, {"share": 0.019}, {"face_away": -0.91}, {"top": 0.11})
        low = look(below_face=0.13, bottom=0.31, lab=polar(50, 12.5, 200))
        self.rule(self.name, "cloth", low, {"below_face": 0.11}, {"bottom": 0.29}, {"top": 0.01},
                  {"lab": polar(50, 11.5, 200)})  # fmt: skip
        beside = look(side=0.21, lab=polar(50, 12.5, 200))
        self.rule(self.name, "cloth", beside, {"side": 0.19}, {"lab": polar(50, 11.5, 200)})
        self.assertEqual([self.name(f)[1] for f in (shirt, low, beside)], [0.75, 0.55, 0.5])
        wall = look(share=0.11, top=0.26, rough=2.9)
        self.rule(self.name, "wall", wall, {"share": 0.09}, {"top": 0.24}, {"rough": 3.1})
        self.assertEqual(self.name(look(skin=True)), ("skin", 0.95))
        self.assertEqual(self.name(look()), ("other", 0.4))


class Alone(Bounds):
    def name(self, f: ThingLook) -> tuple[str, float]:
        return naming._alone(f, False)

    def test_sky(self) -> None:
        blue = look(top=0.31, low=0.74, rough=3.1, lab=polar(61, 20, 216), share=0.01)
        self.rule(self.name, "sky", blue, {"top": 0.29}, {"low": 0.76}, {"rough": 3.3}, {"lab": polar(61, 20, 301)},
                  {"lab": polar(59, 20, 216)})  # fmt: skip
        self.assertEqual(self.name(blue)[1], 0.85)
        self.assertEqual(naming._alone(blue, True)[0], "other")
        dark = replace(blue, lab=polar(26, 20, 216), share=0.051)
        self.rule(self.name, "sky", dark, {"share": 0.049}, {"lab": polar(24, 20, 216)})
        self.assertEqual(self.name(dark)[1], 0.55)
        self.assertEqual(self.name(replace(dark, share=0.01, brighter_down=2.1))[1], 0.85)
        pale = replace(blue, lab=polar(73, 7.9, 191))
        self.rule(self.name, "sky", pale, {"lab": polar(71, 7.9, 191)}, {"lab": polar(73, 8.1, 191)},
                  {"lab": polar(73, 7.9, 189)})  # fmt: skip
        self.rule(self.name, "sky", replace(blue, lab=polar(73, 2.9, 90)), {"lab": polar(73, 3.1, 90)})
        deep = replace(blue, top=0.91, share=0.41, rough=1.9, low=0.89, lab=polar(73, 2.9, 90))
        self.rule(self.name, "sky", deep, {"low": 0.91}, {"share": 0.39, "low": 0.8}, {"top": 0.89, "low": 0.8},
                  {"rough": 2.1, "low": 0.8})  # fmt: skip

    def test_night(self) -> None:
        night = look(top=0.61, lab=polar(9, 10, 216), rough=1.9, share=0.26, brighter_down=2.1, low=0.95)
        self.rule(self.name, "sky", night, {"top": 0.59}, {"rough": 2.1}, {"share": 0.24}, {"brighter_down": 1.9},
                  {"lab": polar(7, 10, 216)}, {"lab": polar(9, 10, 214)})  # fmt: skip
        self.assertEqual(self.name(night)[1], 0.6)

    def test_leaves(self) -> None:
        green = look(lab=polar(50, 5.1, 113), rough=2.21)
        self.rule(self.name, "foliage", green, {"lab": polar(50, 4.9, 113)}, {"rough": 2.19},
                  {"lab": polar(50, 5.1, 111)},
                  {"lab": polar(61, 5.1, 113)}, {"lab": polar(50, 5.1, 206)})  # fmt: skip
        self.rule(self.name, "foliage", replace(green, lab=polar(50, 8.6, 101)), {"lab": polar(50, 8.6, 99)},
                  {"lab": polar(50, 8.4, 101)})  # fmt: skip
        self.assertEqual(self.name(replace(green, rough=1.0, lab=polar(44, 5.1, 113)))[0], "foliage")
        self.assertEqual(self.name(replace(green, lab=polar(74, 5.1, 119)))[0], "foliage")
        self.assertNotEqual(self.name(replace(green, lab=polar(76, 5.1, 119)))[0], "foliage")
        disc = replace(green, round=0.63, rough=3.5)
        self.assertEqual(self.name(disc), ("other", 0.4))
        self.assertEqual(self.name(replace(disc, round=0.61))[0], "foliage")
        self.assertEqual(self.name(replace(disc, rough=3.7))[0], "foliage")
        self.assertAlmostEqual(self.name(replace(green, lab=polar(55, 6, 130), rough=2.5))[1], 0.7)
        self.assertAlmostEqual(self.name(replace(green, lab=polar(40, 6, 130), rough=2.5))[1], 0.8)
        self.assertAlmostEqual(self.name(replace(green, rough=9.0))[1], 0.9)

    def test_ground_fruit_wall_cloth(self) -> None:
        ground = look(bottom=0.91, y=0.71, share=0.121, lab=polar(50, 12.9, 109))
        self.rule(self.name, "ground", ground, {"bottom": 0.89}, {"y": 0.69}, {"share": 0.119},
                  {"lab": polar(50, 13.1, 109)}, {"lab": polar(50, 12.9, 111)},
                  {"lab": polar(76, 12.9, 109)})  # fmt: skip
        fruit = look(lab=polar(46, 38.5, 111), share=0.059, round=0.86)
        self.rule(self.name, "fruit", fruit, {"lab": polar(46, 37.5, 111)}, {"lab": polar(46, 38.5, 113)},
                  {"share": 0.061}, {"round": 0.84})  # fmt: skip
        self.rule(self.name, "fruit", replace(fruit, lab=polar(36, 38.5, 99)), {"lab": polar(34, 38.5, 99)})
        self.assertEqual(self.name(replace(fruit, lab=polar(36, 39, 346)))[0], "fruit")
        self.assertEqual(self.name(replace(fruit, lab=polar(36, 39, 344)))[0], "other")
        wall = look(lab=polar(61, 15.9, 99), share=0.151, rough=3.1, side=0.11)
        self.rule(self.name, "wall", wall, {"lab": polar(59, 15.9, 99)}, {"lab": polar(61, 16.1, 99)},
                  {"share": 0.149}, {"rough": 3.3}, {"side": 0.09}, {"bottom": 0.61, "y": 0.67},
                  {"top": 0.61, "low": 0.49})  # fmt: skip
        plain = replace(wall, rough=1.0, lab=polar(61, 15.9, 119))
        self.rule(self.name, "wall", plain, {"lab": polar(61, 15.9, 121)})
        self.assertEqual(self.name(replace(wall, bottom=0.61, y=0.65))[0], "wall")
        self.assertEqual(self.name(replace(wall, top=0.61, low=0.51))[0], "wall")
        cloth = look(y=0.46, share=0.061, top=0.04, rough=1.6, lab=polar(21, 8.1, 226))
        self.rule(self.name, "cloth", cloth, {"y": 0.44}, {"share": 0.059}, {"top": 0.06}, {"rough": 1.4},
                  {"lab": polar(19, 8.1, 226)}, {"lab": polar(21, 7.9, 226)}, {"lab": polar(21, 8.1, 224)},
                  {"lab": polar(63, 8.1, 226)})  # fmt: skip


def things(*looks: ThingLook, faces: tuple[Face, ...] = ()) -> Things:
    """Things as upright stripes of equal width, each beside the next."""
    number = np.repeat(np.arange(len(looks)), 20)[None].repeat(40, axis=0).astype(np.int32)
    each = tuple(Thing(n, f, np.full(4, 5.0)) for n, f in enumerate(looks))
    return Things(number, each, faces, 5.0)


class Together(unittest.TestCase):
    def named(self, *looks: ThingLook, known: dict[int, str] | None = None) -> list[str]:
        found = things(*looks)
        name_things(found, known)
        return [t.subject for t in found.all]

    SKY = look(top=0.5, low=0.4, lab=polar(65, 20, 250), share=0.3)
    LEAF = look(lab=polar(50, 20, 135), rough=4.0)

    def test_what_the_painter_says_stands(self) -> None:
        found = things(self.SKY, look())
        name_things(found, {1: "fruit"})
        self.assertEqual([(t.subject, t.sure) for t in found.all], [("sky", 0.85), ("fruit", 0.95)])

    def test_grass_beside_leaves(self) -> None:
        grass = look(lab=polar(61, 8.6, 86), rough=2.5, round=0.44)
        self.assertEqual(self.named(self.LEAF, grass), ["foliage", "foliage"])
        for other in ({"lab": polar(63, 8.6, 86)}, {"lab": polar(61, 8.4, 86)}, {"lab": polar(61, 8.6, 84)},
                      {"rough": 2.3}, {"round": 0.46}):  # fmt: skip
            self.assertEqual(self.named(self.LEAF, replace(grass, **other))[1], "other", other)
        self.assertEqual(self.named(self.SKY, grass)[1], "other")

    def test_beside_a_sky(self) -> None:
        cloud = look(lab=polar(56, 2, 90), low=0.49, high=0.1, share=0.009)
        self.assertEqual(self.named(self.SKY, cloud), ["sky", "sky"])
        for other in ({"lab": (60.0, 0.0, 3.1)}, {"lab": polar(56, 22.5, 250), "low": 0.9, "share": 0.02},
                      {"share": 0.007}, {"rough": 3.3}):  # fmt: skip
            self.assertEqual(self.named(self.SKY, replace(cloud, **other))[1], "other", other)
        water = look(lab=polar(56, 10, 250), low=0.6, rough=2.1, share=0.031, y=0.3)
        self.assertEqual(self.named(self.SKY, water)[1], "water")
        for other in ({"top": 0.03}, {"rough": 2.3}, {"share": 0.029}):
            self.assertEqual(self.named(self.SKY, replace(water, **other))[1], "other", other)
        deep = look(lab=polar(50, 15, 250), top=0.06, rough=2.4, share=0.04, low=0.9, y=0.3)
        self.assertEqual(self.named(self.SKY, deep)[1], "sky")
        for other in ({"top": 0.04}, {"rough": 2.6}, {"lab": polar(50, 15, 214)}):
            self.assertNotEqual(self.named(self.SKY, replace(deep, **other))[1], "sky", other)
        self.assertEqual(self.named(look(), deep)[1], "other")

    def test_ground_under_a_sky(self) -> None:
        earth = look(high=0.51, share=0.051, y=0.61, lab=polar(40, 30, 70), wide=0.61, bottom=0.51)
        self.assertEqual(self.named(self.SKY, earth)[1], "ground")
        self.assertEqual(self.named(self.SKY, replace(earth, bottom=0.0, side=0.21))[1], "ground")
        self.assertEqual(self.named(self.SKY, replace(earth, lab=polar(40, 12.5, 31)))[1], "ground")
        for other in ({"high": 0.49}, {"share": 0.049}, {"y": 0.59}, {"wide": 0.59}, {"bottom": 0.49, "side": 0.19},
                      {"lab": polar(65, 30, 70)}, {"lab": polar(21, 30, 70)}, {"lab": polar(40, 63, 70)},
                      {"lab": polar(40, 13.5, 50)}, {"lab": polar(40, 2.5, 50)}):  # fmt: skip
            self.assertEqual(self.named(self.SKY, replace(earth, **other))[1], "other", other)
        self.assertEqual(self.named(look(), earth)[1], "other")

    def test_fruit_comes_in_threes(self) -> None:
        orange, lemon, pear = (look(lab=polar(60, 40, h), share=0.04, rough=2.0) for h in (55, 85, 95))
        self.assertEqual(self.named(orange, lemon, pear), ["fruit"] * 3)
        self.assertEqual(self.named(orange, lemon), ["other"] * 2)
        near = replace(lemon, lab=polar(60, 40, 60)), replace(pear, lab=polar(60, 40, 80))
        self.assertEqual(self.named(orange, *near), ["other"] * 3)
        self.assertEqual(self.named(self.SKY, orange, lemon, pear)[1:], ["other"] * 3)
        lime = look(lab=polar(60, 10, 120), round=0.7, rough=3.0)
        self.assertEqual(self.named(orange, lemon, pear, lime)[3], "fruit")
        for other in ({"share": 0.029}, {"rough": 2.8}, {"lab": polar(60, 27, 55)}):
            self.assertEqual(self.named(replace(orange, **other), lemon, pear), ["other"] * 3, other)

    def test_what_clothes_enclose_is_clothes(self) -> None:
        face = Face(10.0, 4.0, 8.0)
        shirt = look(below_face=0.5, share=0.3)
        badge = look(share=0.049, y=0.9, lab=polar(50, 5, 320))
        found = things(shirt, badge, shirt, faces=(face,))
        name_things(found)
        self.assertEqual([t.subject for t in found.all], ["cloth"] * 3)
        for other in ({"share": 0.051}, {"y": 0.05}):
            found = things(shirt, replace(badge, **other), shirt, faces=(face,))
            name_things(found)
            self.assertEqual(found.all[1].subject, "other", other)


class Roles(unittest.TestCase):
    def thing(self, subject: str = "cloth", L: float = 60.0, division: float = 5.0, parted: bool = True) -> Thing:
        return Thing(0, look(lab=(L, 0.0, 0.0)), np.full(4, 5.0), division=division, parted=parted, subject=subject)

    def test_where_light_and_shadow_are_its_own(self) -> None:
        t = self.thing()
        said = [role_of(v, t, 6.0) for v in (1.9, 2.1, 4.9, 5.0, 5.79, 5.81, 9.2, 9.3)]
        self.assertEqual(said, ["dark accent", "core shadow", "core shadow", "halftone", "halftone", "light", "light",
                                "highlight"])  # fmt: skip
        low = self.thing(division=2.5)
        self.assertEqual([role_of(v, low, 6.0) for v in (1.29, 1.31)], ["dark accent", "core shadow"])
        self.assertEqual(role_of(4.0, self.thing("wall"), 6.0), "cast shadow")
        self.assertEqual(role_of(1.0, self.thing("sky"), 6.0), "light")
        self.assertEqual(
            [shadow_of(s) for s in ("wall", "ground", "water", "sky", "skin")], ["cast shadow"] * 4 + ["core shadow"]
        )

    def test_of_one_tone_the_whole_decides(self) -> None:
        light, dark = self.thing(L=61, parted=False), self.thing(L=40, parted=False)
        self.assertEqual([role_of(v, light, 6.0) for v in (5.1, 4.9, 1.2)], ["light", "core shadow", "dark accent"])
        self.assertEqual(role_of(4.0, dark, 6.0), "core shadow")
        self.assertEqual(role_of(4.0, dark, 4.9), "core shadow")
        self.assertEqual(role_of(1.0, self.thing(L=15, parted=False), 6.0), "halftone")
        tree = self.thing("foliage", L=35, parted=False)
        self.assertEqual([role_of(v, tree, 6.0) for v in (3.1, 2.9)], ["light", "core shadow"])
        field = self.thing("ground", L=45, parted=False)
        self.assertEqual([role_of(v, field, 6.0) for v in (4.1, 3.9)], ["light", "cast shadow"])

    def test_a_division_explains_more_than_half(self) -> None:
        two = np.concatenate([np.full(60, 3.0), np.full(40, 7.0)]) + np.linspace(-0.05, 0.05, 100)
        cut, parted = division_of(two, 6.0)
        self.assertTrue(parted and 3.0 < cut <= 6.96, cut)
        self.assertEqual(division_of(np.linspace(4.3, 5.7, 100), 6.0), (6.0, False))  # spans less than 1.5
        self.assertEqual(division_of(np.concatenate([np.full(97, 3.0), np.full(3, 8.0)]), 6.0), (6.0, False))  # a speck

    def test_weights(self) -> None:
        middle, corner = look(x=0.5, y=0.47, share=0.2), look(x=0.05, y=0.05, share=0.2)
        found = things(middle, corner)
        weigh(found)
        a, b = (t.weight for t in found.all)
        self.assertAlmostEqual(a + b, 1.0)
        self.assertAlmostEqual(a / b, 3.0, places=6)  # 1.5 in the middle against .5
        found = things(replace(middle, share=0.8), middle)
        weigh(found)
        self.assertAlmostEqual(found.all[0].weight / found.all[1].weight, 2.0)  # by the root of the share
        found = things(replace(middle, skin=True), middle)
        weigh(found)
        self.assertAlmostEqual(found.all[0].weight / found.all[1].weight, 3.0)
        found = things(middle, middle)
        focus = np.zeros((40, 40), np.float32)
        focus[:, :20] = 1.0
        weigh(found, focus)
        self.assertAlmostEqual(found.all[0].weight / found.all[1].weight, 7**0.5, places=5)
        found = things(replace(middle, contrast=7.6), replace(middle, contrast=3.6))
        weigh(found)
        self.assertAlmostEqual(found.all[0].weight / found.all[1].weight, (1.4 / 0.9) ** 0.5, places=6)
        found = things(replace(middle, spread=18.0), replace(middle, spread=6.0), replace(middle, spread=60.0))
        weigh(found)
        w = [t.weight for t in found.all]
        self.assertAlmostEqual(w[0] / w[1], 2**0.5, places=6)
        self.assertAlmostEqual(w[2] / w[1], 2.5**0.5, places=6)


class Unlike(unittest.TestCase):
    def by_hand(self, a: tuple[float, float, float], b: tuple[float, float, float]) -> float:
        low = min(a[0], b[0]) + 16
        red = (a[1] / (a[0] + 16) - b[1] / (b[0] + 16)) * low
        yellow = (a[2] / (a[0] + 16) - b[2] / (b[0] + 16)) * low
        darker_is_bluer = yellow < 0 if a[0] < b[0] else yellow > 0
        yellow *= 0.65 if darker_is_bluer else 1.0
        chroma = min(math.hypot(a[1], a[2]), math.hypot(b[1], b[2]))
        light = (0.22 + 0.5 * math.exp(-chroma / 12)) * (a[0] - b[0])
        return math.sqrt(1.8 * red**2 + yellow**2 + light**2)

    def test_by_hand(self) -> None:
        for a, b in (((50, 10, 20), (30, 8, 5)), ((30, 10, -20), (60, 4, 10)), ((40, 0, 0), (45, 1, 2)),
                     ((70, 40, 30), (20, 5, 30))):  # fmt: skip
            for one, two in ((a, b), (b, a)):
                found = float(unlike(np.array(one, float), np.array(two, float)))
                self.assertAlmostEqual(found, self.by_hand(one, two), places=9)
