"""The printed sheet, read back; tables."""

import csv
import io
import unittest
from dataclasses import replace

from pypdf import PdfReader
from reportlab.pdfbase.pdfmetrics import stringWidth

from ochre_stone.core.document.choices import LooseChoice
from ochre_stone.core.mixing.recipe.recipe import Ingredient
from ochre_stone.core.mixing.session.adding import Step
from ochre_stone.core.planning import massing, planning
from ochre_stone.core.planning.steps import steps_of
from ochre_stone.export.bundle import parse_canvas
from ochre_stone.export.pdf import sheet_pdf
from ochre_stone.export.style import BODY
from ochre_stone.export.tables import ordinal, palette_gpl, recipes_csv, ribbon_words, sheet_json
from tests.core.document.test_project import DOCUMENT, PICTURE
from tests.support.made import follow


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
        for words in (
            "Try",
            "30 x 40 cm",
            "Masses",
            "Order of laying in",
            "Edges",
            "Skin",
            "Foliage",
            "Sky",
            "Shadows",
            "To squeeze out",
            "Cautions",
            "Cadmium",
            "rags",
            "local rules",
            "not measured",
            "page 1",
        ):
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
        front, plan = self.reader.pages[:2]
        self.assertGreaterEqual(len(plan.images), 2)  # the picture beside it
        for page in (front, plan):
            lines = page.extract_text().split("\n")
            for m in self.sheet.masses.masses:
                self.assertIn(str(m.index + 1), lines)

    def test_one_page_first_to_stand_beside(self):
        """Every pile in the order of mixing, its recipe in type that is read at arm's length; map, name and day."""
        sheet = planning.make_sheet(PICTURE, self.sheet.document, self.sheet.masses, "2026-05-01")
        front = PdfReader(io.BytesIO(sheet_pdf(sheet))).pages[0]
        sizes, places = {}, {}

        def visit(text, cm, tm, font, size):
            if text.strip():
                sizes[text.strip()], places[text.strip()] = size, tm[5]

        front.extract_text(visitor_text=visit)
        said = "\n".join(sizes)
        self.assertIn("2026-05-01", sizes)
        self.assertIn(sheet.document.title, said)
        self.assertIn("measured", said)
        piles = sorted((p for s in sheet.strings for p in s.piles), key=lambda p: p.order)
        heights, used = [], set()
        for p in piles:
            recipe = ", ".join(i.said for i in p.recipe.ingredients)
            first = max((t for t in sizes if recipe.startswith(t)), key=len)  # a long one goes on in a second line
            self.assertIn(recipe.removeprefix(first).strip(), ("", *sizes))
            used.add(sizes[first])
            heights.append(places[first])
            self.assertTrue(p.name in sizes or p.short in sizes, p.name)
        self.assertEqual(len(used), 1, "one size for all")
        self.assertGreaterEqual(min(used), 10)
        self.assertGreaterEqual(min(sizes.values()), 8)
        self.assertEqual(heights, sorted(heights, reverse=True), "in the order of mixing")
        for base in (b for s in sheet.strings for b in s.bases):
            self.assertIn(base.name, sizes)
        self.assertGreaterEqual(len(front.images), 1)

    def test_every_step_is_on_it(self):
        text = " ".join(self.text.split())
        self.assertIn("Step by step", text)
        for p in (p for s in self.sheet.strings for p in s.piles):
            for step in steps_of(self.sheet.document, p, self.sheet.amounts):
                self.assertIn(step.said, text)

    def test_loose_mixtures_are_on_it(self):
        pile = self.sheet.strings[0].piles[1]
        document = self.sheet.document
        parents = tuple(t.id for t in document.mix.chosen().tubes if not t.is_white)[:2]
        choice = LooseChoice(pile=pile.id, parents=parents, parts=(3, 2))
        mix = document.mix.model_copy(update={"loose": (choice,)})
        sheet = planning.make_sheet(PICTURE, document.model_copy(update={"mix": mix}), self.sheet.masses)
        text = "\n".join(p.extract_text() for p in PdfReader(io.BytesIO(sheet_pdf(sheet))).pages)
        self.assertIn("Mixed loosely", text)
        (told,) = sheet_json(sheet)["loose"]
        self.assertEqual([p["id"] for p in told["parents"]], list(choice.parents))
        rows = list(csv.DictReader(io.StringIO(recipes_csv(sheet))))
        self.assertEqual([bool(r["loosely"]) for r in rows].count(True), 1)

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
        bare = replace(self.sheet, amounts=replace(self.sheet.amounts, uncovered=0.26))
        reader = PdfReader(io.BytesIO(sheet_pdf(bare)))
        alone = "26% of the picture has no pile: no paint is counted for it."  # beside other words it ran off the page
        self.assertIn(alone, reader.pages[1].extract_text().splitlines())
        for page in reader.pages:
            width, height = float(page.mediabox.width), float(page.mediabox.height)
            places = []

            def visit(text, cm, tm, font, size, places=places):
                if text.strip():
                    long = stringWidth(text.strip().split("\n")[0], BODY, size)
                    places.append((tm[4], tm[5], tm[4] + long))

            page.extract_text(visitor_text=visit)
            self.assertTrue(places)
            for x, y, end in places:
                self.assertTrue(x > 20 and end < width - 20 and 15 < y < height - 20, (x, y, end))


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

    def test_steps_are_told_whole(self):
        """What plan.json says to do, done to the letter, is the recipe."""
        told, made = sheet_json(self.sheet), {}
        piles = sorted((p for s in told["strings"] for p in s["piles"]), key=lambda p: p["order"])
        for p in piles:
            steps = [
                Step(
                    s["act"],
                    tuple(Ingredient(d["id"], d["name"], d["parts"], d["pile"]) for d in s["doses"]),
                    0.0,
                    tuple(s["lab"]),
                    s["why"],
                    s["half"],
                    s["makes"],
                )
                for s in p["steps"]
            ]
            inside = made[p["id"]] = follow(steps, made)
            for i, share in p["recipe"]["shares"].items():
                self.assertAlmostEqual(inside[i] / sum(inside.values()), share, places=4)
        self.assertEqual(told["hand"]["least_ml"], 0.05)
        self.assertTrue(all("by_eye" in p["recipe"] for p in piles))

    def test_ordinals(self):
        said = [ordinal(n) for n in (1, 2, 3, 4, 11, 12, 13, 21, 22, 23, 31, 33, 101, 111)]
        wanted = "1st 2nd 3rd 4th 11th 12th 13th 21st 22nd 23rd 31st 33rd 101st 111th"
        self.assertEqual(said, wanted.split())

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
