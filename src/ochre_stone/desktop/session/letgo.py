"""Memory that a picture took, given back to the system once another one is shown."""

import contextlib
import ctypes

from PyQt6.QtCore import QObject, QTimer

from ochre_stone.desktop.session.jobs import Jobs

_AFTER_MS = 2000


def give_back() -> None:
    """Ask the C library to hand unused memory back; large arrays leave holes that it would keep. Where it cannot,
    nothing happens."""
    with contextlib.suppress(OSError, AttributeError):
        ctypes.CDLL(None).malloc_trim(0)


class LetGo(QObject):
    """Does it a moment after it was asked for last, off the main thread."""

    def __init__(self, jobs: Jobs) -> None:
        super().__init__(jobs)
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(_AFTER_MS)
        self._timer.timeout.connect(lambda: jobs.start("let-go", lambda _: give_back(), lambda _: None, outlives=True))

    def soon(self) -> None:
        """Another picture is shown."""
        self._timer.start()
