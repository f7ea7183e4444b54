"""Charts: cells at their values, countable parts, pages, spectral files, and finding a colour in a chart."""

import functools
import itertools
import unittest

import numpy as np

from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.errors import OchreError
from ochre_stone.core.paint.chart import cell_number, chart_values, letters, make_chart, nearest_cells, readable_kinds
from ochre_stone.core.paint.chartpage import pages
from ochre_stone.core.paint.palettes import PALETTES, Palette, palette
from ochre_stone.core.paint.predict import predict
from ochre_stone.core.paint.spectral import SpectralReading, cgats, read_text


@functools.cache
def chart_of(palette_id, values, kinds=("singles", "pairs")):
    """A chart of a palette that ships, made once."""
    return make_chart(palette(palette_id), values, kinds)


class Cells(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.chart = make_chart(palette("four-tube-earth"), chart_values(6))

    def test_rows_of_each_kind(self):
        kinds = [r.kind for r in self.chart.rows]
        self.assertEqual((kinds.count("singles"), kinds.count("pairs")), (3, 6))
        self.assertIn(kinds.count("triples"), (3, 4))
        self.assertEqual(len({c.label for c in self.chart.cells}), len(self.chart.cells))

    def test_cells_stand_at_the_value_of_their_column(self):
        """White is solved for; what is left is the rounding to parts that can be counted."""
        for p in PALETTES.values():
            chart = chart_of(p.id, chart_values(6))
            off = [c.value - chart.values[c.column] for c in chart.cells if c.column >= 0]
            self.assertLess(np.abs(off).max(), 0.2, p.id)
            self.assertLess(np.median(np.abs(off)), 0.06, p.id)

    def test_parts_can_be_counted_with_a_knife(self):
        """Quarters below two, halves below six, whole ones to twenty, then fives and tens; each cell from the one
        before."""

        def countable(x):
            steps = ((2, 0.25), (6, 0.5), (20, 1), (50, 5), (101, 10))
            step = next(s for most, s in steps if x < most)
            return x > 0 and abs(x / step - round(x / step)) < 1e-9

        for p in ("four-tube-earth", "portrait-ten", "prismatic"):
            for values in (6, chart_values(8)):
                for c in chart_of(p, values).cells:
                    if c.before:
                        self.assertTrue(countable(c.added) and countable(c.base), (p, c.words))
                        self.assertIn(1.0, (c.added, c.base), (p, c.label))
                    else:
                        self.assertEqual((c.column, c.words), (-1, "as it comes"))
                    if values == 6:
                        self.assertLessEqual(c.added, 25, (p, c.label))

    def test_rows_are_even_in_value_whatever_the_mass_tone(self):
        """Five or six steps to each row, from the mass tone to nearly white (common practice, no source)."""
        for p in PALETTES.values():
            for count in (5, 6):
                for row in chart_of(p.id, count).rows:
                    values = [c.value for c in row.cells]
                    self.assertEqual((len(values), row.cells[0].words), (count, "as it comes"), (p.id, row.title))
                    self.assertAlmostEqual(values[-1], 9.2, delta=0.15)
                    gaps = np.diff(values)
                    self.assertLess(np.abs(gaps - gaps.mean()).max(), 0.25, (p.id, row.title, values))

    def test_a_cell_is_the_cell_before_and_so_much_white(self):
        for values in (6, chart_values(6)):
            for row in make_chart(palette("portrait-ten"), values, ("singles", "darkened")).rows:
                cells = {c.label: c for c in row.cells}
                added = "ivory-black" if row.kind == "darkened" else "titanium-white"
                for c in row.cells[1:]:
                    whole = sum(n for _, n in cells[c.before].parts)
                    followed = {i: n / whole * c.base for i, n in cells[c.before].parts}
                    followed[added] = followed.get(added, 0.0) + c.added
                    np.testing.assert_allclose(predict(followed).lab, c.lab, atol=0.01)
                    self.assertTrue(c.words.endswith("b" if row.kind == "darkened" else "w"), c.words)

    def test_singles_are_darkened_with_black_where_asked(self):
        rows = make_chart(palette("portrait-ten"), 5, ("darkened",)).rows
        self.assertEqual(rows[0].title, "ochre, darkened with black")
        for row in rows:
            values = [c.value for c in row.cells]
            self.assertEqual(values, sorted(values, reverse=True), row.title)
            self.assertNotIn("ivory-black", dict(row.base))
            self.assertLessEqual(max(c.base for c in row.cells), 20, "a knife can tell a twentieth")
        self.assertAlmostEqual(rows[0].cells[-1].value, 1.5, delta=0.2)
        with self.assertRaisesRegex(OchreError, "no black to darken with"):
            make_chart(palette("prismatic"), 5, ("darkened",))

    def test_who_leads_is_said(self):
        titles = [r.title for r in make_chart(palette("four-tube-earth"), 6, ("pairs", "triples")).rows]
        self.assertTrue(titles[0].startswith("ochre-dominant: "), titles)
        self.assertTrue(titles[1].startswith("cadmium red medium-dominant: "), titles)
        self.assertTrue(all("-dominant: " in t or t.startswith("balanced: ") for t in titles), titles)

    def test_white_is_the_nearest_that_can_be_counted(self):
        """The count next to it, more or less, stands no nearer to the value of the column."""
        chart = make_chart(palette("four-tube-earth"), chart_values(6), ("singles",))
        for row in chart.rows:
            base, white = predict(dict(row.base)), predict({"titanium-white": 1})
            self.assertGreater(white.lab[0], base.lab[0])
            for c in row.cells[1:]:
                off = abs(c.value - chart.values[c.column])
                before = next(b for b in row.cells if b.label == c.before)
                whole = sum(n for _, n in before.parts)
                for factor in (0.8, 1.25):
                    near = {i: n / whole * c.base for i, n in before.parts}
                    near["titanium-white"] = near.get("titanium-white", 0.0) + c.added * factor
                    near = predict(near).lab[0]
                    other = abs(float(value_of_lightness(near)) - chart.values[c.column])
                    self.assertLess(off, other + 0.06, (c.label, factor))

    def test_a_cell_is_what_its_parts_make(self):
        for c in self.chart.cells:
            np.testing.assert_allclose(predict(dict(c.parts)).lab, c.lab, atol=0.01)

    def test_nothing_is_lighter_than_its_column_allows(self):
        for r in self.chart.rows:
            base = r.cells[0]
            self.assertEqual((base.column, base.added), (-1, 0.0))
            for c in r.cells[1:]:
                self.assertGreater(self.chart.values[c.column], base.value)

    def test_pairs_lean_each_way_and_strong_tubes_get_few_parts(self):
        chart = make_chart(
            palette("prismatic"), chart_values(5), ("pairs",), ["cadmium-yellow-light", "phthalo-blue-green-shade"]
        )
        first, second = (dict(r.base) for r in chart.rows)
        blue, yellow = "phthalo-blue-green-shade", "cadmium-yellow-light"
        self.assertGreater(first[yellow] / first[blue], second[yellow] / second[blue])
        self.assertGreater(second[yellow], 2 * second[blue])

    def test_the_neutral_triple_is_the_greyest(self):
        chart = make_chart(palette("three-primaries"), chart_values(6), ("triples",))
        middle = [next(c for c in r.cells if c.column == 3) for r in chart.rows]
        chroma = [float(np.hypot(*c.lab[1:])) for c in middle]
        self.assertEqual(int(np.argmin(chroma)), len(chroma) - 1)
        self.assertLess(chroma[-1], 8)

    def test_what_cannot_be_charted(self):
        no_white = Palette("x", "No white", "", ("yellow-ochre", "ivory-black"))
        for make, words in (
            (lambda: make_chart(no_white, chart_values(6)), "no white"),
            (lambda: make_chart(palette("portrait-ten"), chart_values(6), KINDS_ALL), "rows"),
            (lambda: make_chart(palette("portrait-ten"), chart_values(6), ()), "no rows"),
            (lambda: make_chart(palette("portrait-ten"), chart_values(6), ("singles",), ["no-tube"]), "at least one"),
            (lambda: chart_values(2), "3 to 10"),
            (lambda: make_chart(palette("portrait-ten"), 2), "3 to 10"),
        ):
            with self.subTest(words=words), self.assertRaises(OchreError) as caught:
                make()
            self.assertIn(words, str(caught.exception))
        self.assertEqual(readable_kinds(palette("portrait-ten")), ("singles", "pairs"))
        self.assertEqual(len(readable_kinds(palette("four-tube-earth"))), 3)

    def test_no_other_weights_make_a_greyer_tint(self):
        """All shares of the three by twelfths of their power, each let down with white to L* 50 by bisection."""
        p = palette("three-primaries")
        white, three = p.tubes[0], p.tubes[1:]
        row = make_chart(p, chart_values(6), ("triples",)).rows[-1]

        def chroma(parts):
            low, high = 0.0, 2000.0
            for _ in range(50):
                middle = (low + high) / 2
                lab = predict({**parts, white.id: middle}).lab
                low, high = (low, middle) if lab[0] > 50 else (middle, high)
            return float(np.hypot(*lab[1:]))

        weights = [w for w in itertools.product(range(1, 11), repeat=3) if sum(w) == 12]
        every = [chroma({t.id: n / t.strength for t, n in zip(three, w, strict=True)}) for w in weights[::2]]
        self.assertLess(chroma(dict(row.base)), min(every) + 1.5)
        self.assertGreater(max(every), 20)

    def test_white_below_a_twentieth_is_no_cell(self):
        """At a value that the base reaches with less white than a twentieth there is none: it does as it comes."""
        p = palette("four-tube-earth")
        for ratio, columns in ((0.045, [-1]), (0.055, [-1, 0]), (1.0, [-1, 0])):
            L = predict({"ivory-black": 1.0, "titanium-white": ratio}).lab[0]
            (row,) = make_chart(p, [float(value_of_lightness(L))], ("singles",), ["ivory-black"]).rows
            self.assertEqual([c.column for c in row.cells], columns, ratio)

    def test_triples_are_left_out_from_five_colours_on(self):
        four = ("titanium-white", "yellow-ochre", "cadmium-red", "ivory-black", "ultramarine-blue")
        self.assertEqual(readable_kinds(Palette("x", "x", "", four)), ("singles", "pairs", "triples"))
        self.assertEqual(readable_kinds(Palette("x", "x", "", (*four, "viridian"))), ("singles", "pairs"))

    def test_words(self):
        self.assertEqual([letters(n) for n in (0, 25, 26, 51, 52, 701, 702)], ["A", "Z", "AA", "AZ", "BA", "ZZ", "AAA"])
        self.assertEqual([cell_number(x) for x in (0.25, 1.5, 12, 0)], ["¼", "1½", "12", "0"])
        self.assertEqual(self.chart.rows[0].cells[0].words, "as it comes")

    def test_finding_a_colour(self):
        cell = self.chart.cells[20]
        found = nearest_cells(self.chart, cell.lab, 3)
        self.assertEqual((found[0][0].label, found[0][1]), (cell.label, 0.0))
        self.assertLessEqual(found[1][1], found[2][1] * 2.5)


KINDS_ALL = ("singles", "pairs", "triples")


class Paper(unittest.TestCase):
    def test_every_cell_has_a_place_inside_the_crosses(self):
        chart = make_chart(palette("portrait-ten"), chart_values(10), ("singles", "pairs"))
        for paper in ("A4", "Letter"):
            sheets = pages(chart, paper)
            self.assertEqual(sum(len(p.cells) for p in sheets), len(chart.cells))
            for p in sheets:
                (left, top), (right, _), (_, bottom), _ = p.corners
                self.assertLess(bottom, p.height)
                for _, box in p.cells:
                    self.assertTrue(left < box.x and box.x + box.width < right)
                    self.assertTrue(top < box.y and box.y + box.height < bottom)
        with self.assertRaises(OchreError):
            pages(chart, "A5")


class SpectralFiles(unittest.TestCase):
    def test_cgats_goes_round(self):
        spectrum = tuple(0.2 + 0.01 * i for i in range(36))
        rows = [SpectralReading("A 1", (50.0, 1.0, 2.0), spectrum, (("yellow-ochre", 2.0), ("titanium-white", 5.0)))]
        text = cgats(rows, ["titanium-white", "yellow-ochre"], "tests", "a chart")
        back = read_text(text, "x.cgats", ["yellow-ochre", "titanium-white"])
        self.assertEqual((back[0].label, dict(back[0].parts)), ("A 1", {"yellow-ochre": 2.0, "titanium-white": 5.0}))
        np.testing.assert_allclose(back[0].spectrum, spectrum, atol=1e-5)

    def test_other_names_of_bands_and_per_cent(self):
        for word in ("SPECTRAL_NM{}", "SPEC_{}", "nm{}", "{}", "R_{}"):
            head = ",".join(["label", *(word.format(nm) for nm in range(400, 701, 20))])
            text = head + "\n" + ",".join(["B", *["25"] * 16]) + "\n"
            found = read_text(text, "x.csv")
            np.testing.assert_allclose(found[0].spectrum, 0.25, atol=1e-9)
            self.assertAlmostEqual(found[0].lab[0], 57.08, delta=0.1)

    def test_blank_lines_of_a_chart_are_passed_over(self):
        text = "label,measured_l,measured_a,measured_b\nA1,,,\nA2,50,1,2\n"
        self.assertEqual([r.label for r in read_text(text, "x.csv")], ["A2"])

    def test_semicolons_commas_and_a_byte_order_mark(self):
        text = "\ufefflabel;lab_l;lab_a;lab_b\nA1;50,5;1;2\n"
        self.assertEqual(read_text(text, "x.csv")[0].lab, (50.5, 1.0, 2.0))

    def test_cgats_has_spectra_where_all_have_them(self):
        full = SpectralReading("A", (50.0, 1.0, 2.0), (0.2,) * 36, (("ivory-black", 1.0),))
        plain = SpectralReading("B", (60.0, 0.0, 0.0), (), (("ivory-black", 2.0),))
        for rows, spectral in (([full], True), ([full, plain], False), ([plain], False), ([], False)):
            text = cgats(rows, ["ivory-black"], "test", "swatches")
            self.assertEqual("SPECTRAL_NM400" in text, spectral)
            if rows:
                back = read_text(text, "x.txt", ["ivory-black"])
                self.assertEqual([r.parts for r in back], [r.parts for r in rows])

    def test_a_blank_amount_is_none(self):
        text = "label,lab_l,lab_a,lab_b,titanium-white,ivory-black\nA,50,0,0,2,\nB,40,0,0,,1\n"
        found = read_text(text, "x.csv", ["titanium-white", "ivory-black"])
        self.assertEqual([r.parts for r in found], [(("titanium-white", 2.0),), (("ivory-black", 1.0),)])

    def test_spectra_in_per_cent_and_as_shares(self):
        """A flat half: L* 76.07 (CIE 15: 116 (.5)^(1/3) - 16), whichever way it is told."""
        head = "label," + ",".join(f"nm_{n}" for n in range(380, 740, 10))
        for value in ("0.5", "50"):
            (found,) = read_text(f"{head}\nA,{','.join([value] * 36)}\n", "x.csv")
            np.testing.assert_allclose(found.lab, (76.07, 0, 0), atol=0.05)
            self.assertEqual(set(np.round(found.spectrum, 6)), {0.5})

    def test_what_is_wrong_is_said_with_its_line(self):
        for text, words in (
            ("", "no readings"),
            ("label\nA\n", "neither colours"),
            ("lab_l,lab_a,lab_b\n1,2,3\n", "column of names"),
            ("label,lab_l,lab_a,lab_b\nA,x,1,2\n", "line 2: 'x'"),
            ("label,lab_l,lab_a,lab_b\nA,1,2\n", "line 2"),
            ("label,lab_l,lab_a,lab_b\nA,500,1,2\n", "no colour that paint can have"),
            ("label,lab_l,lab_a,lab_b\nA,,,\n", "fill in"),
            ("BEGIN_DATA_FORMAT\nSAMPLE_ID LAB_L\nEND_DATA_FORMAT\nBEGIN_DATA\n1 2 3\nEND_DATA\n", "line 5: 3 fields"),
            ("label," + ",".join(map(str, range(400, 700, 10))) + "\nA," + ",".join(["-5"] * 30), "no paint's"),
            (
                "label," + ",".join(map(str, range(400, 700, 10))) + "\nA,-0.1," + ",".join(["0.5"] * 29),
                "from -0.1 to 0.5",
            ),
        ):
            with self.subTest(text=text[:30]), self.assertRaises(OchreError) as caught:
                read_text(text, "swatches", [])
            self.assertIn(words, str(caught.exception))
