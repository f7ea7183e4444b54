"""What is dear, made once in a worker and handed to all its tests, frozen: pictures and projects read from files, tubes
that would help. What a window works out of a picture stays with the picture, so that it too is worked out once."""

import hashlib
from collections.abc import Callable, Hashable
from pathlib import Path
from typing import Any
from unittest import mock

import numpy as np

from ochre_stone.core.mixing.reach.slices import additions
from ochre_stone.core.picture.load import load_bytes
from ochre_stone.core.project import files
from ochre_stone.desktop.session import studio
from ochre_stone.desktop.stations.mix import reached

_made: dict[Hashable, Any] = {}


def once(key: Hashable, make: Callable[[], Any]) -> Any:
    """What ``make`` gives, made for the first that asks for ``key``. What is handed out is not to be changed."""
    if key not in _made:
        _made[key] = make()
    return _made[key]


def _digest(data: bytes) -> bytes:
    return hashlib.blake2b(data).digest()


def _load_bytes(data: bytes, name: str) -> Any:
    return once(("picture", _digest(data), name), lambda: load_bytes(data, name))


def _open_project(path: str | Path) -> Any:
    path = Path(path)
    if not path.is_file():
        return _REAL_OPEN(path)
    return once(("project", _digest(path.read_bytes()), path.name), lambda: _REAL_OPEN(path))


def _additions(outside: Any, tubes: Any, candidates: Any, most: int, surface: Any, report: Any = None) -> Any:
    key = ("additions", np.asarray(outside).tobytes(), tuple(tubes), tuple(candidates), most, surface)
    return once(key, lambda: additions(outside, tubes, candidates, most, surface, report))


_REAL_OPEN = files.open_project
PATCHES = (
    (files, "load_bytes", _load_bytes),
    (studio, "load_bytes", _load_bytes),
    (studio, "open_project", _open_project),
    (studio, "REMEMBERED", 400),
    (reached, "additions", _additions),
)


def sharing() -> list[Any]:
    """Patches that let windows share; each is started and stopped by the test."""
    return [mock.patch.object(module, name, new) for module, name, new in PATCHES]
