"""Look by keys and clicks: crop, straighten, square up; notes keep their place."""

from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt

from ochre_stone.core.picture.frame import Frame
from tests.desktop.helpers import KeysCase, WindowCase

CTRL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


class FramePage(KeysCase):
    def setUp(self) -> None:
        super().setUp()
        self.turn(self.window.at("Look").pages, "Frame")
        self.settle()
        self.page = self.window.at("Look").frame_page

    def choose_canvas(self, words: str) -> None:
        self.page.canvas.setCurrentText(words)
        self.page.canvas.activated.emit(self.page.canvas.currentIndex())
        self.settle()

    def test_crop_to_a_canvas_and_drag_it(self):
        w = self.window
        self.choose_canvas("8 × 10 in")
        d = self.studio.document
        self.assertEqual((d.canvas.width, d.canvas.height, d.canvas.unit), (10, 8, "in"))
        width, height = d.frame.size(320, 240)
        self.assertAlmostEqual(width / height, 1.25, delta=0.01)
        box = w.easel._cut_box()
        self.drag(w.easel, box.bottomRight(), box.bottomRight() - QPointF(120, 60))
        self.settle()
        smaller = self.studio.document.frame
        self.assertLess(smaller.crop[2], d.frame.crop[2])
        w2, h2 = smaller.size(320, 240)
        self.assertAlmostEqual(w2 / h2, 1.25, delta=0.02)
        box = w.easel._cut_box()
        self.drag(w.easel, box.center(), box.center() + QPointF(900, 0))
        right = self.studio.document.frame.crop
        self.assertAlmostEqual(right[0] + right[2] / 2, 1.0, delta=0.01, msg="it stops at the border")
        w.at("Look").pages.show("See")
        self.settle()
        self.assertEqual(w.easel._full, self.studio.document.frame.size(320, 240))
        self.undo_all()
        self.settle()
        self.assertTrue(self.studio.document.frame.is_whole)

    def test_the_cut_by_keys(self):
        w = self.window
        w.easel.setFocus()
        for _ in range(8):
            self.key(Qt.Key.Key_Left, CTRL, w.easel)
        narrow = self.studio.document.frame.crop
        self.assertLess(narrow[2], 0.9)
        for _ in range(3):
            self.key(Qt.Key.Key_Left, widget=w.easel)
        self.assertLess(self.studio.document.frame.crop[0], narrow[0])

    def test_straighten_by_a_drawn_line(self):
        w = self.window
        self.click(self.page.level)
        self.settle()
        self.drag(w.easel, w.easel.to_widget(40, 100), w.easel.to_widget(280, 120))
        self.settle()
        self.assertAlmostEqual(self.studio.document.frame.turn, -4.76, delta=0.4)
        self.assertFalse(self.page.level.isChecked())
        self.page.angle.setValue(3.0)
        self.settle()
        self.assertEqual(self.studio.document.frame.turn, 3.0)

    def test_four_corners_by_keys_and_the_whole_photo_again(self):
        w = self.window
        self.page.corners.setFocus()
        self.key(Qt.Key.Key_Space, widget=self.page.corners)
        for x, y in ((30, 30), (290, 40), (280, 220), (40, 210)):
            self.cross_to(x, y)
            self.key(Qt.Key.Key_Space, widget=w.easel)
        self.settle()
        corners = self.studio.document.frame.corners
        self.assertEqual(len(corners), 4)
        self.assertAlmostEqual(corners[0][0], 30, delta=2)
        self.click(self.page.reset)
        self.assertEqual(self.studio.document.frame, Frame())

    def test_escape_puts_the_tool_away(self):
        w = self.window
        self.click(self.page.corners)
        w.easel.setFocus()
        self.click_picture(60, 60)
        self.assertEqual(len(w.easel.points), 1)
        self.key(Qt.Key.Key_Escape, widget=w.easel)
        self.assertEqual(len(w.easel.points), 0)
        self.key(Qt.Key.Key_Escape, widget=w.easel)
        self.assertFalse(self.page.corners.isChecked())

    def test_notes_keep_their_place_in_the_photo(self):
        w = self.window
        w.go_to("Note")
        self.click_picture(150, 100)
        lab, place = self.studio.document.notes[0].lab, self.studio.document.notes[0].place
        frame = Frame(turn=10.0, crop=(0.5, 0.5, 0.7, 0.7), mirror=True)
        self.studio.change("Frame", self.studio.document.model_copy(update={"frame": frame}))
        self.settle()
        note = self.studio.document.notes[0]
        self.assertEqual((note.lab, note.place), (lab, place))
        mark = w.easel._marks[0]
        at = w.easel.to_widget(mark.x, mark.y)
        self.click(w.at("Note").tools["spot"])
        w.easel.marks_move = False
        self.click(w.easel, at)
        again = self.studio.document.notes[-1]
        self.assertAlmostEqual(again.place[0], place[0], delta=1.5)
        self.assertAlmostEqual(again.place[1], place[1], delta=1.5)


class Grips(WindowCase):
    def test_sides_and_corners(self):
        from ochre_stone.desktop.easel.marks import grip_at, mark_size

        cut = QRectF(100, 100, 200, 100)
        for at, grip in (
            (QPointF(100, 100), "lt"),
            (QPointF(300, 150), "r"),
            (QPointF(200, 200), "b"),
            (QPointF(200, 150), "inside"),
            (QPointF(20, 20), ""),
        ):
            self.assertEqual(grip_at(cut, at), grip)
        self.assertEqual(mark_size(cut, "r", 50, 0, None), QRectF(100, 100, 250, 100))
        kept = mark_size(cut, "rb", 100, 10, 2.0)
        self.assertAlmostEqual(kept.width() / kept.height(), 2.0)
        self.assertEqual(kept.topLeft(), cut.topLeft())
        self.assertEqual(QPoint(round(mark_size(cut, "lt", 100, 0, 2.0).right()), 0), QPoint(300, 0))
