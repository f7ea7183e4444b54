"""Random use of the window: whatever is visible is clicked, dragged, typed into and keyed, at every station.

Every two hundred actions all is undone and done again, saved and opened again, and compared; dialogs are answered at
random. An error in a slot, a document that is another afterwards, or five seconds without an answer must not be.
"""

import contextlib
import sys
import tempfile
import time
import traceback
from collections.abc import Callable
from pathlib import Path
from types import TracebackType
from typing import Any
from unittest import mock

import numpy as np
from PyQt6.QtCore import QPoint, QPointF, Qt, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QAbstractSlider,
    QApplication,
    QComboBox,
    QDialog,
    QDoubleSpinBox,
    QFileDialog,
    QInputDialog,
    QLineEdit,
    QMessageBox,
    QSpinBox,
    QWidget,
)

from ochre_stone.core.document.document import Document, Mixed
from ochre_stone.core.store.files import open_project
from ochre_stone.desktop.app import make_app
from ochre_stone.desktop.session.settings import Settings
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.window.window import Window
from tests.support.made import orchard_file, small_project
from tests.support.torture.tally import Tally

_FREEZE_S = 5.0
_COMPARE = 200
_KEYS = (
    Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Return, Qt.Key.Key_Space,
    Qt.Key.Key_Escape, Qt.Key.Key_Delete, Qt.Key.Key_Tab, Qt.Key.Key_Home, Qt.Key.Key_End, Qt.Key.Key_PageDown,
    Qt.Key.Key_L, Qt.Key.Key_M, Qt.Key.Key_T, Qt.Key.Key_F, Qt.Key.Key_F2, Qt.Key.Key_D, Qt.Key.Key_E, Qt.Key.Key_1,
)  # fmt: skip
_WORDS = ("", "0", "-5", "1e999", "7,5", "<b>x</b>", "a long name " * 12, "\u202eabc", "5YR 5/4")


def painted(document: Document) -> Document:
    """The document without what is worked out from it."""
    notes = tuple(n.model_copy(update={"share": 0.0}) for n in document.notes)
    free = document.masses.range.keep in ("scene", "drawn")
    masses = document.masses if free else document.masses.model_copy(update={"range": type(document.masses.range)()})
    return document.model_copy(update={"notes": notes, "mixed": Mixed(), "masses": masses})


class User:
    """Somebody who tries everything."""

    def __init__(self, tally: Tally, folder: Path) -> None:
        self.tally, self.folder = tally, folder
        app = QApplication.instance() or make_app(["torture"])
        assert isinstance(app, QApplication)
        self.app = app
        theme.apply(app, "middle")
        self.errors: list[str] = []
        self.window = Window(Settings())
        self.window.resize(1280, 800)
        self.window.show()
        self.rng = np.random.default_rng(0)
        self.begun: Document | None = None
        self._acting = False
        self._guard = QTimer()
        self._guard.setInterval(150)
        self._guard.timeout.connect(self._let_go)
        self._guard.start()
        (folder / "photo.png").write_bytes(orchard_file())
        (folder / "small.ochre").write_bytes(small_project())

    # Time

    def turn(self) -> None:
        """One turn of the event loop, timed."""
        began = time.monotonic()
        self.app.processEvents()
        self.late(time.monotonic() - began, "a turn")

    def late(self, seconds: float, what: str) -> None:
        self.tally.slowest = max(self.tally.slowest, seconds)
        if seconds > _FREEZE_S:
            self.tally.wrong(f"action {self.tally.done} of seed {self.tally.seed}: {what} took {seconds:.1f} s")

    def settle(self, seconds: float = 120.0) -> None:
        """Until nothing is under way."""
        end, quiet = time.monotonic() + seconds, 0
        while quiet < 4:
            if time.monotonic() > end:
                self.tally.wrong(f"action {self.tally.done}: {self.window.studio.jobs.kinds()} do not end")
                return
            self.turn()
            time.sleep(0.003)
            quiet = quiet + 1 if self.window.studio.idle else 0

    def _let_go(self) -> None:
        """Close what waits for an answer in the middle of an action."""
        waiting = self.app.activePopupWidget() or self.app.activeModalWidget()
        if self._acting and waiting is not None:
            waiting.close()

    # What can be done

    def begin(self) -> None:
        """A project or a photo afresh."""
        for box in self.window.findChildren(QDialog):
            if box.isVisible():
                box.close()
        name = "small.ochre" if self.rng.random() < 0.7 else "photo.png"
        self.window.studio.files.load(self.folder / name, as_copy=True)
        self.settle()
        self.begun = self.window.studio.document

    def act(self) -> str:
        """Do one thing; its name."""
        self._acting = True
        try:
            return self._act()
        finally:
            self._acting = False

    def _act(self) -> str:
        rng = self.rng
        dialog = self.app.activeModalWidget() or next(
            (d for d in self.window.findChildren(QDialog) if d.isVisible()), None
        )
        if dialog is not None and rng.random() < 0.5:
            dialog.close()
            return "close a dialog"
        chance = rng.random()
        if chance < 0.05:
            station = self.window.stations[int(rng.integers(0, len(self.window.stations)))]
            self.window.go_to(station.title)
            return f"go to {station.title}"
        if chance < 0.10:
            self.window.turn_page(1 if rng.random() < 0.7 else -1)
            return "turn the page"
        if chance < 0.16:
            stack = self.window.station.history()
            (stack.undo if rng.random() < 0.6 else stack.redo)()
            return "undo or redo"
        if chance < 0.34:
            return self._on_the_easel()
        if chance < 0.44:
            key = _KEYS[int(rng.integers(0, len(_KEYS)))]
            held = Qt.KeyboardModifier.ShiftModifier if rng.random() < 0.2 else Qt.KeyboardModifier.NoModifier
            where = self.app.focusWidget() or self.window
            QTest.keyClick(where, key, held)
            return f"key {key.name} on {type(where).__name__}"
        return self._on_a_control(dialog if isinstance(dialog, QWidget) else self.window)

    def _on_the_easel(self) -> str:
        easel, rng = self.window.easel, self.rng
        at = [QPoint(int(rng.integers(0, easel.width())), int(rng.integers(0, easel.height()))) for _ in range(4)]
        if rng.random() < 0.6:
            QTest.mouseClick(easel, Qt.MouseButton.LeftButton, pos=at[0])
            return "click the easel"
        QTest.mousePress(easel, Qt.MouseButton.LeftButton, pos=at[0])
        for p in at[1:]:
            QTest.mouseMove(easel, p)
            self.turn()
        QTest.mouseRelease(easel, Qt.MouseButton.LeftButton, pos=at[-1])
        return "drag on the easel"

    def _on_a_control(self, owner: QWidget) -> str:
        rng = self.rng
        kinds = (QAbstractButton, QAbstractSlider, QComboBox, QSpinBox, QDoubleSpinBox, QLineEdit, QAbstractItemView)
        found = [w for w in owner.findChildren(QWidget) if isinstance(w, kinds) and w.isVisible() and w.isEnabled()]
        drawn = [w for w in owner.findChildren(QWidget) if w.isVisible() and not w.children() and w not in found]
        if not found or (drawn and rng.random() < 0.15):
            if not drawn:
                return "nothing there"
            w = drawn[int(rng.integers(0, len(drawn)))]
            where = QPoint(int(rng.integers(0, max(w.width(), 1))), int(rng.integers(0, max(w.height(), 1))))
            click = QTest.mouseDClick if rng.random() < 0.2 else QTest.mouseClick
            click(w, Qt.MouseButton.LeftButton, pos=where)
            return f"click {type(w).__name__}"
        w = found[int(rng.integers(0, len(found)))]
        name = f"{type(w).__name__} {w.objectName() or getattr(w, 'text', str)()!r}"[:80]
        self._use(w)
        return name

    def _use(self, w: QWidget) -> None:
        rng = self.rng
        if isinstance(w, QAbstractButton):
            QTest.mouseClick(w, Qt.MouseButton.LeftButton)
        elif isinstance(w, QAbstractSlider):
            w.setValue(int(rng.integers(w.minimum(), w.maximum() + 1)))
        elif isinstance(w, QComboBox):
            if w.count():
                w.setCurrentIndex(int(rng.integers(0, w.count())))
                w.activated.emit(w.currentIndex())
        elif isinstance(w, QSpinBox):
            w.setValue(int(rng.integers(w.minimum(), w.maximum() + 1)))
        elif isinstance(w, QDoubleSpinBox):
            w.setValue(float(rng.uniform(w.minimum(), w.maximum())))
        elif isinstance(w, QLineEdit):
            w.setText(_WORDS[int(rng.integers(0, len(_WORDS)))])
            QTest.keyClick(w, Qt.Key.Key_Return)
        elif isinstance(w, QAbstractItemView):
            viewport = w.viewport()
            if viewport is not None:
                where = QPointF(rng.uniform(0, viewport.width()), rng.uniform(0, viewport.height())).toPoint()
                QTest.mouseClick(viewport, Qt.MouseButton.LeftButton, pos=where)

    # What must hold

    def compare(self) -> None:
        """All undone, all done again, saved and opened again: the same."""
        s = self.window.studio
        self.settle()
        last = painted(s.document)
        index = s.undo.index()
        s.undo.setIndex(s.undo.count())
        s.undo.setIndex(0)
        self.settle()
        if self.begun is not None and painted(s.document) != painted(self.begun):
            self.tally.wrong(f"action {self.tally.done}: all undone is not as it was begun: {self._off(self.begun)}")
        s.undo.setIndex(index)
        self.settle()
        if painted(s.document) != last:
            self.tally.wrong(f"action {self.tally.done}: done again is another: {self._off(last)}")
        path = self.folder / "kept.ochre"
        wrong = s.files.save(path)
        found = None if wrong else open_project(path)
        if found is None or found.document != s.document or (found.picture is None) != (s.picture is None):
            self.tally.wrong(f"action {self.tally.done}: saved and opened again is another: {wrong}")

    def _off(self, other: Document) -> str:
        here, there = painted(self.window.studio.document), painted(other)
        return ", ".join(f for f in type(here).model_fields if getattr(here, f) != getattr(there, f))


def run(tally: Tally, count: int) -> None:
    """Go on until ``count`` actions are done."""
    with tempfile.TemporaryDirectory(prefix="ochre-actions-") as name:
        user = User(tally, Path(name))

        def hook(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
            user.errors.append("".join(traceback.format_exception(kind, error, trace))[-900:])

        old, sys.excepthook = sys.excepthook, hook
        try:
            with answered(user):
                _go_on(user, tally, count)
        finally:
            sys.excepthook = old
            user.window.studio.undo.setClean()
            user.window.session.keeping.close()
            user.window.session.close()
            user.window.deleteLater()
            user.app.processEvents()
    tally.save()


def _go_on(user: User, tally: Tally, count: int) -> None:
    while tally.done < count:
        if tally.done % _COMPARE == 0 or user.begun is None:
            user.rng = np.random.default_rng((tally.seed, tally.done))
            user.begin()
        for _ in range(min(_COMPARE - tally.done % _COMPARE, count - tally.done)):
            began = time.monotonic()
            what = user.act()
            user.turn()
            seconds = time.monotonic() - began
            user.late(seconds, what)
            if user.rng.random() < 0.1:
                time.sleep(0.05)  # let some work come in
                user.turn()
            if user.errors:
                tally.add("other", seconds, f"action {tally.done} of seed {tally.seed}, {what}: {user.errors.pop(0)}")
                user.errors.clear()
            else:
                tally.add("done", seconds)
        user.compare()
        if user.errors:
            tally.wrong(f"comparing after {tally.done}: {user.errors.pop(0)}")
            user.errors.clear()
        tally.save()


def answered(user: User) -> Any:
    """Dialogs that wait are answered at random; files that are asked for are made ones, or none."""

    def name(*_: object, **__: object) -> tuple[str, str]:
        return (str(user.folder / "photo.png"), "") if user.rng.random() < 0.5 else ("", "")

    def out(*_: object, **__: object) -> tuple[str, str]:
        kind = ("pdf", "svg", "png", "csv", "json", "ochre")[int(user.rng.integers(0, 6))]
        return (str(user.folder / f"out.{kind}"), "") if user.rng.random() < 0.7 else ("", "")

    def shown(dialog: QDialog) -> int:
        dialog.open()
        user.turn()
        dialog.done(0)
        return 0

    def text(*_: object, **__: object) -> tuple[str, bool]:
        return _WORDS[int(user.rng.integers(0, len(_WORDS)))], bool(user.rng.random() < 0.7)

    def asked(parent: QWidget, words: str, answers: list[str]) -> str:
        return answers[int(user.rng.integers(0, len(answers)))]

    patches: list[tuple[object, str, Callable[..., Any]]] = [
        (QFileDialog, "getOpenFileName", name), (QFileDialog, "getSaveFileName", out), (QDialog, "exec", shown),
        (QMessageBox, "exec", shown), (QInputDialog, "getText", text),
    ]  # fmt: skip
    stack = contextlib.ExitStack()
    for where, what, instead in patches:
        stack.enter_context(mock.patch.object(where, what, instead))
    stack.enter_context(mock.patch("ochre_stone.desktop.window.files.ask", asked))
    return stack
