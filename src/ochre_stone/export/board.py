"""The palette laid out, to print at its real size and to lay under glass, and small on the sheet."""

import io
from collections.abc import Mapping
from typing import Any

from reportlab.lib.colors import Color, HexColor
from reportlab.lib.units import cm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfgen.canvas import Canvas

from ochre_stone.core.colour.spaces import Lab, lab_to_hex
from ochre_stone.core.errors import OchreError
from ochre_stone.core.mixing.session.layout import Board
from ochre_stone.core.planning.palettephoto import laid_out
from ochre_stone.core.planning.planning import Sheet
from ochre_stone.export.style import BODY, BOLD, LINE, QUIET_INK, register_fonts
from ochre_stone.export.surfaces import PngSurface, SvgSurface, png_bytes

_EDGE = 0.8  # cm of paper around the palette


def board_of(sheet: Sheet) -> tuple[Board, dict[str, Lab], dict[str, str]]:
    """The layout of a sheet's piles and tubes; colours and names by id."""
    mixed = sheet.document.mixed
    labs = {p.id: p.recipe.lab for s in mixed.strings for p in s.piles} | {t.id: t.lab for t in sheet.tubes}
    names = {p.id: p.name for s in mixed.strings for p in s.piles}
    names |= {t.id: t.short for t in sheet.tubes}
    return laid_out(sheet.document, sheet.amounts), labs, names


def draw_board(
    canvas: Any,
    board: Board,
    labs: Mapping[str, Lab],
    names: Mapping[str, str],
    left: float,
    bottom: float,
    per_cm: float,
    ground: Color,
) -> None:
    """Draw a layout on a reportlab canvas or one of :mod:`surfaces`; ``per_cm`` in points."""
    height = board.height * per_cm
    canvas.setFillColor(ground)
    canvas.setStrokeColor(LINE)
    canvas.setLineWidth(0.6)
    canvas.rect(left, bottom, board.width * per_cm, height, fill=1, stroke=1)
    size = min(9.0, max(4.5, 0.32 * per_cm))
    for spot in (*board.dabs, *board.spots):
        x, y, r = left + spot.x * per_cm, bottom + height - spot.y * per_cm, spot.radius * per_cm
        lab = labs[spot.id]
        canvas.setFillColor(HexColor(lab_to_hex(lab)))
        canvas.circle(x, y, r, fill=1, stroke=0)
        words, value = names[spot.id], f"{lab[0] / 10:.1f}"
        wide = pdfmetrics.stringWidth(words, BOLD, size)
        fits = wide < 1.8 * r
        canvas.setFillColor(HexColor("#000000" if (lab[0] > 52 if fits else ground.red > 0.4) else "#ffffff"))
        canvas.setFont(BOLD, size)
        canvas.drawString(x - wide / 2, y - size * 0.1 if fits else y - r - size, words)
        if fits and r > 1.6 * size:
            canvas.setFont(BODY, size * 0.85)
            canvas.drawString(x - pdfmetrics.stringWidth(value, BODY, size * 0.85) / 2, y - size * 1.15, value)


def surface_colour(name: str) -> Color:
    """The paper's colour for a palette surface: "white", "grey" or "wood"."""
    return HexColor({"white": "#f2f1ee", "grey": "#8c8c8c", "wood": "#b58d63"}[name])


def board_bytes(sheet: Sheet, suffix: str, surface: str = "grey") -> bytes:
    """The layout at its real size as "pdf", "svg" or "png". Raises OchreError for another ending."""
    register_fonts()
    board, labs, names = board_of(sheet)
    size = ((board.width + 2 * _EDGE) * cm, (board.height + 2 * _EDGE) * cm)
    out = io.BytesIO()
    canvas: Any
    if suffix == "pdf":
        canvas = Canvas(out, pagesize=size, invariant=1, pageCompression=1)
        canvas.setAuthor("Ochre Stone")
    elif suffix == "svg":
        canvas = SvgSurface(size)
    elif suffix == "png":
        canvas = PngSurface(size, 150)
    else:
        raise OchreError(f"'.{suffix}' is no way to write a palette: choose .pdf, .svg or .png.")
    canvas.setTitle(f"Palette: {sheet.document.title or sheet.picture.name}")
    draw_board(canvas, board, labs, names, _EDGE * cm, _EDGE * cm, cm, surface_colour(surface))
    canvas.setFont(BODY, 7)
    canvas.setFillColor(QUIET_INK)
    canvas.drawString(_EDGE * cm, 0.3 * cm, f"{board.words} Print at 100 %.")
    canvas.showPage()
    canvas.save()
    if suffix == "svg":
        return bytes(canvas.pages[0], "utf-8")
    if suffix == "png":
        return png_bytes(canvas.pages[0], 150)
    return out.getvalue()
