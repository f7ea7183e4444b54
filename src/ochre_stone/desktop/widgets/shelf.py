"""Tubes on a shelf: a ribbon of each, its tints touching, its undertone, and what painters ask of it."""

from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QPainter, QPaintEvent, QPen

from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.paint.cautions import hazards, lasts
from ochre_stone.core.paint.tubes import Tube
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.items import Item, Items
from ochre_stone.desktop.widgets.shapes import paint_colour, ribbon
from ochre_stone.desktop.widgets.theme import sized

SHELF_ROW = 50.0
_TOP = 22.0
"""Height of the line that names the tints."""
_RIBBON, _BLOCK = 58.0, 28.0
OPACITIES = {"O": "opaque", "SO": "semi-opaque", "ST": "semi-transparent", "T": "transparent"}


@dataclass(frozen=True)
class Shown:
    """One tube on the shelf."""

    tube: Tube
    right: str = ""
    """What is said at its end: stock."""


def strength_words(t: Tube) -> str:
    """Tinting strength in words; whites have none."""
    if t.is_white:
        return "white"
    s = t.tinting_strength
    return "very strong" if s >= 4 else "strong" if s >= 1.5 else "middling" if s >= 0.4 else "weak"


def label_words(t: Tube) -> str:
    """Index name, opacity, lightfastness, strength, hazards, in one line."""
    said = [t.ci, OPACITIES[t.opacity], f"lightfast {t.lightfastness}{'' if lasts(t) else ' !'}", strength_words(t)]
    return " · ".join(said + ([f"! {', '.join(hazards(t))}"] if hazards(t) else []))


def _value(t: Tube) -> str:
    return f"value {numbers.value(float(value_of_lightness(t.lab[0])))}"


class Shelf(Items):
    """A list that is drawn; up and down choose, Enter opens."""

    chosen = pyqtSignal(str)
    stepped = pyqtSignal(QRectF)
    """The row that should be seen."""

    def __init__(self) -> None:
        super().__init__("Tubes")
        self._tubes: Sequence[Shown] = ()
        self.selected: str | None = None
        self.hint = ""
        self.taken.connect(self._taken)

    def show_tubes(self, tubes: Sequence[Shown], selected: str | None) -> None:
        """Tubes from the top."""
        self._tubes, self.selected = tubes, selected
        self.setMinimumHeight(round(max(len(tubes), 1) * sized(SHELF_ROW) + sized(_TOP) + 6))
        self.setAccessibleDescription("; ".join(f"{s.tube.name}, {label_words(s.tube)}" for s in tubes[:100]))
        self.set_items([Item(s.tube.id, s.tube.name, f"{_value(s.tube)}, {label_words(s.tube)}") for s in tubes])
        self.hold(selected)

    def boxes(self) -> list[QRectF]:
        return [self.row(i) for i in range(len(self._tubes))]

    def _taken(self, tube_id: str) -> None:
        self.chosen.emit(tube_id)
        self.stepped.emit(self.row(max(self.row_of(tube_id), 0)))

    def sizeHint(self) -> QSize:
        return QSize(460, self.minimumHeight())

    def row(self, index: int) -> QRectF:
        """Where a tube lies."""
        return QRectF(6, sized(_TOP) + index * sized(SHELF_ROW), self.width() - 12, sized(SHELF_ROW))

    def _blocks(self) -> int:
        """How many steps of the tints are shown: names come first."""
        room = self.width() - sized(_RIBBON) - sized(_BLOCK) - sized(230)
        return min(max(int(room // sized(_BLOCK)), 1), 5)

    def _index(self) -> int:
        return next((i for i, s in enumerate(self._tubes) if s.tube.id == self.selected), -1)

    def _choose(self, index: int) -> None:
        if 0 <= index < len(self._tubes):
            self.take(self._tubes[index].tube.id)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        now, last = self._index(), len(self._tubes) - 1
        steps = {Qt.Key.Key_Down: now + 1, Qt.Key.Key_Up: max(now - 1, 0), Qt.Key.Key_Home: 0, Qt.Key.Key_End: last,
                 Qt.Key.Key_PageDown: now + 8, Qt.Key.Key_PageUp: max(now - 8, 0)}  # fmt: skip
        key = Qt.Key(event.key())
        if key in steps:
            self._choose(min(steps[key], last))
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.selected is not None:
            self.opened.emit(self.selected)
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self.viewport_())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surround"))
        if not self._tubes:
            painter.setPen(theme.colour("on_surround"))
            painter.setFont(theme.face(11))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, self.hint)
            return
        painter.setPen(theme.colour("on_surround"))
        painter.setFont(theme.face(7.5))
        left = 6 + sized(_RIBBON) + 20
        shown = self._blocks()
        for k, word in enumerate(("as is", "1:1", "1:3", "1:10", "1:30")[:shown]):
            painter.drawText(QRectF(left + k * sized(_BLOCK), 4, sized(_BLOCK), 16), Qt.AlignmentFlag.AlignCenter, word)
        over = QRectF(left + shown * sized(_BLOCK) + 6, 4, sized(70), sized(16))
        painter.drawText(over, Qt.AlignmentFlag.AlignLeft, "over white")
        seen = QRectF(event.rect()) if event is not None else QRectF(self.rect())
        for i, s in enumerate(self._tubes):
            if self.row(i).intersects(seen):
                self._paint(painter, s, self.row(i))

    def _paint(self, painter: QPainter, s: Shown, box: QRectF) -> None:
        t = s.tube
        if t.id == self.selected:
            painter.setPen(QPen(theme.colour("accent"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(box.adjusted(1, 1, -1, -1), 5, 5)
        y = box.top() + 9
        painter.fillPath(ribbon(QRectF(box.left() + 8, y + 5, sized(_RIBBON), 20)), paint_colour(t.lab))
        x = box.left() + sized(_RIBBON) + 20
        ladder: list[Lab] = [t.lab, *((n[1], n[2], n[3]) for n in t.tints)][: self._blocks()]
        for k, lab in enumerate(ladder):
            painter.fillRect(QRectF(round(x + k * sized(_BLOCK)), y, sized(_BLOCK), 32), paint_colour(lab))
        x += len(ladder) * sized(_BLOCK) + 8
        painter.fillRect(QRectF(round(x), y, sized(_BLOCK), 32), paint_colour(t.undertone))
        x += sized(_BLOCK) + 12
        end = box.right() - 10
        painter.setPen(theme.colour("on_surround"))
        if s.right:
            painter.setFont(theme.face(9))
            painter.drawText(QRectF(end - 80, y - 2, 80, 18), Qt.AlignmentFlag.AlignRight, s.right)
        painter.setFont(theme.face(10.5, bold=True))
        self._words(painter, QRectF(x, y - 3, end - x - (84 if s.right else 0), 20), t.name)
        painter.setFont(theme.face(9))
        self._words(painter, QRectF(x, y + 16, end - x, 18), f"{_value(t)} · {label_words(t)}")

    @staticmethod
    def _words(painter: QPainter, box: QRectF, words: str) -> None:
        short = QFontMetricsF(painter.font()).elidedText(words, Qt.TextElideMode.ElideRight, box.width())
        painter.drawText(box, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, short)
