"""The range of values that is proposed by itself."""

import unittest
from itertools import pairwise

import numpy as np

from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.document.choices import MassChoice, RangeChoice
from ochre_stone.core.document.document import Document, Note
from ochre_stone.core.planning.coverage import coverage
from ochre_stone.core.planning.planning import mix_strings, palette_reach
from ochre_stone.core.planning.ranging import with_proposed_range
from ochre_stone.core.planning.rows import note_targets
from tests.support.cases import cases


def note(n: int, L: float) -> Note:
    return Note(id=f"n{n}", name=f"note {n}", lab=(L, 2.0, 4.0), subject="wall", share=0.2)


class Proposed(unittest.TestCase):
    def test_blacks_beyond_paint_are_brought_in_and_the_lights_stay(self) -> None:
        document = Document(notes=tuple(note(n, L) for n, L in enumerate((3.0, 8.0, 20.0, 60.0, 80.0))))
        ranged, words = with_proposed_range(document)
        self.assertRegex(words, "Darks beyond this paint are brought into its range.*Mass, Range")
        before, after = (np.asarray(value_of_lightness(note_targets(d)[:, 0])) for d in (document, ranged))
        self.assertTrue(all(a < b for a, b in pairwise(after)), "their order stays")
        self.assertGreaterEqual(after[0], palette_reach(document)[0] - 0.05)
        self.assertAlmostEqual(after[4] - after[3], before[4] - before[3], delta=0.05)
        self.assertEqual(with_proposed_range(ranged), (ranged, ""), "once")

    def test_what_paint_can_do_and_what_was_said_stays(self) -> None:
        plain = Document(notes=(note(1, 40.0), note(2, 80.0)))
        self.assertEqual(with_proposed_range(plain), (plain, ""))
        self.assertEqual(with_proposed_range(Document())[1], "")
        said = MassChoice(range=RangeChoice(keep="even", low=1, high=9))
        own = Document(notes=(note(1, 3.0),), masses=said)
        self.assertEqual(with_proposed_range(own), (own, ""))

    def test_hardly_a_note_of_the_photographs_is_out_of_reach_for_its_value(self) -> None:
        out = notes = 0
        for _, _, document in cases()[1:]:
            ranged, _ = with_proposed_range(document)
            planned = ranged.model_copy(update={"mixed": mix_strings(ranged)})
            found = coverage(planned).values()
            notes += len(found)
            out += sum("too dark" in c.why or "too light" in c.why for c in found if not c.reach)
            piles = sorted((p for s in planned.mixed.strings for p in s.piles), key=lambda p: p.target.lab[0])
            for darker, lighter in pairwise(piles):
                self.assertLess(darker.recipe.lab[0], lighter.recipe.lab[0] + 1.5, (darker.name, lighter.name))
        self.assertLessEqual(out / notes, 0.07)  # four of 60; ten of 166 are the aim


if __name__ == "__main__":
    unittest.main()
