"""Nothing is mixed between unlike things, nothing is mixed twice."""

import unittest
from dataclasses import replace
from itertools import pairwise

from ochre_stone.core.colour.munsell import lightness_of_value
from ochre_stone.core.colour.spaces import Lab, as_lab, hex_to_lab
from ochre_stone.core.mixing.recipe.recipe import Ingredient, Recipe
from ochre_stone.core.mixing.session.sharing import same_mixture, with_shared
from ochre_stone.core.mixing.strings.kindred import FAMILY_NAMES, family, kindred
from ochre_stone.core.mixing.strings.targets import Pile, PileTarget, between
from tests.support.cases import cases, with_strings

LEAF, LEAF_IN_SUN, GAP = (32.0, -14.0, 22.0), (62.0, -18.0, 45.0), (92.0, -1.0, -2.0)
WATER, ROCK, STRAW, VIOLET = (45.0, -22.0, -12.0), (55.0, 20.0, 30.0), (75.0, 4.0, 35.0), (40.0, 25.0, -30.0)
COAT, BACKGROUND = (12.0, 1.0, -2.0), (50.0, -6.0, -28.0)


def target(lab: Lab, value: float, *notes: str) -> PileTarget:
    return PileTarget(lab, value, "note" if notes else "between", (), notes)


def recipe(*inside: Ingredient) -> Recipe:
    shares = tuple((x.id, 1 / len(inside)) for x in inside)
    return Recipe(inside, shares, (50, 0, 0), (50, 0, 0), 0.5, 0, 0, 0, 1.0, "", (), 1.0, "")


def pile(pile_id: str, made: Recipe, *notes: str, **more: object) -> Pile:
    return Pile(pile_id, target((50, 0, 0), 5.0, *notes), made, (), True, 1, **more)  # type: ignore[arg-type]


OCHRE, WHITE = Ingredient("yellow-ochre", "ochre", 2.0), Ingredient("titanium-white", "white", 1.0)


class Kindred(unittest.TestCase):
    """Common practice, no source."""

    def test_unlike_things_are_not_blended(self) -> None:
        for one, other in ((WATER, ROCK), (LEAF_IN_SUN, GAP), (STRAW, VIOLET), (COAT, BACKGROUND)):
            self.assertFalse(kindred(one, other), (one, other))
            self.assertFalse(kindred(other, one, one_thing=True), (one, other))

    def test_one_thing_in_light_and_shade_is(self) -> None:
        pale, blue = (88.0, -2.0, -6.0), (62.0, -4.0, -26.0)
        for one, other in ((LEAF, LEAF_IN_SUN), ((30.0, 14.0, 16.0), (75.0, 15.0, 25.0)), (pale, blue)):
            self.assertTrue(kindred(one, other, one_thing=True), (one, other))
        self.assertFalse(kindred(pale, blue), "of two things it is not known")

    def test_families_have_painters_names(self) -> None:
        for code, name in (
            ("#c02020", "reds"), ("#ff8000", "oranges"), ("#ffd800", "yellows"), ("#00a000", "greens"),
            ("#00a0a0", "blue-greens"), ("#0040ff", "blues"), ("#8000c0", "violets"), ("#ff80c0", "pinks"),
            ("#603010", "browns"), ("#4a4420", "olives"), ("#808080", "greys"), ("#101010", "greys"),
        ):  # fmt: skip
            self.assertEqual(family(as_lab(hex_to_lab(code))), name, code)
            self.assertIn(name, FAMILY_NAMES)

    def test_steps_go_past_what_is_unlike(self) -> None:
        light = [float(lightness_of_value(v)) for v in (3.0, 5.0, 7.0)]
        labs = [(light[0], -14.0, 22.0), (light[1], 25.0, -30.0), (light[2], -18.0, 34.0)]
        standing = [target(lab, v, f"n{v}") for lab, v in zip(labs, (3.0, 5.0, 7.0), strict=True)]
        found = between(standing, labs, [1, 1, 1], 2.0)
        self.assertEqual([t.value for t in found], [5.0])
        self.assertLess(found[0].lab[1], -10, "between the greens, without the violet")
        self.assertEqual(between(standing[1:], labs[1:], [1, 1], 0.5), [])


class Sharing(unittest.TestCase):
    def test_nothing_but_another_pile_is_that_pile(self) -> None:
        first = pile("a-1", recipe(OCHRE, WHITE), "n1")
        second = pile("a-2", recipe(Ingredient("a-1", "a 1", 1.0, True)), "n2")
        third = pile("b-1", recipe(Ingredient("a-2", "a 2", 2.0, True), WHITE), "n3")
        there = {p.id: p for p in (first, second, third)}
        shared = same_mixture(there)
        self.assertEqual(shared, {"a-2": "a-1"})
        left = with_shared(there, shared)
        self.assertEqual(left["a-1"].target.notes, ("n1", "n2"))
        self.assertEqual([x.id for x in left["b-1"].recipe.ingredients], ["a-1", "titanium-white"])

    def test_one_recipe_is_mixed_once_but_what_was_chosen_stays(self) -> None:
        again = recipe(WHITE, OCHRE)
        there = {"a-1": pile("a-1", recipe(OCHRE, WHITE), "n1"), "b-1": pile("b-1", again, "n2")}
        self.assertEqual(same_mixture(there), {"b-1": "a-1"})
        there["b-1"] = replace(there["b-1"], pinned=True)
        self.assertEqual(same_mixture(there), {})
        rung = replace(there["a-1"], id="distance-2", target=replace(there["a-1"].target, origin="rule", notes=()))
        self.assertEqual(same_mixture({"a-1": there["a-1"], "distance-2": rung}), {})


class WholePlans(unittest.TestCase):
    """On the demo and the photographs that packages carry."""

    def test_a_note_has_one_pile_and_no_pile_is_nothing_but_another(self) -> None:
        for name, _, _ in cases():
            document = with_strings(name)
            piles = [p for s in document.mixed.strings for p in s.piles]
            noted = [i for p in piles for i in p.target.notes]
            self.assertEqual(sorted(noted), sorted(n.id for n in document.notes), name)
            for p in piles:
                inside = p.recipe.ingredients
                self.assertFalse(len(inside) == 1 and inside[0].is_pile, f"{name}: {p.id}")

    def test_nothing_stands_between_unlike_things(self) -> None:
        for name, _, _ in cases():
            for s in with_strings(name).mixed.strings:
                for step in (p for p in s.piles if p.target.origin == "between"):
                    around = [p.target for p in s.piles if p.target.notes]
                    below = [t for t in around if t.value < step.target.value and kindred(t.lab, step.target.lab, True)]
                    above = [t for t in around if t.value > step.target.value and kindred(t.lab, step.target.lab, True)]
                    self.assertTrue(below and above, f"{name}: {step.id}")
                    self.assertTrue(
                        any(kindred(a.lab, b.lab, True) for a in below for b in above), f"{name}: {step.id}"
                    )

    def test_the_demos_values_keep_their_order(self) -> None:
        piles = [p for s in with_strings("demo").mixed.strings for p in s.piles]
        piles.sort(key=lambda p: p.target.lab[0])
        for darker, lighter in pairwise(piles):
            self.assertLess(darker.recipe.lab[0], lighter.recipe.lab[0] + 1.0, (darker.id, lighter.id))


if __name__ == "__main__":
    unittest.main()
