"""Windows that write to one log while it is locked, moved away, without room or rights, and while windows are killed:
every act that a window did is in the log afterwards, or waits to be.

Each window is a process; the parent hinders. The oracle keeps what every window said that it had done.
"""

import contextlib
import errno
import json
import os
import signal
import sqlite3
import subprocess
import tempfile
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from unittest import mock

import numpy as np

from ochre_stone.core.errors import OchreError
from ochre_stone.logbook import exchange, waiting
from ochre_stone.logbook.book import Book
from ochre_stone.logbook.entry import Entry
from ochre_stone.logbook.openlog import OpenLog
from tests.logbook.made import START, THEN, entry
from tests.support.torture.tally import Tally

_NOBODY = 65_534
_ACTS, _WINDOWS = 12, 2
_IMPORTED = 400
TUBES = tuple(THEN.values())
Hinder = Callable[[Path, list[int], np.random.Generator], str]
"""What is done to the log's folder and the windows; "" or why it cannot be tried here."""


def run(tally: Tally, count: int) -> None:
    """Rounds of each hindrance, ``count`` in all."""
    with tempfile.TemporaryDirectory(prefix="ochre-logs-") as name:
        while tally.done < count:
            number = tally.done
            rng = np.random.default_rng((tally.seed, number))
            what = list(ROUNDS)[number % len(ROUNDS)]
            began = time.monotonic()
            wrong = run_one(what, Path(name) / str(number), rng)
            said = f"round {number} of seed {tally.seed}, {what}: {wrong}"
            tally.add("other" if wrong else what, time.monotonic() - began, said)
            tally.save()


def run_one(what: str, folder: Path, rng: np.random.Generator) -> str:
    """One round in a folder that is made for it; what went wrong."""
    folder.mkdir()
    try:
        return ROUNDS[what](folder, rng)
    except OchreError as error:
        return str(error)


def _acts(log: OpenLog, number: int, rng: np.random.Generator, say: Callable[[dict[str, str | None]], None]) -> None:
    """What a window does: piles are begun, changed and removed; each is said once the window has done with it."""
    mine: list[str] = []
    for n in range(_ACTS):
        kind = rng.random()
        if mine and kind < 0.2:
            uid = mine.pop(int(rng.integers(len(mine))))
            log.change(lambda book, u=uid: book.remove([u]))  # type: ignore[misc]
            say({uid: None})
        elif mine and kind < 0.5:
            uid, line = mine[int(rng.integers(len(mine)))], f"line {n}"

            def change(book: waiting.LogDraft, uid: str = uid, line: str = line) -> None:
                for e in book.entries([uid]):
                    book.put(e.model_copy(update={"line": line}))

            log.change(change)
            say({uid: line})
        else:
            made = entry({"yellow-ochre": 1.0}, START + n, n=1000 * number + n)
            mine.append(made.uid)

            def put(book: waiting.LogDraft, made: Entry = made) -> None:
                book.know(TUBES)
                book.put(made)

            log.change(put)
            say({made.uid: ""})
        time.sleep(float(rng.uniform(0, 0.02)))


def _window(path: Path, number: int, seed: int, prepare: Callable[[], None] = lambda: None) -> tuple[int, int]:
    """A window in a process of its own: its pid, and where it says what it has done."""
    out, into = os.pipe()
    child = os.fork()
    if child:
        os.close(into)
        return child, out
    code = 1
    try:
        os.close(out)
        prepare()
        log = OpenLog(path)
        _acts(log, number, np.random.default_rng(seed), lambda said: _say(into, said))
        if log.waiting.acts and not log.waiting.where:
            _say(into, {"": "nowhere to wait"})
        log.close()
        code = 0
    finally:
        os._exit(code)


def _say(into: int, said: dict[str, str | None]) -> None:
    os.write(into, json.dumps(said).encode() + b"\n")


def _heard(out: int) -> dict[str, str | None]:
    """All that a window said, the last word on each pile."""
    data = b""
    while more := os.read(out, 65536):
        data += more
    os.close(out)
    told: dict[str, str | None] = {}
    for line in data.splitlines():
        told |= json.loads(line)
    return told


def _round(
    folder: Path,
    rng: np.random.Generator,
    hinder: Callable[[Path, list[int]], None],
    prepare: Callable[[], None] = lambda: None,
    killed: bool = False,
    logs: Callable[[Path], list[Path]] = lambda path: [path],
) -> str:
    """Windows at work and something in their way; then one more window, and the comparison. What went wrong."""
    path = folder / "data" / "log.sqlite"
    elsewhere = folder / "tmp"
    with mock.patch.object(waiting, "_folders", lambda log: (log.parent, elsewhere)):
        with Book(path) as book:
            book.know(TUBES)
        windows = [_window(path, k + 1, int(rng.integers(2**31)), prepare) for k in range(_WINDOWS)]
        hinder(path, [child for child, _ in windows])
        told: dict[str, str | None] = {}
        for child, out in windows:
            told |= _heard(out)
            if os.waitpid(child, 0)[1] and not killed:
                return "a window failed"
        last = OpenLog(path)
        last.flush()
        left, why = len(last.waiting.acts), last.state().why
        last.close()
    if told.pop("", None):
        return "acts had nowhere to wait"
    return f"{left} acts still wait: {why}" if left else compared(told, [p for p in logs(path) if p.exists()], killed)


def compared(told: dict[str, str | None], logs: list[Path], killed: bool) -> str:
    """What the logs hold against what was done: uid to the line of the pile, None for one that was removed. A killed
    window may have done one act more than it said. Of two logs the first was moved away, and cannot be changed
    any more. "" where they agree."""
    found: dict[str, str] = {}
    for path in logs:
        with Book(path) as book:
            piles = book.entries([p.uid for p in book.listed(count=10_000)])
            if book.skipped:
                return book.skipped_words()
            found |= {e.uid: e.line for e in piles}
    lost = [uid for uid, line in told.items() if line is not None and uid not in found]
    old = [uid for uid, line in told.items() if line is not None and uid in found and found[uid] != line]
    back = [uid for uid, line in told.items() if line is None and uid in found]
    more = [uid for uid in found if uid not in told]
    if len(logs) > 1:
        old, back = [], []
    spare = _WINDOWS if killed else 0
    if len(lost) + len(old) + len(more) > spare or back:
        return f"lost {lost}, not as changed {old}, removed and there {back}, unknown {more}"
    return ""


@contextlib.contextmanager
def _locked(path: Path) -> Iterator[None]:
    other = sqlite3.connect(path, isolation_level=None)
    try:
        with contextlib.suppress(sqlite3.OperationalError):
            other.execute("BEGIN IMMEDIATE")
        yield
        with contextlib.suppress(sqlite3.OperationalError):
            other.execute("ROLLBACK")
    finally:
        other.close()


def _two_windows(folder: Path, rng: np.random.Generator) -> str:
    return _round(folder, rng, lambda path, children: None)


def _lock(folder: Path, rng: np.random.Generator) -> str:
    def hinder(path: Path, children: list[int]) -> None:
        time.sleep(float(rng.uniform(0, 0.2)))
        with _locked(path):
            time.sleep(float(rng.uniform(0.5, 3)))

    return _round(folder, rng, hinder)


def _kill(folder: Path, rng: np.random.Generator) -> str:
    def hinder(path: Path, children: list[int]) -> None:
        locked = _locked(path) if rng.random() < 0.5 else contextlib.nullcontext()
        with locked:
            time.sleep(float(rng.uniform(0.01, 0.4)))
            os.kill(children[0], signal.SIGKILL)
            time.sleep(float(rng.uniform(0, 0.3)))

    return _round(folder, rng, hinder, killed=True)


def _gone(folder: Path, rng: np.random.Generator) -> str:
    """The log's folder is moved away; it may come back."""
    away = folder / "away"

    def hinder(path: Path, children: list[int]) -> None:
        time.sleep(float(rng.uniform(0, 0.2)))
        path.parent.rename(away)

    return _round(folder, rng, hinder, logs=lambda path: [away / path.name, path])


def _full(folder: Path, rng: np.random.Generator) -> str:
    """No room for the log nor beside it, as a disk that fills and is cleared; what is small finds room elsewhere."""
    place = folder / "data"
    place.mkdir()
    mount = ["mount", "-t", "tmpfs", "-o", "size=4m", "tmpfs", str(place)]
    mounted = subprocess.run(mount, capture_output=True, check=False).returncode == 0

    def hinder(path: Path, children: list[int]) -> None:
        if mounted:
            with contextlib.suppress(OSError), (place / "filler").open("wb", buffering=0) as filler:
                while True:
                    filler.write(bytes(4096))
            time.sleep(float(rng.uniform(0.1, 0.6)))
            (place / "filler").unlink()

    def no_room() -> None:  # where nothing can be mounted: the system refuses to let files grow
        if not mounted:
            import resource

            signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
            size = (place / "log.sqlite-wal").stat().st_size if (place / "log.sqlite-wal").exists() else 0
            resource.setrlimit(resource.RLIMIT_FSIZE, (max(size, 90_000), resource.RLIM_INFINITY))

    try:
        return _round(folder, rng, hinder, no_room)
    finally:
        if mounted:
            subprocess.run(["umount", "-l", str(place)], capture_output=True, check=False)


def _no_rights(folder: Path, rng: np.random.Generator) -> str:
    """Windows of somebody who may only read the log: their acts wait elsewhere until it may be written."""
    place = folder / "data"
    (folder / "tmp").mkdir(mode=0o777)
    real = os.open

    def refuse(path: object, flags: int, *rest: int, **more: int) -> int:
        if flags & (os.O_WRONLY | os.O_RDWR) and Path(str(path)).parent == place:
            raise PermissionError(errno.EACCES, "Permission denied", str(path))
        return real(path, flags, *rest, **more)  # type: ignore[arg-type]

    def prepare() -> None:
        os.open = refuse  # type: ignore[assignment]

    return _round(folder, rng, lambda path, children: None, prepare)


def _import_killed(folder: Path, rng: np.random.Generator) -> str:
    """An import that is killed in the middle took everything in, or nothing."""
    path = folder / "log.sqlite"
    piles = tuple(entry({"yellow-ochre": 1.0}, START + n, n=n) for n in range(_IMPORTED))
    source = folder / "log.json"
    source.write_bytes(exchange.as_json(exchange.Exchanged(format="ochre-stone-log", tubes=TUBES, piles=piles)))
    with Book(path) as book:
        book.know(TUBES)
    child = os.fork()
    if child == 0:
        try:
            with Book(path) as book:
                exchange.load_log(book, source)
        finally:
            os._exit(0)
    time.sleep(float(rng.uniform(0.005, 0.5)))
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)
    with Book(path) as book:
        there = book.count()
        if there not in (0, _IMPORTED):
            return f"{there} piles of {_IMPORTED}"
        exchange.load_log(book, source)
        return "" if book.count() == _IMPORTED and not book.skipped else f"{book.count()} piles after a second import"


ROUNDS: dict[str, Callable[[Path, np.random.Generator], str]] = {
    "two windows": _two_windows, "locked": _lock, "killed": _kill, "folder gone": _gone, "disk full": _full,
    "no rights": _no_rights, "import killed": _import_killed,
}  # fmt: skip
