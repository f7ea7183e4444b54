"""How long something takes."""

import statistics
import time
from collections.abc import Callable


def seconds(work: Callable[[], object], times: int = 5) -> float:
    """Median time of a few runs after a warm one."""
    work()
    out = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        out.append(time.perf_counter() - start)
    return statistics.median(out)


def row(what: str, ours: float, theirs: float, against: str, more: str = "") -> None:
    """One line of the report."""
    print(f"{what:34s} {ours * 1e3:9.1f} ms   {ours / theirs:8.4f} of {against:34s} {more}")
