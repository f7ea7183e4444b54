"""The same string built two ways: its piles under each other, touching, target between them."""

from collections.abc import Sequence

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from ochre_stone.core.mixing.strings.targets import Pile
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.touching import across, captions

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
        painter.setFont(theme.face(8.5, bold=True))
        goals = [p.target.lab for p in first]
        mixed = [[p.recipe.lab for p in piles] for piles in (first, second)]
        for row, labs in enumerate((mixed[0], goals, mixed[1])):
            boxes = across(painter, QRectF(8, _LINE + 2 + row * _BAND, self.width() - 16, _BAND), labs)
            if row == 1:
                captions(painter, boxes, goals, [numbers.short(p.target.value) for p in first])
