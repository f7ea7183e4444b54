"""A note on several surrounds, touching them."""

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.shapes import dab, paint_colour

_WORDS = 17


class SurroundSwatch(QWidget):
    """The same colour on each of several grounds, touching them."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setMinimumHeight(92)
        self._lab: Lab | None = None
        self._grounds: list[tuple[str, Lab]] = []

    def show_note(self, lab: Lab, grounds: list[tuple[str, Lab]]) -> None:
        """A colour, and the grounds with a word for each."""
        self._lab, self._grounds = lab, grounds
        self.setAccessibleName(
            f"{read(lab).name} " + ", ".join(f"{words}: {read(ground).name}" for words, ground in grounds)
        )
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(300, 92)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surround"))
        if self._lab is None or not self._grounds:
            return
        wide = self.width() / len(self._grounds)
        painter.setFont(theme.face(8.5))
        for i, (words, ground) in enumerate(self._grounds):
            box = QRectF(round(i * wide), 0, round((i + 1) * wide) - round(i * wide), self.height() - _WORDS)
            painter.fillRect(box, paint_colour(ground))
            side = min(box.width(), box.height()) * 0.44
            spot = QRectF(box.center().x() - side / 2, box.center().y() - side / 2, side, side)
            painter.fillPath(dab("surround", spot), paint_colour(self._lab))
            painter.setPen(theme.colour("on_surround"))
            painter.drawText(
                QRectF(box.left(), self.height() - _WORDS, box.width(), _WORDS), Qt.AlignmentFlag.AlignCenter, words
            )
