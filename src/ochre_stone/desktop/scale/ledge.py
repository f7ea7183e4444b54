"""The ledge: notes as dabs along a value axis from dark to light, crowded ones climb; from Mix on, target above
mixture."""

import functools

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QWidget

from ochre_stone.core.colour.munsell import lightness_of_value, value_of_lightness
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.project.document import SUBJECTS, Note
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.parts import plain
from ochre_stone.desktop.widgets.shapes import dab, halves, ink_on, paint_colour

_AXIS = 24
_LANE = 41
_LEAST_LANES, _MOST_LANES = 2, 4
_LOW_WINDOW = 760
_DAB = QSize(38, 27)
_NAME = 13
_NAME_ROOM = 84
_SIDE = 30
_GREYS: list[Lab] = [(lightness, 0.0, 0.0) for lightness in lightness_of_value(np.arange(100) / 10 + 0.05).tolist()]
"""One for every tenth of a value, in its middle."""


def _value(note: Note) -> float:
    return _value_of(note.lab[0])


@functools.lru_cache(maxsize=2048)
def _value_of(lightness: float) -> float:
    return float(value_of_lightness(min(lightness, 100.0)))


def _number(note: Note) -> str:
    return numbers.value(_value(note))


class Ledge(QWidget):
    """A row of dabs; one is in hand."""

    chosen = pyqtSignal(str)
    remove_asked = pyqtSignal(str)
    rename_asked = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Ledge: the notes from dark to light")
        self.setMouseTracking(True)
        self._notes: list[Note] = []
        self.by_subject = False
        """Grouped by subject, from dark to light within each; else all along the value axis."""
        self._targets: dict[str, Lab] = {}
        self._mixtures: dict[str, Lab] = {}
        self._selected: str | None = None
        self.hint = ""
        self._shown: object = None
        self._lanes = _LEAST_LANES
        self._fit_height()

    def show_notes(
        self, notes: tuple[Note, ...], targets: dict[str, Lab], mixtures: dict[str, Lab], selected: str | None
    ) -> None:
        """Notes with their target colours and, from Mix on, the mixture that comes nearest."""
        shown = notes, targets, mixtures, selected, self.by_subject, numbers.school(), self.width()
        if shown == self._shown:
            return
        self._shown = shown
        if self.by_subject:
            self._notes = sorted(notes, key=lambda n: (SUBJECTS.index(n.subject), n.lab[0]))
        else:
            self._notes = sorted(notes, key=lambda n: n.lab[0])
        self._targets, self._mixtures, self._selected = targets, mixtures, selected
        self.setAccessibleDescription("; ".join(f"{_number(n)} {n.name}" for n in self._notes) or self.hint)
        self._fit_height()
        QTimer.singleShot(0, self._paint)  # in a turn of its own: what was asked for beside it is painted first

    def _paint(self) -> None:
        self.update()

    def _fit_height(self) -> None:
        """As many lanes as the notes need, fewer in a low window: what the ledge leaves, the picture gets."""
        window = self.window()
        most = _MOST_LANES - 1 if window is not None and window.height() < _LOW_WINDOW else _MOST_LANES
        for lanes in range(_LEAST_LANES, most + 1):
            self._lanes = lanes
            if self._crowded() == 0:
                break
        self.setFixedHeight(_AXIS + _LANE * self._lanes + 6)

    def _crowded(self) -> int:
        """How many dabs lie on another."""
        boxes = [box for _, box in self.places()]
        return sum(a.adjusted(2, 2, -2, -2).intersects(b) for i, a in enumerate(boxes) for b in boxes[i + 1 :])

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._fit_height()

    def _x(self, value: float) -> float:
        return _SIDE + value / 10 * (self.width() - 2 * _SIDE)

    def _stands(self) -> list[float]:
        """Where each note stands: at its value on the axis, or in its subject's row."""
        if not self.by_subject:
            return [self._x(_value(n)) for n in self._notes]
        step = (self.width() - 2 * _SIDE) / max(len(self._notes), 1)
        return [_SIDE + (i + 0.5) * step for i in range(len(self._notes))]

    def places(self) -> list[tuple[Note, QRectF]]:
        """Each note and its dab's box: at its place along the ledge, in the lowest lane with room."""
        taken: list[list[float]] = [[] for _ in range(self._lanes)]
        out = []
        half = _DAB.width() / 2
        for n, stand in zip(self._notes, self._stands(), strict=True):
            x = min(max(stand, half + 2), self.width() - half - 2)
            lane = None
            for gap in (
                _NAME_ROOM,
                half * 2 + 6,
            ):  # room for the whole name if there is any, else for the dab
                lane = next((i for i in range(self._lanes) if all(abs(x - t) >= gap for t in taken[i])), None)
                if lane is not None:
                    break
            if lane is None:  # all crowded: the lane whose nearest dab is farthest
                lane = max(range(self._lanes), key=lambda i: min(abs(x - t) for t in taken[i]))
            taken[lane].append(x)
            bottom = self.height() - _AXIS - _NAME - lane * _LANE
            out.append((n, QRectF(x - half, bottom - _DAB.height(), _DAB.width(), _DAB.height())))
        return out

    def _at(self, at: QPointF) -> str | None:
        for n, box in reversed(self.places()):
            if box.adjusted(-4, -4, 4, 16).contains(at):
                return n.id
        return None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and (note := self._at(event.position())) is not None:
            self.chosen.emit(note)

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and (note := self._at(event.position())) is not None:
            self.rename_asked.emit(note)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            found = self._at(event.position())
            self.setCursor(Qt.CursorShape.PointingHandCursor if found else Qt.CursorShape.ArrowCursor)
            name = next((n.name for n in self._notes if n.id == found), "")
            self.setToolTip(plain(name))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None or not self._notes:
            return super().keyPressEvent(event)
        ids = [n.id for n in self._notes]
        here = ids.index(self._selected) if self._selected in ids else -1
        if event.key() in (Qt.Key.Key_Right, Qt.Key.Key_Up):
            self.chosen.emit(ids[min(here + 1, len(ids) - 1)])
        elif event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Down):
            self.chosen.emit(ids[max(here - 1, 0)])
        elif event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and here >= 0:
            self.remove_asked.emit(ids[here])
        elif event.key() == Qt.Key.Key_F2 and here >= 0:
            self.rename_asked.emit(ids[here])
        else:
            super().keyPressEvent(event)
        return None

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surround"))
        self._paint_axis(painter)
        if not self._notes:
            painter.setPen(theme.colour("on_surround"))
            painter.setFont(theme.face(11))
            painter.drawText(self.rect().adjusted(20, 0, -20, -_AXIS), Qt.AlignmentFlag.AlignCenter, self.hint)
            return
        places = self.places()
        for n, box in places:
            row = [b.center().x() for m, b in places if m is not n and abs(b.top() - box.top()) < 2]
            room = min((abs(x - box.center().x()) for x in row), default=200.0)
            self._paint_dab(painter, n, box, min(room - 3, 130.0))

    def _paint_axis(self, painter: QPainter) -> None:
        y = self.height() - _AXIS
        if self.by_subject:
            self._paint_subjects(painter, y)
            self._paint_focus(painter)
            return
        last = self._x(0)
        for v in range(100):  # a grey scale in tenths of a value, true to the number under it
            x = self._x((v + 1) / 10)
            painter.fillRect(QRectF(last, y, x - last + 0.6, 6), paint_colour(_GREYS[v]))
            last = x
        painter.setFont(theme.face(9))
        painter.setPen(theme.colour("on_surround"))
        for mark, word in numbers.ticks():
            painter.drawText(QRectF(self._x(mark) - 20, y + 6, 40, _AXIS - 6), Qt.AlignmentFlag.AlignCenter, word)
        self._paint_focus(painter)

    def _paint_subjects(self, painter: QPainter, y: float) -> None:
        """A bracket and a word under each subject's notes."""
        painter.setFont(theme.face(9))
        painter.setPen(theme.colour("on_surround"))
        stands = self._stands()
        half = (self.width() - 2 * _SIDE) / max(len(stands), 1) / 2
        for subject in dict.fromkeys(n.subject for n in self._notes):
            own = [x for n, x in zip(self._notes, stands, strict=True) if n.subject == subject]
            left, right = own[0] - half + 3, own[-1] + half - 3
            painter.drawLine(QPointF(left, y + 2), QPointF(right, y + 2))
            box = QRectF(left - 12, y + 5, right - left + 24, _AXIS - 6)
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, subject)

    def _paint_focus(self, painter: QPainter) -> None:
        if self.hasFocus():
            painter.setPen(QPen(theme.colour("accent"), 2))
            painter.drawLine(QPointF(0, 1), QPointF(self.width(), 1))

    def _paint_dab(self, painter: QPainter, note: Note, box: QRectF, room: float) -> None:
        path = dab(note.id, box)
        target = self._targets.get(note.id, note.lab)
        mixture = self._mixtures.get(note.id)
        if mixture is not None:
            halves(painter, path, target, mixture)
        elif target != note.lab:
            halves(painter, path, note.lab, target)
        else:
            painter.fillPath(path, paint_colour(note.lab))
        if note.id == self._selected:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(theme.colour("accent"), 2))
            painter.drawPath(dab(note.id, box.adjusted(-5, -5, 5, 5)))
        painter.setFont(theme.face(9, bold=True))
        painter.setPen(ink_on(target))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, _number(note))
        self._paint_signs(painter, note, box)
        painter.setFont(theme.face(8, bold=note.id == self._selected))
        painter.setPen(QColor(theme.current().on_surround))
        metrics = QFontMetricsF(painter.font())
        name = metrics.elidedText(note.name, Qt.TextElideMode.ElideRight, room)
        painter.drawText(
            QRectF(box.center().x() - 66, box.bottom() - 1, 132, _NAME + 2),
            Qt.AlignmentFlag.AlignHCenter,
            name,
        )

    def _paint_signs(self, painter: QPainter, note: Note, box: QRectF) -> None:
        """Small signs at the dab's shoulder: a lock, an exclamation mark where it is unreliable, r from the reader."""
        sign = "!" if note.unreliable or (len(note.pair) == 2 and note.part == "all") else ""
        sign += "r" if note.source == "reader" else ""
        painter.setPen(theme.colour("on_surround"))
        painter.setFont(theme.face(8.5, bold=True))
        if sign:
            off = 7 if note.id == self._selected else 1
            at = QRectF(box.right() + off, box.center().y() - 8, 16, 14)
            painter.drawText(at, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, sign)
        if note.locked:
            body = QRectF(box.left() - 7, box.top() + 1, 7, 5)
            painter.fillRect(body, theme.colour("on_surround"))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(theme.colour("on_surround"), 1.3))
            painter.drawArc(QRectF(body.left() + 1, body.top() - 4, 5, 8), 0, 180 * 16)
