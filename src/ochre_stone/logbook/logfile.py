"""A log's file: opened, for reading only where nothing else can be had, written whole or not at all, read as far as it
goes."""

import contextlib
import os
import sqlite3
from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import contextmanager
from datetime import datetime
from pathlib import Path
from typing import Any, Self, TypeVar
from urllib.parse import quote

from ochre_stone.core.errors import OchreError
from ochre_stone.core.store.atomic import own_folder, write_bytes
from ochre_stone.logbook.schema import SCHEMA_VERSION, bring_up, check_schema

Made = TypeVar("Made")
_WAIT_S = 0.4
"""For a lock of another window's; who wants to write asks again later."""
_PLAINLY = {
    "locked": "another program holds it", "full": "the disk is full", "readonly": "it may not be written",
}  # fmt: skip
"""What a painter is told of what the library says."""


class LogShutError(OchreError):
    """The log cannot be written just now: it is locked, the disk is full, or nothing may be written there."""


class LogFile:
    """One connection to a log's file; for one thread. Closed with :meth:`close` or as a context."""

    def __init__(self, path: Path, ours: bool = False) -> None:
        """Open the file at ``path``, made where there is none; ``ours``: its folder is the program's. Raises
        OchreError."""
        self.path = path
        self._open(str(path), ours)

    @classmethod
    def in_memory(cls) -> Self:
        """A log that is gone when it is closed."""
        made = cls.__new__(cls)
        made.path = Path(":memory:")
        made._open(":memory:")
        return made

    def _open(self, name: str, ours: bool = False) -> None:
        self.read_only = ""
        """Why nothing can be written, where the log can only be read."""
        self.skipped: set[str] = set()
        """Entries and other rows that could not be read, by what they are called."""
        self._copied = False
        self._made_as: tuple[int, int] | None = None
        try:
            if name != ":memory:":
                own_folder(self.path.parent, ours)
                os.close(os.open(self.path, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600))
            self._connect(name)
            check_schema(self.db, name)  # before anything is written
            self.db.execute("PRAGMA journal_mode = WAL")
            self.db.execute("PRAGMA synchronous = NORMAL")
            self.db.execute("PRAGMA foreign_keys = ON")
            bring_up(self.db, name)
            if name != ":memory:":
                for file in (self.path, *(self.path.with_name(self.path.name + end) for end in ("-wal", "-shm"))):
                    with contextlib.suppress(OSError):
                        file.chmod(0o600)
                self._made_as = _same(self.path)
        except OchreError:
            self.db.close()
            raise
        except (sqlite3.OperationalError, OSError) as error:
            self._open_to_read(name, error)
        except (sqlite3.Error, UnicodeDecodeError) as error:  # its own words may be damaged too
            self.db.close()
            words = f"The log '{name}' is damaged ({error}): move it away, and a new one is begun."
            raise OchreError(words) from None

    def _connect(self, name: str, uri: bool = False) -> None:
        self.db = sqlite3.connect(name, timeout=_WAIT_S, isolation_level=None, check_same_thread=False, uri=uri)
        self.db.text_factory = lambda held: held.decode(errors="replace")

    def _open_to_read(self, name: str, error: Exception) -> None:
        """A log that is locked, or lies where nothing can be written, is as good as ever: it is opened for reading."""
        if hasattr(self, "db"):
            self.db.close()
        why = str(getattr(error, "strerror", None) or error)
        readable = False
        try:
            there = self.path.stat().st_size > 0
            ways = ("mode=ro", "mode=ro&immutable=1")  # as it stands, where no file can be made beside it
            for how in ways[: 1 if "locked" in why else 2]:
                self._connect(f"file:{quote(str(self.path))}?{how}", uri=True)
                try:
                    readable = there and check_schema(self.db, name) == SCHEMA_VERSION
                    break
                except sqlite3.OperationalError:
                    self.db.close()
        except (sqlite3.Error, UnicodeDecodeError, OSError):
            pass  # told below
        if not readable:
            if hasattr(self, "db"):
                self.close()
            words = f"The log '{name}' cannot be opened now ({_plainly(why)})"
            raise LogShutError(f"{words}: it is left as it is, and tried again.")
        self.read_only = _plainly(why)
        self._made_as = _same(self.path)

    @property
    def is_there(self) -> bool:
        """Whether the file is still the one that was opened: another may have moved or removed it."""
        return str(self.path) == ":memory:" or self._made_as == _same(self.path)

    def read_only_words(self) -> str:
        """That nothing can be written, in one sentence; "" where it can."""
        return f"The log '{self.path}' can only be read now ({self.read_only})." if self.read_only else ""

    def skipped_words(self) -> str:
        """What could not be read, in one sentence; "" for nothing."""
        if not self.skipped:
            return ""
        n = len(self.skipped)
        what = f"{n} entries of the log cannot" if n > 1 else "One entry of the log cannot"
        return (
            f"{what} be read and {'are' if n > 1 else 'is'} left out ({min(self.skipped)}): '{self.path}' is damaged."
        )

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_: object) -> None:
        self.close()

    def close(self) -> None:
        """Let the file go."""
        self.db.close()

    @contextmanager
    def _writing(self) -> Iterator[sqlite3.Connection]:
        if self.read_only:
            raise self._shut(self.read_only)
        self._keep_a_copy()
        try:
            self.db.execute("BEGIN IMMEDIATE")
        except (sqlite3.Error, UnicodeDecodeError) as error:
            raise self._shut(error) from None
        try:
            yield self.db
            self.db.execute("COMMIT")
        except (sqlite3.Error, UnicodeDecodeError) as error:
            self._roll_back()
            if type(error) not in (sqlite3.IntegrityError, sqlite3.DataError):  # the file's fault
                raise self._shut(error) from None
            raise OchreError(f"The log '{self.path}' cannot hold this ({error}): it is as it was.") from None
        except BaseException:
            self._roll_back()
            raise

    def _roll_back(self) -> None:
        with contextlib.suppress(sqlite3.Error):
            if self.db.in_transaction:
                self.db.execute("ROLLBACK")

    def _shut(self, error: object) -> LogShutError:
        return LogShutError(f"The log '{self.path}' cannot be written now ({_plainly(error)})")

    def _keep_a_copy(self) -> None:
        """Before a log of which something could not be read is written to: as it is, beside it."""
        if not self.skipped or self._copied or str(self.path) == ":memory:":
            return
        self._copied = True
        copy = self.path.with_name(f"{self.path.name}.{datetime.now():%Y-%m-%d-%H%M%S}.damaged")
        try:
            with contextlib.closing(sqlite3.connect(copy)) as other:
                self.db.backup(other)
            copy.chmod(0o600)
        except (sqlite3.Error, OSError):
            with contextlib.suppress(OSError):
                write_bytes(copy, self.path.read_bytes(), private=True)

    def _rows(self, words: str, values: Sequence[object] = ()) -> list[tuple[Any, ...]]:
        """The rows of a question, as far as the file goes. Raises OchreError where it is too damaged for any."""
        out: list[tuple[Any, ...]] = []
        try:
            out.extend(self.db.execute(words, values))
        except sqlite3.OperationalError as error:
            raise LogShutError(f"The log '{self.path}' cannot be read now ({_plainly(error)})") from None
        except (sqlite3.Error, OverflowError, UnicodeDecodeError) as error:
            if not out:
                words = f"The log '{self.path}' is damaged and cannot be read here ({error})"
                raise OchreError(f"{words}: save what can be read.") from None
            self.skipped.add(f"what follows {str(out[-1][0])[:64]}")
        return out

    def _each(self, rows: Iterable[tuple[Any, ...]], what: str, make: Callable[[tuple[Any, ...]], Made]) -> list[Made]:
        """What is made of rows; those of which nothing can be made are counted and left out."""
        out = []
        for row in rows:
            try:
                out.append(make(row))
            except LogShutError:
                raise
            except (OchreError, ValueError, TypeError, LookupError, OverflowError, OSError, RecursionError):
                self.skipped.add(f"{what} {str(row[0])[:64]}")
        return out


def _plainly(error: object) -> str:
    said = str(error)
    return next((words for sign, words in _PLAINLY.items() if sign in said), said)


def _same(path: Path) -> tuple[int, int] | None:
    """What tells a file from another one of its name."""
    try:
        held = path.stat()
    except OSError:
        return None
    return held.st_dev, held.st_ino
