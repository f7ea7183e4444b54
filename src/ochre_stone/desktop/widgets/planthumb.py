"""A mass plan as a small picture with its name, to be chosen among others."""

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QImage, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QWidget

from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.parts import set_tip

_CAPTION = 20


class PlanThumb(QAbstractButton):
    """Click, or press Space on it, to choose the plan."""

    def __init__(self, title: str, why: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setText(title)
        set_tip(self, f"{title}: {why}")
        self.setAccessibleName(f"Plan with {title}: {why}")
        self.setCheckable(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(QSize(92, 96))
        self._image: QImage | None = None

    def show_image(self, image: QImage) -> None:
        """The plan as it looks."""
        self._image = image
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(100, 96)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.fillRect(self.rect(), theme.colour("surround"))
        room = QRectF(self.rect()).adjusted(5, 5, -5, -_CAPTION - 2)
        if self._image is not None:
            scale = min(room.width() / self._image.width(), room.height() / self._image.height())
            w, h = self._image.width() * scale, self._image.height() * scale
            painter.drawImage(QRectF(room.center().x() - w / 2, room.center().y() - h / 2, w, h), self._image)
        painter.setPen(theme.colour("on_surround"))
        painter.setFont(theme.face(9.5, bold=self.isChecked()))
        below = QRectF(0, self.height() - _CAPTION, self.width(), _CAPTION)
        painter.drawText(below, Qt.AlignmentFlag.AlignCenter, self.text())
        if self.hasFocus() or self.isChecked():
            ink = theme.colour("accent") if self.hasFocus() else theme.colour("on_surround")
            painter.setPen(QPen(ink, 2))
            painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))
