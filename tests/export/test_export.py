"""The printed sheet, read back; tables."""

import csv
import io
import unittest

from pypdf import PdfReader

from ochre_stone.core.project import massing, planning
from ochre_stone.export.bundle import parse_canvas
from ochre_stone.export.pdf import sheet_pdf
from ochre_stone.export.tables import palette_gpl, recipes_csv, ribbon_words, sheet_json
from tests.core.project.test_project import DOCUMENT, PICTURE


def the_sheet(**canvas: object) -> planning.Sheet:
    document = DOCUMENT.model_copy(update={"canvas": DOCUMENT.canvas.model_copy(update=canvas)})
    return planning.make_sheet(PICTURE, document, massing.fine_masses(PICTURE, document))


class Pdf(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.sheet = the_sheet()
        cls.bytes = sheet_pdf(cls.sheet)
        cls.reader = PdfReader(io.BytesIO(cls.bytes))
        cls.text = "\n".join(p.extract_text() for p in cls.reader.pages)

    def test_everything_a_painter_needs_is_on_it(self):
        for words in ("Try", "30 x 40 cm", "Masses", "Order of laying in", "Edges", "Skin", "Foliage", "Sky", "Shadows",
                      "To squeeze out", "Cautions", "Cadmium", "rags", "local rules",
                      "not measured", "page 1"):  # fmt: skip
            self.assertIn(words, self.text)

    def test_every_pile_with_its_amount_and_order(self):
        self.assertEqual(self.text.count("mix 1st"), 1)
        self.assertIn("In this order", self.text)
        self.assertIn("On the palette", self.text)
        for s in self.sheet.strings:
            for p in s.piles:
                self.assertIn(f"value {p.target.value:.1f}", self.text)
                self.assertIn(f"{self.sheet.amounts.piles[p.id]:.1f} ml", self.text)

    def test_the_mass_map_has_its_numbers(self):
        front = self.reader.pages[0]
        self.assertGreaterEqual(len(front.images), 2)
        lines = front.extract_text().split("\n")
        for m in self.sheet.masses.masses:
            self.assertIn(str(m.index + 1), lines)

    def test_faces_are_embedded(self):
        fonts = self.reader.pages[0]["/Resources"]["/Font"]
        names = [f.get_object()["/BaseFont"] for f in fonts.values()]
        self.assertTrue(any("Atkinson" in n for n in names), names)

    def test_paper(self):
        self.assertAlmostEqual(float(self.reader.pages[0].mediabox.width), 595.3, delta=0.5)
        letter = PdfReader(io.BytesIO(sheet_pdf(the_sheet(paper="Letter"))))
        self.assertAlmostEqual(float(letter.pages[0].mediabox.width), 612, delta=0.5)

    def test_same_sheet_same_bytes(self):
        self.assertEqual(sheet_pdf(self.sheet), self.bytes)

    def test_nothing_runs_off_the_page(self):
        for page in self.reader.pages:
            width, height = float(page.mediabox.width), float(page.mediabox.height)
            places = []

            def visit(text, cm, tm, font, size, places=places):
                if text.strip():
                    places.append((tm[4], tm[5]))

            page.extract_text(visitor_text=visit)
            self.assertTrue(places)
            self.assertTrue(all(20 < x < width - 20 and 15 < y < height - 20 for x, y in places))


class Tables(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.sheet = the_sheet()

    def test_csv_adds_up(self):
        rows = list(csv.DictReader(io.StringIO(recipes_csv(self.sheet))))
        self.assertEqual(len(rows), sum(len(s.piles) for s in self.sheet.strings))
        for row in rows:
            parts = sum(float(v) for k, v in row.items() if k.endswith("_ml") and k != "amount_ml" and v)
            self.assertAlmostEqual(parts, float(row["amount_ml"]), delta=0.08)

    def test_gpl_has_a_line_a_pile(self):
        lines = palette_gpl(self.sheet).splitlines()
        colours = [line for line in lines if "\t" in line]
        self.assertEqual(len(colours), sum(len(s.piles) for s in self.sheet.strings))
        for line in colours:
            self.assertTrue(all(0 <= int(v) <= 255 for v in line.split("\t")[0].split()))

    def test_json_is_plain(self):
        import json

        data = json.loads(json.dumps(sheet_json(self.sheet), allow_nan=False))
        self.assertEqual(len(data["strings"]), len(self.sheet.strings))
        self.assertEqual(data["canvas"]["width"], 30)

    def test_words(self):
        self.assertEqual(ribbon_words(3), "3.0 ml, 6 cm")
        self.assertIn("touch", ribbon_words(0.01))


class CanvasSizes(unittest.TestCase):
    def test_sizes(self):
        self.assertAlmostEqual(parse_canvas("30x40cm").area_cm2, 1200)
        self.assertAlmostEqual(parse_canvas("12 x 16 in").area_cm2, 12 * 16 * 2.54**2)
        self.assertEqual(parse_canvas("8.5x11IN", "Letter").paper, "Letter")

    def test_bad_sizes(self):
        from ochre_stone.core.errors import OchreError

        for text in ("", "30", "30x40", "0x40cm", "axbcm", "30x40mm", "-3x4cm"):
            with self.assertRaises(OchreError, msg=text):
                parse_canvas(text)
