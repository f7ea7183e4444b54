"""The mass map as it is printed: flat values, borders smooth, each mass with its number."""

from PIL import Image
from reportlab.lib.colors import HexColor
from reportlab.lib.utils import ImageReader
from reportlab.pdfbase import pdfmetrics

from ochre_stone.core.masses.plan import label_places
from ochre_stone.core.planning.massing import draw_plan, with_hue_lines
from ochre_stone.core.planning.planning import Sheet
from ochre_stone.export.page import Page
from ochre_stone.export.style import BOLD, LINE


def mass_map(sheet: Sheet, width: int = 1400) -> Image.Image:
    """The planned values as a grey picture ``width`` pixels wide, borders smooth."""
    height = round(width * sheet.masses.labels.shape[0] / sheet.masses.labels.shape[1])
    code = draw_plan(sheet.masses, sheet.picture, sheet.document, width, height)
    return Image.fromarray(with_hue_lines(code, sheet.masses, sheet.picture, sheet.document))


class PrintedMap:
    """The map of a sheet with its numbers, worked out once for all the places where it stands."""

    def __init__(self, sheet: Sheet) -> None:
        self._picture = ImageReader(mass_map(sheet))
        self._greys = sheet.masses.greys()
        self._places = label_places(sheet.masses)
        rows, columns = sheet.masses.labels.shape
        self.ratio = float(rows / columns)
        """Height over width."""

    def draw(self, page: Page, left: float, bottom: float, width: float, size: float) -> None:
        """``width`` points wide at a place of the page, its numbers ``size`` points high."""
        height = width * self.ratio
        page.canvas.drawImage(self._picture, left, bottom, width, height)
        for x, y, index in self._places:
            ink = HexColor("#ffffff") if self._greys[index] < 128 else HexColor("#000000")
            words = str(index + 1)
            wide = pdfmetrics.stringWidth(words, BOLD, size)
            page.text(left + x * width - wide / 2, bottom + (1 - y) * height - 0.36 * size, words, size, BOLD, ink)
        page.canvas.setStrokeColor(LINE)
        page.canvas.setLineWidth(0.5)
        page.canvas.rect(left, bottom, width, height, fill=0, stroke=1)
