"""What is measured of the project's picture, off the main thread: its screen copy, what it lost, the notes in it."""

from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, pyqtSignal

from ochre_stone.core.document.document import Document
from ochre_stone.core.picture.picture import Floats
from ochre_stone.desktop.session.history import OpenProject

if TYPE_CHECKING:
    from ochre_stone.core.keys.cover import LeftOver
    from ochre_stone.core.picture.losses import Losses

SCREEN_PIXELS = 1_300_000


class Measuring(QObject):
    """Keeps the figures of the present picture."""

    light_changed = pyqtSignal()
    """The screen copy in the chosen light is new."""
    lost_changed = pyqtSignal()
    """What the photo lost is measured anew."""
    notes_measured = pyqtSignal()
    """Shares and what is left over are new."""

    def __init__(self, project: OpenProject) -> None:
        super().__init__(project)
        self.project = project
        self.screen: Floats | None = None
        """Linear-light screen copy through the frame and in the chosen light."""
        self._screen_key: Any = None
        self.rest: LeftOver | None = None
        self.losses: Losses | None = None
        self._asked: Document | None = None

    def begin(self, screen: Floats | None) -> None:
        """Another picture is shown; ``screen``: its screen copy, where it is made already."""
        self.screen, self.rest, self.losses = None, None, None
        picture, document = self.project.picture, self.project.document
        if picture is not None:
            self.screen = screen if screen is not None else document.seen(picture, SCREEN_PIXELS)
            self._screen_key = document.light_key

    def look_for_losses(self) -> None:
        """What the photo lost, through the frame of now."""
        from ochre_stone.core.picture.losses import losses

        seen = self.project.seen
        if seen is None:
            return

        def arrived(found: "Losses") -> None:
            self.losses = found
            self.lost_changed.emit()

        self.project.jobs.start("lost", lambda _: losses(seen), arrived, self.project.failed.emit)

    def make_screen(self) -> None:
        """The screen copy in the light and the frame of now."""
        if self.project.picture is None:
            return
        picture, document = self.project.picture, self.project.document

        def arrived(screen: Floats) -> None:
            self.screen, self._screen_key = screen, document.light_key
            self.light_changed.emit()

        self.project.jobs.start(
            "light", lambda _: document.seen(picture, SCREEN_PIXELS), arrived, self.project.failed.emit
        )

    def measure_notes(self) -> None:
        """The notes' shares of the picture, and what is left over."""
        from ochre_stone.core.planning.noting import with_shares

        if self.project.picture is None:
            return
        picture, document = self.project.picture, self.project.document

        def arrived(answer: "tuple[Document, LeftOver]") -> None:
            measured, self.rest = answer
            if [n.lab for n in measured.notes] == [n.lab for n in self.project.document.notes]:
                share = {n.id: n.share for n in measured.notes}
                notes = tuple(n.model_copy(update={"share": share[n.id]}) for n in self.project.document.notes)
                self.project.amend(self.project.document.model_copy(update={"notes": notes}))
            self.notes_measured.emit()

        self.project.jobs.start("measure", lambda _: with_shares(picture, document), arrived, self.project.failed.emit)

    def relight(self, text: str, document: Document, kind: str = "") -> None:
        """Change the light and read every note anew, as one step; many notes are read off the main thread."""
        from ochre_stone.core.planning.noting import reread

        picture = self.project.picture
        if picture is None or not document.notes:
            self.project.change(text, document, kind)
            return
        self._asked = document
        wanted = {f: getattr(document, f) for f in ("balance", "balance_from", "balance_words", "light")}

        def arrived(again: Document) -> None:
            if (
                self.project.document.notes != document.notes
            ):  # notes were changed meanwhile: read those that are there now
                self.relight(text, self.project.document.model_copy(update=wanted), kind)
            else:
                self.project.change(
                    text, self.project.document.model_copy(update={**wanted, "notes": again.notes}), kind
                )

        self.project.jobs.start("reread", lambda _: reread(picture, document), arrived, self.project.failed.emit)

    @property
    def latest(self) -> Document:
        """The document with the light that was asked for last, while notes are still being read in it."""
        return self._asked if self._asked is not None and self.project.jobs.busy("reread") else self.project.document

    @property
    def screen_is_coming(self) -> bool:
        """Whether the screen copy is of an older light or frame, and a new one is being made."""
        return self._screen_key != self.project.document.light_key and self.project.jobs.busy("light")
