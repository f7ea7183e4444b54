"""Key colours that the program proposes, by mouse and keys: of the picture, of a drawn area, of a whole thing."""

from PyQt6.QtCore import Qt

from tests.desktop.helpers import PictureCase


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
        steps = self.studio.undo.count()
        self.click(proposals.all_of_it)
        self.settle()
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
            self.studio.change("n", self.studio.document.with_note(
                self.studio.document.note(i).model_copy(update={"subject": "wall"})))  # fmt: skip
        told: list[str] = []
        self.studio.told.connect(told.append)
        self.key(Qt.Key.Key_U, Qt.KeyboardModifier.ControlModifier)
        self.studio.told.disconnect(told.append)
        self.assertEqual(told, ["Every note has its subject."])
