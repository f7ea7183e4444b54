"""Which tints a session is worth, and how long its mixing takes."""

import functools
import unittest

from ochre_stone.core.document.document import Document
from ochre_stone.core.mixing.recipe.recipe import Ingredient, Recipe
from ochre_stone.core.mixing.session.minutes import mixing_time, pile_minutes
from ochre_stone.core.mixing.session.tinting import brings, most_tints, worth_making
from ochre_stone.core.planning.planning import mix_strings, note_shares, paint_needed
from ochre_stone.core.store.files import open_project
from ochre_stone.resources import resource
from tests.support.cases import PHOTOS, with_strings

DEMO = open_project(resource("demo", "orchard-keeper.ochre")).document


@functools.cache
def made_with(tints: int) -> Document:
    mix = DEMO.mix.model_copy(update={"tints": tints})
    document = DEMO.model_copy(update={"mix": mix})
    return document.model_copy(update={"mixed": mix_strings(document)})


def tints_of(document: Document) -> set[str]:
    return {b.id for s in document.mixed.strings for b in s.bases if b.is_tint}


def recipe(by_eye: float) -> Recipe:
    return Recipe(
        (Ingredient("a", "a", 1.0),), (("a", 1.0),), (50, 0, 0), (50, 0, 0), by_eye, 0, 0, 0, 1, "", (), by_eye
    )


class Worth(unittest.TestCase):
    def test_what_serves_several_goes_before_what_serves_one(self) -> None:
        claims = [(["t-a"], 0.5), (["t-a"], 0.6), (["t-b"], 1.0), (["t-c"], 2.5)]
        self.assertEqual(worth_making(claims, (), 3), ("t-c", "t-a"), "1.0 for one pile alone is not worth a tint")
        self.assertEqual(worth_making(claims, (), 1), ("t-c",))
        self.assertEqual(worth_making([], (), 3), ())

    def test_what_two_bring_together_is_shared_between_them(self) -> None:
        self.assertEqual(worth_making([(["t-a", "t-b"], 2.0)], (), 3), ())
        self.assertEqual(set(worth_making([(["t-a", "t-b"], 3.2)], (), 3)), {"t-a", "t-b"})

    def test_what_the_painter_keeps_is_made_anyway(self) -> None:
        self.assertEqual(worth_making([(["t-a"], 9.0)], ("t-x", "t-y"), 1), ("t-x", "t-y"))
        self.assertEqual(worth_making([(["t-a"], 9.0)], ("t-x",), 2), ("t-x", "t-a"))

    def test_what_it_brings(self) -> None:
        self.assertAlmostEqual(brings((True, recipe(1.0)), (True, recipe(2.5))), 1.5)
        self.assertAlmostEqual(brings((True, recipe(1.0)), (False, recipe(2.5))), 3.5)
        self.assertEqual(brings((True, recipe(3.0)), (True, recipe(2.5))), 0.0)
        self.assertEqual([most_tints(None, n) for n in (1, 20, 27, 60)], [3, 3, 4, 9])


class Plans(unittest.TestCase):
    def test_at_most_three_for_a_session_of_twenty_piles(self) -> None:
        for name in ("demo", *PHOTOS):
            planned = with_strings(name)
            self.assertLessEqual(len(tints_of(planned)), 3, name)

    def test_the_painter_may_ask_for_none_or_more(self) -> None:
        self.assertEqual(tints_of(made_with(0)), set())
        few, many = tints_of(DEMO), tints_of(made_with(24))
        self.assertGreater(len(many), len(few))

    def test_no_dose_is_below_a_knifes_tip_without_tints_either(self) -> None:
        planned = made_with(0)
        needed, least = paint_needed(planned, note_shares(planned), {}), planned.mix.hand.made().least_ml
        for p in (p for s in planned.mixed.strings for p in s.piles):
            parts = [i.parts for i in p.recipe.ingredients]
            self.assertGreaterEqual(min(parts) / sum(parts) * needed.piles[p.id], least - 1e-9, p.name)


class Minutes(unittest.TestCase):
    def test_piles_and_what_is_made_before_them(self) -> None:
        strings = DEMO.mixed.strings
        found = mixing_time(strings)
        piles = [p for s in strings for p in s.piles]
        bases = {b.id: b for s in strings for b in s.bases}
        doses = sum(len(p.recipe.ingredients) for p in piles) + 2 * len(bases)
        self.assertEqual((found.piles, found.bases, found.doses), (len(piles), len(bases), doses))
        self.assertAlmostEqual(found.minutes, 0.8 * (len(piles) + len(bases)) + 0.5 * doses)
        self.assertIn("without corrections", found.words)
        self.assertAlmostEqual(pile_minutes(0), 0.8)

    def test_at_the_painters_own_pace(self) -> None:
        plain, slow = mixing_time(DEMO.mixed.strings), mixing_time(DEMO.mixed.strings, 2.0)
        self.assertAlmostEqual(slow.minutes, 2 * plain.minutes)
        self.assertIn("at the pace of your log", slow.words)
