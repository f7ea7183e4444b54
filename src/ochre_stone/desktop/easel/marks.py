"""What is drawn on the easel's picture: marks of notes, the tool's stroke, the cross, the cut, the grid, the card."""

from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRect, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QPainter, QPainterPath, QPen, QPolygonF

from ochre_stone.desktop.widgets import theme

_DARK, _LIGHT = QColor(0, 0, 0, 190), QColor(255, 255, 255)
_GRIP = 12.0
CARD = QColor("#777777")
"""The isolating card: value 5, whatever the surround is set to."""


@dataclass(frozen=True)
class Mark:
    """A note on the picture, in picture pixels."""

    id: str
    x: float
    y: float
    radius: float
    area: tuple[tuple[float, float], ...] = ()
    chosen: bool = False
    dimmed: bool = False
    """Left out by the filter."""


@dataclass(frozen=True)
class DrawnGrid:
    """Lines of a transfer grid, as shares of the picture, with what stands at each."""

    across: tuple[tuple[float, str], ...]
    down: tuple[tuple[float, str], ...]


def _twice(painter: QPainter, width: float, draw: "QPainterPath") -> None:
    """A line that shows on any ground: dark below, light above."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(_DARK, width + 1.6))
    painter.drawPath(draw)
    painter.setPen(QPen(_LIGHT, width))
    painter.drawPath(draw)


def ring(painter: QPainter, at: QPointF, radius: float, chosen: bool) -> None:
    """A ring that shows on any ground: dark outside, light inside; thicker for the note in hand."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(_DARK, 3.5 if chosen else 2.2))
    painter.drawEllipse(at, radius + 1, radius + 1)
    painter.setPen(QPen(_LIGHT, 2.2 if chosen else 1.2))
    painter.drawEllipse(at, radius, radius)


def paint_mark(painter: QPainter, mark: Mark, at: QPointF, radius: float, area: Sequence[QPointF]) -> None:
    """A note: a ring, or its area; four ticks about the one in hand."""
    if mark.dimmed and not mark.chosen:
        painter.setOpacity(0.35)
    if area:
        path = QPainterPath()
        path.addPolygon(QPolygonF(list(area)))
        path.closeSubpath()
        _twice(painter, 2.0 if mark.chosen else 1.1, path)
        ring(painter, at, 3.5, mark.chosen)
        radius = 6.0
    else:
        ring(painter, at, radius, mark.chosen)
    if mark.chosen:
        path = QPainterPath()
        for dx, dy in ((1, 0), (-1, 0), (0, 1), (0, -1)):
            path.moveTo(at + QPointF(dx, dy) * (radius + 3))
            path.lineTo(at + QPointF(dx, dy) * (radius + 9))
        _twice(painter, 1.6, path)
    painter.setOpacity(1.0)


def paint_labels(painter: QPainter, box: QRectF, labels: Sequence[tuple[float, float, str, bool]]) -> None:
    """Words on the picture."""
    painter.setFont(theme.face(13 if box.height() > 200 else 9, bold=True))
    for x, y, word, dark in labels:
        painter.setPen(QColor("white") if dark else QColor("black"))
        at = QPointF(box.left() + x * box.width(), box.top() + y * box.height())
        painter.drawText(QRectF(at.x() - 30, at.y() - 14, 60, 28), Qt.AlignmentFlag.AlignCenter, word)


def paint_stroke(painter: QPainter, points: Sequence[QPointF], ahead: QPointF | None, closed: bool) -> None:
    """The points of a tool so far, with a line on to the pointer, and back to the first where it will close."""
    path = QPainterPath(points[0])
    for p in points[1:]:
        path.lineTo(p)
    if ahead is not None:
        path.lineTo(ahead)
    _twice(painter, 1.4, path)
    if closed and len(points) + (ahead is not None) > 2:
        painter.setPen(QPen(_LIGHT, 1, Qt.PenStyle.DashLine))
        painter.drawLine(ahead if ahead is not None else points[-1], points[0])
    if len(points) < 60:
        for p in points:
            ring(painter, p, 3.5, False)


def paint_cross(painter: QPainter, at: QPointF, gap: float) -> None:
    """The cross that keys move."""
    path = QPainterPath()
    for dx, dy in ((1, 0), (-1, 0), (0, 1), (0, -1)):
        path.moveTo(at + QPointF(dx, dy) * gap)
        path.lineTo(at + QPointF(dx, dy) * (gap + 12))
    _twice(painter, 1.4, path)


def paint_card(painter: QPainter, whole: QRect, at: QPointF, radius: float) -> None:
    """A neutral grey card over everything, with a hole at the pointer."""
    path = QPainterPath()
    path.addRect(QRectF(whole))
    hole = QPainterPath()
    hole.addEllipse(at, radius, radius)
    painter.fillPath(path - hole, CARD)


def paint_focus(painter: QPainter, whole: QRect) -> None:
    """That the keys go to the easel: a line along its edge, away from the picture."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(theme.colour("accent"), 2))
    painter.drawRect(QRectF(whole).adjusted(1, 1, -1, -1))


def paint_cut_mark(painter: QPainter, whole: QRect, cut: QRectF, focused: bool) -> None:
    """The cut: what is left out is covered in the surround's grey, corners can be gripped."""
    path = QPainterPath()
    path.addRect(QRectF(whole))
    inner = QPainterPath()
    inner.addRect(cut)
    veil = QColor(theme.colour("surround"))
    veil.setAlpha(185)
    painter.fillPath(path - inner, QBrush(veil))
    _twice(painter, 1.8 if focused else 1.2, inner)
    corners = QPainterPath()
    for x, y in (
        (cut.left(), cut.top()),
        (cut.right(), cut.top()),
        (cut.right(), cut.bottom()),
        (cut.left(), cut.bottom()),
    ):
        corners.addEllipse(QPointF(x, y), 5, 5)
    painter.fillPath(corners, QBrush(_LIGHT))
    painter.setPen(QPen(_DARK, 1.4))
    painter.drawPath(corners)


def grip_at(cut: QRectF, at: QPointF) -> str:
    """Which part of a cut lies under a place: letters of the sides (l, r, t, b), "inside", or "" for none."""
    if not cut.adjusted(-_GRIP, -_GRIP, _GRIP, _GRIP).contains(at):
        return ""
    sides = ""
    if abs(at.x() - cut.left()) < _GRIP:
        sides += "l"
    elif abs(at.x() - cut.right()) < _GRIP:
        sides += "r"
    if abs(at.y() - cut.top()) < _GRIP:
        sides += "t"
    elif abs(at.y() - cut.bottom()) < _GRIP:
        sides += "b"
    return sides or "inside"


def mark_size(cut: QRectF, grip: str, dx: float, dy: float, aspect: float | None) -> QRectF:
    """The cut with the gripped sides moved; with an aspect, the opposite corner or side's middle stays."""
    out = QRectF(cut)
    if "l" in grip:
        out.setLeft(cut.left() + dx)
    if "r" in grip:
        out.setRight(cut.right() + dx)
    if "t" in grip:
        out.setTop(cut.top() + dy)
    if "b" in grip:
        out.setBottom(cut.bottom() + dy)
    if aspect is None or out.width() < 1 or out.height() < 1:
        return out
    by_width = grip in ("l", "r") or (len(grip) == 2 and abs(dx) >= abs(dy))
    width = out.width() if by_width else out.height() * aspect
    height = width / aspect
    x = cut.right() - width if "l" in grip else cut.left() if "r" in grip else cut.center().x() - width / 2
    y = cut.bottom() - height if "t" in grip else cut.top() if "b" in grip else cut.center().y() - height / 2
    return QRectF(x, y, width, height)


def paint_grid(painter: QPainter, box: QRectF, grid: DrawnGrid, flip: bool) -> None:
    """The transfer grid: thin double lines, numbered along the top and the left edge."""
    path = QPainterPath()
    for share, _ in grid.across:
        x = box.left() + (1 - share if flip else share) * box.width()
        path.moveTo(x, box.top())
        path.lineTo(x, box.bottom())
    for share, _ in grid.down:
        y = box.top() + share * box.height()
        path.moveTo(box.left(), y)
        path.lineTo(box.right(), y)
    painter.setPen(QPen(QColor(0, 0, 0, 120), 2.0))
    painter.drawPath(path)
    painter.setPen(QPen(QColor(255, 255, 255, 200), 0.9))
    painter.drawPath(path)
    painter.setFont(theme.face(8))
    painter.setPen(theme.colour("on_surround"))
    for share, word in grid.across:
        x = box.left() + (1 - share if flip else share) * box.width()
        painter.drawText(QRectF(x - 20, box.top() - 14, 40, 13), Qt.AlignmentFlag.AlignCenter, word)
    for share, word in grid.down:
        y = box.top() + share * box.height()
        align = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        painter.drawText(QRectF(box.left() - 34, y - 7, 30, 14), align, word)
