"""Work off the main thread: the newest job of a kind wins, older ones are cancelled and their answers dropped.

Files have threads of their own: a painter who saves does not wait until strings are worked out.
"""

import logging
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from ochre_stone.core.errors import OchreError

_log = logging.getLogger(__name__)
_THREADS = 2
_FILES = ("load", "save", "safe-copy")

Report = Callable[[Any], None]
"""Takes progress 0..1, or whatever else the owner of the job wants to see on the way."""


class CancelledError(Exception):
    """Raised inside a job through its progress callback."""


@dataclass(eq=False)
class _Job:
    """One piece of work. Plain Python: whichever thread drops it last, no Qt object dies with it."""

    kind: str
    work: Callable[[Report], Any]
    done: Callable[[Any], None]
    failed: Callable[[str], None] | None
    progress: Report | None
    outlives: bool = False
    cancelled: bool = False


class Jobs(QObject):
    """Runs jobs by kind. ``busy`` tells which kinds are under way."""

    busy_changed = pyqtSignal()
    _event = pyqtSignal(object, str, object)
    """From a worker to the main thread: job, what happened, and the answer, message or progress."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._pool = ThreadPoolExecutor(_THREADS, thread_name_prefix="ochre-stone")
        self._files = ThreadPoolExecutor(len(_FILES), thread_name_prefix="ochre-stone-files")
        self._jobs: dict[str, _Job] = {}
        self._stopped = False
        self._event.connect(self._happened)

    def start(
        self,
        kind: str,
        work: Callable[[Report], Any],
        done: Callable[[Any], None],
        failed: Callable[[str], None] | None = None,
        progress: Report | None = None,
        outlives: bool = False,
    ) -> None:
        """Start ``work``; its answer goes to ``done`` on the main thread unless a newer job of the kind was started.

        The work is given a function that reports progress (0..1) and raises when the job was cancelled. ``outlives``:
        whether it goes on when another project is shown, as files, devices and the paint box do; of all else the answer
        means nothing then.
        """
        if self._stopped:
            return  # a timer came after the end
        self.cancel(kind)
        job = _Job(kind, work, done, failed, progress, outlives)
        self._jobs[kind] = job
        (self._files if kind in _FILES else self._pool).submit(self._run, job)
        self.busy_changed.emit()

    def _run(self, job: _Job) -> None:
        def report(share: Any) -> None:
            if job.cancelled:
                raise CancelledError
            self._event.emit(job, "progress", share)

        try:
            if job.cancelled:
                return
            answer = job.work(report)
        except CancelledError:
            return
        except OchreError as error:
            self._event.emit(job, "failed", str(error))
        except Exception:
            _log.exception("a piece of work failed")
            words = "Something went wrong inside the program; your work is kept. Save and try again."
            self._event.emit(job, "failed", words)
        else:
            self._event.emit(job, "done", answer)

    def _happened(self, job: _Job, what: str, answer: Any) -> None:
        if self._jobs.get(job.kind) is not job:
            return
        if what == "progress":
            if job.progress is not None:
                job.progress(answer)
            return
        del self._jobs[job.kind]
        deliver: Callable[[Any], None] | None = job.done if what == "done" else job.failed
        if deliver is not None:
            deliver(answer)
        self.busy_changed.emit()

    def cancel(self, kind: str) -> None:
        """Forget the job of that kind."""
        job = self._jobs.pop(kind, None)
        if job is not None:
            job.cancelled = True
            self.busy_changed.emit()

    def drop_project(self) -> None:
        """Another project is shown: forget what was asked about the one before."""
        for job in list(self._jobs.values()):
            if not job.outlives:
                self.cancel(job.kind)

    def kinds(self) -> list[str]:
        """Kinds of the jobs that are under way."""
        return list(self._jobs)

    def busy(self, *kinds: str) -> bool:
        """True while any of ``kinds`` (or any at all) is under way."""
        return any(k in self._jobs for k in kinds) if kinds else bool(self._jobs)

    def stop(self) -> None:
        """Cancel everything and wait for the threads."""
        self._stopped = True
        for kind in self.kinds():
            self.cancel(kind)
        for pool in (self._files, self._pool):
            pool.shutdown(wait=True, cancel_futures=True)
