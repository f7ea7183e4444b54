"""Opening, saving, exporting, and keeping unsaved work safe."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, QTimer
from PyQt6.QtWidgets import QMessageBox, QWidget

from ochre_stone.core.project.files import SUFFIX, save
from ochre_stone.desktop.session import settings as memory
from ochre_stone.desktop.session.session import Session
from ochre_stone.desktop.widgets.asking import PHOTOS, ask_open, ask_save
from ochre_stone.resources import resource

_AUTOSAVE_MS = 60_000


def _safe_copy(path: Path) -> Path:
    """Where unsaved changes to a project are kept safe: hidden beside it."""
    return path.with_name(f".{path.stem}.autosave{SUFFIX}")


class Files(QObject):
    """The window's dealings with files."""

    def __init__(self, window: QWidget, session: Session) -> None:
        super().__init__(window)
        self.window_, self.studio, self.settings = window, session.studio, session.settings
        self._told = ""
        self.studio.told.connect(self._remember_told)
        self._timer = QTimer(self)
        self._timer.setInterval(_AUTOSAVE_MS)
        self._timer.timeout.connect(self.autosave)
        self._timer.start()

    def _remember_told(self, words: str) -> None:
        self._told = words

    def ask_open(self) -> None:
        """Ask for a photo or a project."""
        if not self.may_go_on():
            return
        kinds = f"Photos and projects ({PHOTOS} *{SUFFIX});;Projects (*{SUFFIX});;All files (*)"
        path = ask_open(self.window_, "Open a photo or a project", self.settings.folder, kinds)
        if path is not None:
            self.open(path, asked=True)

    def open(self, path: Path, asked: bool = False) -> None:
        """Open a photo or a project; unsaved work is asked about first."""
        if not asked and not self.may_go_on():
            return

        def done() -> None:
            self.settings.remember(path)
            memory.store(self.settings)
            self.studio.path_changed.emit()
            if self._told == opening:
                self.studio.told.emit(f"Opened {path.name}.")

        opening = f"Opening {path.name}…"
        self.studio.told.emit(opening)
        if path.suffix == SUFFIX and self._rescue(path, done):
            return
        self.studio.load(path, done, may_replace=self.may_go_on)

    def _rescue(self, path: Path, done: Callable[[], None]) -> bool:
        """Where a newer safe copy lies beside a project: offer it, and open it in the project's place as unsaved."""
        copy = _safe_copy(path)
        if not copy.exists() or (path.exists() and copy.stat().st_mtime <= path.stat().st_mtime):
            return False
        if not self._ask(f"The last time “{path.stem}” ended before it was saved. Bring the unsaved work back?"):
            copy.unlink(missing_ok=True)
            return False

        def arrived() -> None:
            self.studio.path = path
            self.studio.undo.resetClean()
            done()

        self.studio.load(copy, arrived, as_copy=True)
        return True

    def _ask(self, words: str) -> bool:
        buttons = QMessageBox.StandardButton
        return bool(
            QMessageBox.question(self.window_, "Ochre Stone", words, buttons.Yes | buttons.No, buttons.Yes)
            == buttons.Yes
        )

    def ask_demo(self) -> None:
        """Open the demo, unless unsaved work is wanted."""
        if self.may_go_on():
            self.open_demo()

    def open_demo(self) -> None:
        """Open the demo project as an untitled copy: the shipped one is never written to."""
        words = "This is a copy of the demo: try anything; Save asks where to keep it."
        self.studio.load(resource("demo", "orchard-keeper.ochre"), lambda: self.studio.told.emit(words), as_copy=True)

    def save(self) -> bool:
        """Save; asks where when that is not known."""
        if self.studio.path is None:
            return self.save_as()
        return self.save_to(self.studio.path)

    def save_as(self) -> bool:
        """Ask where to save."""
        name, kinds = f"{self.studio.title}{SUFFIX}", f"Projects (*{SUFFIX})"
        path = ask_save(self.window_, "Save the project", self.settings.folder, name, kinds)
        return path is not None and self.save_to(path)

    def save_to(self, path: Path) -> bool:
        """Save to a file; says what went wrong and gives False when it could not."""
        wrong = self.studio.save(path)
        if wrong:
            self.studio.failed.emit(wrong)
            return False
        self.settings.remember(path)
        memory.store(self.settings)
        memory.autosave_file().unlink(missing_ok=True)
        _safe_copy(path).unlink(missing_ok=True)
        self.studio.told.emit(f"Saved {path.name}.")
        self.studio.path_changed.emit()
        return True

    def may_go_on(self) -> bool:
        """False when there is unsaved work that the painter wants to keep at hand."""
        if self.studio.undo.isClean():
            return True
        buttons = QMessageBox.StandardButton
        answer = QMessageBox.question(
            self.window_, "Ochre Stone", f"Save the changes to “{self.studio.title}” first?",
            buttons.Save | buttons.Discard | buttons.Cancel, buttons.Save,
        )  # fmt: skip
        if answer == buttons.Save:
            return self.save()
        return bool(answer == buttons.Discard)

    def autosave(self) -> None:
        """Keep a copy of unsaved work, off the main thread."""
        document, picture = self.studio.document, self.studio.picture
        if self.studio.undo.isClean() or (picture is None and not document.notes):
            return
        path = self.studio.path
        place = _safe_copy(path) if path is not None else memory.autosave_file()

        def work(_: Any) -> None:
            place.parent.mkdir(parents=True, exist_ok=True)
            save(place, document, picture)

        self.studio.jobs.start("autosave", work, lambda _: None, self.studio.told.emit)

    def offer_autosave(self) -> bool:
        """After a crash: bring unsaved work back, if the painter wants it. True when it is on its way."""
        place = memory.autosave_file()
        if not place.exists():
            return False
        if self._ask("The last time ended before the work was saved. Bring it back?"):
            self.studio.load(place, self.studio.undo.resetClean, as_copy=True)
            return True
        place.unlink(missing_ok=True)
        return False

    def begin(self, path: str | None, demo: bool) -> None:
        """What the window starts with: unsaved work of the last time, else the demo or the file that was asked for."""
        if self.offer_autosave():
            return
        if demo:
            self.open_demo()
        elif path is not None:
            self.open(Path(path), asked=True)

    def close(self) -> None:
        """The window goes: what was saved or given up needs no safe copy."""
        self._timer.stop()
        path = self.studio.path
        memory.autosave_file().unlink(missing_ok=True)
        if path is not None:
            _safe_copy(path).unlink(missing_ok=True)
