"""The notes on the scale: a dab each, tied to its exact value, its name beside it; names give way where there is no
room for them."""

import functools
from dataclasses import dataclass, field

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPen

from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.document.document import SUBJECTS, Note
from ochre_stone.desktop.scale.axis import BOTTOM, TOP, lanes, ramp, spread_apart, y_of
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.items import Item
from ochre_stone.desktop.widgets.shapes import dab, halves, ink_on, paint_colour

_TIE, _DAB_LEFT = 18.0, 34.0
"""From the ramp's left edge: where the lines to the exact values begin, and the dabs."""
_DAB_WIDE, _DAB_HIGH, _GAP = 33.0, 22.0, 26.0


def _dabs_left() -> float:
    return ramp() + _DAB_LEFT


def tie() -> float:
    """Where the lines to the exact values begin."""
    return ramp() + _TIE


_SMALL = 15.0
_FAR = 12.0
"""Pixels that a dab without its name may stand off its value."""


@functools.lru_cache(maxsize=4096)
def value_of(lightness: float) -> float:
    """Munsell value of a CIELAB lightness."""
    return float(value_of_lightness(min(lightness, 100.0)))


@dataclass(frozen=True)
class Dabs:
    """Notes as they are to stand on the scale."""

    notes: tuple[Note, ...] = ()
    targets: dict[str, Lab] = field(default_factory=dict)
    """What is to be mixed for each note, where that is to be seen."""
    mixtures: dict[str, Lab] = field(default_factory=dict)
    """The pile that stands for each note, where that is to be seen."""
    without_pile: frozenset[str] = frozenset()
    names: bool = True
    small: bool = False
    """Whether they stand at the edge of something else."""
    by_subject: bool = False

    def ordered(self) -> tuple[Note, ...]:
        """From light to dark, or so within each subject: as they stand from the top."""
        if self.by_subject:
            return tuple(sorted(self.notes, key=lambda n: (SUBJECTS.index(n.subject), -n.lab[0])))
        return tuple(sorted(self.notes, key=lambda n: -n.lab[0]))

    def marks(self, note: Note) -> list[str]:
        """What the note's marks say, in words."""
        said = []
        if note.locked:
            said.append("locked")
        if note.unreliable:
            said.append(f"unreliable: {note.unreliable}" if isinstance(note.unreliable, str) else "unreliable")
        if len(note.pair) == 2 and note.part == "all":
            said.append("two colours in one spot")
        if note.source == "reader":
            said.append("from the reader")
        if note.id in self.without_pile:
            said.append("no pile of its own yet")
        return said

    def items(self) -> list[Item]:
        """What is said of each, from the top."""
        out = []
        for n in self.ordered():
            said = ", ".join([f"value {numbers.value(value_of(n.lab[0]))}", n.subject, *self.marks(n)])
            out.append(Item(n.id, n.name, said))
        return out


@dataclass(frozen=True)
class DabPlace:
    """Where a note stands."""

    dab: QRectF
    row: QRectF
    """What belongs to it: dab and name."""
    named: bool


@dataclass(frozen=True)
class Column:
    """Where all stand, and the subjects' headings."""

    places: tuple[DabPlace, ...]
    heads: tuple[tuple[str, float], ...] = ()


def column(dabs: Dabs, width: float, height: float, left: float = 0.0) -> Column:
    """Lay the notes out for a scale of that size; small ones, without names, from ``left`` on."""
    notes = dabs.ordered()
    line = QFontMetricsF(theme.face(9)).height()
    low, high = TOP - 8.0, height - BOTTOM + 8.0
    if dabs.small:
        return _crowd(dabs, left, width, height, _SMALL * 1.2, _SMALL)
    heads = list(dict.fromkeys(n.subject for n in notes)) if dabs.by_subject else []
    rows = len(notes) + len(heads)
    room = (high - low) / max(rows, 1)
    named = dabs.names and room >= line + 1 and width >= 150
    if not named:
        return _crowd(dabs, _dabs_left() - 10, width, height, theme.sized(_DAB_WIDE), theme.sized(_DAB_HIGH))
    gap = min(theme.sized(_GAP), room)
    tall = min(theme.sized(_DAB_HIGH), gap - 1)
    if dabs.by_subject:
        return _grouped(notes, width, low, gap, tall)
    exact = [y_of(value_of(n.lab[0]), height) for n in notes]
    centres = spread_apart(exact, gap, low + gap / 2, high - gap / 2)
    return Column(tuple(_named(y, width, gap, tall) for y in centres))


def _named(y: float, width: float, gap: float, tall: float) -> DabPlace:
    return DabPlace(
        QRectF(_dabs_left(), y - tall / 2, theme.sized(_DAB_WIDE), tall),
        QRectF(_dabs_left() - 4, y - gap / 2, width - _dabs_left() + 4, gap),
        True,
    )


def _grouped(notes: tuple[Note, ...], width: float, low: float, gap: float, tall: float) -> Column:
    """One subject under another, each from light to dark."""
    places, heads, y, last = [], [], low, ""
    for n in notes:
        if n.subject != last:
            heads.append((n.subject, y + gap / 2))
            last, y = n.subject, y + gap
        places.append(_named(y + gap / 2, width, gap, tall))
        y += gap
    return Column(tuple(places), tuple(heads))


def _crowd(dabs: Dabs, left: float, width: float, height: float, wide: float, tall: float) -> Column:
    """Dabs alone, side by side where they are of one value."""
    notes = sorted(dabs.notes, key=lambda n: -n.lab[0])
    exact = [y_of(value_of(n.lab[0]), height) for n in notes]
    count = max(int((width - left - 2) // (wide + 3)), 1)
    low, high, gap = TOP - 8 + tall / 2, height - BOTTOM + 8 - tall / 2, tall
    found = lanes(exact, gap, count, low, high)
    while gap > 2 and max((abs(y - e) for (_, y), e in zip(found, exact, strict=True)), default=0) > _FAR:
        gap *= 0.8  # rather upon each other than away from their values
        found = lanes(exact, gap, count, low, high)
    at = {n.id: QRectF(left + k * (wide + 3), y - tall / 2, wide, tall) for n, (k, y) in zip(notes, found, strict=True)}
    return Column(tuple(DabPlace(at[n.id], at[n.id].adjusted(-1, -1, 1, 1), False) for n in dabs.ordered()))


def paint_dabs(painter: QPainter, dabs: Dabs, col: Column, size: tuple[float, float], held: str | None) -> None:
    """Draw ties, dabs, names and marks on a scale of that width and height."""
    width, height = size
    notes = dabs.ordered()
    ink = theme.colour("on_surround")
    painter.setFont(theme.face(9, bold=True))
    painter.setPen(ink)
    for word, y in col.heads:
        painter.drawText(QRectF(_dabs_left(), y - 9, width - _dabs_left() - 4, 18), Qt.AlignmentFlag.AlignVCenter, word)
    if not dabs.by_subject:
        faint = theme.colour("on_surround")
        faint.setAlpha(150)
        for n, place in zip(notes, col.places, strict=True):
            if place.named:
                bold = n.id == held
                painter.setPen(QPen(ink if bold else faint, 1.6 if bold else 1))
                exact = y_of(value_of(n.lab[0]), height)
                painter.drawLine(QPointF(tie() - 5, exact), QPointF(tie() + 3, exact))
                painter.drawLine(QPointF(tie() + 3, exact), QPointF(place.dab.left() + 2, place.dab.center().y()))
    for n, place in zip(notes, col.places, strict=True):
        _paint_dab(painter, dabs, n, place, n.id == held)
    for n, place in zip(notes, col.places, strict=True):
        if place.named:
            _paint_name(painter, dabs, n, place, width, n.id == held)
        elif n.id == held:
            _paint_ring(painter, n, place)
            if not dabs.small:
                _paint_below(painter, n, width, height)


def _paint_below(painter: QPainter, note: Note, width: float, height: float) -> None:
    """The name of the one in hand, at the foot of a scale that has no room for names."""
    painter.setFont(theme.face(9, bold=True))
    painter.setPen(theme.colour("on_surround"))
    words = f"{numbers.value(value_of(note.lab[0]))}  {note.name}"
    words = QFontMetricsF(painter.font()).elidedText(words, Qt.TextElideMode.ElideRight, width - tie())
    box = QRectF(tie(), height - BOTTOM + 2, width - tie(), BOTTOM - 2)
    painter.drawText(box, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, words)


def _paint_ring(painter: QPainter, note: Note, place: DabPlace) -> None:
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(theme.colour("accent"), 2.2))
    painter.drawPath(dab(note.id, place.dab.adjusted(-4, -4, 4, 4)))


def _paint_dab(painter: QPainter, dabs: Dabs, note: Note, place: DabPlace, held: bool) -> None:
    path = dab(note.id, place.dab)
    target = dabs.targets.get(note.id, note.lab)
    mixture = dabs.mixtures.get(note.id)
    shown = note.lab
    if mixture is not None:
        halves(painter, path, target, mixture)
        shown = target
    elif target != note.lab:
        halves(painter, path, note.lab, target)
        shown = target
    else:
        painter.fillPath(path, paint_colour(note.lab))
    if held and place.named:
        _paint_ring(painter, note, place)
    if place.dab.height() >= 13 and place.dab.width() >= 26:
        painter.setFont(theme.face(9, bold=True))
        painter.setPen(ink_on(shown))
        painter.drawText(place.dab, Qt.AlignmentFlag.AlignCenter, numbers.value(value_of(note.lab[0])))
    if dabs.marks(note):
        _paint_marks(painter, dabs, note, place)


def _paint_marks(painter: QPainter, dabs: Dabs, note: Note, place: DabPlace) -> None:
    """At the dab's left shoulder a lock; at its right what else there is to say, as one sign."""
    ink, box = theme.colour("on_surround"), place.dab
    if note.locked:
        body = QRectF(box.left() - 8, box.center().y() - 1, 7, 6)
        painter.fillRect(body, ink)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(ink, 1.3))
        painter.drawArc(QRectF(body.left() + 1, body.top() - 4, 5, 8), 0, 180 * 16)
    sign = _sign(dabs, note)
    if sign and not place.named:  # beside a name it stands before the name
        painter.setFont(theme.face(8, bold=True))
        painter.setPen(ink)
        painter.drawText(QRectF(box.right() - 4, box.top() - 9, 16, 14), Qt.AlignmentFlag.AlignLeft, sign)


def _sign(dabs: Dabs, note: Note) -> str:
    sign = "!" if note.unreliable or (len(note.pair) == 2 and note.part == "all") else ""
    sign += "r" if note.source == "reader" else ""
    return sign + ("○" if note.id in dabs.without_pile else "")


def _paint_name(painter: QPainter, dabs: Dabs, note: Note, place: DabPlace, width: float, held: bool) -> None:
    sign = _sign(dabs, note)
    left = place.dab.right() + 7
    painter.setPen(theme.colour("on_surround"))
    if sign:
        painter.setFont(theme.face(9, bold=True))
        box = QRectF(place.dab.right() + 5, place.row.top(), 20, place.row.height())
        painter.drawText(box, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, sign)
        left += QFontMetricsF(painter.font()).horizontalAdvance(sign) + 2
    painter.setFont(theme.face(9, bold=held))
    room = width - left - 2
    name = QFontMetricsF(painter.font()).elidedText(note.name, Qt.TextElideMode.ElideRight, room)
    painter.drawText(
        QRectF(left, place.row.top(), room + 2, place.row.height()),
        Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter,
        name,
    )
