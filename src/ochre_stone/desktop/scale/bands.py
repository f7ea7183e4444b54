"""The picture's values on the scale: their curve, the bands of the masses with shares or their order, cuts and
division."""

from collections.abc import Callable, Sequence

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF

from ochre_stone.core.masses.plan import MassPlan, grey_of_value
from ochre_stone.desktop.scale.axis import ramp
from ochre_stone.desktop.session import display, numbers
from ochre_stone.desktop.widgets import theme

_WIDEST = 96.0
Y = Callable[[float], float]


def grip() -> float:
    """Width of a cut's handle."""
    return float(theme.sized(34))


def left() -> float:
    """Where the bands begin."""
    return ramp() + 16


def right_of(width: float) -> float:
    """Where the bands end on a scale of that width."""
    return max(min(left() + _WIDEST, width - grip() - 4), left() + 20)


def paint_curve(painter: QPainter, counts: np.ndarray, y: Y, right: float, ink: QColor) -> None:
    """How much of the picture stands at each value, (256,) counts over 0..10; by square roots, so that small parts are
    seen beside large ones."""
    top = float(np.sqrt(counts.max())) or 1.0
    n = len(counts)
    path = QPainterPath(QPointF(left(), y(0)))
    for i, c in enumerate(counts):
        path.lineTo(left() + (right - left()) * float(np.sqrt(c)) / top, y((i + 0.5) * 10 / n))
    path.lineTo(left(), y(10))
    veil = QColor(ink)
    veil.setAlpha(60)
    painter.fillPath(path, veil)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(ink, 1.2))
    painter.drawPath(path)


def paint_bands(painter: QPainter, plan: MassPlan, cuts: Sequence[float], y: Y, right: float) -> None:
    """Each value of the plan as a band of its grey."""
    edges, greys = [0.0, *cuts, 10.0], _greys(plan, len(cuts) + 1)
    shown = display.greys(greys)
    for i in range(len(edges) - 1):
        box = QRectF(left(), y(edges[i + 1]), right - left(), y(edges[i]) - y(edges[i + 1]))
        painter.fillRect(box, QColor(*shown[i].tolist()))


def paint_words(
    painter: QPainter, plan: MassPlan, cuts: Sequence[float], y: Y, right: float, words: Sequence[str]
) -> None:
    """A word in each band."""
    edges, greys = [0.0, *cuts, 10.0], _greys(plan, len(cuts) + 1)
    painter.setFont(theme.face(10, bold=True))
    for i, word in enumerate(words):
        box = QRectF(left(), y(edges[i + 1]), right - left(), y(edges[i]) - y(edges[i + 1]))
        if box.height() > 14:
            painter.setPen(QColor("black") if int(greys[i]) > 118 else QColor("white"))
            painter.drawText(
                box.adjusted(0, 0, -5, 0), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, word
            )


def _greys(plan: MassPlan, bands: int) -> np.ndarray:
    """Grey of each band: that of the larger mass of its value."""
    mine = [max((m for m in plan.masses if m.step == i), key=lambda m: m.share, default=None) for i in range(bands)]
    return np.array([grey_of_value(m.value) if m is not None else 119 for m in mine], np.uint8)


def shares(plan: MassPlan, bands: int) -> list[str]:
    """How much of the picture each band is, in words."""
    return [f"{sum(m.share for m in plan.masses if m.step == i):.0%}" for i in range(bands)]


def paint_cut(painter: QPainter, value: float, y: float, right: float, held: bool, locked: bool) -> None:
    """A line across, and its handle with the value; a bar through the line where it is locked."""
    ink = theme.colour("accent") if held else theme.colour("on_surround")
    painter.setPen(QPen(ink, 2.2 if held else 1.5))
    painter.drawLine(QPointF(left() - 14, y), QPointF(right, y))
    handle = QRectF(right + 2, y - 8, grip(), 16)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(ink)
    painter.drawRoundedRect(handle, 3, 3)
    if locked:
        painter.drawRect(QRectF(left(), y - 3.5, 12, 7))
    painter.setPen(theme.colour("surround" if theme.current().name != "middle" else "deep"))
    painter.setFont(theme.face(9, bold=True))
    painter.drawText(handle, Qt.AlignmentFlag.AlignCenter, numbers.value(value))


def paint_division(painter: QPainter, y: float, right: float, held: bool) -> None:
    """A double line across, with a tongue on the left: above it light, below it shadow."""
    ink = theme.colour("accent") if held else theme.colour("on_surround")
    painter.setPen(QPen(ink, 1.2))
    for off in (-2.0, 2.0):
        painter.drawLine(QPointF(left(), y + off), QPointF(right, y + off))
    painter.setBrush(ink)
    painter.setPen(Qt.PenStyle.NoPen)
    at = QPointF(left() + 2, y)
    painter.drawPolygon(QPolygonF([at + QPointF(-8, -9), at + QPointF(6, 0), at + QPointF(-8, 9)]))
    painter.setFont(theme.face(9, bold=True))
    high = float(theme.sized(15))
    for words, top in (("light", y - 3 - high), ("shadow", y + 3)):
        tag = QRectF(left() + 12, top, painter.fontMetrics().horizontalAdvance(words) + 8, high)
        painter.fillRect(tag, theme.colour("surround"))
        painter.setPen(theme.colour("on_surround"))
        painter.drawText(tag, Qt.AlignmentFlag.AlignCenter, words)


def paint_losses(painter: QPainter, burnt: float, crushed: float, y: Y) -> None:
    """What the photo lost, at the ends: a hatched bar and its share in words."""
    painter.setFont(theme.face(9, bold=True))
    for share, value, word in ((burnt, 10.0, "burnt out"), (crushed, 0.0, "crushed")):
        if share < 0.0005:
            continue
        at = y(value)
        box = QRectF(left(), at - 12 if value else at + 2, 46, 10)
        painter.setPen(QPen(theme.colour("on_surround"), 1))
        painter.setBrush(QColor(theme.colour("on_surround")))
        painter.fillRect(box, Qt.BrushStyle.BDiagPattern)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(box)
        percent = f"{share:.0%}" if share >= 0.01 else "<1%"
        words = QRectF(box.right() + 6, box.top() - 3, 110, 16)
        painter.drawText(words, Qt.AlignmentFlag.AlignLeft, f"{percent} {word}")
