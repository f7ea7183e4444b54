"""Unsaved work is kept safe while someone works, and brought back after an end that nobody wanted."""

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject, QTimer

from ochre_stone.core.document.document import Document
from ochre_stone.core.picture.picture import Floats
from ochre_stone.core.store import safecopy
from ochre_stone.core.store.safecopy import Brought, Left, SafeCopy
from ochre_stone.desktop.session.measuring import SCREEN_PIXELS
from ochre_stone.desktop.session.studio import Studio

_AFTER_MS = 8_000
"""From the first change that is not kept yet: with the writing, a safe copy is at most 15 s old."""
_AGAIN_MS = 500


class Keeping(QObject):
    """The window's safe copy. Every change is kept soon after; what is saved or given up is kept no longer."""

    def __init__(self, studio: Studio) -> None:
        super().__init__(studio)
        self.studio = studio
        self.copy = SafeCopy()
        self._complained = False
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.keep)
        studio.changed.connect(self._changed)
        studio.benched.connect(self._changed)
        studio.saved.connect(self.forget)
        studio.replaced.connect(self.forget)

    def _changed(self, old: Document, new: Document) -> None:
        # A step is told before the history counts it: whether anything is unsaved is seen when the copy is made.
        if old is not new and not self._timer.isActive():
            self._timer.start(_AFTER_MS)

    def keep(self) -> None:
        """Write the safe copy now, off the main thread."""
        self._timer.stop()
        s, turn = self.studio, self.copy.turn
        if s.jobs.busy("safe-copy"):
            self._timer.start(_AGAIN_MS)
            return
        document, picture, ahead, path, base = s.document, s.picture, s.ahead, s.path, s.base
        empty = picture is None and not document.notes and not document.bench.bench.piles
        if (s.undo.isClean() and ahead is None) or (empty and ahead is None):
            return

        def work(_: Any) -> None:
            self.copy.write(turn, document, picture, ahead, path, base)

        def arrived(_: None) -> None:
            self._complained = False

        s.jobs.start("safe-copy", work, arrived, self._failed, outlives=True)

    def _failed(self, words: str) -> None:
        """Said once, not every few seconds."""
        if not self._complained:
            self.studio.told.emit(words)
        self._complained = True

    def forget(self) -> None:
        """Nothing is unsaved any more, or it is given up."""
        self._timer.stop()
        self.copy.clear()

    def left(self) -> list[Left]:
        """Unsaved work of windows that are no more, the newest first."""
        return safecopy.ownerless()

    def bring(self, left: Left, done: Callable[[], None]) -> None:
        """Show unsaved work again and own its safe copy; failures are told and change nothing."""
        studio = self.studio

        def work(_: Any) -> tuple[Brought, Floats | None]:
            brought = safecopy.bring_back(left)
            document, picture = brought.project.document, brought.project.picture
            return brought, document.seen(picture, SCREEN_PIXELS) if picture is not None else None

        def arrived(answer: tuple[Brought, Floats | None]) -> None:
            studio.files.opening.emit(1.0)
            mine = SafeCopy()
            if not mine.take_over(left):
                studio.failed.emit(f"The unsaved work “{left.title}” is open in another window by now.")
                return
            studio.files.bring(*answer)
            self.copy.close()
            self.copy = mine
            done()

        studio.files.opening.emit(0.05)
        studio.jobs.start("load", work, arrived, self._not_brought, outlives=True)

    def _not_brought(self, words: str) -> None:
        self.studio.files.opening.emit(1.0)
        self.studio.failed.emit(words)

    def stop(self) -> None:
        """Nothing more is to be kept; what is kept stays."""
        self._timer.stop()

    def close(self) -> None:
        """The window goes, and what was saved or given up needs no safe copy."""
        self._timer.stop()
        self.copy.close()
