"""A log that somebody works with: opened when it can be, written when it can be."""

import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import TypeVar

from ochre_stone.core.errors import OchreError
from ochre_stone.logbook.book import Book
from ochre_stone.logbook.demo import demo_log
from ochre_stone.logbook.exchange import take_in
from ochre_stone.logbook.waiting import LogDraft, Waiting

Looked = TypeVar("Looked")
_ANEW_S = 2.0
"""A log that can only be read is opened anew after this, to see what others wrote."""


@dataclass(frozen=True)
class LogState:
    """How a log stands."""

    waiting: int = 0
    """Acts that could not be written yet."""
    where: str = ""
    """The folder in which they are kept; "" where that cannot be done either."""
    why: str = ""
    lost: tuple[str, ...] = ()
    """Acts that no log can hold, in words."""
    hindered: tuple[str, ...] = ()
    """What of it could not be read, and that it can only be read, in words."""


class OpenLog:
    """One log: its file, as far as it is open, and what waits for it. For one thread."""

    def __init__(self, path: Path | None) -> None:
        """``path``: its file, None for the demo's made-up log, which is gone with the program."""
        self.path = path
        self.waiting = Waiting(path)
        self._book: Book | None = None
        self._opened = 0.0
        self._none = Book.in_memory()
        self._why = ""

    def book(self, makes: bool) -> Book:
        """It, open; looking at one that is not there yet makes none. Raises OchreError."""
        book = self._book
        old = time.monotonic() - self._opened > _ANEW_S
        if book is not None and (not book.is_there or (book.read_only and (makes or old))):
            self._let_go()
        if self._book is None:
            if self.path is not None and not makes and not self.path.exists():
                return self._none
            self._book = Book(self.path) if self.path is not None else Book.in_memory()
            self._opened = time.monotonic()
            if self.path is None:
                take_in(self._book, demo_log(time.time()))
        return self._book

    def change(self, work: Callable[[LogDraft], Looked]) -> Looked:
        """Work on a draft, and write what it changes, or let it wait."""
        try:
            draft = LogDraft(self.book(True), self.waiting.acts)
            answer = work(draft)
        except OchreError as error:  # it cannot be opened or read: what is known is what waits
            self._why = str(error)
            draft = LogDraft(self._none, self.waiting.acts)
            answer = work(draft)
        if not draft.act.is_nothing:
            self.waiting.add(draft.act, keep=False)
            self.flush()
        return answer

    def write_now(self, work: Callable[[Book], Looked]) -> Looked:
        """Work on the file itself, after all that waits. Raises OchreError where that cannot be done now."""
        self.flush()
        if self.waiting.acts:
            raise OchreError(f"{self._why}: nothing was done, try again later.")
        return work(self.book(True))

    def flush(self) -> int:
        """Write what waits, as far as it goes; how many acts are in the log now."""
        try:
            return self.waiting.write(self.book(True)) if self.waiting.acts else 0
        except OchreError as error:
            self._why = str(error).rstrip(".")
            return 0
        finally:
            self.waiting.keep()

    def state(self) -> LogState:
        """How it stands; what is lost is told once."""
        lost, self.waiting.lost = tuple(self.waiting.lost), []
        book = self._book
        said = (book.skipped_words(), book.read_only_words()) if book is not None else ()
        return LogState(len(self.waiting.acts), self.waiting.where, self._why, lost, tuple(w for w in said if w))

    def close(self) -> None:
        """Write what can be written, and let the files go; what waits is there for the next that opens the log."""
        self.flush()
        self._let_go()
        self._none.close()
        self.waiting.close()

    def _let_go(self) -> None:
        if self._book is not None:
            self._book.close()
        self._book = None
