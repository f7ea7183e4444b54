"""The plan of what is mixed on from what, against every plan there is."""

import itertools
import unittest

import numpy as np

from ochre_stone.core.mixing.session.branching import MixWay, branch, total


def everything(ways, need):
    """The least cost of all plans, by trying each; the check of the solver."""
    names = list(ways)
    return min(
        total(dict(zip(names, choice, strict=True)), need)[0] for choice in itertools.product(*(ways[p] for p in names))
    )


def made_up(n, rng):
    piles = [f"p{i}" for i in range(n)]
    ways = {}
    for k, p in enumerate(piles):
        least = float(rng.uniform(1, 2.5))
        ways[p] = [MixWay((), int(rng.integers(2, 5)), int(rng.integers(0, 3)), float(rng.uniform(0, 1)), (), least)]
        before = rng.permutation(piles[:k])
        for q in before[:3]:
            draws = [(str(q), float(rng.uniform(0.2, 0.6)))]
            if k > 1 and rng.random() < 0.4:
                other = next(str(x) for x in before if x != q)
                draws.append((other, float(rng.uniform(0.15, 0.35))))
            ways[p].append(
                MixWay(
                    tuple(draws),
                    int(rng.integers(2, 4)),
                    int(rng.integers(0, 2)),
                    float(rng.uniform(0, 0.6)),
                    (),
                    float(rng.uniform(1, 2)),
                )
            )
    return ways, {p: float(rng.gamma(1.0, 0.6)) for p in piles}


class Optimum(unittest.TestCase):
    def test_against_exhaustive_search(self):
        rng = np.random.default_rng(11)
        saved = 0
        for n in (2, 3, 4, 5, 6):
            for _ in range(6):
                ways, need = made_up(n, rng)
                plan = branch(ways, need, time=5.0)
                best = everything(ways, need)
                self.assertAlmostEqual(plan.cost, best, places=5)
                self.assertLessEqual(plan.bound, best + 1e-5)
                self.assertTrue(plan.proven)
                saved += plan.cost < plan.from_tubes - 0.1
        self.assertGreater(saved, 12)  # mixing on is worth it in most of them

    def test_what_is_drawn_is_mixed_on_top(self):
        ways = {
            "a": [MixWay((), 2)], "b": [MixWay((), 9), MixWay((("a", 0.5),), 2)],
            "c": [MixWay((), 9), MixWay((("b", 0.6), ("a", 0.2)), 3)],
        }  # fmt: skip
        plan = branch(ways, {"a": 2.0, "b": 1.0, "c": 3.0})
        self.assertAlmostEqual(plan.ml["c"], 3.0)
        self.assertAlmostEqual(plan.ml["b"], 1.0 + 0.6 * 3.0)
        self.assertAlmostEqual(plan.ml["a"], 2.0 + 0.2 * 3.0 + 0.5 * plan.ml["b"])

    def test_a_pile_too_small_to_mix_pays_where_another_draws_from_it(self):
        """The least pile is wasted paint unless some of it goes on."""
        ways = {"a": [MixWay((), 3)], "b": [MixWay((), 3), MixWay((("a", 0.5),), 3)]}
        plan = branch(ways, {"a": 0.0, "b": 2.0})
        self.assertEqual(plan.chosen["b"].parents, ("a",))
        self.assertAlmostEqual(plan.ml["a"], 1.0)

    def test_a_small_dose_makes_the_pile_larger_or_takes_another_way(self):
        small, plain = MixWay((), 2, least_ml=6.0), MixWay((), 3, least_ml=1.0)
        self.assertEqual(branch({"a": [small, plain]}, {"a": 0.5}).chosen["a"], plain)
        plan = branch({"a": [small, plain]}, {"a": 6.0})  # so much is wanted anyway
        self.assertEqual((plan.chosen["a"], plan.ml["a"]), (small, 6.0))

    def test_words_and_what_is_refused(self):
        alone = branch({"a": [MixWay((), 2)]}, {"a": 1.0})
        self.assertIn("Every pile starts from tubes", alone.words)
        for ways in (
            {"a": [MixWay((("b", 0.5),), 1)], "b": [MixWay((), 1)]},
            {"a": []},
            {"a": [MixWay((("x", 0.5),), 1)]},
        ):
            with self.assertRaises(ValueError):
                branch(ways, {})
        with self.assertRaises(ValueError):
            total({"a": MixWay((("b", 0.5),), 1), "b": MixWay((), 1)}, {})


if __name__ == "__main__":
    unittest.main()
