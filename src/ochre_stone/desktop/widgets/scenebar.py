"""What the picture is seen as: the words over it of which one is chosen, and how the block-in is looked at."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QButtonGroup, QPushButton, QWidget

from ochre_stone.desktop.widgets.parts import button, enable, set_tip, signals_blocked

_GAP, _EDGE, _ROW = 4, 8, 34


@dataclass(frozen=True)
class SceneWord:
    """Something that the picture can be seen as."""

    key: str
    words: str
    tip: str
    round: bool = True
    """Whether the key that goes round comes by it."""
    why_not: str = ""
    """Why it cannot be seen now; "" where it can."""


PHOTO = SceneWord("photo", "Photo", "The picture as it is")
BLOCK_IN = SceneWord("block-in", "Block-in", "The picture laid in with exactly the piles of the plan")
MISSING = SceneWord("missing", "What is missing", "Where no pile comes near, in the colour that is missing")


class SceneBar(QWidget):
    """Stands over the picture, in two rows where one has not room for all words; or beside it, word under word."""

    chosen = pyqtSignal(str)
    alone_asked = pyqtSignal(bool)
    halves_asked = pyqtSignal(bool)
    note_asked = pyqtSignal()
    take_asked = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("sceneBar")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)  # the surround goes on behind the words
        self.setAccessibleName("What the picture is seen as")
        self.words: tuple[SceneWord, ...] = ()
        self.scenes: dict[str, QPushButton] = {}
        self._group = QButtonGroup(self)
        self.alone = self._own("Only this pile", "Its places in colour, all else grey (Shift+A)", True)
        self.alone.clicked.connect(lambda _: self.alone_asked.emit(self.alone.isChecked()))
        self.halves = self._own("Beside the photo", "The photo at the left of a border that you drag (Shift+B)", True)
        self.halves.clicked.connect(lambda _: self.halves_asked.emit(self.halves.isChecked()))
        self.note_it = self._own("Note it", "A note of the place in hand, as Suggest would take it; the plan follows")
        self.note_it.clicked.connect(lambda _: self.note_asked.emit())
        self.take_it = self._own("Take it", "Choose for the picture what is looked at (Enter)")
        self.take_it.clicked.connect(lambda _: self.take_asked.emit())
        self.hide()

    def _own(self, words: str, tip: str, checkable: bool = False) -> QPushButton:
        b = button(words, tip, "small", checkable)
        b.setParent(self)
        b.hide()
        return b

    def show_scenes(self, words: Sequence[SceneWord], scene: str) -> None:
        """The words to choose from, and which is chosen; none: no bar."""
        if [(w.key, w.words) for w in words] != [(w.key, w.words) for w in self.words]:
            for b in self.scenes.values():
                self._group.removeButton(b)
                b.hide()
                b.deleteLater()
            self.scenes = {w.key: self._own(w.words, w.tip, True) for w in words}
            for key, b in self.scenes.items():
                self._group.addButton(b)
                b.clicked.connect(lambda _, key=key: self.chosen.emit(key))
                b.show()
        self.words = tuple(words)
        for w in words:
            b = self.scenes[w.key]
            set_tip(b, f"{w.tip} (K goes on)" if w.round else w.tip)
            b.setProperty("tip", None)
            enable(b, w.why_not)
            with signals_blocked(b):
                b.setChecked(w.key == scene)
        self.setVisible(bool(words))
        self._place()

    def show_ways(self, ways: Sequence[QPushButton], on: Sequence[QPushButton] = (), why_not: str = "") -> None:
        """What can be done where the picture is seen as it is: ``ways`` of its own buttons, those that are ``on``, and
        why nothing can be done."""
        for b in (self.alone, self.halves, self.note_it, self.take_it):
            b.setVisible(b in ways)
            with signals_blocked(b):
                b.setChecked(b in on)
            enable(b, why_not)
        self._place()

    def high(self, width: int) -> int:
        """Pixels of height that it takes in a width; 0 where nothing is to choose."""
        if not self.words:
            return 0
        return _ROW * (1 + (self._wide(self.scenes.values()) + self._wide(self._ways()) > width - 3 * _EDGE))

    def wide(self) -> int:
        """Pixels of width that it takes beside the picture."""
        own = (self.alone, self.halves, self.note_it, self.take_it, *self.scenes.values())
        return max(self._room(b) for b in own) + 2 * _EDGE if self.words else 0

    def _ways(self) -> list[QPushButton]:
        return [b for b in (self.alone, self.halves, self.note_it, self.take_it) if not b.isHidden()]

    @staticmethod
    def _wide(buttons: Iterable[QPushButton]) -> int:
        return sum(SceneBar._room(b) + _GAP for b in buttons)

    @staticmethod
    def _room(b: QPushButton) -> int:
        """With what is chosen in bold."""
        return max(b.sizeHint().width(), b.minimumWidth())

    def _place(self) -> None:
        if self.height() > 3 * _ROW:
            top = 4
            for own in (list(self.scenes.values()), self._ways()):
                for b in own:
                    b.setGeometry(_EDGE, top, self.width() - 2 * _EDGE, _ROW - 6)
                    top += _ROW
                top += _ROW // 2
            return
        rows = self.high(self.width()) // _ROW
        for k, own in enumerate((list(self.scenes.values()), self._ways())):
            left = _EDGE if not k or rows == 2 else self.width() - self._wide(own) - _EDGE
            for b in own:
                wide = self._room(b)
                b.setGeometry(left, 4 + (_ROW if k and rows == 2 else 0), wide, _ROW - 6)
                left += wide + _GAP

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._place()
