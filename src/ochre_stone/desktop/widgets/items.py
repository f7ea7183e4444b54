"""Things that are drawn by hand and yet are items: each has a place, a name and a state that a screen reader is told,
and one of them is in hand."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from PyQt6.QtCore import QAbstractListModel, QModelIndex, QPoint, QRect, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QRegion, QResizeEvent, QWheelEvent
from PyQt6.QtWidgets import QAbstractItemView, QFrame, QListView, QWidget

from ochre_stone.desktop.widgets.parts import plain

_ROLES = Qt.ItemDataRole


@dataclass(frozen=True)
class Item:
    """One thing that is drawn."""

    id: str
    name: str
    state: str = ""
    """What is said of it beside its name: value, locked, and so on."""
    tip: str = ""


class _Model(QAbstractListModel):
    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.items: tuple[Item, ...] = ()

    def replace(self, items: tuple[Item, ...]) -> None:
        """Other items; where only words are others, the places in the list stay."""
        if [i.id for i in items] == [i.id for i in self.items]:
            self.items = items
            if items:
                self.dataChanged.emit(self.index(0), self.index(len(items) - 1))
            return
        self.beginResetModel()
        self.items = items
        self.endResetModel()

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self.items)

    def data(self, index: QModelIndex, role: int = _ROLES.DisplayRole) -> Any:
        if not index.isValid() or index.row() >= len(self.items):
            return None
        item = self.items[index.row()]
        if role in (_ROLES.DisplayRole, _ROLES.AccessibleTextRole):
            return f"{item.name}, {item.state}" if item.state else item.name
        if role == _ROLES.AccessibleDescriptionRole:
            return item.state
        if role == _ROLES.ToolTipRole:
            return plain(item.tip or (f"{item.name}: {item.state}" if item.state else item.name))
        return None


def toward_key(boxes: Sequence[QRectF], here: int, dx: int, dy: int) -> int:
    """Which of ``boxes`` is nearest from the one at ``here`` in a direction; that one itself where none lies there, the
    first where ``here`` is none."""
    if not 0 <= here < len(boxes):
        return 0
    start, best = boxes[here].center(), (1e18, here)
    for k, box in enumerate(boxes):
        step = box.center() - start
        along, across = step.x() * dx + step.y() * dy, abs(step.x() * dy) + abs(step.y() * dx)
        if k != here and along > 0.5:
            best = min(best, (along + 2.5 * across, k))
    return best[1]


class Items(QListView):
    """A view that draws its items itself. A subclass says where each lies and paints the viewport.

    One item is in hand; it is taken by a click or by keys, and told by ``taken``. Set from outside, nothing is told.
    """

    taken = pyqtSignal(str)
    """An item was taken in hand here, by its id."""
    opened = pyqtSignal(str)
    """An item was double-clicked, or Enter pressed on it."""

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._model = _Model(self)
        self.setModel(self._model)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName(name)
        self.setLayoutDirection(Qt.LayoutDirection.LeftToRight)  # what is drawn is not turned round, nor are its words
        self.setObjectName("drawn")

    # For the subclass

    def boxes(self) -> Sequence[QRectF]:
        """Where each item lies, in the order of the items."""
        raise NotImplementedError

    def set_items(self, items: Sequence[Item]) -> None:
        """The items that there are."""
        held = self.held
        self._model.replace(tuple(items))
        self.hold(held)
        self.viewport_().update()

    def viewport_(self) -> QWidget:
        """The widget that is painted and clicked."""
        found = self.viewport()
        assert found is not None
        return found

    # What is in hand

    @property
    def items(self) -> tuple[Item, ...]:
        return self._model.items

    @property
    def held(self) -> str | None:
        """Id of the item in hand."""
        row = self.currentIndex().row()
        return self._model.items[row].id if 0 <= row < len(self._model.items) else None

    def row_of(self, item_id: str | None) -> int:
        """Its place among the items, -1 for none."""
        return next((k for k, i in enumerate(self._model.items) if i.id == item_id), -1)

    def hold(self, item_id: str | None) -> None:
        """Take an item in hand from outside: shown and spoken, not told."""
        row = self.row_of(item_id)
        index = self._model.index(row) if row >= 0 else QModelIndex()
        if index != self.currentIndex():
            self.setCurrentIndex(index)
            self.viewport_().update()

    def take(self, item_id: str) -> None:
        """Take an item in hand here, and tell it."""
        self.hold(item_id)
        if self.held == item_id:
            self.taken.emit(item_id)

    def step(self, by: int) -> None:
        """The item that many further on, as far as there are any."""
        if self.items:
            row = self.row_of(self.held)
            new = min(max(row + by, 0), len(self.items) - 1) if row >= 0 else 0
            self.take(self.items[new].id)

    def walk(self, e: QKeyEvent) -> bool:
        """Take the item in hand that lies where an arrow key points; False for another key."""
        key = Qt.Key
        ways = {key.Key_Left: (-1, 0), key.Key_Right: (1, 0), key.Key_Up: (0, -1), key.Key_Down: (0, 1)}
        way = ways.get(Qt.Key(e.key()))
        if way is None or not self.items:
            return False
        self.take(self.items[toward_key(self.boxes(), self.row_of(self.held), *way)].id)
        return True

    def at(self, place: QPoint) -> str | None:
        """Id of the item drawn at a place, the last drawn first."""
        row = self.indexAt(place).row()
        return self.items[row].id if row >= 0 else None

    # What the toolkit asks

    def visualRect(self, index: QModelIndex) -> QRect:
        boxes = self.boxes() if index.isValid() else ()
        return boxes[index.row()].toAlignedRect() if 0 <= index.row() < len(boxes) else QRect()

    def indexAt(self, p: QPoint) -> QModelIndex:
        boxes = list(self.boxes())
        for row in reversed(range(len(boxes))):
            if boxes[row].contains(p.toPointF()):
                return self._model.index(row)
        return QModelIndex()

    def scrollTo(
        self, index: QModelIndex, hint: QAbstractItemView.ScrollHint = QAbstractItemView.ScrollHint.EnsureVisible
    ) -> None:
        """All is seen, or the scroll area around it sees to it."""

    def visualRegionForSelection(self, selection: Any) -> QRegion:
        return QRegion()

    def doItemsLayout(self) -> None:
        """The items lie where the subclass says."""

    def resizeEvent(self, e: QResizeEvent | None) -> None:
        self.viewport_().update()

    def mousePressEvent(self, e: QMouseEvent | None) -> None:
        found = self.at(e.position().toPoint()) if e is not None else None
        if found is not None:
            self.take(found)

    def mouseDoubleClickEvent(self, e: QMouseEvent | None) -> None:
        found = self.at(e.position().toPoint()) if e is not None else None
        if found is not None:
            self.opened.emit(found)

    def wheelEvent(self, e: QWheelEvent | None) -> None:
        """What is around it scrolls."""
        if e is not None:
            e.ignore()

    def keyPressEvent(self, e: QKeyEvent | None) -> None:
        if e is None:
            return
        if e.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.held is not None:
            self.opened.emit(self.held)
        else:
            e.ignore()

    def update(self, *_: Any) -> None:
        """Paint anew."""
        self.viewport_().update()

    def mouseReleaseEvent(self, e: QMouseEvent | None) -> None:
        """Nothing is dragged here."""

    def mouseMoveEvent(self, e: QMouseEvent | None) -> None:
        if e is not None:
            found = self.at(e.position().toPoint()) is not None
            self.viewport_().setCursor(Qt.CursorShape.PointingHandCursor if found else Qt.CursorShape.ArrowCursor)
