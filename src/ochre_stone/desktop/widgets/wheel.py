"""The wheel: notes by hue and chroma, as large as their share; near-greys in the middle; the scheme as brackets
outside."""

import math
from collections.abc import Collection, Sequence

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen

from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import Lab, lch
from ochre_stone.core.colour.wheel import WheelName, wheel
from ochre_stone.core.document.document import Note
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.items import Item, Items
from ochre_stone.desktop.widgets.shapes import dab, halves, ink_on, paint_colour

_TOP_ANGLE = {"traditional": 120.0, "perceptual": 90.0}  # yellow stands on top of both
_FULL_CHROMA = 14.0
_NEUTRAL_CHROMA = 1.5
_BRACKET = 15.0  # half width of an arm in degrees


class WheelView(Items):
    """Draws notes and scheme; drag around it or left and right to turn the scheme; up and down go from note to note."""

    turned = pyqtSignal(float)
    note_chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__("Wheel with the notes and the scheme")
        self.setMinimumSize(QSize(300, 300))
        self._name: WheelName = "traditional"
        self._notes: list[tuple[Note, Lab]] = []
        self._arms: tuple[float, ...] = ()
        self._rotation = 0.0
        self._selected: str | None = None
        self._grip: float | None = None
        self._masses: Sequence[tuple[int, Lab, float]] = ()
        self._accents: Collection[int] = ()
        self._held_notes: Collection[str] = ()
        self.hint = ""
        self.taken.connect(self._taken)

    def show_notes(
        self,
        name: WheelName,
        notes: list[tuple[Note, Lab]],
        arms: tuple[float, ...],
        rotation: float,
        selected: str | None,
        masses: Sequence[tuple[int, Lab, float]] = (),
        accents: Collection[int] = (),
        held: Collection[str] = (),
    ) -> None:
        """Notes with their targets, and the arms of the scheme.

        ``masses``: number, mean colour and share of each mass; ``accents``: arms kept for accents; ``held``: notes that
        harmony leaves alone.
        """
        self._masses, self._accents, self._held_notes = masses, accents, held
        self._name, self._notes, self._arms, self._rotation, self._selected = (name, notes, arms, rotation, selected)
        said = [
            Item(n.id, n.name, f"{read(lab).name}{', left out of the harmony' if n.id in held else ''}")
            for n, lab in notes
        ]
        names = [
            Item(f"arm {k}", f"arm {k + 1} of {len(arms)}", f"{self._word(a)}{', for accents' if k in accents else ''}")
            for k, a in enumerate(arms)
        ]
        self.set_items([*said, *names])
        if not (self.held or "").startswith("arm"):
            self.hold(selected)

    def _word(self, angle: float) -> str:
        """The hue that stands nearest on the ring."""
        return min(wheel(self._name).labels(), key=lambda v: abs((v[0] - angle + 180) % 360 - 180))[1]

    def boxes(self) -> list[QRectF]:
        dabs = [self._dab_box(n, lab, i) for i, (n, lab) in enumerate(self._notes)]
        ends = [self.place(a, 1.04) for a in self._arms]
        return [*dabs, *(QRectF(p.x() - 14, p.y() - 14, 28, 28) for p in ends)]

    def _taken(self, item_id: str) -> None:
        if not item_id.startswith("arm"):
            self.note_chosen.emit(item_id)

    def _radius(self) -> float:
        # Words stand outside: wide ones at the sides, high ones above and below.
        return max(min(self.width() / 2 - theme.sized(78), self.height() / 2 - theme.sized(44)), 40.0)

    def _middle(self) -> QPointF:
        return QPointF(self.width() / 2, self.height() / 2)

    def place(self, angle: float, reach: float) -> QPointF:
        """Place on the widget of a wheel angle (degrees, clockwise) at ``reach`` of the radius."""
        a = math.radians(angle - _TOP_ANGLE[self._name] - 90)
        r = self._radius() * reach
        return self._middle() + QPointF(r * math.cos(a), r * math.sin(a))

    def _angle_at(self, at: QPointF) -> float:
        d = at - self._middle()
        return (math.degrees(math.atan2(d.y(), d.x())) + 90 + _TOP_ANGLE[self._name]) % 360

    def _note_place(self, lab: Lab, index: int) -> QPointF:
        r = read(lab)
        if r.chroma < _NEUTRAL_CHROMA:  # the middle circle, fanned out so that greys do not hide each other
            return self.place(float(wheel(self._name).angle(float(lch(lab)[2]))), 0.05 + 0.07 * (index % 2))
        return self.place(
            float(wheel(self._name).angle(float(lch(lab)[2]))), min(0.2 + 0.78 * r.chroma / _FULL_CHROMA, 0.97)
        )

    def _dab_box(self, note: Note, lab: Lab, index: int) -> QRectF:
        size = self._radius() * min(max(0.42 * math.sqrt(max(note.share, 0.004)), 0.07), 0.28)
        at = self._note_place(lab, index)
        return QRectF(at.x() - size, at.y() - size, 2 * size, 2 * size)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        at = event.position()
        d = at - self._middle()
        if self._arms and math.hypot(d.x(), d.y()) > self._radius() * 1.0:
            self._grip = self._angle_at(at) - self._rotation
            return
        super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._grip is not None:
            self.turned.emit((self._angle_at(event.position()) - self._grip) % 360)
        else:
            super().mouseMoveEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._grip = None

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        step = 1.0 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 5.0
        if event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right) and self._arms:
            self.turned.emit((self._rotation + (step if event.key() == Qt.Key.Key_Right else -step)) % 360)
        elif event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and self.items:  # from note to note, then to the arms
            self.step(1 if event.key() == Qt.Key.Key_Down else -1)
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self.viewport_())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surround"))
        ink = theme.colour("on_surround")
        faint = theme.colour("on_surround")
        faint.setAlpha(90)
        middle, radius = self._middle(), self._radius()
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(faint, 1))
        painter.drawEllipse(middle, radius, radius)
        painter.setPen(QPen(faint, 1, Qt.PenStyle.DotLine))
        painter.drawEllipse(middle, radius * 0.2, radius * 0.2)
        painter.setFont(theme.face(9.5))
        for angle, word in wheel(self._name).labels():
            painter.setPen(QPen(ink, 1.2))
            painter.drawLine(self.place(angle, 0.985), self.place(angle, 1.015))
            at = self.place(angle, 1.0)
            away = at - middle
            away /= math.hypot(away.x(), away.y())
            at += QPointF(away.x() * 48, away.y() * 27)
            words = word.split("-")
            box = QRectF(at.x() - 40, at.y() - 18, 80, 36)
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, "-\n".join(words) if len(words) > 1 else word)
        self._paint_scheme(painter)
        if not self._notes:
            painter.setPen(ink)
            painter.drawText(
                self.rect().adjusted(70, 0, -70, 0), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, self.hint
            )
        order = sorted(range(len(self._notes)), key=lambda i: -self._notes[i][0].share)
        for i in order:
            self._paint_note(painter, i)
        for number, lab, share in sorted(self._masses, key=lambda m: -m[2]):
            self._paint_mass(painter, number, lab, share)

    def _paint_scheme(self, painter: QPainter) -> None:
        """Each arm a bracket outside the ring, open toward the notes, and a thin ray through them."""
        accent = theme.colour("on_surround")
        for i, arm in enumerate(self._arms):
            painter.setPen(QPen(accent, 1, Qt.PenStyle.DashLine))
            painter.drawLine(self.place(arm, 0.2), self.place(arm, 1.0))
            path = QPainterPath(self.place(arm - _BRACKET, 1.02))
            for k in range(13):
                path.lineTo(self.place(arm - _BRACKET + 2 * _BRACKET * k / 12, 1.055))
            path.lineTo(self.place(arm + _BRACKET, 1.02))
            painter.setPen(QPen(theme.colour("accent") if self.hasFocus() else accent, 3))
            painter.drawPath(path)
            if i in self._accents:  # a single point in the bracket: for small notes only
                painter.setBrush(accent)
                painter.setPen(Qt.PenStyle.NoPen)
                painter.drawEllipse(self.place(arm, 1.085), 4, 4)
                painter.setBrush(Qt.BrushStyle.NoBrush)

    def _paint_mass(self, painter: QPainter, number: int, lab: Lab, share: float) -> None:
        """A mass as a square of cut paper with its number; small beside the notes, which hold the colour."""
        size = self._radius() * min(max(0.22 * math.sqrt(max(share, 0.004)), 0.06), 0.16)
        at = self._note_place(lab, number)
        box = QRectF(at.x() - size, at.y() - size, 2 * size, 2 * size)
        painter.fillRect(box, paint_colour(lab))
        painter.setPen(QPen(ink_on(lab), 1))
        painter.drawRect(box.adjusted(1.5, 1.5, -1.5, -1.5))
        painter.setFont(theme.face(9.5, bold=True))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, str(number))

    def _paint_note(self, painter: QPainter, index: int) -> None:
        note, target = self._notes[index]
        box = self._dab_box(note, target, index)
        if target != note.lab:
            start = self._note_place(note.lab, index)
            painter.setPen(QPen(paint_colour(note.lab), 2))
            painter.drawLine(start, box.center())
            halves(painter, dab(note.id, box), note.lab, target)
        else:
            painter.fillPath(dab(note.id, box), paint_colour(note.lab))
        if note.id in self._held_notes:  # pinned where it is
            painter.setBrush(ink_on(target))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.drawEllipse(box.center(), 3.5, 3.5)
        if note.id == self._selected:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(theme.colour("accent"), 2))
            painter.drawPath(dab(note.id, box.adjusted(-5, -5, 5, 5)))
