"""Files, windows and faults: what is shown, saved, read or left over belongs to what it was asked about."""

import gc
import os
import stat
import unittest
import weakref
from pathlib import Path
from unittest import mock

import numpy as np
from PyQt6.QtCore import QMimeData, QObject, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent
from PyQt6.QtWidgets import QLabel

from ochre_stone.core.document.document import Document
from ochre_stone.core.masses.plan import MassSettings, plan, prepare
from ochre_stone.core.paint.box import OwnTube, PigmentPart
from ochre_stone.core.picture.remembered import Remembered
from ochre_stone.core.planning import blocking
from ochre_stone.core.store import atomic, boxfile, safecopy
from ochre_stone.core.store.files import open_project, save
from ochre_stone.core.store.safecopy import ownerless
from ochre_stone.desktop.session import keeping, studio
from ochre_stone.desktop.session import settings as memory
from ochre_stone.desktop.session.jobs import Jobs
from ochre_stone.desktop.widgets.parts import Words, plain
from ochre_stone.desktop.window import files
from ochre_stone.desktop.window.unsaved import DELETE, KEEP, Unsaved
from tests.desktop.helpers import PictureCase, WindowCase
from tests.support import shared
from tests.support.made import blocks, encoded, picture


class UnsavedCase(WindowCase):
    def setUp(self) -> None:
        super().setUp()
        patch = mock.patch.object(safecopy, "root", return_value=self.folder / "unsaved")
        patch.start()
        self.addCleanup(patch.stop)
        self.addCleanup(self.window.session.keeping.close)
        self.open()
        self.window.go_to("Note")
        self.click_picture(150, 100)
        self.settle()

    def keep(self) -> None:
        self.settle()
        self.window.session.keeping.keep()
        self.settle()

    def killed(self) -> None:
        """As if the window's process had ended: its lock is gone, all else is where it was."""
        self.settle()
        self.window.session.keeping.copy.let_go()
        self.window.studio.replace(studio.Project(Document(), None), None)
        self.settle()

    def answer(self, words: str):
        return mock.patch("ochre_stone.desktop.window.files.ask", return_value=words)

    def dialog(self) -> Unsaved | None:
        return next((d for d in self.window.findChildren(Unsaved) if d.isVisible()), None)


class Keeping(UnsavedCase):
    def test_a_single_change_after_saving_is_kept(self):
        keeping = self.window.session.keeping
        keeping.forget()
        self.window.studio.undo.setClean()  # as after saving
        self.window.studio.adjust("canvas", "Thickness", thickness=0.7)
        self.assertTrue(keeping._timer.isActive())
        self.keep()
        self.assertTrue((keeping.copy.folder / "work.json").exists())

    def test_every_change_is_kept_soon(self):
        timer = self.window.session.keeping._timer
        self.assertTrue(timer.isActive())
        self.assertLessEqual(timer.interval(), 10_000, "with the writing at most 15 s")
        self.keep()
        self.assertFalse(timer.isActive())
        self.click_picture(30, 20)
        self.settle()
        self.assertTrue(timer.isActive())
        self.keep()
        self.killed()
        self.assertEqual(len(safecopy.bring_back(ownerless()[0]).project.document.notes), 2)

    def test_what_was_saved_or_discarded_is_offered_no_more(self):
        w = self.window
        self.keep()
        self.assertTrue(w.files.save_to(self.folder / "x.ochre"))
        self.killed()
        self.assertEqual(ownerless(), [], "saved")
        self.open()
        w.go_to("Note")
        self.click_picture(150, 100)
        self.settle()
        self.keep()
        with self.answer(files.DISCARD):
            w.files.open(self.photo)
        self.settle()
        self.killed()
        self.assertEqual(ownerless(), [], "discarded")

    def test_a_discard_that_opens_nothing_keeps_the_work(self):
        self.keep()
        with self.answer(files.DISCARD):
            self.window.files.open(self.folder / "nothing.png")
        self.settle()
        self.assertEqual(len(self.window.studio.document.notes), 1)
        kept = self.window.session.keeping.copy.folder
        self.assertIsNotNone(kept, "nothing was kept")
        there = [p.name for p in kept.iterdir()]
        self.killed()
        self.assertEqual(len(ownerless()), 1, f"{self.window.last_told} {there} {[p.name for p in kept.iterdir()]}")

    def test_a_whole_session_undone_and_killed_can_be_redone(self):
        w = self.window
        self.click_picture(30, 20)
        self.settle()
        two = w.studio.document
        w.studio.undo.undo()
        w.studio.undo.undo()
        self.assertTrue(w.studio.undo.isClean())
        self.keep()
        self.killed()
        w.files.bring(ownerless()[0])
        self.settle()
        self.assertEqual(w.studio.document.notes, ())
        w.studio.undo.redo()
        self.settle()
        self.assertEqual([n.lab for n in w.studio.document.notes], [n.lab for n in two.notes])

    def test_a_read_only_folder_is_no_hindrance(self):
        w = self.window
        place = self.folder / "locked"
        place.mkdir()
        self.assertTrue(w.files.save_to(place / "x.ochre"))
        place.chmod(0o555)
        self.addCleanup(place.chmod, 0o755)
        self.click_picture(30, 20)
        self.settle()
        self.keep()
        self.killed()
        (left,) = ownerless()
        self.assertEqual(left.path, place / "x.ochre")

    def test_no_room_is_told_once(self):
        told = []
        self.window.studio.told.connect(told.append)
        with mock.patch.object(atomic.os, "replace", side_effect=OSError(28, "No space left on device")):
            self.keep()
            self.click_picture(30, 20)
            self.settle()
            self.keep()
        self.assertEqual(len([t for t in told if "No space left" in t]), 1)


class BringingBack(UnsavedCase):
    def test_the_file_asked_for_opens_and_left_work_is_offered_beside_it(self):
        w = self.window
        self.keep()
        notes = w.studio.document.notes
        self.killed()
        other = self.folder / "other.png"
        other.write_bytes(encoded(blocks((10, 200, 90), (200, 10, 90))))
        w.files.begin(str(other), False)
        self.settle()
        self.assertEqual(w.studio.picture.name, "other.png")
        dialog = self.dialog()
        self.assertEqual(dialog.list.count(), 1)
        self.assertIn("never saved", dialog.list.item(0).text())
        self.assertFalse(dialog.list.item(0).icon().isNull(), "with a small picture")
        with mock.patch.object(files.QProcess, "startDetached", return_value=(True, 1)) as started:
            dialog.bring_back.click()
        (left,) = ownerless()
        self.assertEqual(started.call_args.args[1][-2:], ["--bring-back", left.folder.name], "in a window of its own")
        self.killed()
        w.files.begin(None, False, left.folder.name)
        self.settle()
        self.assertEqual(w.studio.document.notes, notes)
        self.assertIsNone(w.studio.path)
        self.assertFalse(w.studio.undo.isClean())
        self.assertEqual(ownerless(), [], "it has an owner again")

    def test_later_leaves_it_and_delete_asks(self):
        w = self.window
        self.keep()
        self.killed()
        w.files.begin(None, False)
        self.dialog().close()
        self.assertEqual(len(ownerless()), 1)
        w.files.show_unsaved()
        dialog = self.dialog()
        for answer, count in ((KEEP, 1), (DELETE, 0)):
            with mock.patch("ochre_stone.desktop.window.unsaved.ask", return_value=answer):
                dialog.give_up.click()
            self.assertEqual(len(ownerless()), count)
        w.files.show_unsaved()
        self.assertIn("no unsaved work", w.last_told)

    def test_a_projects_own_unsaved_work_is_offered_with_it(self):
        w = self.window
        project = self.folder / "x.ochre"
        w.files.save_to(project)
        self.click_picture(30, 20)
        self.settle()
        self.keep()
        self.killed()
        with self.answer(files.AS_SAVED):
            w.files.open(project)
        self.settle()
        self.assertEqual(len(w.studio.document.notes), 1)
        self.assertEqual(len(ownerless()), 1, "saying no deletes nothing")
        with self.answer(files.BRING) as asked:
            w.files.open(project)
        self.settle()
        self.assertNotIn("saved again since", asked.call_args.args[1])
        self.assertEqual((len(w.studio.document.notes), w.studio.path), (2, project))
        self.assertFalse(w.studio.undo.isClean())
        self.assertEqual(len(open_project(project).document.notes), 1, "the saved project is as it was")
        self.assertTrue(w.files.save_to(project))
        self.killed()
        self.assertEqual(ownerless(), [])

    def test_two_windows_cannot_bring_back_the_same(self):
        w = self.window
        self.keep()
        self.killed()
        (left,) = ownerless()
        other = safecopy.SafeCopy()
        self.assertTrue(other.take_over(left))
        w.files.bring(left)
        self.settle()
        self.assertIn("open in another window", self.complaint())
        self.assertEqual(w.studio.document.notes, ())
        w.files.begin(None, False, left.folder.name)
        self.assertIn("open in another window", self.complaint())
        other.let_go()


class Belonging(UnsavedCase):
    def test_saving_while_another_file_opens(self):
        w = self.window
        project, other = self.folder / "x.ochre", self.folder / "other.png"
        other.write_bytes(encoded(blocks((10, 200, 90), (200, 10, 90))))
        w.files.open(other, asked=True)
        with mock.patch("ochre_stone.desktop.session.projectfiles.save", side_effect=self.slowly):
            w.files.save_to(project)
        self.settle()
        self.assertEqual(w.studio.picture.name, "other.png")
        self.assertIsNone(w.studio.path, "the photo is not bound to the project's file")
        self.assertEqual(len(open_project(project).document.notes), 1)

    @staticmethod
    def slowly(path: Path, document: Document, picture_: object) -> None:
        import time

        time.sleep(0.6)
        save(path, document, picture_)

    def test_saving_does_not_wait_for_long_work(self):
        import threading

        w, go = self.window, threading.Event()
        for kind in ("mix", "measure", "meet"):
            w.studio.jobs.start(kind, lambda _: go.wait(20), lambda _: None)
        self.assertTrue(w.files.save_to(self.folder / "x.ochre"))
        self.assertTrue(w.studio.jobs.busy("meet"))
        go.set()

    def test_a_timer_that_comes_after_the_end_starts_nothing(self):
        jobs, done = Jobs(), []
        jobs.stop()
        jobs.start("safe-copy", done.append, done.append)
        self.assertEqual((jobs.kinds(), done), ([], []))

    def test_a_view_of_the_old_picture_does_not_paint_over_a_new_scene(self):
        w = self.window
        w.showing.repaint()
        self.assertTrue(w.studio.jobs.busy("view"))
        w.studio.replace(studio.Project(Document(), None), None)
        self.settle()
        self.assertIsNone(w.easel._image)

    def test_another_windows_saving_is_not_overwritten_unasked(self):
        w = self.window
        project = self.folder / "x.ochre"
        self.assertTrue(w.files.save_to(project))
        self.assertTrue(w.files.save_to(project), "one's own saving is no other's")
        save(project, Document(title="theirs"), None)
        self.click_picture(30, 20)
        self.settle()
        with self.answer(files.CANCEL) as asked:
            self.assertFalse(w.files.save())
        self.assertIn("another window", asked.call_args.args[1])
        self.assertEqual(open_project(project).document.title, "theirs")
        with self.answer(files.OVER):
            self.assertTrue(w.files.save())
        self.assertEqual(len(open_project(project).document.notes), 2)


class TwoWindows(WindowCase):
    def setUp(self) -> None:
        super().setUp()
        self.window.session.watch_files()

    def test_the_box_is_seen_and_merged(self):
        keeper = self.window.session.keeper
        at = lambda name: OwnTube(id=f"own-{name}", name=name, parts=(PigmentPart(pigment="yellow-ochre"),))  # noqa: E731
        start = keeper.box
        boxfile.change_box(boxfile.load_box(), boxfile.load_box().with_tube(at("theirs")))
        self.wait(lambda: keeper.box.own("own-theirs") is not None, 10)
        keeper.change("Add", keeper.box.with_tube(at("mine")))
        self.assertIsNotNone(boxfile.load_box().own("own-theirs"))
        self.assertIsNotNone(boxfile.load_box().own("own-mine"))
        keeper.undo.undo()
        self.assertEqual([t.name for t in boxfile.load_box().tubes], ["theirs"])
        boxfile.save_box(start)
        self.wait(lambda: keeper.box == start, 10)

    def test_settings_are_seen_and_merged(self):
        w = self.window
        memory.store(w.settings)
        self.assertEqual(stat.S_IMODE(memory.file().stat().st_mode), 0o600)
        self.assertEqual(stat.S_IMODE(memory.file().parent.stat().st_mode), 0o700)
        theirs = memory.load_settings()
        theirs.palette_surface = "wood"
        theirs.remember(self.folder / "theirs.png")
        memory.store(theirs)
        self.wait(lambda: w.settings.palette_surface == "wood", 10)
        w.settings.remember(self.folder / "mine.png")
        w.session.preferences.use_setting("warmth", "near-yellow")
        now = memory.load_settings()
        self.assertEqual((now.palette_surface, now.warmth), ("wood", "near-yellow"))
        self.assertEqual([Path(r).name for r in now.recent[:2]], ["mine.png", "theirs.png"])

    def test_a_damaged_or_huge_field_costs_only_itself(self):
        path = memory.file()
        path.parent.mkdir(parents=True, exist_ok=True)
        for text in ('{"width": 100000000, "warmth": "near-yellow"}', '{"width": "wide", "warmth": "near-yellow"}'):
            path.write_text(text, encoding="utf-8")
            now = memory.load_settings()
            self.assertEqual((now.width, now.warmth), (1280, "near-yellow"))
        path.write_text("[" * 5000, encoding="utf-8")
        self.assertEqual(memory.load_settings().width, 1280)
        path.unlink()


class ActingEarly(WindowCase):
    def test_by_hand_before_the_masses_are_there(self):
        self.open()
        self.window.go_to("Mass")
        self.settle()
        station = self.window.at("Mass")
        page = station.values_page
        page.count(6)
        page.by_hand.click()
        self.settle()
        self.assertEqual(len(self.window.studio.document.masses.cuts), 5)

    def test_keys_on_the_scale_before_the_masses_are_there(self):
        self.open()
        self.window.go_to("Mass")
        self.settle()
        page = self.window.at("Mass").values_page
        for count in (7, 2):
            page.count(count)
            self.key(Qt.Key.Key_Up, widget=self.window.scale)
            self.key(Qt.Key.Key_L, widget=self.window.scale)
            self.settle()
            self.assertEqual(self.window.studio.document.masses.values, count)

    def test_laying_in_with_an_empty_top_mass(self):
        grey = picture(blocks((40, 40, 40), (90, 90, 90)))
        ground = prepare(grey.reduced(20_000), 0.0)
        masses = plan(ground, MassSettings(values=3, cuts=(2.5, 9.5)))
        seen = blocking.stages(Document(reference=grey.name), masses)
        self.assertGreaterEqual(len(seen), 2)
        np.testing.assert_array_equal(seen[0].image[0, 0], seen[0].image[-1, -1])

    def test_what_meets_arrives_after_a_note_went(self):
        self.open_small()
        w = self.window
        w.go_to("Harmonise", "Meet")
        self.settle()
        page = w.at("Harmonise").meet_page
        self.assertGreater(page.list.count(), 0)
        w.go_to("Look")
        w.studio.change("Remove", w.studio.document.model_copy(update={"notes": w.studio.document.notes[:2]}))
        page._fill()  # as an answer does that comes late
        self.assertEqual(page.list.count(), 0)
        w.go_to("Harmonise", "Meet")
        self.settle()
        self.assertEqual(len(page._labs()), 2)


class PlainWords(WindowCase):
    RICH = '<img src="http://10.255.255.1/x.png"><b>bold</b>'

    def test_names_are_shown_as_they_are(self):
        self.open()
        w = self.window
        w.go_to("Note")
        self.click_picture(150, 100)
        self.settle()
        note = w.studio.document.notes[0]
        w.studio.change("Rename", w.studio.document.with_note(note.model_copy(update={"name": self.RICH})))
        for title in [s.title for s in w.stations]:
            w.go_to(title)
            self.settle()
        for label in w.findChildren(QLabel):
            if label.textFormat() == Qt.TextFormat.PlainText:
                own = label.text().replace(self.RICH, "")
                self.assertNotRegex(own, "<b>|<br>|&nbsp;", "the program's own marks are shown as marks")
            if "10.255" in label.text():
                self.assertEqual(label.textFormat(), Qt.TextFormat.PlainText)
        self.assertNotIn("<img", plain(self.RICH))
        words = Words(self.RICH)
        self.assertEqual((words.textFormat(), words.text()), (Qt.TextFormat.PlainText, self.RICH))
        w.complain(self.RICH)
        box = w.findChild(QObject, "complaint")
        self.assertEqual(box.textFormat(), Qt.TextFormat.PlainText)
        box.close()

    def test_no_label_takes_markup_by_chance(self):
        """Every label of the program is made by Words, every box by asking."""
        house = Path(keeping.__file__).parents[1]
        for path in house.rglob("*.py"):
            text = path.read_text(encoding="utf-8")
            if path.name != "parts.py":
                self.assertNotIn(" QLabel(", text, path)
            if path.name != "asking.py":
                self.assertNotIn("QMessageBox", text, path)


class Dropped(WindowCase):
    def drop(self, url: QUrl) -> None:
        data = QMimeData()
        data.setUrls([url])
        event = QDropEvent(
            QPointF(50, 50), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
        )
        self.window.dropEvent(event)
        self.settle()

    def test_a_web_address_is_answered(self):
        self.drop(QUrl("https://example.org/picture.jpg"))
        self.assertIn("nothing is fetched", self.complaint())

    def test_a_file_with_an_odd_name_opens(self):
        for name in (os.fsdecode(b"caf\xe9.png"), "n" * 245 + ".png"):
            path = self.folder / name
            path.write_bytes(self.photo.read_bytes())
            self.open(path)
            self.assertEqual(self.complaint(), "")
            self.assertEqual(self.window.studio.picture.width, 320)
            self.assertTrue(self.window.files.save_to(self.folder / "x.ochre"))
            self.assertEqual(open_project(self.folder / "x.ochre").picture.width, 320)


class LetGoOf(PictureCase):
    def test_a_picture_that_is_not_shown_any_more_is_gone_at_once(self):
        self.enterContext(mock.patch.object(Remembered, "forget", shared.forget))
        self.window.studio.replace(studio.Project(Document(), picture(blocks((200, 60, 40), (40, 60, 200)))), None)
        self.window.go_to("Mass")
        self.settle()
        old = weakref.ref(self.window.studio.picture)
        gc.collect()
        gc.disable()  # nothing that waits for the collector
        self.addCleanup(gc.enable)
        self.window.studio.replace(studio.Project(Document(), None), None)
        self.settle()
        self.assertIsNone(old())


if __name__ == "__main__":
    unittest.main()
