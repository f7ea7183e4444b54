"""Advice held against facts that painters would sign: kept and failed by kind, and each that failed.

python -m benchmarks.advice [FACTS.json]        by default the facts in the tests
"""

import sys
from pathlib import Path

from ochre_stone.core.errors import OchreError
from tests.support.advice import Asked, ask, by_kind, load

FACTS = Path(__file__).parents[1] / "tests" / "external" / "data" / "advice.json"


def report(asked: list[Asked]) -> str:
    """A row for each kind, then all, then what failed."""
    kinds = by_kind(asked)
    rows = [f"{'kind':24s} {'kept':>5s} {'failed':>7s} {'of':>5s}"]
    rows += [f"{kind:24s} {kept:5d} {failed:7d} {kept + failed:5d}" for kind, (kept, failed) in kinds.items()]
    kept, count = sum(a.kept for a in asked), len(asked)
    rows.append(f"{'all':24s} {kept:5d} {count - kept:7d} {count:5d}   ({kept / max(count, 1):.1%})")
    return "\n".join([*rows, *(a.words for a in asked if not a.kept)])


def main() -> int:
    try:
        facts = load(Path(sys.argv[1]) if len(sys.argv) > 1 else FACTS)
        sys.stdout.write(report(ask(facts)) + "\n")
    except OchreError as error:
        sys.stderr.write(f"{error}\n")
        return 2
    return 0


if __name__ == "__main__":
    sys.exit(main())
