"""The log's own thread: what is asked of it is done in order, and answered on the main thread. What cannot be written
now waits, and is tried again."""

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any, TypeVar

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from ochre_stone.core.errors import OchreError
from ochre_stone.logbook.book import Book
from ochre_stone.logbook.openlog import LogState, OpenLog
from ochre_stone.logbook.waiting import LogDraft

LogAnswer = TypeVar("LogAnswer")
_RETRY_MS = 1500


class LogThread(QObject):
    """Keeps logs open. ``path``: where the log of now is, None for the demo's; ``era`` counts the projects that were
    shown: an answer about one is not for the next."""

    failed = pyqtSignal(str)
    """The log could not be used; each sentence once, until it can be used again."""
    told = pyqtSignal(str)
    """What waited is written."""
    caught_up = pyqtSignal()
    _arrived = pyqtSignal(object)

    def __init__(self, parent: QObject, path: Callable[[], Path | None], era: Callable[[], int]) -> None:
        super().__init__(parent)
        self._path, self._era = path, era
        self._pool = ThreadPoolExecutor(1, thread_name_prefix="ochre-stone-log")
        self._logs: dict[Path | None, OpenLog] = {}
        """By their files; on the log's own thread alone."""
        self._stopped = False
        self._told: set[str] = set()
        self._under_way = 0
        self._states: dict[Path | None, LogState] = {}
        self._again = QTimer(self)
        self._again.setInterval(_RETRY_MS)
        self._again.timeout.connect(self._retry)
        self._arrived.connect(self._deliver)

    @property
    def idle(self) -> bool:
        """Whether nothing is being written or asked."""
        return self._under_way == 0

    @property
    def waiting(self) -> int:
        """How many acts could not be written yet."""
        return sum(s.waiting for s in self._states.values())

    @property
    def unsafe(self) -> int:
        """How many of them are kept nowhere but in this window."""
        return sum(s.waiting for s in self._states.values() if not s.where)

    def ask(self, work: Callable[[Book], LogAnswer], done: Callable[[LogAnswer], None] = lambda _: None) -> None:
        """Look something up, in the order asked, off the main thread; the answer goes to ``done`` on the main thread.
        What goes wrong is told once. Looking begins no log where there is none."""
        self._submit(lambda log: work(log.book(False)), done)

    def change(self, work: Callable[[LogDraft], LogAnswer], done: Callable[[LogAnswer], None] = lambda _: None) -> None:
        """Change the log by way of a draft: what cannot be written now waits, in order, and is tried again."""
        self._submit(lambda log: log.change(work), done)

    def write_now(self, work: Callable[[Book], LogAnswer], done: Callable[[LogAnswer], None] = lambda _: None) -> None:
        """Work on the log's file itself: now, or not at all."""
        self._submit(lambda log: log.write_now(work), done)

    def _submit(self, work: Callable[[OpenLog], LogAnswer], done: Callable[[LogAnswer], None]) -> None:
        if self._stopped:
            return
        path, era = self._path(), self._era()
        self._under_way += 1

        def run() -> None:
            answer: Any = None
            wrong = ""
            state = LogState()
            try:
                log = self._log(path)
                try:
                    answer = work(log)
                finally:
                    state = log.state()
            except OchreError as error:
                wrong = str(error)
            except Exception as error:
                wrong = f"The log could not be used for this ({error})."
            self._report(lambda: self._answered(answer, wrong, era, done, path, state))

        self._pool.submit(run)

    def _log(self, path: Path | None) -> OpenLog:
        if path not in self._logs:
            self._logs[path] = log = OpenLog(path)
            log.flush()  # what a program that ended before could not write
        return self._logs[path]

    def _report(self, call: Callable[[], None]) -> None:
        if not self._stopped:  # nobody hears of it any more, but it is done
            self._arrived.emit(call)

    def _deliver(self, call: Callable[[], None]) -> None:
        call()

    def _answered(
        self, answer: Any, wrong: str, era: int, done: Callable[[Any], None], path: Path | None, state: LogState
    ) -> None:
        self._under_way -= 1
        self._stands(path, state)
        if wrong:
            self._fail(wrong)
        elif era == self._era():
            done(answer)

    def _fail(self, words: str) -> None:
        if words not in self._told:
            self._told.add(words)
            self.failed.emit(words)

    def _stands(self, path: Path | None, state: LogState) -> None:
        before = self._states.get(path, LogState())
        self._states[path] = state
        for words in (*state.lost, *state.hindered):
            self._fail(words)
        if state.waiting and (not before.waiting or bool(before.where) != bool(state.where)):
            kept = f"waits in {state.where}" if state.where else "is kept only as long as this window is open"
            self.failed.emit(f"{state.why}. What you mix {kept}, and is written as soon as it can be.")
        if before.waiting and not state.waiting:
            self._told.clear()
            self.told.emit("The log can be written again: all that waited is in it.")
            self.caught_up.emit()
        if self.waiting and not self._stopped:
            self._again.start()
        else:
            self._again.stop()

    def _retry(self) -> None:
        if self._stopped or not self.idle:
            return
        for path, state in [*self._states.items()]:
            if state.waiting:
                self._under_way += 1
                self._pool.submit(self._try_again, path)

    def _try_again(self, path: Path | None) -> None:
        log = self._logs[path]
        log.flush()
        state = log.state()
        self._report(lambda: self._answered(None, "", self._era(), lambda _: None, path, state))

    def stop(self) -> None:
        """Before the window goes. What is to be written is written, or kept, before the program ends; nothing waits for
        that here."""
        if self._stopped:
            return
        self._stopped = True
        self._again.stop()
        self._pool.submit(self._close)
        self._pool.shutdown(wait=False)

    def join(self) -> None:
        """Wait until all is done; for a program that has no window any more."""
        self._pool.shutdown(wait=True)

    def _close(self) -> None:
        for log in self._logs.values():
            log.close()
