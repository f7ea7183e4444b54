"""What a note, an area and a choice may hold: each bound from both sides."""

import unittest
from typing import Any

from pydantic import ValidationError

from ochre_stone.core.document.choices import BenchChoice, DistanceLadder, HarmonyChoice, LooseChoice, PileContents
from ochre_stone.core.document.document import Note
from ochre_stone.core.mixing.bench.bench import Bench, BenchPile
from ochre_stone.core.mixing.recipe.dose import Dose
from ochre_stone.core.picture.sampling import Part

PLAIN: dict[str, Any] = {"id": "n1", "name": "a", "x": 1.0, "y": 2.0, "lab": (50.0, 0.0, 0.0)}
ONE = Dose.of_tube("titanium-white", 1.0)


class Notes(unittest.TestCase):
    def holds(self, **fields: Any) -> bool:
        try:
            Note.model_validate(PLAIN | fields)
        except ValidationError:
            return False
        return True

    def test_colours(self) -> None:
        for lab, good in (
            ((0, 0, 0), True), ((130, 300, -300), True), ((130.1, 0, 0), False), ((-0.1, 0, 0), False),
            ((50, 300.1, 0), False), ((50, 0, -300.1), False),
        ):  # fmt: skip
            self.assertEqual(self.holds(lab=lab), good, lab)

    def test_places_and_areas(self) -> None:
        three = ((0, 0), (1, 0), (1, 1))
        self.assertTrue(self.holds(area=three))
        self.assertTrue(self.holds(area=()))
        self.assertFalse(self.holds(area=three[:1]))
        self.assertFalse(self.holds(area=three[:2]))
        self.assertFalse(self.holds(x=None, y=None, area=three))
        self.assertFalse(self.holds(x=None))
        self.assertTrue(self.holds(x=None, y=None))
        self.assertIsNone(Note.model_validate(PLAIN | {"x": None, "y": None}).place)
        self.assertEqual(Note.model_validate(PLAIN).place, (1.0, 2.0))

    def test_spectra_and_mixed_areas(self) -> None:
        self.assertTrue(self.holds(spectrum=(0.5,) * 36))
        self.assertFalse(self.holds(spectrum=(0.5,) * 35))
        self.assertFalse(self.holds(spectrum=(0.5,) * 35 + (20.1,)))
        self.assertFalse(self.holds(spectrum=(0.5,) * 35 + (-0.1,)))
        two = (Part((50.0, 0.0, 0.0), 0.7), Part((60.0, 0.0, 0.0), 0.3))
        self.assertTrue(self.holds(pair=two))
        self.assertFalse(self.holds(pair=(Part((50.0, 0.0, 0.0), 1.1), two[1])))

    def test_what_the_photo_cannot_be_trusted_with(self) -> None:
        def said(**fields: Any) -> str:
            return Note.model_validate(PLAIN | fields).unreliable

        self.assertIn("burnt out", said(clipped=0.9))
        self.assertIn("raised 9.0 times", said(lifted=9.0))
        self.assertEqual(said(clipped=0.05, lifted=1.3), "")  # from here on, not yet
        self.assertIn("burnt out", said(clipped=0.051))
        self.assertIn("raised 1.4 times", said(lifted=1.36))
        self.assertEqual(said(clipped=0.9, lifted=9.0, source="reader"), "")

    def test_families(self) -> None:
        roles = ("light", "halftone", "highlight", "core shadow", "cast shadow", "reflected light", "dark accent")
        lit = {r: Note.model_validate(PLAIN | {"role": r, "subject": "skin"}) for r in roles}
        self.assertEqual([r for r, n in lit.items() if n.lit], ["light", "halftone", "highlight"])
        self.assertEqual([r for r, n in lit.items() if n.group == "shadows"], ["cast shadow", "dark accent"])
        self.assertEqual(lit["core shadow"].group, "skin")


class Choices(unittest.TestCase):
    def test_ladders(self) -> None:
        ends = {"near": "a", "horizon": "b"}
        DistanceLadder(**ends, first=1.0, last=1.1)
        self.assertRaises(ValidationError, DistanceLadder, **ends, first=1.0, last=1.0)
        for steps in (1, 10):
            self.assertRaises(ValidationError, DistanceLadder, **ends, steps=steps)

    def test_accents_are_arms(self) -> None:
        self.assertEqual(HarmonyChoice(accents=(0, 3)).accents, (0, 3))
        for wrong in ((4,), (-1,), (1, 1)):
            self.assertRaises(ValidationError, HarmonyChoice, accents=wrong)
        for wrong in ({"rotation": 360}, {"amount": 1.1}, {"push": -1.1}):
            self.assertRaises(ValidationError, HarmonyChoice, **wrong)

    def test_parents(self) -> None:
        LooseChoice(pile="p", parents=("a", "b"), parts=(1, 2))
        for parents, parts in ((("a", "a"), (1, 2)), (("a", "b"), (1, 2, 3)), (("a",), (1,)), (("a", "b"), (1, 0))):
            self.assertRaises(ValidationError, LooseChoice, pile="p", parents=parents, parts=parts)

    def test_piles(self) -> None:
        held = PileContents(pile="p", doses=(ONE, Dose.of_tube("yellow-ochre", 0.5), ONE))
        self.assertEqual(held.amounts, (("titanium-white", 2.0), ("yellow-ochre", 0.5)))
        self.assertRaises(ValidationError, PileContents, pile="p", doses=())
        self.assertRaises(ValidationError, PileContents.model_validate_json, '{"pile": "p", "doses": [{"shares": []}]}')

    def test_benches(self) -> None:
        def bench(*piles: BenchPile) -> BenchChoice:
            return BenchChoice(bench=Bench(piles, len(piles)))

        one = BenchPile("bench-1", "a", (ONE,))
        self.assertEqual(len(bench(one).bench.piles), 1)
        for wrong in (
            (one, one), (BenchPile("x", "x", ()),), (BenchPile("x", "x", (Dose.of_tube("w", 1000.1),)),),
            (BenchPile("x", "x", (ONE,) * 201),), tuple(BenchPile(f"b{n}", "x", (ONE,)) for n in range(81)),
        ):  # fmt: skip
            self.assertRaises(ValidationError, bench, *wrong)
        bench(BenchPile("x", "x", (Dose.of_tube("w", 1000.0),)))
        bench(BenchPile("x", "x", (ONE,) * 200))
        bench(*(BenchPile(f"b{n}", "x", (ONE,)) for n in range(80)))
        for size in (0.04, 10.1):
            self.assertRaises(ValidationError, BenchChoice, part_ml=size)
