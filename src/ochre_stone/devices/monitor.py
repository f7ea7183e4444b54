"""The file of a monitor's colour profile."""

from pathlib import Path

from ochre_stone.core.picture.reading import read_bytes

_MOST_BYTES = 64_000_000


def read_profile(path: Path) -> bytes:
    """The bytes of a profile file. Raises OSError or ValueError where it is none."""
    data = read_bytes(path, _MOST_BYTES)
    if data[36:40] != b"acsp":
        raise ValueError("no colour profile")
    return data
