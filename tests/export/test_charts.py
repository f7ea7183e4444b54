"""Charts and palettes as files: what is printed, what other programs can read."""

import csv
import io
import unittest
import xml.etree.ElementTree as ET

import numpy as np
from pypdf import PdfReader

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.errors import OchreError
from ochre_stone.core.paint.chart import chart_values, make_chart
from ochre_stone.core.paint.palettes import palette
from ochre_stone.core.paint.spectral import read_text
from ochre_stone.export.chart import chart_bytes
from ochre_stone.export.palette import palette_csv, palette_json, palette_pdf


def words(pdf: bytes) -> str:
    return " ".join("".join(p.extract_text() for p in PdfReader(io.BytesIO(pdf)).pages).split())


class Charts(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.chart = make_chart(palette("four-tube-earth"), chart_values(6))

    def test_pdf_has_every_cell_and_the_cautions(self):
        data = chart_bytes(self.chart, ".pdf")
        text = words(data)
        for r in self.chart.rows:
            for c in r.cells:
                self.assertIn(c.words, text)
        for part in ("Four-tube earth", "value 4.3", "Cadmium", "no safety authority", "four crosses"):
            self.assertIn(part, text)
        self.assertEqual(data, chart_bytes(self.chart, ".pdf"), "the same chart gives the same bytes")

    def test_a_blank_one_has_parts_but_no_colours(self):
        svg = chart_bytes(self.chart, ".svg", blank=True).decode()
        full = chart_bytes(self.chart, ".svg").decode()
        fills = [e.get("fill") for e in ET.fromstring(svg).iter() if e.get("id") in {c.label for c in self.chart.cells}]
        self.assertEqual(set(fills), {"#ffffff"})
        self.assertEqual(len(fills), len(self.chart.cells))
        self.assertIn(self.chart.cells[5].words, svg)
        self.assertGreater(len({e.get("fill") for e in ET.fromstring(full).iter()}), 30)
        self.assertIn("to paint into", words(chart_bytes(self.chart, ".pdf", "Letter", True)))

    def test_csv_can_be_filled_in_and_read_back(self):
        rows = list(csv.DictReader(io.StringIO(chart_bytes(self.chart, ".csv").decode())))
        self.assertEqual(len(rows), len(self.chart.cells))
        for row in rows[:7]:
            for k in "lab":
                row[f"measured_{k}"] = row[f"predicted_{k}"]
        out = io.StringIO()
        table = csv.DictWriter(out, list(rows[0]))
        table.writeheader()
        table.writerows(rows)
        back = read_text(out.getvalue(), "chart.csv", [t.id for t in palette("four-tube-earth").tubes])
        self.assertEqual([r.label for r in back], [c.label for c in self.chart.cells[:7]])
        for r, c in zip(back, self.chart.cells, strict=False):
            self.assertEqual(set(dict(r.parts)), set(dict(c.parts)))
            for tube_id, n in c.parts:
                self.assertAlmostEqual(dict(r.parts)[tube_id], n, places=4)
            np.testing.assert_allclose(r.lab, c.lab, atol=0.001)

    def test_cgats_carries_the_spectra(self):
        back = read_text(chart_bytes(self.chart, ".cgats").decode(), "x", [t.id for t in self.chart.palette.tubes])
        self.assertEqual(len(back), len(self.chart.cells))
        for r, c in zip(back, self.chart.cells, strict=True):
            self.assertEqual(len(r.spectrum), 36)
            self.assertLess(float(ciede2000(r.lab, c.lab)), 0.05)

    def test_unknown_formats(self):
        with self.assertRaises(OchreError) as caught:
            chart_bytes(self.chart, ".docx")
        self.assertIn(".pdf", str(caught.exception))


class Palettes(unittest.TestCase):
    def test_to_print(self):
        text = words(palette_pdf(palette("portrait-ten"), "Letter"))
        for part in ("Portrait of ten", "Alizarin crimson", "light, warm here", "PR83", "oily rags", "cadmium"):
            self.assertIn(part.lower(), text.lower())

    def test_tables(self):
        rows = list(csv.DictReader(io.StringIO(palette_csv(palette("portrait-ten")))))
        self.assertEqual([r["id"] for r in rows], list(palette("portrait-ten").paints))
        self.assertIn('"pigments"', palette_json(palette("portrait-ten")))
