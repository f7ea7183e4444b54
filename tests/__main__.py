"""Run all tests on both cores, or those that are named, and end with the line ``N passed, N failed, N skipped``.

python -m tests [tests.core.colour.test_spaces | tests.desktop.test_walk.Walk.test_reopens | tests/external] [-x ...]
"""

import os
import sys
from pathlib import Path

import pytest

HERE = Path(__file__).parent
ROOT = HERE.parent
CORES = "2"


class Count:
    """How many tests passed, failed and were skipped, over all workers."""

    def __init__(self) -> None:
        self.passed, self.skipped = 0, 0
        self.failed: set[str] = set()

    def pytest_runtest_logreport(self, report: pytest.TestReport) -> None:
        if report.failed:
            self.failed.add(report.nodeid)
        elif type(report) is not pytest.TestReport:
            return  # a part of a test
        elif report.skipped:
            self.skipped += 1
        elif report.when == "call":
            self.passed += 1

    def pytest_collectreport(self, report: pytest.CollectReport) -> None:
        if report.failed:
            self.failed.add(report.nodeid)


def where(name: str) -> str:
    """A module, class or test by its dotted name as pytest wants it; paths and options as they are."""
    if name.startswith("-") or "/" in name:
        return name
    parts = name.split(".")
    for n in range(len(parts), 0, -1):
        place = ROOT.joinpath(*parts[:n])
        if place.is_dir():
            return "::".join([str(place), *parts[n:]])
        if place.with_suffix(".py").is_file():
            return "::".join([str(place.with_suffix(".py")), *parts[n:]])
    return name


def main() -> int:
    for name in ("OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS"):  # a worker has one core: more threads only wait for it
        os.environ.setdefault(name, "1")
    count = Count()
    chosen = [where(a) for a in sys.argv[1:]]
    code = pytest.main([f"--rootdir={ROOT}", "-n", CORES, "--dist", "worksteal", *chosen], plugins=[count])
    sys.stderr.flush()
    failed = len(count.failed) or int(code not in (pytest.ExitCode.OK, pytest.ExitCode.TESTS_FAILED))
    print(f"{count.passed} passed, {failed} failed, {count.skipped} skipped")
    return 1 if failed or not count.passed else 0


if __name__ == "__main__":
    sys.exit(main())
