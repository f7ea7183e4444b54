"""The score sheet of strings: one row per string, columns are values that all rows share; a pile in two halves,
ribbons below."""

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.mixing.recipe.parts import TOUCH
from ochre_stone.core.mixing.recipe.recipe import ingredient_words, parts_words
from ochre_stone.core.mixing.strings.targets import MixString, Pile
from ochre_stone.core.project.document import Mixed
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.parts import plain
from ochre_stone.desktop.widgets.shapes import halves, ink_on, paint_colour, pile, ribbon

_HEAD = 26
_LABEL = 82
_ROW = 118
_CELL_LEAST = 49
_PILE_HEIGHT = 46
_PILE_WIDEST = 58.0


def columns(string: MixString) -> dict[str, float]:
    """The column of each pile: its value, or the nearest half step that is free in its row, so that the steps of a
    ladder stand level with the piles of strings."""
    out: dict[str, float] = {}
    last = -1.0
    for p in string.piles:
        last = max(round(p.target.value * 2) / 2, last + 0.5)
        out[p.id] = last
    crowded = any(abs(out[p.id] - p.target.value) > 0.75 for p in string.piles)
    return {p.id: p.target.value for p in string.piles} if crowded else out


class Score(QWidget):
    """Piles of all strings; one is in hand."""

    chosen = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Strings: rows of piles from dark to light")
        self._mixed = Mixed()
        self._strings: tuple[MixString, ...] = ()
        self._columns: list[float] = []
        self._column: dict[str, float] = {}
        self._selected: str | None = None
        self._stale = False
        self.hint = ""

    def show_strings(self, mixed: Mixed, selected: str | None, stale: bool) -> None:
        """Strings to show; ``stale`` ones are drawn faintly while new ones are worked out."""
        strings = mixed.strings
        self._mixed, self._strings, self._selected, self._stale = mixed, strings, selected, stale
        self._column = {i: v for s in strings for i, v in columns(s).items()}
        self._columns = sorted(set(self._column.values()))
        self.setMinimumSize(
            _LABEL + _CELL_LEAST * max(len(self._columns), 1) + 8, _HEAD + _ROW * max(len(strings), 1) + 8
        )
        self.setAccessibleDescription(
            "; ".join(f"{s.name}: " + ", ".join(numbers.short(p.target.value) for p in s.piles) for s in strings)
        )
        self.update()

    def _cell(self) -> float:
        return max(_CELL_LEAST, min((self.width() - _LABEL - 8) / max(len(self._columns), 1), 96))

    def box(self, row: int, p: Pile) -> QRectF:
        """The pile's box."""
        cell = self._cell()
        width = min(cell - 5, _PILE_WIDEST)
        x = _LABEL + cell * self._columns.index(self._column[p.id]) + (cell - width) / 2
        return QRectF(x, _HEAD + _ROW * row + 10, width, _PILE_HEIGHT)

    def _all(self) -> list[tuple[int, Pile]]:
        return [(row, p) for row, s in enumerate(self._strings) for p in s.piles]

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        for row, p in self._all():
            if self.box(row, p).adjusted(-4, -8, 4, 56).contains(event.position()):
                self.chosen.emit(p.id)
                return

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        under = next((p for row, p in self._all() if self.box(row, p).contains(event.position())), None)
        words = ""
        if under is not None:
            words = f"{', '.join(ingredient_words(i) for i in under.recipe.ingredients)}\n{under.recipe.why}"
        self.setToolTip(plain(words))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None or not self._strings:
            return super().keyPressEvent(event)
        here = next(
            ((r, i) for r, s in enumerate(self._strings) for i, p in enumerate(s.piles) if p.id == self._selected),
            (0, -1),
        )
        row, i = here
        moves = {
            Qt.Key.Key_Right: (0, 1),
            Qt.Key.Key_Left: (0, -1),
            Qt.Key.Key_Down: (1, 0),
            Qt.Key.Key_Up: (-1, 0),
        }
        if event.key() not in moves:
            return super().keyPressEvent(event)
        dr, di = moves[Qt.Key(event.key())]
        row = min(max(row + dr, 0), len(self._strings) - 1)
        i = min(max(i + di, 0), len(self._strings[row].piles) - 1)
        self.chosen.emit(self._strings[row].piles[i].id)
        return None

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surround"))
        ink = theme.colour("on_surround")
        painter.setPen(ink)
        if not self._strings:
            painter.setFont(theme.face(11))
            painter.drawText(
                self.rect().adjusted(30, 0, -30, 0),
                Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap,
                self.hint,
            )
            return
        cell = self._cell()
        painter.setFont(theme.face(9.5, bold=True))
        painter.drawText(QRectF(8, 0, _LABEL - 12, _HEAD), Qt.AlignmentFlag.AlignVCenter, "value")
        faint = theme.colour("on_surround")
        faint.setAlpha(50)
        for k, v in enumerate(self._columns):
            x = _LABEL + cell * k
            painter.setPen(ink)
            painter.drawText(QRectF(x, 0, cell, _HEAD), Qt.AlignmentFlag.AlignCenter, numbers.short(v))
            painter.setPen(QPen(faint, 1))
            painter.drawLine(QPointF(x + cell / 2, _HEAD), QPointF(x + cell / 2, _HEAD + _ROW * len(self._strings)))
        painter.setOpacity(0.45 if self._stale else 1.0)
        seen = QRectF(event.rect()) if event is not None else QRectF(self.rect())
        for row, s in enumerate(self._strings):
            top = _HEAD + _ROW * row
            if top > seen.bottom() or top + _ROW < seen.top():
                continue  # scrolled out of sight
            painter.setPen(QPen(faint, 1))
            painter.drawLine(QPointF(8, top), QPointF(self.width() - 8, top))
            painter.setPen(ink)
            painter.setFont(theme.face(11, bold=True))
            if QFontMetricsF(painter.font()).horizontalAdvance(s.name) > _LABEL - 12:
                painter.setFont(theme.face(9, bold=True))
            painter.drawText(QRectF(8, top + 14, _LABEL - 12, 22), Qt.AlignmentFlag.AlignLeft, s.name)
            painter.setFont(theme.face(8.5))
            if s.id in self._mixed.tweaks:
                painter.drawText(QRectF(8, top + 92, _LABEL - 6, 18), Qt.AlignmentFlag.AlignLeft, "tweaks")
            if s.tints:
                words = "\n".join(t.name for t in s.tints)
                painter.drawText(QRectF(8, top + 38, _LABEL - 6, 70), Qt.TextFlag.TextWordWrap, "first: " + words)
            for p in s.piles:
                self._paint_pile(painter, row, p)

    def _paint_pile(self, painter: QPainter, row: int, p: Pile) -> None:
        box = self.box(row, p)
        path = pile(p.id, box)
        halves(painter, path, p.target.lab, p.recipe.lab)
        if p.id == self._selected:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(theme.colour("accent"), 2.2))
            painter.drawPath(pile(p.id, box.adjusted(-6, -5, 6, 5)))
        painter.setFont(theme.face(8.5, bold=True))
        painter.setPen(ink_on(p.recipe.lab))
        number = p.id.rsplit("-", 1)[1]
        number += " •" * p.pinned + " !" * (not p.reachable)
        painter.drawText(box.adjusted(0, box.height() / 2, 0, -4), Qt.AlignmentFlag.AlignCenter, number)
        self._paint_ribbons(painter, p, box)

    def _paint_ribbons(self, painter: QPainter, p: Pile, box: QRectF) -> None:
        """The recipe as short ribbons, as long as their share, with parts."""
        names = {q.id: q.recipe.lab for s in self._strings for q in s.piles}
        whole = max(i.parts for i in p.recipe.ingredients)
        y = box.bottom() + 6
        painter.setFont(theme.face(8))
        for item in p.recipe.ingredients:
            lab: Lab
            if not item.is_pile:
                lab = self._mixed.tube(item.id).lab
            elif item.id in names:
                lab = names[item.id]
            else:
                lab = self._mixed.tube(item.id.removeprefix("tint-")).lab
            length = 8 + (box.width() - 28) * item.parts / whole
            painter.fillPath(ribbon(QRectF(box.left() + 20, y + 1.5, length, 7)), paint_colour(lab))
            painter.setPen(theme.colour("on_surround"))
            words = "¼" if item.parts == TOUCH else parts_words(item.parts)
            painter.drawText(
                QRectF(box.left() - 18, y - 2, 34, 14),
                Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                words,
            )
            y += 12
