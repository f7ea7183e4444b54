"""What lies over the masses on the easel: edges by kind, families, the focus, where contrast falls, the turns."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPainterPath, QPen, QPolygonF

from ochre_stone.core.later import later
from ochre_stone.core.masses.edges import EDGE_KINDS, kind_map, vanishing
from ochre_stone.core.masses.hues import hue_borders, hue_parts
from ochre_stone.core.masses.outlines import kinds_along, plan_outlines
from ochre_stone.core.masses.plan import Ground, MassPlan
from ochre_stone.desktop.widgets.image import to_image

cv2 = later("cv2")

_WIDTH, _PIXELS = 1400, 1_600_000
_DARK, _LIGHT = QColor(0, 0, 0), QColor(255, 255, 255)
_PENS: dict[str, tuple[float, Qt.PenStyle]] = {
    "hard": (4.2, Qt.PenStyle.SolidLine),
    "firm": (2.2, Qt.PenStyle.SolidLine),
    "soft": (2.6, Qt.PenStyle.DashLine),
    "lost": (3.0, Qt.PenStyle.DotLine),
}
"""How an edge of each kind is drawn: broad, thin, dashed, dotted."""


@dataclass(frozen=True, eq=False)
class Overlay:
    """What is to be shown over the masses; places as shares of width and height."""

    edges: bool = False
    hues: bool = False
    """Borders between two hues of one value."""
    families: bool = False
    areas: Sequence[Sequence[tuple[float, float]]] = ()
    """Outlines of drawn areas."""
    strongest: tuple[float, float] | None = None
    turns: Sequence[tuple[float, float, float]] = ()
    """Place and direction in degrees of each gradual turn."""
    broken: Sequence[int] = ()
    """Masses that break the rule of light and shadow."""
    said: tuple[tuple[int, int, str], ...] = ()


def cover(plan: MassPlan, fine: MassPlan, ground: Ground, wanted: Overlay) -> QImage:
    """A see-through picture of the overlay.

    ``plan`` and ``ground`` are of the preview, whose borders are measured; ``fine`` is the plan that is drawn.
    """
    h, w = plan.labels.shape
    width = min(_WIDTH, round((_PIXELS * w / h) ** 0.5))  # tall pictures are no larger than wide ones
    height = round(width * h / w)
    base = np.zeros((height, width, 4), np.uint8)
    if wanted.families:
        _hatch(base, fine, wanted.broken)
    if wanted.hues:
        _hue_lines(base, plan, hue_borders(plan, hue_parts(plan, ground.lab)))
    if wanted.edges:
        _beads(base, vanishing(ground.lab))
    image = to_image(base)
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    if wanted.edges:
        _paint_edges(painter, plan, fine, ground, wanted.said, width, height)
    for area in wanted.areas:
        path = QPainterPath()
        path.addPolygon(QPolygonF([QPointF(x * width, y * height) for x, y in area]))
        path.closeSubpath()
        _twice(painter, path, 2.0, Qt.PenStyle.DashLine)
    for x, y, direction in wanted.turns:
        _paint_arrow(painter, QPointF(x * width, y * height), direction)
    if wanted.strongest is not None:
        x, y = wanted.strongest
        path = QPainterPath()
        reach = 0.055 * (width * height) ** 0.5
        path.addEllipse(QPointF(x * width, y * height), reach, reach)
        _twice(painter, path, 2.4, Qt.PenStyle.SolidLine)
    painter.end()
    return image


def _twice(painter: QPainter, path: QPainterPath, width: float, style: Qt.PenStyle) -> None:
    """A line that shows on any grey: dark below, light above."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(_DARK, width + 2.2))
    painter.drawPath(path)
    painter.setPen(QPen(_LIGHT, width, style))
    painter.drawPath(path)


def _hatch(out: npt.NDArray[np.uint8], plan: MassPlan, broken: Sequence[int]) -> None:
    """Thin slanting lines over the shadow family; crossed lines where the rule is broken."""
    height, width = out.shape[:2]
    shadow = np.array([m.family == "shadow" for m in plan.masses])
    wrong = np.array([m.index in broken for m in plan.masses])
    labels = cv2.resize(plan.labels, (width, height), interpolation=cv2.INTER_NEAREST)
    rows, columns = np.arange(height)[:, None], np.arange(width)[None]
    slant = (rows + columns) % 14 < 2
    other = (rows - columns) % 14 < 2
    dark = (np.array([m.value for m in plan.masses]) < 5)[labels]
    lines = (shadow[labels] & slant) | (wrong[labels] & (slant | other))
    ink = np.where(dark, 235, 20).astype(np.uint8)
    strength = np.where(wrong[labels], 230, 90).astype(np.uint8)
    out[lines] = np.stack([ink, ink, ink, strength], axis=-1)[lines]


def _hue_lines(out: npt.NDArray[np.uint8], plan: MassPlan, lines: npt.NDArray[np.bool_]) -> None:
    """A line, light in darks and dark in lights, where two hues of one value meet."""
    height, width = out.shape[:2]
    wide = cv2.resize(lines.astype(np.uint8) * 255, (width, height), interpolation=cv2.INTER_LINEAR)
    wide = cv2.dilate(wide, np.ones((2, 2), np.uint8))
    labels = cv2.resize(plan.labels, (width, height), interpolation=cv2.INTER_NEAREST)
    dark = (np.array([m.value for m in plan.masses]) < 5)[labels]
    ink = np.where(dark, 235, 20).astype(np.uint8)
    at = wide > 90
    out[at] = np.stack([ink, ink, ink, np.full_like(ink, 210)], axis=-1)[at]


def _beads(out: npt.NDArray[np.uint8], lines: npt.NDArray[np.bool_]) -> None:
    """Beads, dark in light, along borders that hue alone holds."""
    height, width = out.shape[:2]
    h, w = lines.shape
    rows, columns = np.nonzero(lines)
    taken: set[tuple[int, int]] = set()
    step = max(3, round(0.012 * w))
    for r, c in zip(rows.tolist(), columns.tolist(), strict=True):
        cell = (r // step, c // step)
        if cell in taken:
            continue
        taken.add(cell)
        at = (round((c + 0.5) * width / w), round((r + 0.5) * height / h))
        cv2.circle(out, at, 6, (0, 0, 0, 255), -1, cv2.LINE_AA)
        cv2.circle(out, at, 4, (255, 255, 255, 255), -1, cv2.LINE_AA)


def _paint_edges(
    painter: QPainter,
    plan: MassPlan,
    fine: MassPlan,
    ground: Ground,
    said: tuple[tuple[int, int, str], ...],
    width: int,
    height: int,
) -> None:
    """Every border in the stroke of its kind."""
    paths = plan_outlines(fine)
    kinds = kinds_along(paths, kind_map(plan.labels, ground.lab, said))
    for p, kind in zip(paths, kinds, strict=True):
        points = [QPointF(x * width, y * height) for x, y in p.points.tolist()]
        n = len(points)
        starts = [i for i in range(n) if kind[i] != kind[i - 1]] or [0]
        for k, start in enumerate(starts):
            end = starts[(k + 1) % len(starts)]
            count = (end - start) % n or n
            path = QPainterPath(points[start])
            for j in range(1, count + 1):
                path.lineTo(points[(start + j) % n])
            pen, style = _PENS[EDGE_KINDS[kind[start]]]
            _twice(painter, path, pen, style)


def _paint_arrow(painter: QPainter, at: QPointF, direction: float) -> None:
    """An arrow toward the light end of a turn."""
    painter.save()
    painter.translate(at)
    painter.rotate(direction)
    path = QPainterPath(QPointF(-60, 0))
    path.lineTo(60, 0)
    path.moveTo(40, -14)
    path.lineTo(60, 0)
    path.lineTo(40, 14)
    _twice(painter, path, 3.0, Qt.PenStyle.SolidLine)
    painter.restore()


def key_swatch(kind: str, box: QRectF, painter: QPainter) -> None:
    """A short stroke of a kind of edge, for a list."""
    pen, style = _PENS[kind]
    path = QPainterPath(QPointF(box.left() + 3, box.center().y()))
    path.lineTo(box.right() - 3, box.center().y())
    _twice(painter, path, pen, style)
