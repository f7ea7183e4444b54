"""What was worked out of a picture before, so that it is worked out once: reduced copies, facts, its last frames.

Several threads may ask at a time: two may then work the same thing out, and get the same.
"""

from collections.abc import Callable, Hashable
from typing import Any, TypeVar

import numpy as np
import numpy.typing as npt

Kept = TypeVar("Kept")
MOST_REMEMBERED = 160_000_000
"""Bytes of reduced copies that are kept."""


class Remembered:
    """One for each picture; nobody but its methods writes to it."""

    def __init__(self) -> None:
        self._copies: dict[Hashable, npt.NDArray[np.float32]] = {}
        self._facts: dict[str, Any] = {}
        self._recent: dict[str, dict[Hashable, Any]] = {}

    def copy(self, key: Hashable, make: Callable[[], npt.NDArray[np.float32]]) -> npt.NDArray[np.float32]:
        """An array, made where it is not there; read-only. The oldest go once all hold more than ``MOST_BYTES``."""
        found = self._copies.get(key)
        if found is None:
            found = make()
            found.setflags(write=False)
            self._copies[key] = found
            self._forget_old()
        return found

    def _forget_old(self) -> None:
        held = [(k, c.nbytes) for k, c in list(self._copies.items())]
        total = sum(size for _, size in held)
        for key, size in held[:-1]:
            if total <= MOST_REMEMBERED:
                return
            self._copies.pop(key, None)
            total -= size

    @property
    def bytes_held(self) -> int:
        """Of all copies."""
        return sum(c.nbytes for c in list(self._copies.values()))

    def fact(self, name: str, make: Callable[[], Kept]) -> Kept:
        """Something small by its name, made where it is not there; kept for good."""
        if name not in self._facts:
            self._facts[name] = make()
        found: Kept = self._facts[name]
        return found

    def recent(self, kind: str, key: Hashable, make: Callable[[], Kept], most: int) -> Kept:
        """One of the last ``most`` things of a kind, made where it is not there."""
        known = self._recent.setdefault(kind, {})
        found: Kept | None = known.get(key)
        if found is None:
            for old in list(known)[: max(len(known) - most + 1, 0)]:
                known.pop(old, None)
            found = known.setdefault(key, make())
        return found

    def forget(self) -> None:
        """All of it."""
        self._copies.clear()
        self._facts.clear()
        self._recent.clear()
