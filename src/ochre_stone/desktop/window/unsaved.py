"""Work that windows left unsaved: seen with its picture and time, brought back or deleted."""

import datetime
from collections.abc import Callable, Sequence

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import QDialog, QDialogButtonBox, QListWidget, QListWidgetItem, QPushButton, QVBoxLayout, QWidget

from ochre_stone.core.errors import one_line
from ochre_stone.core.store.safecopy import Left
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.asking import ask
from ochre_stone.desktop.widgets.image import untinted
from ochre_stone.desktop.widgets.parts import Words

_PICTURE = QSize(132, 96)
_NAME = 60
DELETE, KEEP = "Delete for good", "Keep"


def when(seconds: float) -> str:
    """A time in words: "27 November 2026, 14:32"."""
    moment = datetime.datetime.fromtimestamp(seconds)
    return f"{moment.day} {moment:%B %Y, %H:%M}"


class Unsaved(QDialog):
    """A list of left work; each stays until it is brought back and saved, or deleted."""

    wanted = pyqtSignal(object)
    """A :class:`Left` that is to be brought back."""

    def __init__(self, parent: QWidget, found: Sequence[Left], delete: Callable[[Left], bool]) -> None:
        super().__init__(parent)
        theme.style(self)
        self.delete = delete
        self.setObjectName("unsaved")
        self.setWindowTitle("Unsaved work")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.list = QListWidget()
        self.list.setIconSize(_PICTURE)
        self.list.setWordWrap(True)
        self.list.setAccessibleName("Unsaved work, the newest first")
        for left in found:
            self.list.addItem(_item(left))
        self.list.setCurrentRow(0)
        self.list.itemActivated.connect(lambda _: self._bring())
        self.bring_back, self.give_up = QPushButton("Bring back"), QPushButton("Delete…")
        self.bring_back.clicked.connect(self._bring)
        self.give_up.clicked.connect(self._delete)
        self.bring_back.setDefault(True)
        buttons = QDialogButtonBox()
        buttons.addButton(self.bring_back, QDialogButtonBox.ButtonRole.ActionRole)
        buttons.addButton(self.give_up, QDialogButtonBox.ButtonRole.ActionRole)
        later = buttons.addButton("Later", QDialogButtonBox.ButtonRole.RejectRole)
        assert later is not None
        later.clicked.connect(self.close)
        words = Words(
            "These windows ended before their work was saved. It is kept until you bring it back and save it, or "
            "delete it; later it is under File, Unsaved work."
        )
        words.setWordWrap(True)
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 14, 16, 14)
        column.setSpacing(10)
        column.addWidget(words)
        column.addWidget(self.list, 1)
        column.addWidget(buttons)
        self.resize(560, 420)

    def _left(self) -> Left | None:
        item = self.list.currentItem()
        left = item.data(Qt.ItemDataRole.UserRole) if item is not None else None
        return left if isinstance(left, Left) else None

    def _drop(self) -> None:
        self.list.takeItem(self.list.currentRow())
        if not self.list.count():
            self.close()

    def _bring(self) -> None:
        left = self._left()
        if left is not None:
            self._drop()
            self.wanted.emit(left)

    def _delete(self) -> None:
        left = self._left()
        if left is None:
            return
        if ask(self, f"Delete the unsaved work “{_short(left.title)}” of {when(left.time)}?", (DELETE, KEEP)) == DELETE:
            self.delete(left)
            self._drop()


def _short(title: str) -> str:
    return one_line(title, _NAME)


def _item(left: Left) -> QListWidgetItem:
    where = f"in {one_line(str(left.path.parent), 90)}" if left.path is not None else "never saved"
    since = "\nThe file was saved again since." if left.saved_since else ""
    item = QListWidgetItem(f"{_short(left.title)}\n{where}\nkept {when(left.time)}{since}")
    item.setData(Qt.ItemDataRole.UserRole, left)
    picture = QPixmap()
    if left.picture is not None and picture.loadFromData(left.picture):
        small = picture.scaled(_PICTURE, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation)
        item.setIcon(untinted(small))
    return item
