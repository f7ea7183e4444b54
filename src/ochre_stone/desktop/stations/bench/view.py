"""The bench as it is seen: piles at their values on the lines that run on from the scale, and the row made last."""

from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen

from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.desktop.scale.axis import BOTTOM, TOP, spread_apart, y_of
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.items import Item, Items
from ochre_stone.desktop.widgets.shapes import dab, ink_on, paint_colour, pile, stacked

_LEAST, _MOST = 56.0, 150.0
"""Width of the smallest and the largest pile, in pixels."""
_PER_ML = 82.0
_FLAT = 0.68
_RUNG = QSize(44, 30)
_ROW_SHARE = 0.58
"""Part of the width that a row takes where there is one."""


@dataclass(frozen=True)
class ShownPile:
    """One pile as it is drawn."""

    id: str
    name: str
    ml: float
    lab: Lab
    before: Lab | None = None
    wet: Lab | None = None
    words: str = ""
    """What is in it."""


@dataclass(frozen=True)
class ShownRung:
    """One mixture of a row as it is drawn."""

    lab: Lab
    words: str
    """Its parts, short."""
    said: str
    """The same in full."""


class BenchView(Items):
    """Piles and rungs; one is in hand. Arrow keys go from one to the next, Enter keeps a rung as a pile."""

    pile_taken = pyqtSignal(str)
    rung_opened = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__("The bench: piles at their values")
        self._piles: tuple[ShownPile, ...] = ()
        self._rungs: tuple[ShownRung, ...] = ()
        self._title = ""
        self._target: tuple[str, Lab] | None = None
        self.ground: Lab | None = None
        """What lies around the piles; None for the neutral grey."""
        self.hint = ""
        self.upper = "before"
        """What the upper half of a pile is."""
        self.taken.connect(self._was_taken)
        self.opened.connect(self._was_opened)

    def show_bench(
        self,
        piles: Sequence[ShownPile],
        in_hand: str,
        rungs: Sequence[ShownRung] = (),
        title: str = "",
        target: tuple[str, Lab] | None = None,
    ) -> None:
        """The piles and the one in hand, the row with its title (without a row: why there is none), and the target
        with its name."""
        self._piles, self._rungs, self._title, self._target = tuple(piles), tuple(rungs), title, target
        items = [
            Item(
                p.id, p.name, f"value {numbers.value(read(p.lab).value)}, {read(p.lab).name}, {p.ml:.2f} ml: {p.words}"
            )
            for p in piles
        ]
        items += [
            Item(
                f"rung-{k}",
                f"Mixture {k + 1} of the row",
                f"value {numbers.value(read(r.lab).value)}, {read(r.lab).name}: {r.said}",
            )
            for k, r in enumerate(rungs)
        ]
        self.set_items(items)
        self.setAccessibleDescription(self.hint if not items else title)
        self.hold(in_hand)
        self.update()

    # Where they stand

    def _room(self) -> tuple[float, float]:
        """Where piles end and the row begins."""
        wide = float(self.width())
        return (wide * (1 - _ROW_SHARE), wide * _ROW_SHARE) if self._rungs else (wide, 0.0)

    def boxes(self) -> list[QRectF]:
        return [*self._pile_boxes(), *self._rung_boxes()]

    def _pile_boxes(self) -> list[QRectF]:
        wide, _ = self._room()
        left = 64.0 if self._target is not None else 10.0
        n = len(self._piles)
        out = []
        step = (wide - left - 8) / max(n, 1)
        for k, p in enumerate(self._piles):
            size = min(max(_PER_ML * p.ml**0.5, _LEAST), _MOST, max(step - 6, 30.0))
            high = size * _FLAT
            y = y_of(read(p.lab).value, self.height())
            y = min(max(y, TOP + high / 2 - 6), self.height() - BOTTOM - high / 2 + 4)
            x = left + step * k + (min(step, _MOST + 30) - size) / 2
            out.append(QRectF(x, y - high / 2, size, high))
        return out

    def _rung_boxes(self) -> list[QRectF]:
        start, wide = self._room()
        n = len(self._rungs)
        if not n:
            return []
        step = (wide - 16) / n
        size = min(float(theme.sized(_RUNG.width())), max(step - 2, 18.0))
        high = float(theme.sized(_RUNG.height()))
        order = sorted(range(n), key=lambda i: -self._rungs[i].lab[0])
        if n * (high + 2) < self.height() * 2:  # side by side they need not keep clear of each other
            ys = {i: y_of(read(self._rungs[i].lab).value, self.height()) for i in range(n)}
        else:
            exact = [y_of(read(self._rungs[i].lab).value, self.height()) for i in order]
            ys = dict(zip(order, spread_apart(exact, 12, TOP, self.height() - BOTTOM), strict=True))
        low, most = TOP + high / 2, self.height() - BOTTOM - high / 2
        return [
            QRectF(start + 8 + step * k + (step - size) / 2, min(max(ys[k], low), most) - high / 2, size, high)
            for k in range(n)
        ]

    # Hands

    def _was_taken(self, item_id: str) -> None:
        if not item_id.startswith("rung-"):
            self.pile_taken.emit(item_id)

    def _was_opened(self, item_id: str) -> None:
        if item_id.startswith("rung-"):
            self.rung_opened.emit(int(item_id.removeprefix("rung-")))

    def mousePressEvent(self, e: QMouseEvent | None) -> None:
        super().mousePressEvent(e)
        if e is not None and self.at(e.position().toPoint()) is None:
            self.hold(None)
            self.pile_taken.emit("")

    def keyPressEvent(self, e: QKeyEvent | None) -> None:
        if e is not None and not self.walk(e):
            super().keyPressEvent(e)

    # Drawing

    def paintEvent(self, e: QPaintEvent | None) -> None:
        painter = QPainter(self.viewport_())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surround"))
        if self.ground is not None:
            painter.fillRect(self.rect(), paint_colour(self.ground))
        self._ink = theme.colour("on_surround") if self.ground is None else ink_on(self.ground)
        self._paint_lines(painter)
        if self._target is not None:
            self._paint_target(painter, *self._target)
        if not self._piles and not self._rungs:
            painter.setPen(self._ink)
            painter.setFont(theme.face(11))
            flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
            painter.drawText(self.rect().adjusted(70, 0, -40, 0), flags, self.hint)
        for p, box in zip(self._piles, self._pile_boxes(), strict=True):
            self._paint_pile(painter, p, box)
        if self._rungs:
            self._paint_row(painter)
        elif self._title:  # why there is none
            painter.setPen(self._ink)
            painter.setFont(theme.face(10, bold=True))
            painter.drawText(QRectF(12, 2, self.width() - 24.0, TOP - 6), Qt.AlignmentFlag.AlignVCenter, self._title)
        if self.hasFocus():
            painter.setPen(QPen(theme.colour("accent"), 2))
            painter.drawLine(QPointF(0, 1), QPointF(self.width(), 1))

    def _paint_lines(self, painter: QPainter) -> None:
        faint = self._ink
        faint = type(faint)(faint)
        faint.setAlpha(60)
        painter.setPen(QPen(faint, 1))
        for v, _ in numbers.ticks():
            y = round(y_of(v, self.height())) + 0.5
            painter.drawLine(QPointF(0, y), QPointF(self.width(), y))

    def _paint_target(self, painter: QPainter, name: str, lab: Lab) -> None:
        y = y_of(read(lab).value, self.height())
        y = min(max(y, TOP + 14), self.height() - BOTTOM - 14)
        box = QRectF(10, y - 15, 40, 30)
        painter.fillPath(dab("target", box), paint_colour(lab))
        painter.setPen(self._ink)
        painter.setFont(theme.face(9))
        painter.drawText(QRectF(4, box.top() - 16, 58, 15), Qt.AlignmentFlag.AlignLeft, "target")

    def _paint_pile(self, painter: QPainter, p: ShownPile, box: QRectF) -> None:
        path = pile(p.id, box)
        labs, splits = [p.lab], []
        if p.before is not None:
            labs, splits = [p.before, p.lab], [0.42]
        if p.wet is not None:
            labs, splits = [*labs, p.wet], [*splits, 0.8]
        stacked(painter, path, labs, splits)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if p.id == self.held:
            painter.setPen(QPen(theme.colour("accent"), 2.4))
            painter.drawPath(pile(p.id, box.adjusted(-6, -5, 6, 5)))
        painter.setPen(ink_on(p.lab))
        painter.setFont(theme.face(9.5, bold=True))
        inside = box.adjusted(0, box.height() * 0.4, 0, -box.height() * (0.18 if p.wet is not None else 0))
        painter.drawText(inside, Qt.AlignmentFlag.AlignCenter, numbers.value(read(p.lab).value))
        if p.before is not None and box.height() > 44:
            painter.setPen(ink_on(p.before))
            painter.setFont(theme.face(9))
            upper = QRectF(box.left(), box.top() + 2, box.width(), box.height() * 0.38)
            painter.drawText(upper, Qt.AlignmentFlag.AlignCenter, self.upper)
        painter.setPen(self._ink)
        painter.setFont(theme.face(9, bold=p.id == self.held))
        room = max(box.width() + 24, 60)
        name = QFontMetricsF(painter.font()).elidedText(p.name, Qt.TextElideMode.ElideRight, room)
        under = box.bottom() + 3 if box.bottom() + 20 < self.height() else box.top() - 18
        painter.drawText(QRectF(box.center().x() - room / 2, under, room, 15), Qt.AlignmentFlag.AlignCenter, name)

    def _paint_row(self, painter: QPainter) -> None:
        start, wide = self._room()
        painter.setPen(self._ink)
        painter.setFont(theme.face(10, bold=True))
        title = QFontMetricsF(painter.font()).elidedText(self._title, Qt.TextElideMode.ElideRight, wide - 20)
        painter.drawText(QRectF(start + 10, 2, wide - 20, TOP - 6), Qt.AlignmentFlag.AlignVCenter, title)
        faint = type(self._ink)(self._ink)
        faint.setAlpha(90)
        painter.setPen(QPen(faint, 1))
        painter.drawLine(QPointF(start, 4), QPointF(start, self.height() - 4))
        boxes = self._rung_boxes()
        for k, (r, box) in enumerate(zip(self._rungs, boxes, strict=True)):
            painter.fillPath(dab(f"rung {k}", box), paint_colour(r.lab))
            if f"rung-{k}" == self.held:
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.setPen(QPen(theme.colour("accent"), 2.4))
                painter.drawPath(dab(f"rung {k}", box.adjusted(-5, -4, 5, 4)))
            painter.setFont(theme.face(9))
            painter.setPen(self._ink)
            metrics = QFontMetricsF(painter.font())
            step = (wide - 16) / len(boxes)
            if metrics.horizontalAdvance(r.words) <= step + 4:
                under = QRectF(box.center().x() - step / 2, box.bottom() + 1, step, 14)
                painter.drawText(under, Qt.AlignmentFlag.AlignCenter, r.words)
