"""The places of a file that can be changed, and how."""

import ast
import copy
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).parents[2]
SOURCE = Path("src/ochre_stone")
FLOORS = (SOURCE / "core", SOURCE / "logbook")

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
        """The room that the file is in; mixing is seven, and what stands in the core itself is one."""
        parts = Path(self.file).relative_to(SOURCE).parent.parts
        return "/".join(parts[1 : 3 if parts[1:2] == ("mixing",) else 2]) or parts[0]

    @property
    def key(self) -> str:
        """What names it in reports."""
        return f"{Path(self.file).relative_to(SOURCE)}: {self.words}"


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
