"""A chart of a palette on neutral grey, with its value scale; a cell can be taken in hand."""

from collections.abc import Collection

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter, QPaintEvent, QPen

from ochre_stone.core.colour.munsell import lightness_of_value
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.paint.chart import Cell, Chart
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.items import Item, Items
from ochre_stone.desktop.widgets.shapes import ink_on, paint_colour
from ochre_stone.desktop.widgets.theme import sized

_HEAD, _LABEL, _ROW, _SWATCH = 40.0, 184.0, 54.0, 36.0


class ChartView(Items):
    """Rows of cells over a value scale; arrow keys go from cell to cell."""

    chosen = pyqtSignal(str)
    stepped = pyqtSignal(QRectF)

    def __init__(self) -> None:
        super().__init__("Chart of the palette")
        self._chart: Chart | None = None
        self._selected = ""
        self._near: Collection[str] = ()
        self._note: Lab | None = None
        self.hint = ""
        self.taken.connect(self.chosen)

    def show_chart(
        self, chart: Chart | None, selected: str, near: Collection[str] = (), note: Lab | None = None
    ) -> None:
        """The chart, the cell in hand, and the cells nearest to ``note``: that colour touches each of them."""
        self._chart, self._selected, self._near, self._note = chart, selected, near, note
        rows = len(chart.rows) if chart is not None else 1
        self.setMinimumHeight(round(sized(_HEAD) + rows * sized(_ROW) + 16))
        if chart is not None:
            self.setAccessibleDescription("; ".join(f"{r.letter}: {r.title}" for r in chart.rows[:60]))
        near_words = "near the note" if note is not None else ""
        self.set_items(
            [
                Item(c.label, c.label, ", ".join(w for w in (c.words, near_words if c.label in near else "") if w))
                for c, _, _ in self._all()
            ]
        )
        self.hold(selected)

    def boxes(self) -> list[QRectF]:
        return [box for _, box, _ in self._all()]

    def sizeHint(self) -> QSize:
        return QSize(460, self.minimumHeight())

    def cell(self, row: int, column: int) -> QRectF:
        """Where a cell stands; column -1 is the base as it comes."""
        count = self._chart.columns if self._chart is not None else 1
        wide = (self.width() - sized(_LABEL) - 12) / count
        return QRectF(
            round(sized(_LABEL) + (column + 1) * wide),
            sized(_HEAD) + row * sized(_ROW),
            round(wide - 4),
            sized(_SWATCH),
        )

    def _all(self) -> list[tuple[Cell, QRectF, int]]:
        if self._chart is None:
            return []
        return [(c, self.cell(n, c.column), n) for n, r in enumerate(self._chart.rows) for c in r.cells]

    def box_of(self, label: str) -> QRectF | None:
        """Where the cell of that label stands."""
        return next((box for c, box, _ in self._all() if c.label == label), None)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        step = {
            Qt.Key.Key_Right: (0, 1),
            Qt.Key.Key_Left: (0, -1),
            Qt.Key.Key_Down: (1, 0),
            Qt.Key.Key_Up: (-1, 0),
        }.get(Qt.Key(event.key()))
        if step is None or self._chart is None:
            super().keyPressEvent(event)
            return
        row, column = next(((n, c.column) for c, _, n in self._all() if c.label == self._selected), (0, -1))
        if step[0]:
            row = min(max(row + step[0], 0), len(self._chart.rows) - 1)
            cells = self._chart.rows[row].cells
            to = min(cells, key=lambda c: abs(c.column - column))
        else:
            cells = self._chart.rows[row].cells
            at = next((i for i, c in enumerate(cells) if c.column == column), 0)
            to = cells[min(max(at + step[1], 0), len(cells) - 1)]
        self.chosen.emit(to.label)
        self.stepped.emit(self.cell(row, to.column))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self.viewport_())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surround"))
        painter.setPen(theme.colour("on_surround"))
        if self._chart is None:
            painter.setFont(theme.face(11))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, self.hint)
            return
        painter.setFont(theme.face(9))
        if not self._chart.values:
            for i in range(self._chart.columns):
                box, words = self.cell(0, i - 1), f"step {i}" if i else "as it comes"
                painter.drawText(QRectF(box.left(), 4, box.width() + 8, 16), Qt.AlignmentFlag.AlignLeft, words)
        for i, v in enumerate(self._chart.values):
            box = self.cell(0, i)
            painter.fillRect(
                QRectF(box.left(), 22, box.width(), 10), paint_colour((float(lightness_of_value(v)), 0, 0))
            )
            painter.drawText(QRectF(box.left(), 4, box.width(), 16), Qt.AlignmentFlag.AlignCenter, numbers.value(v))
        seen = QRectF(event.rect()) if event is not None else QRectF(self.rect())
        for n, r in enumerate(self._chart.rows):
            top = sized(_HEAD) + n * sized(_ROW)
            if not QRectF(0, top, self.width(), sized(_ROW)).intersects(seen):
                continue
            painter.setPen(theme.colour("on_surround"))
            painter.setFont(theme.face(9, bold=True))
            painter.drawText(QRectF(8, top, 26, 18), Qt.AlignmentFlag.AlignLeft, r.letter)
            painter.setFont(theme.face(8.5))
            painter.drawText(
                QRectF(32, top - 1, sized(_LABEL) - 38, sized(_ROW) - 4),
                Qt.AlignmentFlag.AlignLeft | Qt.TextFlag.TextWordWrap,
                r.title,
            )
            for c in r.cells:
                self._paint(painter, c, self.cell(n, c.column))

    def _paint(self, painter: QPainter, c: Cell, box: QRectF) -> None:
        painter.fillRect(box, paint_colour(c.lab))
        if c.label in self._near and self._note is not None:
            painter.fillRect(
                QRectF(box.left(), box.top(), box.width(), round(box.height() / 2)), paint_colour(self._note)
            )
        if self._chart is not None and not self._chart.values:
            painter.setPen(ink_on(c.lab))
            painter.setFont(theme.face(8))
            painter.drawText(box.adjusted(0, 1, -4, 0), Qt.AlignmentFlag.AlignRight, numbers.value(c.value))
        chosen = c.label == self._selected
        if chosen or c.label in self._near:
            painter.setPen(QPen(theme.colour("accent" if chosen else "on_surround"), 2))
            painter.drawRect(box.adjusted(-3, -3, 3, 3))
        painter.setPen(theme.colour("on_surround"))
        painter.setFont(theme.face(8))
        painter.drawText(
            QRectF(box.left() - 4, box.bottom() + 1, box.width() + 8, 13), Qt.AlignmentFlag.AlignLeft, c.words
        )
