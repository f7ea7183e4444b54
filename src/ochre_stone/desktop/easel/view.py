"""The easel as it shows: the picture, zoomed and moved, with marks, grid, cut and card over it.

Everything is in pixels of the picture as it is shown (the frame); the window knows where those lie in the photo.
"""

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QImage, QPainter, QPaintEvent, QPixmap, QResizeEvent
from PyQt6.QtWidgets import QWidget

from ochre_stone.desktop.easel import marks
from ochre_stone.desktop.easel.marks import DrawnGrid, Mark
from ochre_stone.desktop.easel.tools import Tool
from ochre_stone.desktop.widgets import theme

_MOST_ZOOM = 24.0


class EaselView(QWidget):
    """Shows an image that stands for a picture of ``full`` pixels, and where places of it lie."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("surround")
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(QSize(160, 90))
        self.setAccessibleName("Easel: the picture")
        self.setAccessibleDescription("Arrow keys move the cross, Space or Enter clicks there, Escape puts a tool away")
        self._image: QImage | None = None
        self._cover: QImage | None = None
        self._kept = QPixmap()
        self._kept_of: object = None
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
        self.grid: DrawnGrid | None = None
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
        self.covered = False
        """Whether something lies over it that has the marks' place, and the hands."""
        self.below = 0
        """Pixels that are kept free for words under the picture."""
        self._photo: QImage | None = None
        self.border: float | None = None
        """Where the photo at its left meets what is shown, as a share of the width."""

    # What is shown

    def show_image(
        self,
        image: QImage | None,
        full: tuple[int, int] | None = None,
        cover: QImage | None = None,
        photo: QImage | None = None,
    ) -> None:
        """Show ``image`` for a picture of ``full`` (width, height) pixels; zoom and place stay for the same picture.

        ``cover`` lies over it, see-through where nothing is to be shown; ``photo`` is seen at the left of the border.
        """
        if full is not None and full != self._full:
            self._full = full
            self.points.clear()
            self.fit()
        self._image, self._cover, self._photo = image, cover, photo
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

    def move_by(self, step: QPointF) -> None:
        """Move the picture by so many pixels of the widget."""
        box = self._box()
        self._centre -= QPointF(step.x() / box.width(), step.y() / box.height())
        self._keep_inside()
        self.update()

    # Geometry

    def picture_box(self) -> QRectF:
        """Where the whole picture lies in the widget."""
        return self._box()

    def _box(self) -> QRectF:
        """Where the whole picture lies in the widget."""
        margin = 14 if self.height() > 240 else 4
        room_w, room_h = max(self.width() - 2 * margin, 10), max(self.height() - self.below - 2 * margin, 10)
        scale = min(room_w / self._full[0], room_h / self._full[1]) * self._zoom
        w, h = self._full[0] * scale, self._full[1] * scale
        x = self.width() / 2 - self._centre.x() * w
        y = (self.height() - self.below) / 2 - self._centre.y() * h
        return QRectF(x, y, w, h)

    def full_size(self) -> tuple[int, int]:
        """Width and height of the picture, in its own pixels."""
        return self._full

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

    def _cut_box(self) -> QRectF:
        assert self.cut is not None
        return QRectF(
            self.to_widget(self.cut.left(), self.cut.top()), self.to_widget(self.cut.right(), self.cut.bottom())
        ).normalized()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._keep_inside()

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
        painter.drawPixmap(0, 0, self._drawn(self._image, box))
        if self.grid is not None:
            marks.paint_grid(painter, box, self.grid, self.flip)
        marks.paint_labels(painter, box, self._labels)
        alone = self.isolate and self._pointer is not None and self.cut is None
        if self.show_marks and not alone and not self.covered:
            for m in self._marks:
                at, radius = self.to_widget(m.x, m.y), m.radius * self.scale()
                if m.id == self._held and self._panned and self._pointer is not None:
                    at = self._pointer
                area = [self.to_widget(x, y) for x, y in m.area]
                marks.paint_mark(painter, m, at, max(radius, 5), area)
        if self.cut is not None:
            marks.paint_cut_mark(painter, self.rect(), self._cut_box(), self.hasFocus())
        self._paint_tool(painter, alone)
        if self.hasFocus() and self._shows_focus:
            marks.paint_focus(painter, self.rect())

    def _drawn(self, image: QImage, box: QRectF) -> QPixmap:
        """The picture and its cover on the surround: kept, for the pointer moves far more often than they change."""
        cover, ratio, ground = self._cover, self.devicePixelRatioF(), theme.colour("surround")
        photo, border = self._photo, self.border
        keys = tuple(i.cacheKey() if i is not None else 0 for i in (image, cover, photo))
        made_of = (keys, border, box.getRect(), self.size(), ratio, ground.rgb())
        if made_of != self._kept_of:
            self._kept_of, self._kept = made_of, QPixmap(self.size() * ratio)
            self._kept.setDevicePixelRatio(ratio)
            self._kept.fill(ground)
            painter = QPainter(self._kept)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, box.width() / image.width() < 4)
            painter.drawImage(box, image)
            if cover is not None:
                painter.drawImage(box, cover)
            if photo is not None and border is not None:
                painter.setClipRect(QRectF(box.left(), box.top(), border * box.width(), box.height()))
                painter.drawImage(box, photo)
            painter.end()
        return self._kept

    def _paint_tool(self, painter: QPainter, alone: bool) -> None:
        pointer = self._pointer
        points = [self.to_widget(p.x(), p.y()) for p in self.points]
        inside = pointer is not None and self.to_picture(pointer) is not None
        aperture = self.tool.aperture if self.tool is not None else 0
        radius = max(aperture * self.scale() / 2, 2.0)
        if alone and pointer is not None:
            marks.paint_card(painter, self.rect(), pointer, max(radius, 14.0))
        if points and self.tool is not None:
            closed = self.tool.draws in ("area", "corners")
            ahead = pointer if inside and pointer is not None and not self._lasso else None
            if self._lasso and self.tool.draws != "area":
                ahead = pointer
            marks.paint_stroke(painter, points, ahead, closed)
        if pointer is None or not inside or self._held is not None or self.cut is not None:
            return
        if aperture and not alone:
            marks.ring(painter, pointer, radius, False)
        if self._by_key or (self.tool is not None and self.tool.points != 1):
            marks.paint_cross(painter, pointer, max(radius if aperture else 0.0, 4.0))
