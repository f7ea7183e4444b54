"""What a hand gets of a recipe: the forecast against doses that are drawn, and what it makes of recipes and piles."""

import unittest

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.mixing.recipe.finding import FARTHEST, Wishes, by_eye_words, finer, recipes
from ochre_stone.core.mixing.recipe.hand import Hand, by_eye, deviations_of, propagated
from ochre_stone.core.mixing.recipe.ranking import Means
from ochre_stone.core.mixing.recipe.recipe import tint_of
from ochre_stone.core.mixing.recipe.search import searcher
from ochre_stone.core.mixing.recipe.sources import Sources, Terms
from ochre_stone.core.paint.palettes import palette
from ochre_stone.core.paint.tubes import tube

PORTRAIT = palette("portrait-ten")
TERMS = Terms(PORTRAIT.tubes, PORTRAIT.name)
GOALS = [(62, 14, 22), (75, 10, 18), (40, -5, 12), (55, -3, -20), (85, 2, 10), (30, 8, 8), (48, 20, 40), (70, -8, -18)]
TIMES = 3000


class Forecast(unittest.TestCase):
    def test_against_doses_that_are_drawn(self):
        """Sixty mixtures of four tubes, each dosed by eye three thousand times: the mean is foretold within a tenth."""
        paints, rng, hand = searcher(PORTRAIT.tubes).paints, np.random.default_rng(3), Hand(knife=0.0)
        ratio = []
        for _ in range(60):
            index = rng.choice(len(PORTRAIT.tubes), (1, 4), replace=False)
            parts = rng.choice([0.25, 0.5, 1, 2, 3, 4, 6], (1, 4))
            errors = hand.errors(parts)
            lab, shifts = propagated(paints, parts / parts.sum(), index, errors)
            np.testing.assert_allclose(lab, paints.lab(parts / parts.sum(), index), atol=1e-9)
            goal = lab[0] + rng.normal(0, 1, 3)
            doses = parts * np.exp(rng.normal(0, 1, (TIMES, 4)) * errors)
            mixed = paints.lab(doses / doses.sum(axis=1, keepdims=True), np.repeat(index, TIMES, axis=0))
            ratio.append(float(by_eye(lab, shifts, goal)[0] / ciede2000(mixed, goal).mean()))
        self.assertLess(abs(np.median(ratio) - 1), 0.06)
        self.assertTrue(min(ratio) > 0.85 and max(ratio) < 1.15, (min(ratio), max(ratio)))

    def test_through_a_tint_that_was_dosed_by_eye_too(self):
        white, black = tube("titanium-white"), tube("ivory-black")
        sources = Sources.of(TERMS, [tint_of(black, white)])
        n, rng, hand = len(PORTRAIT.tubes), np.random.default_rng(4), TERMS.hand
        index, parts = np.array([[0, n]]), np.array([[2.0, 1.0]])
        self.assertEqual(PORTRAIT.tubes[0].id, white.id)
        errors = hand.errors(parts)
        lab, shifts = propagated(sources.paints, parts / 3, index, errors, sources.deviations)
        foretold = float(by_eye(lab, shifts, lab[0])[0])
        inside = np.array([10.0, 1.0]) * np.exp(rng.normal(0, 1, (TIMES, 2)) * hand.errors(np.array([10.0, 1.0])))
        inside /= inside.sum(axis=1, keepdims=True)
        doses = parts * np.exp(rng.normal(0, 1, (TIMES, 2)) * errors)
        whites, blacks = doses[:, 0] + doses[:, 1] * inside[:, 0], doses[:, 1] * inside[:, 1]
        share = np.column_stack([whites, blacks]) / (whites + blacks)[:, None]
        at = [0, [t.id for t in PORTRAIT.tubes].index(black.id)]
        mixed = sources.paints.lab(share, np.tile(at, (TIMES, 1)))
        self.assertAlmostEqual(foretold, float(ciede2000(mixed, lab[0]).mean()), delta=0.1 * foretold)
        alone, _ = propagated(sources.paints, parts / 3, index, errors)
        np.testing.assert_allclose(alone, lab)

    def test_a_wobble_of_a_wobble_adds_up(self):
        """Half of a pile drawn into another brings half of how it may be off."""
        paints = searcher(PORTRAIT.tubes).paints
        index, shares, errors = np.array([0, 1]), np.array([0.5, 0.5]), np.array([0.0, 0.0])
        first = deviations_of(paints, shares, index, np.array([0.2, 0.2]), {})
        second = deviations_of(paints, shares, index, errors, {0: first})
        np.testing.assert_allclose(second.K[2:], 0.5 * first.K)
        np.testing.assert_allclose(second.K[:2], 0.0)

    def test_a_machine_never_errs(self):
        paints = searcher(PORTRAIT.tubes).paints
        parts, index = np.array([[2.0, 0.25]]), np.array([[0, 1]])
        lab, shifts = propagated(paints, parts / parts.sum(), index, Hand(dose=0.0, touch=0.0, knife=0.0).errors(parts))
        self.assertAlmostEqual(float(by_eye(lab, shifts, lab[0])[0]), 0.0, places=6)


class Doses(unittest.TestCase):
    def test_touches_err_more_and_what_is_too_small_more_still(self):
        hand = Hand(knife=0.0)
        np.testing.assert_allclose(hand.errors(np.array([1.0, 0.25, 3.0])), [0.2, 0.35, 0.2])
        np.testing.assert_allclose(hand.errors(np.array([1.0, 1.0]), np.array([0.1, 0.025])), [0.2, 0.7])

    def test_how_large_a_pile_has_to_be(self):
        hand = Hand()
        self.assertAlmostEqual(float(hand.enough(np.array([1.0, 1.0]))), 1.0)  # less is a smear
        self.assertAlmostEqual(float(hand.enough(np.array([12.0, 0.25]))), 0.05 * 12.25 / 0.25)
        self.assertAlmostEqual(float(hand.measurable(np.array([10.0, 1.0]))), 0.55)
        np.testing.assert_allclose(hand.enough(np.array([[4.0, 1.0, 0.0], [8.0, 0.25, 0.0]])), [1.0, 1.65])


class Recipes(unittest.TestCase):
    def test_small_numbers_and_no_dose_too_small(self):
        counts = []
        for goal in GOALS:
            for ml in (0.0, 2.0):
                best = recipes(np.array(goal, float), TERMS, Wishes(count=1, effort=14, ml=ml))[1][0]
                parts = np.array([i.parts for i in best.ingredients])
                counts.append(parts.sum())
                self.assertLessEqual(TERMS.hand.enough(parts), max(ml, 1.0) + 2.5)
        self.assertLessEqual(np.median(counts), 10)
        self.assertLessEqual(np.percentile(counts, 90), 14)

    def test_a_steady_hand_is_given_finer_recipes(self):
        """Who never errs gets what is nearest on paper; who errs gets what stays near."""
        sure = Terms(PORTRAIT.tubes, PORTRAIT.name, hand=Hand(dose=0.01, touch=0.01, knife=0.0))
        paper, eye = [], []
        for goal in GOALS:
            a = recipes(np.array(goal, float), sure, Wishes(count=1, effort=30))[1][0]
            b = recipes(np.array(goal, float), TERMS, Wishes(count=1, effort=30))[1][0]
            paper.append(b.de00 - a.de00)
            eye.append(b.by_eye)
            self.assertLess(a.by_eye, b.by_eye)
        self.assertGreater(np.mean(paper), 0.0)
        self.assertLess(np.median(eye), 2.6)

    def test_other_ways_are_ways(self):
        for goal in [*GOALS, (60, -45, 45)]:
            _, found = recipes(np.array(goal, float), TERMS, Wishes(count=1, effort=40, means=Means()))
            for r in found[1:]:
                self.assertLessEqual(r.de00, found[0].de00 + FARTHEST)
                self.assertLessEqual(r.by_eye, found[0].by_eye + FARTHEST)

    def test_what_more_parts_would_bring(self):
        best = recipes(np.array([62.0, 14, 22]), TERMS, Wishes(count=1, effort=14))[1][0]
        more = finer(best, TERMS)
        self.assertTrue(0 <= more.gain < 1.0, more)
        said = by_eye_words(best, more)
        self.assertIn("as planned", said)
        self.assertIn("would bring", said)


if __name__ == "__main__":
    unittest.main()
