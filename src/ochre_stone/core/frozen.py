"""The base of everything that is read from disk."""

from collections.abc import Iterator
from typing import Any, cast

from pydantic import BaseModel, ConfigDict, GetCoreSchemaHandler
from pydantic_core import CoreSchema

MOST_IN_A_LIST = 20_000
"""Of what is read from disk, where a field says nothing else."""


class Frozen(BaseModel):
    """Immutable, without unknown fields, without infinities; of a list with many faults the first is told."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False, defer_build=True)

    @classmethod
    def __get_pydantic_core_schema__(cls, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        made = handler(source)
        for part in _parts(made, handler, set()):
            if part["type"] in ("tuple", "list", "set", "frozenset"):
                part["fail_fast"] = True
                if part["type"] != "tuple" or part.get("variadic_item_index") is not None:
                    part.setdefault("max_length", MOST_IN_A_LIST)
            elif part["type"] == "dict":
                part.setdefault("max_length", MOST_IN_A_LIST)
        return made


def _parts(schema: Any, handler: GetCoreSchemaHandler, known: set[str]) -> Iterator[dict[str, Any]]:
    """All parts of a schema, itself first; those that stand elsewhere too, once."""
    if isinstance(schema, dict):
        if schema.get("type") == "definition-ref":
            if schema["schema_ref"] not in known:
                known.add(schema["schema_ref"])
                yield from _parts(handler.resolve_ref_schema(cast(CoreSchema, schema)), handler, known)
            return
        if isinstance(schema.get("type"), str):
            yield schema
        for held in schema.values():
            yield from _parts(held, handler, known)
    elif isinstance(schema, list | tuple):
        for held in schema:
            yield from _parts(held, handler, known)
