"""A log that cannot be written, read or trusted: what is mixed waits, rows that cannot be read are told."""

import contextlib
import errno
import os
import sqlite3
import stat
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path
from unittest import mock

from ochre_stone.core.errors import OchreError
from ochre_stone.logbook import exchange, waiting
from ochre_stone.logbook.book import Book
from ochre_stone.logbook.logfile import LogShutError
from ochre_stone.logbook.waiting import Act, LogDraft, Waiting
from tests.logbook.made import START, THEN, entry
from tests.logbook.test_book import BookCase

TUBES = tuple(THEN.values())
_ENDED = """
import sys
from pathlib import Path
from ochre_stone.logbook.waiting import Act, Waiting
from tests.logbook.made import THEN, entry
held = Waiting(Path(sys.argv[1]))
held.add(Act(tubes=tuple(THEN.values()), put=(entry({"yellow-ochre": 1.0}, n=int(sys.argv[2])),)))
print(held.where, flush=True)
sys.stdin.readline()
"""


@contextlib.contextmanager
def locked(path: Path) -> Iterator[sqlite3.Connection]:
    """The log while somebody else writes to it."""
    other = sqlite3.connect(path, isolation_level=None)
    other.execute("BEGIN IMMEDIATE")
    try:
        yield other
    finally:
        other.execute("ROLLBACK")
        other.close()


def mixed(n: int) -> Act:
    """That one pile was mixed."""
    return Act(tubes=TUBES, put=(entry({"yellow-ochre": 1.0}, START + n, n=n),))


class LogWaits(BookCase):
    def setUp(self) -> None:
        super().setUp()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.other = Path(folder.name) / "elsewhere"
        here = self.path.parent
        self.enterContext(mock.patch.object(waiting, "_folders", lambda log: (here, self.other)))
        self.held = Waiting(self.path)
        self.addCleanup(lambda: self.held.close())

    def names(self) -> list[str]:
        return sorted(p.name for p in self.book.listed())

    def files(self) -> list[Path]:
        return sorted(self.path.parent.glob("*.waiting"))

    def test_acts_wait_in_order_and_all_arrive(self) -> None:
        with locked(self.path):
            for n in range(3):
                self.held.add(mixed(n))
            self.held.add(Act(removed=("made-00000001",)))
            with self.assertRaises(LogShutError):
                self.held.write(self.book)
            self.assertEqual(len(self.held.acts), 4)
            (file,) = self.files()
            self.assertEqual(stat.S_IMODE(file.stat().st_mode), 0o600)
            self.assertEqual(self.held.where, str(self.path.parent))
        self.assertEqual(self.held.write(self.book), 4)
        self.held.keep()
        self.assertEqual(self.names(), ["Skin 0", "Skin 2"])
        self.assertEqual(self.files(), [])

    def test_a_killed_programs_acts_are_taken_over_and_a_living_ones_are_not(self) -> None:
        self.held.close()
        others = [
            subprocess.Popen(
                [sys.executable, "-c", _ENDED, str(self.path), str(n)],
                stdin=subprocess.PIPE,
                stdout=subprocess.PIPE,
                text=True,
            )
            for n in (1, 2)
        ]
        for other in others:
            assert other.stdout is not None
            self.assertEqual(other.stdout.readline().strip(), str(self.path.parent))
        others[0].kill()
        others[0].communicate()
        next_one = Waiting(self.path)
        self.assertEqual([e.name for a in next_one.acts for e in a.put], ["Skin 1"])
        self.assertEqual(len(self.files()), 2)
        self.assertEqual(next_one.write(self.book), 1)
        next_one.keep()
        self.assertEqual(self.names(), ["Skin 1"])
        self.assertEqual(len(self.files()), 1)
        others[1].communicate("end\n")

    def test_where_the_disk_is_full_they_wait_elsewhere_and_else_it_is_said(self) -> None:
        full = OSError(errno.ENOSPC, "No space left on device")
        real = waiting.write_bytes

        def here_full(path: Path, data: bytes, **how: bool) -> None:
            if path.parent == self.path.parent:
                raise full
            real(path, data, **how)

        with mock.patch.object(waiting, "write_bytes", here_full):
            self.held.add(mixed(1))
        self.assertEqual(self.held.where, str(self.other))
        self.assertEqual(stat.S_IMODE(self.other.stat().st_mode), 0o700)
        with mock.patch.object(waiting, "write_bytes", side_effect=full):
            self.held.add(mixed(2))
        self.assertEqual(self.held.where, "")
        self.assertEqual(len(self.held.acts), 2)
        self.held.keep()  # there is room again
        self.assertEqual(self.held.where, str(self.path.parent))
        self.assertEqual(list(self.other.iterdir()), [])

    def test_a_damaged_file_of_acts_stays_where_it_is(self) -> None:
        damaged = self.path.with_name(f"{waiting._stem(self.path)}.abc.waiting")
        damaged.write_bytes(b'{"acts": [{"put": [{"uid": 4')
        self.assertEqual(Waiting(self.path).acts, [])
        self.assertTrue(damaged.exists())

    def test_what_no_log_can_hold_is_told_and_the_rest_goes_on(self) -> None:
        self.held.add(Act(put=(entry({"burnt-umber": 1.0}, n=1),)).model_copy(update={"tubes": ()}))
        self.held.add(mixed(2))
        with Book.in_memory() as empty:
            self.assertEqual(self.held.write(empty), 1)
            self.assertEqual([p.name for p in empty.listed()], ["Skin 2"])
        self.assertIn("burnt-umber", self.held.lost[0])

    def test_a_draft_looks_like_the_log_with_what_waits(self) -> None:
        self.book.put(entry({"yellow-ochre": 1.0}, n=1), entry({"yellow-ochre": 1.0}, n=2))
        draft = LogDraft(self.book, [Act(removed=("made-00000001",)), mixed(3)])
        known = ["made-00000001", "made-00000002", "made-00000003"]
        self.assertEqual([e.name for e in draft.entries(known)], ["Skin 2", "Skin 3"])
        changed = draft.entries(["made-00000003"])[0].model_copy(update={"line": "after"})
        draft.put(changed)
        self.assertEqual(draft.entries(["made-00000003"])[0].line, "after")
        self.assertEqual(draft.of_pile("orchard", "skin-3", 0), ["made-00000003"])
        draft.remove(["made-00000003"])
        self.assertEqual([e.name for e in draft.entries(known)], ["Skin 2"])
        self.assertEqual(draft.act.put, ())
        with self.assertRaisesRegex(OchreError, "begun"):  # a clock before 1970
            draft.put(changed.model_copy(update={"begun": -5.0}))


class CannotBeWritten(BookCase):
    def test_a_log_without_rights_is_opened_for_reading(self) -> None:
        self.book.put(entry({"yellow-ochre": 1.0}, n=1))
        real = os.open

        def no_rights(path: object, flags: int, *rest: int) -> int:
            if str(path) == str(self.path):
                raise PermissionError(errno.EACCES, "Permission denied", str(path))
            return real(path, flags, *rest)  # type: ignore[arg-type]

        with mock.patch.object(os, "open", no_rights), Book(self.path) as book:
            self.assertEqual(book.read_only, "Permission denied")
            self.assertEqual([p.name for p in book.listed()], ["Skin 1"])
            with self.assertRaisesRegex(LogShutError, "cannot be written now .Permission denied"):
                book.put(entry({"yellow-ochre": 1.0}, n=2))
        self.assertEqual(self.book.count(), 1)

    def test_a_log_that_somebody_keeps_to_himself_is_not_called_damaged(self) -> None:
        self.book.close()
        other = sqlite3.connect(self.path, isolation_level=None)
        self.addCleanup(other.close)
        other.execute("PRAGMA locking_mode = EXCLUSIVE")
        other.execute("BEGIN EXCLUSIVE")
        with self.assertRaisesRegex(LogShutError, "left as it is, and tried again"):
            Book(self.path)

    def test_only_its_owner_reads_it(self) -> None:
        self.book.put(entry({"yellow-ochre": 1.0}, n=1))
        for file in self.path.parent.iterdir():
            self.assertEqual(stat.S_IMODE(file.stat().st_mode), 0o600, file.name)
        self.assertEqual(stat.S_IMODE(self.path.parent.stat().st_mode), 0o700)

    def test_a_log_that_was_moved_away_is_seen(self) -> None:
        self.assertTrue(self.book.is_there)
        self.path.rename(self.path.with_name("away.sqlite"))
        self.assertFalse(self.book.is_there)
        with Book(self.path):  # another one of that name
            self.assertFalse(self.book.is_there)


class BadRows(BookCase):
    def setUp(self) -> None:
        super().setUp()
        self.book.put(*(entry({"yellow-ochre": 1.0}, START + n, n=n, lab=(50.0, 5.0, 5.0)) for n in range(5)))

    def spoil(self, words: str) -> None:
        with contextlib.closing(sqlite3.connect(self.path)) as other:
            other.execute(words)
            other.commit()

    def test_a_bad_row_is_skipped_counted_and_told(self) -> None:
        bad = (
            "UPDATE pile SET planned = '[[[' WHERE number = 0 AND name = 'Skin 0'",
            "UPDATE pile SET medium = 'lard' WHERE name = 'Skin 1'",
            "UPDATE pile SET begun = -1 WHERE name = 'Skin 2'",
            "UPDATE seen SET noise = -1 WHERE pile = (SELECT id FROM pile WHERE name = 'Skin 3')",
        )
        for words in bad:
            self.spoil(words)
        uids = [f"made-{n:08d}" for n in range(5)]
        self.assertEqual([e.name for e in self.book.entries(uids)], ["Skin 4"])
        self.assertEqual(len(self.book.skipped), 4)
        self.assertRegex(self.book.skipped_words(), "4 entries of the log cannot be read and are left out .pile made-")
        self.assertEqual(sorted(p.name for p in self.book.listed()), ["Skin 0", "Skin 3", "Skin 4"])

    def test_a_copy_is_kept_before_anything_is_written_again(self) -> None:
        self.book.put(entry({"yellow-ochre": 1.0}, n=6))
        self.assertEqual(list(self.path.parent.glob("*.damaged")), [])
        self.spoil("UPDATE pile SET planned = '[[[' WHERE name = 'Skin 0'")
        self.book.entries(["made-00000000"])
        self.book.put(entry({"yellow-ochre": 1.0}, n=7))
        self.book.put(entry({"yellow-ochre": 1.0}, n=8))
        (copy,) = self.path.parent.glob("*.damaged")
        self.assertEqual(stat.S_IMODE(copy.stat().st_mode), 0o600)
        with contextlib.closing(sqlite3.connect(copy)) as other:
            self.assertEqual(other.execute("SELECT count(*) FROM pile").fetchone(), (6,))

    def test_an_import_is_one_transaction(self) -> None:
        piles = [entry({"yellow-ochre": 1.0}, n=n) for n in range(10, 13)]
        log = exchange.Exchanged(format="ochre-stone-log", tubes=TUBES, piles=tuple(piles))
        real, put = Book._put_one, 0

        def breaks(book: Book, *given: object) -> None:
            nonlocal put
            put += 1
            if put == 3:
                raise sqlite3.OperationalError("database or disk is full")
            real(book, *given)  # type: ignore[arg-type]

        with mock.patch.object(Book, "_put_one", breaks), self.assertRaisesRegex(LogShutError, "full"):
            exchange.take_in(self.book, log)
        self.assertEqual(self.book.count(), 5)
        exchange.take_in(self.book, log)
        self.assertEqual(self.book.count(), 8)
