"""How quick the log stays with a million doses, against reading the same table whole with NumPy.

Some 170,000 piles of six things each, a third read twice: a lifetime of painting. Every question that the window asks
is timed, and set against loading the colours of all piles with sqlite3 into NumPy and searching there, in the same run.

python -m benchmarks.log [DOSES, default 1000000]
"""

import sys
import tempfile
import time
from collections.abc import Callable
from datetime import datetime
from pathlib import Path

import numpy as np

from benchmarks.timing import seconds
from ochre_stone.core.colour.spaces import as_lab
from ochre_stone.core.mixing.recipe.dose import Dose
from ochre_stone.core.paint.palettes import PALETTES
from ochre_stone.logbook.again import find_again, leftovers
from ochre_stone.logbook.book import Book
from ochre_stone.logbook.entry import Entry, Put, Seen
from ochre_stone.logbook.following import tube_then
from ochre_stone.logbook.learning import learn

PER_PILE = 6
START, DAY = 1_500_000_000.0, 86_400.0
TEN = PALETTES["portrait-ten"]


def made(n: int, rng: np.random.Generator) -> Entry:
    """A made-up pile: a dozen to a day."""
    at = START + DAY * (n // 12) + 600 * (n % 12)
    ids = [TEN.tubes[int(i)].id for i in rng.integers(0, len(TEN.tubes), PER_PILE)]
    puts = tuple(Put(at=at, dose=Dose.of_tube(i, 0.4, 0.2, i), parts=1.0) for i in ids)
    lab = as_lab(np.array([rng.uniform(18, 95), rng.normal(5, 14), rng.normal(12, 16)]))
    times = 2 * (n % 3 == 0)
    seen = tuple(Seen(at=at + 60 * k, place=PER_PILE, lab=lab, noise=0.4, how="reader") for k in range(times))
    left = {"left_ml": 0.5, "left_at": at + 3600} if n % 4 == 0 else {}
    return Entry(
        uid=f"made-{n:09d}",
        project=f"project-{n // 400:05d}",
        title="made up",
        pile=f"skin-{n % 9}",
        name=f"Skin {n % 9}",
        begun=at,
        finished=at + 300,
        palette=TEN.name,
        target=lab,
        predicted=lab,
        puts=puts,
        seen=seen,
        **left,
    )


def main() -> None:
    doses = int(sys.argv[1]) if len(sys.argv) > 1 else 1_000_000
    piles, rng = doses // PER_PILE, np.random.default_rng(1)
    with tempfile.TemporaryDirectory() as folder, Book(Path(folder) / "log.sqlite") as book:
        book.know(tube_then(t) for t in TEN.tubes)
        start = time.perf_counter()
        for first in range(0, piles, 2000):
            book.put(*(made(n, rng) for n in range(first, min(first + 2000, piles))))
        took = time.perf_counter() - start
        size = (Path(folder) / "log.sqlite").stat().st_size / 1e6
        print(f"{piles} piles, {piles * PER_PILE} doses, {size:.0f} MB, written in {took:.0f} s")
        goal = np.array([62.0, 14.0, 22.0])

        def whole() -> int:
            rows = np.array(book.db.execute("SELECT l, a, b FROM pile").fetchall())
            return int(np.linalg.norm(rows - goal, axis=1).argmin())

        base = seconds(whole, 3)
        print(f"{'all colours into NumPy':44s} {base * 1e3:8.1f} ms")
        last = START + DAY * (piles // 12)
        last_day = datetime.fromtimestamp(last - DAY).date()
        extra = iter(range(10 * piles, 20 * piles))
        asked: dict[str, Callable[[], object]] = {
            "a pile is written": lambda: book.put(made(next(extra), rng)),
            "the last piles, in full": lambda: book.entries([p.uid for p in book.listed(count=24)]),
            "a day": lambda: book.listed(day=last_day),
            "a project": lambda: book.listed(project="project-00007"),
            "the entries of a pile of the plan": lambda: book.of_pile("project-00007", "skin-3", 0),
            "mixed before? (six nearest, tubes of now)": lambda: find_again(book, as_lab(goal), TEN.tube, TEN.surface),
            "what is left": lambda: leftovers(book, last),
            "how many": book.count,
            "days": book.days,
            "projects": book.projects,
            "learn from the last 60 piles": lambda: learn(
                book.entries(book.read_lately(60)), book.tubes(), TEN.tube, TEN.surface),
        }  # fmt: skip
        for what, work in asked.items():
            took = seconds(work, 3 if what.startswith("learn") else 9)
            print(f"{what:44s} {took * 1e3:8.1f} ms   {took / base:7.3f} of loading all")


if __name__ == "__main__":
    main()
