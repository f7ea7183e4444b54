"""What a palette reaches at one value: its outline by hue and chroma, the notes inside, and how far others are off."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter, QPainterPath, QPaintEvent, QPen, QPolygonF

from ochre_stone.core.colour.munsell import lightness_of_value
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.mixing.reach.slices import Slice
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.items import Item, Items
from ochre_stone.desktop.widgets.shapes import dab, ink_on, paint_colour

_FULL = 105.0
"""CIELAB a* and b* at the edge of the drawing."""
_SMALL = 58.0
_HUES = (("red", 25.0), ("yellow", 95.0), ("green", 160.0), ("blue", 265.0), ("violet", 315.0))


@dataclass(frozen=True)
class Dot:
    """One note at its place."""

    note_id: str
    name: str
    lab: Lab
    nearest: Lab
    inside: bool
    value: float


def _grey(value: float) -> Lab:
    return min(float(lightness_of_value(value)), 92.0), 0.0, 0.0


class SliceView(Items):
    """One slice large, all slices small below; left and right, or a click on a small one, choose the value."""

    value_chosen = pyqtSignal(float)
    note_chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__("What the palette reaches, by value")
        self.setMinimumSize(QSize(300, 320))
        self._slices: Sequence[Slice] = ()
        self._at = 4
        self._dots: Sequence[Dot] = ()
        self._selected: str | None = None
        self.hint = ""
        self.taken.connect(self._taken)

    def show_slices(self, slices: Sequence[Slice], value: float, dots: Sequence[Dot], selected: str | None) -> None:
        """All slices; the one at ``value`` is drawn large, with the notes within a quarter step of it."""
        self._slices, self._dots, self._selected = slices, dots, selected
        if slices:
            self._at = min(range(len(slices)), key=lambda i: abs(slices[i].value - value))
        near = [d.name for d in self._near()]
        self.setAccessibleDescription(
            f"Value {self._slices[self._at].value:g}; notes here: {', '.join(near) or 'none'}" if slices else self.hint
        )
        small = [
            Item(
                f"value {s.value:g}",
                f"slice at value {numbers.short(s.value)}",
                "shown" if s is slices[self._at] else "",
            )
            for s in self.whole()
        ]
        notes = [Item(d.note_id, d.name, "inside" if d.inside else "out of reach") for d in self._near()]
        self.set_items([*small, *notes])
        self.hold(selected if any(n.id == selected for n in notes) else None)

    def boxes(self) -> list[QRectF]:
        dots = [self._at_point(self._main(), d.lab[1], d.lab[2]) for d in self._near()]
        return [
            *(self.small(i) for i in range(len(self.whole()))),
            *(QRectF(p.x() - 12, p.y() - 12, 24, 24) for p in dots),
        ]

    def _taken(self, item_id: str) -> None:
        if item_id.startswith("value "):
            self.value_chosen.emit(float(item_id.removeprefix("value ")))
        else:
            self.note_chosen.emit(item_id)

    def _near(self) -> list[Dot]:
        return [d for d in self._dots if abs(d.value - self._slices[self._at].value) <= 0.26] if self._slices else []

    def _main(self) -> QRectF:
        side = min(self.width() - 24.0, self.height() - _SMALL - 56.0)
        return QRectF((self.width() - side) / 2, 34, side, side)

    @staticmethod
    def _at_point(box: QRectF, a: float, b: float) -> QPointF:
        half = box.width() / 2
        return QPointF(box.center().x() + a / _FULL * half, box.center().y() - b / _FULL * half)

    def whole(self) -> list[Slice]:
        """Slices at whole values: those that are shown small."""
        return [s for s in self._slices if float(s.value).is_integer()]

    def small(self, index: int) -> QRectF:
        """Where a small slice stands."""
        count = max(len(self.whole()), 1)
        wide = min((self.width() - 20.0) / count, _SMALL + 16)
        left = (self.width() - wide * count) / 2
        return QRectF(left + index * wide, self.height() - _SMALL - 16, wide, _SMALL + 14)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        notes = self._near()
        if event.key() == Qt.Key.Key_N and notes:  # from note to note of this slice
            ids = [d.note_id for d in notes]
            self.take(ids[(ids.index(self.held) + 1) % len(ids)] if self.held in ids else ids[0])
            return
        step = {Qt.Key.Key_Right: 1, Qt.Key.Key_Up: 1, Qt.Key.Key_Left: -1, Qt.Key.Key_Down: -1}.get(
            Qt.Key(event.key())
        )
        if step is None or not self._slices:
            super().keyPressEvent(event)
            return
        self.value_chosen.emit(self._slices[min(max(self._at + step, 0), len(self._slices) - 1)].value)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self.viewport_())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surround"))
        painter.setPen(theme.colour("on_surround"))
        if not self._slices:
            painter.setFont(theme.face(11))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, self.hint)
            return
        here = self._slices[self._at]
        painter.setFont(theme.face(12, bold=True))
        painter.drawText(
            QRectF(14, 8, self.width() - 28, 22),
            Qt.AlignmentFlag.AlignLeft,
            f"What can be mixed at value {numbers.value(here.value)}",
        )
        self._paint_main(painter, here, self._main())
        for i, s in enumerate(self.whole()):
            self._paint_small(painter, i, s)

    def _outline(self, box: QRectF, s: Slice) -> QPainterPath:
        path = QPainterPath()
        for outline in s.outlines:
            path.addPolygon(QPolygonF([self._at_point(box, a, b) for a, b in outline]))
            path.closeSubpath()
        return path

    def _paint_main(self, painter: QPainter, s: Slice, box: QRectF) -> None:
        painter.setPen(QPen(theme.colour("line"), 1))
        for chroma in (25, 50, 75, 100):
            r = chroma / _FULL * box.width() / 2
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(box.center(), r, r)
        path = self._outline(box, s)
        grey = paint_colour(_grey(s.value))
        painter.fillPath(path, grey)
        painter.setPen(QPen(theme.colour("on_surround"), 1.6))
        painter.drawPath(path)
        painter.setFont(theme.face(9))
        for word, hue in _HUES:
            a, b = (98 * f(math.radians(hue)) for f in (math.cos, math.sin))
            at = self._at_point(box, a, b)
            painter.drawText(QRectF(at.x() - 40, at.y() - 8, 80, 16), Qt.AlignmentFlag.AlignCenter, word)
        for d in self._near():
            at, to = self._at_point(box, d.lab[1], d.lab[2]), self._at_point(box, d.nearest[1], d.nearest[2])
            if not d.inside:
                painter.setPen(QPen(theme.colour("on_surround"), 1.4, Qt.PenStyle.DashLine))
                painter.drawLine(at, to)
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(paint_colour(d.nearest))
                painter.drawEllipse(to, 5, 5)
            shape = dab(d.note_id, QRectF(at.x() - 11, at.y() - 11, 22, 22))
            painter.fillPath(shape, paint_colour(d.lab))
            chosen = d.note_id == self._selected
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(theme.colour("accent" if chosen else "on_surround"), 2.4 if chosen else 1))
            painter.drawPath(shape)
            if not d.inside:
                painter.setPen(ink_on(d.lab))
                painter.setFont(theme.face(9, bold=True))
                painter.drawText(QRectF(at.x() - 11, at.y() - 11, 22, 22), Qt.AlignmentFlag.AlignCenter, "!")

    def _paint_small(self, painter: QPainter, index: int, s: Slice) -> None:
        box = self.small(index)
        if s is self._slices[self._at]:
            painter.setPen(QPen(theme.colour("accent"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(box.adjusted(1, 0, -1, 0), 4, 4)
        side = min(box.width() - 6, _SMALL - 6)
        inner = QRectF(box.center().x() - side / 2, box.top() + 2, side, side)
        path = self._outline(inner, s)
        painter.fillPath(path, paint_colour(_grey(s.value)))
        painter.setPen(QPen(theme.colour("on_surround"), 1))
        painter.drawPath(path)
        painter.setFont(theme.face(8.5))
        out = sum(not d.inside and abs(d.value - s.value) <= 0.5 for d in self._dots)
        words = numbers.short(s.value) + (f"  {out} !" if out else "")
        painter.drawText(QRectF(box.left(), box.bottom() - 15, box.width(), 14), Qt.AlignmentFlag.AlignCenter, words)
