"""Memory that a picture took, given back to the system once another one is shown."""

import contextlib
import ctypes

from PyQt6.QtCore import QObject, QTimer

from ochre_stone.desktop.session.jobs import Jobs

_AFTER_MS, _KIND = 2000, "let-go"


def give_back() -> None:
    """Ask the C library to hand unused memory back; large arrays leave holes that it would keep. Where it cannot,
    nothing happens."""
    with contextlib.suppress(OSError, AttributeError):
        ctypes.CDLL(None).malloc_trim(0)


class LetGo(QObject):
    """Does it off the main thread, a moment after the last piece of work ended."""

    def __init__(self, jobs: Jobs) -> None:
        super().__init__(jobs)
        self._jobs, self._worked = jobs, False
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(_AFTER_MS)
        self._timer.timeout.connect(self._begin)  # a method: it goes with this object, also when a window is dropped
        jobs.busy_changed.connect(self._changed)

    def _begin(self) -> None:
        self._jobs.start(_KIND, lambda _: give_back(), lambda _: None, outlives=True)

    def _changed(self) -> None:
        others = [k for k in self._jobs.kinds() if k != _KIND]
        if others:
            self._worked = True
            self._timer.stop()
        elif self._worked:
            self._worked = False
            self._timer.start()
