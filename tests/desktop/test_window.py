"""The window anew: the room that the picture has, trays that do not scroll, the start page, what can be done and why
not, size and place, the wheel, the guide."""

import re
import unittest
from datetime import datetime, timedelta
from unittest import mock

import numpy as np
from PIL import Image
from PyQt6.QtCore import QMimeData, QPoint, QPointF, QProcess, Qt, QUrl
from PyQt6.QtGui import QDropEvent, QImage, QKeySequence, QWheelEvent
from PyQt6.QtWidgets import QAbstractButton, QApplication, QComboBox, QSlider, QSpinBox, QWidget

from ochre_stone.core.document.document import Document
from ochre_stone.core.store.files import Project
from ochre_stone.desktop.session import settings as memory
from ochre_stone.desktop.stations.mix.strings import StringsView
from ochre_stone.desktop.window.guide import FRONT, PAGES
from ochre_stone.desktop.window.stage import share_of
from ochre_stone.desktop.window.start import touched
from ochre_stone.desktop.window.window import Window
from ochre_stone.resources import guide_folder
from tests.desktop.helpers import PictureCase, WindowCase
from tests.support.made import blocks


class Room(WindowCase):
    def upright(self) -> None:
        path = self.folder / "upright.png"
        Image.fromarray(blocks((90, 60, 40), (200, 180, 160), side=240)).resize((360, 480)).save(path)
        self.open(path)

    def test_a_lying_picture(self):
        self.open()
        for title in ("Look", "Note", "Mass"):
            self.window.go_to(title)
            self.settle()
            box = self.window.easel._box()
            self.assertGreaterEqual((box.width(), box.height()), (680, 510), title)

    def test_an_upright_picture(self):
        self.upright()
        for title in ("Note", "Mass"):
            self.window.go_to(title)
            self.settle()
            box = self.window.easel._box()
            self.assertGreaterEqual(box.width(), 490)
            self.assertGreaterEqual(box.height(), 650)

    def test_picture_and_wheel_share_the_centre(self):
        w = self.window
        for make in (self.open, self.upright):
            make()
            w.go_to("Harmonise")
            self.settle()
            wheel, easel = w.at("Harmonise").wheel, w.easel
            self.assertGreaterEqual(min(wheel.width(), wheel.height()), 380)
            self.assertFalse(wheel.geometry().translated(w.stage.sides.pos()).intersects(easel.geometry()))
            self.assertGreater(easel._box().width() * easel._box().height(), 90_000)

    def test_another_shape_of_picture_is_shared_anew(self):
        w = self.window
        self.open()
        w.go_to("Harmonise")
        self.settle()
        self.assertGreater(w.stage.sides.y(), w.easel.y(), "a lying picture stands above")
        self.upright()
        self.assertEqual(w.stage.sides.y(), w.easel.y(), "an upright one beside")
        self.assertGreater(w.stage.sides.x(), w.easel.x())

    def test_widths_that_were_drawn_stay_when_text_grows(self):
        w = self.window
        self.addCleanup(w.session.preferences.size_text, "100")
        before, grip = w.stage.sizes(), w.stage.handle(2)
        place = QPointF(grip.rect().center())
        self.drag(grip, place, place - QPointF(60, 0))
        drawn = w.stage.sizes()[2]
        self.assertGreater(drawn, before[2] + 30)
        w.session.preferences.size_text("120")
        self.settle()
        self.assertAlmostEqual(w.stage.sizes()[2], drawn * 1.2, delta=3)

    def test_the_small_picture_stands_at_the_foot_of_the_tray(self):
        w = self.window
        self.open_small()
        for title, page in (("Mix", ""), ("Block in", "Sheet"), ("Paint box", "")):
            w.go_to(title, page)
            self.settle()
            self.assertIs(w.easel.parent(), w.stage.foot, title)
            self.assertTrue(w.easel.isVisible())
            foot = w.easel.mapTo(w, QPoint(0, w.easel.height())).y()
            self.assertLessEqual(foot, w.stage.mapTo(w, QPoint(0, w.stage.height())).y(), "nothing of it is cut")
        w.go_to("Note")
        self.assertIs(w.easel.parent(), w.stage.centre)

    def test_strings_stand_level_with_the_scale_however_wide(self):
        w = self.window
        self.open_small()
        w.go_to("Mix")
        for size in ((1024, 700), (1280, 800), (1600, 1000)):
            w.resize(*size)
            self.settle()
            view, scale = w.at("Mix").strings, w.scale
            self.assertAlmostEqual(view._axis(), scale.height(), delta=1)
        five = 5 * view._least() + 6
        w.resize(1280, 800)
        self.settle()
        self.assertLessEqual(five, w.stage.sides.width(), "five strings are seen whole")

    def test_piles_and_recipes_grow_with_the_window(self):
        self.open_small()
        mixed = self.window.studio.document.mixed
        first = mixed.strings[0].piles[0].id
        high = {}
        for width, height in ((714, 689), (3270, 2050)):
            view = StringsView()
            view.resize(width, height)
            view.show_strings(mixed, first, False)
            high[height] = view.box_of(first).height()
        self.assertGreater(high[2050], 2 * high[689] - 1)

    def test_right_to_left_cuts_nothing(self):
        w, app = self.window, QApplication.instance()
        self.open_small()
        self.addCleanup(app.setLayoutDirection, Qt.LayoutDirection.LeftToRight)
        app.setLayoutDirection(Qt.LayoutDirection.RightToLeft)
        for s in w.stations:
            w.go_to(s.title)
            self.settle()
            scroll = w.stage.trays.currentWidget()
            self.assertLessEqual(s.minimumSizeHint().width(), scroll.viewport().width(), s.title)
            for b in s.findChildren(QAbstractButton):
                if b.isVisible():
                    self.assertTrue(s.rect().contains(b.mapTo(s, b.rect().center())), (s.title, b.text()))
        self.assertEqual(w.scale.layoutDirection(), Qt.LayoutDirection.LeftToRight)

    def test_a_window_larger_than_the_screen_is_not_opened(self):
        held = memory.Settings(width=9000, height=8000)
        other = Window(held)
        self.addCleanup(other.deleteLater)
        room = other.screen().availableSize()
        self.assertLessEqual((other.width(), other.height()), (room.width(), room.height()))

    def test_size_place_and_page_are_remembered(self):
        w = self.window
        self.open_small()
        w.go_to("Mass", "Edges")
        w.stage.share(240, 380)
        w.place.remember(w.station.title, w.station.pages.here)
        held = memory.load_settings()
        self.assertEqual((held.station, held.page), ("Mass", "Edges"))
        self.assertAlmostEqual(held.scale_width, 240, delta=2)
        self.assertAlmostEqual(held.tray_width, 380, delta=2)
        other = Window(held)
        self.addCleanup(other.deleteLater)
        self.assertEqual((other.station.title, other.station.pages.here), ("Mass", "Edges"))

    def test_another_screen_has_another_profile(self):
        w = self.window
        preferences = w.session.preferences
        with mock.patch.object(preferences, "find_display") as asked:
            w._screen_changed(mock.Mock(name="screen", **{"name.return_value": "HDMI-2"}))
        asked.assert_called_once()
        self.assertEqual(preferences.output, "HDMI-2")


class Shared(unittest.TestCase):
    def test_the_wheel_has_its_least_and_the_picture_the_rest(self):
        for aspect in (4 / 3, 3 / 4, 1.0, 2.5):
            for width, height in ((714, 689), (458, 589), (1500, 900)):
                s = share_of(width, height, aspect, 380)
                whole, across = (width, height) if s.beside else (height, width)
                self.assertGreaterEqual(min(s.panel, across), min(380, whole - 200, across))
                self.assertLess(s.panel, whole)
        self.assertFalse(share_of(714, 900, 4 / 3, 380).beside, "a lying picture stands above")
        self.assertTrue(share_of(900, 700, 3 / 4, 380).beside, "an upright one beside")


class Start(WindowCase):
    def test_it_offers_what_one_can_do(self):
        w = self.window
        self.assertTrue(w.start.isVisible())
        for b in (w.start.open, w.start.scene, w.start.demo):
            self.assertTrue(b.isVisible())
        self.click(w.start.scene)
        self.assertEqual((w.station.title, w.station.pages.here), ("Look", "Scene"))
        with mock.patch.object(w.files, "open_demo") as opened:
            self.click(w.start.demo)
        opened.assert_called_once()
        self.open()
        self.assertFalse(w.start.isVisible())

    def test_it_is_there_wherever_the_painter_left_off(self):
        w = self.window
        for title in ("Mix", "Block in", "Harmonise"):
            w.go_to(title)
            self.assertTrue(w.start.isVisible(), title)
            self.assertEqual(w.start.size(), w.stage.centre.size())
        w.go_to("Paint box")
        self.assertFalse(w.start.isVisible(), "tubes can be kept without a picture")

    def test_tools_for_the_picture_wait_for_one(self):
        w = self.window
        note, mass = w.at("Note"), w.at("Mass")
        tools = {
            ("Note", "Read"): [note.tools[name] for name in ("spot", "area", "line")],
            ("Mass", "Values"): [mass.values_page.focus, mass.values_page.by_hand],
            ("Mass", "Light"): [mass.light_page.division, *mass.light_page.paint.values()],
        }
        for there in (False, True):
            if there:
                self.open()
            for (title, page), wanted in tools.items():
                w.go_to(title, page)
                self.settle()
                for c in wanted:
                    said = (title, page, c.accessibleName() or c.text())
                    self.assertEqual((c.isEnabled(), c.toolTip() == "Open a photo first."), (there, not there), said)
        self.assertTrue(note.tools["reader"].isEnabled())

    def test_work_of_late_with_pictures_and_times(self):
        w = self.window
        self.open()
        self.assertTrue(w.files.save_to(self.folder / "kept.ochre"))
        w.studio.undo.setClean()
        gone = self.folder / "gone.png"
        w.settings.remember(gone)
        w.start.refresh()
        self.settle()
        words = [w.start.recent.item(i).text() for i in range(w.start.recent.count())]
        self.assertIn("not there any more", words[0])
        self.assertIn("kept.ochre", words[1])
        self.assertIn("touched today", words[1])
        image = w.start.recent.item(1).icon().pixmap(84, 60).toImage()
        seen = {image.pixelColor(x, 30).rgb() for x in range(20, 64)}
        self.assertGreater(len(seen), 3, "a picture, not a blank")
        opened = []
        w.start.recent_wanted.connect(opened.append)
        with mock.patch.object(w.files, "open"):
            w.start.recent.itemActivated.emit(w.start.recent.item(1))
        w.start.recent_wanted.disconnect(opened.append)
        self.assertEqual([p.name for p in opened], ["kept.ochre"])
        self.settle()

    def test_when_it_was_touched_in_words(self):
        now = datetime(2026, 3, 20, 12, 0)
        for days, words in ((0, "today, 12:00"), (1, "yesterday, 12:00"), (5, "5 days ago"), (40, "8 February 2026")):
            self.assertEqual(touched((now - timedelta(days=days)).timestamp(), now), words)


class Arriving(WindowCase):
    def drop(self, mime: QMimeData) -> None:
        event = QDropEvent(
            QPointF(400, 300), Qt.DropAction.CopyAction, mime, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
        )
        self.window.dropEvent(event)
        self.settle()

    def test_several_files_each_have_a_window(self):
        mime = QMimeData()
        second = self.folder / "second.png"
        second.write_bytes(self.photo.read_bytes())
        mime.setUrls([QUrl.fromLocalFile(str(self.photo)), QUrl.fromLocalFile(str(second))])
        with mock.patch.object(QProcess, "startDetached", return_value=(True, 1)) as started:
            self.drop(mime)
        self.assertEqual(self.window.studio.picture.name, "orchard.png")
        self.assertEqual([str(second)], started.call_args.args[1][-1:])

    def test_a_picture_without_a_file_is_pasted(self):
        w = self.window
        image = QImage(64, 48, QImage.Format.Format_RGB32)
        image.fill(Qt.GlobalColor.darkCyan)
        QApplication.clipboard().setImage(image)
        w.activateWindow()
        w.paste()
        self.settle()
        self.assertEqual((w.studio.picture.width, w.studio.picture.height), (64, 48))
        self.assertIn("Save asks where", w.last_told)
        self.assertNotIn("pasted", " ".join(w.settings.recent))

    def test_nothing_to_paste_is_said(self):
        QApplication.clipboard().setText("words")
        self.window.paste()
        self.assertIn("no picture to paste", self.window.last_told)


class Doing(PictureCase):
    def test_what_cannot_be_done_is_disabled_and_says_why(self):
        w = self.window
        by_need = {need: action for action, need in w.needing}
        self.assertEqual(set(by_need), {"picture", "notes", "note", "piles"})
        self.assertTrue(by_need["picture"].isEnabled())
        for need, words in (("notes", "Take notes"), ("note", "Take a note in hand"), ("piles", "no piles")):
            self.assertFalse(by_need[need].isEnabled())
            self.assertIn(words, by_need[need].toolTip())
        w.go_to("Note")
        self.click_picture(37, 61)  # where no other test takes its only note: its piles are not known yet
        self.assertTrue(by_need["note"].isEnabled() and by_need["notes"].isEnabled())
        self.assertFalse(by_need["piles"].isEnabled())

    def test_what_a_page_cannot_do_says_why_in_its_tip(self):
        w = self.window
        self.studio.replace(Project(Document(), None), None)
        self.settle()
        counted = 0
        for s in w.stations:
            for page in s.pages.names:
                w.go_to(s.title, page)
                self.settle()
                for c in s.findChildren(QWidget):
                    if c.isVisible() and not c.isEnabled() and c.property("tip") is not None:
                        counted += 1
                        self.assertTrue(c.toolTip().endswith("."), (s.title, page, c.toolTip()))
                        self.assertNotEqual(c.toolTip(), c.property("tip"))
        self.assertGreater(counted, 30)

    def test_a_notch_over_what_has_no_focus_changes_nothing(self):
        w = self.window
        w.go_to("Mix", "All")
        self.settle()
        station = w.station
        w.easel.setFocus()
        for kind in (QComboBox, QSpinBox, QSlider):
            for control in [c for c in station.findChildren(kind) if c.isVisible()]:
                before = control.currentIndex() if isinstance(control, QComboBox) else control.value()
                event = QWheelEvent(
                    QPointF(5, 5),
                    QPointF(control.mapToGlobal(QPoint(5, 5))),
                    QPoint(),
                    QPoint(0, -120),
                    Qt.MouseButton.NoButton,
                    Qt.KeyboardModifier.NoModifier,
                    Qt.ScrollPhase.NoScrollPhase,
                    False,
                )
                QApplication.sendEvent(control, event)
                after = control.currentIndex() if isinstance(control, QComboBox) else control.value()
                self.assertEqual(before, after, control.accessibleName())

    def test_the_guide_opens_at_the_station(self):
        w = self.window
        w.go_to("Mass")
        key = next(
            a
            for m in w.menuBar().findChildren(type(w.menuBar().addMenu("x")))
            for a in m.actions()
            if a.shortcut() == QKeySequence("F1")
        )
        key.trigger()
        self.assertEqual(w.guide.here, "mass")
        self.assertIn("Mass", w.guide.pages.toPlainText()[:40])
        w.guide.pages.anchorClicked.emit(QUrl("note.md"))
        self.assertEqual(w.guide.here, "note")
        w.guide.go_back()
        self.assertEqual(w.guide.here, "mass")
        w.guide.close()


class GuidePages(unittest.TestCase):
    def test_each_page_has_a_picture_that_is_there(self):
        folder = guide_folder()
        for name in (*PAGES.values(), "keys", FRONT):
            text = (folder / f"{name}.md").read_text(encoding="utf-8")
            pictures = re.findall(r"!\[[^\]]*\]\(([^)]+)\)", text)
            self.assertTrue(pictures, name)
            for path in pictures:
                with Image.open(folder / path) as image:
                    self.assertGreater(np.prod(image.size), 300_000, path)

    def test_every_link_leads_somewhere(self):
        folder = guide_folder()
        for file in folder.glob("*.md"):
            for link in re.findall(r"(?<!!)\[[^\]]*\]\(([^)#]+)", file.read_text(encoding="utf-8")):
                self.assertTrue((folder / link).exists(), f"{file.name}: {link}")


if __name__ == "__main__":
    unittest.main()
