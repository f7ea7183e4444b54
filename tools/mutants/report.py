"""docs/mutants.md."""

import json
from collections import Counter, defaultdict
from pathlib import Path

from tools.mutants.places import Mutant

# What no test can tell from the original, by file and words of change; each with its reason.
EQUIVALENT = Path(__file__).with_name("equivalent.json")


def equivalent() -> dict[str, str]:
    """Changes that make no difference, as "file: words", with the reason."""
    return json.loads(EQUIVALENT.read_text(encoding="utf-8"))


def report(found: list[tuple[Mutant, str]], seed: int) -> str:
    """The page."""
    known, rows = equivalent(), []
    by_room: dict[str, Counter[str]] = defaultdict(Counter)
    for m, how in found:
        by_room[m.room]["same" if how == "lived" and m.key in known else how] += 1
    for room, c in [*sorted(by_room.items()), ("all", sum(by_room.values(), Counter()))]:
        real = c.total() - c["same"]
        noticed = c["value"] + c["error"] + c["time"]
        rows.append(
            f"| {room} | {c.total()} | {c['same']} | {noticed} of {real}, {noticed / max(real, 1):.0%} "
            f"| {c['value']} | {c['error']} | {c['time']} |"
        )
    lived = [f"- `{m.key}` (line {m.line})" for m, how in found if how == "lived" and m.key not in known]
    same = [f"- `{m.key}`: {known[m.key]}" for m, how in found if how == "lived" and m.key in known]
    return "\n".join(
        [
            "# Do the tests notice?",
            "",
            f"`make mutants` changes every room of the core and the log, in {len(found)} places (seed {seed}), one at",
            "a time: an operator, a bound, a constant, a condition turned round, a statement dropped. Each runs",
            "against the tests that run its line (found by running all tests below the window once under",
            "coverage), then against the others of its room. By value: a check compared and failed; by error:",
            "something raised; by time: it did not end. Changes that make no difference are named below and left out",
            "of the shares.",
            "",
            "| room | changes | no difference | noticed | by value | by error | by time |",
            "|---|---|---|---|---|---|---|",
            *rows,
            "",
            "## What the tests let pass",
            "",
            *(lived or ["Nothing."]),
            "",
            "## What makes no difference",
            "",
            *(same or ["Nothing."]),
            "",
        ]
    )
