"""A spectrum as a curve: how much of each wavelength a spot gives back."""

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import WAVELENGTHS, Lab
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.shapes import paint_colour

_WORDS = ((430, "blue"), (530, "green"), (580, "yellow"), (640, "red"))


class SpectrumView(QWidget):
    """The curve on neutral grey, its colour beside it."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setMinimumHeight(110)
        self._spectrum: tuple[float, ...] = ()
        self._lab: Lab | None = None

    def show_spectrum(self, spectrum: Sequence[float], lab: Lab) -> None:
        """36 reflectances, or none where the reader gives no spectrum."""
        self._spectrum, self._lab = tuple(spectrum), lab
        peak = ""
        if self._spectrum:
            at = max(range(len(self._spectrum)), key=lambda i: self._spectrum[i])
            peak = f", strongest at {WAVELENGTHS[at]:.0f} nm"
        self.setAccessibleName(f"spectrum of {read(lab).name}{peak}")
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(300, 110)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surround"))
        if self._lab is None:
            return
        painter.fillRect(QRectF(0, 0, 26, self.height()), paint_colour(self._lab))
        box = QRectF(self.rect()).adjusted(70, 12, -12, -22)
        painter.setPen(theme.colour("on_surround"))
        painter.setFont(theme.face(8))
        if not self._spectrum:
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, "this reader gives no spectrum")
            return
        top = max(1.0, max(self._spectrum))
        for share in (0.0, 0.5, 1.0):
            y = box.bottom() - share / top * box.height()
            painter.drawText(
                QRectF(28, y - 7, 36, 14), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, f"{share:.0%}"
            )
            painter.drawLine(QPointF(box.left() - 3, y), QPointF(box.left(), y))
        low, high = float(WAVELENGTHS[0]), float(WAVELENGTHS[-1])
        for wave, word in _WORDS:
            x = box.left() + (wave - low) / (high - low) * box.width()
            painter.drawText(QRectF(x - 30, box.bottom() + 3, 60, 14), Qt.AlignmentFlag.AlignCenter, word)
        painter.drawLine(box.bottomLeft(), box.bottomRight())
        path = QPainterPath()
        for i, v in enumerate(self._spectrum):
            x = box.left() + (float(WAVELENGTHS[i]) - low) / (high - low) * box.width()
            at = QPointF(x, box.bottom() - v / top * box.height())
            path.lineTo(at) if i else path.moveTo(at)
        painter.setPen(QPen(theme.colour("on_surround"), 2))
        painter.drawPath(path)
