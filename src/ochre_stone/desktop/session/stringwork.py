"""The strings of the project's document, worked out off the main thread where somebody shows them."""

from collections import OrderedDict
from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from ochre_stone.core.document.document import Document, Mixed
from ochre_stone.desktop.session.history import OpenProject

REMEMBERED = 12
"""How many plans of strings are kept, to be taken again."""
_REST_MS = 350


class StringWork(QObject):
    """Keeps the strings of the present document."""

    changed = pyqtSignal()
    progress = pyqtSignal(float)

    def __init__(self, project: OpenProject) -> None:
        super().__init__(project)
        self.project = project
        self.prepare: Callable[[Mixed], None] = lambda mixed: None
        """Called off the main thread with strings that will be shown."""
        self._print: tuple[Document, str] | None = None
        """The document whose fingerprint was asked for last, and that fingerprint."""
        self._remembered: OrderedDict[str, Mixed] = OrderedDict()
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(_REST_MS)
        self._later.timeout.connect(self._mix_now)
        self._wanted = False

    @property
    def waiting(self) -> bool:
        """Whether strings are about to be worked out, once nothing moves."""
        return self._later.isActive()

    def same(self, old: Document, new: Document) -> None:
        """A document took the place of another from which no other strings follow."""
        if self._print is not None and self._print[0] is old:
            self._print = new, self._print[1]

    def stop(self) -> None:
        """Nothing more is to be worked out."""
        self._later.stop()

    def _fingerprint(self) -> str:
        from ochre_stone.core.planning.rows import fingerprint

        return fingerprint(self.project.document)

    def ready(self) -> bool:
        """True when the strings belong to the present notes, scheme and palette."""
        if self._print is None or self._print[0] is not self.project.document:
            self._print = self.project.document, self._fingerprint()
        return self.project.document.mixed.fingerprint in (self._print[1], self._print[1].partition("-")[2])

    def want(self, wanted: bool) -> None:
        """Whether a station shows strings: nobody else should pay for them."""
        self._wanted = wanted
        if wanted:
            self.refresh()

    def refresh(self) -> None:
        """Work the strings out anew where they are wanted and out of date."""
        if not self.project.document.notes or self.ready():
            if self.project.jobs.busy("mix") or self._later.isActive():
                self._later.stop()
                self.project.jobs.cancel("mix")
                self.changed.emit()
            return
        known = self._remembered.get(self._fingerprint())
        if known is not None:
            self._put(known)
        elif self._wanted:
            self.project.jobs.cancel("mix")
            self._later.start()

    def cancel(self) -> None:
        """Stop working on strings until something changes."""
        self._later.stop()
        self.project.jobs.cancel("mix")
        self.changed.emit()

    def _mix_now(self) -> None:
        from ochre_stone.core.planning.noting import with_shares
        from ochre_stone.core.planning.planning import mix_strings

        document, picture = self.project.document, self.project.picture

        def work(report: Any) -> Mixed:
            # Without a photo, notes of the scene count alike.
            measured = with_shares(picture, document)[0] if picture is not None else document
            mixed = mix_strings(measured, report)
            self.prepare(mixed)
            return mixed

        def arrived(mixed: Mixed) -> None:
            self.remember(mixed)
            if mixed.fingerprint == self._fingerprint():
                self._put(mixed)

        self.project.jobs.start("mix", work, arrived, self.project.failed.emit, self.progress.emit)
        self.progress.emit(0.0)

    def remember(self, mixed: Mixed) -> None:
        """Keep strings that were worked out, for when they are wanted again."""
        self._remembered[mixed.fingerprint] = mixed
        while len(self._remembered) > REMEMBERED:
            self._remembered.popitem(last=False)

    def _put(self, mixed: Mixed) -> None:
        self.project.show_strings(mixed)
        self.changed.emit()
