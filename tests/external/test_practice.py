"""The methods of practice against what their sources publish."""

import unittest

import numpy as np
from scipy.optimize import brentq

from ochre_stone.core.colour.munsell import luminance_of_value
from ochre_stone.core.practice.every import DRILLS
from ochre_stone.core.practice.threshold import Posterior, Range, psychometric
from ochre_stone.core.practice.updown import EQUILIBRIUM, level_after


class Published(unittest.TestCase):
    def test_two_down_one_up_comes_to_rest_at_70_7(self) -> None:
        """Levitt 1971, J. Acoust. Soc. Am. 49, table I: the sequences that go down have the probability p squared, and
        the rule rests where that is one half: .707 (from memory)."""
        self.assertAlmostEqual(EQUILIBRIUM, 0.7071, places=4)
        rng = np.random.default_rng(1)
        levels = 19
        falls = np.linspace(0.97, 0.43, levels)  # a learner's chance of a right answer, level by level
        done: list[bool] = []
        at = []
        for _ in range(1500):
            at.append(float(falls[level_after(done, levels, 9) - 1]))
            done.append(bool(rng.uniform() < at[-1]))
        self.assertAlmostEqual(float(np.mean(at[200:])), 0.707, delta=0.02)
        self.assertAlmostEqual(float(np.mean(done[200:])), 0.707, delta=0.03)

    def test_quest_puts_a_threshold_of_two_choices_at_82_in_a_hundred(self) -> None:
        """Watson and Pelli 1983, Percept. Psychophys. 33: with gamma .5 and delta .01 the threshold lies at 82 percent
        right without lapses, 1 - .5/e (from memory)."""
        self.assertAlmostEqual(float(psychometric(0.0, 0.5)), (1 - 0.01) * (1 - 0.5 / np.e) + 0.01 * 0.5, places=12)
        self.assertAlmostEqual(1 - 0.5 / np.e, 0.816, places=3)
        self.assertAlmostEqual(float(psychometric(-3.0, 0.5)), 0.5, places=3)
        self.assertAlmostEqual(float(psychometric(3.0, 0.5)), 0.995, places=3)
        # Three and a half decades a decade: at beta 3.5 the rise from 60 to 95 percent takes a third of a decade.
        low, high = (brentq(lambda x, q=q: float(psychometric(x, 0.5)) - q, -2, 2) for q in (0.6, 0.95))
        self.assertAlmostEqual(high - low, 0.29, delta=0.02)

    def test_before_any_answer_the_middle_is_the_likeliest(self) -> None:
        """In logarithms, in which thresholds spread evenly (Watson and Pelli 1983): the geometric middle."""
        for least, most in ((0.1, 10.0), (0.5, 8.0)):
            belief = Posterior.prior(Range(least, most))
            mode = 10 ** float(belief.at[belief.p.argmax()])
            self.assertAlmostEqual(mode / (least * most) ** 0.5, 1.0, delta=0.02)

    def test_it_is_asked_near_the_threshold(self) -> None:
        """King-Smith et al. 1994, Vision Res. 34: the mean of the belief, which ends near the threshold, where most
        questions are put, and about 82 in a hundred are answered rightly."""
        rng = np.random.default_rng(5)
        of, true, right, asked = Range(0.1, 3.0), 0.6, [], []
        answers: list[tuple[float, bool]] = []
        for _ in range(120):
            x = Posterior.prior(of).after(answers).ask
            answers.append((x, bool(rng.uniform() < psychometric(np.log10(x / true), 0.5))))
            right.append(answers[-1][1])
            asked.append(x)
        self.assertAlmostEqual(float(np.mean(right[20:])), 0.82, delta=0.08)
        self.assertLess(abs(np.log10(np.median(asked[60:]) / true)), 0.08)

    def test_a_value_step_is_like_weber_a_share_of_the_light(self) -> None:
        """Weber's law, a just seen difference is a share of the light (Fechner 1860): over middle values one Munsell
        step (ASTM D1535) is about the same share, some 1.3 to 1.6 times the luminance, so that differences drilled
        in value steps are alike hard from dark to light."""
        y = luminance_of_value(np.arange(4.0, 9.0))
        ratio = y[1:] / y[:-1]
        self.assertLess(ratio.max() / ratio.min(), 1.35)
        self.assertTrue(((ratio > 1.2) & (ratio < 1.7)).all(), ratio)

    def test_the_easiest_value_question_is_seen_by_anyone(self) -> None:
        """Common practice, no source: three steps apart nobody is wrong, a tenth of one hardly anybody is right."""
        asks = DRILLS["lighter"].asks
        assert asks is not None
        self.assertGreaterEqual(asks.most, 2.5)
        self.assertLessEqual(asks.least, 0.15)


if __name__ == "__main__":
    unittest.main()
