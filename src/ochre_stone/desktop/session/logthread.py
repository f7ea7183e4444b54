"""The log's own thread: what is asked of it is done in order, and answered on the main thread."""

import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any, TypeVar

from PyQt6.QtCore import QObject, pyqtSignal

from ochre_stone.core.errors import OchreError
from ochre_stone.logbook.book import Book
from ochre_stone.logbook.demo import demo_log
from ochre_stone.logbook.exchange import take_in

LogAnswer = TypeVar("LogAnswer")


class LogThread(QObject):
    """Keeps the books open. ``path``: where the log of now is, None for the demo's; ``era`` counts the projects that
    were shown: an answer about one is not for the next."""

    failed = pyqtSignal(str)
    """The log could not be used; each sentence once."""
    _arrived = pyqtSignal(object, object)

    def __init__(self, parent: QObject, path: Callable[[], Path | None], era: Callable[[], int]) -> None:
        super().__init__(parent)
        self._path, self._era = path, era
        self._pool = ThreadPoolExecutor(1, thread_name_prefix="ochre-stone-log")
        self._books: dict[Path | None, Book] = {}
        """By their files; None for the demo's."""
        self._nothing: Book | None = None
        self._stopped = False
        self._told: set[str] = set()
        self._waiting = 0
        self._arrived.connect(self._deliver)

    @property
    def idle(self) -> bool:
        """Whether nothing is being written or asked."""
        return self._waiting == 0

    def _book(self, path: Path | None, makes: bool) -> Book:
        """On the log's own thread alone."""
        if path is not None and not makes and not path.exists():
            return self._empty()
        if path not in self._books:
            book = Book.in_memory() if path is None else Book(path)
            if path is None:
                take_in(book, demo_log(time.time()))
            self._books[path] = book
        return self._books[path]

    def _empty(self) -> Book:
        if self._nothing is None:
            self._nothing = Book.in_memory()
        return self._nothing

    def ask(
        self, work: Callable[[Book], LogAnswer], done: Callable[[LogAnswer], None] = lambda _: None, makes: bool = False
    ) -> None:
        """Work on the log, in the order asked, off the main thread; the answer goes to ``done`` on the main thread.
        What goes wrong is told once. ``makes``: where there is no log yet one is begun; looking begins none."""
        if self._stopped:
            return
        path, era = self._path(), self._era()
        self._waiting += 1

        def run() -> None:
            answer: Any = None
            wrong = ""
            try:
                answer = work(self._book(path, makes))
            except OchreError as error:
                wrong = str(error)
            except Exception as error:
                wrong = f"The log could not be used ({error}): what you mix is not written down now."
            self._arrived.emit(lambda a: self._answered(a, wrong, era, done), answer)

        self._pool.submit(run)

    def _deliver(self, call: Callable[[Any], None], answer: Any) -> None:
        call(answer)

    def _answered(self, answer: Any, wrong: str, era: int, done: Callable[[Any], None]) -> None:
        self._waiting -= 1
        if wrong:
            if wrong not in self._told:
                self._told.add(wrong)
                self.failed.emit(wrong)
        elif era == self._era():
            done(answer)

    def stop(self) -> None:
        """Before the window goes: what is to be written is written."""
        if self._stopped:
            return
        self._stopped = True
        self._pool.submit(self._close)
        self._pool.shutdown(wait=True)

    def _close(self) -> None:
        for book in (*self._books.values(), *([self._nothing] if self._nothing is not None else [])):
            book.close()
