"""The base of everything that is read from disk."""

from pydantic import BaseModel, ConfigDict


class Frozen(BaseModel):
    """Immutable, without unknown fields, without infinities."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False, defer_build=True)
