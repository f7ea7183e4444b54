"""Tables as text: nothing that a spreadsheet would run, and read back as it was."""

import unittest

from ochre_stone.core.paint import tabled

RUNS = ("=1+1", "+cmd|' /C calc'!A0", "-2+3", "@SUM(A1)", "\t=1", '=HYPERLINK("x";"y")', "'=1", "''@x", "-", "+")
PLAIN = ("-3.2", "+0.12", "-1e-5", "", "7", "it's", "'quoted'", "5YR 6/4", "a;=1+1", "two\nlines", 'say "so"', "a, b")


class Cells(unittest.TestCase):
    def test_what_a_spreadsheet_would_run_stands_behind_an_apostrophe(self) -> None:
        for cell in RUNS:
            text = tabled.as_text([[cell]]).strip().strip('"')
            self.assertTrue(text.startswith("'"), text)

    def test_all_comes_back_unchanged(self) -> None:
        text = tabled.as_text([["a", "b"], *([cell, "end"] for cell in (*RUNS, *PLAIN) if cell != "\r")])
        back = [row["a"] for row in tabled.rows(text, "x.csv", ",", 100)]
        self.assertEqual(back, [*RUNS, *PLAIN])

    def test_numbers_and_words_stay_as_they_are(self) -> None:
        self.assertEqual(tabled.as_text([(-3.2, "+0.12", "it's", "")]), "-3.2,+0.12,it's,\n")

    def test_no_other_separator_parts_a_cell(self) -> None:
        self.assertEqual(tabled.as_text([("a;=1+1", "x\t=2")]), '"a;=1+1","x\t=2"\n')
