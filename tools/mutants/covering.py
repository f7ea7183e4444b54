"""Which tests run a line: all tests below the window are run once under coverage, each under its own name."""

import json
import os
import subprocess
import sys
import time
import unittest
from collections import defaultdict
from pathlib import Path
from typing import Any

from tools.mutants.places import FLOORS, ROOT

SUITES = ("tests/core", "tests/logbook", "tests/export", "tests/external")
WHOLE = ":class"
"""Ends the name of what is made ready for all tests of a class."""


def modules() -> list[str]:
    """The test modules below the window."""
    files = sorted(p for suite in SUITES for p in (ROOT / suite).rglob("test_*.py"))
    return [".".join(p.relative_to(ROOT).with_suffix("").parts) for p in files]


def _class_of(test: Any) -> str:
    return f"{type(test).__module__}.{type(test).__qualname__}"


def watch(names: list[str], out: Path) -> None:
    """Run test modules and write which lines each test ran, and how long it took, to ``out`` (JSON)."""
    import coverage

    seen = coverage.Coverage(source=[str(ROOT / f) for f in FLOORS], data_file=None, config_file=False)
    seconds: dict[str, float] = {}

    class Result(unittest.TextTestResult):
        def startTest(self, test: unittest.TestCase) -> None:
            seen.switch_context(test.id())
            seconds[test.id()] = -time.perf_counter()
            super().startTest(test)

        def stopTest(self, test: unittest.TestCase) -> None:
            super().stopTest(test)
            seconds[test.id()] += time.perf_counter()
            seen.switch_context("")

    class Suite(unittest.TestSuite):
        def _handleClassSetUp(self, test: Any, result: Any) -> None:
            seen.switch_context(_class_of(test) + WHOLE)
            super()._handleClassSetUp(test, result)  # type: ignore[misc]
            seen.switch_context("")

    loader = unittest.TestLoader()
    loader.suiteClass = Suite  # type: ignore[assignment]
    seen.start()
    tests = loader.loadTestsFromNames(names)
    unittest.TextTestRunner(resultclass=Result, verbosity=0, buffer=True).run(tests)
    seen.stop()
    data = seen.get_data()
    lines: dict[str, dict[int, list[str]]] = {}
    for file in data.measured_files():
        here = str(Path(file).relative_to(ROOT))
        lines[here] = {n: sorted(c for c in by if c) for n, by in data.contexts_by_lineno(file).items()}
    out.write_text(json.dumps({"lines": lines, "seconds": seconds}), encoding="utf-8")


def mapped(out: Path, jobs: int) -> None:
    """Watch all tests, in ``jobs`` processes, and write one map."""
    names = modules()
    parts = [out.with_suffix(f".{n}.json") for n in range(jobs)]
    started = [
        subprocess.Popen(
            [sys.executable, "-W", "ignore", "-m", "tools.mutants.covering", str(part), *names[n::jobs]],
            cwd=ROOT,
            env=os.environ | {"PYTHONPATH": str(ROOT / "src"), "QT_QPA_PLATFORM": "offscreen"},
        )
        for n, part in enumerate(parts)
    ]
    for process in started:
        if process.wait():
            raise SystemExit("The tests could not be watched.")
    lines: dict[str, dict[str, set[str]]] = defaultdict(lambda: defaultdict(set))
    seconds: dict[str, float] = {}
    for part in parts:
        one = json.loads(part.read_text(encoding="utf-8"))
        seconds |= one["seconds"]
        for file, by_line in one["lines"].items():
            for line, tests in by_line.items():
                lines[file][line] |= set(tests)
        part.unlink()
    whole = {file: {line: sorted(tests) for line, tests in by.items()} for file, by in lines.items()}
    out.write_text(json.dumps({"lines": whole, "seconds": seconds}), encoding="utf-8")


def _prefix(room: str) -> str:
    """How the names of a room's own tests begin."""
    tests = "tests.logbook." if room == "logbook" else "tests.core."
    return tests if room in ("logbook", "core") else f"{tests}{room.split('/')[0]}."


class Covering:
    """The map read again."""

    def __init__(self, file: Path) -> None:
        held = json.loads(file.read_text(encoding="utf-8"))
        self.made = file.stat().st_mtime
        self.lines: dict[str, dict[str, list[str]]] = held["lines"]
        self.seconds: dict[str, float] = held["seconds"]

    def new(self, room: str) -> list[str]:
        """Test modules of a room that were written or changed since the map was made."""
        own = [m for m in modules() if m.startswith(_prefix(room))]
        return [m for m in own if (ROOT / m.replace(".", "/")).with_suffix(".py").stat().st_mtime > self.made]

    def tests(self, file: str, line: int, room: str) -> tuple[list[str], list[str]]:
        """The tests that run a line, quickest first; then the others of its room, which may use what the first of them
        made and kept. A line run at import only (a constant) is run by all tests that run any line of its file."""
        by_line = self.lines.get(file, {})
        ran = set(by_line.get(str(line), ()))
        ran = ran or {t for tests in by_line.values() for t in tests}
        classes = tuple(t.removesuffix(WHOLE) + "." for t in ran if t.endswith(WHOLE))
        near = {t for t in self.seconds if t in ran or (classes and t.startswith(classes))}
        rest = {t for t in self.seconds if t.startswith(_prefix(room))} - near
        return sorted(near, key=self.seconds.__getitem__), sorted(rest, key=self.seconds.__getitem__)


if __name__ == "__main__":
    watch(sys.argv[2:], Path(sys.argv[1]))
