"""The Cautions page of Block in: what the paints of the sheet can do to someone, in full."""

from collections.abc import Sequence

from PyQt6.QtWidgets import QListWidget

from ochre_stone.desktop.widgets.parts import ListBox
from ochre_stone.desktop.widgets.tray import Tray


class CarePage:
    """One caution to a row; those of single paints first."""

    def __init__(self, tray: Tray) -> None:
        self.none = tray.label("The sheet is not made yet: cautions belong to the paints that it takes.", "quiet")
        self.list = ListBox("Cautions for the paints of this sheet", 120)
        self.list.setSelectionMode(QListWidget.SelectionMode.NoSelection)
        tray.list(self.list)
        self.show_cautions(())

    def show_cautions(self, said: Sequence[str]) -> None:
        """What is to be said, or that there is nothing yet."""
        self.list.clear()
        self.list.addItems(list(said))
        self.list.setVisible(bool(said))
        self.none.setVisible(not said)
