"""A curve of value: the scene's along the bottom, the picture's up the side; its points are dragged or nudged."""

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from ochre_stone.core.masses.tone import AS_IT_IS, Tone
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.parts import set_tip

_LEFT, _TOP, _RIGHT, _BOTTOM = 26.0, 10.0, 10.0, 22.0
_GAP = 0.2

_LEAST = 112


class ToneCurve(QWidget):
    """Shows how the scene's values go into the picture's; the points of a drawn curve can be moved."""

    moved = pyqtSignal(tuple)
    """Points (value of the scene, value of the picture), dark to light."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setMinimumHeight(_LEAST)
        self.setMaximumHeight(170)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Curve of the range")
        set_tip(self, "Drag a point; with keys, left and right choose one, up and down move it (Shift is coarser)")
        self._tone: Tone = AS_IT_IS
        self._held: int | None = None
        self._chosen = 0

    def show_tone(self, tone: Tone) -> None:
        """The curve of a choice of range."""
        self._tone = tone
        self._chosen = min(self._chosen, max(len(tone.drawn) - 1, 0))
        self.update()

    @property
    def _points(self) -> tuple[tuple[float, float], ...]:
        return self._tone.drawn if self._tone.keep == "drawn" else ()

    def sizeHint(self) -> QSize:
        return QSize(300, _LEAST)

    def _box(self) -> QRectF:
        return QRectF(self.rect()).adjusted(_LEFT, _TOP, -_RIGHT, -_BOTTOM)

    def place(self, x: float, y: float) -> QPointF:
        """Where a pair of values lies."""
        box = self._box()
        return QPointF(box.left() + x / 10 * box.width(), box.bottom() - y / 10 * box.height())

    def _move(self, index: int, value: float) -> None:
        points = list(self._points)
        low = points[index - 1][1] if index else 0.0
        high = points[index + 1][1] if index + 1 < len(points) else 10.0
        points[index] = (points[index][0], round(min(max(value, low), high), 2))
        if tuple(points) != self._points:
            self.moved.emit(tuple(points))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or not self._points:
            return
        off = [(self.place(*p) - event.position()).manhattanLength() for p in self._points]
        near = int(np.argmin(off))
        if off[near] < 24:
            self._held = self._chosen = near
            self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._held is not None:
            box = self._box()
            self._move(self._held, (box.bottom() - event.position().y()) / box.height() * 10)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._held = None

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        key, points = event.key(), self._points
        if points and key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            step = 0.5 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 0.1
            self._move(self._chosen, points[self._chosen][1] + (step if key == Qt.Key.Key_Up else -step))
        elif points and key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            way = 1 if key == Qt.Key.Key_Right else -1
            self._chosen = min(max(self._chosen + way, 0), len(points) - 1)
            self.update()
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surround"))
        ink = theme.colour("on_surround")
        faint = theme.colour("on_surround")
        faint.setAlpha(70)
        painter.setFont(theme.face(8))
        for value, word in numbers.ticks()[:: 2 if len(numbers.ticks()) > 7 else 1]:
            painter.setPen(QPen(faint, 1))
            painter.drawLine(self.place(value, 0), self.place(value, 10))
            painter.drawLine(self.place(0, value), self.place(10, value))
            painter.setPen(ink)
            below, beside = self.place(value, 0), self.place(0, value)
            painter.drawText(QRectF(below.x() - 12, below.y() + 2, 24, 13), Qt.AlignmentFlag.AlignCenter, word)
            right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
            painter.drawText(QRectF(0, beside.y() - 7, _LEFT - 5, 14), right, word)
        painter.setPen(QPen(faint, 1.2, Qt.PenStyle.DashLine))
        painter.drawLine(self.place(0, 0), self.place(10, 10))
        x = np.linspace(0, 10, 101)
        y = self._tone.value(x)
        path = QPainterPath(self.place(0, float(y[0])))
        for a, b in zip(x[1:].tolist(), y[1:].tolist(), strict=True):
            path.lineTo(self.place(a, b))
        painter.setPen(QPen(ink, 2))
        painter.drawPath(path)
        for i, p in enumerate(self._points):
            active = i == self._chosen and (self.hasFocus() or self._held is not None)
            painter.setBrush(theme.colour("accent") if active else ink)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.drawEllipse(self.place(*p), 5.5, 5.5)
