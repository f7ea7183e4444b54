"""The palette's tubes on the scale: ribbons at their values, names beside them."""

from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPen

from ochre_stone.core.colour.spaces import Lab
from ochre_stone.desktop.scale.axis import BOTTOM, TOP, ramp, spread_apart, y_of
from ochre_stone.desktop.scale.dabs import tie, value_of
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.items import Item
from ochre_stone.desktop.widgets.shapes import paint_colour, ribbon

_WIDE, _HIGH, _GAP = 30.0, 14.0, 24


@dataclass(frozen=True)
class OnScale:
    """A tube as it stands on the scale."""

    id: str
    name: str
    lab: Lab


def items(tubes: Sequence[OnScale]) -> list[Item]:
    """What is said of each."""
    return [Item(t.id, t.name, f"value {numbers.value(value_of(t.lab[0]))}") for t in tubes]


def boxes(tubes: Sequence[OnScale], width: float, height: float) -> list[QRectF]:
    """Where each lies with its name, for tubes from light to dark."""
    gap = float(theme.sized(_GAP))
    exact = [y_of(value_of(t.lab[0]), height) for t in tubes]
    centres = spread_apart(exact, gap, TOP - 8 + gap / 2, height - BOTTOM + 8 - gap / 2)
    tall = min((height - TOP - BOTTOM) / max(len(exact), 1) - 3, _HIGH)
    return [QRectF(ramp() + 34, y - tall / 2, width - ramp() - 38, tall) for y in centres]


def paint_ribbons(
    painter: QPainter, tubes: Sequence[OnScale], places: Sequence[QRectF], height: float, held: str | None
) -> None:
    """Draw each, tied to its exact value."""
    ink, faint = theme.colour("on_surround"), theme.colour("on_surround")
    faint.setAlpha(150)
    for t, box in zip(tubes, places, strict=True):
        exact = y_of(value_of(t.lab[0]), height)
        painter.setPen(QPen(faint, 1))
        painter.drawLine(QPointF(tie() - 5, exact), QPointF(tie() + 3, exact))
        painter.drawLine(QPointF(tie() + 3, exact), QPointF(box.left() + 2, box.center().y()))
        bead = QRectF(box.left(), box.top(), min(_WIDE, box.width()), box.height())
        painter.fillPath(ribbon(bead), paint_colour(t.lab))
        if t.id == held:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(theme.colour("accent"), 2))
            painter.drawPath(ribbon(bead.adjusted(-4, -4, 4, 4)))
        painter.setFont(theme.face(9, bold=t.id == held))
        painter.setPen(ink)
        room = box.right() - bead.right() - 8
        name = QFontMetricsF(painter.font()).elidedText(t.name, Qt.TextElideMode.ElideRight, room)
        words = QRectF(bead.right() + 8, box.center().y() - 9, room, 18)
        painter.drawText(words, Qt.AlignmentFlag.AlignVCenter, name)
