"""The painter's box in the window: loaded once, every change undoable and saved at once."""

from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QUndoCommand, QUndoStack

from ochre_stone.core.errors import OchreError
from ochre_stone.core.paint.box import PaintBox
from ochre_stone.core.store import boxfile


class _BoxChange(QUndoCommand):
    def __init__(self, keeper: "BoxKeeper", text: str, before: PaintBox, after: PaintBox) -> None:
        super().__init__(text)
        self.keeper, self.before, self.after = keeper, before, after

    def undo(self) -> None:
        self.keeper.put(self.after, self.before)

    def redo(self) -> None:
        self.keeper.put(self.before, self.after)


class BoxKeeper(QObject):
    """Holds the box; it outlives the project that is open."""

    changed = pyqtSignal()
    failed = pyqtSignal(str)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.box = PaintBox()
        self.undo = QUndoStack(self)
        self.wrong = ""
        """What was wrong with the file, for the window to tell once it stands."""
        try:
            self.box = boxfile.load_box()
        except OchreError as error:
            self.wrong = f"{error} It is kept beside as .damaged when you change your box."

    def change(self, text: str, box: PaintBox) -> None:
        """Make ``box`` the box as one undoable step."""
        if box != self.box:
            self.undo.push(_BoxChange(self, text, self.box, box))

    def attempt(self, text: str, make: Callable[[], PaintBox]) -> bool:
        """Change the box by ``make``; what is wrong is told in one sentence and changes nothing."""
        try:
            box = make()
        except OchreError as error:
            self.failed.emit(str(error))
            return False
        except ValueError as error:
            self.failed.emit(box_said(error))
            return False
        self.change(text, box)
        return True

    def put(self, before: PaintBox, after: PaintBox) -> None:
        """Make a change in the box as all windows have it by now, save and show it."""
        try:
            self.box = boxfile.change_box(before, after)
        except OchreError as error:
            self.box = boxfile.merged_boxes(before, after, self.box)
            self.failed.emit(str(error))
        self.wrong = ""
        self.changed.emit()

    def read_anew(self) -> None:
        """Another window changed the box, perhaps: show it as it is now."""
        try:
            now = boxfile.load_box()
        except OchreError:
            return  # told when this window changes it
        if now != self.box:
            self.box, self.wrong = now, ""
            self.changed.emit()


def box_said(error: ValueError) -> str:
    """A refused field in one sentence."""
    errors = getattr(error, "errors", None)
    if errors is None:
        return f"{error}."
    first = errors()[0]
    field = str(first["loc"][-1]).replace("_", " ") if first["loc"] else "this"
    words = str(first["msg"]).removeprefix("Value error, ")
    return f"{field.capitalize()}: {words[0].lower()}{words[1:]}."
