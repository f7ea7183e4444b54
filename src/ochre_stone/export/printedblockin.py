"""The block-in as it is printed: the picture in its piles, each larger shape with the number of its recipe."""

from PIL import Image
from reportlab.lib.colors import HexColor
from reportlab.lib.utils import ImageReader
from reportlab.pdfbase import pdfmetrics

from ochre_stone.core.placing.numbers import number_spots
from ochre_stone.core.planning.blockin import block_in
from ochre_stone.core.planning.planning import Sheet
from ochre_stone.export.blockpicture import block_in_pixels
from ochre_stone.export.page import Page
from ochre_stone.export.style import BOLD, LINE

_WIDTH, _LEAST = 1400, 0.012
"""Pixels across; share of the picture from which a shape bears its number."""


class PrintedBlockIn:
    """The block-in of a sheet with its numbers."""

    def __init__(self, sheet: Sheet) -> None:
        found = block_in(sheet.picture, sheet.document)
        self.there = found is not None
        """Whether there is one: without a pile there is none."""
        if found is None:
            return
        self._picture = ImageReader(Image.fromarray(block_in_pixels(found, _WIDTH)))
        self._piles = [g[0] for g in found.piles]
        self._spots = number_spots(found.labels, len(found.piles), _LEAST)
        self.words = found.figures.words
        self.ratio = float(found.labels.shape[0] / found.labels.shape[1])
        """Height over width."""

    def draw(self, page: Page, left: float, bottom: float, width: float, size: float) -> None:
        """``width`` points wide at a place of the page, its numbers ``size`` points high where they have room."""
        height = width * self.ratio
        page.canvas.drawImage(self._picture, left, bottom, width, height)
        for s in self._spots:
            pile = self._piles[s.pile]
            words = str(pile.order)
            wide = pdfmetrics.stringWidth(words, BOLD, size)
            if s.room * width < 0.55 * max(wide, size):
                continue
            ink = HexColor("#ffffff") if pile.recipe.lab[0] < 55 else HexColor("#000000")
            page.text(left + s.x * width - wide / 2, bottom + (1 - s.y) * height - 0.36 * size, words, size, BOLD, ink)
        page.canvas.setStrokeColor(LINE)
        page.canvas.setLineWidth(0.5)
        page.canvas.rect(left, bottom, width, height, fill=0, stroke=1)
