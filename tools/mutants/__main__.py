"""Change the core and the log in small ways and see whether the tests notice. Hours are fine: run it in the background.

python -m tools.mutants [--count 16] [--seed 1] [--room mixing/bench] [--jobs 2] [--again] [--map] [--report]

A mutant is one change to one place: another operator, comparison or constant, a bound, a condition turned round, a
statement dropped. A seeded sample of all places of every room is taken. Each mutant runs in a copy of the project
against the tests that run its line, then against the others of its room. With ``--again`` only those that lived the
last time or were not tried are, for new tests; ``--map`` looks anew which tests run which line; ``--report`` writes
docs/mutants.md.
"""

import argparse
import json
import random
from collections import Counter, defaultdict
from dataclasses import asdict
from pathlib import Path

from tools.mutants.covering import Covering, mapped
from tools.mutants.judging import run
from tools.mutants.places import FLOORS, ROOT, Mutant, mutants_of
from tools.mutants.report import report


def sample(count: int, seed: int, room: str) -> list[Mutant]:
    """``count`` mutants of each room, or of one, in an order that mixes the rooms."""
    by_room: dict[str, list[Mutant]] = defaultdict(list)
    for file in sorted(p.relative_to(ROOT) for floor in FLOORS for p in (ROOT / floor).rglob("*.py")):
        for m in mutants_of(file):
            if m.kind != "first value":
                by_room[m.room].append(m)
    out = []
    for name, every in sorted(by_room.items()):
        if not room or name == room:
            random.Random(f"{seed} {name}").shuffle(every)
            out += list(enumerate(every[:count]))
    return [m for _, m in sorted(out, key=lambda pair: pair[0])]


def main() -> None:
    parser = argparse.ArgumentParser(description=(__doc__ or "").split("\n")[0])
    parser.add_argument("--count", type=int, default=16, help="how many changes of each room")
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--room", default="")
    parser.add_argument("--jobs", type=int, default=2)
    parser.add_argument("--out", type=Path, default=ROOT / "build" / "mutants.json")
    parser.add_argument("--again", action="store_true", help="only those that lived the last time, or were not tried")
    parser.add_argument("--map", action="store_true", help="look anew which tests run which line, and stop")
    parser.add_argument("--report", action="store_true", help="write docs/mutants.md from the last run, and stop")
    wanted = parser.parse_args()
    wanted.out.parent.mkdir(parents=True, exist_ok=True)
    lines = wanted.out.with_name("covering.json")
    if wanted.map or not lines.exists():
        mapped(lines, wanted.jobs)
        if wanted.map:
            return
    last: dict[str, dict[str, object]] = json.loads(wanted.out.read_text()) if wanted.out.exists() else {}
    if wanted.report:
        found = [(Mutant(**r["mutant"]), str(r["how"])) for r in last.values()]  # type: ignore[arg-type]
        found.sort(key=lambda pair: (pair[0].file, pair[0].line))
        (ROOT / "docs" / "mutants.md").write_text(report(found, wanted.seed), encoding="utf-8")
        return
    chosen = sample(wanted.count, wanted.seed, wanted.room)
    if wanted.again:
        chosen = [m for m in chosen if last.get(m.id, {}).get("how", "lived") == "lived"]
    else:
        last = {}
    print(f"{len(chosen)} mutants", flush=True)

    def told(m: Mutant, how: str, test: str, seconds: float) -> None:
        last[m.id] = {"mutant": asdict(m), "how": how, "test": test}
        wanted.out.write_text(json.dumps(last, indent=1), encoding="utf-8")
        print(f"{how:6s} {seconds:5.0f} s  {m.file}:{m.line}  {m.words}  {test}", flush=True)

    run(chosen, Covering(lines), wanted.jobs, told)
    print(Counter(str(r["how"]) for r in last.values()))


if __name__ == "__main__":
    main()
