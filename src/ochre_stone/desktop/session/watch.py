"""Sees when another window writes a file that all windows share."""

import contextlib
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QFileSystemWatcher, QObject, QTimer

from ochre_stone.core.store.safecopy import Stamp, stamp

_CALM_MS = 60


class Watch(QObject):
    """Calls ``changed`` soon after ``path`` is another file: files are replaced whole, so its folder is looked at."""

    def __init__(self, path: Path, changed: Callable[[], None], parent: QObject) -> None:
        super().__init__(parent)
        self.path, self.changed = path, changed
        self._known: Stamp | None = stamp(path)
        self._calm = QTimer(self)
        self._calm.setSingleShot(True)
        self._calm.setInterval(_CALM_MS)
        self._calm.timeout.connect(self._look)
        self._watcher = QFileSystemWatcher(self)
        self._watcher.directoryChanged.connect(self._stirred)
        with contextlib.suppress(OSError):
            path.parent.mkdir(parents=True, exist_ok=True)
        self._watcher.addPath(str(path.parent))

    def stop(self) -> None:
        """Nothing is heard any more. What is not stopped can be taken apart while it tells of a change."""
        self._watcher.directoryChanged.disconnect(self._stirred)
        self._calm.stop()
        self.deleteLater()

    def _stirred(self, _folder: str) -> None:
        self._calm.start()

    def _look(self) -> None:
        now = stamp(self.path)
        if now != self._known:
            self._known = now
            self.changed()
