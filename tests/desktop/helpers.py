"""A real window for tests: one application, a fresh window per test, real clicks and keys."""

import os
import tempfile
import time
import unittest
from collections.abc import Callable
from pathlib import Path
from unittest import mock

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen" if not os.environ.get("DISPLAY") else "xcb")

import numpy as np
from PIL import Image
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QMessageBox, QWidget

from ochre_stone.core.project import boxfile
from ochre_stone.desktop.app import make_app
from ochre_stone.desktop.session import settings as memory
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.window.window import Window
from tests.helpers import orchard

_app: QApplication | None = None


def app() -> QApplication:
    """The one application of the test run."""
    global _app
    if _app is None:
        _app = make_app(["tests"])
        theme.apply(_app, "middle")
    return _app


class WindowCase(unittest.TestCase):
    """Each test gets ``self.window``, shown, with a home and a folder of its own."""

    def setUp(self) -> None:
        self.app = app()
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name)
        for name in ("user_config_path", "user_state_path"):
            patch = mock.patch.object(memory, name, lambda app_name: self.folder / "home" / app_name)
            patch.start()
            self.addCleanup(patch.stop)
        patch = mock.patch.object(boxfile, "user_data_path", lambda app_name: self.folder / "home" / app_name)
        patch.start()
        self.addCleanup(patch.stop)
        self.window = Window(memory.Settings())
        self.window.show()
        self.addCleanup(self._close)
        QTest.qWaitForWindowExposed(self.window)
        self._activate()
        self.photo = self.folder / "orchard.png"
        Image.fromarray(orchard()).save(self.photo)

    def _activate(self) -> None:
        """Give the window the keys: without a window manager nobody else does."""
        handle = self.window.windowHandle()
        if handle is not None:
            handle.requestActivate()
            QTest.qWaitForWindowActive(self.window, 2000)

    def _close(self) -> None:
        self.window.studio.undo.setClean()
        for box in self.window.findChildren(QMessageBox):
            box.close()
        self.window.close()
        self.window.deleteLater()
        self.app.processEvents()

    # Waiting

    def wait(self, until: Callable[[], bool], seconds: float = 120.0) -> None:
        """Let the window work until something is so."""
        end = time.monotonic() + seconds
        while not until():
            self.assertLess(time.monotonic(), end, "waited too long")
            self.app.processEvents()
            time.sleep(0.005)

    def settle(self) -> None:
        """Until nothing is under way."""
        quiet = 0

        def idle() -> bool:
            nonlocal quiet
            busy = not self.window.studio.idle
            quiet = 0 if busy else quiet + 1
            return quiet > 4

        self.wait(idle)

    # Doing

    def open(self, path: Path | None = None) -> None:
        """Open a file as the menu would, and wait."""
        self.window.files.open(path or self.photo, asked=True)
        self.settle()

    def click(self, widget: QWidget, at: QPoint | QPointF | None = None) -> None:
        """A left click of the mouse."""
        place = QPoint(round(at.x()), round(at.y())) if at is not None else widget.rect().center()
        QTest.mouseClick(widget, Qt.MouseButton.LeftButton, pos=place)
        self.app.processEvents()

    def click_picture(self, x: float, y: float) -> None:
        """Click the easel at a pixel of the picture."""
        self.click(self.window.easel, self.window.easel.to_widget(x, y))

    def drag(self, widget: QWidget, start: QPointF, end: QPointF, steps: int = 6) -> None:
        """Press, move and release."""
        QTest.mousePress(widget, Qt.MouseButton.LeftButton, pos=start.toPoint())
        for i in range(1, steps + 1):
            QTest.mouseMove(widget, (start + (end - start) * i / steps).toPoint())
            self.app.processEvents()
        QTest.mouseRelease(widget, Qt.MouseButton.LeftButton, pos=end.toPoint())
        self.app.processEvents()

    def key(
        self,
        key: Qt.Key,
        modifiers: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier,
        widget: QWidget | None = None,
    ) -> None:
        """A key press."""
        QTest.keyClick(widget or self.window, key, modifiers)
        self.app.processEvents()

    def complaint(self) -> str:
        """What the window complains about, closed after reading; "" for nothing."""
        self.app.processEvents()
        boxes = [b for b in self.window.findChildren(QMessageBox) if b.objectName() == "complaint" and b.isVisible()]
        if not boxes:
            return ""
        words = boxes[-1].text()
        boxes[-1].accept()
        self.app.processEvents()
        self._activate()
        return words


class PictureCase(WindowCase):
    def setUp(self) -> None:
        super().setUp()
        self.open()
        self.studio = self.window.studio

    def undo_all(self) -> None:
        while self.studio.undo.canUndo():
            self.studio.undo.undo()


def shown(window: Window) -> np.ndarray:
    """Bytes (h, w, 3) of what the easel shows, without what lies over it."""
    image = window.easel._image.convertToFormat(window.easel._image.Format.Format_RGB888)
    bits = image.constBits()
    bits.setsize(image.sizeInBytes())
    return (
        np.array(bits)
        .reshape(image.height(), image.bytesPerLine())[:, : image.width() * 3]
        .reshape(image.height(), image.width(), 3)
    )


class KeysCase(PictureCase):
    """A picture, and the cross of the easel moved by keys."""

    def cross_to(self, x: float, y: float) -> None:
        """Move the cross with the arrow keys to a pixel of the picture."""
        easel = self.window.easel
        easel.setFocus()
        self.key(Qt.Key.Key_Right, widget=easel)
        for _ in range(400):
            goal = easel.to_widget(x, y)
            here = easel._pointer
            off = goal - here
            if abs(off.x()) <= 1 and abs(off.y()) <= 1:
                return
            if abs(off.x()) > 1:
                key, size = (Qt.Key.Key_Right if off.x() > 0 else Qt.Key.Key_Left), abs(off.x())
            else:
                key, size = (Qt.Key.Key_Down if off.y() > 0 else Qt.Key.Key_Up), abs(off.y())
            self.key(key, Qt.KeyboardModifier.ShiftModifier if size < 12 else Qt.KeyboardModifier.NoModifier, easel)
        self.fail("the cross never came there")
