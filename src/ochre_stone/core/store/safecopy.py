"""Safe copies of unsaved work: one folder for each window, owned by a lock that dies with it.

A folder holds ``work.json`` (the document, what was undone and can be done again, the project's file and how that
looked when it was last read or saved), the reference byte for byte, written once, and a small picture. Only folders
without a living owner are offered to anybody, and nobody removes another's.
"""

import contextlib
import json
import os
import shutil
import threading
import time
import uuid
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from urllib.parse import unquote_to_bytes, urlparse

from platformdirs import user_state_path
from pydantic import BaseModel, Field

from ochre_stone.core.document.document import Document
from ochre_stone.core.errors import OchreError, one_line
from ochre_stone.core.picture.load import load_bytes, read_file
from ochre_stone.core.picture.picture import Picture
from ochre_stone.core.picture.reading import read_bytes
from ochre_stone.core.store import locking
from ochre_stone.core.store.atomic import own_folder, write_bytes
from ochre_stone.core.store.files import Project, checked, preview, read_document

_LOCK, _WORK, _PREVIEW = "lock", "work.json", "preview.png"
_MOST_JSON = 40_000_000
_YOUNG_S = 60.0

Stamp = tuple[int, int]
"""Time of the last change in nanoseconds and size in bytes of a project's file."""


def root() -> Path:
    """Where safe copies lie."""
    return user_state_path("ochre-stone") / "unsaved"


def stamp(path: Path | None) -> Stamp | None:
    """How a file looks now; None where there is none."""
    if path is None:
        return None
    try:
        found = path.stat()
    except OSError:
        return None
    return found.st_mtime_ns, found.st_size


@dataclass(frozen=True)
class Left:
    """Unsaved work that a window left which ended before it was saved."""

    folder: Path
    title: str
    path: Path | None
    """The project's file; None for work that was never saved."""
    time: float
    """When it was kept, seconds since 1970."""
    base: Stamp | None
    """The file as it was when the work on it began."""

    @property
    def picture(self) -> bytes | None:
        """The small picture as PNG, where there is one."""
        with contextlib.suppress(OSError):
            return (self.folder / _PREVIEW).read_bytes()
        return None

    @property
    def saved_since(self) -> bool:
        """Whether the project's file is another than the one that was worked on."""
        return self.path is not None and stamp(self.path) not in (None, self.base)


@dataclass(frozen=True, eq=False)
class Brought:
    """Unsaved work, read again."""

    project: Project
    ahead: Document | None
    """The furthest state that had been undone again; None where nothing had."""
    left: Left


class SafeCopy:
    """The safe copy of one window. Safe to use from several threads."""

    def __init__(self) -> None:
        self._folder: Path | None = None
        self._lock: int | None = None
        self._mutex = threading.Lock()
        self._turn = self._kept = 0
        """How often it was cleared, and how often it had been when what lies there was written."""
        self._written: Picture | None = None
        self._reference = ""

    @property
    def folder(self) -> Path | None:
        """Where it lies; None before anything was kept."""
        return self._folder

    @property
    def turn(self) -> int:
        """Counts how often it was cleared: what was begun before that is not written after it."""
        return self._turn

    def write(
        self,
        turn: int,
        document: Document,
        picture: Picture | None,
        ahead: Document | None,
        path: Path | None,
        base: Stamp | None,
    ) -> None:
        """Keep this state, whole or not at all, unless :meth:`clear` came since ``turn``. Raises OchreError."""
        about = {
            "path": path.resolve().as_uri() if path is not None else None,
            "title": one_line(path.stem) if path is not None else document.title,
            "time": time.time(),
            "base": base,
        }
        states = f'"document": {document.model_dump_json()}, "ahead": {ahead.model_dump_json() if ahead else "null"}'
        small = preview(document, picture) if picture is not None else None
        with self._mutex:
            if turn != self._turn:
                return
            folder = self._own()
            if picture is not self._written or not self._reference:
                self._put_reference(folder, picture)
            about["reference"] = self._reference
            write_bytes(folder / _WORK, f"{json.dumps(about)[:-1]}, {states}}}".encode(), private=True)
            for old in folder.glob("reference-*"):
                if old.name != self._reference:
                    old.unlink(missing_ok=True)
            self._kept = turn
            if small is not None:
                write_bytes(folder / _PREVIEW, small, private=True)
        self._sweep()  # somebody may have cleared meanwhile, and not waited

    def _sweep(self) -> None:
        """Remove what was kept before the last clearing. Never waits: who holds the copy sweeps when it is done."""
        while self._kept != self._turn and self._mutex.acquire(blocking=False):
            try:
                if self._folder is not None and self._kept != self._turn:
                    self._written, self._reference = None, ""
                    _empty(self._folder)
                self._kept = self._turn
            finally:
                self._mutex.release()

    def _put_reference(self, folder: Path, picture: Picture | None) -> None:
        self._written, self._reference = None, ""
        if picture is not None:
            name = f"reference-{uuid.uuid4().hex[:8]}"
            write_bytes(
                folder / name, picture.source, private=True
            )  # where this fails, it is tried again with the next change
            self._reference = name
        self._written = picture

    def _own(self) -> Path:
        if self._folder is not None and not self._folder.is_dir():  # somebody tidied up: what is kept needs a new place
            if self._lock is not None:
                locking.let_lock_go(self._lock)
            self._folder, self._lock, self._written, self._reference = None, None, None, ""
        if self._folder is None:
            try:
                folder = root() / uuid.uuid4().hex
                own_folder(root().parent, ours=True)
                own_folder(root(), ours=True)
                folder.mkdir(mode=0o700)
                lock = locking.take(folder / _LOCK)
            except OSError as error:
                raise OchreError(
                    f"Unsaved work cannot be kept safe in '{root()}' ({error.strerror}): save it often."
                ) from None
            if lock is None:
                raise OchreError(f"Unsaved work cannot be kept safe in '{root()}': save it often.")
            self._folder, self._lock = folder, lock
        return self._folder

    def clear(self) -> None:
        """Nothing is unsaved any more, or it is given up. Never waits for a writer: that one clears up itself."""
        self._turn += 1
        self._sweep()

    def close(self) -> None:
        """The window goes: give the folder up with all that is in it."""
        self.clear()
        with self._mutex:
            if self._folder is not None:
                shutil.rmtree(self._folder, ignore_errors=True)
            if self._lock is not None:
                locking.let_lock_go(self._lock)
            self._folder, self._lock = None, None

    def take_over(self, left: Left) -> bool:
        """Become the owner of work that was left, in place of what this window kept. False where somebody else owns it
        by now, or it is gone."""
        try:
            lock = locking.take(left.folder / _LOCK) if (left.folder / _WORK).exists() else None
        except OSError:
            return False
        if lock is None:
            return False
        self.close()
        with self._mutex:
            self._folder, self._lock = left.folder, lock
        return True

    def let_go(self) -> None:
        """Leave everything where it is, without an owner: to be offered again."""
        with self._mutex:
            if self._lock is not None:
                locking.let_lock_go(self._lock)
            self._turn += 1
            self._kept = self._turn
            self._folder, self._lock, self._written, self._reference = None, None, None, ""


def _empty(folder: Path) -> None:
    """Remove what is kept; ``work.json`` first, since without it the rest is nothing."""
    for name in (_WORK, _PREVIEW, *(p.name for p in folder.glob("reference-*"))):
        with contextlib.suppress(OSError):
            (folder / name).unlink(missing_ok=True)


def ownerless() -> list[Left]:
    """Work that was left by windows that are no more, the newest first. Clears folders that hold nothing."""
    found = []
    with contextlib.suppress(OSError):
        for folder in root().iterdir():
            with contextlib.suppress(OSError):
                lock = locking.take(folder / _LOCK)
                if lock is None:
                    continue
                try:
                    left = _about(folder)
                    if left is not None:
                        found.append(left)
                    elif time.time() - folder.stat().st_mtime > _YOUNG_S and not (folder / _WORK).exists():
                        shutil.rmtree(folder, ignore_errors=True)
                finally:
                    locking.let_lock_go(lock)
    return sorted(found, key=lambda left: -left.time)


def remove(left: Left) -> bool:
    """Give left work up for good; False where somebody owns it by now."""
    copy = SafeCopy()
    if not copy.take_over(left):
        return False
    copy.close()
    return True


class _Held(BaseModel):
    """What ``work.json`` holds; the documents are checked when they are brought back."""

    path: str | None = None
    title: str = ""
    time: float = Field(ge=0, le=1e11)
    base: Stamp | None = None
    reference: str = ""
    document: Any = None
    ahead: Any = None


def _held(folder: Path) -> _Held:
    return _Held.model_validate_json(read_bytes(folder / _WORK, _MOST_JSON))


def _about(folder: Path) -> Left | None:
    """What a folder holds; None for nothing. A damaged one is told by its time alone."""
    try:
        when = (folder / _WORK).stat().st_mtime
    except OSError:
        return None
    try:
        held = _held(folder)
        path = Path(os.fsdecode(unquote_to_bytes(urlparse(held.path).path))) if held.path else None
        return Left(folder, held.title or "Untitled", path, held.time, held.base)
    except (ValueError, OSError):
        return Left(folder, "Untitled", None, when, None)


def bring_back(left: Left) -> Brought:
    """Read left work. Raises OchreError where it is damaged; it stays where it is."""
    name = f"the unsaved work “{left.title}”"
    try:
        held = _held(left.folder)
        document = read_document(json.dumps(held.document).encode(), name)
        further = read_document(json.dumps(held.ahead).encode(), name) if held.ahead else None
        reference = Path(held.reference).name
    except OchreError:
        raise
    except (ValueError, OSError):
        raise OchreError(f"{name} is damaged: it lies in '{left.folder}'.") from None
    picture = load_bytes(read_file(left.folder / reference), document.reference) if reference else None
    return Brought(checked(document, picture, name), further, left)
