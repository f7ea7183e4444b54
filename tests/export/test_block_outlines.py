"""The block-in's outlines as SVG, PDF and PNG: each border once, at the size of the canvas."""

import io
import unittest
from xml.etree import ElementTree

import numpy as np
from PIL import Image
from pypdf import PdfReader

from ochre_stone.core.document.document import Canvas
from ochre_stone.core.errors import OchreError
from ochre_stone.core.placing.borders import shared_borders
from ochre_stone.core.planning.blockin import block_in
from ochre_stone.export.blockoutlines import block_in_bytes, traced_piles
from ochre_stone.export.outlines import fitted_mm, transfer_pdf
from tests.support.cases import cases, with_strings

SVG = "{http://www.w3.org/2000/svg}"
CANVAS = Canvas(width=40, height=30)


class BlockOutlines(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        picture = next(picture for name, picture, _ in cases() if name == "demo")
        cls.found = block_in(picture, with_strings("demo"))
        h, w = cls.found.labels.shape
        cls.wide, cls.high = (400.0, 400.0 * h / w) if h / w <= 0.75 else (300.0 * w / h, 300.0)

    def made(self, kind: str, lines_only: bool = False) -> bytes:
        return block_in_bytes(self.found, kind, CANVAS, "Quinces & <hat>", 500, lines_only)

    def test_svg_has_a_shape_for_each_pile_that_has_a_place_and_each_border_once(self):
        root = ElementTree.fromstring(self.made("svg"))
        self.assertEqual(root.find(f"{SVG}title").text, "Quinces & <hat>")
        self.assertAlmostEqual(float(root.get("width")[:-2]), self.wide, delta=0.1)
        self.assertAlmostEqual(float(root.get("height")[:-2]), self.high, delta=0.1)
        piles = root.findall(f"{SVG}g[@id='piles']/{SVG}path")
        there = [g[0] for i, g in enumerate(self.found.piles) if (self.found.labels == i).any()]
        self.assertEqual({p.get("id") for p in piles}, {f"pile-{p.order}" for p in there})
        told = [p.find(f"{SVG}title").text for p in piles]
        self.assertTrue(all(any(t.startswith(f"{p.order} {p.name}: ") for t in told) for p in there))
        line = root.find(f"{SVG}path[@id='outlines']").get("d")
        self.assertEqual(line.count("M"), sum(not b.frame for b in shared_borders(self.found.labels)))
        numbers = [t.text for t in root.findall(f"{SVG}g[@id='numbers']/{SVG}text")]
        self.assertLessEqual(set(numbers), {str(p.order) for p in there})
        self.assertGreater(len(set(numbers)), len(there) // 2)
        bare = ElementTree.fromstring(self.made("svg", lines_only=True))
        self.assertIsNone(bare.find(f"{SVG}g[@id='piles']"))

    def test_pdf_is_one_page_of_the_size_of_the_canvas(self):
        data = self.made("pdf")
        self.assertEqual(data, self.made("pdf"), "the same block-in, the same bytes")
        pages = PdfReader(io.BytesIO(data)).pages
        self.assertEqual(len(pages), 1)
        box = pages[0].mediabox
        self.assertAlmostEqual(float(box.width) / 72 * 25.4, 400, delta=0.1)
        self.assertAlmostEqual(float(box.height) / 72 * 25.4, 300, delta=0.1)
        words = pages[0].extract_text().split()
        self.assertEqual(sorted(words), sorted(n[2] for n in traced_piles(self.found, CANVAS).numbers))

    def test_a_number_stays_in_its_shape(self):
        for canvas in (CANVAS, Canvas(width=12, height=9)):
            traced = traced_piles(self.found, canvas)
            _, _, wide, high = fitted_mm(traced.shape, canvas)
            ends = np.vstack([points * (wide, high) for points, _ in traced.paths])
            self.assertGreater(len({round(n[3], 2) for n in traced.numbers}), 1)
            for x, y, words, size in traced.numbers:
                off = float(np.hypot(*(ends - (x * wide, y * high)).T).min())
                self.assertGreater(off, 0.3 * size, f"{words}, {size:.1f} mm high")
                self.assertLessEqual(size, 4.5)

    def test_png_knows_its_size_and_has_lines_where_the_borders_are(self):
        image = Image.open(io.BytesIO(self.made("png", lines_only=True)))
        self.assertAlmostEqual(image.width / image.info["dpi"][0] * 25.4, 400, delta=1)
        ink = np.asarray(image.convert("L")) < 128
        self.assertLess(float(ink.mean()), 0.05)
        k, (h, w) = image.width / 400, image.size[::-1]
        left, top = (400 - self.wide) / 2, (300 - self.high) / 2
        for points, _ in traced_piles(self.found, CANVAS).paths:
            for x, y in points[1:-1:5]:
                at = round((top + y * self.high) * k), round((left + x * self.wide) * k)
                near = ink[max(at[0] - 4, 0) : min(at[0] + 5, h), max(at[1] - 4, 0) : min(at[1] + 5, w)]
                self.assertTrue(near.any(), (x, y))
        plain = Image.open(io.BytesIO(self.made("png")))
        self.assertEqual(plain.width, 500)
        self.assertGreater(len(plain.getcolors(1 << 20)), 3)

    def test_a_very_large_canvas_is_no_larger_a_picture_and_another_kind_is_refused(self):
        data = block_in_bytes(self.found, "png", Canvas(width=400, height=300), "Wall", 500, True)
        self.assertLessEqual(max(Image.open(io.BytesIO(data)).size), 7000)
        with self.assertRaisesRegex(OchreError, "not as '.jpg'"):
            self.made("jpg")

    def test_over_several_pages(self):
        pages = PdfReader(io.BytesIO(transfer_pdf(traced_piles(self.found, CANVAS), CANVAS, "Quinces"))).pages
        self.assertGreater(len(pages), 3)
        self.assertIn("Transfer: Quinces", pages[0].extract_text())


if __name__ == "__main__":
    unittest.main()
