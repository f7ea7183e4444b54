"""Charts: letters, numbers and steps by hand; every cell mixed again from its parts."""

import unittest

import numpy as np

from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.errors import OchreError
from ochre_stone.core.paint.calibration import BUMPS, CENTRES, TubeCorrection
from ochre_stone.core.paint.chart import (
    LEAST_VALUES,
    MOST_VALUES,
    cell_number,
    chart_values,
    letters,
    make_chart,
    readable_kinds,
    white_for,
)
from ochre_stone.core.paint.optics import WAVELENGTHS, layer_lab
from ochre_stone.core.paint.palettes import PALETTES
from ochre_stone.core.paint.tubes import strength_of, tube

TEN = PALETTES["portrait-ten"]


class Signs(unittest.TestCase):
    def test_letters_and_numbers(self) -> None:
        self.assertEqual([letters(n) for n in (0, 25, 26, 51, 52, 701, 702)], ["A", "Z", "AA", "AZ", "BA", "ZZ", "AAA"])
        said = [cell_number(x) for x in (2.5, 0.25, 12.0, 0.75, 0.5, 3.25, 0.0)]
        self.assertEqual(said, ["2½", "¼", "12", "¾", "½", "3¼", "0"])

    def test_even_steps_between_black_and_white(self) -> None:
        np.testing.assert_allclose(chart_values(4), (2.0, 4.0, 6.0, 8.0))
        np.testing.assert_allclose(chart_values(9), range(1, 10))
        for n in (LEAST_VALUES - 1, MOST_VALUES + 1):
            self.assertRaises(OchreError, chart_values, n)
        self.assertEqual([len(chart_values(n)) for n in (LEAST_VALUES, MOST_VALUES)], [LEAST_VALUES, MOST_VALUES])

    def test_kinds_that_stay_readable(self) -> None:
        self.assertEqual(readable_kinds(TEN), ("singles", "pairs"))


class Cells(unittest.TestCase):
    def test_white_brings_a_base_to_a_lightness(self) -> None:
        red, white = tube("cadmium-red-light"), tube("titanium-white")
        goals = np.array([60.0, 75.0, 90.0])
        share = white_for(np.tile(red.K, (3, 1)), np.tile(red.S, (3, 1)), white, goals, TEN)
        for s, goal in zip(share, goals, strict=True):
            L = layer_lab((1 - s) * red.K + s * white.K, (1 - s) * red.S + s * white.S, TEN.surface)[0]
            self.assertAlmostEqual(float(L), goal, places=3)
        self.assertTrue(np.isnan(white_for(red.K[None], red.S[None], white, [20.0], TEN)[0]))
        self.assertTrue(np.isnan(white_for(red.K[None], red.S[None], white, [99.9], TEN)[0]))
        black = tube("ivory-black")
        dark = float(white_for(red.K[None], red.S[None], black, [40.0], TEN)[0])
        L = layer_lab((1 - dark) * red.K + dark * black.K, (1 - dark) * red.S + dark * black.S, TEN.surface)[0]
        self.assertAlmostEqual(float(L), 40.0, places=3)

    def test_every_cell_is_the_mixture_of_its_parts(self) -> None:
        chart = make_chart(TEN, 5, ("singles", "darkened", "pairs"), [t.id for t in TEN.tubes][1:4])
        self.assertEqual(chart.columns, 5)
        self.assertEqual(chart.values, ())
        for row in chart.rows:
            values = [c.value for c in row.cells]
            rising = row.kind != "darkened"
            self.assertEqual(values, sorted(values, reverse=not rising), row.title)
            for c in row.cells:
                whole = sum(p for _, p in c.parts)
                K = sum(tube(i).K * p for i, p in c.parts) / whole
                S = sum(tube(i).S * p for i, p in c.parts) / whole
                lab = layer_lab(K, S, TEN.surface)
                np.testing.assert_allclose(c.lab, lab, atol=1e-3)
                self.assertAlmostEqual(c.value, float(value_of_lightness(float(lab[0]))), places=3)
            first = row.cells[0]
            self.assertEqual((first.label, first.column), (f"{row.letter}0", -1))
            self.assertEqual([c.label for c in row.cells[1:]], [f"{row.letter}{c.column + 1}" for c in row.cells[1:]])
        single = next(r for r in chart.rows if r.kind == "singles")
        steps = np.diff([c.value for c in single.cells])
        self.assertLess(steps.max() - steps.min(), 0.9)
        self.assertIn("dominant", next(r for r in chart.rows if r.kind == "pairs").title)

    def test_columns_of_one_value(self) -> None:
        chart = make_chart(TEN, (4.0, 6.0, 8.0), ("singles",), ["burnt-sienna", "yellow-ochre"])
        self.assertEqual((chart.values, chart.columns), ((4.0, 6.0, 8.0), 4))
        for row in chart.rows:
            for c in row.cells[1:]:
                self.assertAlmostEqual(c.value, chart.values[c.column], delta=0.6)

    def test_what_cannot_be_charted(self) -> None:
        for values, kinds, only, words in (
            (5, (), None, "no rows"), (5, ("singles",), (), "at least one tube"),
            (5, ("singles", "darkened", "pairs", "triples"), None, "fewer tubes"),
            (99, ("singles",), None, "not possible"),
        ):  # fmt: skip
            with self.assertRaisesRegex(OchreError, words):
                make_chart(TEN, values, kinds, only)


class Corrections(unittest.TestCase):
    def test_by_hand(self) -> None:
        t = tube("cadmium-red-light")
        stronger = TubeCorrection(strength=0.2, scatter=-0.1).apply(t.K, t.S)
        np.testing.assert_allclose(stronger[0], t.K * np.exp(0.2))
        np.testing.assert_allclose(stronger[1], t.S * np.exp(0.1))
        plain = TubeCorrection()
        np.testing.assert_allclose(plain.apply(t.K, t.S)[0], t.K)
        self.assertEqual((plain.before, plain.after), (0, 0))
        self.assertEqual((plain.strength_sd, plain.scatter_sd, plain.hue_sd), (0.3, 0.3, 5))
        leaning = TubeCorrection(tilt=(0.0, 0.5, 0.0, 0.0, 0.0)).apply(t.K, t.S)[0] / t.K
        np.testing.assert_allclose(np.log(leaning), 0.5 * BUMPS[1], atol=1e-12)
        at = float(WAVELENGTHS[int(np.argmax(leaning))])
        self.assertEqual(at, CENTRES[1])
        self.assertAlmostEqual(float(BUMPS[1][list(WAVELENGTHS).index(CENTRES[1] + 40)]), np.exp(-0.5 * (40 / 35) ** 2))
        for wrong in ({"strength": 4.1}, {"tilt": (4.1, 0, 0, 0, 0)}, {"shift": 61}, {"before": -1}, {"tilt": (0.0,)}):
            self.assertRaises(ValueError, TubeCorrection, **wrong)
        longer = TubeCorrection(shift=10.0).apply(t.K, t.S)[0]
        np.testing.assert_allclose(longer[10:30], t.K[9:29], rtol=1e-6)  # a band of ten nanometres on

    def test_strength_is_the_peak_or_half_the_scattering(self) -> None:
        K, S = np.full(36, 0.1), np.full(36, 1.0)
        K[3], K[33] = 9.0, 9.0  # where the eye hardly sees
        self.assertEqual(float(strength_of(K, S)), 0.5)
        K[4] = 3.0
        self.assertEqual(float(strength_of(K, S)), 3.0)
        K[4], K[32] = 0.1, 2.0
        self.assertEqual(float(strength_of(K, S)), 2.0)
        np.testing.assert_allclose(strength_of(np.stack([K, K / 10]), np.stack([S, S])), [2.0, 0.5])
