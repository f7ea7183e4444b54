"""What is to be written into a log, as data: acts that can wait, in their order, where the log cannot be written now,
and are kept in a file of their own meanwhile."""

import contextlib
import fcntl
import hashlib
import os
import tempfile
import uuid
from collections.abc import Iterable, Iterator, Sequence
from pathlib import Path
from typing import Literal

from pydantic import Field, ValidationError

from ochre_stone.core.errors import OchreError
from ochre_stone.core.frozen import Frozen
from ochre_stone.core.picture.reading import read_bytes
from ochre_stone.core.store.atomic import write_bytes
from ochre_stone.core.store.checking import first_fault, read_model
from ochre_stone.logbook.book import Book
from ochre_stone.logbook.entry import IN_BASE_64, Answer, Entry, TubeThen
from ochre_stone.logbook.logfile import LogShutError

_MOST_BYTES = 64_000_000
_MOST_ACTS = 10_000
_ENDING = ".waiting"


class Act(Frozen):
    """What one thing that the painter did changes in the log; done whole or not at all, and twice is as once."""

    model_config = IN_BASE_64

    tubes: tuple[TubeThen, ...] = ()
    removed: tuple[str, ...] = ()
    put: tuple[Entry, ...] = ()
    answers: tuple[Answer, ...] = ()

    @property
    def is_nothing(self) -> bool:
        return not (self.removed or self.put or self.answers)

    def do(self, book: Book) -> None:
        """Write it. Raises LogShutError where the log cannot be written now."""
        book.apply(self.tubes, self.removed, self.put, self.answers)


class LogDraft:
    """A log as it will be once what waits is in it: looked at as a :class:`Book` is, and changed into an act."""

    def __init__(self, book: Book, waiting: Sequence[Act] = ()) -> None:
        self.book, self._waiting = book, tuple(waiting)
        self._tubes: list[TubeThen] = []
        self._removed: list[str] = []
        self._put: list[Entry] = []
        self._answers: list[Answer] = []

    @property
    def act(self) -> Act:
        """What was changed."""
        return Act(
            tubes=tuple(self._tubes), removed=tuple(self._removed), put=tuple(self._put), answers=tuple(self._answers)
        )

    def know(self, tubes: Iterable[TubeThen]) -> None:
        """Keep tubes as they are now; known ones stay as they were."""
        self._tubes += tubes

    def put(self, *entries: Entry) -> None:
        """Keep entries, each in place of the one with its uid. Raises OchreError for one that no log can hold."""
        for e in entries:
            try:
                held = Entry.model_validate(e.model_dump())
            except ValidationError as error:
                raise OchreError(f"“{e.name}” cannot be written down: {first_fault(error)}.") from None
            self._put = [p for p in self._put if p.uid != e.uid] + [held]
            self._removed = [uid for uid in self._removed if uid != e.uid]

    def remove(self, uids: Iterable[str]) -> None:
        """Take entries out."""
        gone = [*uids]
        self._put = [p for p in self._put if p.uid not in gone]
        self._removed += gone

    def answer(self, *answers: Answer) -> None:
        """Keep answers."""
        self._answers += answers

    def entries(self, uids: Sequence[str]) -> list[Entry]:
        """Entries in full, in the order asked for; unknown ones are left out."""
        there = {e.uid: e for e in self.book.entries(uids)}
        for act in (*self._waiting, self.act):
            for uid in act.removed:
                there.pop(uid, None)
            there |= {e.uid: e for e in act.put if e.uid in uids}
        return [there[uid] for uid in uids if uid in there]

    def lacking(self, entry: Entry) -> bool:
        """Whether an entry holds tubes that the log has no figures of."""
        known = {t.key for act in (*self._waiting, self.act) for t in act.tubes} | set(self.book.tubes())
        return any(key not in known for p in entry.puts for key, _ in p.dose.shares)

    def of_pile(self, project: str, pile: str, number: int) -> list[str]:
        """Uids of the entries of a pile of the plan, the newest first."""
        own = [e for act in (*self._waiting, self.act) for e in act.put]
        same = [e for e in own if (e.project, e.pile, e.number) == (project, pile, number)]
        newest = [e.uid for e in sorted(same, key=lambda e: -e.begun)]
        return [*dict.fromkeys([*newest, *self.book.of_pile(project, pile, number)])]


class _Kept(Frozen):
    """The file of acts that wait."""

    format: Literal["ochre-stone-log-waiting"] = "ochre-stone-log-waiting"
    acts: tuple[Act, ...] = Field(default=(), max_length=_MOST_ACTS)


class Waiting:
    """The acts that wait for one log, in order, kept beside it, or where there is room."""

    def __init__(self, log: Path | None) -> None:
        """``log``: the log's file, None for one in memory. What an ended program left is taken over."""
        self.log = log
        self.acts: list[Act] = []
        self.lost: list[str] = []
        """What no log can hold, in words."""
        self._file: Path | None = None
        self._lock: int | None = None
        self._kept: list[Act] = []
        if log is not None:
            self._take_over()

    @property
    def where(self) -> str:
        """The folder in which all that waits would be found after a kill; "" for none."""
        return str(self._file.parent) if self._file is not None and self._kept == self.acts else ""

    def add(self, act: Act, keep: bool = True) -> None:
        """One more, after all the others."""
        self.acts.append(act)
        if keep:
            self.keep()

    def write(self, book: Book) -> int:
        """Do them in order, as far as it goes, and drop those that are done. How many were. Raises LogShutError where
        the log still cannot be written; what no log can hold is dropped, and told in :attr:`lost`."""
        done = 0
        while self.acts:
            try:
                self.acts[0].do(book)
                done += 1
            except LogShutError:
                raise
            except OchreError as error:
                self.lost.append(str(error))
            self.acts.pop(0)
        return done

    def keep(self) -> None:
        """Bring the file to what waits now; there is none where nothing does."""
        if self.log is None or self._kept == self.acts:
            return
        if not self.acts:
            self._drop()
            return
        data = _Kept(acts=tuple(self.acts)).model_dump_json().encode()
        for folder in _folders(self.log):
            file = self._file if self._file is not None and self._file.parent == folder else _fresh(folder, self.log)
            with contextlib.suppress(OSError, OchreError):
                folder.mkdir(parents=True, exist_ok=True, mode=0o700)
                if folder.stat().st_uid != os.getuid():
                    continue  # somebody else's, in a place that all may write to
                write_bytes(file, data, private=True)
                if file != self._file:
                    self._drop()
                    self._file = file
                self._hold()
                self._kept = [*self.acts]
                return

    def close(self) -> None:
        """Let the file go: the next that opens the log takes it over."""
        if self._lock is not None:
            os.close(self._lock)
            self._lock = None

    def _hold(self) -> None:
        """Say that this file is in use; a new one was written in its place."""
        assert self._file is not None
        lock = os.open(self._file, os.O_RDONLY | os.O_NOFOLLOW)
        with contextlib.suppress(OSError):
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        self.close()
        self._lock = lock

    def _drop(self) -> None:
        if self._file is not None:
            with contextlib.suppress(OSError):
                self._file.unlink()
        self._file, self._kept = None, []
        self.close()

    def _take_over(self) -> None:
        assert self.log is not None
        for file in _left(self.log):
            with contextlib.suppress(OSError):
                lock = os.open(file, os.O_RDONLY | os.O_NOFOLLOW)
                try:
                    fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
                    kept = read_model(_Kept, read_bytes(file, _MOST_BYTES))
                except (OSError, ValueError):  # another window's, or damaged: it stays where it is
                    continue
                finally:
                    os.close(lock)
                self.acts += kept.acts
                self.keep()
                if self.where and file != self._file:
                    file.unlink()


def _folders(log: Path) -> tuple[Path, ...]:
    """Where acts can wait: beside the log, else where there may be room, at last in memory that outlives us."""
    own = f"ochre-stone-{os.getuid()}"
    return log.parent, Path(tempfile.gettempdir()) / own, Path("/dev/shm") / own


def _stem(log: Path) -> str:
    """Tells the logs of different folders apart."""
    return f"{log.name}.{hashlib.sha256(os.fsencode(log.absolute())).hexdigest()[:8]}"


def _fresh(folder: Path, log: Path) -> Path:
    return folder / f"{_stem(log)}.{uuid.uuid4().hex[:12]}{_ENDING}"


def _left(log: Path) -> Iterator[Path]:
    for folder in _folders(log):
        with contextlib.suppress(OSError):
            if folder.is_dir() and folder.stat().st_uid == os.getuid():
                yield from sorted(folder.glob(f"{_stem(log)}.*{_ENDING}"))
