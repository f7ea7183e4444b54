"""What can be pressed at the easel: a key as wide as there is room, with its letter and how often it was pressed."""

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QWidget

from ochre_stone.desktop.widgets import theme

_PRESSES = (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Select)


class EaselKey(QAbstractButton):
    """A button. It takes the focus by Tab alone, so that the one key that goes on keeps going on after a click; held
    by Tab, Space and Enter press it, and all other keys do what they do without."""

    def __init__(self, parent: QWidget, name: str, pixels: int, letter: str = "") -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setText(name)
        self.setAccessibleName(name)
        self._pixels, self._letter = pixels, letter
        self.degree = 0
        """How often a word was pressed, 0 to 3."""

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() not in _PRESSES:
            event.ignore()  # arrows too: they are the view's
            return
        super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(self.rect())
        painter.fillRect(box, theme.colour("accent" if self.degree else "panel"))
        ink = theme.colour("accent_text" if self.degree else "text" if self.isEnabled() else "off")
        if self.hasFocus():
            painter.setPen(QPen(ink, 2))
            painter.drawRect(box.adjusted(3, 3, -3, -3))
        face = theme.face(1, bold=True)
        face.setPixelSize(self._pixels)
        painter.setFont(face)
        painter.setPen(ink)
        words = f"{self._letter}  {self.text().removeprefix('too ')}" if self._letter else self.text()
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)
        for dot in range(self.degree):
            at = QRectF(box.center().x() + (dot - (self.degree - 1) / 2) * 16 - 6, box.bottom() - 8, 12, 4)
            painter.fillRect(at, theme.colour("accent_text"))
