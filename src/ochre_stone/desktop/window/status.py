"""The status line: one sentence, the colour under the pointer, how far opening is, the monitor's profile."""

from collections.abc import Callable

from PyQt6.QtWidgets import QProgressBar, QPushButton, QStatusBar

from ochre_stone.desktop.session import display
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.parts import Words, set_tip


class StatusLine(QStatusBar):
    """Below everything."""

    def __init__(self, cancel_opening: Callable[[], None]) -> None:
        super().__init__()
        self.setSizeGripEnabled(False)
        self.fit()
        self.under_pointer = Words("")
        self.under_pointer.setAccessibleName("Colour under the pointer")
        self.addPermanentWidget(self.under_pointer)
        self.progress = QProgressBar()
        self.progress.setRange(0, 100)
        self.progress.setFixedWidth(140)
        self.progress.setAccessibleName("How far opening is")
        self.progress.hide()
        self.stop_opening = QPushButton("Cancel")
        self.stop_opening.setProperty("kind", "small")
        self.stop_opening.clicked.connect(cancel_opening)
        self.stop_opening.hide()
        self.addPermanentWidget(self.progress)
        self.addPermanentWidget(self.stop_opening)
        self.display_words = Words("")
        self.display_words.setContentsMargins(8, 0, 12, 0)
        self.display_words.setAccessibleName("Monitor profile")
        self.addPermanentWidget(self.display_words)

    def fit(self) -> None:
        """As high as the text of now."""
        self.setFixedHeight(theme.sized(26))

    def show_opening(self, share: float) -> None:
        """How far opening a file is; nothing once it is over."""
        self.progress.setVisible(share < 1)
        self.stop_opening.setVisible(share < 1)
        self.progress.setValue(round(share * 100))

    def show_display(self) -> None:
        """What the colours are shown through."""
        self.display_words.setText(display.words())
        set_tip(self.display_words, display.details())
