"""The block-in as it grows: the canvas after each pile or mass, on a neutral surround."""

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QImage, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from ochre_stone.desktop.widgets import theme


class LayView(QWidget):
    """One stage, as large as there is room."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName("The block-in as it grows")
        self._image: QImage | None = None
        self.hint = ""

    def show_image(self, pixels: NDArray[np.uint8] | None, words: str) -> None:
        """A stage, sRGB (h, w, 3), and what it is; None for nothing."""
        self._image = None
        if pixels is not None:
            h, w = pixels.shape[:2]
            self._image = QImage(
                np.ascontiguousarray(pixels).tobytes(), w, h, 3 * w, QImage.Format.Format_RGB888
            ).copy()
        self.setAccessibleDescription(words)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.fillRect(self.rect(), theme.colour("surround"))
        if self._image is None:
            painter.setPen(theme.colour("on_surround"))
            painter.setFont(theme.face(11))
            flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
            painter.drawText(self.rect().adjusted(30, 0, -30, 0), flags, self.hint)
            return
        w, h = self._image.width(), self._image.height()
        scale = min((self.width() - 28) / w, (self.height() - 28) / h)
        box = QRectF((self.width() - w * scale) / 2, (self.height() - h * scale) / 2, w * scale, h * scale)
        painter.drawImage(box, self._image)
