"""What to squeeze out: a ribbon per tube, as long as its amount."""

from collections.abc import Sequence

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from ochre_stone.core.colour.spaces import Lab
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.shapes import paint_colour, ribbon
from ochre_stone.desktop.widgets.theme import sized
from ochre_stone.export.tables import ribbon_words

_ROW, _NAMES, _FIGURES = 21, 112, 96


class AmountsView(QWidget):
    """Tubes by amount, the most first."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName("To squeeze out")
        self.rows: list[tuple[str, Lab, float]] = []

    def show_rows(self, rows: Sequence[tuple[str, Lab, float]]) -> None:
        """Name, colour and millilitres of each tube."""
        self.rows = list(rows)
        self.setAccessibleDescription("; ".join(f"{name}: {ribbon_words(ml)}" for name, _, ml in self.rows))
        self.setFixedHeight(self.sizeHint().height())
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(300, sized(_ROW) * len(self.rows) + 2)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        most = max((ml for _, _, ml in self.rows), default=1.0)
        room = self.width() - sized(_NAMES) - sized(_FIGURES)
        painter.setFont(theme.face(10))
        metrics = QFontMetricsF(painter.font())
        ground = QRectF(sized(_NAMES) - 4, 0, room + 8, sized(_ROW) * len(self.rows))
        painter.fillRect(ground, theme.colour("surround"))
        painter.setPen(theme.colour("text"))
        for k, (name, lab, ml) in enumerate(self.rows):
            top = float(k * sized(_ROW))
            flags = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
            words = metrics.elidedText(name, Qt.TextElideMode.ElideRight, sized(_NAMES) - 10)
            painter.drawText(QRectF(0, top, sized(_NAMES) - 8, sized(_ROW)), flags, words)
            long = 10 + (room - 10) * (ml / most) ** 0.5  # the root: a touch stays to be seen beside a long ribbon
            painter.fillPath(ribbon(QRectF(sized(_NAMES), top + 6, long, 10)), paint_colour(lab))
            right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
            painter.drawText(
                QRectF(self.width() - sized(_FIGURES), top, sized(_FIGURES), sized(_ROW)), right, ribbon_words(ml)
            )
