"""A test card of grey steps: does this screen show what it should?"""

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QDialog, QVBoxLayout, QWidget

from ochre_stone.core.colour.munsell import lightness_of_value
from ochre_stone.desktop.session import display, numbers
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.parts import Words, button
from ochre_stone.desktop.widgets.shapes import ink_on, paint_colour

_PAIRS = ((0.0, 0.35), (0.5, 0.9), (1.0, 1.4), (9.0, 9.2), (9.4, 9.6), (9.7, 9.9))
"""Munsell values of near pairs: a good screen in a dim room shows every inner square."""


class GreySteps(QWidget):
    """Eleven steps from black to white that touch, a smooth run, and near pairs of the darkest and lightest."""

    def __init__(self) -> None:
        super().__init__()
        self.setMinimumSize(QSize(760, 300))
        self.setAccessibleName("Grey steps from black to white, and squares within squares near both ends")

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.colour("surround"))
        wide = self.width() / 11
        painter.setFont(theme.face(10, bold=True))
        for v in range(11):
            grey = (float(lightness_of_value(v)), 0.0, 0.0)
            box = QRectF(round(v * wide), 0, round((v + 1) * wide) - round(v * wide), 120)
            painter.fillRect(box, paint_colour(grey))
            painter.setPen(ink_on(grey))
            painter.drawText(
                box.adjusted(0, 0, 0, -8),
                Qt.AlignmentFlag.AlignBottom | Qt.AlignmentFlag.AlignHCenter,
                numbers.short(float(v)),
            )
        for i in range(self.width()):
            grey = (float(lightness_of_value(10 * i / self.width())), 0.0, 0.0)
            painter.fillRect(QRectF(i, 130, 1.5, 40), paint_colour(grey))
        side = self.width() / len(_PAIRS)
        for i, (outer, inner) in enumerate(_PAIRS):
            box = QRectF(round(i * side), 182, round((i + 1) * side) - round(i * side), self.height() - 182)
            painter.fillRect(box, paint_colour((float(lightness_of_value(outer)), 0.0, 0.0)))
            small = box.adjusted(box.width() * 0.33, 26, -box.width() * 0.33, -26)
            painter.fillRect(small, paint_colour((float(lightness_of_value(inner)), 0.0, 0.0)))


class TestCard(QDialog):
    """The steps, and what to look for."""

    __test__ = False

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        theme.style(self)
        self.setWindowTitle("Test card of greys")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        rows = QVBoxLayout(self)
        rows.addWidget(GreySteps())
        words = Words(
            "Every step should differ from the next by as much as the eye sees, none should look coloured, and in each "
            "of the six squares below you should just see the inner one. If the dark ones are lost, dim the room or "
            "raise the screen's black; if the light ones are lost, lower its contrast.\n" + display.details()
        )
        words.setWordWrap(True)
        rows.addWidget(words)
        close = button("Close")
        close.clicked.connect(self.accept)
        rows.addWidget(close, alignment=Qt.AlignmentFlag.AlignRight)
