"""Look, Note and Mass by mouse and keys; undo everywhere."""

import unittest
from itertools import pairwise
from unittest import mock

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QInputDialog, QPushButton

from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.picture.views import View
from tests.desktop.helpers import PictureCase


class LookStation(PictureCase):
    def test_views_by_key_never_change_what_is_sampled(self):
        w = self.window
        w.go_to("Note")
        self.click_picture(150, 100)
        lab = self.studio.document.notes[0].lab
        for key, part in (
            (Qt.Key.Key_V, "value"),
            (Qt.Key.Key_S, "squint"),
            (Qt.Key.Key_C, "chroma"),
            (Qt.Key.Key_I, "isolate"),
            (Qt.Key.Key_H, "mirror"),
            (Qt.Key.Key_L, "lost"),
        ):
            self.key(key)
            self.settle()
            self.assertTrue(getattr(w.session.sight.view, part))
            self.click_picture(150, 100)
            self.assertEqual(self.studio.document.notes[-1].lab, lab)
        self.key(Qt.Key.Key_A)
        self.settle()
        self.assertEqual(w.session.sight.view, View())
        self.click_picture(150, 100)
        self.assertEqual(self.studio.document.notes[-1].lab, lab)

    def test_squint_melts_what_is_shown(self):
        w = self.window
        sharp = w.easel._image.copy()
        w.session.sight.set(squint=True, strength=1.0)
        self.settle()
        a = np.array([[sharp.pixelColor(x, 60).red() for x in range(100, 210)]], float)
        b = np.array([[w.easel._image.pixelColor(x, 60).red() for x in range(100, 210)]], float)
        self.assertLess(np.abs(np.diff(b)).max(), np.abs(np.diff(a)).max() / 2)

    def test_light_is_set_by_a_click_and_undone(self):
        w = self.window
        w.go_to("Note")
        self.click_picture(280, 200)
        before = self.studio.document.notes[0].lab
        self.key(Qt.Key.Key_G)
        self.assertEqual(w.station.title, "Look")
        self.click_picture(280, 200)
        self.settle()
        lab = self.studio.document.notes[0].lab
        self.assertLess(np.hypot(lab[1], lab[2]), 0.8, "the clicked grey reads neutral, and notes follow the light")
        self.assertIn("280", w.at("Look").light_page.said.text())
        self.studio.undo.undo()
        self.assertEqual(self.studio.document.notes[0].lab, before)
        self.assertFalse(w.at("Look").light_page.reset.isEnabled())

    def test_what_cannot_be_grey_is_refused_in_a_sentence(self):
        w = self.window
        document = self.studio.document
        w.at("Look").arm("grey")
        self.click_picture(40, 100)  # leaves
        self.settle()
        words = self.complaint()
        if words:
            self.assertEqual(self.studio.document, document)
        else:
            self.assertNotEqual(self.studio.document, document)
        w.studio.replace(_black_project(), None)
        self.settle()
        w.at("Look").arm("grey")
        self.click_picture(50, 50)
        self.assertIn("too dark", self.complaint())

    def test_reading_under_the_pointer(self):
        w = self.window
        for x, y, word in ((150, 100, "orange"), (30, 20, "blue")):
            QTest.mouseMove(w.easel, w.easel.to_widget(x, y).toPoint())
            self.app.processEvents()
            w.easel.hovered.emit(x, y)
            self.assertIn(word, w.status.under_pointer.text())
            self.assertTrue(w.status.under_pointer.text().startswith("value"))

    def test_zoom_and_pan(self):
        easel = self.window.easel
        whole = easel._box().width()
        self.key(Qt.Key.Key_Plus)
        self.assertGreater(easel._box().width(), whole)
        at = easel.to_widget(100, 100)
        easel.zoom_by(2.0, at)
        moved = easel.to_widget(100, 100) - at
        self.assertLess(abs(moved.x()) + abs(moved.y()), 1.5, "the spot under the pointer stays")
        centre = QPointF(easel._centre)
        self.drag(easel, QPointF(200, 200), QPointF(260, 200))
        self.assertLess(easel._centre.x(), centre.x())
        self.assertEqual(len(self.studio.document.notes), 0, "a drag takes no note")
        self.key(Qt.Key.Key_F)
        self.assertAlmostEqual(easel._box().width(), whole)


def _black_project():
    from ochre_stone.core.document.document import Document
    from ochre_stone.core.store.files import Project
    from tests.support.made import picture

    return Project(Document(reference="black.png"), picture(np.zeros((100, 100, 3), np.uint8), "black.png"))


class NoteStationTest(PictureCase):
    def setUp(self) -> None:
        super().setUp()
        self.window.go_to("Note")
        self.click_picture(150, 100)
        self.settle()
        self.note = self.studio.document.notes[0]

    def test_reading_says_value_first(self):
        w = self.window.at("Note")
        self.assertEqual(self.studio.selected, self.note.id)
        self.assertEqual(w.read_page.value.text(), f"{float(value_of_lightness(self.note.lab[0])):.1f}")
        self.assertIn("orange", w.read_page.reading.text())
        self.assertIn("Munsell", w.read_page.details.text())

    def test_move_by_dragging_its_mark(self):
        easel = self.window.easel
        self.drag(easel, easel.to_widget(self.note.x, self.note.y), easel.to_widget(30, 20))
        moved = self.studio.document.notes[0]
        self.assertEqual(len(self.studio.document.notes), 1)
        self.assertAlmostEqual(moved.x, 30, delta=2)
        self.assertNotAlmostEqual(moved.lab[2], self.note.lab[2], delta=5)
        self.studio.undo.undo()
        self.assertEqual(self.studio.document.notes[0], self.note)

    def test_rename_delete_undo_redo(self):
        w = self.window
        w.at("Note").read_page.name.setFocus()
        w.at("Note").read_page.name.selectAll()
        QTest.keyClicks(w.at("Note").read_page.name, "As warm cheek")
        self.key(Qt.Key.Key_Return, widget=w.at("Note").read_page.name)
        self.assertEqual(self.studio.document.notes[0].name, "As warm cheek", "letters with a shortcut can be typed")
        with mock.patch.object(QInputDialog, "getText", return_value=("cheek", True)):
            w.scale.setFocus()
            self.key(Qt.Key.Key_F2)
        self.assertEqual(self.studio.document.notes[0].name, "cheek")
        self.key(Qt.Key.Key_Delete)
        self.assertEqual(self.studio.document.notes, ())
        self.assertIsNone(self.studio.selected)
        self.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.studio.document.notes[0].name, "cheek")
        self.key(Qt.Key.Key_Y, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.studio.document.notes, ())

    def test_subject_and_role(self):
        w = self.window.at("Note")
        w.read_page.role.setCurrentText("cast shadow")
        w.read_page.role.activated.emit(0)
        self.assertEqual(self.studio.document.notes[0].group, "shadows")
        self.studio.undo.undo()
        self.assertEqual(w.read_page.role.currentText(), self.note.role)

    def test_aperture_by_key(self):
        w = self.window
        size = w.at("Note").aperture.value()
        self.key(Qt.Key.Key_BracketRight)
        self.settle()
        self.assertEqual(w.at("Note").aperture.value(), size + 2)
        self.assertEqual(self.studio.document.notes[0].aperture, size + 2, "the note in hand follows")
        self.assertEqual(w.easel.tool.aperture, size + 2)

    def test_keys_on_the_scale_walk_from_dark_to_light(self):
        for x, y in ((30, 20), (30, 100), (230, 100)):
            self.click_picture(x, y)
        self.settle()
        scale = self.window.scale
        scale.setFocus()
        for _ in range(5):
            self.key(Qt.Key.Key_Down, widget=scale)
        seen = [self.studio.selected]
        for _ in range(3):
            self.key(Qt.Key.Key_Up, widget=scale)
            seen.append(self.studio.selected)
        values = [self.studio.document.note(n).lab[0] for n in seen]
        self.assertEqual(len(set(seen)), 4)
        self.assertEqual(values, sorted(values))

    def test_dabs_stand_in_the_order_of_their_values_and_do_not_hide_each_other(self):
        self.click(self.window.at("Note").proposals.whole)
        self.settle()
        scale = self.window.scale
        places = scale.places()
        values = [float(value_of_lightness(self.studio.document.note(i).lab[0])) for i, _ in places]
        self.assertEqual(values, sorted(values, reverse=True))
        self.assertTrue(scale.named, "names are beside them")
        for (_, a), (_, b) in pairwise(places):
            self.assertLessEqual(a.bottom(), b.top() + 0.01)
        for (_, a), value in zip(places, values, strict=True):
            others = [abs(value - v) for v in values if v != value]
            if min(others) > 1.2:  # nothing near: nothing moves it
                self.assertAlmostEqual(a.center().y(), scale._y(value), delta=0.6)
        note, box = places[-1]
        self.click(scale, box.center())
        self.assertEqual(self.studio.selected, note)

    def test_suggesting_twice_adds_nothing(self):
        self.click(self.window.at("Note").proposals.whole)
        self.settle()
        count = len(self.studio.document.notes)
        self.click(self.window.at("Note").proposals.whole)
        self.settle()
        self.assertEqual(len(self.studio.document.notes), count)
        self.studio.undo.undo()
        self.assertEqual(len(self.studio.document.notes), 1, "the painter's own note stays, suggestions go as one step")


class MassStation(PictureCase):
    def setUp(self) -> None:
        super().setUp()
        self.window.go_to("Mass")
        self.settle()

    def test_counts_and_undo(self):
        for n in range(2, 10):
            self.click(self.window.at("Mass").values_page.counts[n])
            self.settle()
            self.assertEqual(len(self.studio.masses.masses), n)
        self.undo_all()
        self.settle()
        self.assertEqual(len(self.studio.masses.masses), 4)

    def test_drag_a_threshold(self):
        scale = self.window.scale
        cuts = list(self.studio.masses.thresholds)
        start = scale.handle(1)
        self.drag(scale, start, QPointF(start.x(), start.y() - 18))
        self.settle()
        now = self.studio.masses.thresholds
        self.assertGreater(now[1], cuts[1])
        self.assertEqual(now[0], cuts[0])
        self.assertEqual(self.studio.document.masses.cuts, now)
        self.click(self.window.at("Mass").values_page.best)
        self.settle()
        self.assertEqual(self.studio.masses.thresholds, tuple(cuts))

    def test_nudge_by_key_and_never_cross(self):
        scale = self.window.scale
        scale.setFocus()
        for _ in range(60):
            self.key(Qt.Key.Key_Up, widget=scale)
        self.settle()
        cuts = self.studio.document.masses.cuts
        self.assertEqual(list(cuts), sorted(cuts))
        self.assertLess(cuts[0], cuts[1])

    def test_dragging_is_one_step_to_undo(self):
        scale = self.window.scale
        self.drag(scale, scale.handle(0), scale.handle(0) + QPointF(0, 15), steps=12)
        self.assertEqual(self.studio.undo.count(), 1)

    def test_family_by_hand_and_the_rule(self):
        w = self.window.at("Mass")
        w.pages.show("Light")
        self.settle()
        self.assertIn("Kept", w.light_page.rule.text())
        rows = w.light_page.list
        self.click(rows.itemAt(rows.count() - 1).widget().findChild(QPushButton))
        self.settle()
        self.assertEqual(self.studio.masses.masses[0].family, "light")
        self.assertIn("will break", w.light_page.warning.text(), "the darkest mass in the light breaks the rule")
        self.assertFalse(w.light_page.rule.isVisible())
        self.studio.undo.undo()
        self.settle()
        self.assertIn("Kept", w.light_page.rule.text())

    def test_masses_or_picture(self):
        self.key(Qt.Key.Key_M)
        self.settle()
        self.assertEqual(self.window.at("Mass").scene_now, "photo")
        self.key(Qt.Key.Key_M)
        self.settle()
        self.assertTrue(self.window.easel._labels)


if __name__ == "__main__":
    unittest.main()
