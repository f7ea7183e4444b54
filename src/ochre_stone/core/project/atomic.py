"""Write a file whole or not at all."""

import os
import tempfile
from pathlib import Path

from ochre_stone.core.errors import OchreError


def write_bytes(path: str | Path, data: bytes) -> Path:
    """Write ``data`` through a temporary file beside ``path``. Raises OchreError when that is not possible."""
    path = Path(path)
    held: str | None = None
    try:
        handle, held = tempfile.mkstemp(prefix=f".{path.name}.", suffix=".part", dir=path.parent)
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        os.chmod(held, path.stat().st_mode & 0o777 if path.exists() else 0o644)
        os.replace(held, path)
        held = None
    except OSError as error:
        raise OchreError(
            f"'{path}' could not be written ({error.strerror}): choose another folder or free some space."
        ) from None
    finally:
        if held is not None:
            Path(held).unlink(missing_ok=True)
    return path
