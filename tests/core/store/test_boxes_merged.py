"""Two windows and one paint box: whose tubes and palettes stand after both have written."""

import unittest

from ochre_stone.core.paint.box import OwnPalette, OwnTube, PaintBox, PigmentPart
from ochre_stone.core.store.boxfile import merged_boxes


def tube(name: str, parts: float = 1.0) -> OwnTube:
    return OwnTube(id=f"own-{name}", name=name, parts=(PigmentPart(pigment="yellow-ochre", parts=parts),))


def palette(name: str, *paints: str) -> OwnPalette:
    return OwnPalette(id=f"own-{name}", name=name, about="", paints=paints)


A, B, C, D = (tube(n) for n in "abcd")


def box(*tubes: OwnTube, palettes: tuple[OwnPalette, ...] = ()) -> PaintBox:
    return PaintBox(tubes=tubes, palettes=palettes)


class Merged(unittest.TestCase):
    def names(self, b: PaintBox) -> list[str]:
        return [t.name for t in b.tubes]

    def test_what_one_adds_and_the_other_adds(self) -> None:
        self.assertEqual(self.names(merged_boxes(box(A), box(A, B), box(A, C))), ["a", "c", "b"])
        self.assertEqual(self.names(merged_boxes(box(A), box(A, B), box(A))), ["a", "b"])

    def test_what_one_takes_out_stays_out(self) -> None:
        self.assertEqual(self.names(merged_boxes(box(A, B), box(A), box(A, B, C))), ["a", "c"])

    def test_what_both_change_is_the_last_one_s(self) -> None:
        mine, theirs = tube("a", 2.0), tube("a", 3.0)
        self.assertEqual(merged_boxes(box(A), box(mine), box(theirs)).tubes, (mine,))
        self.assertEqual(merged_boxes(box(A, B), box(A, B, C), box(theirs, B)).tubes, (theirs, B, C))

    def test_another_order_alone(self) -> None:
        self.assertEqual(self.names(merged_boxes(box(A, B, C), box(C, A, B), box(A, B, C, D))), ["c", "a", "b", "d"])
        self.assertEqual(self.names(merged_boxes(box(A, B), box(B, A, C), box(A, B, D))), ["a", "b", "d", "c"])

    def test_a_tube_that_somebody_s_palette_holds_stays(self) -> None:
        theirs = palette("p", A.id, B.id)
        found = merged_boxes(box(A, B), box(A), box(A, B, palettes=(theirs,)))
        self.assertEqual(self.names(found), ["a", "b"])
        self.assertEqual(found.palettes, (theirs,))
