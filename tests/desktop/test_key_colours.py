"""Key colours that the program proposes, by mouse and keys: of the picture, of a drawn area, of a whole thing."""

from unittest import mock

from PIL import Image
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog, QInputDialog

from ochre_stone.core.colour.spaces import hex_to_lab
from ochre_stone.core.store.files import open_project
from tests.desktop.helpers import PictureCase, WindowCase
from tests.support.made import blocks


class Here(PictureCase):
    def setUp(self) -> None:
        super().setUp()
        self.window.go_to("Note")
        self.settle()
        self.note = self.window.at("Note")
        self.told: list[str] = []
        self.studio.told.connect(self.told.append)
        self.addCleanup(self.studio.told.disconnect, self.told.append)

    def outline(self, left: float, top: float, right: float, bottom: float) -> None:
        """By keys and clicks: Shift+O, four corners, Enter."""
        self.key(Qt.Key.Key_O, Qt.KeyboardModifier.ShiftModifier)
        for x, y in ((left, top), (right, top), (right, bottom), (left, bottom)):
            self.click_picture(x, y)
        self.key(Qt.Key.Key_Return, widget=self.window.easel)
        self.settle()

    def choose(self, shape: str) -> None:
        box = self.note.proposals.shape
        box.setCurrentIndex(box.findData(shape))

    def test_so_many_lights_middles_and_darks_of_one_thing(self):
        self.choose("1-1-1")
        self.outline(122, 72, 188, 158)
        notes = self.studio.document.notes
        self.assertEqual(len(notes), 3)
        for n in notes:
            self.assertTrue(122 <= n.x <= 188 and 72 <= n.y <= 158, n.place)
        self.assertEqual(self.studio.undo.count(), 1)
        self.assertTrue(self.note.tools["here"].isChecked(), "the tool stays in hand")
        self.assertEqual(self.studio.selected, notes[-1].id)
        self.studio.undo.undo()
        self.assertEqual(self.studio.document.notes, ())

    def test_a_second_area_adds_to_what_is_there(self):
        self.choose("1-1-1")
        self.outline(122, 72, 188, 158)
        before = self.studio.document.notes
        self.choose("count")
        self.note.proposals.count.setValue(4)
        self.outline(4, 44, 86, 146)
        self.assertEqual([n.id for n in self.studio.document.notes[:3]], [n.id for n in before])
        self.assertGreater(len(self.studio.document.notes), len(before))

    def test_all_of_a_loose_outline_can_be_had(self):
        proposals = self.note.proposals
        self.choose("2-2-2")
        self.assertFalse(proposals.all_of_it.isVisible())
        self.outline(110, 165, 215, 238)
        if not proposals.all_of_it.isVisible():
            self.fail(f"the outline takes in the wall: {self.told}")
        self.assertTrue(any("main thing" in t for t in self.told), self.told)
        self.assertTrue(all(n.x <= 202 for n in self.studio.document.notes))
        self.studio.adjust("masses", "Six values", values=6)
        steps = self.studio.undo.count()
        self.click(proposals.all_of_it)
        self.settle()
        self.assertEqual(self.studio.document.masses.values, 6, "what was done meanwhile stays")
        self.assertLessEqual(len(self.studio.document.notes), 6, "the answer before it goes")
        self.assertTrue(any(n.x > 200 for n in self.studio.document.notes), "the wall too")
        self.assertFalse(proposals.all_of_it.isVisible())
        self.assertEqual(self.studio.undo.count(), steps + 1)

    def test_what_was_trimmed_is_forgotten_when_the_painter_goes_on(self):
        self.choose("2-2-2")
        self.outline(110, 165, 215, 238)
        self.assertTrue(self.note.proposals.all_of_it.isVisible())
        self.click(self.note.tools["spot"])
        self.click_picture(40, 20)
        self.assertFalse(self.note.proposals.all_of_it.isVisible())

    def test_too_small_an_area_is_refused_in_one_sentence(self):
        failed: list[str] = []
        self.studio.failed.connect(failed.append)
        self.addCleanup(self.studio.failed.disconnect, failed.append)
        self.outline(20, 20, 22, 22)
        self.assertEqual(len(failed), 1)
        self.assertIn("too small", failed[0])
        self.assertEqual(self.studio.document.notes, ())
        self.assertTrue(self.note.proposals.here.isEnabled())


class Names(PictureCase):
    def setUp(self) -> None:
        super().setUp()
        self.window.go_to("Note")
        self.settle()
        self.note = self.window.at("Note")

    def test_what_a_note_is_goes_for_its_whole_thing(self):
        for x, y in ((140, 90), (150, 100), (40, 20)):
            self.click_picture(x, y)
        first, _, sky = self.studio.document.notes
        self.studio.select(first.id)
        page = self.note.read_page
        page.subject.setCurrentText("skin")
        page.subject.activated.emit(page.subject.currentIndex())
        self.click(page.whole_thing)
        self.settle()
        subjects = [n.subject for n in self.studio.document.notes]
        self.assertEqual(subjects[:2], ["skin", "skin"])
        self.assertEqual(subjects[2], sky.subject)
        self.studio.undo.undo()
        self.assertEqual([n.whole_thing for n in self.studio.document.notes], [False] * 3)
        self.key(Qt.Key.Key_I, Qt.KeyboardModifier.ControlModifier)
        self.settle()
        self.assertTrue(self.studio.document.notes[0].whole_thing)

    def test_the_next_without_a_name(self):
        for x, y in ((140, 90), (40, 20), (250, 90)):
            self.click_picture(x, y)
        ids = [n.id for n in self.studio.document.notes]
        for want in (ids[0], ids[1], ids[2], ids[0]):
            self.key(Qt.Key.Key_U, Qt.KeyboardModifier.ControlModifier)
            self.assertEqual(self.studio.selected, want)
        for i in ids:
            self.studio.change(
                "n", self.studio.document.with_note(self.studio.document.note(i).model_copy(update={"subject": "wall"}))
            )
        told: list[str] = []
        self.studio.told.connect(told.append)
        self.key(Qt.Key.Key_U, Qt.KeyboardModifier.ControlModifier)
        self.studio.told.disconnect(told.append)
        self.assertEqual(told, ["Every note has its subject."])


class Given(WindowCase):
    """Colours without a photo: typed, from another picture, from a chart; each gets its pile."""

    def setUp(self) -> None:
        super().setUp()
        self.studio = self.window.studio

    def type(self, words: str, fine: bool = True) -> None:
        with mock.patch.object(QInputDialog, "getText", return_value=(words, fine)):
            self.key(Qt.Key.Key_N, Qt.KeyboardModifier.ShiftModifier)
        self.settle()

    def test_typed_colours_get_their_piles_without_any_photo(self):
        self.assertIsNone(self.studio.picture)
        for words in ("lab 62 14 22", "#7a5c40", "munsell 5Y 8/4"):
            self.type(words)
        self.type("lab 1 2 3", fine=False)
        notes = self.studio.document.notes
        self.assertEqual([n.source for n in notes], ["given"] * 3)
        self.assertEqual([n.place for n in notes], [None] * 3)
        self.assertEqual(notes[0].lab, (62.0, 14.0, 22.0))
        self.assertEqual(self.window.station.title, "Note")
        self.assertIn("Typed: munsell 5Y 8/4; it has no place", self.window.at("Note").read_page.details.text())
        self.window.go_to("Mix")
        self.settle()
        piles = [p for s in self.studio.document.mixed.strings for p in s.piles]
        self.assertEqual({i for p in piles for i in p.target.notes}, {n.id for n in notes})
        path = self.folder / "typed.ochre"
        self.window.files.save_to(path)
        self.settle()
        self.assertEqual(open_project(path).document.notes, notes)
        self.studio.undo.undo()
        self.assertEqual(len(self.studio.document.notes), 2)

    def test_what_is_no_colour_is_refused_in_one_sentence(self):
        failed: list[str] = []
        self.studio.failed.connect(failed.append)
        self.addCleanup(self.studio.failed.disconnect, failed.append)
        for words in ("banana", "lab 162 0 0", "lab 50 400 0"):
            with mock.patch.object(QInputDialog, "getText", return_value=(words, True)):
                self.window.at("Note").ask_colour()
        self.assertEqual(len(failed), 3)
        self.assertEqual(self.studio.document.notes, ())

    def test_from_another_picture(self):
        other = self.folder / "other.png"
        Image.fromarray(blocks((150, 80, 60), (90, 110, 140), side=90)).save(other)
        with mock.patch.object(QFileDialog, "getOpenFileName", return_value=(str(other), "")):
            self.key(Qt.Key.Key_P, Qt.KeyboardModifier.ShiftModifier)
        self.settle()
        dialog = self.window.at("Note").other
        self.assertTrue(dialog.isVisible())
        easel = dialog.easel
        self.click(easel, easel.to_widget(45, 60))
        self.click(easel, easel.to_widget(130, 60))
        notes = self.studio.document.notes
        for n, code in zip(notes, ("#96503c", "#5a6e8c"), strict=True):
            self.assertLess(sum((a - b) ** 2 for a, b in zip(n.lab, hex_to_lab(code), strict=True)), 4)
            self.assertEqual(n.given, "from other.png")
        self.assertIn("Noted: ", dialog.says.text())
        self.click(dialog.done_button)
        self.settle()
        self.assertFalse(dialog.isVisible())
        self.assertIsNone(self.studio.picture, "the other picture is not the one that is painted")

    def test_a_cell_of_a_chart(self):
        self.window.go_to("Paint box")
        page = self.window.at("Paint box").charts_page
        self.window.at("Paint box").pages.show("Charts")
        self.settle()
        label = page.chart.cells[3].label
        page.choose(label)
        self.click(page.into_notes)
        (note,) = self.studio.document.notes
        self.assertEqual(note.lab, page.chart.cells[3].lab)
        self.assertTrue(note.given.startswith(f"chart cell {label}: "))
