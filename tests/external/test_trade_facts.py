"""What painters know of their tubes, held against the model; the table in the documents is made of the same figures."""

import unittest
from pathlib import Path

from tests.external.trade import FACTS, reach_table, table

DOCS = Path(__file__).parents[2] / "docs" / "colour-model.md"


class FactsOfTheTrade(unittest.TestCase):
    def test_at_least_forty_and_each_once(self):
        self.assertGreaterEqual(len(FACTS), 40)
        self.assertEqual(len({f.words for f in FACTS}), len(FACTS))

    def test_each_fact_holds_or_says_why_not(self):
        for f in FACTS:
            figure = f.figure()
            with self.subTest(f.words, figure=figure, wanted=f.wanted):
                if f.misses:
                    # A miss that was mended must lose its excuse.
                    self.assertFalse(f.holds(figure), "holds now: take the reason away")
                else:
                    self.assertTrue(f.holds(figure))

    def test_few_are_missed(self):
        self.assertLessEqual(sum(bool(f.misses) for f in FACTS), 3)

    def test_the_documents_show_these_figures(self):
        text = DOCS.read_text(encoding="utf-8")
        for made in (table(), reach_table()):
            self.assertIn(made, text, "run tools/make_paint_tables.py")
