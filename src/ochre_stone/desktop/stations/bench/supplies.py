"""Paint at hand: ribbons in two columns. A press takes one in hand and puts a dose in; held, it puts in more."""

from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QPoint, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen

from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.items import Item, Items
from ochre_stone.desktop.widgets.shapes import paint_colour, pile, ribbon

_ROW = 23.0
_FIRST_MS, _AGAIN_MS = 450, 160
SUPPLY_COLUMNS = 2


@dataclass(frozen=True)
class ShownSupply:
    """One supply as it is drawn."""

    id: str
    name: str
    lab: Lab
    is_tube: bool
    left: str = ""
    """How much there is, where it has an end."""


class SuppliesView(Items):
    """Ribbons of tubes, small piles of what is mixed. Enter or Space puts a touch in, Shift a part, Ctrl a tip."""

    dosed = pyqtSignal(str)
    """A dose of what is in hand goes in: "", "part" or "tip" for the size that is set, or another."""

    def __init__(self) -> None:
        super().__init__("Paint at hand")
        self._supplies: tuple[ShownSupply, ...] = ()
        self._timer = QTimer(self)
        self._timer.timeout.connect(self._again)
        self.setMinimumHeight(theme.sized(_ROW))

    def show_supplies(self, supplies: Sequence[ShownSupply], in_hand: str) -> None:
        """What is at hand, and which of it is in hand."""
        if tuple(supplies) != self._supplies:
            self._supplies = tuple(supplies)
            self.set_items(
                [
                    Item(s.id, s.name, f"value {numbers.value(read(s.lab).value)}{f', {s.left}' if s.left else ''}")
                    for s in supplies
                ]
            )
            rows = -(-len(self._supplies) // SUPPLY_COLUMNS)
            self.setFixedHeight(max(rows, 1) * theme.sized(_ROW) + 4)
        self.hold(in_hand)

    def sizeHint(self) -> QSize:
        return QSize(300, self.minimumHeight())

    def boxes(self) -> list[QRectF]:
        wide, high = self.width() / SUPPLY_COLUMNS, float(theme.sized(_ROW))
        rows = -(-len(self._supplies) // SUPPLY_COLUMNS)
        return [
            QRectF((k // rows) * wide, (k % rows) * high + 2, wide - 4, high - 2) for k in range(len(self._supplies))
        ]

    # Hands

    def mousePressEvent(self, e: QMouseEvent | None) -> None:
        super().mousePressEvent(e)
        if e is not None and self.at(e.position().toPoint()) is not None:
            self.dosed.emit("")
            self._timer.start(_FIRST_MS)

    def mouseDoubleClickEvent(self, e: QMouseEvent | None) -> None:
        """The second of two quick presses is a dose like the first."""
        self.mousePressEvent(e)

    def mouseReleaseEvent(self, e: QMouseEvent | None) -> None:
        self._timer.stop()

    def _again(self) -> None:
        place = self.viewport_().mapFromGlobal(self.cursor().pos())
        if not self.isVisible() or self.at(QPoint(place)) != self.held:
            self._timer.stop()
            return
        self._timer.setInterval(_AGAIN_MS)
        self.dosed.emit("")

    def keyPressEvent(self, e: QKeyEvent | None) -> None:
        if e is None:
            return
        key = Qt.Key
        if self.walk(e):
            return
        if e.key() in (key.Key_Return, key.Key_Enter, key.Key_Space) and self.held is not None:
            mods = e.modifiers()
            control, shift = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier
            self.dosed.emit("tip" if mods & control else "part" if mods & shift else "touch")
        else:
            e.ignore()

    # Drawing

    def paintEvent(self, e: QPaintEvent | None) -> None:
        painter = QPainter(self.viewport_())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surround"))
        ink = theme.colour("on_surround")
        for s, box in zip(self._supplies, self.boxes(), strict=True):
            bead = QRectF(box.left() + 8, box.center().y() - 7, 30, 14)
            shape = ribbon(bead) if s.is_tube else pile(s.id, bead.adjusted(2, -3, -2, 3))
            painter.fillPath(shape, paint_colour(s.lab))
            if s.id == self.held:
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.setPen(QPen(theme.colour("accent"), 2))
                painter.drawPath(ribbon(bead.adjusted(-4, -3, 4, 3)))
            painter.setPen(ink)
            painter.setFont(theme.face(9.5, bold=s.id == self.held))
            words = f"{s.name}, {s.left}" if s.left else s.name
            room = box.right() - bead.right() - 8
            text = QFontMetricsF(painter.font()).elidedText(words, Qt.TextElideMode.ElideRight, room)
            place = QRectF(bead.right() + 7, box.top(), room, box.height())
            painter.drawText(place, Qt.AlignmentFlag.AlignVCenter, text)
        if self.hasFocus():
            painter.setPen(QPen(theme.colour("accent"), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5))
