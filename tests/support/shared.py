"""What is dear, made once in a worker and handed to all its tests, frozen: pictures and projects read from files, tubes
that would help. What a window works out of a picture stays with the picture, so that it too is worked out once."""

import hashlib
from collections.abc import Callable, Hashable
from dataclasses import replace
from pathlib import Path
from typing import Any
from unittest import mock

import numpy as np

from ochre_stone.core.boardphoto.read import FIND, BoardPhoto
from ochre_stone.core.boardphoto.square import propose_corners
from ochre_stone.core.mixing.reach.slices import additions
from ochre_stone.core.picture.load import load_bytes
from ochre_stone.core.picture.remembered import Remembered
from ochre_stone.core.planning import blockin
from ochre_stone.core.store import files
from ochre_stone.desktop.session import projectfiles, stringwork
from ochre_stone.desktop.stations.mix import allpiles, checkphoto, reached

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


class _Boards:
    """Stands for the class of boards: one that was looked at before is handed out again."""

    @staticmethod
    def of(half: Any, layout: Any, corners: Any, card: Any = FIND) -> Any:
        key = ("board", _digest(half.tobytes()), layout, np.asarray(corners).tobytes(), card)
        board = once(key, lambda: BoardPhoto.of(half, layout, corners, card))
        return replace(board, marks=board.marks.copy())  # its regions are parted and joined while it is read


def _propose_corners(half: Any) -> Any:
    found = once(("corners", _digest(half.tobytes())), lambda: propose_corners(half))
    return None if found is None else found.copy()


def _additions(outside: Any, tubes: Any, candidates: Any, most: int, surface: Any, report: Any = None) -> Any:
    key = ("additions", np.asarray(outside).tobytes(), tuple(tubes), tuple(candidates), most, surface)
    return once(key, lambda: additions(outside, tubes, candidates, most, surface, report))


_REAL_OPEN = files.open_project
PATCHES = (
    (files, "load_bytes", _load_bytes),
    (projectfiles, "load_bytes", _load_bytes),
    (projectfiles, "open_project", _open_project),
    (stringwork, "REMEMBERED", 400),
    (blockin, "_REMEMBERED", 10),
    (blockin, "_REMEMBERED_LAID", 200),
    (reached, "additions", _additions),
    (checkphoto, "BoardPhoto", _Boards),
    (allpiles, "propose_corners", _propose_corners),
)


forget = Remembered.forget
"""What the program does with pictures that are not shown any more; shared ones stay as they are."""


def sharing() -> list[Any]:
    """Patches that let windows share; each is started and stopped by the test."""
    stays = mock.patch.object(Remembered, "forget", lambda remembered: None)
    return [stays, *(mock.patch.object(module, name, new) for module, name, new in PATCHES)]
