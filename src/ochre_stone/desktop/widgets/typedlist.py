"""A list that one also types into."""

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QFocusEvent
from PyQt6.QtWidgets import QComboBox, QCompleter, QWidget

from ochre_stone.desktop.widgets.parts import narrow


class TypedList(QComboBox):
    """What stands in it goes with the first letter that is typed; entries that hold the letters are offered."""

    entered = pyqtSignal()
    """Enter was pressed."""

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName(name)
        self.setEditable(True)
        self.setInsertPolicy(QComboBox.InsertPolicy.NoInsert)
        self.setMaxVisibleItems(16)
        narrow(self)
        finder = QCompleter(self.model(), self)
        finder.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        finder.setFilterMode(Qt.MatchFlag.MatchContains)
        self.setCompleter(finder)
        line = self.lineEdit()
        assert line is not None
        line.returnPressed.connect(self.entered)

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        super().focusInEvent(event)
        line = self.lineEdit()
        if line is not None and event is not None and event.reason() != Qt.FocusReason.PopupFocusReason:
            QTimer.singleShot(0, line.selectAll)  # after the click that brought the keys here
