"""Read a model from the bytes of a JSON file that nobody vouches for: bounded in time and memory, and the first fault
told in one sentence."""

import functools
import re
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError

Checked = TypeVar("Checked", bound=BaseModel)

_SMALL = 200_000
"""Bytes below which a file may be full of faults without harm."""
_MOST_STRANGE = 3000
"""Names that are no field's: ids of piles are, in a project."""
_STRING = re.compile(rb'"([^"\\]*(?:\\.[^"\\]*)*)"(\s*:)?', re.DOTALL)


def read_model(model: type[Checked], data: bytes) -> Checked:
    """The model in ``data``. Raises ValueError with the field and what is wrong with it, in words to follow a file's
    name.

    Of a file of strange names each would be noted before the first is told: in a large one they are counted before
    anything is built.
    """
    if len(data) > _SMALL:
        strange: dict[bytes, None] = {}
        known = _names(model)
        for found in _STRING.finditer(data):
            if found[2] and found[1] not in known:
                strange[found[1]] = None
                if len(strange) > _MOST_STRANGE:
                    first = next(iter(strange))[:60].decode(errors="replace")
                    raise ValueError(f"{first} and thousands more are no fields of such a file")
    try:
        return model.model_validate_json(data)
    except ValidationError as error:
        raise ValueError(first_fault(error)) from None


def first_fault(error: ValidationError) -> str:
    """The field that is wrong first, and what is wrong with it."""
    fault = error.errors()[0]
    field = ".".join(str(p) for p in fault["loc"])[:200] or "it"
    words = str(fault["msg"]).removeprefix("Value error, ")
    return f"{field} {words[0].lower()}{words[1:]}"


@functools.cache
def _names(model: type[BaseModel]) -> frozenset[bytes]:
    """Names of all fields of a model and of what it holds."""
    found: set[bytes] = set()

    def look(part: Any) -> None:
        if isinstance(part, dict):
            found.update(name.encode() for name in part.get("properties", ()))
            for held in part.values():
                look(held)
        elif isinstance(part, list):
            for held in part:
                look(held)

    look(model.model_json_schema())
    return frozenset(found)
