"""Safe copies of unsaved work: who owns them, what they hold, what is left of them."""

import os
import shutil
import signal
import stat
import subprocess
import sys
import time
import unittest
from pathlib import Path
from unittest import mock

from ochre_stone.core.document.document import Document
from ochre_stone.core.errors import OchreError
from ochre_stone.core.planning.noting import read_note
from ochre_stone.core.store import safecopy
from ochre_stone.core.store.safecopy import SafeCopy, bring_back, ownerless, remove, stamp
from tests.support.made import FolderCase, blocks, picture

_OWNER = """
import sys, time
from ochre_stone.core.document.document import Document
from ochre_stone.core.store.safecopy import SafeCopy
copy = SafeCopy()
copy.write(copy.turn, Document(title=sys.argv[1]), None, None, None, None)
print(copy.folder, flush=True)
time.sleep(60)
"""


class SafeCopies(FolderCase):
    def setUp(self) -> None:
        super().setUp()
        patch = mock.patch.object(safecopy, "root", return_value=self.folder / "unsaved")
        patch.start()
        self.addCleanup(patch.stop)
        self.picture = picture(blocks((200, 60, 40), (40, 60, 200)))
        self.document = Document(title="kitchen", reference=self.picture.name)
        self.noted = self.document.with_note(read_note(self.picture, self.document, 20, 20, 5))

    def kept(self, document: Document, ahead: Document | None = None, path: Path | None = None) -> SafeCopy:
        copy = SafeCopy()
        copy.write(copy.turn, document, self.picture, ahead, path, stamp(path))
        return copy

    def test_what_is_kept_comes_back(self):
        path = self.folder / "kitchen table.ochre"
        path.write_bytes(b"saved")
        self.kept(self.document, self.noted, path).let_go()
        (left,) = ownerless()
        self.assertEqual((left.title, left.path, left.base), ("kitchen table", path, stamp(path)))
        self.assertLess(abs(left.time - time.time()), 60)
        self.assertTrue(left.picture.startswith(b"\x89PNG"))
        brought = bring_back(left)
        self.assertEqual(brought.project.document, self.document)
        self.assertEqual(brought.ahead, self.noted)
        self.assertEqual(brought.project.picture.source, self.picture.source)
        self.assertFalse(left.saved_since)
        path.write_bytes(b"saved again")
        self.assertTrue(left.saved_since)

    def test_only_its_owner_reads_it(self):
        safecopy.root().mkdir(parents=True, mode=0o755)  # of an older program
        copy = self.kept(self.document)
        self.assertEqual(len([*copy.folder.iterdir()]), 4)
        for file in (copy.folder, safecopy.root(), safecopy.root().parent):
            self.assertEqual(stat.S_IMODE(file.stat().st_mode), 0o700, file)
        for file in copy.folder.iterdir():
            self.assertEqual(stat.S_IMODE(file.stat().st_mode), 0o600, file)

    def test_a_living_owners_copy_is_offered_to_nobody_and_a_killed_ones_is(self):
        env = {**os.environ, "XDG_STATE_HOME": str(self.folder), "HOME": str(self.folder)}
        with subprocess.Popen(
            [sys.executable, "-c", _OWNER, "theirs"], env=env, stdout=subprocess.PIPE, text=True
        ) as owner:
            folder = Path(owner.stdout.readline().strip())
            with mock.patch.object(safecopy, "root", return_value=folder.parent):
                self.assertEqual(ownerless(), [])
                mine = safecopy.Left(folder, "theirs", None, 0.0, None)
                self.assertFalse(remove(mine), "nobody deletes another's")
                self.assertFalse(SafeCopy().take_over(mine))
                self.assertTrue((folder / "work.json").exists())
                owner.send_signal(signal.SIGKILL)
                owner.wait()
                self.assertEqual([left.title for left in ownerless()], ["theirs"])

    def test_taking_over_makes_it_ones_own(self):
        self.kept(self.noted).let_go()
        (left,) = ownerless()
        copy = SafeCopy()
        self.assertTrue(copy.take_over(left))
        self.assertEqual(ownerless(), [])
        self.assertFalse(SafeCopy().take_over(left), "only one window gets it")
        copy.write(copy.turn, self.document, self.picture, None, None, None)
        copy.let_go()
        self.assertEqual(bring_back(ownerless()[0]).project.document, self.document)

    def test_clearing_leaves_nothing_and_stops_what_was_begun(self):
        copy = self.kept(self.noted)
        begun = copy.turn
        copy.clear()
        copy.write(begun, self.noted, self.picture, None, None, None)
        self.assertEqual([p.name for p in copy.folder.iterdir()], ["lock"])
        copy.let_go()
        self.assertEqual(ownerless(), [])

    def test_clearing_in_the_middle_of_writing_waits_for_nobody_and_leaves_nothing(self):
        copy = self.kept(self.document)
        write = safecopy.write_bytes

        def meanwhile(path: Path, data: bytes, **how) -> Path:
            if path.name == "preview.png":
                copy.clear()  # as the main thread may, while a worker writes
            return write(path, data, **how)

        with mock.patch.object(safecopy, "write_bytes", side_effect=meanwhile):
            copy.write(copy.turn, self.noted, self.picture, None, None, None)
        self.assertEqual([p.name for p in copy.folder.iterdir()], ["lock"])
        copy.write(copy.turn, self.noted, self.picture, None, None, None)
        copy.clear()
        self.assertEqual([p.name for p in copy.folder.iterdir()], ["lock"])

    def test_a_folder_that_was_tidied_away_is_made_anew(self):
        copy = self.kept(self.document)
        shutil.rmtree(copy.folder.parent)
        copy.write(copy.turn, self.noted, self.picture, None, None, None)
        copy.let_go()
        (left,) = ownerless()
        brought = bring_back(left)
        self.assertEqual(brought.project.document, self.noted)
        self.assertEqual(brought.project.picture.source, self.picture.source, "the picture came along")

    def test_the_reference_is_written_once(self):
        copy = self.kept(self.document)
        first = [p.name for p in copy.folder.glob("reference-*")]
        copy.write(copy.turn, self.noted, self.picture, None, None, None)
        self.assertEqual([p.name for p in copy.folder.glob("reference-*")], first)
        other = picture(blocks((10, 60, 40), (40, 60, 20)))
        copy.write(copy.turn, self.document, other, None, None, None)
        (second,) = copy.folder.glob("reference-*")
        self.assertEqual(second.read_bytes(), other.source)
        copy.close()
        self.assertFalse(any((self.folder / "unsaved").iterdir()))

    def test_empty_folders_are_cleared_and_damaged_ones_kept(self):
        empty, damaged = self.folder / "unsaved" / "a", self.folder / "unsaved" / "b"
        for folder in (empty, damaged):
            folder.mkdir(parents=True)
            (folder / "lock").touch()
        (damaged / "work.json").write_bytes(b'{"time": ')
        os.utime(empty, (1e9, 1e9))
        (left,) = ownerless()
        self.assertFalse(empty.exists())
        with self.assertRaisesRegex(OchreError, "damaged"):
            bring_back(left)
        self.assertTrue(damaged.exists())
        self.assertTrue(remove(left))
        self.assertFalse(damaged.exists())

    def test_no_room_is_one_sentence(self):
        (self.folder / "unsaved").write_bytes(b"a file in the way")
        with self.assertRaisesRegex(OchreError, "save it often"):
            self.kept(self.noted)

    def test_a_photo_that_found_no_room_is_written_with_the_next_change(self):
        copy, write = SafeCopy(), safecopy.write_bytes

        def full(path: Path, data: bytes, **how) -> Path:
            if path.name.startswith("reference-"):
                raise OchreError("no room")
            return write(path, data, **how)

        with mock.patch.object(safecopy, "write_bytes", side_effect=full), self.assertRaises(OchreError):
            copy.write(copy.turn, self.document, self.picture, None, None, None)
        copy.write(copy.turn, self.noted, self.picture, None, None, None)
        copy.let_go()
        self.assertEqual(bring_back(ownerless()[0]).project.picture.source, self.picture.source)

    def test_a_name_that_is_no_utf8(self):
        path = self.folder / os.fsdecode(b"caf\xe9.ochre")
        self.kept(self.noted, path=path).let_go()
        self.assertEqual(ownerless()[0].path, path)


if __name__ == "__main__":
    unittest.main()
