"""Where the cells of a chart lie on paper, in millimetres: for printing it, and for reading a photo of it painted."""

from dataclasses import dataclass

from ochre_stone.core.errors import OchreError
from ochre_stone.core.paint.chart import Cell, Chart, ChartRow

PAPERS = {"A4": (210.0, 297.0), "A3": (297.0, 420.0), "Letter": (215.9, 279.4)}
CHART_MARGIN = 12.0
HEAD = 26.0
"""Title and value scale above the cells."""
LABEL = 52.0
"""Names of the rows, left of the cells."""
PITCH = 17.0
"""From row to row: a swatch of ``SWATCH`` and its parts below."""
SWATCH = 11.5
_FOOT = 10.0
_GAP = 1.5


@dataclass(frozen=True)
class Box:
    """A rectangle, mm from the top left of the page."""

    x: float
    y: float
    width: float
    height: float


@dataclass(frozen=True)
class ChartPage:
    """One sheet of paper: its rows, the box of each cell, and four crosses by which a photo of it is found."""

    number: int
    width: float
    height: float
    rows: tuple[tuple[ChartRow, float], ...]
    """Rows and the top of each."""
    cells: tuple[tuple[Cell, Box], ...]
    columns: tuple[tuple[float, float], ...]
    """Left edge and value of each column; the first is the base as it comes, its value is nan, as is that of all where
    each row has its own steps."""
    corners: tuple[tuple[float, float], ...]
    """Middles of the crosses: top left, top right, bottom right, bottom left."""
    swatch: tuple[float, float]


def pages(chart: Chart, paper: str = "A4") -> tuple[ChartPage, ...]:
    """The chart over as many pages as it takes. Raises OchreError for an unknown paper."""
    if paper not in PAPERS:
        raise OchreError(f"'{paper}' is no paper for charts: choose {' or '.join(PAPERS)}.")
    width, height = PAPERS[paper]
    columns = chart.columns
    step = (width - 2 * CHART_MARGIN - LABEL) / columns
    swatch = (min(step - _GAP, 24.0), SWATCH)
    left = CHART_MARGIN + LABEL
    tops = left, CHART_MARGIN + HEAD
    fit = int((height - 2 * CHART_MARGIN - HEAD - _FOOT) // PITCH)
    out = []
    for number, start in enumerate(range(0, len(chart.rows), fit), 1):
        rows = [(r, tops[1] + k * PITCH) for k, r in enumerate(chart.rows[start : start + fit])]
        cells = tuple((c, Box(left + (c.column + 1) * step, y, *swatch)) for r, y in rows for c in r.cells)
        bottom = tops[1] + len(rows) * PITCH
        across = left - 3.5, left + columns * step + 1.0
        corners = (
            (across[0], tops[1] - 3.5),
            (across[1], tops[1] - 3.5),
            (across[1], bottom + 1),
            (across[0], bottom + 1),
        )
        scale = tuple((left + i * step, v) for i, v in enumerate(_values(chart)))
        out.append(ChartPage(number, width, height, tuple(rows), cells, scale, corners, swatch))
    return tuple(out)


def _values(chart: Chart) -> tuple[float, ...]:
    nan = float("nan")
    return (nan, *chart.values) if chart.values else (nan,) * chart.columns
