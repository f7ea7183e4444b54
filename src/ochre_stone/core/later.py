"""Libraries that are loaded when they are first used, not when the program starts."""

import importlib
from typing import Any


class _Later:
    """Stands for a module; loads it when one of its names is wanted."""

    def __init__(self, name: str) -> None:
        object.__setattr__(self, "_name", name)

    def __getattr__(self, wanted: str) -> Any:
        return getattr(importlib.import_module(self._name), wanted)

    def __setattr__(self, name: str, value: Any) -> None:
        setattr(importlib.import_module(self._name), name, value)


def later(name: str) -> Any:
    """The module of that name, loaded at the first use of anything in it.

    For large libraries that most runs never need: an empty window does without OpenCV, ``predict`` without SciPy. Any
    thread may be the first to use it. Raises ModuleNotFoundError, at that first use, where there is none.

    >>> later("math").sqrt(9.0)
    3.0
    """
    return _Later(name)
