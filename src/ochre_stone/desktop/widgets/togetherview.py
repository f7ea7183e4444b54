"""Parents together: what comes of them as strokes, after two turns of the knife and stirred, each touching the target;
and the mixture turned from one lean to the other."""

from collections.abc import Sequence

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.mixing.technique.together import TURNED, Together, chroma_words
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.shapes import paint_colour
from ochre_stone.desktop.widgets.theme import sized
from ochre_stone.desktop.widgets.touching import across, captions

_CELL, _WORDS, _LEAN = 58, 30, 24
NAMES = ("strokes", f"two turns, {TURNED:.0%}", "stirred")


class TogetherView(QWidget):
    """Three predictions side by side, and the leans under them."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._made: Together | None = None
        self._target: Lab = (50.0, 0.0, 0.0)
        self._leans: list[Together] = []

    def show_made(self, made: Together, target: Lab, leans: Sequence[Together]) -> None:
        """A loose mixture beside what it is for."""
        self._made, self._target, self._leans = made, target, list(leans)
        said = [f"{name}: {read(lab).name}, {chroma_words(kept)}" for name, lab, kept in self._cells(made)]
        self.setAccessibleName("Parents together")
        self.setAccessibleDescription("; ".join(said))
        self.setFixedHeight(self.sizeHint().height())
        self.update()

    def _cells(self, made: Together) -> list[tuple[str, Lab, float]]:
        labs = (made.strokes, made.turned, made.stirred)
        return list(zip(NAMES, labs, made.kept, strict=True))

    def sizeHint(self) -> QSize:
        return QSize(300, sized(_CELL) + sized(_WORDS) + sized(_LEAN) + 6)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        made = self._made
        if made is None:
            return
        high, words = sized(_CELL), sized(_WORDS)
        painter.fillRect(QRectF(0, 0, self.width(), high + 4), theme.colour("surround"))
        edges = [round(self.width() * k / 3) for k in range(4)]
        for k, (name, lab, kept) in enumerate(self._cells(made)):
            box = QRectF(edges[k] + 6, 5, edges[k + 1] - edges[k] - 12, high - 6)
            third = round(box.height() / 3)
            painter.fillRect(QRectF(box.left(), box.top(), box.width(), third), paint_colour(self._target))
            painter.fillRect(QRectF(box.left(), box.top() + third, box.width(), third), paint_colour(lab))
            low = QRectF(box.left(), box.top() + 2 * third, box.width(), box.bottom() - box.top() - 2 * third)
            self._paint_strokes(painter, low, made, (0.0, TURNED, 1.0)[k])
            painter.setPen(theme.colour("text"))
            painter.setFont(theme.face(9, bold=True))
            under = QRectF(edges[k] + 4, high + 5, edges[k + 1] - edges[k] - 6, words / 2)
            painter.drawText(under, Qt.AlignmentFlag.AlignVCenter, name)
            painter.setFont(theme.face(9))
            painter.setPen(theme.colour("quiet"))
            value = numbers.short(read(lab).value)
            painter.drawText(
                under.translated(0, words / 2), Qt.AlignmentFlag.AlignVCenter, f"{value}, {chroma_words(kept)}"
            )
        self._paint_leans(painter, high + 5.0 + words)

    def _paint_strokes(self, painter: QPainter, box: QRectF, made: Together, mixed: float) -> None:
        """Strokes of the parents as wide as their parts; what is mixed lies between them."""
        painter.save()
        painter.setClipRect(box)
        painter.fillRect(box, paint_colour(made.stirred))
        if mixed < 1:
            whole, x, turn = sum(made.parts), box.left(), 0
            while x < box.right():
                n = turn % len(made.parents)
                wide = max(30.0 * made.parts[n] / whole, 3.0)
                painter.fillRect(
                    QRectF(x, box.top(), wide * (1 - mixed), box.height()), paint_colour(made.parents[n].lab)
                )
                x, turn = x + wide, turn + 1
        painter.restore()

    def _paint_leans(self, painter: QPainter, top: float) -> None:
        """From one lean to the other, no gap."""
        labs = [lean.turned for lean in self._leans]
        boxes = across(painter, QRectF(0, top, self.width(), sized(_LEAN)), labs)
        painter.setFont(theme.face(9, bold=True))
        captions(painter, boxes, labs, [":".join(f"{p:g}" for p in lean.parts) for lean in self._leans])
