"""The easel in use: a tool in hand, marks and cut to be moved, by mouse or by keys alone."""

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent, QMouseEvent, QWheelEvent

from ochre_stone.desktop.easel import marks
from ochre_stone.desktop.easel.view import EaselView

_NEAR = 12.0  # screen pixels within which a mark is caught
_MOST_POINTS = 390
_ARROWS = {
    Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1),
}  # fmt: skip


class Easel(EaselView):
    """The easel with hands: what they do is told by signals, in pixels of the picture."""

    clicked = pyqtSignal(float, float)
    """A spot of the picture, while no tool of several points is in hand."""
    drawn = pyqtSignal(str, list)
    """A tool's name and its points, when they are all there."""
    tool_dropped = pyqtSignal()
    """Escape: the tool is put away."""
    cut_moved = pyqtSignal(QRectF)
    """The cut was moved or sized, in picture pixels."""
    mark_chosen = pyqtSignal(str)
    mark_moved = pyqtSignal(str, float, float)
    hovered = pyqtSignal(float, float)

    def _mark_at(self, at: QPointF) -> str | None:
        if not self.show_marks:
            return None
        near = [(d.x() ** 2 + d.y() ** 2, m.id) for m in self._marks for d in [self.to_widget(m.x, m.y) - at]]
        return min(near)[1] if near and min(near)[0] < _NEAR**2 else None

    # The mouse

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or event.button() not in (Qt.MouseButton.LeftButton, Qt.MouseButton.MiddleButton):
            return
        at = event.position()
        self._by_key = False
        self._pressed, self._panned = at, event.button() == Qt.MouseButton.MiddleButton
        if self._panned:
            return
        if self.cut is not None:
            self._cut_grip = marks.grip_at(self._cut_box(), at)
            return
        several = self.tool is not None and self.tool.points != 1
        self._held = self._mark_at(at) if self.marks_move and not self.points and not several else None
        if self._held is not None:
            self.mark_chosen.emit(self._held)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        at = event.position()
        if self._pressed is not None:
            step = at - self._pressed
            far = step.manhattanLength() > 5 or self._panned
            if self._cut_grip and self.cut is not None:
                self._drag_cut(step)
                self._pressed = at
            elif far and self._held is not None:
                self._panned = True
            elif far and self._drawing():
                self._draw_along(at)
            elif far:
                self.move_by(step)
                self._pressed, self._panned = at, True
        self._point_at(at)

    def _point_at(self, at: QPointF) -> None:
        self._pointer = at
        spot = self.to_picture(at)
        if spot is not None:
            self.hovered.emit(*spot)
        self.update()

    def _drawing(self) -> bool:
        """Whether dragging draws: a line, or an area drawn in one go."""
        return self.tool is not None and self.tool.by_dragging and not self._panned

    def _draw_along(self, at: QPointF) -> None:
        assert self._pressed is not None
        spot = self.to_picture(self._clamped(at))
        if spot is None:
            return
        if not self._lasso and len(self.points) <= 1:
            first = self.to_picture(self._clamped(self._pressed))
            self.points = [QPointF(*first)] if first else []
            self._lasso = True
        if self._lasso and self.tool is not None and self.tool.draws == "area":
            last = self.to_widget(self.points[-1].x(), self.points[-1].y())
            if (last - at).manhattanLength() > 4 and len(self.points) < _MOST_POINTS:
                self.points.append(QPointF(*spot))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._pressed is None:
            return
        moved, held, gripped = self._panned, self._held, self._cut_grip
        self._pressed, self._panned, self._held, self._cut_grip = None, False, None, ""
        spot = self.to_picture(event.position())
        if gripped or self.cut is not None:
            return
        if self._lasso:
            self._end_stroke(event.position())
        elif held is not None:
            if moved and spot is not None:
                self.mark_moved.emit(held, *spot)
        elif not moved and spot is not None and event.button() == Qt.MouseButton.LeftButton:
            self._click(QPointF(*spot))
        self.update()

    def _end_stroke(self, at: QPointF) -> None:
        self._lasso = False
        assert self.tool is not None
        if self.tool.draws != "area":
            spot = self.to_picture(self._clamped(at))
            if spot is not None:
                self._click(QPointF(*spot))
        elif len(self.points) >= 3:
            self._finish()
        else:
            self.points.clear()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        if self.tool is not None and self.tool.points == 0 and len(self.points) >= 3:
            self._finish()

    def _click(self, spot: QPointF) -> None:
        """A click of mouse or key at a place of the picture."""
        if self.tool is None or self.tool.points == 1:
            self.clicked.emit(spot.x(), spot.y())
            return
        if self.tool.points == 0 and len(self.points) >= 3:
            first, here = (self.to_widget(p.x(), p.y()) for p in (self.points[0], spot))
            if (first - here).manhattanLength() < 10:
                self._finish()
                return
        self.points.append(spot)
        if len(self.points) in (self.tool.points, _MOST_POINTS):
            self._finish()
        self.update()

    def _finish(self) -> None:
        assert self.tool is not None
        points, name = [(p.x(), p.y()) for p in self.points], self.tool.name
        self.points.clear()
        self.drawn.emit(name, points)
        self.update()

    # The cut

    def _drag_cut(self, step: QPointF) -> None:
        assert self.cut is not None
        scale = self.scale()
        dx, dy = step.x() / scale * (-1 if self.flip else 1), step.y() / scale
        cut, grip = QRectF(self.cut), self._cut_grip
        if grip == "inside":
            cut.translate(dx, dy)
        else:
            cut = marks.mark_size(cut, grip, dx, dy, self.cut_aspect)
        self._tell_cut(cut)

    def _tell_cut(self, cut: QRectF) -> None:
        if cut.width() >= 24 and cut.height() >= 24:
            self.cut_moved.emit(cut)

    # Keys

    def leaveEvent(self, event: object) -> None:
        if not self._by_key:
            self._pointer = None
            self.update()

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        # A click needs no sign of where the keys go; coming by key does.
        self._shows_focus = event is not None and event.reason() != Qt.FocusReason.MouseFocusReason
        self.update()

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        if self._by_key:
            self._by_key, self._pointer = False, None
        self.update()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None:
            event.accept()
            self.zoom_by(1.0015 ** event.angleDelta().y(), event.position())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        key = Qt.Key(event.key())
        fine = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        carry = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        if key in _ARROWS:
            dx, dy = _ARROWS[key]
            self._arrow(dx, dy, fine, carry)
        elif key in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._press_key(close=key != Qt.Key.Key_Space)
        elif key == Qt.Key.Key_Backspace and self.points:
            self.points.pop()
            self.update()
        elif key == Qt.Key.Key_Escape and (self.tool is not None or self.points):
            if self.points:
                self.points.clear()
                self.update()
            else:
                self.tool_dropped.emit()
        else:
            super().keyPressEvent(event)

    def _arrow(self, dx: int, dy: int, fine: bool, carry: bool) -> None:
        if self.cut is not None:
            self._cut_by_key(dx, dy, fine, carry)
            return
        chosen = next((m for m in self._marks if m.chosen), None)
        if carry and chosen is not None and self.marks_move:
            # The mark in hand moves by whole picture pixels, ten at a time without Shift.
            step = 1 if fine else 10
            flip = -1 if self.flip else 1
            x = min(max(chosen.x + dx * step * flip, 0.0), self._full[0] - 0.5)
            y = min(max(chosen.y + dy * step, 0.0), self._full[1] - 0.5)
            self.mark_moved.emit(chosen.id, x, y)
            return
        self._by_key = True
        step = 1 if fine else 12
        at = self._pointer or QPointF(self.width() / 2, self.height() / 2)
        at = self._clamped(QPointF(at.x() + dx * step, at.y() + dy * step))
        self._follow(at)

    def _follow(self, at: QPointF) -> None:
        """Move the cross, and the picture with it where it would leave the easel."""
        room = QRectF(self.rect()).adjusted(20, 20, -20, -20)
        over = QPointF(
            min(at.x() - room.left(), 0) + max(at.x() - room.right(), 0),
            min(at.y() - room.top(), 0) + max(at.y() - room.bottom(), 0),
        )
        box = self._box()
        before = QPointF(self._centre)
        self._centre += QPointF(over.x() / box.width(), over.y() / box.height())
        self._keep_inside()
        moved = self._centre - before
        self._point_at(QPointF(at.x() - moved.x() * box.width(), at.y() - moved.y() * box.height()))

    def _press_key(self, close: bool) -> None:
        if close and self.tool is not None and self.tool.points == 0 and len(self.points) >= 3:
            self._finish()
            return
        if self._pointer is None:
            self._by_key = True
            self._point_at(QPointF(self.width() / 2, self.height() / 2))
            return
        spot = self.to_picture(self._pointer)
        if spot is not None and self.cut is None:
            near = self._mark_at(self._pointer) if self.marks_move and not self.points else None
            if near is not None and (self.tool is None or self.tool.points == 1):
                self.mark_chosen.emit(near)
            else:
                self._click(QPointF(*spot))

    def _cut_by_key(self, dx: int, dy: int, fine: bool, size: bool) -> None:
        assert self.cut is not None
        step = max(1.0, self._full[0] * (0.002 if fine else 0.02))
        cut = QRectF(self.cut)
        if not size:
            cut.translate(dx * step * (-1 if self.flip else 1), dy * step)
        elif self.cut_aspect is not None:
            grow = step * (dx - dy)
            cut = QRectF(0, 0, cut.width() + grow, (cut.width() + grow) / self.cut_aspect)
            cut.moveCenter(self.cut.center())
        else:
            cut = QRectF(0, 0, cut.width() + dx * step, cut.height() - dy * step)
            cut.moveCenter(self.cut.center())
        self._tell_cut(cut)

    # Other events
