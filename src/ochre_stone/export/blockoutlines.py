"""The block-in to be carried over: outlines with the numbers of the recipes at the size of the canvas, each border
drawn once; as SVG with the piles as filled shapes under them, as PDF and as PNG."""

import io
from collections.abc import Sequence
from xml.sax.saxutils import escape, quoteattr

import numpy as np
from PIL import Image
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfgen.canvas import Canvas as Pdf

from ochre_stone.core.document.document import Canvas
from ochre_stone.core.errors import OchreError
from ochre_stone.core.later import later
from ochre_stone.core.masses.outlines import bezier
from ochre_stone.core.picture.picture import lab_to_linear, linear_to_code
from ochre_stone.core.placing.borders import SharedBorder, ring_bends, rings, shared_borders
from ochre_stone.core.placing.numbers import number_spots
from ochre_stone.core.planning.blockin import LaidIn
from ochre_stone.export.blockpicture import block_in_png
from ochre_stone.export.outlines import Traced, draw_traced, fitted_mm, size_mm
from ochre_stone.export.style import BOLD, register_fonts
from ochre_stone.export.surfaces import PngSurface, png_bytes

cv2 = later("cv2")

NUMBER_MM = 4.5
"""Height of the numbers, what an eye reads at arm's length; smaller where a shape has less room."""
_SMALLEST_MM = 2.5
_LINE_MM = 0.35
_DPI, _MOST_PIXELS = 150.0, 7000
_WHITE_FROM = 55.0
"""Lightness below which numbers are white."""
_BEND = 6
"""Straight pieces that a curve is drawn with."""


def traced_piles(found: LaidIn, canvas: Canvas) -> Traced:
    """The borders of a block-in, each once, and the number of its recipe on each shape that has room for it."""
    return _traced(found, canvas, shared_borders(found.labels))


def _traced(found: LaidIn, canvas: Canvas, borders: Sequence[SharedBorder]) -> Traced:
    register_fonts()
    h, w = found.labels.shape
    _, _, wide, _ = fitted_mm((h, w), canvas)
    numbers = []
    for s in number_spots(found.labels, len(found.piles), 0.0):
        words = str(found.piles[s.pile][0].order)
        across = max(pdfmetrics.stringWidth(words, BOLD, 1.0), 1.0)
        room = 2 * s.room * wide / across
        if room >= _SMALLEST_MM:
            numbers.append((s.x, s.y, words, min(room, NUMBER_MM)))
    return Traced((h, w), tuple((b.points, b.closed) for b in borders if not b.frame), tuple(numbers))


def block_in_svg(found: LaidIn, canvas: Canvas, title: str, lines_only: bool = False) -> str:
    """The block-in as SVG at the size that it takes on the canvas: a filled path for each pile, that says its name and
    recipe, over them the borders and the numbers in groups of their own; ``lines_only``: without the fills."""
    borders = shared_borders(found.labels)
    traced = _traced(found, canvas, borders)
    _, _, wide, high = fitted_mm(traced.shape, canvas)

    def at(point: Sequence[float]) -> str:
        return f"{point[0] * wide:.2f} {point[1] * high:.2f}"

    code = linear_to_code(lab_to_linear(found.colours.reshape(-1, 1, 3))).reshape(-1, 3).tolist()
    out = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.2f}mm" height="{high:.2f}mm" '
        f'viewBox="0 0 {wide:.2f} {high:.2f}">',
        f"<title>{escape(title)}</title>",
    ]
    if not lines_only:
        out.append('<g id="piles" stroke="none" fill-rule="evenodd">')
        for label, ways in sorted(rings(borders).items()):
            pile, ink = found.piles[label][0], "#{:02x}{:02x}{:02x}".format(*code[label])
            shapes = []
            for start, bends in (ring_bends(r) for r in ways):
                shapes.append(f"M{at(start)}" + "".join(f"C{at(a)} {at(b)} {at(c)}" for a, b, c in bends) + "Z")
            recipe = ", ".join(i.said for i in pile.recipe.ingredients)
            told = escape(f"{pile.order} {pile.name}: {recipe}")
            name = quoteattr(f"pile-{pile.order}")
            # A hair of its own colour closes the seam that two neighbours leave on a screen.
            out.append(
                f'<path id={name} fill="{ink}" stroke="{ink}" stroke-width="0.1" d="{"".join(shapes)}">'
                f"<title>{told}</title></path>"
            )
        out.append("</g>")
    line = "".join(
        f"M{at(points[0])}" + "".join(f"C{at(a)} {at(b)} {at(c)}" for a, b, c in bezier(points, closed))
        for points, closed in traced.paths
    )
    out.append(
        f'<path id="outlines" fill="none" stroke="#000000" stroke-width="{_LINE_MM if lines_only else 0.15}" '
        f'stroke-linejoin="round" d="{line}"/>'
    )
    out.append('<g id="numbers" font-family="sans-serif" font-weight="700" text-anchor="middle">')
    light = {str(g[0].order): g[0].recipe.lab[0] >= _WHITE_FROM for g in found.piles}
    for x, y, words, size in traced.numbers:
        ink = "#444444" if lines_only else "#000000" if light[words] else "#ffffff"
        place = f'x="{x * wide:.2f}" y="{y * high + 0.36 * size:.2f}" font-size="{size:.2f}"'
        out.append(f'<text {place} fill="{ink}">{words}</text>')
    out += ["</g>", "</svg>"]
    return "\n".join(out) + "\n"


def block_outlines_pdf(found: LaidIn, canvas: Canvas, title: str) -> bytes:
    """Outlines and numbers on one page of the size of the canvas. The same block-in gives the same bytes."""
    register_fonts()
    width, height = size_mm(canvas)
    held = io.BytesIO()
    pdf = Pdf(held, pagesize=(width * mm, height * mm), invariant=1, pageCompression=1)
    pdf.setTitle(f"Outlines: {title}")
    pdf.setAuthor("Ochre Stone")
    pdf.translate(0, height * mm)
    pdf.scale(mm, -mm)
    draw_traced(pdf, traced_piles(found, canvas), canvas, _LINE_MM, NUMBER_MM)
    pdf.showPage()
    pdf.save()
    return held.getvalue()


def block_outlines_png(found: LaidIn, canvas: Canvas) -> bytes:
    """The same as a picture that knows its size, of 150 dots per inch, fewer on a very large canvas."""
    traced = traced_piles(found, canvas)
    width, height = size_mm(canvas)
    dpi = min(_DPI, _MOST_PIXELS / max(width, height) * 25.4)
    surface = PngSurface((width * mm, height * mm), dpi)
    left, top, wide, high = fitted_mm(traced.shape, canvas)
    ink = np.full((round(height * mm * surface.scale), round(width * mm * surface.scale)), 255, np.uint8)
    thick = max(1, round(_LINE_MM * mm * surface.scale))
    for points, closed in traced.paths:
        line = (np.array([left, top]) + _along(points, closed) * (wide, high)) * mm * surface.scale
        cv2.polylines(ink, [np.round(line * 16).astype(np.int32)], closed, 0, thick, cv2.LINE_AA, 4)
    page = Image.fromarray(ink).convert("RGB")
    surface.drawImage(page, 0, 0, width * mm, height * mm)
    for x, y, words, size in traced.numbers:
        surface.setFont(BOLD, size * mm)
        half = pdfmetrics.stringWidth(words, BOLD, size * mm) / 2
        down = (top + y * high + 0.36 * size) * mm
        surface.drawString((left + x * wide) * mm - half, height * mm - down, words)
    surface.showPage()
    return png_bytes(surface.pages[0], dpi)


def block_in_bytes(found: LaidIn, kind: str, canvas: Canvas, title: str, width: int, lines_only: bool) -> bytes:
    """A file of ``kind`` "png", "svg" or "pdf". A PNG is the picture, ``width`` pixels across, an SVG has fills and
    lines; both are lines and numbers alone where ``lines_only``, and so is a PDF always. Raises OchreError for another
    kind."""
    if kind == "svg":
        return block_in_svg(found, canvas, title, lines_only).encode()
    if kind == "pdf":
        return block_outlines_pdf(found, canvas, title)
    if kind != "png":
        raise OchreError(f"A block-in is written as .png, .svg or .pdf, not as '.{kind}': choose one of these names.")
    return block_outlines_png(found, canvas) if lines_only else block_in_png(found, width)


def _along(points: np.ndarray, closed: bool) -> np.ndarray:
    """Points close together along a path's curve (n, 2)."""
    t = np.linspace(0, 1, _BEND, endpoint=False)[:, None]
    out, here = [], np.asarray(points[0], dtype=float)
    for a, b, c in bezier(points, closed):
        first, second, end = (np.array(v) for v in (a, b, c))
        out.append((1 - t) ** 3 * here + 3 * (1 - t) ** 2 * t * first + 3 * (1 - t) * t**2 * second + t**3 * end)
        here = end
    return np.vstack([*out, here[None]])
