"""Change the core in small ways and see whether the tests of its room notice. Hours are fine: run it in the background.

python tools/mutants.py [--count 200] [--seed 1] [--room mixing] [--jobs 2] [--out build/mutants.json] [--again]

A mutant is one change to one place: another operator, comparison or constant, a bound, a condition turned round, a
statement dropped. A seeded sample of all places is taken. Each mutant runs in a copy of the project against the unit
tests of its room, then, where these let it pass, against the checks in tests/external that concern the room. With
``--again`` only those that lived the last time or were not tried are, for new tests; ``--report`` writes
docs/mutants.md.
"""

import argparse
import ast
import copy
import json
import random
import re
import shutil
import subprocess
import sys
import tempfile
import time
from collections import Counter, defaultdict
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import asdict, dataclass
from pathlib import Path
from queue import Queue

ROOT = Path(__file__).parents[1]
CORE = Path("src/ochre_stone/core")
SECONDS = 300
EXTERNAL = {
    "colour": ["test_ciede2000", "test_colour_standards", "test_appearance"],
    "picture": ["test_pictures_and_profiles", "test_real_photographs"],
    "masses": ["test_masses_and_harmony"],
    "harmony": ["test_masses_and_harmony"],
    "paint": ["test_pigment_optics", "test_trade_facts", "test_calibration"],
    "mixing": ["test_strings_and_piles", "test_recipes"],
    "project": [],
}
"""Checks outside that concern a room."""
# What no test can tell from the original, by file and line of change; each with its reason. See docs/mutants.md.
EQUIVALENT = ROOT / "tools" / "mutants_equivalent.json"

SWAPS: dict[type[ast.AST], type[ast.AST]] = {
    ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq,
    ast.In: ast.NotIn, ast.NotIn: ast.In, ast.Is: ast.IsNot, ast.IsNot: ast.Is,
    ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult, ast.FloorDiv: ast.Div,
    ast.Mod: ast.Mult, ast.Pow: ast.Mult, ast.And: ast.Or, ast.Or: ast.And, ast.BitAnd: ast.BitOr,
    ast.BitOr: ast.BitAnd,
}  # fmt: skip
CALLS = {"min": "max", "max": "min", "any": "all", "all": "any", "minimum": "maximum", "maximum": "minimum",
         "argmin": "argmax", "argmax": "argmin", "floor": "ceil", "ceil": "floor"}  # fmt: skip


@dataclass(frozen=True)
class Mutant:
    """One change: the ``place``-th node of its file, in the order of the tree, changed in the way ``kind``."""

    file: str
    place: int
    kind: str
    line: int
    words: str

    @property
    def id(self) -> str:
        return f"{self.file}:{self.place}:{self.kind}"

    @property
    def room(self) -> str:
        return Path(self.file).relative_to(CORE).parts[0]


def places(tree: ast.Module) -> list[ast.AST]:
    """All nodes in a fixed order."""
    return list(ast.walk(tree))


def _skipped(tree: ast.Module) -> set[int]:
    """Nodes that no test should care for: annotations, decorators, what is said when something is refused, texts."""
    out: set[int] = set()

    def leave(node: ast.AST | None) -> None:
        if node is not None:
            out.update(id(n) for n in ast.walk(node))

    for node in ast.walk(tree):
        if isinstance(node, ast.FunctionDef):
            for d in node.decorator_list:
                leave(d)
            leave(node.returns)
            for a in [*node.args.args, *node.args.kwonlyargs]:
                leave(a.annotation)
        elif isinstance(node, ast.AnnAssign):
            leave(node.annotation)
        elif isinstance(node, ast.Raise):
            leave(node.exc)
        elif isinstance(node, ast.JoinedStr):
            leave(node)
        elif isinstance(node, ast.ClassDef):
            for d in node.decorator_list:
                leave(d)
        elif isinstance(node, ast.If) and "TYPE_CHECKING" in ast.unparse(node.test):
            leave(node)
        elif isinstance(node, ast.Assign) and any(w in ast.unparse(node.value) for w in ("Literal[", "NDArray[")):
            leave(node.value)
    return out


def kinds_of(node: ast.AST, in_function: bool) -> Iterator[str]:
    """The ways in which a node can be changed."""
    if isinstance(node, ast.Compare) and len(node.ops) == 1:
        yield "bound" if isinstance(node.ops[0], ast.Lt | ast.LtE | ast.Gt | ast.GtE) else "comparison"
        if isinstance(node.ops[0], ast.Lt | ast.LtE | ast.Gt | ast.GtE):
            yield "turned"
    elif isinstance(node, ast.BinOp | ast.BoolOp) and type(node.op) in SWAPS:
        text = isinstance(node, ast.BinOp) and any(
            isinstance(n, ast.Constant) and isinstance(n.value, str) for n in (node.left, node.right)
        )
        if not text:
            yield "operator"
    elif isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not | ast.USub):
        yield "sign"
    elif isinstance(node, ast.Constant) and isinstance(node.value, int | float):
        yield "constant"
    elif isinstance(node, ast.Call) and _name(node.func) in CALLS:
        yield "call"
    elif isinstance(node, ast.If | ast.IfExp):
        yield "condition"
    elif in_function and _statement(node):
        yield "dropped" if _can_go(node) else "first value"


def _statement(node: ast.AST) -> bool:
    if isinstance(node, ast.Expr):
        return not isinstance(node.value, ast.Constant)
    return isinstance(node, ast.Assign | ast.AugAssign | ast.Raise | ast.Continue | ast.Break)


def _can_go(node: ast.AST) -> bool:
    """Whether a statement can be dropped and leave a program that is only a little wrong: the value of a plain name
    cannot, every use of it would raise."""
    return not isinstance(node, ast.Assign) or all(isinstance(t, ast.Subscript | ast.Attribute) for t in node.targets)


def _name(func: ast.AST) -> str:
    return func.attr if isinstance(func, ast.Attribute) else func.id if isinstance(func, ast.Name) else ""


def change(node: ast.AST, kind: str) -> ast.AST:
    """The node changed; it may be another one that takes its place."""
    new = copy.deepcopy(node)
    if kind in ("bound", "comparison"):
        new.ops = [SWAPS[type(new.ops[0])]()]  # type: ignore[attr-defined]
    elif kind == "turned":
        turn = {ast.Lt: ast.Gt, ast.LtE: ast.GtE, ast.Gt: ast.Lt, ast.GtE: ast.LtE}
        new.ops = [turn[type(new.ops[0])]()]  # type: ignore[attr-defined]
    elif kind == "operator":
        new.op = SWAPS[type(new.op)]()  # type: ignore[attr-defined]
    elif kind == "sign":
        new = new.operand  # type: ignore[attr-defined]
    elif kind == "constant":
        v = new.value  # type: ignore[attr-defined]
        new.value = (not v) if isinstance(v, bool) else v + 1 if isinstance(v, int) else v * 1.3 or 0.3  # type: ignore[attr-defined]
    elif kind == "call":
        f = new.func  # type: ignore[attr-defined]
        if isinstance(f, ast.Attribute):
            f.attr = CALLS[f.attr]
        else:
            f.id = CALLS[f.id]
    elif kind == "condition":
        new.test = ast.UnaryOp(ast.Not(), new.test)  # type: ignore[attr-defined]
    else:
        new = ast.Pass()
    return ast.copy_location(new, node)


def mutants_of(file: Path) -> list[Mutant]:
    """Every mutant of a file."""
    tree = ast.parse((ROOT / file).read_text(encoding="utf-8"))
    skipped = _skipped(tree)
    inside = {id(n) for f in ast.walk(tree) if isinstance(f, ast.FunctionDef) for s in f.body for n in ast.walk(s)}
    out = []
    for place, node in enumerate(places(tree)):
        if id(node) in skipped:
            continue
        for kind in kinds_of(node, id(node) in inside):
            before = ast.unparse(node.test if kind == "condition" else node)  # type: ignore[attr-defined]
            changed = change(node, kind)
            after = ast.unparse(changed.test if kind == "condition" else changed)  # type: ignore[attr-defined]
            words = f"{before[:70]}  ->  {after[:70]}"
            out.append(Mutant(str(file), place, kind, getattr(node, "lineno", 0), words))
    return out


def mutated(text: str, m: Mutant) -> str:
    """The file's text with the change."""
    tree = ast.parse(text)
    target = places(tree)[m.place]

    class Swap(ast.NodeTransformer):
        def visit(self, node: ast.AST) -> ast.AST:
            return change(node, m.kind) if node is target else self.generic_visit(node)

    return ast.unparse(ast.fix_missing_locations(Swap().visit(tree)))


def suites(room: str) -> list[list[str]]:
    """The tests of a room, then the checks outside that concern it, as names for unittest."""
    inner = sorted(
        ".".join(p.relative_to(ROOT).with_suffix("").parts) for p in (ROOT / "tests/core" / room).rglob("test_*.py")
    )
    outer = [f"tests.external.{name}" for name in EXTERNAL.get(room, [])]
    return [inner, outer] if outer else [inner]


def tried(copy_: Path, room: str) -> tuple[str, str]:
    """How the tests of a room end in a copy of the project: "value", "error" or "time" for how they fail, "lived" where
    all pass; and the test that failed first."""
    for names in suites(room):
        try:
            done = subprocess.run(
                [sys.executable, "-W", "ignore", "-m", "unittest", "-f", "-b", *names], cwd=copy_,
                capture_output=True, text=True, timeout=SECONDS, check=False,
                env={"PYTHONPATH": f"{copy_}/src", "HOME": str(copy_), "PATH": "/usr/bin:/bin",
                     "QT_QPA_PLATFORM": "offscreen", "OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1"},
            )  # fmt: skip
        except subprocess.TimeoutExpired:
            return "time", ""
        if done.returncode:
            first = re.search(r"^(FAIL|ERROR): (\S+)", done.stderr, re.MULTILINE)
            return ("value" if first and first[1] == "FAIL" else "error"), (first[2] if first else "")
    return "lived", ""


def judge(copy_: Path, m: Mutant) -> tuple[str, str]:
    """How a mutant fared, as :func:`tried`."""
    file = copy_ / m.file
    text = file.read_text(encoding="utf-8")
    file.write_text(mutated(text, m), encoding="utf-8")
    try:
        return tried(copy_, m.room)
    finally:
        file.write_text(text, encoding="utf-8")


def run(chosen: list[Mutant], jobs: int, told: Callable[[Mutant, str, str, float], None]) -> None:
    """Judge mutants, each worker in a copy of its own, after all tests passed on no change at all."""
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
                told(m, *judge(where, m), time.monotonic() - start)
            finally:
                copies.put(where)

        def sound(room: str) -> None:
            where = copies.get()
            try:
                how, test = tried(where, room)
            finally:
                copies.put(where)
            if how != "lived":
                raise SystemExit(f"The tests of {room} fail without any change ({test or how}): mend them first.")

        with ThreadPoolExecutor(jobs) as pool:
            list(pool.map(sound, sorted({m.room for m in chosen})))
            list(pool.map(one, chosen))


def equivalent() -> dict[str, str]:
    """Changes that make no difference, as "file: words", with the reason."""
    return json.loads(EQUIVALENT.read_text(encoding="utf-8")) if EQUIVALENT.exists() else {}


def key(m: Mutant) -> str:
    return f"{Path(m.file).relative_to(CORE)}: {m.words}"


def report(found: list[tuple[Mutant, str]], seed: int) -> str:
    """docs/mutants.md."""
    known, rows = equivalent(), []
    by_room: dict[str, Counter[str]] = defaultdict(Counter)
    for m, how in found:
        by_room[m.room]["same" if how == "lived" and key(m) in known else how] += 1
    for room, c in [*sorted(by_room.items()), ("all", sum(by_room.values(), Counter()))]:
        real = c.total() - c["same"]
        noticed = c["value"] + c["error"] + c["time"]
        rows.append(
            f"| {room} | {c.total()} | {c['same']} | {noticed} of {real}, {noticed / max(real, 1):.0%} "
            f"| {c['value']} | {c['error']} | {c['time']} |"
        )
    lived = [f"- `{key(m)}` (line {m.line})" for m, how in found if how == "lived" and key(m) not in known]
    same = [f"- `{key(m)}`: {known[key(m)]}" for m, how in found if how == "lived" and key(m) in known]
    return "\n".join(
        [
            "# Do the tests notice?",
            "",
            f"`make mutants` changes the core in {len(found)} places (seed {seed}), one at a time: an operator,",
            "a bound, a constant, a condition turned round, a statement dropped. Each runs against the unit tests",
            "of its room and the checks outside that concern it. By value: a check compared and failed; by error:",
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


def main() -> None:
    parser = argparse.ArgumentParser(description=(__doc__ or "").split("\n")[0])
    parser.add_argument("--count", type=int, default=200)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--room", default="")
    parser.add_argument("--jobs", type=int, default=2)
    parser.add_argument("--out", type=Path, default=ROOT / "build" / "mutants.json")
    parser.add_argument("--again", action="store_true", help="only those that lived the last time, or were not tried")
    parser.add_argument("--report", action="store_true", help="write docs/mutants.md from the last run, and stop")
    wanted = parser.parse_args()
    wanted.out.parent.mkdir(parents=True, exist_ok=True)
    last: dict[str, dict[str, object]] = json.loads(wanted.out.read_text()) if wanted.out.exists() else {}
    if wanted.report:
        found = [(Mutant(**r["mutant"]), str(r["how"])) for r in last.values()]  # type: ignore[arg-type]
        found.sort(key=lambda pair: (pair[0].file, pair[0].line))
        (ROOT / "docs" / "mutants.md").write_text(report(found, wanted.seed), encoding="utf-8")
        return
    files = sorted(p.relative_to(ROOT) for p in (ROOT / CORE / wanted.room).rglob("*.py"))
    every = [m for f in files if f.parent != CORE for m in mutants_of(f)]
    random.Random(wanted.seed).shuffle(every)
    chosen = [m for m in every if m.kind != "first value"][: wanted.count]
    if wanted.again:
        chosen = [m for m in chosen if last.get(m.id, {}).get("how", "lived") == "lived"]
    else:
        last = {}
    print(f"{len(chosen)} of {len(every)} mutants", flush=True)

    def told(m: Mutant, how: str, test: str, seconds: float) -> None:
        last[m.id] = {"mutant": asdict(m), "how": how, "test": test}
        wanted.out.write_text(json.dumps(last, indent=1), encoding="utf-8")
        print(f"{how:6s} {seconds:5.0f} s  {m.file}:{m.line}  {m.words}  {test}", flush=True)

    run(chosen, wanted.jobs, told)
    print(Counter(str(r["how"]) for r in last.values()))


if __name__ == "__main__":
    main()
