"""The palette laid out: piles where they go on its real size and surface."""

from collections.abc import Mapping

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter, QPaintEvent, QPen

from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.mixing.session.layout import Board
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.items import Item, Items, toward_key
from ochre_stone.desktop.widgets.shapes import dab, ink_on, paint_colour, pile, stacked
from ochre_stone.desktop.widgets.swatch import SURFACES

_NAME_ROOM, _NAME_LEAST, _NAME_HIGH = 96.0, 34.0, 17.0
"""Pixels for a name under its pile, at most and at least, and its line."""


class BoardView(Items):
    """A palette from above; one pile is in hand."""

    chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__("Palette laid out")
        self._board: Board | None = None
        self._labs: Mapping[str, Lab] = {}
        self._names: Mapping[str, str] = {}
        self._wet: Mapping[str, Lab] = {}
        self._selected: str | None = None
        self.surface = "grey"
        self.hint = ""
        self.taken.connect(self.chosen)

    def show_board(
        self,
        board: Board | None,
        labs: Mapping[str, Lab],
        names: Mapping[str, str],
        selected: str | None,
        wet: Mapping[str, Lab] | None = None,
    ) -> None:
        """A layout, the colours and names of what lies on it; ``wet``: of piles that look another way wet."""
        self._wet = wet or {}
        self._board, self._labs, self._names, self._selected = board, labs, names, selected
        self.setAccessibleDescription(board.words if board is not None else self.hint)
        spots = board.spots if board is not None else ()
        self.set_items([Item(p.id, names[p.id], f"value {numbers.value(read(labs[p.id]).value)}") for p in spots])
        self.hold(selected)

    def boxes(self) -> list[QRectF]:
        spots = self._board.spots if self._board is not None else ()
        return [self.box(p.id).adjusted(-4, -4, 4, 4) for p in spots]

    def keyPressEvent(self, e: QKeyEvent | None) -> None:
        """An arrow goes to the nearest pile that way."""
        away = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
        if e is None or Qt.Key(e.key()) not in away or not self.items:
            super().keyPressEvent(e)
            return
        found = toward_key(self.boxes(), self.row_of(self.held), *away[Qt.Key(e.key())])
        self.take(self.items[found].id)

    def _scale(self) -> tuple[float, float, float]:
        """Pixels per centimetre, and where the palette begins."""
        assert self._board is not None
        s = min((self.width() - 32) / self._board.width, (self.height() - 32) / self._board.height)
        return s, (self.width() - s * self._board.width) / 2, (self.height() - s * self._board.height) / 2

    def box(self, spot_id: str) -> QRectF:
        """Where something lies, in pixels."""
        assert self._board is not None
        s, left, top = self._scale()
        spot = next(p for p in (*self._board.spots, *self._board.dabs) if p.id == spot_id)
        r = spot.radius * s
        return QRectF(left + spot.x * s - r, top + spot.y * s - r, 2 * r, 2 * r)

    def _name_room(self, box: QRectF) -> float:
        """How wide a name under a pile may be: no name runs into another, nor into a pile beside it."""
        free = [_NAME_ROOM]
        for other in self.boxes():
            dx, dy = abs(other.center().x() - box.center().x()), other.center().y() - box.center().y()
            if dx > 1 and abs(other.bottom() - box.bottom()) < _NAME_HIGH:
                free.append(dx - 4)
            elif dx > 1 and 0 < dy < box.height() / 2 + other.height() / 2 + _NAME_HIGH:
                free.append(2 * (dx - other.width() / 2))
        return max(min(free), _NAME_LEAST)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self.viewport_())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surround"))
        painter.setPen(theme.colour("on_surround"))
        if self._board is None:
            painter.setFont(theme.face(11))
            flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
            painter.drawText(self.rect().adjusted(30, 0, -30, 0), flags, self.hint)
            return
        s, left, top = self._scale()
        ground = SURFACES[self.surface]
        whole = QRectF(left, top, self._board.width * s, self._board.height * s)
        painter.setPen(QPen(theme.colour("on_surround"), 1))
        painter.setBrush(paint_colour(ground))
        painter.drawRoundedRect(whole, 6, 6)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for spot in self._board.dabs:
            box = self.box(spot.id)
            painter.fillPath(dab(spot.id, box), paint_colour(self._labs[spot.id]))
        for spot in self._board.spots:
            box = self.box(spot.id)
            lab = self._labs[spot.id]
            stacked(painter, pile(spot.id, box), [lab, self._wet.get(spot.id, lab)])
            if spot.id == self._selected:
                painter.setPen(QPen(theme.colour("accent"), 2.4))
                painter.drawPath(pile(spot.id, box.adjusted(-5, -5, 5, 5)))
            painter.setFont(theme.face(8.5, bold=True))
            name = self._names[spot.id]
            if painter.fontMetrics().horizontalAdvance(name) < box.width() - 6:
                painter.setPen(ink_on(lab))
                painter.drawText(box, Qt.AlignmentFlag.AlignCenter, name)
            else:
                painter.setPen(ink_on(ground))
                painter.setFont(theme.face(8))
                room = self._name_room(box)
                words = painter.fontMetrics().elidedText(name, Qt.TextElideMode.ElideRight, int(room))
                under = QRectF(box.center().x() - room / 2, box.bottom() - 1, room, 17)
                painter.drawText(under, Qt.AlignmentFlag.AlignHCenter, words)
