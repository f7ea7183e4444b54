"""Run the tests that concern a change, in a copy of the project, and say how they end."""

import re
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from queue import Queue

from tools.mutants.covering import Covering
from tools.mutants.places import ROOT, Mutant, mutated

SECONDS = 300
NEAR, REST = 45.0, 15.0
"""Seconds of tests run at most: those that run the line, then the others of its room (three times this under load)."""


def _up_to(tests: list[str], covering: Covering, most: float) -> list[str]:
    """The quickest tests of a list that together take no longer than ``most`` seconds, and at least one."""
    out, spent = tests[:1], covering.seconds[tests[0]] if tests else 0.0
    for test in tests[1:]:
        spent += covering.seconds[test]
        if spent > most:
            break
        out.append(test)
    return out


def tried(copy_: Path, suites: list[list[str]]) -> tuple[str, str]:
    """How tests end in a copy of the project: "value", "error" or "time" for how they fail, "lived" where all pass;
    and the test that failed first."""
    for names in filter(None, suites):
        try:
            done = subprocess.run(
                [sys.executable, "-W", "ignore", "-m", "unittest", "-f", "-b", *names],
                cwd=copy_,
                capture_output=True,
                text=True,
                timeout=SECONDS,
                check=False,
                env={"PYTHONPATH": f"{copy_}/src", "HOME": str(copy_), "PATH": "/usr/bin:/bin",
                     "QT_QPA_PLATFORM": "offscreen", "OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1"},
            )  # fmt: skip
        except subprocess.TimeoutExpired:
            return "time", ""
        if done.returncode:
            first = re.search(r"^(FAIL|ERROR): (\S+)", done.stderr, re.MULTILINE)
            return ("value" if first and first[1] == "FAIL" else "error"), (first[2] if first else "")
    return "lived", ""


def judge(copy_: Path, m: Mutant, covering: Covering) -> tuple[str, str]:
    """How a mutant fared, as :func:`tried`."""
    file = copy_ / m.file
    text = file.read_text(encoding="utf-8")
    file.write_text(mutated(text, m), encoding="utf-8")
    near, rest = covering.tests(m.file, m.line, m.room)
    try:
        return tried(copy_, [covering.new(m.room), _up_to(near, covering, NEAR), _up_to(rest, covering, REST)])
    finally:
        file.write_text(text, encoding="utf-8")


def run(chosen: list[Mutant], covering: Covering, jobs: int, told: Callable[[Mutant, str, str, float], None]) -> None:
    """Judge mutants, each worker in a copy of its own."""
    with tempfile.TemporaryDirectory(prefix="ochre-stone-mutants-") as held:
        copies: Queue[Path] = Queue()
        for n in range(jobs):
            copy_ = Path(held) / str(n)
            for part in ("src", "tests", "docs", "tools", "benchmarks"):
                shutil.copytree(ROOT / part, copy_ / part, ignore=shutil.ignore_patterns("__pycache__"))
            shutil.copy(ROOT / "pyproject.toml", copy_)
            copies.put(copy_)

        def one(m: Mutant) -> None:
            where = copies.get()
            start = time.monotonic()
            try:
                told(m, *judge(where, m, covering), time.monotonic() - start)
            finally:
                copies.put(where)

        with ThreadPoolExecutor(jobs) as pool:
            list(pool.map(one, chosen))
