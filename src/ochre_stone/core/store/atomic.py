"""Write a file whole or not at all."""

import contextlib
import errno
import fcntl
import os
import tempfile
import time
from pathlib import Path

from ochre_stone.core.errors import OchreError

_PREFIX, _SUFFIX = ".ochre-stone-", ".part"
_OLD_S = 60.0


def write_bytes(path: str | Path, data: bytes, private: bool = False) -> Path:
    """Write ``data`` through a temporary file beside ``path``, which is renamed over it once it is on the disk.

    A symbolic link stays, and the file that it leads to is written. A file that is there keeps its mode; a new one gets
    what the umask allows; a ``private`` one is its owner's alone. What an ended program left of its own temporary files
    in the folder is cleared. Raises OchreError when the file cannot be written; an older one is then left as it was.
    """
    path = Path(path)
    part: str | None = None
    try:
        target = Path(os.path.realpath(path))
        _clear(target.parent)
        handle, part = tempfile.mkstemp(prefix=_PREFIX, suffix=_SUFFIX, dir=target.parent)
        with os.fdopen(handle, "wb") as file:
            with contextlib.suppress(OSError):  # a folder that cannot lock: then age alone protects it
                fcntl.flock(file.fileno(), fcntl.LOCK_EX | fcntl.LOCK_NB)
            file.write(data)
            file.flush()
            os.fchmod(file.fileno(), 0o600 if private else _mode(target))
            os.fsync(file.fileno())
            os.replace(part, target)
        part = None
        _sync_folder(target.parent)
    except OSError as error:
        long = error.errno == errno.ENAMETOOLONG
        todo = "choose a shorter name" if long else "choose another folder or free some space"
        raise OchreError(f"'{path}' could not be written ({error.strerror}): {todo}.") from None
    finally:
        if part is not None:
            with contextlib.suppress(OSError):
                os.unlink(part)
    return path


def own_folder(folder: Path, ours: bool = False) -> None:
    """Make a folder that is its owner's alone, where there is none. ``ours``: one that is there is the program's, and
    is made so. Raises OSError."""
    if not folder.is_dir():
        folder.parent.mkdir(parents=True, exist_ok=True)
        folder.mkdir(mode=0o700, exist_ok=True)
    elif ours and folder.stat().st_mode & 0o077:
        with contextlib.suppress(OSError):  # on a file system without modes
            folder.chmod(0o700)


def _mode(target: Path) -> int:
    try:
        return target.stat().st_mode & 0o777
    except FileNotFoundError:
        return 0o666 & ~_umask()


def _umask() -> int:
    """This process's umask, without setting it meanwhile where the system tells it."""
    with contextlib.suppress(OSError, ValueError):
        for line in Path("/proc/self/status").read_text(encoding="ascii", errors="replace").splitlines():
            if line.startswith("Umask:"):
                return int(line.split()[1], 8)
    return 0o022


def _sync_folder(folder: Path) -> None:
    """After a rename: a power cut must not bring the old name back."""
    with contextlib.suppress(OSError):  # some file systems cannot; the file itself is safe
        handle = os.open(folder, os.O_RDONLY | os.O_DIRECTORY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def _clear(folder: Path) -> None:
    """Remove temporary files that nobody is writing any more: unlocked, and not of this minute."""
    with contextlib.suppress(OSError):
        for left in folder.glob(f"{_PREFIX}*{_SUFFIX}"):
            with contextlib.suppress(OSError):
                if time.time() - left.stat().st_mtime < _OLD_S:
                    continue
                handle = os.open(left, os.O_RDONLY | os.O_NOFOLLOW)
                try:
                    fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
                    left.unlink()
                finally:
                    os.close(handle)
