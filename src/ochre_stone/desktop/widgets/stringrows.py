"""The same string built two ways: its piles under each other, touching, target between them."""

from collections.abc import Sequence

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from ochre_stone.core.mixing.strings.targets import Pile
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.shapes import ink_on, paint_colour

_LINE, _BAND = 16, 26


class StringRows(QWidget):
    """Two named rows of mixtures with their targets between them, no gap."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._rows: list[tuple[str, Sequence[Pile]]] = []

    def show_rows(self, rows: Sequence[tuple[str, Sequence[Pile]]]) -> None:
        """Two rows of piles with equal targets."""
        self._rows = list(rows)
        self.setAccessibleName(" beside ".join(name for name, _ in rows))
        self.setFixedHeight(self.sizeHint().height())
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(300, 2 * _LINE + 3 * _BAND + 8)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.colour("surround"))
        if len(self._rows) < 2:
            return
        (above, first), (below, second) = self._rows
        painter.setFont(theme.face(9, bold=True))
        painter.setPen(theme.colour("on_surround"))
        painter.drawText(QRectF(8, 2, self.width() - 16, _LINE), Qt.AlignmentFlag.AlignVCenter, above)
        bottom = QRectF(8, _LINE + 3 * _BAND + 4, self.width() - 16, _LINE)
        painter.drawText(bottom, Qt.AlignmentFlag.AlignVCenter, below)
        n = len(first)
        edges = [round(8 + (self.width() - 16) * k / n) for k in range(n + 1)]
        painter.setFont(theme.face(8.5, bold=True))
        for k, (a, b) in enumerate(zip(first, second, strict=True)):
            x, w = edges[k], edges[k + 1] - edges[k]
            for row, lab in enumerate((a.recipe.lab, a.target.lab, b.recipe.lab)):
                painter.fillRect(QRectF(x, _LINE + 2 + row * _BAND, w, _BAND), paint_colour(lab))
            painter.setPen(ink_on(a.target.lab))
            words = numbers.short(a.target.value)
            middle = QRectF(x, _LINE + 2 + _BAND, w, _BAND)
            painter.drawText(middle, Qt.AlignmentFlag.AlignCenter, words)
