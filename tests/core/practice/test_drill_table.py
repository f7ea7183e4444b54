"""What the drills are is told in docs/practice.md, and told truly."""

import unittest
from pathlib import Path

from tests.support.drilltable import drill_table

PAGE = Path(__file__).parents[3] / "docs" / "practice.md"


class Table(unittest.TestCase):
    def test_the_page_tells_the_drills_as_they_are(self) -> None:
        told = PAGE.read_text(encoding="utf-8").split("<!-- drills: begin -->\n")[1].split("\n<!-- drills: end -->")[0]
        self.assertEqual(told, drill_table(), "run make docs")
