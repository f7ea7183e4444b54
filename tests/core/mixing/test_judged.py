"""Corrections: what an addition costs, counted by hand, and what is said of every case."""

import unittest
from dataclasses import replace

import numpy as np

from ochre_stone.core.mixing.correcting import correct as room
from ochre_stone.core.mixing.correcting.belief import Belief, _Fit, believe
from ochre_stone.core.mixing.correcting.correct import AtHand, Correction, Handling
from ochre_stone.core.mixing.correcting.drawn import Drawn
from ochre_stone.core.mixing.correcting.reading import PHOTO, READER, PileSeen, mixed, unsure_within
from ochre_stone.core.mixing.recipe.dose import Dose, contents, shrunk, weighed, whole_of
from ochre_stone.core.mixing.recipe.hand import Hand
from ochre_stone.core.mixing.recipe.recipe import Ingredient, tint_of
from ochre_stone.core.paint.palettes import PALETTES

TUBES = tuple(t for t in PALETTES["portrait-ten"].tubes if t.id in ("titanium-white", "yellow-ochre", "ivory-black"))
WHITE, OCHRE, BLACK = (next(t for t in TUBES if t.id == i) for i in ("titanium-white", "yellow-ochre", "ivory-black"))
PILE = weighed([("titanium-white", 8.0), ("yellow-ochre", 2.0)])


def adding(planned: float = 10.0, thrift: float = 1.0, trouble: float = 0.0, **how: object) -> room._Adding:
    hands = [AtHand("titanium-white", "white", (("titanium-white", 1.0),)),
             AtHand("tint", "tint", (("titanium-white", 0.9), ("ivory-black", 0.1)), trouble=trouble)]  # fmt: skip
    goal, handling = np.array([60.0, 5, 20]), Handling(planned=planned, **how)
    return room._Adding.of(Drawn.of(Belief.prior(TUBES)), PILE, goal, hands, handling, "", 1.0, thrift)


class Price(unittest.TestCase):
    def test_growth_work_and_what_is_too_much(self) -> None:
        """.9 for growing by the planned size, .1 for each thing, 3 for as much beyond a quarter more."""
        x, pairs = np.array([[1.0, 0.0], [1.0, 1.0], [4.0, 2.0]]), np.array([[0, 0], [0, 1], [0, 1]])
        by_hand = [0.09 + 0.1, 0.18 + 0.2, 0.54 + 0.2 + 3 * 0.35]
        np.testing.assert_allclose(adding().price(x, pairs), by_hand)
        np.testing.assert_allclose(adding(trouble=0.5).price(x, pairs), np.add(by_hand, [0, 0.5, 0.5]))
        thrifty = [0.3 * 0.19, 0.3 * 0.38, 0.3 * 0.74 + 3 * 0.35]
        np.testing.assert_allclose(adding(thrift=0.3).price(x, pairs), thrifty)
        np.testing.assert_allclose(adding(planned=20.0).price(x[:1], pairs[:1]), [0.045 + 0.1])

    def test_what_a_cut_is_worth(self) -> None:
        """Error, growth of what is kept, paint set aside, and what stands above a quarter more than planned."""
        c = Correction((), (), (0, 0, 0), (0, 0, 0), 1.0, 5.0, 1.4, "add", False)
        self.assertAlmostEqual(room._worth(c, adding(), 1.0), 1.0 + 0.9 * 0.4 + 3 * 0.15)
        self.assertAlmostEqual(room._worth(c, adding(), 0.5), 1.0 + 0.9 * 0.5 * 0.4 + 0.5)

    def test_of_two_that_come_as_near_the_smaller(self) -> None:
        found = adding().best(
            [AtHand("titanium-white", "white", (("titanium-white", 1.0),)), AtHand("tint", "tint", ())]
        )
        self.assertLessEqual(found[0].growth, 3.0)
        self.assertEqual(len({frozenset(i for i, _ in c.additions) for c in found}), len(found))
        self.assertTrue(all(1 <= len(c.additions) <= 2 for c in found))
        self.assertEqual(found[0].growth, 1 + sum(v for _, v in found[0].additions) / 10)


class Verdicts(unittest.TestCase):
    """Everything that is said, from how far off the pile is thought to be and what an addition would bring."""

    def judged(self, now: list[float], de00: float, thrift: float = 1.0, **how: object) -> str:
        handling = Handling(planned=10.0, noise=how.pop("noise", 0.3), **how)
        there = adding(thrift=thrift)
        n = len(there.now)
        spread = np.resize(np.array(now, dtype=float), n)
        there = replace(there, now=spread, weights=np.full(n, 1 / n))
        first = Correction((("titanium-white", 1.0),), ("white",), (0, 0, 0), (0, 0, 0), de00, 0.0, 1.1, "add", False)
        return room._judged(first, (), there, handling).verdict

    def test_a_match(self) -> None:
        self.assertEqual(self.judged([1.0], 0.9), "home")
        self.assertEqual(self.judged([1.0], 0.1, said_off=True), "add")  # who sees it off is not told that it matches
        self.assertEqual(self.judged([1.0], 0.1, noise=1.5), "home")
        self.assertEqual(self.judged([1.3], 0.5, noise=1.5), "add")  # 2 - 1.7 noises, but never less than half of 2

    def test_what_helps_is_added(self) -> None:
        self.assertEqual(self.judged([4.0], 1.0), "add")
        self.assertEqual(self.judged([4.0], 3.87), "add")
        self.assertEqual(self.judged([4.0], 3.89), "leave")
        self.assertEqual(self.judged([4.0], 3.91, thrift=0.3), "add")
        self.assertEqual(self.judged([4.0], 3.93, thrift=0.3), "leave")
        self.assertEqual(self.judged([4.0], 3.96, thrift=0.3, said_off=True), "add")
        self.assertEqual(self.judged([4.0], 3.98, thrift=0.3, said_off=True), "leave")

    def test_a_doubtful_one_is_read_once_more(self) -> None:
        self.assertEqual(self.judged([1.0, 3.0], 2.0, noise=0.6), "look")
        self.assertEqual(self.judged([1.0, 3.0], 2.0, noise=0.6, times=9), "leave")  # read often enough: .6 / 3
        self.assertEqual(self.judged([1.9, 2.1], 2.0, noise=0.6), "leave")  # nothing in doubt
        self.assertEqual(self.judged([1.9, 2.1], 2.0, thrift=0.3), "home")
        self.assertEqual(self.judged([3.0, 5.0], 4.0, noise=0.6), "leave")  # no hope of a match
        self.assertEqual(self.judged([1.0, 3.0], 2.0, noise=0.6, said_off=True), "leave")
        for near, verdict in ((11, "look"), (9, "leave")):  # of 48 palettes, about a fifth
            there = [1.9] * near + [2.9] * (48 - near)
            self.assertEqual(self.judged(there, 2.7, noise=0.6), verdict, near)

    def test_begun_anew(self) -> None:
        right, wrong = weighed([("titanium-white", 9.0), ("yellow-ochre", 4.0)]), weighed([("ivory-black", 1.0)])
        far = adding().anew(right)
        self.assertGreater(adding().anew(wrong), 30)
        self.assertEqual(self.judged([far / 0.6], far / 0.6 - 0.5, again=lambda: right), "again")
        self.assertEqual(self.judged([far / 0.6], far / 0.8, again=lambda: right), "add")
        self.assertEqual(self.judged([far / 1.2], far / 1.2, again=lambda: right), "again")  # stuck, and not begun anew
        self.assertEqual(self.judged([far / 1.4], far / 1.4, again=lambda: right), "leave")
        self.assertEqual(self.judged([far / 1.2], far / 1.2, again=lambda: right, begun_anew=True), "leave")
        self.assertEqual(self.judged([9.0], 8.0, again=lambda: wrong), "add")

    def test_how_sure_it_is_and_by_how_much(self) -> None:
        there = adding()
        n = len(there.now)
        spread = np.linspace(0.0, 4.0, n)
        there = replace(there, now=spread, weights=np.full(n, 1 / n))
        first = Correction((), (), (0, 0, 0), (0, 0, 0), 1.0, 0.0, 1.1, "add", False)
        said = room._judged(first, (), there, Handling(planned=10.0))
        self.assertAlmostEqual(said.sure, 0.5, delta=0.03)
        self.assertAlmostEqual(said.now, 2.0, delta=1e-6)
        self.assertAlmostEqual(said.give, 1.6, delta=1e-6)

    def test_amounts_that_a_hand_can_measure(self) -> None:
        self.assertEqual(Handling().levels().tolist(), room.ADDED_PARTS.tolist())
        half = Handling(hand=Hand(least_ml=0.05), ml=0.1).levels()
        self.assertEqual(half[:3].tolist(), [0.0, 0.5, 1.0])
        self.assertEqual(Handling(hand=Hand(least_ml=0.05), ml=0.4).levels()[1], 0.125)


class Readings(unittest.TestCase):
    def test_what_is_in_a_pile(self) -> None:
        tint = tint_of(BLACK, WHITE)
        hand = Hand()
        doses = mixed(
            [Ingredient("yellow-ochre", "ochre", 2.0), Ingredient(tint.id, tint.name, 0.5, True)],
            {tint.id: tint}, hand, times=3, ml=0.2,
        )  # fmt: skip
        self.assertEqual([(d.source, d.volume) for d in doses], [("yellow-ochre", 6.0), (tint.id, 1.5)])
        self.assertAlmostEqual(doses[0].error, round(float(hand.errors(np.array(2.0), 1.2)), 4))
        self.assertEqual(doses[0].within, 0.0)
        self.assertAlmostEqual(doses[1].within, round(float(np.hypot(hand.dose, hand.dose)), 4))
        self.assertEqual(unsure_within(replace(tint, parts=()), hand), 0.0)
        held = contents(doses)
        self.assertAlmostEqual(held["yellow-ochre"], 6.0)
        self.assertAlmostEqual(held["ivory-black"], 1.5 / 11)
        self.assertAlmostEqual(whole_of(shrunk(doses, 0.5)), 3.75)
        self.assertEqual((READER, PHOTO), (0.3, 1.5))

    def test_what_no_dose_can_be(self) -> None:
        for wrong in (
            {"volume": -0.1}, {"volume": float("nan")}, {"volume": float("inf")}, {"shares": ()},
            {"shares": (("a", 0.5),)}, {"shares": (("a", 1.4), ("b", -0.4))}, {"error": -1.0}, {"within": 11.0},
            {"name": "x" * 201}, {"source": "x" * 201},
        ):  # fmt: skip
            with self.assertRaises(ValueError, msg=str(wrong)):
                Dose(**{"shares": (("a", 1.0),), "volume": 1.0, **wrong})
        self.assertEqual(Dose.of_tube("a", 2).sole, "a")
        self.assertEqual(Dose((("a", 0.5), ("b", 0.5)), 0.0).sole, "")

    def test_slopes_are_what_small_steps_bring(self) -> None:
        """The Jacobian of all readings, against central differences of what is left: tints, cuts and a bias in it."""
        tint = (("titanium-white", 10 / 11), ("ivory-black", 1 / 11))
        first = (Dose.of_tube("titanium-white", 6.0, 0.2), Dose.of_tube("yellow-ochre", 2.0, 0.2))
        more = (*first, Dose(tint, 1.5, 0.3, "tint-ivory-black", 0.28), Dose.of_tube("ivory-black", 0.2, 0.35))
        readings = (
            PileSeen(first, (78.0, 6, 30), 0.4, "a"),
            PileSeen(more, (62.0, 4, 22), 0.8, "a"),
            PileSeen(shrunk(more[:3], 0.5), (70.0, 3, 25), 0.3, "b"),
        )
        fit = _Fit(TUBES, readings, believe(TUBES, ()).surface)
        rng = np.random.default_rng(4)
        x = rng.normal(0, 0.4, fit.unknowns.size)
        J = fit.slopes(x)
        step = 1e-4
        for k in range(fit.unknowns.size):
            up, down = x.copy(), x.copy()
            up[k] += step
            down[k] -= step
            numeric = (fit.off(up) - fit.off(down)) / (2 * step)
            # CIEDE2000's own axes turn a little with the colour: the slopes hold them where they are.
            np.testing.assert_allclose(J[:, :, k], numeric, atol=0.02 * np.abs(numeric).max() + 0.02, err_msg=str(k))

    def test_cost_is_readings_plus_prior(self) -> None:
        readings = (PileSeen(PILE, (70.0, 5, 25), 0.5, "a"),)
        fit = _Fit(TUBES, readings, believe(TUBES, ()).surface)
        x = np.zeros(fit.unknowns.size)
        left = float((fit.off(x) ** 2).sum())
        self.assertAlmostEqual(fit.cost(x), 144 * np.log1p(left / 144))
        x[fit.sd.size] = 0.7  # one dose, and what the optics leave
        x[-4] = 0.5
        self.assertAlmostEqual(fit.cost(x), 144 * np.log1p(float((fit.off(x) ** 2).sum()) / 144) + 0.49 + 0.25)
        near = np.zeros_like(x)
        near[:3] = 1.0  # a tube within its nine degrees of freedom costs its square
        self.assertAlmostEqual(fit.cost(near) - 144 * np.log1p(float((fit.off(near) ** 2).sum()) / 144), 3.0)
        np.testing.assert_array_equal(fit.weights(np.zeros_like(x)), 1.0)
