"""What is loaded before it is needed: nothing large, neither by the first window nor by a small answer in a shell."""

import contextlib
import io
import os
import pty
import signal
import subprocess
import sys
import tempfile
import time
import unittest
from pathlib import Path
from unittest import mock

import click
from PIL import Image

from ochre_stone.cli import program
from tests.support.made import FolderCase, orchard

LARGE = (
    "scipy.optimize", "scipy.ndimage", "scipy.sparse", "scipy.interpolate", "scipy.special", "numpy.f2py", "cv2",
    "reportlab", "imagecodecs", "serial", "jeepney", "ssl", "rawpy", "tifffile", "pillow_heif", "highspy",
    "colour", "skimage",
)  # fmt: skip
WINDOW = """
from PyQt6.QtCore import QEvent, QObject
from ochre_stone.desktop.app import open_window

class Painted(QObject):
    seen = False
    def eventFilter(self, watched, event):
        self.seen = self.seen or event.type() == QEvent.Type.Paint
        return False

app, window = open_window()
painted = Painted()
window.stage.right.installEventFilter(painted)
while not painted.seen:
    app.processEvents()
"""
COMMAND = """
import sys
sys.argv = ["ochre-stone", *{arguments!r}]
from ochre_stone.__main__ import main
try:
    main()
except SystemExit as end:
    assert not end.code, end.code
"""
SAID = """
import os, sys
print("loaded", *sorted(sys.modules), flush=True)
os._exit(0)
"""


def loaded(code: str) -> set[str]:
    """Names of the modules that a fresh Python holds after ``code``."""
    with tempfile.TemporaryDirectory() as home:
        kept = os.environ | {"HOME": home, "QT_QPA_PLATFORM": "offscreen"}
        done = subprocess.run(
            [sys.executable, "-c", code + SAID], capture_output=True, text=True, env=kept, timeout=120
        )
    if done.returncode:
        raise AssertionError(done.stderr)
    return set(done.stdout.rsplit("loaded ", 1)[1].split())


class Loaded(unittest.TestCase):
    def test_the_first_window(self):
        there = loaded(WINDOW)
        self.assertEqual([m for m in (*LARGE, "PIL", "sqlite3") if m in there], [])
        early = [m for m in there if m.startswith(("ochre_stone.core.boardphoto", "ochre_stone.core.practice"))]
        self.assertEqual(early, [])
        self.assertLess(sum(m.startswith("ochre_stone.") for m in there), 190)

    def test_each_small_answer(self):
        for arguments, more in (
            (["predict", "titanium-white:4 yellow-ochre:2", "--json"], ("pydantic", "platformdirs")),
            (["predict", "titanium-white:4", "--medium", "gouache"], ("pydantic", "platformdirs")),
            (["paints", "--json"], ()),
            (["log", "list", "--json"], ()),
        ):
            with self.subTest(arguments):
                there = loaded(COMMAND.format(arguments=arguments))
                self.assertEqual([m for m in (*LARGE, "PyQt6", "PIL", *more) if m in there], [])


class Interrupted(FolderCase):
    def plan(self, **how: object) -> subprocess.Popen:
        photo = self.folder / "orchard.png"
        Image.fromarray(orchard()).save(photo)
        command = [sys.executable, "-m", "ochre_stone", "plan", str(photo), "--out", str(self.folder / "plan")]
        return subprocess.Popen(command, stdout=subprocess.PIPE, text=True, **how)

    def test_clean_from_the_first_moment(self):
        for moment in (0.1, 0.3, 0.9):
            at_work = self.plan(stderr=subprocess.PIPE)
            time.sleep(moment)
            at_work.send_signal(signal.SIGINT)
            _, told = at_work.communicate(timeout=60)
            self.assertNotIn("Traceback", told, moment)
            self.assertEqual((at_work.returncode, told.strip()), (130, "ochre-stone: stopped."), moment)
            self.assertFalse(list(Path(self.folder).glob("plan/*")), "nothing is half written")

    def test_while_the_words_of_the_command_are_read(self):
        with (
            mock.patch.object(click.Group, "make_context", side_effect=KeyboardInterrupt),
            contextlib.redirect_stderr(io.StringIO()) as told,
            self.assertRaises(SystemExit) as ended,
        ):
            program(["plan", "photo.png"])
        self.assertEqual((ended.exception.code, told.getvalue().strip()), (130, "ochre-stone: stopped."))

    def test_a_terminal_is_told_how_far_it_is(self):
        ours, theirs = pty.openpty()
        at_work = self.plan(stderr=theirs)
        os.close(theirs)
        said = b""
        while True:
            try:
                part = os.read(ours, 4096)
            except OSError:  # the other end is closed
                break
            if not part:
                break
            said += part
        os.close(ours)
        at_work.communicate(timeout=60)
        self.assertEqual(at_work.returncode, 0)
        for words in (b"taking notes", b"mixing", b"making masses", b"writing"):
            self.assertIn(words, said)
        self.assertTrue(said.endswith(b"\x1b[K"), "the line is gone at the end")


if __name__ == "__main__":
    unittest.main()
