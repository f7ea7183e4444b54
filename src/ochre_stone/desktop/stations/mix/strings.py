"""The strings of Mix: a column each, every pile at its value on the lines that run on from the scale, its recipe beside
it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QPoint, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QScrollArea, QWidget

from ochre_stone.core.colour.spaces import Lab, as_lab
from ochre_stone.core.document.document import Mixed
from ochre_stone.core.mixing.recipe.hand import TOUCH
from ochre_stone.core.mixing.recipe.nearness import MATCHES, OUT
from ochre_stone.core.mixing.recipe.recipe import Ingredient, Source, parts_words
from ochre_stone.core.mixing.strings.targets import MixString, Pile
from ochre_stone.core.paint.optics import layer_lab
from ochre_stone.core.paint.predict import spectra
from ochre_stone.desktop.scale.axis import BOTTOM, TOP, spread_apart, y_of
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.items import Item, Items
from ochre_stone.desktop.widgets.shapes import halves, ink_on, paint_colour, pile, ribbon, stacked

_COLUMN = 138
"""Least width of a string's column."""
_PILE = QSize(46, 31)
_DRAWN_HEIGHT = 694.0
_BESIDE = 0.12
"""Piles of one string that are nearer in value than this stand side by side."""


@dataclass(frozen=True)
class _Slot:
    """Where a pile stands and how much height its recipe has."""

    box: QRectF
    row: QRectF
    room: float


@dataclass(frozen=True)
class _Column:
    """What stands in one column: a string, or all strings of a single pile, the accents."""

    title: str
    piles: tuple[tuple[MixString, Pile], ...]
    """Each with its string."""


def _columns(strings: Sequence[MixString]) -> list[_Column]:
    rows = [s for s in strings if len(s.piles) > 1]
    single = [s for s in strings if len(s.piles) == 1]
    out = [_Column(s.name, tuple((s, p) for p in s.piles)) for s in rows]
    if single:
        title = single[0].name if len(single) == 1 else "Accents"
        out.append(_Column(title, tuple((s, s.piles[0]) for s in single)))
    return out


class StringsView(Items):
    """Piles of all strings; one is in hand. Up is lighter, down darker; left and right go to the next string."""

    chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__("Strings: columns of piles from light to dark")
        self._mixed = Mixed()
        self._strings: tuple[MixString, ...] = ()
        self._columns: list[_Column] = []
        self._stale = False
        self._wet: Mapping[str, Lab] = {}
        self._down: Mapping[str, str] = {}
        self._bases: dict[str, Lab] = {}
        self.hint = ""
        self.scrolled_height = 0.0
        """Height of what it is seen in, the bar at its foot counted."""
        self.scale: QWidget | None = None
        """The value scale that the lines run on from."""
        self._laid: tuple[object, list[_Slot]] | None = None
        self.taken.connect(self.chosen)

    def show_strings(
        self,
        mixed: Mixed,
        selected: str | None,
        stale: bool,
        wet: Mapping[str, Lab] | None = None,
        down: Mapping[str, str] | None = None,
    ) -> None:
        """Strings to show; ``stale`` ones are drawn faintly while new ones are worked out; ``wet``: of piles that look
        another way wet, what is drawn at their foot; ``down``: of piles, the one before plus so much white, in words
        that are written under them."""
        self._wet, self._down = wet or {}, down or {}
        self._bases = {b.id: _colour(b, mixed) for s in mixed.strings for b in s.bases}
        self._mixed, self._strings, self._stale, self._laid = mixed, mixed.strings, stale, None
        self._columns = _columns(self._strings)
        self.setMinimumWidth(self._least() * max(len(self._columns), 1) + 6)
        self.set_items([_item(p) for column in self._columns for _, p in column.piles])
        self.setAccessibleDescription(
            "; ".join(f"{s.name}: " + ", ".join(numbers.short(p.target.value) for p in s.piles) for s in self._strings)
            or self.hint
        )
        self.hold(selected)

    # Where they stand

    def _grown(self) -> float:
        """How much larger than drawn piles and recipes are, in a larger window."""
        return min(max(min(self._axis() / _DRAWN_HEIGHT, self._column() / _COLUMN), 1.0), 2.2)

    @staticmethod
    def _least() -> int:
        return theme.sized(_COLUMN)

    def _above(self) -> float:
        """How much higher the scale begins."""
        if self.scale is None or not self.isVisible():
            return 0.0
        middle = self.scale.mapToGlobal(QPoint(0, 0))
        return float(max(self.mapToGlobal(QPoint(0, 0)).y() - middle.y(), 0))

    def _axis(self) -> float:
        """Height of the scale."""
        return (self.scrolled_height or float(self.height())) + self._above()

    def _y_of(self, value: float) -> float:
        return y_of(value, self._axis()) - self._above()

    def _column(self) -> float:
        wide = (self.width() - 6) / max(len(self._columns), 1)
        return min(wide, max(2.2 * self._least(), self._axis() * 0.32))

    def _slots(self) -> list[_Slot]:
        key = (self.width(), self._axis(), self._above(), theme.text_scale(), id(self._strings))
        if self._laid is None or self._laid[0] != key:
            slots = [self._stand(k, [p for _, p in c.piles]) for k, c in enumerate(self._columns)]
            self._laid = key, [slot for column in slots for slot in column]
        return self._laid[1]

    def _stand(self, column: int, piles: Sequence[Pile]) -> list[_Slot]:
        """A string's piles: at their values, moved as little as keeps them apart; those of one value side by side."""
        k, left, wide = self._grown(), 6 + column * self._column(), self._column()
        size = QSize(round(_PILE.width() * k), round(_PILE.height() * k))
        order = sorted(range(len(piles)), key=lambda i: -piles[i].target.value)
        levels: list[list[int]] = []
        for i in order:
            close = levels and piles[levels[-1][0]].target.value - piles[i].target.value < _BESIDE
            if close and len(levels[-1]) < 2:
                levels[-1].append(i)
            else:
                levels.append([i])
        exact = [self._y_of(piles[level[0]].target.value) for level in levels]
        high = self._axis() - self._above()
        half = size.height() / 2
        gap = min(size.height() + 2.0, (high - TOP) / max(len(levels), 1))
        centres = spread_apart(exact, gap, TOP + half - 4, high - BOTTOM - half + 14)
        out: dict[int, _Slot] = {}
        for n, (level, y) in enumerate(zip(levels, centres, strict=True)):
            above = y - centres[n - 1] if n else 200.0
            below = centres[n + 1] - y if n + 1 < len(levels) else 200.0
            room = min(above, below)
            for m, i in enumerate(level):
                part = (wide - 8) / len(level)
                x = left + m * part
                width = min(size.width(), part * 0.42) if len(level) > 1 else size.width()
                box = QRectF(x, y - half, width, min(size.height(), gap - 1))
                out[i] = _Slot(box, QRectF(x - 2, y - gap / 2, part + 2, gap), room)
        return [out[i] for i in range(len(piles))]

    def boxes(self) -> list[QRectF]:
        return [slot.row for slot in self._slots()]

    def box_of(self, pile_id: str) -> QRectF:
        """Where a pile is drawn."""
        return self._slots()[self.row_of(pile_id)].box

    def scroll_area(self) -> QScrollArea:
        """The view in an area that scrolls sideways, the value lines kept level with the scale beside it."""
        area = _Sideways(self)
        area.setObjectName("surround")
        area.setWidgetResizable(True)
        area.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setWidget(self)
        return area

    # Hands

    def keyPressEvent(self, e: QKeyEvent | None) -> None:
        if e is None:
            return
        moves = {Qt.Key.Key_Up: (0, 1), Qt.Key.Key_Down: (0, -1), Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0)}
        key = Qt.Key(e.key())
        if key in moves and self._strings:
            self._go(*moves[key])
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.held is not None:
            self.opened.emit(self.held)
        else:
            e.ignore()

    def _go(self, across: int, up: int) -> None:
        """To the next pile of the string, or to the one of the next string that is nearest in value."""
        columns = [[p for _, p in c.piles] for c in self._columns]
        found = [(c, p) for c, piles in enumerate(columns) for p in piles]
        here = next((f for f in found if f[1].id == self.held), found[0])
        column, now = here
        if across:
            column = min(max(column + across, 0), len(columns) - 1)
            nearest = min(columns[column], key=lambda p: abs(p.target.value - now.target.value))
            new = nearest if column != here[0] else now
        else:
            piles = sorted(columns[column], key=lambda p: p.target.value)
            new = piles[min(max(piles.index(now) + up, 0), len(piles) - 1)]
        self.take(new.id)

    # Drawing

    def paintEvent(self, e: QPaintEvent | None) -> None:
        painter = QPainter(self.viewport_())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surround"))
        self._paint_lines(painter)
        painter.setPen(theme.colour("on_surround"))
        if not self._strings:
            painter.setFont(theme.face(11))
            painter.drawText(
                self.rect().adjusted(30, 0, -30, 0), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, self.hint
            )
            return
        painter.setOpacity(0.45 if self._stale else 1.0)
        self._paint_heads(painter)
        slots = iter(self._slots())
        for column in self._columns:
            for _, p in column.piles:
                self._paint_pile(painter, p, next(slots))
        if self.hasFocus():
            painter.setOpacity(1.0)
            painter.setPen(QPen(theme.colour("accent"), 2))
            painter.drawLine(QPointF(0, 1), QPointF(self.width(), 1))

    def _paint_lines(self, painter: QPainter) -> None:
        """The values' lines, on from the scale."""
        faint = theme.colour("on_surround")
        faint.setAlpha(60)
        painter.setPen(QPen(faint, 1))
        for v, _ in numbers.ticks():
            y = round(self._y_of(v)) + 0.5
            painter.drawLine(QPointF(0, y), QPointF(self.width(), y))

    def _paint_heads(self, painter: QPainter) -> None:
        wide = self._column()
        for k, column in enumerate(self._columns):
            painter.setPen(theme.colour("on_surround"))
            painter.setFont(theme.face(11 * min(self._grown(), 1.4), bold=True))
            name = QFontMetricsF(painter.font()).elidedText(column.title, Qt.TextElideMode.ElideRight, wide - 8)
            head = QRectF(6 + k * wide, 0, wide - 8, TOP - 6)
            painter.fillRect(head.adjusted(-2, 0, 0, 0), theme.colour("surround"))
            painter.drawText(head, Qt.AlignmentFlag.AlignVCenter, name)
            strings = list(dict.fromkeys(s for s, _ in column.piles))
            said = ", ".join(dict.fromkeys(t.name for s in strings for t in s.bases))
            words = f"first: {said}" if said else ""
            tweaks = any(s.id in self._mixed.tweaks for s in strings)
            words += (" · " if words else "") + "tweaks" if tweaks else ""
            if words:
                painter.setFont(theme.face(9))
                words = QFontMetricsF(painter.font()).elidedText(words, Qt.TextElideMode.ElideRight, wide - 8)
                foot = self._axis() - self._above() - BOTTOM + 2
                box = QRectF(6 + k * wide, foot, wide - 8, BOTTOM - 4)
                painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, words)

    def _paint_pile(self, painter: QPainter, p: Pile, slot: _Slot) -> None:
        """What was asked for beside what is mixed, when it is mixed; its name and its recipe beside it."""
        box, k = slot.box, self._grown()
        path = pile(p.id, box)
        if p.id in self._wet:
            stacked(painter, path, (p.target.lab, p.recipe.lab, self._wet[p.id]), (0.4, 0.8))
        else:
            halves(painter, path, p.target.lab, p.recipe.lab)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if p.nearness.grade == OUT:  # the mixture is no more than the nearest: an open ring around what was asked for
            painter.setPen(QPen(theme.colour("on_surround"), 1.4, Qt.PenStyle.DashLine))
            painter.drawPath(pile(p.id, box.adjusted(-3, -3, 3, 3)))
        if p.id == self.held:
            painter.setPen(QPen(theme.colour("accent"), 2.4))
            painter.drawPath(pile(p.id, box.adjusted(-5, -4, 5, 4)))
        painter.setFont(theme.face(9 * k, bold=True))
        painter.setPen(ink_on(p.recipe.lab))
        words = f"{p.order}{' •' * p.pinned}{' !' * (p.nearness.grade == OUT)}"
        painter.drawText(box.adjusted(0, box.height() * 0.42, 0, 0), Qt.AlignmentFlag.AlignCenter, words)
        if p.id in self._down and slot.room > box.height() + 10:
            painter.setFont(theme.face(8.5 * k))
            painter.setPen(theme.colour("on_surround"))
            under = QRectF(box.left() - 4, box.bottom() + 2, box.width() + 8, 13 * k)
            painter.drawText(under, Qt.AlignmentFlag.AlignCenter, self._down[p.id])
        self._paint_recipe(painter, p, slot, k)

    def _lab_of(self, item: Ingredient) -> Lab:
        if not item.is_pile:
            return self._mixed.tube(item.id).lab
        for s in self._strings:
            for p in s.piles:
                if p.id == item.id:
                    return p.recipe.lab
        return self._bases.get(item.id, (50.0, 0.0, 0.0))

    def _paint_recipe(self, painter: QPainter, p: Pile, slot: _Slot, k: float) -> None:
        """The pile's name; parts, a ribbon of the paint and its name; where there is no height for names of paints, two
        ribbons in a line."""
        painter.setFont(theme.face(9 * k))
        metrics = QFontMetricsF(painter.font())
        line = metrics.ascent() + 1
        items = p.recipe.ingredients
        left = slot.box.right() + 6
        width = slot.row.right() - left - 2
        across = 1 if (len(items) + 1) * line <= slot.room + 4 else 2
        rows = -(-len(items) // across)
        roomy = slot.room > slot.box.height() + 1.5 * line
        high = max((rows + 1) * line, slot.box.height() + 2 * line) if roomy else (rows + 1) * line
        top = slot.box.center().y() - high / 2
        painter.setFont(theme.face(9 * k, bold=True))
        painter.setPen(theme.colour("on_surround"))
        bold = QFontMetricsF(painter.font())
        over = top + line <= slot.box.top() + 2  # above the pile there is the column's whole width
        start = slot.box.left() if over else left
        wide = slot.row.right() - start - 2
        called = p.name if bold.horizontalAdvance(p.name) <= wide else p.short
        called = bold.elidedText(called, Qt.TextElideMode.ElideRight, wide)
        painter.drawText(QRectF(start, top, wide, line), Qt.AlignmentFlag.AlignVCenter, called)
        painter.setFont(theme.face(9 * k))
        number = metrics.horizontalAdvance("12") + 3
        for n, item in enumerate(items):
            x = left + (n // rows) * width / across
            y = max(top + line, slot.box.center().y() - rows / 2 * line) + n % rows * line
            painter.setPen(theme.colour("on_surround"))
            words = "t" if item.parts == TOUCH else parts_words(item.parts)
            alike = Qt.AlignmentFlag.AlignVCenter
            painter.drawText(QRectF(x, y, number, line), Qt.AlignmentFlag.AlignRight | alike, words)
            bead = QRectF(x + number + 4, y + line / 2 - 4 * k, 11 * k, 8 * k)
            painter.fillPath(ribbon(bead), paint_colour(self._lab_of(item)))
            room = width / across - number - 17 * k
            if room >= 20:
                said = metrics.elidedText(_brief(item.name, metrics, room), Qt.TextElideMode.ElideRight, room + 2)
                painter.drawText(QRectF(bead.right() + 3, y, room + 2, line), alike, said)


class _Sideways(QScrollArea):
    """Tells the view how high the whole is, the bar at its foot counted."""

    def __init__(self, view: StringsView) -> None:
        super().__init__()
        self.view = view

    def resizeEvent(self, event: object) -> None:
        self.view.scrolled_height = float(self.height())
        super().resizeEvent(event)  # type: ignore[arg-type]


def _colour(base: Source, mixed: Mixed) -> Lab:
    """What a base pile looks like; a tint is told by its paint."""
    if base.is_tint:
        return mixed.tube(base.parts[-1][0]).lab
    return as_lab(layer_lab(*spectra([mixed.tube(i) for i, _ in base.shares], [c for _, c in base.shares])))


def _brief(name: str, metrics: QFontMetricsF, room: float) -> str:
    """A paint's name as long as there is room: whole, else with its words cut short, the leading ones the shortest."""
    words = name.split()
    tries = [name]
    if len(words) > 1:
        tries += [" ".join([*(_cut(w, n) for w in words[:-1]), words[-1]]) for n in (3, 1)]
        tries += [" ".join(_cut(w, 3) for w in words)]
        tries += [" ".join([_cut(words[0], 3), _cut(words[1], 3)]), " ".join([_cut(words[0], 1), _cut(words[1], 3)])]
    else:
        tries += [_cut(name, 5), _cut(name, 3)]
    return next((t for t in tries if metrics.horizontalAdvance(t) <= room), tries[-1])


def _cut(word: str, letters: int) -> str:
    return word if len(word) <= letters + 1 else f"{word[:letters]}."


def _item(p: Pile) -> Item:
    recipe = ", ".join(i.said for i in p.recipe.ingredients)
    said = [f"value {numbers.value(p.target.value)}", recipe]
    if p.nearness.grade != MATCHES:
        said.append(p.nearness.words)
    if p.pinned:
        said.append("kept")
    return Item(p.id, p.name, ", ".join(said), f"{recipe}\n{p.recipe.why}")
