"""What stands in the core itself: sentences of one line, what is read from disk, modules that are loaded later."""

import math
import sys
import unittest

from pydantic import ValidationError

from ochre_stone.core.errors import OchreError, one_line
from ochre_stone.core.frozen import Frozen
from ochre_stone.core.later import later
from ochre_stone.core.programme import Programme


class Thing(Frozen):
    size: float = 0.0


class Small(unittest.TestCase):
    def test_a_long_sentence_keeps_its_beginning_and_its_end(self) -> None:
        exact = "x" * 60
        self.assertEqual(one_line(exact, 60), exact)
        long = one_line("a" * 40 + "b" * 40, 60)
        self.assertEqual(long, "a" * 37 + " … " + "b" * 20)
        self.assertEqual(len(long), 60)
        self.assertEqual(one_line(" a\t\n b  c\x07d "), "a b c d")
        self.assertEqual(str(OchreError("two\nlines")), "two lines")

    def test_what_is_read_from_disk_is_whole_and_stays(self) -> None:
        self.assertRaises(ValidationError, Thing, size=math.inf)
        self.assertRaises(ValidationError, Thing, size=math.nan)
        self.assertRaises(ValidationError, Thing.model_validate, {"size": 1.0, "colour": 2})
        one = Thing(size=1.0)
        with self.assertRaises(ValidationError):
            one.size = 2.0

    def test_a_module_is_loaded_with_its_first_name_and_kept(self) -> None:
        sys.modules.pop("wave", None)
        wave = later("wave")
        self.assertNotIn("wave", sys.modules)
        self.assertTrue(callable(wave.open))
        self.assertIn("wave", sys.modules)
        self.assertIs(wave.open, sys.modules["wave"].open)
        wave.open = 3  # set through it, as a test does, and taken back
        self.assertEqual(sys.modules["wave"].open, 3)
        sys.modules.pop("wave")

    def test_a_programme_by_hand(self) -> None:
        """Three things of worth 5, 4, 3 and weight 4, 3, 2, at most 5 in all: the last two."""
        p = Programme([-5.0, -4.0, -3.0], [0, 0, 0], [1, 1, 1], [True] * 3)
        p.row([(0, 4.0), (1, 3.0), (2, 2.0)], high=5.0)
        found = p.solve()
        self.assertEqual([round(v) for v in found.x], [0, 1, 1])
        half = Programme([-5.0, -4.0, -3.0], [0, 0, 0], [1, 1, 1], [False] * 3)
        half.row([(0, 4.0), (1, 3.0), (2, 2.0)], high=5.0)
        self.assertAlmostEqual(float(half.solve().x @ [5.0, 4.0, 3.0]), 7.0)
        none = Programme([1.0], [0.0], [1.0], [True])
        none.row([(0, 1.0)], low=2.0)
        self.assertIsNone(none.solve().x)
