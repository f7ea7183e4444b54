"""The value histogram, upright along the easel's edge as a scale from dark to light; the cuts are handles on it."""

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from ochre_stone.core.masses.plan import MassPlan
from ochre_stone.desktop import display, numbers, theme

_TOP, _BOTTOM = 16, 16
_LEAST_GAP = 0.15
_HANDLE = 16.0


class ValueScale(QWidget):
    """Bands of the masses' greys with their shares; drag a handle, or nudge it with the arrow keys."""

    cuts_moved = pyqtSignal(tuple)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedWidth(132)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Value histogram with thresholds")
        self._counts = np.zeros(1)
        self._plan: MassPlan | None = None
        self._cuts: list[float] = []
        self._held: int | None = None
        self._chosen = 0

    def show_plan(self, counts: np.ndarray, plan: MassPlan) -> None:
        """Histogram (256,) over value 0..10 and the plan made from it."""
        self._counts, self._plan = counts, plan
        if self._held is None:
            self._cuts = list(plan.thresholds)
        self._chosen = min(self._chosen, max(len(self._cuts) - 1, 0))
        self.setAccessibleDescription(", ".join(f"threshold {numbers.value(c)}" for c in self._cuts))
        self.update()

    def _y(self, value: float) -> float:
        return _TOP + (1 - value / 10) * (self.height() - _TOP - _BOTTOM)

    def _value(self, y: float) -> float:
        return (1 - (y - _TOP) / max(self.height() - _TOP - _BOTTOM, 1)) * 10

    def handle(self, index: int) -> QPointF:
        """Where a handle is."""
        return QPointF(self.width() - _HANDLE, self._y(self._cuts[index]))

    def _move(self, index: int, value: float) -> None:
        low = self._cuts[index - 1] + _LEAST_GAP if index else _LEAST_GAP
        high = self._cuts[index + 1] - _LEAST_GAP if index + 1 < len(self._cuts) else 10 - _LEAST_GAP
        new = round(min(max(value, low), high), 3)
        if new != self._cuts[index]:
            self._cuts[index] = new
            self.cuts_moved.emit(tuple(self._cuts))
            self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._cuts:
            near = min(range(len(self._cuts)), key=lambda i: abs(self._y(self._cuts[i]) - event.position().y()))
            if abs(self._y(self._cuts[near]) - event.position().y()) < 14:
                self._held = self._chosen = near
                self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._held is not None:
            self._move(self._held, self._value(event.position().y()))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._held = None

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None or not self._cuts:
            return
        shift = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            step = (0.5 if shift else 0.1) * (1 if event.key() == Qt.Key.Key_Up else -1)
            self._move(self._chosen, self._cuts[self._chosen] + step)
        elif event.key() in (Qt.Key.Key_PageUp, Qt.Key.Key_Right):
            self._chosen = min(self._chosen + 1, len(self._cuts) - 1)
        elif event.key() in (Qt.Key.Key_PageDown, Qt.Key.Key_Left):
            self._chosen = max(self._chosen - 1, 0)
        else:
            super().keyPressEvent(event)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surround"))
        if self._plan is None:
            return
        left, right = 24.0, self.width() - 26.0
        edges = [0.0, *self._cuts, 10.0]
        greys = self._plan.greys()
        painter.setFont(theme.face(9.5, bold=True))
        for i in range(min(len(self._plan.masses), len(edges) - 1)):
            box = QRectF(left, self._y(edges[i + 1]), right - left, self._y(edges[i]) - self._y(edges[i + 1]))
            painter.fillRect(box, QColor(*display.greys(greys)[i].tolist()))
        self._paint_counts(painter, left, right)
        for i, mass in enumerate(self._plan.masses[: len(edges) - 1]):
            box = QRectF(left, self._y(edges[i + 1]), right - left, self._y(edges[i]) - self._y(edges[i + 1]))
            if box.height() > 14:
                grey = int(greys[i])
                painter.setPen(QColor("black") if grey > 118 else QColor("white"))
                painter.drawText(
                    box.adjusted(0, 0, -5, 0),
                    Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                    f"{mass.share:.0%}",
                )
        painter.setFont(theme.face(8.5))
        painter.setPen(theme.colour("on_surround"))
        for v, word in numbers.ticks():
            painter.drawText(
                QRectF(0, self._y(v) - 8, 19, 16),
                Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                word,
            )
        for i in range(len(self._cuts)):
            self._paint_handle(painter, i, left, right)

    def _paint_counts(self, painter: QPainter, left: float, right: float) -> None:
        top = float(np.sqrt(self._counts.max())) or 1.0
        path = QPainterPath(QPointF(left, self._y(0)))
        n = len(self._counts)
        for i, c in enumerate(self._counts):
            path.lineTo(left + 0.62 * (right - left) * float(np.sqrt(c)) / top, self._y((i + 0.5) * 10 / n))
        path.lineTo(left, self._y(10))
        # A veil of the other tone keeps the bands' own greys readable beside it.
        painter.setPen(QPen(QColor(255, 255, 255, 170), 1))
        painter.fillPath(path, QColor(128, 128, 128, 90))
        painter.drawPath(path)

    def _paint_handle(self, painter: QPainter, index: int, left: float, right: float) -> None:
        y = self._y(self._cuts[index])
        active = index == self._chosen and (self.hasFocus() or self._held is not None)
        ink = theme.colour("accent") if active else theme.colour("on_surround")
        painter.setPen(QPen(ink, 2 if active else 1.4))
        painter.drawLine(QPointF(left, y), QPointF(right, y))
        grip = QPolygonF(
            [
                QPointF(right, y),
                QPointF(right + 10, y - 7),
                QPointF(right + 22, y - 7),
                QPointF(right + 22, y + 7),
                QPointF(right + 10, y + 7),
            ]
        )
        painter.setBrush(ink)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawPolygon(grip)
        painter.setPen(theme.colour("surround"))
        painter.setFont(theme.face(7.5, bold=True))
        painter.drawText(
            QRectF(right + 4, y - 8, 20, 16), Qt.AlignmentFlag.AlignCenter, numbers.value(self._cuts[index])
        )
