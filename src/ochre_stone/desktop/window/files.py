"""Opening, saving, exporting, and keeping unsaved work safe."""

import sys
from pathlib import Path

from PyQt6.QtCore import QObject, QProcess
from PyQt6.QtWidgets import QWidget

from ochre_stone.core.errors import one_line
from ochre_stone.core.store.files import SUFFIX
from ochre_stone.core.store.safecopy import Left, remove, stamp
from ochre_stone.desktop.session import settings as memory
from ochre_stone.desktop.session.session import Session
from ochre_stone.desktop.widgets.asking import PHOTOS, ask, ask_open, ask_save
from ochre_stone.desktop.window.unsaved import Unsaved, when
from ochre_stone.resources import resource

BRING, AS_SAVED, SAVE, DISCARD, CANCEL, OVER = (
    "Bring it back", "Open as saved", "Save", "Discard", "Cancel", "Save over it",
)  # fmt: skip


class Files(QObject):
    """The window's dealings with files."""

    def __init__(self, window: QWidget, session: Session) -> None:
        super().__init__(window)
        self.window_, self.studio, self.settings = window, session.studio, session.settings
        self.keeping = session.keeping
        self._told = ""
        self.studio.told.connect(self._remember_told)

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
        left = self._left_of(path) if path.suffix == SUFFIX else None
        if left is not None and self._wants(left):
            self.keeping.bring(left, done)
            return
        self.studio.files.load(path, done, may_replace=self.may_go_on)

    def no_address(self, address: str) -> None:
        """An address was dropped that is no file here."""
        self.studio.failed.emit(
            f"“{one_line(address, 80)}” is not on this computer, and nothing is fetched: save the picture first, then "
            "open the file."
        )

    def _left_of(self, path: Path) -> Left | None:
        """The newest work on a project that a window left unsaved."""
        whole = path.resolve()
        return next((left for left in self.keeping.left() if left.path == whole), None)

    def _wants(self, left: Left) -> bool:
        """Whether work that was left is to be brought back in place of the saved project."""
        since = ", and the file was saved again since" if left.saved_since else ""
        words = (
            f"A window that worked on “{left.title}” ended before it was saved{since}. Its unsaved work is of "
            f"{when(left.time)}. What is not brought back stays under File, Unsaved work."
        )
        return ask(self.window_, words, (BRING, AS_SAVED)) == BRING

    @property
    def blank(self) -> bool:
        """Whether the window holds nothing yet, and nothing is on its way."""
        s = self.studio
        return s.picture is None and not s.document.notes and s.undo.count() == 0 and not s.jobs.busy("load")

    def show_unsaved(self, unless_none: bool = False) -> None:
        """All work that windows left unsaved: to be brought back or deleted."""
        found = self.keeping.left()
        if not found:
            if not unless_none:
                self.studio.told.emit("There is no unsaved work of windows that have ended.")
            return
        dialog = Unsaved(self.window_, found, remove)
        dialog.wanted.connect(self.bring)
        dialog.open()

    def bring(self, left: Left) -> None:
        """Bring unsaved work back: here where nothing else is shown, in a window of its own otherwise."""
        if self.blank:
            self.keeping.bring(left, lambda: self.studio.told.emit(f"Brought back: {left.title}, not saved yet."))
        elif not QProcess.startDetached(sys.executable, ["-m", "ochre_stone", "--bring-back", left.folder.name])[0]:
            self.studio.failed.emit("Another window could not be started: bring the work back from a fresh one.")

    def ask_demo(self) -> None:
        """Open the demo, unless unsaved work is wanted."""
        if self.may_go_on():
            self.open_demo()

    def open_demo(self) -> None:
        """Open the demo project as an untitled copy: the shipped one is never written to."""
        words = "This is a copy of the demo: try anything; Save asks where to keep it."
        self.studio.files.load(
            resource("demo", "orchard-keeper.ochre"), lambda: self.studio.told.emit(words), as_copy=True
        )

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
        studio = self.studio
        if path == studio.path and studio.base is not None and stamp(path) not in (None, studio.base):
            words = f"“{path.stem}” was saved by another window or program since it was opened here. Save over it?"
            if ask(self.window_, words, (OVER, CANCEL)) != OVER:
                return False
        wrong = studio.files.save(path)
        if wrong:
            self.studio.failed.emit(wrong)
            return False
        self.settings.remember(path)
        memory.store(self.settings)
        self.studio.told.emit(f"Saved {path.name}.")
        self.studio.path_changed.emit()
        return True

    def may_go_on(self) -> bool:
        """False when there is unsaved work that the painter wants to keep at hand."""
        if self.studio.undo.isClean():
            return True
        answer = ask(self.window_, f"Save the changes to “{self.studio.title}” first?", (SAVE, DISCARD, CANCEL))
        if answer == SAVE:
            return self.save()
        return answer == DISCARD

    def begin(self, path: str | None, demo: bool, bring: str = "") -> None:
        """What the window starts with: the file that was asked for, the demo, or the unsaved work in the folder named
        ``bring``; then all other unsaved work is offered."""
        wanted = next((left for left in self.keeping.left() if left.folder.name == bring), None) if bring else None
        if wanted is not None:
            self.bring(wanted)
            return
        if bring:
            self.studio.failed.emit("That unsaved work is open in another window by now, or it was deleted.")
        if demo:
            self.open_demo()
        elif path is not None:
            self.open(Path(path), asked=True)
        if not bring:
            self.show_unsaved(unless_none=True)

    def close(self) -> None:
        """The window goes."""
        self.keeping.close()
