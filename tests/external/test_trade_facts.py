"""What painters know of their tubes, held against the model; the table in the documents is made of the same figures."""

import unittest
from pathlib import Path

import numpy as np

from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.relations import warmth
from ochre_stone.core.colour.spaces import lch
from ochre_stone.core.paint.predict import predict
from ochre_stone.core.paint.tubes import all_tubes
from tests.support.trade import FACTS, mixtures_table, munsell_hue, shipped, table
from tools.pigments.facts import load

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
        self.assertLessEqual(sum(bool(f.misses) for f in FACTS), 0.05 * len(FACTS))

    def test_the_documents_show_these_figures(self):
        text = DOCS.read_text(encoding="utf-8")
        for made in (table(), mixtures_table()):  # what the palettes reach: make docs
            self.assertIn(made, text, "run make docs")


class FactsOfMixtures(unittest.TestCase):
    """What painters know of mixtures (tools/pigments/facts.json; common practice, no source) in the shipped data. How
    many hold that the fit has not seen, benchmarks/pigments.py tells."""

    def test_at_least_a_hundred_and_twenty_and_each_once(self):
        facts = load()
        self.assertGreaterEqual(len(facts), 120)
        self.assertEqual(len({f.words for f in facts}), len(facts))
        for f in facts:
            self.assertTrue(f.ranges and f.source and f.paints <= set(all_tubes()), f.words)

    def test_each_holds_or_says_why_not(self):
        data = shipped()
        for f in load():
            with self.subTest(f.words, figures=[(g.kind, round(float(g.value), 2)) for g in f.figures(data)]):
                self.assertEqual(bool(f.misses), f.off(data) > 0)

    def test_few_are_missed_and_those_by_little(self):
        data = shipped()
        off = [f.off(data) for f in load()]
        self.assertLessEqual(sum(d > 0 for d in off), 0.05 * len(off))
        self.assertLess(max(off), 0.6, "in standard deviations out of range")

    def test_hues_as_painters_write_them(self):
        said = [munsell_hue(x) for x in (12.5, 10, 0, 100, -4, 91.2)]
        self.assertEqual(said, ["2.5YR", "10R", "10RP", "10RP", "6RP", "1.2RP"])


class KnownCases(unittest.TestCase):
    """Mixtures that painters meet on the first day (common practice, no source)."""

    def seen(self, **parts):
        return read(predict({i.replace("_", "-"): n for i, n in parts.items()}).lab)

    def test_names_of_first_mixtures(self):
        for parts, words in (
            ({"ivory_black": 1, "yellow_ochre": 1}, "olive"),
            ({"ultramarine_blue": 1, "yellow_ochre": 4}, "olive"),
            ({"ivory_black": 1, "cadmium_yellow_light": 4}, "olive"),
            ({"yellow_ochre": 1}, "ochre"),
            ({"transparent_red_oxide": 1, "titanium_white": 5}, "terracotta"),
            ({"transparent_red_oxide": 1, "ultramarine_blue": 1, "titanium_white": 6}, "taupe"),
            ({"ultramarine_blue": 1, "alizarin_crimson": 1, "titanium_white": 6}, "violet"),
            ({"cadmium_red_light": 1, "cadmium_yellow_medium": 4}, "orange"),
            ({"burnt_sienna": 1, "titanium_white": 6}, "clay"),
        ):
            self.assertIn(words, self.seen(**parts).name, parts)

    def test_a_red_oxides_neutral_leans_warm(self):
        lab = predict({"transparent-red-oxide": 1, "ultramarine-blue": 1, "titanium-white": 6}).lab
        self.assertLess(read(lab).chroma, 1.0)
        self.assertGreater(warmth(lab), 0)

    def test_the_hue_of_crimson_rises_all_the_way(self):
        """CIELAB angle, since below value 2 Munsell's table is extrapolated."""
        amounts = (0, 0.125, 0.25, 0.5, 1, 2, 4, 8, 16)
        angles = [
            float(
                lch(
                    np.array(
                        predict(
                            {"alizarin-crimson": 1, "cadmium-yellow-medium": n} if n else {"alizarin-crimson": 1}
                        ).lab
                    )
                )[2]
            )
            for n in amounts
        ]
        self.assertEqual(angles, sorted(angles))
