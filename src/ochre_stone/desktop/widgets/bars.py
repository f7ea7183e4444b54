"""Shares as bars of one length, each part with its word and percentage."""

from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from ochre_stone.core.colour.spaces import Lab
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.parts import set_tip
from ochre_stone.desktop.widgets.shapes import ink_on, paint_colour

_ROW, _GAP = 30.0, 6.0


@dataclass(frozen=True)
class Bar:
    """One part; without a colour it is drawn in the surround's own grey."""

    word: str
    share: float
    lab: Lab | None


class ShareBars(QWidget):
    """Rows of parts that add up to a whole."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._rows: Sequence[Sequence[Bar]] = ()
        self.setAccessibleName("Proportions of the picture")

    def show_bars(self, rows: Sequence[Sequence[Bar]]) -> None:
        """Rows of parts; shares of each add up to 1."""
        self._rows = rows
        self.setFixedHeight(round(len(rows) * (_ROW + _GAP) + _GAP))
        self.setAccessibleDescription("; ".join(", ".join(f"{b.word} {b.share:.0%}" for b in row) for row in rows))
        set_tip(self, "\n".join(", ".join(f"{b.word} {b.share:.0%}" for b in row) for row in rows))
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(300, round(3 * (_ROW + _GAP) + _GAP))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.colour("surround"))
        painter.setFont(theme.face(8.5))
        metrics = QFontMetricsF(painter.font())
        whole = self.width() - 2 * _GAP
        for k, row in enumerate(self._rows):
            left, top = _GAP, _GAP + k * (_ROW + _GAP)
            for b in row:
                box = QRectF(left, top, whole * b.share, _ROW)
                left += box.width()
                if b.lab is not None:
                    painter.fillRect(box, paint_colour(b.lab))
                    painter.setPen(ink_on(b.lab))
                else:
                    painter.setPen(QPen(theme.colour("on_surround"), 1))
                    painter.setBrush(QColor(0, 0, 0, 0))
                    painter.drawRect(box.adjusted(0.5, 0.5, -0.5, -0.5))
                if box.width() < 22:
                    continue
                inner = box.adjusted(3, 1, -3, -1)
                word = metrics.elidedText(b.word, Qt.TextElideMode.ElideRight, inner.width())
                upper, lower = QRectF(inner), QRectF(inner)
                upper.setHeight(inner.height() / 2)
                lower.setTop(upper.bottom())
                painter.drawText(upper, Qt.AlignmentFlag.AlignCenter, word if len(word) > 2 else "")
                painter.drawText(lower, Qt.AlignmentFlag.AlignCenter, f"{b.share:.0%}")
