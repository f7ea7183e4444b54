"""The branching as a graph: each pile beside the one that it goes on from, what is added written on the way."""

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QPainter, QPainterPath, QPaintEvent, QPen

from ochre_stone.core.document.document import Mixed
from ochre_stone.core.mixing.strings.targets import Pile
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.items import Item, Items
from ochre_stone.desktop.widgets.shapes import halves, ink_on, pile
from ochre_stone.desktop.widgets.theme import sized

_ROW, _COLUMN, _WIDE, _HIGH, _TOP = 62, 178, 62, 40, 30


class BranchView(Items):
    """Piles from tubes at the left, those mixed on from them to the right; one is in hand."""

    chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__("Branching: which pile goes on from which")
        self._piles: dict[str, Pile] = {}
        self._names: dict[str, str] = {}
        self._parent: dict[str, str] = {}
        self._at: dict[str, tuple[int, int]] = {}
        self._selected: str | None = None
        self.taken.connect(self.chosen)

    def show_plan(self, mixed: Mixed, selected: str | None) -> None:
        """The plan of these strings."""
        self._piles = {p.id: p for s in mixed.strings for p in s.piles}
        self._names = {p.id: p.name for s in mixed.strings for p in s.piles}
        self._parent = {p.id: i.id for p in self._piles.values() for i in p.recipe.ingredients if i.id in self._piles}
        self._selected = selected
        self._place()
        columns = max((c for _, c in self._at.values()), default=0) + 1
        rows = max((r for r, _ in self._at.values()), default=0) + 1
        self.setMinimumSize(sized(_COLUMN) * columns + 20, sized(_TOP) + sized(_ROW) * rows + 10)
        said = [f"{self._names[i]} {self._words(i)}" for i in sorted(self._piles, key=lambda i: self._piles[i].order)]
        self.setAccessibleDescription("; ".join(said))
        order = sorted(self._at, key=lambda i: self._piles[i].order)
        self.set_items([Item(i, self._names[i], f"number {self._piles[i].order}, {self._words(i)}") for i in order])
        self.hold(selected)

    def _words(self, pile_id: str) -> str:
        return f"from {self._names[self._parent[pile_id]]}" if pile_id in self._parent else "from tubes"

    def boxes(self) -> list[QRectF]:
        return [self.box(i.id).adjusted(-6, -4, 6, 18) for i in self.items]

    def _place(self) -> None:
        """Rows in the order of mixing; a pile stands right of its parent, the first child on its row."""
        children: dict[str, list[str]] = {}
        for child, parent in self._parent.items():
            children.setdefault(parent, []).append(child)
        self._at = {}
        row = 0

        def visit(pile_id: str, column: int) -> None:
            nonlocal row
            self._at[pile_id] = (row, column)
            for k, child in enumerate(sorted(children.get(pile_id, []), key=lambda i: self._piles[i].order)):
                row += k > 0
                visit(child, column + 1)

        for pile_id in sorted((i for i in self._piles if i not in self._parent), key=lambda i: self._piles[i].order):
            visit(pile_id, 0)
            row += 1

    def box(self, pile_id: str) -> QRectF:
        """Where a pile stands."""
        row, column = self._at[pile_id]
        return QRectF(14 + column * sized(_COLUMN), sized(_TOP) + row * sized(_ROW) + 4, sized(_WIDE), sized(_HIGH))

    def sizeHint(self) -> QSize:
        return self.minimumSize()

    def keyPressEvent(self, e: QKeyEvent | None) -> None:
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Right: 1, Qt.Key.Key_Up: -1, Qt.Key.Key_Left: -1}
        if e is not None and self.items and Qt.Key(e.key()) in step:
            self.step(step[Qt.Key(e.key())])
        else:
            super().keyPressEvent(e)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self.viewport_())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surround"))
        ink = theme.colour("on_surround")
        painter.setPen(ink)
        painter.setFont(theme.face(9.5, bold=True))
        painter.drawText(QRectF(14, 4, 400, 22), Qt.AlignmentFlag.AlignVCenter, "from tubes  →  mixed on")
        for child, parent in self._parent.items():
            self._paint_way(painter, child, parent)
        for pile_id, p in self._piles.items():
            box = self.box(pile_id)
            halves(painter, pile(pile_id, box), p.target.lab, p.recipe.lab)
            if pile_id == self._selected:
                painter.setPen(QPen(theme.colour("accent"), 2.2))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawPath(pile(pile_id, box.adjusted(-6, -5, 6, 5)))
            painter.setFont(theme.face(9.5, bold=True))
            painter.setPen(ink_on(p.recipe.lab))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, str(p.order))
            painter.setPen(ink)
            painter.setFont(theme.face(8.5))
            under = QRectF(box.left() - 6, box.bottom() + 1, sized(_COLUMN) - 70, 15)
            painter.drawText(under, Qt.AlignmentFlag.AlignLeft, self._names[pile_id] + (" •" if p.pinned else ""))

    def _paint_way(self, painter: QPainter, child: str, parent: str) -> None:
        a, b = self.box(parent), self.box(child)
        start, end = QPointF(a.right() + 4, a.center().y()), QPointF(b.left() - 5, b.center().y())
        faint = theme.colour("on_surround")
        faint.setAlpha(150)
        painter.setPen(QPen(faint, 1.4))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        way = QPainterPath(start)
        if abs(start.y() - end.y()) < 1:
            way.lineTo(end)
        else:
            x = start.x() + 10
            way.lineTo(QPointF(x, start.y()))
            way.lineTo(QPointF(x, end.y()))
            way.lineTo(end)
        painter.drawPath(way)
        painter.drawLine(end, end + QPointF(-6, -4))
        painter.drawLine(end, end + QPointF(-6, 4))
        painter.setPen(theme.colour("on_surround"))
        painter.setFont(theme.face(8.5))
        items = [i for i in self._piles[child].recipe.ingredients if i.id != parent]
        metrics = QFontMetricsF(painter.font())
        room = sized(_COLUMN) - sized(_WIDE) - 30.0
        said = ["+ " + i.said for i in items[:2]]
        if len(said) == 1 and metrics.horizontalAdvance(said[0]) > room:  # one long name goes over both lines
            head, _, tail = said[0].rpartition(" ")
            said = [head, tail]
        for k, line in enumerate(said):
            words = metrics.elidedText(line, Qt.TextElideMode.ElideRight, room)
            place = QRectF(end.x() - room - 4, end.y() - 17 if k == 0 else end.y() + 2, room, 15)
            painter.drawText(place, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, words)
