"""Outlines of the masses as SVG, and outlines printed at the size of the canvas over several pages as a transfer."""

import io
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas as Pdf

from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.document.document import Canvas
from ochre_stone.core.errors import OchreError
from ochre_stone.core.masses.outlines import Outline, bezier, plan_outlines
from ochre_stone.core.masses.plan import MassPlan, label_places
from ochre_stone.export.style import BODY, BOLD, INK, LINE, QUIET_INK, paper_size, register_fonts

MOST_PAGES = 300
_NUMBER_MM = 8.0
MARGIN_MM = 10.0
OVERLAP_MM = 10.0
"""How far neighbouring pages repeat each other, so that they can be lined up and taped."""


@dataclass(frozen=True, eq=False)
class Traced:
    """Outlines with numbers, to be carried over to a canvas."""

    shape: tuple[int, int]
    """Of the picture, (h, w)."""
    paths: tuple[tuple[Array, bool], ...]
    """Nodes (n, 2) as shares of width and height, and whether the path is closed."""
    numbers: tuple[tuple[float, float, str, float], ...]
    """Place as shares of width and height, what stands there, and how many millimetres high at most."""


def traced_masses(plan: MassPlan) -> Traced:
    """The outlines of the masses, each with its number."""
    h, w = plan.labels.shape
    numbers = tuple((x, y, str(i + 1), np.inf) for x, y, i in label_places(plan))
    return Traced((h, w), tuple((p.points, True) for p in plan_outlines(plan)), numbers)


def _hex(grey: int) -> str:
    return f"#{grey:02x}{grey:02x}{grey:02x}"


def _path(outline: Outline, width: float, height: float) -> str:
    """One closed path as SVG path data."""

    def at(point: Sequence[float]) -> str:
        return f"{point[0] * width:.2f} {point[1] * height:.2f}"

    pieces = [f"C{at(a)} {at(b)} {at(c)}" for a, b, c in bezier(outline.points)]
    return f"M{at(outline.points[0])}{''.join(pieces)}Z"


def outlines_svg(plan: MassPlan, title: str, width: float = 1200.0, canvas: Canvas | None = None) -> str:
    """The masses as SVG: a stack of filled sheets from the darkest up, and over it the outlines alone.

    ``width``: user units across; ``canvas``: the picture has the size that it takes on this canvas. Each sheet is one
    path with the number of its mass, so that any program can take it out.
    """
    h, w = plan.labels.shape
    height = width * h / w
    greys = plan.greys()
    paths = plan_outlines(plan)
    box = f'viewBox="0 0 {width:.2f} {height:.2f}"'
    if canvas is not None:
        _, _, wide, high = fitted_mm((h, w), canvas)
        box += f' width="{wide:.2f}mm" height="{high:.2f}mm"'
    out = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg" {box}>',
        f"<title>{_escaped(title)}</title>",
        '<g id="masses" stroke="none" fill-rule="evenodd">',
        f'<rect id="mass-1" width="{width:.2f}" height="{height:.2f}" fill="{_hex(int(greys[0]))}"/>',
    ]
    for m in plan.masses[1:]:
        mine = [_path(p, width, height) for p in paths if p.sheet == m.index]
        if mine:
            words = f"Mass {m.index + 1}, value {m.value:.1f}, {m.family}"
            out.append(
                f'<path id="mass-{m.index + 1}" fill="{_hex(int(greys[m.index]))}" d="{" ".join(mine)}">'
                f"<title>{words}</title></path>"
            )
    out.append("</g>")
    line = " ".join(_path(p, width, height) for p in paths)
    out.append(
        f'<path id="outlines" fill="none" stroke="#000000" stroke-width="{width / 1000:.2f}" '
        f'stroke-linejoin="round" d="{line}"/>'
    )
    out.append("</svg>")
    return "\n".join(out) + "\n"


def _escaped(words: str) -> str:
    return words.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")


@dataclass(frozen=True)
class Tiling:
    """How a canvas is laid over pages; millimetres."""

    page: tuple[float, float]
    inner: tuple[float, float]
    """What one page shows of the canvas."""
    columns: int
    rows: int

    @property
    def pages(self) -> int:
        return self.columns * self.rows

    def left_top(self, column: int, row: int) -> tuple[float, float]:
        """Place on the canvas of a page's top left corner."""
        return column * (self.inner[0] - OVERLAP_MM), row * (self.inner[1] - OVERLAP_MM)


def tiling(canvas: Canvas) -> Tiling:
    """Pages of the document's paper, upright or lying, whichever needs fewer."""
    size = paper_size(canvas.paper)
    width, height = size_mm(canvas)
    best: Tiling | None = None
    for page in ((size[0] / mm, size[1] / mm), (size[1] / mm, size[0] / mm)):
        inner = (page[0] - 2 * MARGIN_MM, page[1] - 2 * MARGIN_MM)
        counts = [
            1 + max(0, -int(-(whole - one) // (one - OVERLAP_MM)))
            for whole, one in zip((width, height), inner, strict=True)
        ]
        found = Tiling(page, inner, counts[0], counts[1])
        if best is None or found.pages < best.pages:
            best = found
    assert best is not None
    return best


def size_mm(canvas: Canvas) -> tuple[float, float]:
    """Width and height of the canvas."""
    unit = 25.4 if canvas.unit == "in" else 10.0
    return canvas.width * unit, canvas.height * unit


def fitted_mm(shape: tuple[int, int], canvas: Canvas) -> tuple[float, float, float, float]:
    """Left, top, width and height of a picture of that shape (h, w) on the canvas, as large as fits and in its
    middle."""
    width, height = size_mm(canvas)
    h, w = shape
    scale = min(width / w, height / h)
    return (width - w * scale) / 2, (height - h * scale) / 2, w * scale, h * scale


def transfer_pdf(traced: Traced, canvas: Canvas, title: str) -> bytes:
    """Outlines at the size of the canvas over as many pages as that takes, with marks to line them up.

    Neighbouring pages repeat 1 cm. Each page says where it belongs; the first shows how all lie together and a bar of
    10 cm, to check that the printer did not scale. The same outlines give the same bytes. Raises OchreError where
    it would take more than 300 pages: nobody lays those out.
    """
    tiles = tiling(canvas)
    if tiles.pages > MOST_PAGES:
        raise OchreError(
            f"A transfer for {canvas.words} would take {tiles.pages} pages: at most {MOST_PAGES} are made. Enlarge it "
            "by the grid, or from a print in parts."
        )
    register_fonts()
    out = io.BytesIO()
    page_size = (tiles.page[0] * mm, tiles.page[1] * mm)
    pdf = Pdf(out, pagesize=page_size, invariant=1, pageCompression=1)
    pdf.setTitle(f"Transfer: {title}")
    pdf.setAuthor("Ochre Stone")
    _overview(pdf, traced, canvas, tiles, title)
    for row in range(tiles.rows):
        for column in range(tiles.columns):
            _page(pdf, traced, canvas, tiles, column, row)
    pdf.save()
    return out.getvalue()


def draw_traced(pdf: Pdf, traced: Traced, canvas: Canvas, line: float, numbers: float) -> None:
    """Outlines, numbers (``numbers`` millimetres high where they have room) and the canvas's edge, in millimetres from
    the canvas's top left corner, y downward."""
    left, top, width, height = fitted_mm(traced.shape, canvas)
    pdf.setStrokeColor(INK)
    pdf.setLineWidth(line)
    pdf.setLineJoin(1)
    pdf.saveState()
    frame = pdf.beginPath()
    frame.rect(left, top, width, height)
    pdf.clipPath(frame, stroke=0, fill=0)

    def at(point: Sequence[float]) -> tuple[float, float]:
        return left + point[0] * width, top + point[1] * height

    for points, closed in traced.paths:
        path = pdf.beginPath()
        path.moveTo(*at(points[0]))
        for a, b, c in bezier(points, closed):
            path.curveTo(*at(a), *at(b), *at(c))
        if closed:
            path.close()
        pdf.drawPath(path, stroke=1, fill=0)
    pdf.restoreState()
    for x, y, words, most in traced.numbers:
        high = min(numbers, most)
        pdf.saveState()
        pdf.translate(left + x * width, top + y * height)
        pdf.scale(1, -1)
        pdf.setFillColor(QUIET_INK)
        pdf.setFont(BOLD, high)
        pdf.drawCentredString(0, -high * 0.35, words)
        pdf.restoreState()
    pdf.setLineWidth(line * 1.5)
    pdf.rect(0, 0, *size_mm(canvas), fill=0, stroke=1)


def _overview(pdf: Pdf, traced: Traced, canvas: Canvas, tiles: Tiling, title: str) -> None:
    """First page: how the pages lie together, and a bar to check the printer by."""
    page_w, page_h = tiles.page
    width, height = size_mm(canvas)
    pdf.setFillColor(INK)
    pdf.setFont(BOLD, 16)
    pdf.drawString(MARGIN_MM * mm, (page_h - 18) * mm, f"Transfer: {title}"[:70])
    pdf.setFont(BODY, 10)
    pdf.setFillColor(QUIET_INK)
    lines = (
        f"Canvas {canvas.words}: {tiles.pages} pages, {tiles.columns} across and {tiles.rows} down.",
        "Print at 100 %, without fitting to the page. Lay each page over its neighbour so that the crosses meet, "
        "and tape them.",
    )
    for k, words in enumerate(lines):
        pdf.drawString(MARGIN_MM * mm, (page_h - 26 - 6 * k) * mm, words)
    room = (page_w - 2 * MARGIN_MM, page_h - 78)
    scale = min(room[0] / width, room[1] / height)
    pdf.saveState()
    pdf.translate(MARGIN_MM * mm, (page_h - 42) * mm)
    pdf.scale(scale * mm, -scale * mm)
    draw_traced(pdf, traced, canvas, 0.25 / scale, 5 / scale)
    pdf.setStrokeColor(LINE)
    pdf.setLineWidth(0.3 / scale)
    for row in range(tiles.rows):
        for column in range(tiles.columns):
            x, y = tiles.left_top(column, row)
            pdf.rect(x, y, min(tiles.inner[0], width - x), min(tiles.inner[1], height - y), fill=0, stroke=1)
    pdf.restoreState()
    pdf.setStrokeColor(INK)
    pdf.setLineWidth(1)
    y = 16 * mm
    pdf.line(MARGIN_MM * mm, y, (MARGIN_MM + 100) * mm, y)
    for x in (MARGIN_MM, MARGIN_MM + 100):
        pdf.line(x * mm, y - 2 * mm, x * mm, y + 2 * mm)
    pdf.setFillColor(INK)
    pdf.setFont(BODY, 9)
    pdf.drawString((MARGIN_MM + 104) * mm, y - 3, "this bar is 10 cm long where the print is true")
    pdf.showPage()


def _page(pdf: Pdf, traced: Traced, canvas: Canvas, tiles: Tiling, column: int, row: int) -> None:
    """One page at the size of the canvas."""
    x, y = tiles.left_top(column, row)
    inner_w, inner_h = tiles.inner
    pdf.saveState()
    pdf.translate(MARGIN_MM * mm, (tiles.page[1] - MARGIN_MM) * mm)
    pdf.scale(mm, -mm)
    frame = pdf.beginPath()
    frame.rect(0, 0, inner_w, inner_h)
    pdf.clipPath(frame, stroke=0, fill=0)
    pdf.translate(-x, -y)
    draw_traced(pdf, traced, canvas, 0.35, _NUMBER_MM)
    # Crosses in the middle of each overlap: both neighbours print them.
    pdf.setStrokeColor(INK)
    pdf.setLineWidth(0.2)
    half = OVERLAP_MM / 2
    for cx in {x + half, x + inner_w - half}:
        for cy in {y + half, y + inner_h - half}:
            pdf.line(cx - 3, cy, cx + 3, cy)
            pdf.line(cx, cy - 3, cx, cy + 3)
    pdf.restoreState()
    pdf.setFillColor(QUIET_INK)
    pdf.setFont(BODY, 8)
    words = f"column {column + 1} of {tiles.columns}, row {row + 1} of {tiles.rows}  ·  print at 100 %"
    pdf.drawString(MARGIN_MM * mm, 4 * mm, words)
    pdf.showPage()
