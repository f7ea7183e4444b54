"""The belief about a threshold against what the formulas give, worked out term by term."""

import math
import unittest

import numpy as np

from ochre_stone.core.practice.threshold import LAPSES, SLOPE, Posterior, Range, psychometric

OF = Range(0.1, 3.0)


class ByHand(unittest.TestCase):
    def test_before_any_answer_it_is_a_bell_over_the_range_and_a_little_beyond(self) -> None:
        p = Posterior.prior(OF)
        self.assertAlmostEqual(p.at[0], math.log10(0.1) - 0.15)
        self.assertAlmostEqual(p.at[-1], math.log10(3.0) + 0.15)
        self.assertAlmostEqual(float(p.p.sum()), 1.0)
        middle = math.sqrt(0.1 * 3.0)
        self.assertAlmostEqual(p.threshold, middle, places=3)
        likeliest = 10 ** float(p.at[int(p.p.argmax())])
        self.assertAlmostEqual(math.log10(likeliest / middle), 0.0, delta=0.01)
        sd = 0.6 * math.log10(30)
        at_end = math.exp(-0.5 * ((math.log10(30) / 2 + 0.15) / sd) ** 2)
        self.assertAlmostEqual(float(p.p[0] / p.p.max()), at_end, places=3)

    def test_the_chance_of_a_right_answer(self) -> None:
        for off in (-0.6, -0.1, 0.0, 0.25, 1.0):
            for guess in (0.5, 0.25):
                weibull = 1 - (1 - guess) * math.exp(-(10 ** (SLOPE * off)))
                self.assertAlmostEqual(float(psychometric(off, guess)), LAPSES * guess + (1 - LAPSES) * weibull)
        self.assertEqual((SLOPE, LAPSES), (3.5, 0.01))  # beta and delta of Watson and Pelli 1983
        self.assertEqual(Range(1, 2, 4).guess, 0.25)

    def test_an_answer_multiplies_what_is_believed(self) -> None:
        prior = Posterior.prior(OF)
        answers = ((1.0, True), (0.3, False), (0.5, True))
        p = np.array(prior.p)
        for x, right in answers:
            seen = np.array([float(psychometric(math.log10(x) - t, 0.5)) for t in prior.at])
            p = p * (seen if right else 1 - seen)
        p /= p.sum()
        after = prior.after(answers)
        np.testing.assert_allclose(after.p, p, rtol=1e-9)
        mean = float(sum(q * t for q, t in zip(p, prior.at, strict=True)))
        self.assertAlmostEqual(after.threshold, 10**mean)
        spread = math.sqrt(sum(q * (t - mean) ** 2 for q, t in zip(p, prior.at, strict=True)))
        self.assertAlmostEqual(after.spread, spread)

    def test_what_is_asked_stays_in_the_range(self) -> None:
        prior = Posterior.prior(OF)
        self.assertEqual(prior.after([(0.1, True)] * 60).ask, 0.1)
        self.assertEqual(prior.after([(3.0, False)] * 60).ask, 3.0)
        self.assertAlmostEqual(prior.ask, prior.threshold)
