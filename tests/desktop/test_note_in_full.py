"""Note in full, by keys and clicks: areas, lines, two colours, beside, schools, the scale; and the loop stays free."""

from itertools import pairwise

import numpy as np
from PIL import Image
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest

from ochre_stone.core.colour.schools import School
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.session import settings as memory
from tests.desktop.helpers import PictureCase
from tests.support.made import blocks

CTRL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


class Tools(PictureCase):
    def setUp(self) -> None:
        super().setUp()
        self.window.go_to("Note")
        self.settle()
        self.note = self.window.at("Note")

    def last(self):
        return self.studio.document.notes[-1]

    def test_an_area_by_clicks_and_enter(self):
        w = self.window
        self.key(Qt.Key.Key_O)
        for x, y in ((10, 5), (70, 5), (70, 30), (10, 30)):
            self.click_picture(x, y)
        self.assertEqual(len(w.easel.points), 4)
        self.key(Qt.Key.Key_Return, widget=w.easel)
        self.assertEqual(len(self.last().area), 4)
        self.assertIn("area", self.note.read_page.details.text())

    def test_an_area_in_one_stroke(self):
        easel = self.window.easel
        self.click(self.note.tools["area"])
        centre, reach = easel.to_widget(40, 70), 60
        round_ = [centre + QPointF(reach * np.cos(t), reach * np.sin(t)) for t in np.linspace(0, 6.2, 30)]
        QTest.mousePress(easel, Qt.MouseButton.LeftButton, pos=round_[0].toPoint())
        for p in round_[1:]:
            QTest.mouseMove(easel, p.toPoint())
            self.app.processEvents()
        QTest.mouseRelease(easel, Qt.MouseButton.LeftButton, pos=round_[-1].toPoint())
        self.app.processEvents()
        self.assertGreater(len(self.last().area), 12)
        self.assertAlmostEqual(self.last().x, 40, delta=3)

    def test_taking_back_a_corner(self):
        easel = self.window.easel
        self.key(Qt.Key.Key_O)
        for x, y in ((10, 5), (70, 5), (300, 230)):
            self.click_picture(x, y)
        self.key(Qt.Key.Key_Backspace, widget=easel)
        self.assertEqual(len(easel.points), 2)
        self.assertEqual(self.studio.document.notes, ())

    def test_a_line_gives_two_notes_that_belong_together(self):
        easel = self.window.easel
        self.key(Qt.Key.Key_N)
        self.drag(easel, easel.to_widget(210, 80), easel.to_widget(250, 200))
        self.assertEqual(len(self.studio.document.notes), 2)
        first, second = self.studio.document.notes
        self.assertEqual(first.gradation, second.id)
        self.studio.undo.undo()
        self.assertEqual(self.studio.document.notes, (), "one step")

    def test_a_line_across_an_edge_is_told(self):
        self.key(Qt.Key.Key_N)
        for x, y in ((30, 60), (150, 100)):
            self.click_picture(x, y)
        self.assertIn("edge", self.window.last_told)

    def test_two_colours_are_shown_and_both_can_be_noted(self):
        path = self.folder / "two.png"
        Image.fromarray(blocks((200, 60, 60), (60, 60, 200), side=120)).save(path)
        self.open(path)
        page = self.note.read_page
        self.note.aperture.setValue(61)
        self.click_picture(112, 120)
        self.assertTrue(page.pair.isVisible())
        self.assertIn("Two colours", page.warning.text())
        self.click(page.both)
        labs = sorted(n.lab[2] for n in self.studio.document.notes)
        self.assertEqual(len(labs), 2)
        self.assertLess(labs[0], -20)
        self.assertGreater(labs[1], 10)
        self.assertFalse(page.pair.isVisible())
        self.studio.undo.undo()
        self.click(page.smaller)
        self.assertLess(self.last().lab[2], -20)

    def test_a_mark_moves_by_keys(self):
        self.click_picture(150, 100)
        easel = self.window.easel
        easel.setFocus()
        for _ in range(4):
            self.key(Qt.Key.Key_Left, CTRL, easel)
        self.key(Qt.Key.Key_Up, CTRL | SHIFT, easel)
        self.assertAlmostEqual(self.last().x, 110, delta=1)
        self.assertAlmostEqual(self.last().y, 99, delta=1)

    def test_a_note_with_keys_alone(self):
        easel = self.window.easel
        self.key(Qt.Key.Key_E)
        self.assertTrue(easel.hasFocus())
        self.key(Qt.Key.Key_Right, widget=easel)
        self.key(Qt.Key.Key_Down, SHIFT, easel)
        self.key(Qt.Key.Key_Return, widget=easel)
        self.assertEqual(len(self.studio.document.notes), 1)
        self.assertEqual(self.studio.selected, self.last().id)
        self.key(Qt.Key.Key_D)
        self.assertTrue(self.window.scale.hasFocus())
        self.key(Qt.Key.Key_L, CTRL)
        self.assertTrue(self.last().locked)


class Reading(PictureCase):
    def setUp(self) -> None:
        super().setUp()
        w = self.window
        w.go_to("Note")
        for x, y in ((150, 100), (30, 100), (280, 200)):
            self.click_picture(x, y)
        self.settle()
        self.note = w.at("Note")
        self.ids = [n.id for n in self.studio.document.notes]
        self.addCleanup(numbers.use_school, School())

    def test_the_school_is_used_everywhere(self):
        w = self.window
        self.studio.select(self.ids[0])
        munsell = self.note.read_page.value.text()
        w.session.preferences.use_school(School(9, True))
        self.assertNotEqual(self.note.read_page.value.text(), munsell)
        self.assertIn(munsell, self.note.read_page.details.text())
        self.assertIn("1 white to 9 black", self.note.read_page.details.text())
        numbers_shown = w.scale.accessibleDescription()
        self.assertIn(self.note.read_page.value.text(), numbers_shown)
        self.assertNotIn(munsell, numbers_shown)
        self.assertEqual(memory.load_settings().school, "9-white-first")

    def test_hue_complement_and_both_wheels(self):
        self.studio.select(self.ids[0])
        page = self.note.read_page
        self.assertIn("orange", page.reading.text())
        self.assertIn("Complement: blue", page.details.text())
        self.assertIn("yellow-red", page.details.text())

    def test_beside(self):
        self.studio.select(self.ids[0])
        self.turn(self.note.pages, "Beside")
        page = self.note.beside_page
        self.assertIn("In the picture it will seem", page.seems.text())
        page.other.setCurrentIndex([page.other.itemData(i) for i in range(page.other.count())].index(self.ids[1]))
        page.other.activated.emit(0)
        words = page.words.text()
        for word in ("lighter", "hue steps", "more red", "warmer than", "border"):
            self.assertIn(word, words)
        self.assertIn("touching", page.halves.accessibleName())
        warm = words
        self.window.session.preferences.use_setting("warmth", "near-yellow")
        self.assertEqual(memory.load_settings().warmth, "near-yellow")
        self.assertTrue(page.words.text() and warm)

    def test_beside_with_no_other_and_no_note(self):
        self.turn(self.note.pages, "Beside")
        page = self.note.beside_page
        for i in self.ids[1:]:
            self.window.session.notes.remove(i)
        self.studio.select(self.ids[0])
        self.assertIn("no other note", page.words.text())
        self.studio.select(None)
        self.assertTrue(page.empty.isVisible())

    def test_palette_surface(self):
        self.studio.select(self.ids[0])
        swatch = self.note.read_page.swatch
        colours = set()
        for surface in ("white", "grey", "wood"):
            self.window.session.preferences.use_setting("palette_surface", surface)
            image = swatch.grab().toImage()
            colours.add(image.pixelColor(swatch.width() // 3, swatch.height() - 18).name())
        self.assertEqual(len(colours), 3)


class OrderPage(PictureCase):
    def setUp(self) -> None:
        super().setUp()
        self.window.go_to("Note")
        self.note = self.window.at("Note")
        self.note.proposals.ask_whole()
        self.settle()
        self.turn(self.note.pages, "Order")

    def test_covered_in_words(self):
        self.assertIn("notes cover", self.note.order_page.covered.text())

    def test_order_by_subject(self):
        scale = self.window.scale
        self.note.order_page.order.setCurrentIndex(1)
        self.note.order_page.order.activated.emit(1)
        places = scale.places()
        notes = {n.id: n for n in self.studio.document.notes}
        subjects = [notes[i].subject for i, _ in sorted(places, key=lambda p: p[1].center().y())]
        self.assertEqual(len(list(dict.fromkeys(subjects))), len(set(subjects)))
        runs = sum(a != b for a, b in pairwise(subjects))
        self.assertEqual(runs, len(set(subjects)) - 1, "each subject stands together")
        self.assertEqual(memory.load_settings().note_order, "subject")

    def test_filter(self):
        scale, total = self.window.scale, len(self.studio.document.notes)
        self.note.order_page.filter.setCurrentText("shadow")
        self.note.order_page.filter.activated.emit(0)
        some = len(scale.places())
        self.assertTrue(0 < some < total)
        self.note.order_page.filter.setCurrentText("light")
        self.note.order_page.filter.activated.emit(0)
        self.assertEqual(some + len(scale.places()), total)
        self.assertTrue(any(m.dimmed for m in self.window.easel._marks))
        self.note.order_page.filter.setCurrentText("locked")
        self.note.order_page.filter.activated.emit(0)
        self.assertEqual(len(scale.places()), 0)

    def test_merge_and_undo(self):
        first = self.studio.document.notes[0]
        copy = first.model_copy(update={"id": "n90", "name": "copy", "share": 0.0})
        self.studio.change("Copy", self.studio.document.with_note(copy))
        self.settle()
        self.assertIn("copy", self.note.order_page.alike.text())
        before = len(self.studio.document.notes)
        self.key(Qt.Key.Key_M, CTRL)
        self.assertLess(len(self.studio.document.notes), before)
        self.studio.undo.undo()
        self.assertEqual(len(self.studio.document.notes), before)

    def test_locked_notes_stay(self):
        w = self.window
        note = self.studio.document.notes[3]
        self.studio.select(note.id)
        self.key(Qt.Key.Key_L, CTRL)
        w.scale.setFocus()
        self.key(Qt.Key.Key_Delete)
        self.assertIn("locked", w.last_told)
        self.assertTrue(any(n.id == note.id for n in self.studio.document.notes))
        w.at("Note").mark_moved(note.id, 5, 5)
        self.assertEqual(self.studio.document.note(note.id).place, note.place)
        self.assertIn("locked", w.last_told)
