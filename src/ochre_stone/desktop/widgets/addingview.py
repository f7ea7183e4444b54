"""The order of adding: one row per addition, the target touching the pile as it should look by then."""

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.mixing.session.adding import Step
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.shapes import halves, pile
from ochre_stone.desktop.widgets.theme import sized

_ROW, _LINE, _CUT = 29, 21, 18
_FEW = 7
"""Up to so many additions have two lines each."""


class AddingView(QWidget):
    """Additions of one pile, from the top."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._steps: list[Step] = []
        self._target: Lab = (50.0, 0.0, 0.0)

    def show_steps(self, steps: Sequence[Step], target: Lab) -> None:
        """Additions and what they lead to."""
        self._steps, self._target = list(steps), target
        self.setAccessibleName("Order of adding")
        said = [s.said if s.act == "cut" else f"{s.said}: {s.words}" for s in self._steps]
        self.setAccessibleDescription("; ".join(said))
        self.setFixedHeight(self.sizeHint().height())
        self.update()

    @property
    def _row(self) -> int:
        """Two lines to an addition; one where there are many."""
        return sized(_ROW if sum(s.act != "cut" for s in self._steps) <= _FEW else _LINE)

    def sizeHint(self) -> QSize:
        return QSize(300, sum(self._high(s) for s in self._steps) + 4)

    def _high(self, step: Step) -> int:
        return sized(_CUT) if step.act == "cut" else self._row

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        ground, y = theme.colour("surround"), 2.0
        for n, step in enumerate(self._steps, 1):
            high = self._high(step)
            if step.act == "cut":
                painter.setPen(QPen(theme.colour("text"), 1.4, Qt.PenStyle.DashLine))
                painter.drawLine(QPointF(4, y + high / 2), QPointF(58, y + high / 2))
                painter.setFont(theme.face(9, bold=True))
                painter.drawText(QRectF(66, y, self.width() - 70, high), Qt.AlignmentFlag.AlignVCenter, step.said)
            else:
                painter.fillRect(QRectF(0, y + 1, 58, high - 2), ground)
                box = QRectF(6, y + 3, 23 if step.half else 46, high - 6)  # half of it is on the knife
                halves(painter, pile(f"{step.said}{n}", box), self._target, step.lab)
                self._paint_words(painter, step, y)
            y += high

    def _paint_words(self, painter: QPainter, step: Step, y: float) -> None:
        """What is added, in bold; under it, or behind it where rows are low, what it does."""
        high, room, words = self._row, self.width() - 70.0, step.said
        low = self._row == sized(_LINE)
        painter.setFont(theme.face(9.5 if low else 10, bold=True))
        painter.setPen(theme.colour("text"))
        metrics = QFontMetricsF(painter.font())
        if not low and metrics.horizontalAdvance(words) > room:  # what to do comes before what it does
            painter.setFont(theme.face(9, bold=True))
            both = Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextWordWrap
            painter.drawText(QRectF(66, y, room, high), both, words)
            return
        whole = metrics.elidedText(words, Qt.TextElideMode.ElideRight, room)
        top = QRectF(66, y, room, high if low else high / 2 + 2)
        painter.drawText(top, Qt.AlignmentFlag.AlignVCenter if low else Qt.AlignmentFlag.AlignBottom, whole)
        wide = metrics.horizontalAdvance(whole) + 8
        painter.setFont(theme.face(9))
        painter.setPen(theme.colour("quiet"))
        if not low:
            painter.drawText(QRectF(66, y + high / 2, room, high / 2), Qt.AlignmentFlag.AlignTop, step.words)
        elif room - wide > 30:
            said = QFontMetricsF(painter.font()).elidedText(step.words, Qt.TextElideMode.ElideRight, room - wide)
            painter.drawText(QRectF(66 + wide, y, room - wide, high), Qt.AlignmentFlag.AlignVCenter, said)
