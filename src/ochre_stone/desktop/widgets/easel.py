"""The easel: the picture, zoomed and moved, with the notes' marks; tells where it is clicked in picture pixels."""

from collections.abc import Sequence

import numpy as np
import numpy.typing as npt
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QResizeEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QWidget

from ochre_stone.core.project.document import Note
from ochre_stone.desktop import theme

_NEAR = 12.0  # screen pixels within which a mark is caught
_MOST_ZOOM = 24.0


def to_image(code: npt.NDArray[np.uint8]) -> QImage:
    """A QImage that owns a copy of sRGB bytes (h, w, 3) or grey bytes (h, w)."""
    code = np.ascontiguousarray(code)
    height, width = code.shape[:2]
    kind = QImage.Format.Format_RGB888 if code.ndim == 3 else QImage.Format.Format_Grayscale8
    return QImage(code.tobytes(), width, height, code.strides[0], kind).copy()


class Easel(QWidget):
    """Shows an image that stands for a picture of ``full`` pixels."""

    clicked = pyqtSignal(float, float)
    """A spot of the picture, in its own pixels."""
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
        self._image: QImage | None = None
        self._full = (1, 1)
        self._zoom = 1.0  # against fitting
        self._centre = QPointF(0.5, 0.5)
        self._marks: tuple[Note, ...] = ()
        self._chosen: str | None = None
        self.show_marks = False
        self.marks_move = False
        self.aperture = 0
        """Diameter of the aperture at the pointer in picture pixels; 0 for none."""
        self._pointer: QPointF | None = None
        self._pressed: QPointF | None = None
        self._panned = False
        self._held: str | None = None
        self._labels: Sequence[tuple[float, float, str, bool]] = ()
        self.hint = ""

    # What is shown

    def show_image(self, image: QImage | None, full: tuple[int, int] | None = None) -> None:
        """Show ``image`` for a picture of ``full`` (width, height) pixels; zoom and place stay for the same picture."""
        if full is not None and full != self._full:
            self._full = full
            self.fit()
        self._image = image
        self.update()

    def show_notes(self, notes: tuple[Note, ...], chosen: str | None) -> None:
        self._marks, self._chosen = notes, chosen
        self.update()

    def show_labels(self, labels: Sequence[tuple[float, float, str, bool]]) -> None:
        """Words on the picture: x and y as shares, the word, and whether it stands on a dark ground."""
        self._labels = labels
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

    def _keep_inside(self) -> None:
        half = 0.5 / self._zoom
        self._centre.setX(min(max(self._centre.x(), half), 1 - half))
        self._centre.setY(min(max(self._centre.y(), half), 1 - half))

    def _to_share(self, at: QPointF) -> QPointF:
        box = self._box()
        return QPointF((at.x() - box.left()) / box.width(), (at.y() - box.top()) / box.height())

    def to_picture(self, at: QPointF) -> tuple[float, float] | None:
        """Picture pixels of a place of the widget, None outside the picture."""
        share = self._to_share(at)
        if not (0 <= share.x() < 1 and 0 <= share.y() < 1):
            return None
        return share.x() * self._full[0], share.y() * self._full[1]

    def to_widget(self, x: float, y: float) -> QPointF:
        """Place in the widget of a picture pixel."""
        box = self._box()
        return QPointF(box.left() + x / self._full[0] * box.width(), box.top() + y / self._full[1] * box.height())

    def _mark_at(self, at: QPointF) -> str | None:
        if not self.show_marks:
            return None
        near = [(d.x() ** 2 + d.y() ** 2, n.id) for n in self._marks for d in [self.to_widget(n.x, n.y) - at]]
        return min(near)[1] if near and min(near)[0] < _NEAR**2 else None

    # Events

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.button() in (Qt.MouseButton.LeftButton, Qt.MouseButton.MiddleButton):
            self._pressed, self._panned = event.position(), event.button() == Qt.MouseButton.MiddleButton
            self._held = self._mark_at(event.position()) if self.marks_move else None
            if self._held is not None:
                self.mark_chosen.emit(self._held)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        at = event.position()
        if self._pressed is not None:
            step = at - self._pressed
            far = step.manhattanLength() > 5
            if self._held is not None and (far or self._panned):
                self._panned = True
            elif far or self._panned:
                box = self._box()
                self._centre -= QPointF(step.x() / box.width(), step.y() / box.height())
                self._keep_inside()
                self._pressed, self._panned = at, True
        self._pointer = at
        spot = self.to_picture(at)
        if spot is not None:
            self.hovered.emit(*spot)
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._pressed is None:
            return
        moved, held = self._panned, self._held
        self._pressed, self._panned, self._held = None, False, None
        spot = self.to_picture(event.position())
        if held is not None:
            if moved and spot is not None:
                self.mark_moved.emit(held, *spot)
        elif not moved and spot is not None and event.button() == Qt.MouseButton.LeftButton:
            self.clicked.emit(*spot)
        self.update()

    def leaveEvent(self, event: object) -> None:
        self._pointer = None
        self.update()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None:
            self.zoom_by(1.0015 ** event.angleDelta().y(), event.position())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        step = 0.08 / self._zoom
        moves = {
            Qt.Key.Key_Left: (-step, 0),
            Qt.Key.Key_Right: (step, 0),
            Qt.Key.Key_Up: (0, -step),
            Qt.Key.Key_Down: (0, step),
        }
        if event.key() in moves:
            self._centre += QPointF(*moves[Qt.Key(event.key())])
            self._keep_inside()
            self.update()
        else:
            super().keyPressEvent(event)

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
        self._paint_labels(painter, box)
        if self.show_marks:
            for n in self._marks:
                self._paint_mark(painter, n, box)
        self._paint_aperture(painter, box)

    def _paint_labels(self, painter: QPainter, box: QRectF) -> None:
        painter.setFont(theme.face(13, bold=True))
        for x, y, word, dark in self._labels:
            painter.setPen(QColor("white") if dark else QColor("black"))
            at = QPointF(box.left() + x * box.width(), box.top() + y * box.height())
            painter.drawText(QRectF(at.x() - 30, at.y() - 14, 60, 28), Qt.AlignmentFlag.AlignCenter, word)

    def _ring(self, painter: QPainter, at: QPointF, radius: float, chosen: bool) -> None:
        """A ring that shows on any ground: dark outside, light inside; thicker for the note in hand."""
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(0, 0, 0, 190), 3.5 if chosen else 2.2))
        painter.drawEllipse(at, radius + 1, radius + 1)
        painter.setPen(QPen(QColor(255, 255, 255), 2.2 if chosen else 1.2))
        painter.drawEllipse(at, radius, radius)

    def _paint_mark(self, painter: QPainter, note: Note, box: QRectF) -> None:
        at = self.to_widget(note.x, note.y)
        if note.id == self._held and self._panned and self._pointer is not None:
            at = self._pointer
        radius = max(note.aperture / self._full[0] * box.width() / 2, 5)
        chosen = note.id == self._chosen
        self._ring(painter, at, radius, chosen)
        if chosen:
            reach = radius + 9
            for dx, dy in ((1, 0), (-1, 0), (0, 1), (0, -1)):
                painter.setPen(QPen(QColor(0, 0, 0, 190), 3.5))
                painter.drawLine(at + QPointF(dx, dy) * (radius + 3), at + QPointF(dx, dy) * reach)
                painter.setPen(QPen(QColor(255, 255, 255), 1.6))
                painter.drawLine(at + QPointF(dx, dy) * (radius + 3), at + QPointF(dx, dy) * reach)

    def _paint_aperture(self, painter: QPainter, box: QRectF) -> None:
        if self.aperture and self._pointer is not None and self._held is None and self.to_picture(self._pointer):
            self._ring(painter, self._pointer, max(self.aperture / self._full[0] * box.width() / 2, 2), False)
