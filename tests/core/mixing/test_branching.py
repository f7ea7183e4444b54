"""The plan of what is mixed on from what, against every plan there is."""

import itertools
import unittest

import numpy as np

from ochre_stone.core.mixing.session.branching import DEEPEST, LEAST_ML, Way, branch, sequence, total


def everything(ways, need):
    """The least cost of all plans, by trying each; the check of the solver."""
    best = np.inf
    names = list(ways)
    for choice in itertools.product(*(ways[p] for p in names)):
        try:
            cost, _ = total(dict(zip(names, choice, strict=True)), need)
        except ValueError:
            continue
        best = min(best, cost)
    return best


def made_up(n, rng):
    piles = [f"p{i}" for i in range(n)]
    ways = {}
    for p in piles:
        ways[p] = [Way("", 0.0, int(rng.integers(2, 5)), int(rng.integers(0, 3)), int(rng.integers(0, 2)))]
        for q in rng.permutation([x for x in piles if x != p])[: min(3, n - 1)]:
            ways[p].append(
                Way(str(q), float(rng.uniform(0.2, 0.95)), int(rng.integers(2, 4)), int(rng.integers(0, 2)), 0,
                    float(rng.uniform(0, 1.5)))
            )  # fmt: skip
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
        self.assertGreater(saved, 15)  # mixing on is worth it in most of them

    def test_never_a_circle_never_too_deep(self):
        """A chain that would pay at every link is cut where errors would add up."""
        names = [f"p{i}" for i in range(8)]
        ways = {names[0]: [Way("", 0, 2)]}
        for a, b in itertools.pairwise(names):
            ways[b] = [Way("", 0, 6, 2), Way(a, 0.5, 2)]
        ways[names[0]].append(Way(names[7], 0.5, 1))
        plan = branch(ways, dict.fromkeys(names, 1.0))
        depth = {}
        for p in sequence(plan.chosen, names):
            parent = plan.chosen[p].parent
            depth[p] = depth[parent] + 1 if parent else 0
        self.assertTrue(2 <= max(depth.values()) <= DEEPEST)
        self.assertAlmostEqual(plan.cost, everything(ways, dict.fromkeys(names, 1.0)), places=5)

    def test_what_is_drawn_is_mixed_on_top(self):
        ways = {"a": [Way("", 0, 2)], "b": [Way("", 0, 9), Way("a", 0.5, 2)], "c": [Way("", 0, 9), Way("b", 0.8, 2)]}
        plan = branch(ways, {"a": 2.0, "b": 1.0, "c": 3.0})
        self.assertAlmostEqual(plan.ml["c"], 3.0)
        self.assertAlmostEqual(plan.ml["b"], 1.0 + 0.8 * 3.0)
        self.assertAlmostEqual(plan.ml["a"], 2.0 + 0.5 * plan.ml["b"])

    def test_a_pile_too_small_to_mix_pays_where_another_draws_from_it(self):
        """The least pile is wasted paint unless some of it goes on."""
        ways = {"a": [Way("", 0, 3)], "b": [Way("", 0, 3), Way("a", 0.5, 3)]}
        need = {"a": 0.0, "b": 2 * LEAST_ML}
        plan = branch(ways, need)
        self.assertEqual(plan.chosen["b"].parent, "a")
        self.assertAlmostEqual(plan.ml["a"], LEAST_ML)

    def test_words_and_what_is_refused(self):
        alone = branch({"a": [Way("", 0, 2)]}, {"a": 1.0})
        self.assertIn("Every pile starts from tubes", alone.words)
        with self.assertRaises(ValueError):
            branch({"a": [Way("b", 0.5, 1)], "b": [Way("", 0, 1)]}, {})
        with self.assertRaises(ValueError):
            total({"a": Way("b", 0.5, 1), "b": Way("a", 0.5, 1)}, {})

    def test_order_of_mixing(self):
        chosen = {"a": Way("c", 0.5, 1), "b": Way("", 0, 1), "c": Way("b", 0.5, 1)}
        self.assertEqual(sequence(chosen, ["a", "b", "c"]), ["b", "c", "a"])


if __name__ == "__main__":
    unittest.main()
