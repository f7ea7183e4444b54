"""Which piles are kept where only so many are to be mixed; strings that run through their notes."""

import itertools
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.mixing.strings.budget import kept
from ochre_stone.core.mixing.strings.kindred import kindred
from ochre_stone.core.mixing.strings.targets import STEP, TOUCH, PileTarget, between, on_notes

COLOUR = st.tuples(st.floats(15, 95), st.floats(-40, 50), st.floats(-45, 60))


def through(
    notes: object, weights: object, ids: list[str], step: float = STEP, touch: float = TOUCH
) -> list[PileTarget]:
    """A string on its notes, dark to light, with its steps between."""
    standing = on_notes(notes, weights, ids, touch)
    return sorted([*standing, *between(standing, notes, weights, step)], key=lambda t: t.value)


def names(n: int) -> list[str]:
    return [f"n{i}" for i in range(n)]


def loss(lab, weights, keep):
    """What keeping only these costs."""
    gap = np.asarray(ciede2000(lab[:, None, :], lab[None, list(keep), :]))
    return float(weights @ gap.min(axis=1))


class Kept(unittest.TestCase):
    def test_it_is_the_best_of_all_choices(self):
        rng = np.random.default_rng(17)
        for n, most in ((3, 1), (5, 2), (6, 3), (8, 3), (9, 5)):
            lab = rng.uniform((15, -30, -30), (95, 40, 50), (n, 3))
            weight = rng.uniform(0.1, 3, n)
            best = min(loss(lab, weight, c) for c in itertools.combinations(range(n), most))
            keep, by = kept(lab, weight, most)
            self.assertEqual(len(keep), most)
            self.assertAlmostEqual(loss(lab, weight, keep), best, places=6)
            for i, j in enumerate(by):
                gaps = ciede2000(lab[keep], lab[i])
                self.assertAlmostEqual(float(ciede2000(lab[j], lab[i])), float(gaps.min()), places=9)

    def test_enough_room_keeps_all(self):
        self.assertEqual(kept([(50, 0, 0), (60, 0, 0)], [1, 1], 2), ([0, 1], [0, 1]))

    def test_what_weighs_most_stays(self):
        lab = [(30, 0, 0), (60, 0, 0), (90, 0, 0)]
        self.assertEqual(kept(lab, [1, 50, 1], 1)[0], [1])
        self.assertEqual(kept(lab, [50, 1, 1], 1)[0], [0])


class Through(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(st.lists(COLOUR, min_size=1, max_size=9), st.floats(0.5, 4), st.floats(0.5, 4))
    def test_every_note_has_its_pile_and_no_gap_is_wider_than_the_step(self, notes, step, touch):
        row = through(notes, np.arange(len(notes)) + 1.0, names(len(notes)), step, touch)
        lab = dict(zip(names(len(notes)), notes, strict=True))
        self.assertEqual(sorted(i for t in row for i in t.notes), sorted(lab))
        for t in row:
            self.assertEqual(t.origin == "note", bool(t.notes))
            if t.notes:
                np.testing.assert_allclose(t.lab, lab[t.notes[0]])
            for i in t.notes:
                self.assertLessEqual(float(ciede2000(np.array(t.lab), np.array(lab[i]))), touch)
        values = [t.value for t in row]
        self.assertEqual(values, sorted(values))
        for n, t in enumerate(row):  # nothing is wider apart than the step along what is alike
            like = [u for u in row[n + 1 :] if kindred(t.lab, u.lab, True)]
            if like and all(kindred(u.lab, v.lab, True) for u in row for v in row):
                self.assertLessEqual(like[0].value - t.value, step + 0.011)
        ends = value_of_lightness(np.array([row[0].lab[0], row[-1].lab[0]]))
        noted = [float(value_of_lightness(t.lab[0])) for t in row if t.notes]
        np.testing.assert_allclose(ends, [min(noted), max(noted)])

    def test_of_two_that_are_all_but_level_the_darker_comes_first(self):
        row = through([(82.625, 1, 0), (82.609375, 0, 0)], [2, 1], ["a", "b"], touch=0.5)
        self.assertEqual([t.notes for t in row], [("b",), ("a",)])

    def test_near_duplicates_share_the_pile_of_the_weightier(self):
        row = through([(60, 10, 20), (60.5, 10, 20), (40, 5, 5)], [1, 3, 1], ["a", "b", "c"])
        self.assertEqual(
            [t.notes for t in row],
            [("c",), ("b", "a")] if len(row) == 2 else [("c",), *[()] * (len(row) - 2), ("b", "a")],
        )
        self.assertEqual(row[-1].lab, (60.5, 10.0, 20.0))

    def test_two_notes_of_one_value_and_other_hue_are_two_piles(self):
        row = through([(60, 20, 20), (60, -10, -20)], [1, 1], ["a", "b"])
        self.assertEqual([t.origin for t in row], ["note", "note"])

    def test_a_lone_note_is_one_pile(self):
        (only,) = through([(60, 10, 20)], [1], ["a"])
        self.assertEqual((only.lab, only.notes, only.origin), ((60.0, 10.0, 20.0), ("a",), "note"))
        with self.assertRaises(ValueError):
            through(np.zeros((0, 3)), [], [])
