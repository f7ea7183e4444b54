"""Rules of subjects, targets and shapes, against figures worked out by hand."""

import math
import unittest
from itertools import pairwise

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.munsell import lightness_of_value
from ochre_stone.core.mixing.session.plan import MixOn
from ochre_stone.core.mixing.strings.shapes import shaped
from ochre_stone.core.mixing.strings.subjects import RULES, Span, duller, flush, shape, span, through_leaf, turned
from ochre_stone.core.mixing.strings.targets import PileTarget, between, on_notes, targets, value_steps

EVERY = frozenset(r.id for r in RULES)


def polar(L: float, C: float, h: float) -> tuple[float, float, float]:
    return (L, C * math.cos(math.radians(h)), C * math.sin(math.radians(h)))


def hue(lab: tuple[float, float, float]) -> float:
    return math.degrees(math.atan2(lab[2], lab[1])) % 360


def chroma(lab: tuple[float, float, float]) -> float:
    return math.hypot(lab[1], lab[2])


class Moves(unittest.TestCase):
    def test_turned_so_far_and_never_past(self) -> None:
        for h, toward, degrees, ends in ((20, 110, 6, 26), (20, 24, 6, 24), (350, 40, 30, 20), (200, 40, 10, 190)):
            out = turned(polar(50, 30, h), toward, degrees)
            self.assertAlmostEqual(hue(out), ends)
            self.assertAlmostEqual(chroma(out), 30)
            self.assertEqual(out[0], 50)
        self.assertEqual(duller((50, 10, -20), 0.5), (50, 5.0, -10.0))

    def test_where_light_ends(self) -> None:
        self.assertEqual(span([2, 3, 6, 8], [False, False, True, True]), Span(2, 8, 4.5))
        self.assertEqual(span([2, 7, 6, 8], [False, False, True, True]), Span(2, 8, None))
        self.assertEqual(span([4, 5], [True, True]), Span(4, 5, None))
        self.assertEqual(span([4, 4], [True, False]).turn, None)

    def test_skin(self) -> None:
        where = Span(3.0, 7.0, 5.0)
        lab, said = shape("skin", (80.0, 20.0, 30.0), 8.5, where, EVERY)
        np.testing.assert_allclose(lab, (80, 20 * 0.88**1.5, 30 * 0.78**1.5))
        self.assertEqual([r.id for r in said], ["skin-highlight"])
        for value, at in ((5.75, True), (5.76, False), (4.25, True), (4.24, False)):
            lab, said = shape("skin", polar(50, 20, 50), value, where, EVERY)
            self.assertEqual([r.id for r in said], ["skin-halftone"] if at else [], value)
            self.assertAlmostEqual(hue(lab), 56 if at else 50)
            self.assertAlmostEqual(chroma(lab), 17 if at else 20)
        lab, said = shape("skin", polar(20, 20, 70), 2.0, where, EVERY)
        self.assertEqual([r.id for r in said], ["skin-shadow"])
        self.assertAlmostEqual(hue(lab), 60)
        self.assertEqual(shape("skin", (20.0, 5.0, 5.0), 2.0, where, ()), ((20.0, 5.0, 5.0), []))
        self.assertEqual(shape("sky", (20.0, 5.0, 5.0), 2.0, where, EVERY)[1], [])

    def test_foliage(self) -> None:
        where = Span(3.0, 7.0, None)
        for C, h, dull in ((33, 96, True), (33, 94, False), (31.9, 120, False), (33, 186, False)):
            lab, said = shape("foliage", polar(50, C, h), 5.0, where, EVERY)
            self.assertEqual(bool(said), dull)
            self.assertAlmostEqual(chroma(lab), 32 if dull else C)
        self.assertAlmostEqual(chroma(shape("foliage", polar(50, 60, 130), 5.0, where, EVERY)[0]), 45)
        self.assertAlmostEqual(hue(shape("foliage", polar(80, 20, 130), 8.0, where, EVERY)[0]), 122)
        self.assertAlmostEqual(hue(shape("foliage", polar(20, 20, 130), 2.0, where, {"foliage-cool"})[0]), 148)
        self.assertAlmostEqual(hue(shape("foliage", polar(20, 20, 130), 2.0, where, {"foliage-warm"})[0]), 116)
        self.assertAlmostEqual(hue(shape("foliage", polar(20, 20, 130), 2.5, where, EVERY)[0]), 139)

    def test_cheek_lip_and_leaves_in_the_sun(self) -> None:
        lip, cheek = flush(polar(60, 20, 60))
        self.assertEqual((lip[0], cheek[0]), (51, 60))
        self.assertAlmostEqual(hue(cheek), 46)
        self.assertAlmostEqual(chroma(cheek), 22)
        self.assertAlmostEqual(hue(lip), 36)
        self.assertAlmostEqual(chroma(lip), 24)
        dark, light = through_leaf(polar(60, 20, 130))
        self.assertEqual((dark[0], light[0]), (53, 65))
        self.assertAlmostEqual(hue(dark), 122)
        self.assertAlmostEqual(chroma(dark), 25)
        self.assertAlmostEqual(hue(light), 122)
        self.assertAlmostEqual(chroma(light), 27)
        self.assertEqual([x[0] for x in through_leaf(polar(90, 20, 130))], [83, 92])
        self.assertEqual([x[0] for x in through_leaf(polar(15, 20, 130))], [12, 20])


def grey(value: float, a: float = 0.0) -> tuple[float, float, float]:
    return (float(lightness_of_value(value)), a, 0.0)


class Usual(unittest.TestCase):
    def test_piles_go_on_within_their_own_string(self) -> None:
        self.assertEqual((MixOn().on, MixOn().across), (True, False))


class Targets(unittest.TestCase):
    def test_even_values_cover_what_is_there(self) -> None:
        self.assertEqual(value_steps(3.1, 6.9, 5), [3.0, 4.0, 5.0, 6.0, 7.0])
        self.assertEqual(value_steps(3.0, 7.0, 3), [3.0, 5.0, 7.0])
        self.assertEqual(value_steps(4.9, 5.1, 3), [4.5, 5.0, 5.5])
        self.assertTrue(all(b - a >= 0.5 - 1e-9 for a, b in pairwise(value_steps(5, 5, 4))))

    def test_in_betweens_close_gaps_evenly(self) -> None:
        notes = [grey(2), grey(4), grey(7.5)]
        standing = on_notes(notes, [1, 1, 1], ["a", "b", "c"])
        self.assertEqual([t.value for t in standing], [2.0, 4.0, 7.5])
        found = between(standing, notes, [1, 1, 1], 1.0)
        self.assertEqual([t.value for t in found], [4.88, 5.75, 6.62, 3.0])  # the widest gap first
        self.assertTrue(all(t.origin == "between" for t in found))
        self.assertEqual(between(standing, notes, [1, 1, 1], 3.5), [])
        self.assertEqual(len(between(standing, notes, [1, 1, 1], 3.49)), 1)

    def test_notes_that_look_alike_share_a_pile_with_the_weightier(self) -> None:
        notes = [(50.0, 0.0, 0.0), (50.5, 0.0, 0.0), (58.0, 0.0, 0.0)]
        self.assertLess(float(ciede2000(np.array(notes[0]), np.array(notes[1]))), 1)
        found = on_notes(notes, [1.0, 2.0, 1.0], ["a", "b", "c"], touch=1.0)
        self.assertEqual([t.notes for t in found], [("b", "a"), ("c",)])
        self.assertEqual(found[0].lab, notes[1])
        self.assertEqual(len(on_notes(notes, [1, 2, 1], ["a", "b", "c"], touch=0.1)), 3)
        self.assertEqual(len(on_notes(notes, [1, 2, 1], ["a", "b", "c"], touch=20)), 1)
        self.assertRaises(ValueError, on_notes, [], [], [])

    def test_a_string_through_notes(self) -> None:
        found = targets([grey(3.05, 6), grey(6.95, 2)], [1, 1], 5)
        self.assertEqual([t.value for t in found], [3.0, 4.0, 5.0, 6.0, 7.0])
        self.assertEqual([t.origin for t in found], ["note", "between", "between", "between", "note"])
        a = [t.lab[1] for t in found]
        self.assertEqual(a, sorted(a, reverse=True))
        self.assertAlmostEqual(a[2], 4.0, places=3)
        for steps in (1, 10):
            self.assertRaises(ValueError, targets, [grey(3)], [1], steps)
        self.assertRaises(ValueError, targets, [], [], 3)

    def test_lights_middles_and_darks(self) -> None:
        notes = [grey(v) for v in (2.0, 2.4, 2.8, 3.4, 5.0, 8.0)]
        ids = list("abcdef")
        standing = on_notes(notes, [1.0] * 6, ids)
        found = shaped(standing, notes, [1.0] * 6, ids, (1, 2, 3))
        self.assertEqual(len(found), 6)
        counts = [sum(lo <= t.value <= hi for t in found) for lo, hi in ((2.0, 3.99), (4.0, 5.99), (6.0, 8.0))]
        self.assertEqual(counts, [3, 2, 1])
        self.assertEqual([t.value for t in found], sorted(t.value for t in found))
        made = [t for t in found if t.origin == "between"]
        self.assertEqual(len(made), 1)  # the middle has one note: another step in its widest gap
        self.assertTrue(4.0 < made[0].value < 6.0 and abs(made[0].value - 5.0) > 0.5, made)
        near = [PileTarget(grey(v), v, "note", (), (i,)) for v, i in ((4.0, "a"), (4.5, "b"), (4.9, "c"))]
        few = shaped(near, [t.lab for t in near], [5.0, 1.0, 1.0], ["a", "b", "c"], (1, 1, 0))
        self.assertEqual(len(few), 2)
        self.assertEqual(few[0].value, 4.0)
