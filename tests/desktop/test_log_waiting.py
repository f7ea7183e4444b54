"""The log in a real window while it cannot be written, or another window writes to it."""

import threading
import time
from unittest import mock

from ochre_stone.desktop.session import logthread
from ochre_stone.desktop.stations.log import keep
from ochre_stone.desktop.widgets import asking
from ochre_stone.logbook import entry as entries
from ochre_stone.logbook import waiting
from ochre_stone.logbook.book import Book, log_file
from ochre_stone.logbook.logfile import LogShutError
from tests.desktop.test_log import LogCase
from tests.logbook.test_waiting import locked


class CannotBeWritten(LogCase):
    def begin(self, *piles: str) -> None:
        for pile_id in piles:
            self.piles.choose(pile_id)
            self.click(self.mix.pile_page.begin)

    def names(self) -> list[str]:
        with Book(log_file()) as book:
            return [p.name for p in reversed(book.listed())]

    def test_what_is_mixed_waits_is_told_truly_and_arrives_in_order(self) -> None:
        self.begin("skin-1")
        self.settle()
        said: list[str] = []
        self.window.studio.failed.connect(said.append)
        with locked(log_file()):
            self.begin("skin-2", "skin-3", "sky-1")
            self.settle()
            self.assertEqual(len(said), 1, said)
            self.assertRegex(
                said[0], "cannot be written now .another program holds it.. What you mix waits in .*soon as"
            )
            self.assertEqual(self.log.file.waiting, 3)
            self.assertEqual(self.names(), ["face in hat shade"])
        self.wait(lambda: not self.log.file.waiting)
        self.assertEqual(self.window.last_told, "The log can be written again: all that waited is in it.")
        self.assertEqual(self.names(), ["face in hat shade", "cheek turning", "cheek in the sun", "sky overhead"])
        self.assertEqual([*log_file().parent.glob("*.waiting")], [])

    def test_the_next_start_writes_what_the_last_window_could_not(self) -> None:
        self.begin("skin-1")
        self.settle()
        with locked(log_file()):
            self.begin("skin-2")
            self.settle()
            self.window.close()
            self.log.file.join()
        self.assertEqual(self.names(), ["face in hat shade"])
        other = logthread.LogThread(self.window, log_file, lambda: 0)
        found: list[int] = []
        other.ask(Book.count, found.append)
        self.wait(lambda: bool(found))
        self.assertEqual(found, [2])
        other.stop()
        other.join()

    def test_closing_waits_for_nothing_and_loses_nothing(self) -> None:
        go_on = threading.Event()
        real = Book.apply

        def slow(book: Book, *given: object, **more: object) -> None:
            go_on.wait(30)
            real(book, *given, **more)  # type: ignore[arg-type]

        with mock.patch.object(Book, "apply", slow):
            self.begin("skin-1", "skin-2")
            self.window.close()
            self.assertFalse(self.window.isVisible())
            self.assertFalse(go_on.is_set())  # closing came back with everything still to be written
            go_on.set()
            self.log.file.join()
        self.assertEqual(self.names(), ["face in hat shade", "cheek turning"])

    def test_a_log_that_is_moved_away_is_begun_anew(self) -> None:
        self.begin("skin-1")
        self.settle()
        log_file().rename(log_file().with_name("away.sqlite"))
        self.begin("skin-2")
        self.settle()
        self.assertEqual(self.names(), ["cheek turning"])

    def test_a_clock_before_1970_is_no_reason_to_lose_a_pile(self) -> None:
        with mock.patch.object(time, "time", lambda: -86_400.0):
            self.begin("skin-1")
            self.click(self.mix.pile_page.begin)  # done
            self.settle()
        (one,) = self.entries()
        self.assertEqual((one.begun, one.finished), (0.0, 0.0))


class AnotherWindow(LogCase):
    def setUp(self) -> None:
        super().setUp()
        self.read("skin-1")
        self.read("skin-2")

    def mixed(self, name: str) -> entries.Entry:
        return next(e for e in self.entries() if e.name == name)

    def test_what_it_removed_does_not_come_back_by_an_edit(self) -> None:
        one = self.mixed("face in hat shade")
        with Book(log_file()) as other:
            other.remove([one.uid])
        self.log.change(one, "A line about a pile", line="mine")
        self.settle()
        self.assertEqual([e.name for e in self.entries()], ["cheek turning"])
        self.assertIn("“face in hat shade” was deleted from the log in another window", self.window.last_told)

    def test_after_it_deleted_all_undo_says_so(self) -> None:
        one = self.mixed("face in hat shade")
        self.log.edit("Take a pile out of the log", [one], [])
        self.settle()
        with Book(log_file()) as other:
            other.clear()
        self.log.undo.undo()
        self.settle()
        self.assertEqual(self.entries(), [])
        self.assertIn("deleted from the log in another window", self.window.last_told)

    def test_undoing_a_deletion_brings_all_back_at_once(self) -> None:
        page = self.station.keep_page
        self.window.go_to("Log", "Keep")
        self.settle()
        with mock.patch.object(keep, "ask", return_value="Delete"):
            self.click(page.day)
        self.settle()
        self.assertEqual(self.entries(), [])
        real = Book.apply
        acts: list[int] = []

        def counted(
            book: Book, tubes: object = (), removed: object = (), put: object = (), answers: object = ()
        ) -> None:
            acts.append(len(put))  # type: ignore[arg-type]
            real(book, tubes, removed, put, answers)  # type: ignore[arg-type]

        with mock.patch.object(Book, "apply", counted):
            self.log.undo.undo()
            self.settle()
        self.assertEqual(acts, [2])
        self.assertEqual(len(self.entries()), 2)


class NoRoomAnywhere(LogCase):
    def test_closing_asks_before_anything_is_lost(self) -> None:
        full = OSError(28, "No space left on device")
        self.piles.choose("skin-1")
        self.settle()
        with mock.patch.object(Book, "apply", side_effect=LogShutError("The log is shut")):
            with mock.patch.object(waiting, "write_bytes", side_effect=full):
                self.click(self.mix.pile_page.begin)
                self.settle()
            self.assertEqual(self.log.file.unsafe, 1)
            self.assertIn("only as long as this window is open", self.window.last_told)
            with mock.patch.object(asking, "ask", return_value="Stay") as asked:
                self.assertFalse(self.window.close())
            self.assertIn("no room to keep it", asked.call_args[0][1])
        self.wait(lambda: not self.log.file.waiting)
        self.assertEqual(len(self.entries()), 1)
