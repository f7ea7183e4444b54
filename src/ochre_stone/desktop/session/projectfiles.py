"""Projects and photos in and out of the studio, off the main thread."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QEventLoop, QObject, QTimer, pyqtSignal

from ochre_stone.core.document.document import TITLE, Document, Mixed
from ochre_stone.core.errors import one_line
from ochre_stone.core.picture.load import glimpse, load_bytes, read_file
from ochre_stone.core.picture.picture import Floats
from ochre_stone.core.store.files import SUFFIX, Project, open_project, save
from ochre_stone.core.store.safecopy import Brought, Stamp, stamp
from ochre_stone.desktop.session.history import OpenProject
from ochre_stone.desktop.session.measuring import SCREEN_PIXELS

_SOON_MS = 30


class ProjectFiles(QObject):
    """Opens and saves what the studio shows."""

    glimpsed = pyqtSignal(object)
    """A quick small copy, sRGB bytes, of a photo that is being opened."""
    opening = pyqtSignal(float)
    """How far opening a file is, 0..1; 1 when it is over, well or not."""

    stays = pyqtSignal()
    """What was shown before is shown on."""

    def __init__(
        self,
        project: OpenProject,
        show: Callable[[Project, Path | None, Floats | None], None],
        prepare: Callable[[Mixed], None],
    ) -> None:
        super().__init__(project)
        self.project, self._show, self._prepare = project, show, prepare
        self.arriving = False
        """Whether what was opened waits for what is being saved."""

    def load(
        self, path: str | Path, done: Any = None, as_copy: bool = False, may_replace: Callable[[], bool] | None = None
    ) -> None:
        """Open a photo or a project off the main thread; failures are told and change nothing.

        ``as_copy``: the file is not the one to save over. ``may_replace`` is asked where work was done meanwhile.
        """
        path = Path(path)
        before, base = self.project.undo.index(), stamp(path)

        def work(report: Any) -> tuple[Project, Floats | None]:
            report(0.05)
            if path.suffix == SUFFIX:
                project = open_project(path)
            else:
                data = read_file(path)
                report(glimpse(data, path.name, SCREEN_PIXELS))
                report(0.25)
                picture = load_bytes(data, path.name)
                project = Project(Document(title=one_line(path.stem, TITLE), reference=picture.name), picture)
            self._prepare(project.document.mixed)
            report(0.85)
            screen = project.document.seen(project.picture, SCREEN_PIXELS) if project.picture is not None else None
            report(0.98)
            return project, screen

        def on_the_way(what: Any) -> None:
            if isinstance(what, float):
                self.opening.emit(what)
            elif what is not None:
                self.glimpsed.emit(what)

        def arrived(answer: tuple[Project, Floats | None]) -> None:
            self.arriving = self.project.jobs.busy("save")
            if self.arriving:  # what is being saved stays in its place until it is
                QTimer.singleShot(_SOON_MS, lambda: arrived(answer))
                return
            self.opening.emit(1.0)
            worked = self.project.undo.index() != before and not self.project.undo.isClean()
            if worked and may_replace is not None and not may_replace():
                self.stays.emit()
                return
            self._show(answer[0], path if path.suffix == SUFFIX and not as_copy else None, answer[1])
            self.project.base = base if self.project.path is not None else None
            if done is not None:
                done()

        def failed(message: str) -> None:
            self.opening.emit(1.0)
            self.stays.emit()  # what was shown before is shown again
            self.project.failed.emit(message)

        self.project.jobs.start("load", work, arrived, failed, on_the_way, outlives=True)

    def bring(self, brought: Brought, screen: Floats | None) -> None:
        """Show unsaved work again, as it was; what had been undone can be done again."""
        left = brought.left
        self._show(brought.project, left.path, screen)
        self.project.base = left.base
        self.project.begin_history(brought.ahead)

    def cancel_opening(self) -> None:
        """Stop opening a file; what was shown before stays."""
        if self.project.jobs.busy("load"):
            self.project.jobs.cancel("load")
            self.opening.emit(1.0)
            self.stays.emit()

    def save(self, path: Path) -> str:
        """Write the project off the main thread, and wait with the window alive; "" or what went wrong."""
        if self.project.jobs.busy("save"):
            return "The project is still being saved: wait a moment."
        document, picture, index, era = (
            self.project.document,
            self.project.picture,
            self.project.undo.index(),
            self.project.era,
        )
        loop = QEventLoop()
        wrong: list[str] = []

        def failed(message: str) -> None:
            wrong.append(message)
            loop.quit()

        def work(_: Any) -> Stamp | None:
            save(path, document, picture)
            return stamp(path)

        def arrived(now: Stamp | None) -> None:
            if self.project.era == era:
                self.project.path, self.project.base = path, now
                if self.project.undo.index() == index:  # nothing was changed meanwhile
                    self.project.undo.setClean()
                    self.project.saved.emit()
                self.project.path_changed.emit()
            loop.quit()

        self.project.jobs.start("save", work, arrived, failed, outlives=True)
        # No clicks and keys meanwhile: a second save must not start inside the first.
        loop.exec(QEventLoop.ProcessEventsFlag.ExcludeUserInputEvents)
        return wrong[0] if wrong else ""
