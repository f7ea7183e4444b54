"""Drills: every question has its answer, thresholds are found, nothing is gained by not looking."""

import unittest

import numpy as np

from ochre_stone.core.colour.difference import apart
from ochre_stone.core.colour.gamut import most_chroma
from ochre_stone.core.picture.load import load
from ochre_stone.core.practice.drill import Drill, GivenAnswer, Material, judge
from ochre_stone.core.practice.every import DRILLS
from ochre_stone.core.practice.progress import DAY, RETURNS, due, figure, next_level, practice_plan, said, sittings
from ochre_stone.core.practice.threshold import Posterior, Range
from ochre_stone.core.practice.trial import Adjust, Match, Number, OneOf, PlacedCuts, Trial
from ochre_stone.resources import resource
from tests.support.learner import MATERIAL, Done, always, naming, practise, seeing

PICTURE = Material(load(resource("demo", "orchard_keeper.png")).reduced(60_000))
CHOOSING = [d for d in DRILLS.values() if d.asks is not None]
SETTING = [d for d in DRILLS.values() if d.asks is None]


def levels(d: Drill) -> list[float]:
    """From the easiest to the hardest."""
    if d.asks is None:
        return [1, 3, d.levels]
    return [d.asks.most, (d.asks.least * d.asks.most) ** 0.5, d.asks.least]


def best(trial: Trial) -> GivenAnswer:
    """The right answer."""
    asked = trial.asked
    if isinstance(asked, OneOf | Number):
        return asked.right
    return (asked.target, 1) if isinstance(asked, Match) else asked.best


def shows(lab: tuple[float, float, float]) -> bool:
    """Whether a screen shows it."""
    c = float(np.hypot(lab[1], lab[2]))
    h = float(np.degrees(np.arctan2(lab[2], lab[1])) % 360)
    return c <= float(most_chroma(lab[0], h)) + 0.5


class Questions(unittest.TestCase):
    def test_every_question_has_its_right_answer_and_a_worse_one(self) -> None:
        rng = np.random.default_rng(5)
        for d in DRILLS.values():
            for level in levels(d):
                for _ in range(3):
                    trial = d.make(rng, level, PICTURE)
                    self.assertTrue(trial.question.endswith((".", "?")), d.id)
                    verdict = judge(trial, best(trial))
                    self.assertTrue(verdict.right, (d.id, level, verdict))
                    self.assertTrue(verdict.words)
                    if isinstance(trial.asked, OneOf):
                        wrong = (trial.asked.right + 1) % len(trial.asked.words)
                        self.assertFalse(judge(trial, wrong).right)
                    elif isinstance(trial.asked, Number):
                        far = trial.asked.right + (150.0 if trial.asked.what == "hue" else 6.0)
                        verdict = judge(trial, far)
                        self.assertFalse(verdict.right)
                        self.assertGreater(verdict.error, 0)
                    elif isinstance(trial.asked, Match):
                        self.assertFalse(judge(trial, ((10.0, 0.0, 0.0), 1)).right)
            with self.assertRaises(TypeError):
                judge(trial, "nothing")  # type: ignore[arg-type]

    def test_made_up_colours_can_be_shown(self) -> None:
        rng = np.random.default_rng(2)
        for d in DRILLS.values():
            if d.id in ("tube-does", "chart-row", "parents", "match", "equal-value", "which-way", "contrast", "warmer"):
                continue  # of paint, or moved by small steps: the screen's edge is the display's to keep
            for level in levels(d):
                trial = d.make(rng, level, PICTURE)
                self.assertTrue(all(shows(p.lab) for p in trial.patches), d.id)

    def test_what_is_asked_is_as_far_apart_as_the_level_says(self) -> None:
        rng = np.random.default_rng(3)
        for name in ("which-way", "warmer"):
            for level in levels(DRILLS[name]):
                a, b = (p.lab for p in DRILLS[name].make(rng, level, MATERIAL).patches)
                self.assertLess(abs(apart(a, b) - level), 0.35 * level + 0.1, name)
        for level in (0.3, 1.0, 2.0):
            a, b = (p.lab for p in DRILLS["lighter"].make(rng, level, MATERIAL).patches)
            from ochre_stone.core.practice.drills.values import true_value

            self.assertAlmostEqual(abs(true_value(a) - true_value(b)), level, delta=0.02)

    def test_answers_are_balanced(self) -> None:
        rng = np.random.default_rng(8)
        for d in CHOOSING:
            if d.picture or d.id == "tube-does":
                continue
            assert d.asks is not None
            rights = [d.make(rng, d.asks.most / 3, MATERIAL).asked.right for _ in range(140)]  # type: ignore[union-attr]
            shares = np.bincount(rights, minlength=d.asks.choices) / len(rights)
            self.assertLess(np.abs(shares - 1 / d.asks.choices).max(), 0.14, d.id)

    def test_cuts_and_spots_lie_in_the_picture(self) -> None:
        rng = np.random.default_rng(1)
        for _ in range(6):
            trial = DRILLS["darker-spot"].make(rng, 1.0, PICTURE)
            assert trial.scene is not None
            h, w = trial.scene.linear.shape[:2]
            self.assertTrue(all(0 <= x < w and 0 <= y < h for _, x, y in trial.scene.marks))
        trial = DRILLS["cuts"].make(rng, 4, PICTURE)
        assert isinstance(trial.asked, PlacedCuts)
        self.assertEqual(len(trial.asked.best), trial.asked.count)
        even = tuple(np.linspace(0, 10, trial.asked.count + 2)[1:-1].tolist())
        self.assertGreater(judge(trial, even).error, -1e-9)
        for d in ("cuts", "darker-spot"):
            self.assertRaisesRegex(ValueError, "picture", DRILLS[d].make, rng, 1.0, MATERIAL)

    def test_the_programs_own_way_ends_near(self) -> None:
        rng = np.random.default_rng(4)
        for level in (1, 4, 6):
            trial = DRILLS["match"].make(rng, level, MATERIAL)
            assert isinstance(trial.asked, Match)
            self.assertLess(trial.asked.own_off, 2.5)
            self.assertLessEqual(len(trial.asked.own_way), 8)
            self.assertIn("the program", judge(trial, (trial.asked.target, 3)).words)


class Thresholds(unittest.TestCase):
    def test_a_known_threshold_is_found_within_its_spread(self) -> None:
        """Within a factor of 1.5 after 40 answers in nine of ten learners, and within two spreads in nine of ten."""
        drill = DRILLS["lighter"]
        factor, within, n = 0, 0, 60
        for seed in range(n):
            true = [0.25, 0.5, 1.0, 1.8][seed % 4]
            found = figure(drill, practise(drill, seeing(true), 40, seed))
            assert found is not None
            factor += 1 / 1.5 < found.value / true < 1.5
            within += abs(found.value - true) < 2 * found.spread
        self.assertGreaterEqual(factor, 0.9 * n)
        self.assertGreaterEqual(within, 0.9 * n)

    def test_more_answers_are_surer(self) -> None:
        b = Posterior.prior(Range(0.1, 3.0))
        few = b.after([(1.0, True), (0.5, False), (0.8, True)] * 2)
        many = b.after([(1.0, True), (0.5, False), (0.8, True)] * 12)
        self.assertLess(many.spread, few.spread)
        self.assertLess(few.spread, b.spread)

    def test_who_always_answers_the_same_gets_nowhere(self) -> None:
        for drill in CHOOSING:
            material = PICTURE if drill.picture else MATERIAL
            assert drill.asks is not None
            slow = drill.picture or drill.id == "tube-does"
            count = 24 if slow else 36
            for place in (1.0,) if slow else (0.0, 1.0):
                found = figure(drill, practise(drill, always(place), count, 7, material))
                assert found is not None
                self.assertLess(found.skill, 0.3, (drill.id, place, found.value))
                self.assertGreater(found.value, drill.steady, drill.id)
                self.assertLess(found.place(drill), 0.5, (drill.id, place))

    def test_who_always_names_the_middle_has_no_skill(self) -> None:
        for name in ("value", "value-scale", "value-hue", "hue", "chroma"):
            found = figure(DRILLS[name], practise(DRILLS[name], always(0.5), 40, 11))
            assert found is not None
            self.assertLess(found.skill, 0.2, name)
            self.assertEqual(next_level(DRILLS[name], practise(DRILLS[name], always(0.5), 40, 11)), 1.0, name)

    def test_a_steady_eye_gets_harder_questions_and_a_better_figure(self) -> None:
        for drill in SETTING:
            if drill.id == "match":
                continue
            material = PICTURE if drill.picture else MATERIAL
            good, poor = (practise(drill, naming(e), 24, 2, material) for e in (0.05, 1.2))
            a, b = figure(drill, good), figure(drill, poor)
            assert a is not None and b is not None
            self.assertLess(a.value, b.value, drill.id)
            self.assertGreater(next_level(drill, good), next_level(drill, poor), drill.id)

    def test_a_bias_is_told(self) -> None:
        done = practise(DRILLS["value"], naming(0.15, 0.6), 30)
        self.assertIn("too light", said(DRILLS["value"], figure(DRILLS["value"], done)))
        self.assertIn("judgement", said(DRILLS["value"], figure(DRILLS["value"], done)))
        self.assertIn("Not enough", said(DRILLS["value"], None))


class Plans(unittest.TestCase):
    def test_new_ones_first_in_their_order(self) -> None:
        self.assertEqual([p.drill.id for p in practice_plan([], 0.0)], list(DRILLS)[:4])
        self.assertTrue(all(not p.drill.hue for p in practice_plan([], 0.0, hue=False)))
        without = [p.drill.id for p in practice_plan([], 0.0, picture=False)]
        self.assertNotIn("darker-spot", without)

    def test_what_goes_well_comes_back_later_and_later(self) -> None:
        drill, done, at = DRILLS["value"], [], 0.0
        gaps = []
        for _ in range(5):
            done = practise(drill, naming(0.05), 8, len(done), start=at, before=tuple(done))
            back = due(drill, done)
            gaps.append((back - done[-1].at) / DAY)
            at = back + 60
        self.assertEqual(gaps, sorted(gaps))
        self.assertLessEqual(abs(gaps[0] - RETURNS[1]), 0.01)
        self.assertGreater(gaps[-1], 10)
        self.assertEqual(len(sittings(drill, done)), 5)
        poor = [Done(at + 6 * k, "value", 1, False, 3.0) for k in range(8)]
        self.assertLess((due(drill, [*done, *poor]) - poor[-1].at) / DAY, gaps[-1])

    def test_the_weak_ones_that_are_due_come_before_new_ones(self) -> None:
        done = practise(DRILLS["value"], naming(1.6), 12) + practise(DRILLS["hue"], naming(0.1), 12)
        chosen = practice_plan(done, 40 * DAY)
        self.assertEqual(chosen[0].drill.id, "value")
        self.assertEqual(chosen[0].why, "weak")
        self.assertEqual(chosen[1].drill.id, "hue")
        self.assertNotIn("value", [p.drill.id for p in practice_plan(done, 60.0)])

    def test_how_long_one_is_due(self) -> None:
        done = practise(DRILLS["hue"], naming(0.1), 12)
        back = due(DRILLS["hue"], done)
        self.assertEqual([p.why for p in practice_plan(done, back - 1) if p.drill.id == "hue"], [])
        for days, why in ((0.5, "due again"), (3.0, "due for 3 days")):
            self.assertIn(why, [p.why for p in practice_plan(done, back + days * DAY) if p.drill.id == "hue"])

    def test_adjusting_says_how_far(self) -> None:
        rng = np.random.default_rng(1)
        trial = DRILLS["grey-scale"].make(rng, 1, MATERIAL)
        assert isinstance(trial.asked, Adjust)
        moved = tuple(b + (6 if k % 2 else -6) for k, b in enumerate(trial.asked.best))
        self.assertIn("value steps off", judge(trial, moved).words)
        self.assertFalse(judge(trial, moved).right)


if __name__ == "__main__":
    unittest.main()
