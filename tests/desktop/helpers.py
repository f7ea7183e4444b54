"""A real window for tests: one application, one window set back between tests, real clicks and keys."""

import os
import sys
import tempfile
import time
import unittest
from collections.abc import Callable
from pathlib import Path
from typing import Any
from unittest import mock

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen" if not os.environ.get("DISPLAY") else "xcb")

import numpy as np
from PyQt6.QtCore import QPoint, QPointF, QSignalBlocker, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractScrollArea,
    QAbstractSlider,
    QApplication,
    QComboBox,
    QDialog,
    QDoubleSpinBox,
    QLineEdit,
    QMessageBox,
    QSpinBox,
    QStackedWidget,
    QTabBar,
    QWidget,
)

from ochre_stone.core.colour.schools import SCHOOLS
from ochre_stone.core.document.document import Document
from ochre_stone.core.paint.box import PaintBox
from ochre_stone.core.picture.screen import Screen
from ochre_stone.core.picture.views import View
from ochre_stone.core.store import boxfile, safecopy
from ochre_stone.core.store.files import Project
from ochre_stone.desktop.app import make_app
from ochre_stone.desktop.session import display, numbers
from ochre_stone.desktop.session import settings as memory
from ochre_stone.desktop.session.notes import FILTERS
from ochre_stone.desktop.session.question import Question
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.tray import Pages, Stack
from ochre_stone.desktop.window.window import Window
from ochre_stone.logbook import book
from tests.support.made import orchard_file, small_project
from tests.support.shared import sharing

_app: QApplication | None = None


def app() -> QApplication:
    """The one application of the test run."""
    global _app
    if _app is None:
        _app = make_app(["tests"])
        theme.apply(_app, "middle")
    return _app


def _hit(widget: QWidget) -> QWidget:
    """The part of a widget that the mouse meets."""
    return widget.viewport() if isinstance(widget, QAbstractScrollArea) else widget


class Shared:
    """One window for all tests of a process: building it takes longer than most tests. Between two tests all that the
    session holds and all that controls show goes back to what it was at the start."""

    window: Window | None = None
    begin: dict[QWidget, object] = {}  # noqa: RUF012

    @classmethod
    def take(cls) -> Window:
        """The window, shown, as if it had been opened just now."""
        if cls.window is None:
            cls.window = Window(memory.Settings())
            cls.window.show()
            QTest.qWaitForWindowExposed(cls.window)
            for station in cls.window.stations:
                cls.window.make_ready(station)
            cls.begin = {w: _state(w) for w in cls.window.findChildren(QWidget) if _state(w) is not None}
        return cls.window

    @classmethod
    def give_back(cls, spoilt: bool) -> None:
        """After a test; where it failed, the next one gets another window."""
        w = cls.window
        if w is None:
            return
        for box in w.findChildren(QDialog):
            box.close()
        w.studio.undo.setClean()
        if spoilt or not w.isVisible():
            w.close()
            w.deleteLater()
            cls.window, cls.begin = None, {}
        else:
            _reset(w, cls.begin)
        app().processEvents()


def _state(w: QWidget) -> object:
    """What a control shows; None for what is no control."""
    if isinstance(w, QAbstractButton):
        return w.isChecked() if w.isCheckable() else None
    if isinstance(w, QLineEdit):
        return w.text()
    if isinstance(w, QComboBox | QStackedWidget | Stack | QTabBar):
        return w.currentIndex()
    return w.value() if isinstance(w, QAbstractSlider | QSpinBox | QDoubleSpinBox) else None


def _restore(w: QWidget, state: Any) -> None:
    if isinstance(w, QAbstractButton):
        group = w.group()
        if group is None or state:
            w.setChecked(state)
    elif isinstance(w, QComboBox | QStackedWidget | Stack | QTabBar):
        w.setCurrentIndex(min(state, w.count() - 1))
    else:
        w.setValue(state)  # type: ignore[attr-defined]


def _reset(w: Window, begin: dict[QWidget, object]) -> None:
    session = w.session
    for kind in list(w.studio.jobs.kinds()):
        w.studio.jobs.cancel(kind)
    session.reader.close()
    for name, value in memory.Settings():
        setattr(session.settings, name, value)
    numbers.use_school(SCHOOLS[0])
    display.use_screen(Screen())
    w.status.display_words.setText(display.words())
    session.keeper.undo.clear()
    session.keeper.box, session.keeper.wrong = PaintBox(), ""
    session.notes.filter, session.notes.aperture = FILTERS[0], 15
    session.piles.in_hand = None
    w.go_to("Look")
    w.studio.replace(Project(Document(), None), None)
    session.palettes.in_hand = w.studio.document.mix.palette
    session.sight.set(plain=True, strength=0.5)
    session.sight.view = View()
    for station in w.stations:
        station.scene = ""
    for page in (p for s in w.stations for p in vars(s).values() if hasattr(p, "__dict__")):
        for question in (q for q in vars(page).values() if isinstance(q, Question)):
            question.forget()
    box = w.at("Paint box")
    box.fewest_page.keep.clear()
    box.charts_page.chart, box.charts_page._kinds_of = None, None
    box.calibrate_page._gathered.clear()
    w.scale.cuts.chosen = 0
    there = set(w.findChildren(QWidget))
    for widget, state in begin.items():
        if widget in there and _state(widget) != state:
            if isinstance(widget, QLineEdit):
                widget.setText(str(state))  # its list is to follow
                continue
            with QSignalBlocker(widget):
                _restore(widget, state)
            widget.updateGeometry()
    w.resize(session.settings.width, session.settings.height)
    w.stage.share(whole=session.settings.width)
    w.easel.fit()
    w.easel._by_key, w.easel._pointer = False, None  # no hand is over it
    w.easel.take(None)
    w.go_to("Look")
    w.last_told = ""


class WindowCase(unittest.TestCase):
    """Each test gets ``self.window``, shown, with a home and a folder of its own. An error in a slot fails the test."""

    def setUp(self) -> None:
        self.app = app()
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name)
        for module, name in (
            (memory, "user_config_path"),
            (safecopy, "user_state_path"),
            (boxfile, "user_data_path"),
            (book, "user_data_path"),
        ):
            patch = mock.patch.object(module, name, lambda app_name: self.folder / "home" / app_name)
            patch.start()
            self.addCleanup(patch.stop)
        for patch in sharing():
            patch.start()
            self.addCleanup(patch.stop)
        self._slots: list[BaseException] = []
        hook = mock.patch.object(sys, "excepthook", lambda kind, error, trace: self._slots.append(error))
        hook.start()
        self.addCleanup(hook.stop)
        self.addCleanup(self._end)
        self.window = Shared.take()
        self._activate()
        self.photo = self.folder / "orchard.png"
        self.photo.write_bytes(orchard_file())

    def _activate(self) -> None:
        """Give the window the keys: without a window manager nobody else does."""
        handle = self.window.windowHandle()
        if handle is not None:
            handle.requestActivate()
            QTest.qWaitForWindowActive(self.window, 2000)

    def _end(self) -> None:
        failed = not self._outcome.success or bool(self._slots)  # type: ignore[attr-defined]
        Shared.give_back(failed)
        if self._slots:
            raise self._slots[0]

    # Waiting

    def wait(self, until: Callable[[], bool], seconds: float = 120.0) -> None:
        """Let the window work until something is so."""
        end = time.monotonic() + seconds
        while not until():
            self.assertLess(time.monotonic(), end, "waited too long")
            self.app.processEvents()
            time.sleep(0.002)

    def settle(self) -> None:
        """Until nothing is under way."""
        quiet = 0

        def idle() -> bool:
            nonlocal quiet
            busy = not self.window.studio.idle or not self.window.session.log.idle
            quiet = 0 if busy else quiet + 1
            return quiet > 4

        self.wait(idle)

    # Doing

    def open(self, path: Path | None = None) -> None:
        """Open a file as the menu would, and wait."""
        self.window.files.open(path or self.photo, asked=True)
        self.settle()

    def open_small(self) -> None:
        """The small project with two strings, as an untitled copy."""
        path = self.folder / "small.ochre"
        path.write_bytes(small_project())
        self.window.studio.files.load(path, as_copy=True)
        self.settle()

    def click(self, widget: QWidget, at: QPoint | QPointF | None = None) -> None:
        """A left click of the mouse."""
        place = QPoint(round(at.x()), round(at.y())) if at is not None else widget.rect().center()
        QTest.mouseClick(_hit(widget), Qt.MouseButton.LeftButton, pos=place)
        self.app.processEvents()

    def turn(self, pages: Pages, name: str) -> None:
        """Click the name of a tray's page."""
        self.click(pages.bar, pages.bar.tabRect(pages.names.index(name)).center())

    def click_picture(self, x: float, y: float) -> None:
        """Click the easel at a pixel of the picture."""
        self.click(self.window.easel, self.window.easel.to_widget(x, y))

    def drag(self, widget: QWidget, start: QPointF, end: QPointF, steps: int = 6) -> None:
        """Press, move and release."""
        widget = _hit(widget)
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
