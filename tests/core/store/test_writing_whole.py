"""Files written whole or not at all: links, modes, long names, what ended programs leave, several writers."""

import fcntl
import os
import stat
import threading
import unittest
from pathlib import Path
from unittest import mock

from ochre_stone.core.errors import OchreError, one_line
from ochre_stone.core.paint.box import OwnPalette, OwnTube, PaintBox, PigmentPart
from ochre_stone.core.store import locking
from ochre_stone.core.store.atomic import write_bytes
from ochre_stone.core.store.boxfile import change_box, load_box, merged_boxes, save_box
from tests.support.made import FolderCase


class Writing(FolderCase):
    def test_a_link_stays_and_its_target_is_written(self):
        real, link = self.folder / "real", self.folder / "link"
        real.write_bytes(b"old")
        link.symlink_to(real)
        write_bytes(link, b"new")
        self.assertTrue(link.is_symlink())
        self.assertEqual(real.read_bytes(), b"new")

    def test_new_files_honour_the_umask_and_old_ones_keep_their_mode(self):
        before = os.umask(0o077)
        self.addCleanup(os.umask, before)
        new, old = self.folder / "new", self.folder / "old"
        old.touch()
        old.chmod(0o640)
        for path, mode in ((new, 0o600), (old, 0o640)):
            write_bytes(path, b"x")
            self.assertEqual(stat.S_IMODE(path.stat().st_mode), mode)

    def test_a_name_of_255_bytes(self):
        path = self.folder / ("n" * 249 + ".ochre")
        write_bytes(path, b"x")
        self.assertEqual(path.read_bytes(), b"x")
        with self.assertRaisesRegex(OchreError, "shorter name"):
            write_bytes(self.folder / ("n" * 256), b"x")

    def test_the_folder_is_synced_after_the_rename(self):
        synced = []
        sync = os.fsync
        with mock.patch("os.fsync", side_effect=lambda h: (synced.append(stat.S_ISDIR(os.fstat(h).st_mode)), sync(h))):
            write_bytes(self.folder / "x", b"x")
        self.assertEqual(synced, [False, True])

    def test_parts_without_an_owner_are_cleared_and_others_stay(self):
        left, owned, young = (self.folder / f".ochre-stone-{n}.part" for n in "abc")
        for path in (left, owned, young):
            path.write_bytes(b"half")
        for path in (left, owned):
            os.utime(path, (1e9, 1e9))
        with owned.open("rb") as held:
            fcntl.flock(held, fcntl.LOCK_EX)
            write_bytes(self.folder / "x", b"x")
        self.assertEqual({p.name for p in self.folder.iterdir()}, {"x", owned.name, young.name})

    def test_a_failure_leaves_the_old_file_and_no_part(self):
        path = self.folder / "x"
        path.write_bytes(b"old")
        with mock.patch("os.fsync", side_effect=OSError(28, "No space left on device")), self.assertRaises(OchreError):
            write_bytes(path, b"new")
        self.assertEqual(path.read_bytes(), b"old")
        self.assertEqual(len(list(self.folder.iterdir())), 1)


class Locks(FolderCase):
    def test_one_owner_at_a_time(self):
        first = locking.take(self.folder / "lock")
        self.assertIsNone(locking.take(self.folder / "lock"))
        locking.let_lock_go(first)
        second = locking.take(self.folder / "lock")
        self.assertIsNotNone(second)
        locking.let_lock_go(second)

    def test_a_lock_that_never_comes_does_not_keep_from_saving(self):
        taken = locking.take(self.folder / ".x.lock")
        with mock.patch.object(locking, "_WAIT_S", 0.05), locking.lock_held(self.folder / "x"):
            save_box(PaintBox(), self.folder / "x")
            self.assertIsNone(locking.take(self.folder / ".x.lock"), "the owner has it still")
        self.assertEqual(load_box(self.folder / "x"), PaintBox())
        locking.let_lock_go(taken)


def tube(name: str, **fields: object) -> OwnTube:
    return OwnTube(id=f"own-{name}", name=name, parts=(PigmentPart(pigment="yellow-ochre"),), **fields)


class SharedBox(FolderCase):
    def setUp(self) -> None:
        super().setUp()
        self.path = self.folder / "box.json"
        self.start = PaintBox(tubes=(tube("a"), tube("b")))
        save_box(self.start, self.path)

    def test_two_windows_add_tubes_and_both_stay(self):
        change_box(self.start, self.start.with_tube(tube("c")), self.path)
        now = change_box(self.start, self.start.with_tube(tube("d")), self.path)
        self.assertEqual([t.name for t in now.tubes], ["a", "b", "c", "d"])
        self.assertEqual(load_box(self.path), now)

    def test_each_change_holds_and_undoing_takes_back_only_its_own(self):
        mine = self.start.with_tube(tube("a", stock_ml=5))
        change_box(self.start, self.start.with_tube(tube("b", remark="theirs")).with_tube(tube("c")), self.path)
        change_box(self.start, mine, self.path)
        now = change_box(mine, self.start, self.path)
        self.assertEqual(
            [(t.name, t.stock_ml, t.remark) for t in now.tubes],
            [("a", 37.0, ""), ("b", 37.0, "theirs"), ("c", 37.0, "")],
        )

    def test_a_tube_that_anothers_palette_holds_is_not_removed(self):
        palette = OwnPalette(id="own-p", name="p", paints=("own-b",))
        change_box(self.start, self.start.with_palette(palette), self.path)
        now = change_box(self.start, self.start.without_tube("own-b"), self.path)
        self.assertEqual([t.name for t in now.tubes], ["a", "b"])
        gone = change_box(now, now.without_palette("own-p").without_tube("own-b"), self.path)
        self.assertEqual(([t.name for t in gone.tubes], gone.palettes), (["a"], ()))

    def test_another_order(self):
        turned = self.start.replaced({"tubes": self.start.tubes[::-1]})
        theirs = self.start.with_tube(tube("c"))
        self.assertEqual([t.name for t in merged_boxes(self.start, turned, theirs).tubes], ["b", "a", "c"])

    def test_a_damaged_file_is_moved_aside(self):
        self.path.write_bytes(b"{")
        now = change_box(self.start, self.start.with_tube(tube("c")), self.path)
        self.assertEqual(len(now.tubes), 3)
        self.assertEqual(self.path.with_suffix(".json.damaged").read_bytes(), b"{")

    def test_many_writers_at_once_lose_nothing(self):
        def add(name: str) -> None:
            for n in range(5):
                before = load_box(self.path)
                change_box(before, before.with_tube(tube(f"{name}{n}")), self.path)

        writers = [threading.Thread(target=add, args=(name,)) for name in ("u", "v", "w")]
        for w in writers:
            w.start()
        for w in writers:
            w.join()
        self.assertEqual(len(load_box(self.path).tubes), 2 + 15)


class Sentences(unittest.TestCase):
    def test_one_line_of_bounded_length_that_can_be_printed(self):
        error = OchreError("a\nb\r\x00" + "x" * 10_000_000 + os.fsdecode(b"\xff"))
        self.assertLess(len(str(error)), 700)
        self.assertTrue(str(error).startswith("a b xx"))
        self.assertTrue(str(error).isprintable())
        str(error).encode()
        self.assertEqual(one_line("as it is"), "as it is")

    def test_a_refused_field_of_any_length_is_cut(self):
        from ochre_stone.core.store.files import read_document

        with self.assertRaises(OchreError) as refused:
            read_document(b'{"version": 5, "' + b"k" * 1_000_000 + b'": 1}', "x")
        self.assertLess(len(str(refused.exception)), 700)

    def test_a_path_is_whatever_its_bytes_are(self):
        from ochre_stone.desktop.session.settings import Settings, read_path, written

        for name in (b"plain", "ü".encode(), b"caf\xe9", b"a%20b"):
            path = Path("/tmp") / os.fsdecode(name)
            self.assertEqual(read_path(written(path)), path)
            settings = Settings()
            settings.remember(path)
            Settings.model_validate_json(settings.model_dump_json())


if __name__ == "__main__":
    unittest.main()
