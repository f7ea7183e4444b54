"""Rules of the house that import contracts cannot hold."""

import ast
import functools
import unittest
from pathlib import Path

import ochre_stone

LIBRARIES_OWN = {"_exit"}
"""Names with an underscore that a library calls public: os._exit."""
HOUSE = Path(ochre_stone.__file__).parent
FILES = sorted(HOUSE.rglob("*.py"))


@functools.cache
def parsed(file: Path) -> ast.Module:
    return ast.parse(file.read_text(encoding="utf-8"))


@functools.cache
def imports(file: Path) -> list[tuple[str, str]]:
    """Module and name of all that a file imports from."""
    out = []
    for node in ast.walk(parsed(file)):
        if isinstance(node, ast.ImportFrom):
            out += [(node.module or "", a.name) for a in node.names]
        elif isinstance(node, ast.Import):
            out += [(a.name, "") for a in node.names]
    return out


class Rooms(unittest.TestCase):
    def test_there_is_a_house(self):
        self.assertGreater(len(FILES), 200)

    def test_the_session_is_no_widget(self):
        for file in (HOUSE / "desktop" / "session").glob("*.py"):
            with self.subTest(file.name):
                self.assertFalse([m for m, n in imports(file) if "QtWidgets" in (m, n) or m == "PyQt6.QtWidgets"])

    def test_a_station_lives_in_a_folder_of_its_own(self):
        from ochre_stone.desktop.window.stations import STATIONS

        folders = [s.__module__.split(".")[-2] for s in STATIONS]
        self.assertEqual(len(set(folders)), len(STATIONS))
        self.assertEqual(len({s.title for s in STATIONS}), len(STATIONS))
        self.assertEqual(len({s.order for s in STATIONS}), len(STATIONS))
        self.assertEqual({s.__module__.split(".")[-1] for s in STATIONS}, {"station"})


COMMANDS = {"main", "plan", "predict", "find"}
"""Named as the shell has them, beside what they call."""
LATER = {"cv2", "ndimage", "optimize"}
"""Libraries that are loaded later stand in each file that uses them."""


class Names(unittest.TestCase):
    def test_a_public_name_is_one_thing(self):
        there: dict[str, set[str]] = {}
        for file in FILES:
            for node in parsed(file).body:
                named = [node.name] if isinstance(node, ast.ClassDef | ast.FunctionDef) else []
                if isinstance(node, ast.Assign | ast.AnnAssign):
                    targets = node.targets if isinstance(node, ast.Assign) else [node.target]
                    named = [t.id for t in targets if isinstance(t, ast.Name)]
                for name in named:
                    if not name.startswith("_") and name not in COMMANDS | LATER:
                        there.setdefault(name, set()).add(str(file.relative_to(HOUSE)))
        self.assertEqual({name: sorted(files) for name, files in there.items() if len(files) > 1}, {})


class PlainText(unittest.TestCase):
    """What comes from a file is nowhere taken for marks: words are shown by ``widgets/parts.py`` and ``asking.py``."""

    ALLOWED = {"widgets/parts.py", "widgets/asking.py", "widgets/theme.py"}  # noqa: RUF012

    def test_words_tips_and_boxes_are_made_in_one_place(self):
        bare = {"setToolTip", "setWhatsThis", "setStatusTip", "QLabel", "QMessageBox", "QToolTip", "QErrorMessage"}
        for file in (HOUSE / "desktop").rglob("*.py"):
            name = str(file.relative_to(HOUSE / "desktop"))
            for node in ast.walk(parsed(file)):
                if isinstance(node, ast.Call) and name not in self.ALLOWED:
                    called = node.func
                    said = called.attr if isinstance(called, ast.Attribute) else getattr(called, "id", "")
                    self.assertNotIn(said, bare, f"{name}:{node.lineno}")


class Private(unittest.TestCase):
    def test_no_private_name_is_imported(self):
        for file in FILES:
            for module, name in imports(file):
                private = name.startswith("_") and not name.startswith("__")
                self.assertFalse(private, f"{file.relative_to(HOUSE)} imports {name} from {module}")

    def test_nobody_reaches_into_another_object(self):
        """An attribute with a leading underscore is used by the file that gives it, or by a class derived from it."""
        for file in FILES:
            tree = parsed(file)
            own = {n.name for n in ast.walk(tree) if isinstance(n, ast.FunctionDef)}
            own |= {n.attr for n in ast.walk(tree) if isinstance(n, ast.Attribute) and isinstance(n.ctx, ast.Store)}
            own |= {n.id for n in ast.walk(tree) if isinstance(n, ast.Name) and isinstance(n.ctx, ast.Store)}
            for node in ast.walk(tree):
                if isinstance(node, ast.Attribute) and node.attr.startswith("_") and not node.attr.startswith("__"):
                    inherited = isinstance(node.value, ast.Name) and node.value.id == "self"
                    known = inherited or node.attr in own or node.attr in LIBRARIES_OWN
                    if not known:
                        self.fail(f"{file.relative_to(HOUSE)}:{node.lineno}: {ast.unparse(node)}")
