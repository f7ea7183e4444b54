"""Lighter and darker side by side: one row per way, the pile as it is touching what comes of it."""

from collections.abc import Sequence

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.mixing.technique.lighter import Move
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.parts import set_tip
from ochre_stone.desktop.widgets.shapes import halves, pile
from ochre_stone.desktop.widgets.theme import sized

_ROW, _WIDE = 34, 62


class MovesView(QWidget):
    """Ways, from the top."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._before: Lab = (50.0, 0.0, 0.0)
        self._rows: list[tuple[Move, str]] = []
        self.setAccessibleName("Ways lighter or darker")

    def show_moves(self, before: Lab, moves: Sequence[Move], does: Sequence[str]) -> None:
        """Ways from a colour, and what each does in words."""
        self._before, self._rows = before, list(zip(moves, does, strict=True))
        said = [f"with {m.kind}: {m.words}; {words}" for m, words in self._rows]
        self.setAccessibleDescription("; ".join(said) or "no way of this palette gets there")
        set_tip(self, "\n".join(said))
        self.setFixedHeight(self.sizeHint().height())
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(300, sized(_ROW) * max(len(self._rows), 1) + 2)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        high, wide = sized(_ROW), sized(_WIDE)
        if not self._rows:
            painter.setPen(theme.colour("quiet"))
            painter.setFont(theme.face(9.5))
            painter.drawText(
                QRectF(0, 0, self.width(), high), Qt.AlignmentFlag.AlignVCenter, "No tube of this palette gets there."
            )
        for n, (m, words) in enumerate(self._rows):
            y = 1.0 + n * high
            painter.fillRect(QRectF(0, y, wide, high - 2), theme.colour("surround"))
            halves(painter, pile(f"{m.kind}{n}", QRectF(7, y + 3, wide - 14, high - 8)), self._before, m.lab)
            room = self.width() - wide - 10.0
            painter.setFont(theme.face(10, bold=True))
            painter.setPen(theme.colour("text"))
            first = QFontMetricsF(painter.font()).elidedText(m.words, Qt.TextElideMode.ElideRight, room)
            painter.drawText(QRectF(wide + 8, y, room, high / 2), Qt.AlignmentFlag.AlignBottom, first)
            painter.setFont(theme.face(9))
            painter.setPen(theme.colour("quiet"))
            second = f"{m.kind}: {words}"
            second = QFontMetricsF(painter.font()).elidedText(second, Qt.TextElideMode.ElideRight, room)
            painter.drawText(QRectF(wide + 8, y + high / 2, room, high / 2), Qt.AlignmentFlag.AlignTop, second)
