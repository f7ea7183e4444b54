"""Charts as PDF and SVG to print, to paint into or to keep, and as CSV and CGATS for other programs."""

import io
from collections.abc import Sequence
from math import isnan

import numpy as np
from reportlab import rl_config
from reportlab.lib.colors import HexColor
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfgen.canvas import Canvas

from ochre_stone.core.colour.munsell import lightness_of_value
from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import lab_to_hex
from ochre_stone.core.errors import OchreError
from ochre_stone.core.paint import tabled
from ochre_stone.core.paint.cautions import NO_AUTHORITY, cautions
from ochre_stone.core.paint.chart import Cell, Chart
from ochre_stone.core.paint.chartpage import CHART_MARGIN, LABEL, SWATCH, ChartPage, pages
from ochre_stone.core.paint.optics import reflectance
from ochre_stone.core.paint.spectral import SpectralReading, cgats
from ochre_stone.export.style import BODY, BOLD, GREY_GROUND, INK, LINE, QUIET_INK, register_fonts
from ochre_stone.export.surfaces import SvgSurface

_HOW = "the cell before and so much white (w) or black (b), as 2 A1 + 1 w"
CHART_SUFFIXES = (".pdf", ".svg", ".csv", ".txt", ".cgats")


def chart_bytes(chart: Chart, suffix: str, paper: str = "A4", blank: bool = False) -> bytes:
    """The chart in the format of a file's suffix. ``blank``: without colours, to paint into. Raises OchreError for a
    format that is not there."""
    suffix = suffix.lower()
    if suffix == ".pdf":
        return chart_pdf(chart, paper, blank)
    if suffix == ".svg":
        return chart_svg(chart, paper, blank).encode()
    if suffix == ".csv":
        return chart_csv(chart).encode()
    if suffix in (".txt", ".cgats"):
        return chart_cgats(chart).encode()
    raise OchreError(
        f"A chart cannot be written as '{suffix or 'no suffix'}': choose one of {', '.join(CHART_SUFFIXES)}."
    )


def _title(chart: Chart, page: ChartPage, blank: bool) -> str:
    return f"{chart.palette.name}{' – to paint into' if blank else ''}, page {page.number}"


def _column_words(page: ChartPage, x: float) -> str:
    """Over a column without a value of its own."""
    at = [left for left, _ in page.columns].index(x)
    return f"step {at}" if at else "as it comes"


def _grey(value: float) -> str:
    return lab_to_hex((float(lightness_of_value(value)), 0.0, 0.0))


def _shortened(words: str, size: float, width: float) -> list[str]:
    """Words in at most three lines of ``width`` points."""
    lines: list[str] = []
    for word in words.split():
        if lines and pdfmetrics.stringWidth(f"{lines[-1]} {word}", BODY, size) <= width:
            lines[-1] += f" {word}"
        else:
            lines.append(word)
    return [*lines[:2], " ".join(lines[2:])] if len(lines) > 2 else lines


def chart_pdf(chart: Chart, paper: str = "A4", blank: bool = False) -> bytes:
    """The chart as PDF on neutral grey, value 5, with its value scale; the same chart gives the same bytes."""
    register_fonts()
    rl_config.useA85 = 0
    sheets = pages(chart, paper)
    out = io.BytesIO()
    pdf = Canvas(out, pagesize=(sheets[0].width * mm, sheets[0].height * mm), invariant=1, pageCompression=1)
    pdf.setTitle(f"Colour chart: {chart.palette.name}")
    pdf.setAuthor("Ochre Stone")
    for page in sheets:
        _draw(pdf, chart, page, blank)
        pdf.showPage()
    _last_page(pdf, chart, sheets[0])
    pdf.showPage()
    pdf.save()
    return out.getvalue()


def chart_svg(chart: Chart, paper: str = "A4", blank: bool = False) -> str:
    """The same pages as one SVG, under each other; each cell has its label as id, and tells its mixture."""
    register_fonts()
    sheets = pages(chart, paper)
    surface = SvgSurface((sheets[0].width * mm, sheets[0].height * mm))
    surface.setTitle(f"Colour chart: {chart.palette.name}")
    for page in sheets:
        _draw(surface, chart, page, blank)
        surface.showPage()
    return surface.stacked()


def _draw(pdf: Canvas | SvgSurface, chart: Chart, page: ChartPage, blank: bool) -> None:
    high = page.height

    def text(x: float, y: float, words: str, size: float, font: str = BODY, ink: HexColor = INK) -> None:
        pdf.setFont(font, size)
        pdf.setFillColor(ink)
        pdf.drawString(x * mm, (high - y) * mm, words)

    text(CHART_MARGIN, CHART_MARGIN + 5, _title(chart, page, blank), 13, BOLD)
    text(
        CHART_MARGIN,
        CHART_MARGIN + 10,
        f"Parts by volume: {_HOW}. Predicted from generic or calibrated figures.",
        7.5,
        ink=QUIET_INK,
    )
    (x0, y0), (x1, _), (_, y1), _ = page.corners
    pdf.setFillColor(GREY_GROUND)
    pdf.rect((x0 - 2) * mm, (high - y1 - 2) * mm, (x1 - x0 + 4) * mm, (y1 - y0 + 4) * mm, stroke=0, fill=1)
    for x, value in page.columns:
        if isnan(value):
            text(x, CHART_MARGIN + 20, _column_words(page, x), 7, ink=QUIET_INK)
            continue
        pdf.setFillColor(HexColor(_grey(value)))
        pdf.rect(x * mm, (high - CHART_MARGIN - 19) * mm, page.swatch[0] * mm, 4 * mm, stroke=0, fill=1)
        text(x, CHART_MARGIN + 14, f"value {value:.1f}", 7)
    for row, y in page.rows:
        text(CHART_MARGIN, y + 4, row.letter, 9, BOLD)
        for k, line in enumerate(_shortened(row.title, 7.5, (LABEL - 12) * mm)):
            text(CHART_MARGIN + 7, y + 4 + 3.2 * k, line, 7.5)
    for cell, box in page.cells:
        pdf.setStrokeColor(LINE)
        pdf.setLineWidth(0.4)
        pdf.setFillColor(HexColor("#ffffff") if blank else HexColor(lab_to_hex(cell.lab)))
        if isinstance(pdf, SvgSurface):
            pdf.name_next(cell.label, _told(chart, cell))
        pdf.rect(
            box.x * mm, (high - box.y - box.height) * mm, box.width * mm, box.height * mm, stroke=int(blank), fill=1
        )
        pdf.setFillColor(HexColor("#ffffff"))
        pdf.setFont(BODY, 6.5)
        pdf.drawString(box.x * mm, (high - box.y - SWATCH - 2.9) * mm, cell.words)
        if not chart.values:
            pdf.setFillColor(HexColor("#000000" if blank or cell.value > 5.5 else "#ffffff"))
            pdf.drawRightString((box.x + box.width - 0.8) * mm, (high - box.y - 2.9) * mm, f"{cell.value:.1f}")
    pdf.setStrokeColor(HexColor("#000000"))
    pdf.setLineWidth(0.5)
    for x, y in page.corners:
        pdf.line((x - 1.6) * mm, (high - y) * mm, (x + 1.6) * mm, (high - y) * mm)
        pdf.line(x * mm, (high - y - 1.6) * mm, x * mm, (high - y + 1.6) * mm)
    said = "equal steps of value, each told in its cell" if not chart.values else "columns of equal value"
    text(
        CHART_MARGIN, high - CHART_MARGIN + 1, f"Rows from the mass tone to nearly white, in {said}.", 7, ink=QUIET_INK
    )
    text(
        CHART_MARGIN,
        high - CHART_MARGIN + 4.4,
        "To calibrate: photograph it flat, evenly lit, with a grey card or colour chart beside it; then click the "
        "four crosses.",
        7,
        ink=QUIET_INK,
    )


def _last_page(pdf: Canvas, chart: Chart, page: ChartPage) -> None:
    pdf.setFillColor(INK)
    pdf.setFont(BOLD, 13)
    y = page.height - CHART_MARGIN - 6
    pdf.drawString(CHART_MARGIN * mm, y * mm, "Tubes and cautions")
    pdf.setFont(BODY, 9)
    used = {i for r in chart.rows for i, _ in r.base}
    tubes = [t for t in chart.palette.tubes if t.id in used or t.is_white]
    lines = [f"{t.name}, {t.ci}, {t.opacity}, lightfastness {t.lightfastness}" for t in tubes]
    for words in [*lines, "", *[c for c in cautions(tubes) if c != NO_AUTHORITY], NO_AUTHORITY]:
        for line in _wrapped(words, 9, (page.width - 2 * CHART_MARGIN) * mm):
            y -= 4.6
            pdf.drawString(CHART_MARGIN * mm, y * mm, line)


def _wrapped(words: str, size: float, width: float) -> list[str]:
    from reportlab.lib.utils import simpleSplit

    return list(simpleSplit(words, BODY, size, width)) or [""]


def _told(chart: Chart, cell: Cell) -> str:
    names = {t.id: t.short for t in chart.palette.tubes}
    mixture = ", ".join(f"{n:g} {names[i]}" for i, n in cell.parts)
    return f"{cell.label}: {mixture}; value {cell.value:.1f}, {read(cell.lab).munsell}"


def _tube_ids(chart: Chart) -> list[str]:
    used = {i for c in chart.cells for i, _ in c.parts}
    return [t.id for t in chart.palette.tubes if t.id in used]


def chart_csv(chart: Chart) -> str:
    """One line per cell; empty columns for what is measured, so that the file can be filled in and read back."""
    table: list[Sequence[object]] = []
    ids = _tube_ids(chart)
    table.append(
        [
            "label",
            "row",
            "kind",
            "column_value",
            "value",
            "munsell",
            "srgb",
            "words",
            *ids,
            "predicted_l",
            "predicted_a",
            "predicted_b",
            "measured_l",
            "measured_a",
            "measured_b",
        ]
    )
    for row in chart.rows:
        for c in row.cells:
            seen, held = read(c.lab), dict(c.parts)
            column = f"{chart.values[c.column]:.2f}" if chart.values and c.column >= 0 else ""
            table.append(
                [
                    c.label,
                    row.title,
                    row.kind,
                    column,
                    f"{c.value:.2f}",
                    seen.munsell,
                    seen.srgb,
                    c.words,
                    *(f"{held[i]:g}" if i in held else "" for i in ids),
                    *(f"{v:.3f}" for v in c.lab),
                    "",
                    "",
                    "",
                ]
            )
    return tabled.as_text(table)


def chart_cgats(chart: Chart) -> str:
    """The chart with predicted colours and spectra as CGATS.17 text."""
    tubes = {t.id: t for t in chart.palette.tubes}
    rows = []
    for c in chart.cells:
        whole = sum(n for _, n in c.parts)
        K = sum((tubes[i].K * n for i, n in c.parts), np.zeros(36)) / whole
        S = sum((tubes[i].S * n for i, n in c.parts), np.zeros(36)) / whole
        spectrum = tuple(float(v) for v in reflectance(K, S, chart.palette.surface))
        rows.append(SpectralReading(c.label, c.lab, spectrum, c.parts))
    return cgats(rows, _tube_ids(chart), "Ochre Stone", f"Colour chart: {chart.palette.name}")
