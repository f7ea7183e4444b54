"""All piles from one photo of the palette, through the dialog: the example that ships, with clicks and keys."""

from unittest import mock

import numpy as np
from PIL import Image
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog

from ochre_stone.core.boardphoto import layout
from ochre_stone.core.planning.mending import last_reading, put_since
from tests.desktop.helpers import WindowCase


class AllPiles(WindowCase):
    def setUp(self):
        super().setUp()
        self.window.files.open_demo()
        self.settle()
        self.window.go_to("Mix")
        self.settle()
        self.mix, self.studio = self.window.at("Mix"), self.window.studio
        self.turn(self.mix.pages, "Correct")
        self.settle()
        self.page = self.mix.correct_page
        self.click(self.page.all)
        self.dialog = self.page.photo_of_all
        self.addCleanup(self.dialog.close)

    def example(self):
        self.click(self.dialog.how.example)
        self.wait(lambda: self.dialog.check.seen != [], 40)
        self.settle()
        return self.dialog.check

    def rows(self, view):
        return [view.item(i).text() for i in range(view.count())]

    def choose(self, check, name):
        row = next(i for i, words in enumerate(self.rows(check.list)) if words.startswith(name))
        check.list.setCurrentRow(row)
        return check._chosen()

    def test_from_the_photo_to_what_is_put_in(self):
        self.assertFalse(self.dialog.how.grab().isNull())
        self.enterContext(mock.patch.object(layout, "SURE", 0.99))  # so that one of them is asked about
        check = self.example()
        self.assertIn("18 planned", f"{len(check.planned())} planned")
        self.assertIn("to be named", check.says.text())
        taken = int(check.take.text().split()[1])
        self.assertGreaterEqual(taken, 16)
        self.assertIn("?", self.rows(check.list)[0])  # what needs the painter comes first
        self.click(check.right)
        self.assertEqual(int(check.take.text().split()[1]), taken + 1)
        self.assertFalse(check.right.isEnabled())
        self.click(check.take)
        self.assertEqual(len(self.studio.document.readings), taken + 1)
        noises = {r.noise for r in self.studio.document.readings}
        self.assertGreater(len(noises), 10)  # each its own
        mend = self.dialog.mend
        self.wait(lambda: "are off" in mend.says.text(), 90)
        self.settle()
        words = self.rows(mend.list)
        self.assertEqual(len(words), taken + 1)
        self.assertTrue(any("add" in w for w in words))
        self.assertFalse(mend.list.item(0).icon().isNull())
        row = next(i for i, w in enumerate(words) if " add " in w)
        mend.list.setCurrentRow(row)
        pile = mend._chosen()
        self.click(mend.put)
        self.assertIsNotNone(put_since(self.studio.document, pile))
        self.assertIn("look again", self.rows(mend.list)[row])
        mend.list.setCurrentRow(row)
        self.assertFalse(mend.put.isEnabled())
        self.click(mend.show_it)
        self.assertFalse(self.dialog.isVisible())
        self.assertEqual(self.window.session.piles.in_hand, pile)
        self.assertIn("Mixed in", self.page.verdict.text())
        self.studio.undo.undo()
        self.assertIsNone(put_since(self.studio.document, pile))
        self.studio.undo.undo()  # all readings were one step
        self.assertEqual(self.studio.document.readings, ())
        self.settle()

    def test_names_are_mended_by_hand(self):
        check = self.example()
        p = self.choose(check, "shirt in shade")
        check.name.setCurrentIndex(check.name.findData("shadows-1"))
        check.name.activated.emit(check.name.currentIndex())
        self.assertEqual(check.name_of(p), "shadows-1")
        named = [check.name_of(q) for q in check.seen]
        self.assertEqual(named.count("shadows-1"), 1)  # one pile has one name
        self.choose(check, "sleeve fold")
        check.name.setCurrentIndex(check.name.findData(""))
        check.name.activated.emit(check.name.currentIndex())
        self.assertIn("not seen", self.rows(check.list)[-1])
        self.assertIn("shirt in shade", self.rows(check.list)[-1])
        before = int(check.take.text().split()[1])
        self.click(check.take)
        self.assertEqual(len(self.studio.document.readings), before)
        self.assertIsNone(last_reading(self.studio.document, "cloth-1"))
        self.settle()

    def test_split_join_and_a_click_in_the_photo(self):
        check = self.example()
        count = len(check.seen)
        other = next(q for q in check.seen if q.id == "other-yellows-1")
        self.choose(check, "quince in the sun")
        self.click(check.join)
        x, y = check.board.squared.to_photo(np.array([(other.x, other.y)]))[0]
        self.click(check.easel, check.easel.to_widget(float(x), float(y)))
        self.settle()
        self.assertEqual(len(check.seen), count - 1)
        near = [q for q in check.seen if abs(q.y - other.y) < 1.5 and not q.is_tube]
        both = min(near, key=lambda q: abs(q.x - other.x))
        numbers = [check.list.item(i).data(Qt.ItemDataRole.UserRole) for i in range(check.list.count())]
        check.list.setCurrentRow(numbers.index(both.number))
        self.click(check.split)
        self.settle()
        self.assertEqual(len(check.seen), count)
        self.choose(check, "wall in the sun")
        self.click(check.split)  # one round pile
        self.settle()
        self.assertEqual(len(check.seen), count)
        self.assertIn("stays one", check.says.text())
        q = next(q for q in check.seen if q.id == "ground-1")
        x, y = check.board.squared.to_photo(np.array([(q.x, q.y)]))[0]
        self.click(check.easel, check.easel.to_widget(float(x), float(y)))
        self.assertEqual(check._chosen().number, q.number)

    def test_corners_by_mouse_and_keys_and_the_card(self):
        check = self.example()
        first = check.corners.copy()
        x, y = first[0]
        self.drag(check.easel, check.easel.to_widget(x, y), check.easel.to_widget(x + 60, y + 40))
        self.assertGreater(check.corners[0][0], x + 20)
        self.wait(lambda: not check._timer.isActive())
        self.settle()
        check._take_mark("corner-0")
        at = check.corners[0].copy()
        self.key(Qt.Key.Key_Left, Qt.KeyboardModifier.ControlModifier, widget=check.easel)
        self.assertAlmostEqual(check.corners[0][0], at[0] - 10, delta=1)
        self.wait(lambda: not check._timer.isActive())
        self.settle()
        check.no_card.click()
        self.settle()
        self.assertIsNone(check.board.card)
        check.no_card.click()
        self.settle()
        self.assertIsNotNone(check.board.card)
        check.moved("corner-2", *(check.corners[0] + 1))
        self.wait(lambda: not check._timer.isActive())
        self.settle()
        self.assertIn("drag each to its corner", check.says.text())

    def test_a_photo_of_nothing(self):
        file = self.folder / "grey.png"
        Image.fromarray(np.full((600, 800, 3), 120, np.uint8)).save(file)
        with mock.patch.object(QFileDialog, "getOpenFileName", return_value=(str(file), "")):
            self.click(self.dialog.how.open)
        self.wait(lambda: self.dialog.check.board is not None)
        self.settle()
        check = self.dialog.check
        self.assertFalse(check.take.isEnabled())
        self.assertIn("0 piles found", check.says.text())
        self.click(check.back)
        self.assertTrue(self.dialog.how.isVisible())
        text = self.folder / "words.jpg"
        text.write_text("no picture")
        with mock.patch.object(QFileDialog, "getOpenFileName", return_value=(str(text), "")):
            self.click(self.dialog.how.open)
        self.settle()
        self.assertIn("words.jpg", self.dialog.how.says.text())
        self.dialog.show_what_is_off()
        self.assertIn("Nothing was read", self.dialog.mend.says.text())
