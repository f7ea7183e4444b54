"""What the hand does at the value scale."""

from PyQt6.QtCore import QEvent, QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent

from ochre_stone.desktop.scale import bands
from ochre_stone.desktop.scale.axis import value_at
from ochre_stone.desktop.scale.cuts import DIVISION, Cuts
from ochre_stone.desktop.scale.face import ScaleFace, Shows

_NEAR = 14.0  # screen pixels within which a handle is caught


class ValueScale(ScaleFace):
    """Everything stands at its value.

    Notes: up and down choose, F2 renames, Delete removes. At the masses the keys move the cut in hand (Shift is
    coarser), left and right choose one, L locks it.
    """

    remove_asked = pyqtSignal(str)
    rename_asked = pyqtSignal(str)
    note_chosen = pyqtSignal(str)
    tube_chosen = pyqtSignal(str)
    cuts_moved = pyqtSignal(tuple, int)
    """All thresholds, and which one was moved."""
    lock_asked = pyqtSignal(int)
    """A threshold is to be locked or freed."""
    chosen_changed = pyqtSignal(int)
    division_moved = pyqtSignal(float)

    def __init__(self) -> None:
        super().__init__()
        self.taken.connect(self._taken)
        self.opened.connect(self._opened)

    def _taken(self, item_id: str) -> None:
        if self.shows is Shows.TUBES:
            self.tube_chosen.emit(item_id)
        elif (index := Cuts.index(item_id)) is not None:
            self.choose(index)
        elif item_id != DIVISION:
            self.note_chosen.emit(item_id)

    def _opened(self, item_id: str) -> None:
        index = Cuts.index(item_id)
        if index is not None:
            self.lock_asked.emit(index)
        elif self.shows in (Shows.NOTES, Shows.DABS):
            self.rename_asked.emit(item_id)

    def choose(self, index: int) -> None:
        """Take a threshold in hand."""
        if self.cuts.choose(index):
            self.chosen_changed.emit(self.cuts.chosen)
        if self.shows is Shows.MASSES:
            self.hold(self.cuts.in_hand)
        self.update()

    def move_to(self, index: int, value: float) -> None:
        """Move a threshold, as far as its neighbours allow."""
        if self.cuts.moved(index, value):
            self.cuts_moved.emit(tuple(self.cuts.values), index)
            self._tell()

    def _divide(self, value: float) -> None:
        self.division_moved.emit(round(min(max(value, 0.1), 9.9), 2))

    def mousePressEvent(self, e: QMouseEvent | None) -> None:
        if e is None:
            return
        at = e.position()
        if self.shows is Shows.MASSES and at.x() < self._right + bands.grip() + 3:
            self._press_cut(at)
        else:
            super().mousePressEvent(e)

    def _press_cut(self, at: QPointF) -> None:
        if not self.cuts.values:
            return
        if self.cuts.divides and at.x() < bands.left() + 20 and abs(self.division_handle().y() - at.y()) < _NEAR:
            self._moves_division = True
            return
        near = min(range(len(self.cuts.values)), key=lambda i: abs(self._y(self.cuts.values[i]) - at.y()))
        if abs(self._y(self.cuts.values[near]) - at.y()) < _NEAR:
            self._dragged = near
            self.choose(near)

    def mouseMoveEvent(self, e: QMouseEvent | None) -> None:
        if e is None:
            return
        if self._moves_division:
            self._divide(value_at(e.position().y(), self.height()))
        elif self._dragged is not None:
            self.move_to(self._dragged, value_at(e.position().y(), self.height()))
        else:
            super().mouseMoveEvent(e)

    def mouseReleaseEvent(self, e: QMouseEvent | None) -> None:
        self._dragged, self._moves_division = None, False

    def mouseDoubleClickEvent(self, e: QMouseEvent | None) -> None:
        near = self.shows is Shows.MASSES and e is not None and bool(self.cuts.values)
        if near and e is not None and e.position().x() < self._right + bands.grip() + 3:
            if abs(self._y(self.cuts.values[self.cuts.chosen]) - e.position().y()) < _NEAR:
                self.lock_asked.emit(self.cuts.chosen)
        else:
            super().mouseDoubleClickEvent(e)

    def event(self, e: QEvent | None) -> bool:
        """Keep the key that locks for the scale, where the window would take it for a view."""
        if (
            isinstance(e, QKeyEvent)
            and e.type() == QEvent.Type.ShortcutOverride
            and self.shows is Shows.MASSES
            and not self.cuts.divides
            and e.key() == Qt.Key.Key_L
            and e.modifiers() == Qt.KeyboardModifier.NoModifier
        ):
            e.accept()
            return True
        return super().event(e)

    def keyPressEvent(self, e: QKeyEvent | None) -> None:
        if e is None:
            return
        if self.shows is Shows.MASSES:
            done = self._mass_key(e)
        else:
            done = self._item_key(e)
        if not done:
            e.ignore()

    def _item_key(self, e: QKeyEvent) -> bool:
        steps = {Qt.Key.Key_Up: -1, Qt.Key.Key_Left: -1, Qt.Key.Key_Down: 1, Qt.Key.Key_Right: 1,
                 Qt.Key.Key_Home: -len(self.items), Qt.Key.Key_End: len(self.items)}  # fmt: skip
        held, key = self.held, Qt.Key(e.key())
        notes = self.shows in (Shows.NOTES, Shows.DABS)
        if key in steps and self.items:
            self.step(steps[key])
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and held is not None and notes:
            self.remove_asked.emit(held)
        elif key == Qt.Key.Key_F2 and held is not None and notes:
            self.rename_asked.emit(held)
        else:
            return False
        return True

    def _mass_key(self, e: QKeyEvent) -> bool:
        if not self.cuts.values or self.cuts.plan is None:
            return False
        key = e.key()
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            coarse = bool(e.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            step = (0.5 if coarse else 0.1) * (1 if key == Qt.Key.Key_Up else -1)
            if self.cuts.divides:
                self._divide(self.cuts.division + step)
            else:
                self.move_to(self.cuts.chosen, self.cuts.values[self.cuts.chosen] + step)
        elif key in (Qt.Key.Key_PageUp, Qt.Key.Key_Right):
            self.choose(self.cuts.chosen + 1)
        elif key in (Qt.Key.Key_PageDown, Qt.Key.Key_Left):
            self.choose(self.cuts.chosen - 1)
        elif key == Qt.Key.Key_L and not self.cuts.divides:
            self.lock_asked.emit(self.cuts.chosen)
        else:
            return False
        return True

    # Drawing
