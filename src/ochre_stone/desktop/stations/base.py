"""What all stations share: a tray, words for the strip, and which parts of the centre they use."""

from typing import TYPE_CHECKING

from PyQt6.QtCore import QSignalBlocker, Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QSlider, QVBoxLayout, QWidget

from ochre_stone.core.project.document import Document

if TYPE_CHECKING:
    from ochre_stone.desktop.window import Window


class Station(QWidget):
    """One place of the work."""

    title = ""
    side = ""
    """Name of the panel beside the easel: "", "wheel", "score" or "sheet"."""
    shows_scale = False
    shows_marks = True
    needs_strings = False
    """Whether strings are worked out while the painter is here."""

    def __init__(self, window: "Window") -> None:
        super().__init__()
        self.setObjectName("trayBody")
        self.window_ = window
        self.studio = window.studio
        self.rows = QVBoxLayout(self)
        self.rows.setContentsMargins(16, 12, 16, 12)
        self.rows.setSpacing(6)
        self.build()
        self.rows.addStretch(1)
        self.studio.changed.connect(self.document_changed)

    @property
    def document(self) -> Document:
        return self.studio.document

    @property
    def active(self) -> bool:
        return self.window_.station is self

    def build(self) -> None:
        """Fill the tray."""

    def enter(self) -> None:
        """The painter comes here."""
        self.studio.want_strings(self.needs_strings)
        self.refresh()

    def leave(self) -> None:
        """The painter goes elsewhere."""

    def refresh(self) -> None:
        """Show the document as it is."""

    def refresh_if_here(self) -> None:
        """Show what was worked out, where the painter is looking."""
        if self.active:
            self.refresh()

    def done_words(self) -> str:
        """What is done here, in a few words, for the strip."""
        return ""

    def spot_clicked(self, x: float, y: float) -> None:
        """The picture was clicked at these picture pixels."""

    def document_changed(self, old: Document, new: Document) -> None:
        if self.active:
            self.refresh()

    # Small parts

    def label(self, words: str, kind: str = "", wrap: bool = True) -> QLabel:
        """A line of text in the tray; kinds are styled in window.qss."""
        label = QLabel(words)
        if kind:
            label.setProperty("kind", kind)
        label.setWordWrap(wrap)
        self.rows.addWidget(label)
        return label

    def row(self, *widgets: QWidget | None) -> QHBoxLayout:
        """Widgets in a row; None takes the room that is left."""
        line = QHBoxLayout()
        line.setSpacing(8)
        for w in widgets:
            if w is None:
                line.addStretch(1)
            else:
                line.addWidget(w)
        self.rows.addLayout(line)
        return line

    def slider(self, words: str, low: int, high: int, tip: str) -> tuple[QSlider, QLabel]:
        """A named slider; its label shows the value as the station words it."""
        name = QLabel(words)
        shown = QLabel("")
        self.row(name, None, shown)
        slider = QSlider(Qt.Orientation.Horizontal)
        slider.setRange(low, high)
        slider.setToolTip(tip)
        slider.setAccessibleName(words)
        self.rows.addWidget(slider)
        return slider, shown


def button(words: str, tip: str = "", kind: str = "", checkable: bool = False) -> QPushButton:
    """A push button."""
    b = QPushButton(words)
    b.setCheckable(checkable)
    if tip:
        b.setToolTip(tip)
    if kind:
        b.setProperty("kind", kind)
    return b


def quietly(widget: QWidget) -> QSignalBlocker:
    """Set a control without it calling back."""
    return QSignalBlocker(widget)
