"""Block in, the page Piles: the picture in the plan's piles, by mouse and keys."""

import numpy as np
from PyQt6.QtCore import QPoint, QPointF, Qt

from ochre_stone.core.picture.picture import lab_to_linear, linear_to_code
from tests.desktop.helpers import WindowCase


class LaidIn(WindowCase):
    def setUp(self) -> None:
        super().setUp()
        self.open_small()
        self.window.go_to("Block in", "Piles")
        self.settle()
        self.station = next(s for s in self.window.stations if s.title == "Block in")
        self.page, self.view = self.station.piles_page, self.station.piles_page.view
        self.piles = self.window.session.piles

    def pixel(self, x: float, y: float) -> np.ndarray:
        """sRGB of a place of the picture, as shares of its width and height."""
        box = self.view.room()
        at = QPoint(int(box.left() + x * box.width()), int(box.top() + y * box.height()))
        colour = self.view.grab().toImage().pixelColor(at)
        return np.array([colour.red(), colour.green(), colour.blue()])

    def spot_of(self, pile_id: str) -> tuple[float, float]:
        """A place well inside a pile's largest shape, beside its number."""
        found = self.page.found
        index = next(i for i, g in enumerate(found.piles) if g[0].id == pile_id)
        spot = next(s for s in self.view.spots if s.pile == index and s.largest)
        return spot.x + 0.6 * spot.room, spot.y

    def biggest(self) -> list[str]:
        shares = self.page.found.shares
        return sorted(shares, key=lambda i: -shares[i])

    def test_a_place_points_at_its_pile_and_a_pile_lights_up_its_places(self):
        first, second = self.biggest()[:2]
        x, y = self.spot_of(second)
        box = self.view.room()
        self.click(self.view.viewport(), QPointF(box.left() + x * box.width(), box.top() + y * box.height()))
        self.assertEqual(self.piles.in_hand, second)
        self.settle()
        self.assertEqual(self.page.list.currentItem().data(Qt.ItemDataRole.UserRole), second)
        self.assertIn(self.piles.names()[second], self.page.held.text().lower())
        labs = {p.id: p.recipe.lab for s in self.window.studio.document.mixed.strings for p in s.piles}
        for i in (first, second):
            want = linear_to_code(lab_to_linear(np.array(labs[i]))).astype(int)
            self.assertLessEqual(int(np.abs(self.pixel(*self.spot_of(i)) - want).max()), 2)
        self.click(self.page.alone)
        self.settle()
        own = linear_to_code(lab_to_linear(np.array(labs[second]))).astype(int)
        self.assertLessEqual(int(np.abs(self.pixel(*self.spot_of(second)) - own).max()), 2)
        pale = self.pixel(*self.spot_of(first))
        self.assertGreater(int(pale.min()), 150)
        self.assertEqual(len(set(pale.tolist())), 1, "all else is grey")

    def test_by_keys(self):
        self.view.setFocus()
        self.piles.choose(self.biggest()[0])
        self.settle()
        seen = set()
        for key in (Qt.Key.Key_Right, Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Up):
            self.key(key, widget=self.view)
            self.settle()
            seen.add(self.piles.in_hand)
        self.assertGreater(len(seen), 1)
        self.key(Qt.Key.Key_B, Qt.KeyboardModifier.ShiftModifier)
        self.assertTrue(self.page.photo.isChecked())
        self.key(Qt.Key.Key_B, Qt.KeyboardModifier.ShiftModifier)
        self.assertFalse(self.page.photo.isChecked())

    def test_it_follows_the_plan_and_says_how_near_it_is(self):
        before = self.page.found
        self.assertEqual(self.view.accessibleDescription(), before.figures.words)
        self.assertEqual({i.id for i in self.view.items}, {i for i, s in before.shares.items() if s > 0})
        self.assertEqual(self.page.list.count(), len(before.shares))
        self.window.studio.adjust("mix", "Fewer", palette="four-tube-earth", laid=None)
        self.settle()
        after = self.page.found
        self.assertIsNot(after, before)
        self.assertNotEqual(after.figures, before.figures)
        self.window.studio.undo.undo()
        self.settle()
        np.testing.assert_array_equal(self.page.found.labels, before.labels)

    def test_the_photo_to_compare(self):
        laid = self.view.grab().toImage()
        self.click(self.page.photo)
        self.assertNotEqual(self.view.grab().toImage(), laid)
        self.click(self.page.photo)
        self.assertEqual(self.view.grab().toImage(), laid)

    def test_what_is_missing_is_ringed_and_noted_in_one_step(self):
        self.window.studio.adjust("mix", "Few piles", piles=4)
        self.settle()
        page = self.page
        self.assertGreater(page.missing.count(), 0)
        self.assertFalse(page.note_it.isEnabled())
        plain = self.view.grab().toImage()
        page.missing.setCurrentRow(0)
        self.assertNotEqual(self.view.grab().toImage(), plain, "the place is ringed")
        self.piles.choose(self.biggest()[1])
        self.settle()
        self.assertEqual(page.missing.currentRow(), 0, "what was chosen stays, whatever pile is in hand")
        before = self.window.studio.document
        self.click(page.note_it)
        self.settle()
        after = self.window.studio.document
        self.assertEqual(len(after.notes), len(before.notes) + 1)
        self.assertIn(after.notes[-1].id, {n.id for n in after.notes} - {n.id for n in before.notes})
        self.window.studio.undo.undo()
        self.settle()
        self.assertEqual(len(self.window.studio.document.notes), len(before.notes), "one undo step")


class WithoutAPicture(WindowCase):
    def test_it_says_what_is_missing(self):
        self.window.go_to("Block in", "Piles")
        self.settle()
        station = next(s for s in self.window.stations if s.title == "Block in")
        self.assertIsNone(station.piles_page.found)
        self.assertFalse(station.piles_page.list.isVisible())
        self.assertIn("Open a picture first", station.piles_page.view.hint)
