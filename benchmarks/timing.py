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
