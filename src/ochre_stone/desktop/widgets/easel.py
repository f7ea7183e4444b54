"""The easel: the picture, zoomed and moved, with the notes' marks and a tool in hand; by mouse or by keys alone.

Everything is told in pixels of the picture as it is shown (the frame); the window knows where those lie in the photo.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QResizeEvent, QWheelEvent
from PyQt6.QtWidgets import QWidget

from ochre_stone.desktop import theme
from ochre_stone.desktop.widgets import easelmarks as marks
from ochre_stone.desktop.widgets.easelmarks import Grid, Mark

_NEAR = 12.0  # screen pixels within which a mark is caught
_MOST_ZOOM = 24.0
_ARROWS = {
    Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1),
}  # fmt: skip


def to_image(code: npt.NDArray[np.uint8]) -> QImage:
    """A QImage that owns a copy of bytes: colour (h, w, 3), colour with cover (h, w, 4) or grey (h, w)."""
    code = np.ascontiguousarray(code)
    height, width = code.shape[:2]
    kinds = {2: QImage.Format.Format_Grayscale8, 3: QImage.Format.Format_RGB888, 4: QImage.Format.Format_RGBA8888}
    kind = kinds[2 if code.ndim == 2 else code.shape[2]]
    return QImage(code.tobytes(), width, height, code.strides[0], kind).copy()


@dataclass(frozen=True)
class Tool:
    """What clicks on the picture do: ``points`` many make a whole; 0 for an area that is closed by hand."""

    name: str
    points: int = 1
    aperture: int = 0
    """Diameter of the aperture at the pointer in picture pixels."""


class Easel(QWidget):
    """Shows an image that stands for a picture of ``full`` pixels."""

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
    files_dropped = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("surround")
        self.setMouseTracking(True)
        self.setAcceptDrops(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(QSize(200, 160))
        self.setAccessibleName("Easel: the picture")
        self.setAccessibleDescription("Arrow keys move the cross, Space or Enter clicks there, Escape puts a tool away")
        self._image: QImage | None = None
        self._cover: QImage | None = None
        self._full = (1, 1)
        self._zoom = 1.0  # against fitting
        self._centre = QPointF(0.5, 0.5)
        self._marks: tuple[Mark, ...] = ()
        self.show_marks = False
        self.marks_move = False
        self.tool: Tool | None = None
        self.points: list[QPointF] = []
        """Points of the tool so far, in picture pixels."""
        self._lasso = False
        self.flip = False
        """Shown mirrored."""
        self.isolate = False
        self.grid: Grid | None = None
        self.cut: QRectF | None = None
        """A cut to be moved and sized, in picture pixels."""
        self.cut_aspect: float | None = None
        self._cut_grip: str = ""
        self._pointer: QPointF | None = None
        self._by_key = False
        self._shows_focus = False
        self._pressed: QPointF | None = None
        self._panned = False
        self._held: str | None = None
        self._labels: Sequence[tuple[float, float, str, bool]] = ()
        self.hint = ""

    # What is shown

    def show_image(
        self, image: QImage | None, full: tuple[int, int] | None = None, cover: QImage | None = None
    ) -> None:
        """Show ``image`` for a picture of ``full`` (width, height) pixels; zoom and place stay for the same picture.

        ``cover`` lies over it, see-through where nothing is to be shown.
        """
        if full is not None and full != self._full:
            self._full = full
            self.points.clear()
            self.fit()
        self._image, self._cover = image, cover
        self.update()

    def show_marks_of(self, shown: tuple[Mark, ...]) -> None:
        """The notes' marks."""
        self._marks = shown
        self.update()

    def show_labels(self, labels: Sequence[tuple[float, float, str, bool]]) -> None:
        """Words on the picture: x and y as shares, the word, and whether it stands on a dark ground."""
        self._labels = labels
        self.update()

    def take(self, tool: Tool | None) -> None:
        """Take a tool in hand, or none."""
        if tool is None or self.tool is None or tool.name != self.tool.name:
            self.points.clear()
            self._lasso = False
        self.tool = tool
        self.update()

    def set_cut(self, cut: QRectF | None, aspect: float | None = None) -> None:
        """Show a cut to be moved and sized; ``aspect`` (width / height) is kept."""
        self.cut, self.cut_aspect = cut, aspect
        self.update()

    def fit(self) -> None:
        """The whole picture."""
        self._zoom, self._centre = 1.0, QPointF(0.5, 0.5)
        self.update()

    def zoom_by(self, factor: float, at: QPointF | None = None) -> None:
        """Zoom about a place of the widget (its middle by default)."""
        at = at or QPointF(self.width() / 2, self.height() / 2)
        fixed = self._to_share(at)
        self._zoom = min(max(self._zoom * factor, 1.0), _MOST_ZOOM)
        box = self._box()
        moved = QPointF(box.left() + fixed.x() * box.width(), box.top() + fixed.y() * box.height())
        self._centre += QPointF((moved.x() - at.x()) / box.width(), (moved.y() - at.y()) / box.height())
        self._keep_inside()
        self.update()

    # Geometry

    def _box(self) -> QRectF:
        """Where the whole picture lies in the widget."""
        margin = 14
        room_w, room_h = max(self.width() - 2 * margin, 10), max(self.height() - 2 * margin, 10)
        scale = min(room_w / self._full[0], room_h / self._full[1]) * self._zoom
        w, h = self._full[0] * scale, self._full[1] * scale
        x = self.width() / 2 - self._centre.x() * w
        y = self.height() / 2 - self._centre.y() * h
        return QRectF(x, y, w, h)

    def scale(self) -> float:
        """Screen pixels per picture pixel."""
        return self._box().width() / self._full[0]

    def _keep_inside(self) -> None:
        half = 0.5 / self._zoom
        self._centre.setX(min(max(self._centre.x(), half), 1 - half))
        self._centre.setY(min(max(self._centre.y(), half), 1 - half))

    def _to_share(self, at: QPointF) -> QPointF:
        """Share of the shown image, as it lies on the screen."""
        box = self._box()
        return QPointF((at.x() - box.left()) / box.width(), (at.y() - box.top()) / box.height())

    def to_picture(self, at: QPointF) -> tuple[float, float] | None:
        """Picture pixels of a place of the widget, None outside the picture."""
        share = self._to_share(at)
        if not (0 <= share.x() < 1 and 0 <= share.y() < 1):
            return None
        x = 1 - share.x() if self.flip else share.x()
        return min(x * self._full[0], self._full[0] - 1e-3), share.y() * self._full[1]

    def to_widget(self, x: float, y: float) -> QPointF:
        """Place in the widget of a picture pixel."""
        box = self._box()
        share = x / self._full[0]
        if self.flip:
            share = 1 - share
        return QPointF(box.left() + share * box.width(), box.top() + y / self._full[1] * box.height())

    def pointed(self) -> tuple[float, float] | None:
        """Picture pixels under the pointer or the cross, None where neither is on the picture."""
        return self.to_picture(self._pointer) if self._pointer is not None else None

    def _clamped(self, at: QPointF) -> QPointF:
        box = self._box()
        return QPointF(
            min(max(at.x(), box.left()), box.right() - 0.01), min(max(at.y(), box.top()), box.bottom() - 0.01)
        )

    def _mark_at(self, at: QPointF) -> str | None:
        if not self.show_marks:
            return None
        near = [(d.x() ** 2 + d.y() ** 2, m.id) for m in self._marks for d in [self.to_widget(m.x, m.y) - at]]
        return min(near)[1] if near and min(near)[0] < _NEAR**2 else None

    def _cut_box(self) -> QRectF:
        assert self.cut is not None
        return QRectF(
            self.to_widget(self.cut.left(), self.cut.top()), self.to_widget(self.cut.right(), self.cut.bottom())
        ).normalized()

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
                box = self._box()
                self._centre -= QPointF(step.x() / box.width(), step.y() / box.height())
                self._keep_inside()
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
        return self.tool is not None and self.tool.name in ("line", "area", "level") and not self._panned

    def _draw_along(self, at: QPointF) -> None:
        assert self._pressed is not None
        spot = self.to_picture(self._clamped(at))
        if spot is None:
            return
        if not self._lasso and len(self.points) <= 1:
            first = self.to_picture(self._clamped(self._pressed))
            self.points = [QPointF(*first)] if first else []
            self._lasso = True
        if self._lasso and self.tool is not None and self.tool.name == "area":
            last = self.to_widget(self.points[-1].x(), self.points[-1].y())
            if (last - at).manhattanLength() > 4 and len(self.points) < 390:
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
        if self.tool.name != "area":
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
        if len(self.points) == self.tool.points:
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
            cut = marks.sized(cut, grip, dx, dy, self.cut_aspect)
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

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._keep_inside()

    def dragEnterEvent(self, event: object) -> None:
        if event.mimeData().hasUrls():  # type: ignore[attr-defined]
            event.acceptProposedAction()  # type: ignore[attr-defined]

    def dropEvent(self, event: object) -> None:
        urls = event.mimeData().urls()  # type: ignore[attr-defined]
        if urls and urls[0].isLocalFile():
            self.files_dropped.emit(urls[0].toLocalFile())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.colour("surround"))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self._image is None:
            painter.setPen(theme.colour("on_surround"))
            painter.setFont(theme.face(13))
            painter.drawText(
                self.rect().adjusted(40, 40, -40, -40),
                Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap,
                self.hint,
            )
            return
        box = self._box()
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, box.width() / self._image.width() < 4)
        painter.drawImage(box, self._image)
        if self._cover is not None:
            painter.drawImage(box, self._cover)
        if self.grid is not None:
            marks.paint_grid(painter, box, self.grid, self.flip)
        marks.paint_labels(painter, box, self._labels)
        alone = self.isolate and self._pointer is not None and self.cut is None
        if self.show_marks and not alone:
            for m in self._marks:
                at, radius = self.to_widget(m.x, m.y), m.radius * self.scale()
                if m.id == self._held and self._panned and self._pointer is not None:
                    at = self._pointer
                area = [self.to_widget(x, y) for x, y in m.area]
                marks.paint_mark(painter, m, at, max(radius, 5), area)
        if self.cut is not None:
            marks.paint_cut(painter, self.rect(), self._cut_box(), self.hasFocus())
        self._paint_tool(painter, alone)
        if self.hasFocus() and self._shows_focus:
            marks.paint_focus(painter, self.rect())

    def _paint_tool(self, painter: QPainter, alone: bool) -> None:
        pointer = self._pointer
        points = [self.to_widget(p.x(), p.y()) for p in self.points]
        inside = pointer is not None and self.to_picture(pointer) is not None
        aperture = self.tool.aperture if self.tool is not None else 0
        radius = max(aperture * self.scale() / 2, 2.0)
        if alone and pointer is not None:
            marks.paint_card(painter, self.rect(), pointer, max(radius, 14.0))
        if points and self.tool is not None:
            closed = self.tool.points == 0 or self.tool.name in ("corners", "chart")
            ahead = pointer if inside and pointer is not None and not self._lasso else None
            if self._lasso and self.tool.name != "area":
                ahead = pointer
            marks.paint_stroke(painter, points, ahead, closed)
        if pointer is None or not inside or self._held is not None or self.cut is not None:
            return
        if aperture and not alone:
            marks.ring(painter, pointer, radius, False)
        if self._by_key or (self.tool is not None and self.tool.points != 1):
            marks.paint_cross(painter, pointer, max(radius if aperture else 0.0, 4.0))
