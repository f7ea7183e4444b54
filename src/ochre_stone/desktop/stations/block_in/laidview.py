"""The picture laid in with the plan's piles: each shape is its pile's, and the pile in hand is seen alone."""

import numpy as np
from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent

from ochre_stone.core.masses.shapes import Labels, enlarge
from ochre_stone.core.picture.picture import lab_to_linear, linear_to_code
from ochre_stone.core.placing.numbers import NumberSpot, number_spots
from ochre_stone.core.planning.blockin import LaidIn
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.items import Item, Items
from ochre_stone.desktop.widgets.parts import set_tip
from ochre_stone.desktop.widgets.shapes import ink_on

_EDGE, _LINE = 14.0, 26.0
_NUMBERS_FROM = 500.0
"""Pixels across from which shapes carry their numbers."""
_GREY, _PALE = 0.25, 185.0
"""How much of a colour's lightness is left where another pile is in hand, on what grey."""


class LaidView(Items):
    """A click takes the pile of a place in hand; arrows go from pile to pile."""

    chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__("The block-in: the picture in the plan's piles")
        self.hint = ""
        self.alone = False
        """Whether only the places of the pile in hand are in colour."""
        self._marked: tuple[float, float] | None = None
        self._found: LaidIn | None = None
        self._photo: QImage | None = None
        self._large: Labels | None = None
        self._image: QImage | None = None
        self.spots: tuple[NumberSpot, ...] = ()
        self.taken.connect(self.chosen)

    def show_block_in(self, found: LaidIn | None, held: str | None) -> None:
        """A block-in and the pile in hand; None for none."""
        if found is not self._found:
            self._found, self._large = found, None
            self.spots = tuple(number_spots(found.labels, len(found.piles))) if found is not None else ()
        self.setAccessibleDescription(found.figures.words if found is not None else self.hint)
        shares = found.shares if found is not None else {}
        mine = [s.pile for s in self.spots if s.largest]
        piles = [found.piles[i][0] for i in mine] if found is not None else []
        self.set_items(
            [Item(p.id, p.name, f"{shares[p.id]:.0%}, value {numbers.value(p.target.value)}") for p in piles]
        )
        self.hold(self._first_of(held))
        self._image = None
        self.viewport_().update()

    def mark(self, place: tuple[float, float] | None) -> None:
        """Ring a place, given as shares of width and height; None for none."""
        self._marked = place
        self.viewport_().update()

    def show_photo(self, image: QImage | None) -> None:
        """The photo instead, as long as one wants to see it; None for the block-in."""
        self._photo = image
        self.viewport_().update()

    def _first_of(self, pile_id: str | None) -> str | None:
        """The pile that stands for one of its colour."""
        groups = self._found.piles if self._found is not None else ()
        return next((g[0].id for g in groups if any(p.id == pile_id for p in g)), None)

    # Where things lie

    def room(self) -> QRectF:
        """Where the picture lies, in pixels."""
        assert self._found is not None
        h, w = self._found.labels.shape
        scale = min((self.width() - 2 * _EDGE) / w, (self.height() - 2 * _EDGE - _LINE) / h)
        left, top = (self.width() - w * scale) / 2, (self.height() - _LINE - h * scale) / 2
        return QRectF(left, top, w * scale, h * scale)

    def boxes(self) -> list[QRectF]:
        if self._found is None:
            return []
        box = self.room()
        r = 11.0
        places = [(box.left() + s.x * box.width(), box.top() + s.y * box.height()) for s in self.spots if s.largest]
        return [QRectF(x - r, y - r, 2 * r, 2 * r) for x, y in places]

    def at(self, place: QPoint) -> str | None:
        """The pile of a place."""
        if self._found is None:
            return None
        box = self.room()
        if not box.contains(place.toPointF()):
            return None
        return self._found.at((place.x() - box.left()) / box.width(), (place.y() - box.top()) / box.height()).id

    def mouseMoveEvent(self, e: QMouseEvent | None) -> None:
        """What lies under the pointer is told beside it."""
        found = self.at(e.position().toPoint()) if e is not None else None
        item = next((i for i in self.items if i.id == found), None)
        set_tip(self.viewport_(), f"{item.name}: {item.state}" if item is not None else "")

    def keyPressEvent(self, e: QKeyEvent | None) -> None:
        """An arrow goes to the nearest pile that way."""
        if e is None or not self.walk(e):
            super().keyPressEvent(e)

    def resizeEvent(self, e: QResizeEvent | None) -> None:
        self._large = self._image = None
        super().resizeEvent(e)

    # Drawing

    def _drawn(self) -> QImage:
        """The picture at its size on the screen."""
        assert self._found is not None
        if self._image is not None:
            return self._image
        box, found = self.room(), self._found
        scale = self.devicePixelRatioF()
        wide, high = max(1, round(box.width() * scale)), max(1, round(box.height() * scale))
        if self._large is None:
            self._large = enlarge(found.labels, len(found.piles), wide, high)
        code = linear_to_code(lab_to_linear(found.colours.reshape(-1, 1, 3))).reshape(-1, 3)
        if self.alone and self.held is not None:
            grey = code.mean(axis=1, keepdims=True) * _GREY + _PALE
            own = [any(p.id == self.held for p in g) for g in found.piles]
            code = np.where(np.array(own)[:, None], code, grey).astype(np.uint8)
        pixels = np.ascontiguousarray(code[self._large])
        image = QImage(pixels.tobytes(), wide, high, 3 * wide, QImage.Format.Format_RGB888).copy()
        image.setDevicePixelRatio(scale)
        self._image = image
        return image

    def redraw(self) -> None:
        """Another pile is in hand, or it is seen alone now."""
        self._image = None
        self.viewport_().update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self.viewport_())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.fillRect(self.rect(), theme.colour("surround"))
        painter.setPen(theme.colour("on_surround"))
        painter.setFont(theme.face(11))
        if self._found is None:
            flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
            painter.drawText(self.rect().adjusted(30, 0, -30, 0), flags, self.hint)
            return
        box = self.room()
        if self._photo is not None:
            painter.drawImage(box, self._photo)
        else:
            painter.drawImage(box, self._drawn())
            self._paint_numbers(painter, box)
        if self._marked is not None:
            at = QPointF(box.left() + self._marked[0] * box.width(), box.top() + self._marked[1] * box.height())
            painter.setBrush(Qt.BrushStyle.NoBrush)
            for ink, wide in (("on_surround", 4.5), ("accent", 2.2)):
                painter.setPen(QPen(theme.colour(ink), wide))
                painter.drawEllipse(at, 15.0, 15.0)
        painter.setPen(theme.colour("on_surround"))
        painter.setFont(theme.face(10.5))
        below = QRectF(box.left(), box.bottom() + 4, box.width(), _LINE)
        painter.drawText(below, Qt.AlignmentFlag.AlignVCenter, f"{self._found.figures.words}.")

    def _paint_numbers(self, painter: QPainter, box: QRectF) -> None:
        """The order of mixing on each shape that has room for it."""
        assert self._found is not None
        if box.width() < _NUMBERS_FROM:
            return
        painter.setFont(theme.face(9, bold=True))
        for s in self.spots:
            pile = self._found.piles[s.pile][0]
            words = str(pile.order)
            if s.room * box.width() < 0.75 * painter.fontMetrics().height():
                continue
            if self.alone and self.held not in (None, pile.id):
                continue
            painter.setPen(ink_on(pile.recipe.lab))
            x, y = box.left() + s.x * box.width(), box.top() + s.y * box.height()
            painter.drawText(QRectF(x - 20, y - 10, 40, 20), Qt.AlignmentFlag.AlignCenter, words)
