"""The worked examples in docstrings run, and every public function of colour and paint says what it takes and gives."""

import ast
import doctest
import importlib
import pkgutil
import unittest
from pathlib import Path

import numpy as np

import ochre_stone.core

HERE = Path(ochre_stone.core.__file__).parent


def modules() -> list[str]:
    return sorted(m.name for m in pkgutil.walk_packages(ochre_stone.core.__path__, "ochre_stone.core."))


class Examples(unittest.TestCase):
    def test_they_run(self):
        tried = 0
        for name in modules():
            # A library that another test imports may have set NumPy's printing to an old way.
            with self.subTest(name), np.printoptions(legacy=False):
                found = doctest.testmod(importlib.import_module(name))
                self.assertEqual(found.failed, 0)
                tried += found.attempted
        self.assertGreater(tried, 30)


class Told(unittest.TestCase):
    def test_public_functions_of_the_core_have_a_docstring(self):
        silent = []
        for file in HERE.rglob("*.py"):
            for node in ast.parse(file.read_text(encoding="utf-8")).body:
                public = isinstance(node, ast.FunctionDef | ast.ClassDef) and not node.name.startswith("_")
                if public and ast.get_docstring(node) is None:
                    silent.append(f"{file.relative_to(HERE)}: {node.name}")
        self.assertEqual(silent, [])
