"""Locks on files between windows and processes, by ``flock``: one dies with its owner, however that ends."""

import contextlib
import fcntl
import os
import time
from collections.abc import Iterator
from pathlib import Path

_WAIT_S = 5.0


def take(path: Path) -> int | None:
    """Own the lock file ``path`` (made where it is not there): its descriptor, or None where somebody else owns it.

    The lock ends with :func:`let_go` or with the process. Raises OSError where the file cannot be made or locked.
    """
    handle = os.open(path, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        os.close(handle)
        return None
    except OSError:
        os.close(handle)
        raise
    return handle


def let_lock_go(handle: int) -> None:
    """End a lock of :func:`take`."""
    os.close(handle)


@contextlib.contextmanager
def lock_held(path: Path) -> Iterator[None]:
    """Hold the lock file beside ``path`` while something is read and written again; waits for others.

    After five seconds it goes on without: a disk that cannot lock, or an owner that hangs, must not keep a painter
    from saving, and writing is whole or not at all in any case.
    """
    end = time.monotonic() + _WAIT_S
    handle: int | None = None
    with contextlib.suppress(OSError):
        while (handle := take(path.with_name(f".{path.name}.lock"))) is None and time.monotonic() < end:
            time.sleep(0.01)
    try:
        yield
    finally:
        if handle is not None:
            let_lock_go(handle)
