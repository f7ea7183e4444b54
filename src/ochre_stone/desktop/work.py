"""Work off the main thread: the newest job of a kind wins, older ones are cancelled and their answers dropped."""

import logging
from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject, QRunnable, QThreadPool, pyqtSignal

from ochre_stone.core.errors import OchreError

_log = logging.getLogger(__name__)


class CancelledError(Exception):
    """Raised inside a job through its progress callback."""


class _Signals(QObject):
    done = pyqtSignal(object)
    failed = pyqtSignal(str)
    progress = pyqtSignal(float)


class Job(QRunnable):
    """One piece of work. The work is given a function that reports progress and raises when cancelled."""

    def __init__(self, work: Callable[[Callable[[float], None]], Any]) -> None:
        super().__init__()
        self.setAutoDelete(False)
        self.work = work
        self.signals = _Signals()
        self.cancelled = False

    def _report(self, share: float) -> None:
        if self.cancelled:
            raise CancelledError
        self.signals.progress.emit(share)

    def run(self) -> None:
        try:
            if self.cancelled:
                return
            answer = self.work(self._report)
        except CancelledError:
            return
        except OchreError as error:
            self.signals.failed.emit(str(error))
        except Exception:
            _log.exception("a piece of work failed")
            self.signals.failed.emit("Something went wrong inside the program; your work is kept. Save and try again.")
        else:
            self.signals.done.emit(answer)


class Jobs(QObject):
    """Runs jobs by kind. ``busy`` tells which kinds are under way."""

    busy_changed = pyqtSignal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(2)
        self._jobs: dict[str, Job] = {}

    def start(
        self,
        kind: str,
        work: Callable[[Callable[[float], None]], Any],
        done: Callable[[Any], None],
        failed: Callable[[str], None] | None = None,
        progress: Callable[[float], None] | None = None,
    ) -> None:
        """Start ``work``; its answer goes to ``done`` on the main thread unless a newer job of the kind was started."""
        self.cancel(kind)
        job = Job(work)
        self._jobs[kind] = job

        def finish(deliver: Callable[[Any], None] | None, answer: Any) -> None:
            if self._jobs.get(kind) is not job:
                return
            del self._jobs[kind]
            if deliver is not None:
                deliver(answer)
            self.busy_changed.emit()

        job.signals.done.connect(lambda answer: finish(done, answer))
        job.signals.failed.connect(lambda message: finish(failed, message))
        if progress is not None:
            job.signals.progress.connect(lambda share: progress(share) if self._jobs.get(kind) is job else None)
        self._pool.start(job)
        self.busy_changed.emit()

    def cancel(self, kind: str) -> None:
        """Forget the job of that kind."""
        job = self._jobs.pop(kind, None)
        if job is not None:
            job.cancelled = True
            self.busy_changed.emit()

    def busy(self, *kinds: str) -> bool:
        """True while any of ``kinds`` (or any at all) is under way."""
        return any(k in self._jobs for k in kinds) if kinds else bool(self._jobs)

    def stop(self) -> None:
        """Cancel everything and wait for the threads."""
        for kind in list(self._jobs):
            self.cancel(kind)
        self._pool.waitForDone(5000)
