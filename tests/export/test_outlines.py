"""Outlines as SVG, and the transfer at canvas size."""

import io
import math
import unittest
from xml.etree import ElementTree

from pypdf import PdfReader

from ochre_stone.core.document.document import Canvas
from ochre_stone.core.errors import OchreError
from ochre_stone.core.masses.plan import MassSettings, plan, prepare
from ochre_stone.export.outlines import (
    OVERLAP_MM,
    fitted_mm,
    outlines_svg,
    size_mm,
    tiling,
    traced_masses,
    transfer_pdf,
)
from tests.support.made import orchard, picture

PLAN = plan(prepare(picture(orchard()).reduced(60_000), 0.5), MassSettings(values=4))
TRACED = traced_masses(PLAN)
SVG = "{http://www.w3.org/2000/svg}"


class Svg(unittest.TestCase):
    def test_one_path_for_each_mass_and_one_of_lines(self):
        root = ElementTree.fromstring(outlines_svg(PLAN, "Quinces & <hat>", canvas=Canvas(width=40, height=30)))
        self.assertEqual(root.find(f"{SVG}title").text, "Quinces & <hat>")
        paths = root.findall(f"{SVG}g/{SVG}path")
        self.assertEqual([p.get("id") for p in paths], ["mass-2", "mass-3", "mass-4"])
        self.assertTrue(all(p.get("d").startswith("M") and "C" in p.get("d") for p in paths))
        self.assertEqual(root.find(f"{SVG}path").get("fill"), "none")
        self.assertEqual(root.get("width"), "400.00mm")
        self.assertAlmostEqual(float(root.get("height")[:-2]), 300, delta=1)

    def test_greys_are_those_of_the_plan(self):
        root = ElementTree.fromstring(outlines_svg(PLAN, "x"))
        fills = [
            root.find(f"{SVG}g/{SVG}rect").get("fill"),
            *(p.get("fill") for p in root.findall(f"{SVG}g/{SVG}path")),
        ]
        self.assertEqual([int(f[1:3], 16) for f in fills], PLAN.greys().tolist())


class Transfer(unittest.TestCase):
    def test_pages_cover_the_canvas(self):
        for canvas in (
            Canvas(width=30, height=40),
            Canvas(width=70, height=50),
            Canvas(width=16, height=20, unit="in"),
            Canvas(width=10, height=10),
            Canvas(width=30, height=40, paper="Letter"),
        ):
            tiles = tiling(canvas)
            width, height = size_mm(canvas)
            right, bottom = tiles.left_top(tiles.columns - 1, tiles.rows - 1)
            self.assertGreaterEqual(right + tiles.inner[0], width - 1e-6)
            self.assertGreaterEqual(bottom + tiles.inner[1], height - 1e-6)
            if tiles.columns > 1:  # not one page more than needed
                self.assertLess(tiles.left_top(tiles.columns - 2, 0)[0] + tiles.inner[0], width)
                step = tiles.left_top(1, 0)[0]
                self.assertAlmostEqual(tiles.inner[0] - step, OVERLAP_MM)

    def test_the_picture_fits_the_canvas_in_its_middle(self):
        left, top, width, height = fitted_mm(PLAN.labels.shape, Canvas(width=30, height=40))
        self.assertAlmostEqual(width, 300)
        self.assertAlmostEqual(height / width, PLAN.labels.shape[0] / PLAN.labels.shape[1])
        self.assertAlmostEqual(left, 0)
        self.assertAlmostEqual(top, (400 - height) / 2)

    def test_a_wall_of_pages_is_refused_at_once(self):
        with self.assertRaisesRegex(OchreError, "pages: at most 300"):
            transfer_pdf(TRACED, Canvas(width=9000, height=9000), "Wall")

    def test_pdf(self):
        canvas = Canvas(width=40, height=30)
        data = transfer_pdf(TRACED, canvas, "Quinces")
        self.assertEqual(data, transfer_pdf(TRACED, canvas, "Quinces"), "the same plan, the same bytes")
        pages = PdfReader(io.BytesIO(data)).pages
        tiles = tiling(canvas)
        self.assertEqual(len(pages), tiles.pages + 1)
        first = pages[0].extract_text()
        self.assertIn("Quinces", first)
        self.assertIn("10 cm", first)
        self.assertIn(f"{tiles.pages} pages", first)
        self.assertIn(f"column {tiles.columns} of {tiles.columns}", pages[-1].extract_text())
        box = pages[1].mediabox
        self.assertAlmostEqual(float(box.width) / 72 * 25.4, tiles.page[0], delta=0.1)

    def test_lines_are_true_to_size(self):
        """The canvas's own edge is drawn: its corner on the first page lies at the margin, at 1 to 1."""
        data = transfer_pdf(TRACED, Canvas(width=10, height=8), "small")
        page = PdfReader(io.BytesIO(data)).pages[1]
        content = page.get_contents().get_data().decode("latin-1")
        scale = 72 / 25.4
        self.assertIn(f"{scale:.6f}"[:7], content, "millimetres are the unit")
        self.assertIn("0 0 100 80 re", content)
        self.assertTrue(math.isclose(float(page.mediabox.width), 595.28, abs_tol=1))
