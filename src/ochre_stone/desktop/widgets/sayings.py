"""The words for how a pile is off: pressed once for a little, again for clearly, for a lot, and for not at all."""

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QGridLayout, QPushButton, QWidget

from ochre_stone.core.mixing.correcting.words import HOW_MUCH, WORDS, Saying
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.parts import set_tip

_COLUMNS = 4
_BAR, _GAP = 9.0, 3.0


class DegreeButton(QPushButton):
    """A word with three bars under it: as many are lit as it is said."""

    def __init__(self, words: str) -> None:
        super().__init__(words)
        self.setProperty("kind", "small")
        self.setMinimumWidth(0)
        self.degree = 0

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        if not self.degree:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        start = (self.width() - 3 * _BAR - 2 * _GAP) / 2
        for k in range(3):
            painter.setBrush(theme.colour("accent" if k < self.degree else "line"))
            painter.drawRoundedRect(QRectF(start + k * (_BAR + _GAP), self.height() - 6.5, _BAR, 3), 1.5, 1.5)


class SayingsView(QWidget):
    """All words in a grid."""

    changed = pyqtSignal()

    def __init__(self, saying: Saying) -> None:
        super().__init__()
        self.saying = saying
        self.grid = QGridLayout(self)
        self.grid.setContentsMargins(0, 0, 0, 0)
        self.grid.setSpacing(4)
        self.words: dict[str, DegreeButton] = {}
        for k, word in enumerate(WORDS):
            b = DegreeButton(word.removeprefix("too "))
            set_tip(b, f"{word.capitalize()}: press once for {', again for '.join(HOW_MUCH)}")
            self.grid.addWidget(b, k // _COLUMNS, k % _COLUMNS)
            b.clicked.connect(lambda _, w=word: self.press(w))
            self.words[word] = b
        self.refresh()

    def add(self, widget: QWidget) -> None:
        """Put what says them in the room that the words leave."""
        row, column = divmod(len(WORDS), _COLUMNS)
        self.grid.addWidget(widget, row, column, 1, _COLUMNS - column)

    def press(self, word: str) -> None:
        """Say a word, or more of it."""
        self.saying.press(word)
        self.refresh()
        self.changed.emit()

    def refresh(self) -> None:
        """Show what is said by now."""
        for word, b in self.words.items():
            b.degree = self.saying.degree(word)
            how = self.saying.said.get(word)
            b.setAccessibleName(f"{word}, {how}" if how else word)
            b.update()
