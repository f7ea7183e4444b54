"""The whole walk in a real window: from a photo to a printed sheet, saved and opened again."""

import unittest
from unittest import mock

import numpy as np
import tifffile
from PIL import Image
from pypdf import PdfReader
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog

from ochre_stone.core.store.files import open_project
from ochre_stone.desktop.window import files
from tests.desktop.helpers import WindowCase
from tests.support.made import orchard


class Walk(WindowCase):
    def test_from_a_photo_to_the_sheet(self):
        w = self.window
        # Look
        self.open()
        self.assertEqual(w.studio.picture.width, 320)
        self.click(w.at("Look").see_page.views["value"])
        self.settle()
        shown = w.easel._image.pixelColor(60, 60)
        self.assertEqual((shown.red(), shown.green()), (shown.blue(), shown.blue()))
        self.key(Qt.Key.Key_A)
        self.turn(w.at("Look").pages, "Light")
        self.click(w.at("Look").light_page.picks["white"])
        self.click_picture(230, 100)
        self.settle()
        self.assertTrue(w.studio.document.balance_from.startswith("a white"))
        # Note
        self.key(Qt.Key.Key_2, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(w.station.title, "Note")
        self.click_picture(150, 100)
        self.assertEqual(len(w.studio.document.notes), 1)
        w.at("Note").read_page.subject.setCurrentText("skin")
        w.at("Note").read_page.subject.activated.emit(1)
        self.assertEqual(w.studio.document.notes[0].subject, "skin")
        self.click(w.at("Note").proposals.whole)
        self.settle()
        self.assertGreater(len(w.studio.document.notes), 6)
        # Mass
        w.strip.chosen.emit(2)
        self.settle()
        self.click(w.at("Mass").values_page.counts[5])
        self.settle()
        self.assertEqual(len(w.studio.masses.masses), 5)
        # Harmonise
        w.strip.chosen.emit(3)
        self.settle()
        item = w.at("Harmonise").scheme_page.list.item(0)
        w.at("Harmonise").scheme_page.list.itemClicked.emit(item)
        w.at("Harmonise").scheme_page.amount.setValue(60)
        self.assertAlmostEqual(w.studio.document.harmony.amount, 0.6)
        # Mix
        w.strip.chosen.emit(4)
        w.at("Mix").palette_box.setCurrentIndex(w.at("Mix").palette_box.findData("four-tube-earth"))
        w.at("Mix").palette_box.activated.emit(0)
        self.settle()
        self.assertTrue(w.studio.strings.ready())
        strings = w.studio.document.mixed.strings
        self.assertTrue(strings)
        pile = [p.id for s in strings for p in s.piles][1]
        self.click(w.at("Mix").strings, w.at("Mix").strings.box_of(pile).center())
        self.assertEqual(w.session.piles.in_hand, pile)
        self.assertIn("Value", w.at("Mix").pile_page.result.text())
        # Block in
        w.strip.chosen.emit(5)
        self.settle()
        laid = w.at("Block in").piles_page.found
        self.assertAlmostEqual(sum(laid.shares.values()), 1.0, msg="the picture in the plan's piles")
        self.turn(w.at("Block in").pages, "Sheet")
        self.settle()
        self.assertTrue(w.at("Block in").sheet_page.save.isEnabled())
        self.assertGreaterEqual(w.at("Block in").sheet_page.view.pages, 1)
        target = self.folder / "my sheet.pdf"
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(target), "")):
            self.click(w.at("Block in").sheet_page.save)
        text = "".join(p.extract_text() for p in PdfReader(target).pages)
        self.assertIn("Cautions", text)
        self.assertIn(strings[0].name, text)
        # Save, and open it again in the same window
        project = self.folder / "walk.ochre"
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(project), "")):
            self.key(Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
        self.assertTrue(project.exists())
        self.assertTrue(w.studio.undo.isClean())
        before = w.studio.document
        self.assertEqual(open_project(project).document, before)
        self.open(project)
        self.assertEqual(w.studio.document.notes, before.notes)
        self.assertTrue(w.studio.strings.ready())
        self.assertIn("walk", w.windowTitle())
        self.assertEqual(self.complaint(), "")

    def test_demo_opens_as_a_copy(self):
        w = self.window
        w.files.open_demo()
        self.settle()
        self.assertIsNone(w.studio.path)
        self.assertTrue(w.studio.strings.ready())
        self.assertGreater(len(w.studio.document.notes), 15)
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=("", "")) as asked:
            self.assertFalse(w.files.save())
        asked.assert_called_once()
        for title in ("Look", "Note", "Mass", "Harmonise", "Mix", "Block in"):
            w.go_to(title)
            self.settle()
            self.assertEqual(self.complaint(), "", title)
            self.assertFalse(w.grab().isNull())


class BadFiles(WindowCase):
    def test_each_gets_one_sentence_and_nothing_is_lost(self):
        self.open()
        w = self.window
        w.go_to("Note")
        self.click_picture(150, 100)
        self.settle()
        before = (w.studio.document, w.studio.picture)
        whole = self.photo.read_bytes()
        cases = {
            "cut.png": whole[: len(whole) // 2],
            "text.png": b"words",
            "empty.jpg": b"",
            "damaged.ochre": b"PK\x03\x04 nonsense",
            "text.ochre": b"{}",
        }
        for name, data in cases.items():
            path = self.folder / name
            path.write_bytes(data)
            self.open(path)
            words = self.complaint()
            self.assertIn(name, words)
            self.assertTrue(words.endswith("."), words)
            self.assertNotIn("Traceback", words)
            self.assertEqual((w.studio.document, w.studio.picture), before)
            self.assertFalse(w.studio.undo.isClean())
        self.open(self.folder / "nowhere.png")
        self.assertIn("nowhere.png", self.complaint())
        Image.fromarray(np.zeros((1, 1, 3), np.uint8)).save(self.folder / "dot.png")
        self.open(self.folder / "dot.png")
        self.assertIn("1 x 1", self.complaint())
        self.assertEqual((w.studio.document, w.studio.picture), before)

    def test_unusual_but_sound_files_open_with_a_word(self):
        w = self.window
        Image.fromarray(orchard()).convert("CMYK").save(self.folder / "print.tif")
        tifffile.imwrite(self.folder / "deep.tif", orchard().astype(np.uint16) * 257, photometric="rgb")
        Image.fromarray(np.full((60, 20_000, 3), 120, np.uint8)).save(self.folder / "wide.png")
        for name, width, word in (
            ("print.tif", 320, "CMYK"),
            ("deep.tif", 320, "16 bits"),
            ("wide.png", 20_000, "sRGB"),
        ):
            self.open(self.folder / name)
            self.assertEqual(self.complaint(), "")
            self.assertEqual(w.studio.picture.width, width)
            self.assertIn(word, w.last_told)
            self.assertFalse(w.grab().isNull())


class UnsavedWork(WindowCase):
    def setUp(self) -> None:
        super().setUp()
        self.open()
        self.window.go_to("Note")
        self.click_picture(150, 100)

    def answer(self, words: str):
        return mock.patch("ochre_stone.desktop.window.files.ask", return_value=words)

    def test_closing_asks(self):
        w = self.window
        with self.answer(files.CANCEL):
            self.assertFalse(w.close())
        self.assertTrue(w.isVisible())
        with self.answer(files.SAVE), mock.patch.object(QFileDialog, "getSaveFileName", return_value=("", "")):
            self.assertFalse(w.close(), "not saved after all: stay")
        target = self.folder / "kept"
        with self.answer(files.SAVE), mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(target), "")):
            self.assertTrue(w.close())
        self.assertEqual(len(open_project(self.folder / "kept.ochre").document.notes), 1)

    def test_opening_something_else_asks(self):
        w = self.window
        with self.answer(files.CANCEL):
            w.files.open(self.photo)
            w.files.ask_demo()
        self.assertEqual(len(w.studio.document.notes), 1)
        with self.answer(files.DISCARD):
            w.files.ask_demo()
        self.settle()
        self.assertGreater(len(w.studio.document.notes), 10)

    def test_nothing_is_asked_when_all_is_saved(self):
        w = self.window
        self.assertTrue(w.files.save_to(self.folder / "x.ochre"))
        with mock.patch("ochre_stone.desktop.window.files.ask", side_effect=AssertionError):
            self.assertTrue(w.files.may_go_on())

    def test_a_full_disk_is_said_and_the_work_stays(self):
        w = self.window
        with mock.patch("os.replace", side_effect=OSError(28, "No space left on device")):
            self.assertFalse(w.files.save_to(self.folder / "x.ochre"))
        self.assertIn("No space left", self.complaint())
        self.assertFalse(w.studio.undo.isClean())

    def test_recent_files(self):
        w = self.window
        w.files.save_to(self.folder / "x.ochre")
        self.assertEqual(w.settings.recent[0], str((self.folder / "x.ochre").resolve()))
        from ochre_stone.desktop.session import settings as memory

        self.assertEqual(memory.load_settings().recent, w.settings.recent)


if __name__ == "__main__":
    unittest.main()
