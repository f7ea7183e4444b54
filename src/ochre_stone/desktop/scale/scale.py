"""The value histogram, upright along the easel's edge as a scale from dark to light; the cuts are handles on it."""

import numpy as np
from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from ochre_stone.core.masses.plan import MassPlan, grey_of_value
from ochre_stone.desktop.session import display, numbers
from ochre_stone.desktop.widgets import theme

_TOP, _BOTTOM = 16, 16
_LEAST_GAP = 0.15
_HANDLE = 16.0
_NEAR = 14.0  # screen pixels within which a handle is caught


class ValueScale(QWidget):
    """Bands of the masses' greys with their shares; drag a handle, or nudge it with the arrow keys.

    Thresholds have their handles on the right; the division of light and shadow has one on the left.
    """

    cuts_moved = pyqtSignal(tuple, int)
    """All thresholds, and which one was moved."""
    lock_asked = pyqtSignal(int)
    """A threshold is to be locked or freed."""
    chosen_changed = pyqtSignal(int)
    division_moved = pyqtSignal(float)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedWidth(132)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Value histogram with thresholds")
        self.setToolTip(
            "Thresholds: drag, or arrows up and down (Shift is coarser); left and right choose one; L locks it"
        )
        self._counts = np.zeros(1)
        self._plan: MassPlan | None = None
        self._cuts: list[float] = []
        self._locked: tuple[float, ...] = ()
        self._held: int | None = None
        self.chosen = 0
        """The threshold in hand."""
        self.divides = False
        """Whether the keys move the division of light and shadow instead of a threshold."""
        self._moves_division = False

    def show_plan(self, counts: np.ndarray, plan: MassPlan, locked: tuple[float, ...] = ()) -> None:
        """Histogram (256,) over value 0..10, the plan made from it, and the thresholds that are locked."""
        self._counts, self._plan, self._locked = counts, plan, locked
        if self._held is None:
            self._cuts = list(plan.thresholds)
        self.chosen = min(self.chosen, max(len(self._cuts) - 1, 0))
        said = ", ".join(f"threshold {numbers.value(c)}{' locked' if self._is_locked(c) else ''}" for c in self._cuts)
        self.setAccessibleDescription(f"{said}; light and shadow divided at {numbers.value(plan.division)}")
        self.update()

    def _is_locked(self, cut: float) -> bool:
        return any(abs(cut - c) < 0.03 for c in self._locked)

    def _y(self, value: float) -> float:
        return _TOP + (1 - value / 10) * (self.height() - _TOP - _BOTTOM)

    def _value(self, y: float) -> float:
        return (1 - (y - _TOP) / max(self.height() - _TOP - _BOTTOM, 1)) * 10

    def handle(self, index: int) -> QPointF:
        """Where a threshold's handle is."""
        return QPointF(self.width() - _HANDLE, self._y(self._cuts[index]))

    def division_handle(self) -> QPointF:
        """Where the handle of the division is."""
        return QPointF(28.0, self._y(self._plan.division if self._plan is not None else 5.0))

    def choose(self, index: int) -> None:
        """Take a threshold in hand."""
        index = min(max(index, 0), max(len(self._cuts) - 1, 0))
        if index != self.chosen:
            self.chosen = index
            self.chosen_changed.emit(index)
        self.update()

    def move_to(self, index: int, value: float) -> None:
        """Move a threshold, as far as its neighbours allow."""
        low = self._cuts[index - 1] + _LEAST_GAP if index else _LEAST_GAP
        high = self._cuts[index + 1] - _LEAST_GAP if index + 1 < len(self._cuts) else 10 - _LEAST_GAP
        new = round(min(max(value, low), high), 3)
        if low <= high and new != self._cuts[index]:
            self._cuts[index] = new
            self.cuts_moved.emit(tuple(self._cuts), index)
            self.update()

    def _divide(self, value: float) -> None:
        self.division_moved.emit(round(min(max(value, 0.1), 9.9), 2))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or not self._cuts:
            return
        at = event.position()
        if self.divides and at.x() < 46 and abs(self.division_handle().y() - at.y()) < _NEAR:
            self._moves_division = True
            return
        near = min(range(len(self._cuts)), key=lambda i: abs(self._y(self._cuts[i]) - at.y()))
        if abs(self._y(self._cuts[near]) - at.y()) < _NEAR:
            self._held = near
            self.choose(near)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        if self._moves_division:
            self._divide(self._value(event.position().y()))
        elif self._held is not None:
            self.move_to(self._held, self._value(event.position().y()))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._held, self._moves_division = None, False

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._cuts and abs(self._y(self._cuts[self.chosen]) - event.position().y()) < _NEAR:
            self.lock_asked.emit(self.chosen)

    def event(self, event: QEvent | None) -> bool:
        """Keep the key that locks for the scale, where the window would take it for a view."""
        if (
            isinstance(event, QKeyEvent)
            and event.type() == QEvent.Type.ShortcutOverride
            and not self.divides
            and event.key() == Qt.Key.Key_L
            and event.modifiers() == Qt.KeyboardModifier.NoModifier
        ):
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None or not self._cuts or self._plan is None:
            return
        shift = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            step = (0.5 if shift else 0.1) * (1 if event.key() == Qt.Key.Key_Up else -1)
            if self.divides:
                self._divide(self._plan.division + step)
            else:
                self.move_to(self.chosen, self._cuts[self.chosen] + step)
        elif event.key() in (Qt.Key.Key_PageUp, Qt.Key.Key_Right):
            self.choose(self.chosen + 1)
        elif event.key() in (Qt.Key.Key_PageDown, Qt.Key.Key_Left):
            self.choose(self.chosen - 1)
        elif event.key() == Qt.Key.Key_L and not self.divides:
            self.lock_asked.emit(self.chosen)
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
        greys = self._greys()
        painter.setFont(theme.face(9.5, bold=True))
        for i in range(len(edges) - 1):
            box = QRectF(left, self._y(edges[i + 1]), right - left, self._y(edges[i]) - self._y(edges[i + 1]))
            painter.fillRect(box, QColor(*display.greys(greys)[i].tolist()))
        self._paint_counts(painter, left, right)
        for i in range(len(edges) - 1):
            box = QRectF(left, self._y(edges[i + 1]), right - left, self._y(edges[i]) - self._y(edges[i + 1]))
            if box.height() > 14:
                grey = int(greys[i])
                painter.setPen(QColor("black") if grey > 118 else QColor("white"))
                painter.drawText(
                    box.adjusted(0, 0, -5, 0),
                    Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                    f"{sum(m.share for m in self._plan.masses if m.step == i):.0%}",
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
        if self.divides:
            self._paint_division(painter, left, right)

    def _greys(self) -> np.ndarray:
        """Grey of each band: that of the larger mass of its value."""
        assert self._plan is not None
        steps = range(len(self._cuts) + 1)
        mine = [max((m for m in self._plan.masses if m.step == i), key=lambda m: m.share, default=None) for i in steps]
        return np.array([grey_of_value(m.value) if m is not None else 119 for m in mine], np.uint8)

    def _paint_division(self, painter: QPainter, left: float, right: float) -> None:
        """A double line across, with a tongue on the left: above it light, below it shadow."""
        at = self.division_handle()
        ink = theme.colour("accent") if self.hasFocus() else theme.colour("on_surround")
        for off in (-2, 2):
            painter.setPen(QPen(ink, 1.2))
            painter.drawLine(QPointF(left, at.y() + off), QPointF(right, at.y() + off))
        painter.setBrush(ink)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawPolygon(QPolygonF([at + QPointF(-6, -8), at + QPointF(6, 0), at + QPointF(-6, 8)]))
        painter.setPen(ink)
        painter.setFont(theme.face(8))
        for words, off in (("light", -17), ("shadow", 4)):
            painter.drawText(QRectF(left + 8, at.y() + off, 60, 13), Qt.AlignmentFlag.AlignLeft, words)

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
        active = index == self.chosen and not self.divides and (self.hasFocus() or self._held is not None)
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
        if self._is_locked(self._cuts[index]):  # a bar through the line: it stays
            painter.drawRect(QRectF(left, y - 3.5, 12, 7))
        painter.setPen(theme.colour("surround"))
        painter.setFont(theme.face(7.5, bold=True))
        painter.drawText(
            QRectF(right + 4, y - 8, 20, 16), Qt.AlignmentFlag.AlignCenter, numbers.value(self._cuts[index])
        )
