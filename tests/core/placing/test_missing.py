"""What no pile comes near: found where it is, ranked, and never what the palette cannot reach."""

import unittest

import numpy as np

from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.placing.missing import missing_places
from ochre_stone.core.planning.blockin import block_in
from ochre_stone.core.planning.lacking import lacking, note_of_lacking
from ochre_stone.core.planning.planning import mix_strings
from tests.core.placing.test_placing import COLOURS, LIGHT, MIDDLE, ground, stripes
from tests.support.cases import cases, with_strings


def any_colour(lab: Lab) -> Lab:
    return lab


class Found(unittest.TestCase):
    def test_a_stripe_without_its_pile_is_found_where_it_lies(self) -> None:
        g = ground(stripes(1.0))
        found = missing_places(g, COLOURS[[0, 2]], any_colour)
        first = found.places[0]
        self.assertTrue(60 <= first.column < 120, first.column)
        self.assertLess(float(np.abs(np.array(first.lab) - MIDDLE).max()), 3.0)
        self.assertAlmostEqual(first.area, 1 / 3, delta=0.05)
        self.assertGreater(first.off, 15)
        self.assertLess(first.left, 2.0)
        self.assertEqual(found.beyond, 0.0)

    def test_with_all_piles_nothing_is_missing(self) -> None:
        self.assertEqual(missing_places(ground(stripes(1.0)), COLOURS, any_colour).places, ())

    def test_what_the_palette_does_not_reach_is_told_apart(self) -> None:
        g = ground(stripes(1.0))
        found = missing_places(g, COLOURS[[0, 2]], lambda lab: LIGHT)
        self.assertEqual(found.places, ())
        self.assertAlmostEqual(found.beyond, 1 / 3, delta=0.05)

    def test_where_the_painter_looks_comes_first(self) -> None:
        lab = np.full((160, 160, 3), COLOURS[0])
        lab[20:60, 20:60], lab[100:132, 100:132] = MIDDLE, LIGHT
        kept = np.zeros((160, 160))
        first = missing_places(ground(lab), COLOURS[:1], any_colour).places[0]
        kept[15:65, 15:65] = 1.0
        looked = missing_places(ground(lab, kept=kept), COLOURS[:1], any_colour).places[0]
        self.assertLess(looked.row, 65)
        self.assertIn(first.row // 80, (0, 1))


class OnPictures(unittest.TestCase):
    def test_three_notes_of_it_bring_the_plan_nearer(self) -> None:
        name = "animal"
        picture, document = next(p for n, p, _ in cases() if n == name), with_strings(name)
        before = block_in(picture, document)
        assert before is not None
        found = lacking(picture, document, before)
        self.assertGreaterEqual(len(found.found), 3)
        worth = [one.place.area * (one.place.off**2 - one.place.left**2) for one in found.found]
        self.assertGreater(worth[0], worth[-1] * 0.5)
        for one in found.found[:3]:
            self.assertGreater(one.place.off, one.place.left + 1)
            self.assertRegex(one.words, r"of the picture, off by \d+, with a note \d+$")
            document = document.with_note(note_of_lacking(picture, document, one))
        self.assertEqual(len({n.name for n in document.notes}), len(document.notes))
        after = block_in(picture, document.model_copy(update={"mixed": mix_strings(document)}))
        assert after is not None
        self.assertLess(after.figures.worst, before.figures.worst)
        self.assertLess(after.figures.off, before.figures.off)


if __name__ == "__main__":
    unittest.main()
