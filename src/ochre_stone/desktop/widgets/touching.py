"""Colours in a row, each touching the next, with captions on them: how they are drawn, wherever they are."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import pairwise

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from ochre_stone.core.colour.spaces import Lab
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.parts import set_tip
from ochre_stone.desktop.widgets.shapes import ink_on, paint_colour

_ROOM_FOR_MORE = 76


@dataclass(frozen=True)
class Block:
    """One colour of a row."""

    lab: Lab
    words: str = ""
    """In its middle."""
    under: str = ""
    """Below them, smaller."""
    more: str = ""
    """Behind them, where there is room."""
    share: float = 1.0
    """Its width against the others'."""


def across(painter: QPainter, box: QRectF, labs: Sequence[Lab], shares: Sequence[float] = ()) -> list[QRectF]:
    """Fill a box with colours from left to right, no gap, and return the boxes; each as wide as its share."""
    wide = list(shares) or [1.0] * len(labs)
    whole, run = sum(wide), 0.0
    edges = [round(box.left())]
    for share in wide:
        run += share
        edges.append(round(box.left() + box.width() * run / whole))
    boxes = [QRectF(left, box.top(), right - left, box.height()) for left, right in pairwise(edges)]
    for lab, place in zip(labs, boxes, strict=True):
        painter.fillRect(place, paint_colour(lab))
    return boxes


def captions(painter: QPainter, boxes: Iterable[QRectF], labs: Sequence[Lab], words: Sequence[str]) -> None:
    """A word in the middle of each box, in the ink that is read on its colour."""
    for box, lab, word in zip(boxes, labs, words, strict=True):
        painter.setPen(ink_on(lab))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, word)


class TouchingRow(QWidget):
    """One row, on the surround; ``high`` pixels, with so much room beside and above."""

    def __init__(self, high: int, beside: int = 8, above: int = 5, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._high, self._beside, self._above = high, beside, above
        self.setFixedHeight(high)
        self._blocks: Sequence[Block] = ()
        self._framed = False

    def show_blocks(self, blocks: Sequence[Block], said: str, tip: bool = False, framed: bool = False) -> None:
        """Show colours; ``said``: all of it in words; ``framed``: this row is the one that is chosen."""
        self._blocks, self._framed = blocks, framed
        self.setAccessibleName(said)
        if tip:
            set_tip(self, said)
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(300, self._high)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.colour("surround"))
        if not self._blocks:
            return
        box = QRectF(self.rect()).adjusted(self._beside, self._above, -self._beside, -self._above)
        boxes = across(painter, box, [b.lab for b in self._blocks], [b.share for b in self._blocks])
        for b, place in zip(self._blocks, boxes, strict=True):
            painter.setPen(ink_on(b.lab))
            painter.setFont(theme.face(9.5 if b.under else 9, bold=True))
            upper = place.adjusted(0, 5, 0, -place.height() / 2) if b.under else place
            words = f"{b.words}  {b.more}" if b.more and place.width() > _ROOM_FOR_MORE else b.words
            painter.drawText(upper, Qt.AlignmentFlag.AlignCenter, words)
            if b.under:
                painter.setFont(theme.face(8))
                lower = place.adjusted(0, place.height() / 2, 0, -5)
                painter.drawText(lower, Qt.AlignmentFlag.AlignCenter, b.under)
        if self._framed:
            painter.setPen(QPen(theme.colour("on_surround"), 2))
            painter.drawRect(QRectF(self.rect()).adjusted(2, 2, -2, -2))
