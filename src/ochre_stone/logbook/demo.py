"""The demo's made-up log: two mornings at the easel, and some weeks of practice."""

import functools
import gzip
import math

from ochre_stone.logbook.entry import Answer, Entry
from ochre_stone.logbook.exchange import Exchanged, read_json
from ochre_stone.resources import resource

DEMO = "demo-orchard-keeper"
"""The uid of the demo project."""
_DAY = 86_400.0


@functools.cache
def _written() -> Exchanged:
    return read_json(gzip.decompress(resource("demo", "log.json.gz").read_bytes()), "the demo's log")


def demo_log(now: float) -> Exchanged:
    """What the demo's painter mixed and practised, all of it invented, moved by whole days so that the last of it was
    yesterday or today before ``now`` (seconds since 1970)."""
    log = _written()
    last = max([e.begun for e in log.piles] + [a.at for a in log.answers])
    by = math.floor((now - last) / _DAY) * _DAY
    return log.model_copy(
        update={
            "piles": tuple(moved_to(e, by) for e in log.piles),
            "answers": tuple(Answer.model_validate(a.model_dump() | {"at": a.at + by}) for a in log.answers),
        }
    )


def moved_to(e: Entry, by: float) -> Entry:
    """An entry so many seconds later."""
    fields = {
        name: value + by
        for name in ("begun", "finished", "left_at", "dried_at")
        if (value := getattr(e, name)) is not None
    }
    for name in ("puts", "cuts", "seen"):
        fields[name] = tuple(x.model_copy(update={"at": x.at + by}) for x in getattr(e, name))
    return e.model_copy(update=fields)
