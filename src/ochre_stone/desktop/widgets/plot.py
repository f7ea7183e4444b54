"""A small chart: lines and points over a scale of numbers or days, drawn with the toolkit, in neutral greys."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.parts import set_tip

_LEFT, _RIGHT, _TOP, _BOTTOM = 46.0, 16.0, 26.0, 34.0


@dataclass(frozen=True)
class Line:
    """Points that belong together."""

    name: str
    points: tuple[tuple[float, float], ...]
    band: tuple[tuple[float, float], ...] = ()
    """Low and high at each point."""
    strong: bool = False
    """Drawn over the others."""
    joined: bool = True


class PlotView(QWidget):
    """One chart with its title, its axes named, and a line that should not be crossed where there is one."""

    def __init__(self, title: str, x_name: str, y_name: str) -> None:
        super().__init__()
        self.title, self.x_name, self.y_name = title, x_name, y_name
        self._lines: tuple[Line, ...] = ()
        self._ticks: tuple[tuple[float, str], ...] = ()
        self._level: tuple[float, str] | None = None
        self._zero = True
        self.hint = ""
        self.setMinimumHeight(120)

    def show_lines(
        self,
        lines: Sequence[Line],
        ticks: Sequence[tuple[float, str]],
        level: tuple[float, str] | None = None,
        from_zero: bool = True,
    ) -> None:
        """Lines, places and words along the foot, and a level with its name; ``from_zero``: the height begins at 0."""
        self._lines, self._ticks, self._level, self._zero = tuple(lines), tuple(ticks), level, from_zero
        words = f"{self.title}. " + "; ".join(
            f"{line.name}: {', '.join(f'{y:.2g}' for _, y in line.points[:12])}" for line in lines[:20]
        )
        self.setAccessibleName(self.title)
        self.setAccessibleDescription(words if lines else self.hint)
        set_tip(self, words[:600])
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(420, 190)

    # Where things lie

    def _span(self) -> tuple[float, float, float, float]:
        xs = [x for line in self._lines for x, _ in line.points] + [x for x, _ in self._ticks]
        ys = [y for line in self._lines for _, y in line.points]
        ys += [v for line in self._lines for pair in line.band for v in pair]
        if self._level is not None:
            ys.append(self._level[0])
        low, high = (0.0 if self._zero else min(ys)), max(ys)
        pad = 0.08 * max(high - low, 1e-6)
        wide = max(max(xs) - min(xs), 1e-6)
        return min(xs) - 0.03 * wide, max(xs) + 0.03 * wide, low if self._zero else low - pad, high + pad

    def _place(self, x: float, y: float, span: tuple[float, float, float, float]) -> QPointF:
        x0, x1, y0, y1 = span
        wide, high = self.width() - _LEFT - _RIGHT, self.height() - _TOP - _BOTTOM
        return QPointF(_LEFT + (x - x0) / (x1 - x0) * wide, _TOP + (1 - (y - y0) / (y1 - y0)) * high)

    # Drawing

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surround"))
        ink = theme.colour("on_surround")
        painter.setPen(ink)
        painter.setFont(theme.face(10.5, bold=True))
        title = QRectF(_LEFT, 3, self.width() - _LEFT - 8, 20)
        painter.drawText(title, Qt.AlignmentFlag.AlignVCenter, self.title)
        painter.setFont(theme.face(9))
        if not any(line.points for line in self._lines):
            flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
            painter.drawText(self.rect().adjusted(40, 20, -40, -10), flags, self.hint)
            return
        span = self._span()
        self._paint_axes(painter, ink, span)
        faint = QColor(ink)
        faint.setAlpha(120)
        for line in sorted(self._lines, key=lambda line: line.strong):
            self._paint_line(painter, line, ink if line.strong else faint, span)

    def _paint_axes(self, painter: QPainter, ink: QColor, span: tuple[float, float, float, float]) -> None:
        faint = QColor(ink)
        faint.setAlpha(60)
        metrics = QFontMetricsF(painter.font())
        for y in plot_steps(span[2], span[3]):
            at = self._place(span[0], y, span).y()
            painter.setPen(QPen(faint, 1))
            painter.drawLine(QPointF(_LEFT, at), QPointF(self.width() - _RIGHT, at))
            painter.setPen(ink)
            box = QRectF(0, at - 8, _LEFT - 6, 16)
            painter.drawText(box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, f"{y:g}")
        foot = self.height() - _BOTTOM
        right = -1e9
        for x, words in self._ticks:
            at = self._place(x, span[2], span).x()
            wide = metrics.horizontalAdvance(words)
            painter.setPen(QPen(faint, 1))
            painter.drawLine(QPointF(at, foot), QPointF(at, foot + 4))
            if at - wide / 2 > right + 6:
                painter.setPen(ink)
                painter.drawText(QRectF(at - 60, foot + 3, 120, 15), Qt.AlignmentFlag.AlignCenter, words)
                right = at + wide / 2
        painter.setPen(ink)
        names = QRectF(_LEFT, self.height() - 17, self.width() - _LEFT - _RIGHT, 15)
        painter.drawText(names, Qt.AlignmentFlag.AlignRight, self.x_name)
        painter.drawText(QRectF(self.width() - 320, 4, 304, 16), Qt.AlignmentFlag.AlignRight, self.y_name)
        if self._level is not None:
            value, named = self._level
            at = self._place(span[0], value, span).y()
            painter.setPen(QPen(ink, 1, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(_LEFT, at), QPointF(self.width() - _RIGHT, at))
            painter.drawText(QRectF(self.width() - _RIGHT - 304, at - 15, 300, 14), Qt.AlignmentFlag.AlignRight, named)

    def _paint_line(self, painter: QPainter, line: Line, ink: QColor, span: tuple[float, float, float, float]) -> None:
        places = [self._place(x, y, span) for x, y in line.points]
        if line.band and len(line.band) == len(line.points):
            shade = QColor(ink)
            shade.setAlpha(45)
            upper = [self._place(x, high, span) for (x, _), (_, high) in zip(line.points, line.band, strict=True)]
            lower = [self._place(x, low, span) for (x, _), (low, _) in zip(line.points, line.band, strict=True)]
            if len(places) > 1:
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(shade)
                painter.drawPolygon(QPolygonF([*upper, *reversed(lower)]))
            painter.setPen(QPen(ink, 1))
            for a, b in zip(upper, lower, strict=True):
                painter.drawLine(a, b)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(ink, 2 if line.strong else 1.2))
        if line.joined and len(places) > 1:
            painter.drawPolyline(QPolygonF(places))
        painter.setBrush(ink)
        painter.setPen(Qt.PenStyle.NoPen)
        size = 3.4 if line.strong else 2.4
        for p in places:
            painter.drawEllipse(p, size, size)
        if line.strong and places:
            painter.setPen(ink)
            words = QRectF(places[-1].x() - 160, places[-1].y() - 17, 156, 14)
            painter.drawText(words, Qt.AlignmentFlag.AlignRight, line.name)


def plot_steps(low: float, high: float, count: int = 4) -> list[float]:
    """Round numbers between two.

    >>> steps(0, 9)
    [0.0, 2.0, 4.0, 6.0, 8.0]
    """
    rough = max(high - low, 1e-9) / count
    unit = 10.0 ** math.floor(math.log10(rough))
    step = next(m * unit for m in (1, 2, 5, 10) if m * unit >= rough * 0.8)
    first = math.ceil(low / step - 1e-9)
    return [round(k * step, 10) for k in range(first, math.floor(high / step + 1e-9) + 1)]
