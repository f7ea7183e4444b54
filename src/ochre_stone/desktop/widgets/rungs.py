"""A ladder of colours, each touching the next, with its value and where it stands."""

from collections.abc import Sequence

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.parts import plain
from ochre_stone.desktop.widgets.shapes import ink_on, paint_colour


class Rungs(QWidget):
    """Near to far, or horizon to overhead, from left to right."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedHeight(theme.sized(52))
        self._rungs: Sequence[tuple[Lab, str]] = ()
        self._chosen = False

    def show_rungs(self, rungs: Sequence[tuple[Lab, str]], chosen: bool) -> None:
        """Colours with a word each; ``chosen``: this ladder is the one that is planned."""
        self._rungs, self._chosen = rungs, chosen
        said = ", ".join(f"{word}: value {numbers.value(read(lab).value)}, {read(lab).name}" for lab, word in rungs)
        self.setAccessibleName(said)
        self.setToolTip(plain(said))
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(300, theme.sized(52))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.colour("surround"))
        if not self._rungs:
            return
        left, whole = 8, self.width() - 16
        edges = [left + round(whole * i / len(self._rungs)) for i in range(len(self._rungs) + 1)]
        painter.setFont(theme.face(8.5))
        for i, (lab, word) in enumerate(self._rungs):
            box = QRectF(edges[i], 5, edges[i + 1] - edges[i], self.height() - 10)
            painter.fillRect(box, paint_colour(lab))
            painter.setPen(ink_on(lab))
            upper = box.adjusted(0, 5, 0, -box.height() / 2)
            lower = box.adjusted(0, box.height() / 2, 0, -5)
            painter.setFont(theme.face(9.5, bold=True))
            painter.drawText(upper, Qt.AlignmentFlag.AlignCenter, numbers.value(read(lab).value))
            painter.setFont(theme.face(8))
            painter.drawText(lower, Qt.AlignmentFlag.AlignCenter, word)
        if self._chosen:
            painter.setPen(QPen(theme.colour("on_surround"), 2))
            painter.drawRect(QRectF(self.rect()).adjusted(2, 2, -2, -2))
