"""Read a file whole: only a regular one, and only of a size that can be meant."""

import errno
import os
import stat
from pathlib import Path
from typing import BinaryIO


def open_regular(path: str | Path, most: int) -> BinaryIO:
    """A regular file of at most ``most`` bytes, open for reading; raises as :func:`read_bytes`."""
    handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
    try:
        found = os.fstat(handle)
        if stat.S_ISDIR(found.st_mode):
            raise IsADirectoryError(errno.EISDIR, os.strerror(errno.EISDIR), str(path))
        if not stat.S_ISREG(found.st_mode):
            raise OSError(errno.EINVAL, "it is no file but a pipe or a device")
        if found.st_size > most:
            raise OSError(errno.EFBIG, f"it is {_size(found.st_size)}, and at most {_size(most)} are read")
    except OSError:
        os.close(handle)
        raise
    return os.fdopen(handle, "rb")


def read_bytes(path: str | Path, most: int) -> bytes:
    """The bytes of a regular file of at most ``most`` bytes.

    Raises OSError as :func:`open` does; also for a pipe, a device or a socket, which could block for good, and for a
    larger file, before anything of it is read. Its ``strerror`` says which, in words for the painter.
    """
    with open_regular(path, most) as file:
        data = file.read(most + 1)
    if len(data) > most:  # it grew meanwhile
        raise OSError(errno.EFBIG, f"it is more than {_size(most)}")
    return data


def _size(count: int) -> str:
    return f"{count / 1e9:.1f} GB" if count >= 1e9 else f"{max(count / 1e6, 0.1):.0f} MB"
