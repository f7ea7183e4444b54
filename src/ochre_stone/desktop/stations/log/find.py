"""The Find page of Log: have I mixed this before?"""

from PyQt6.QtCore import QObject, Qt, pyqtSignal
from PyQt6.QtWidgets import QLineEdit, QListWidgetItem

from ochre_stone.core.colour.parse import parse_colour
from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import Lab, as_lab
from ochre_stone.core.errors import OchreError
from ochre_stone.core.planning.rows import target_by_note
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.session.benchwork import BenchWork
from ochre_stone.desktop.session.logkeeper import LogKeeper
from ochre_stone.desktop.session.notes import Notes
from ochre_stone.desktop.stations.log.words import day_words
from ochre_stone.desktop.widgets.parts import ListBox, button
from ochre_stone.desktop.widgets.swatch import HalvesSwatch
from ochre_stone.desktop.widgets.tray import Tray
from ochre_stone.logbook.again import FoundAgain, find_again
from ochre_stone.logbook.book import Book
from ochre_stone.logbook.exchange import put_words

SAME_AS_NOTE = 3.0
"""CIEDE2000 within which a pile of the past will do after a touch."""


class FindPage(QObject):
    """The nearest piles of the past to the note in hand, or to a colour that is typed."""

    chosen = pyqtSignal(str)
    """Uid of the entry that is to be shown."""

    def __init__(self, tray: Tray, log: LogKeeper, notes: Notes, bench: BenchWork) -> None:
        super().__init__()
        self.log, self.notes, self.bench, self.studio = log, notes, bench, log.studio
        self.head = tray.label("Have I mixed this before?", "head")
        self.typed = QLineEdit()
        self.typed.setPlaceholderText("a colour: lab 62 14 22, #c9a27e …")
        self.typed.setAccessibleName("Colour to find")
        self.typed.returnPressed.connect(self.find_typed)
        self.look = button("Find", "The nearest piles of the past", "small")
        self.look.clicked.connect(self.find_typed)
        tray.row(self.typed, self.look).setStretch(0, 1)
        self.of_note = button("The note in hand", "As it is to be painted", "small")
        self.of_note.clicked.connect(self.find_note)
        tray.row(self.of_note, None)
        self.says = tray.label("")
        self.list = ListBox("Piles of the past, the nearest first", 120)
        self.list.currentRowChanged.connect(self._chosen)
        tray.list(self.list)
        self.swatch = HalvesSwatch(58)
        tray.rows.addWidget(self.swatch)
        self.recipe = tray.label("")
        self.found: list[FoundAgain] = []
        self.wanted: Lab | None = None
        self._show()

    def find_note(self) -> None:
        """The piles nearest to the note in hand."""
        note = self.notes.in_hand()
        if note is None:
            self.studio.told.emit("Take a note in hand first: click its dab on the scale.")
            return
        self.find(target_by_note(self.studio.document)[note.id], note.name)

    def find_typed(self) -> None:
        """The piles nearest to what is typed, or to the note in hand where nothing is."""
        text = self.typed.text().strip()
        if not text:
            self.find_note()
            return
        try:
            self.find(as_lab(parse_colour(text)), text)
        except OchreError as error:
            self.studio.failed.emit(str(error))

    def find(self, lab: Lab, name: str) -> None:
        """The piles nearest to a colour."""
        find, palette = self.bench.paints.find_tube, self.bench.palette

        def work(book: Book) -> list[FoundAgain]:
            return find_again(book, lab, find, palette.surface, 8)

        def arrived(found: list[FoundAgain]) -> None:
            self.found, self.wanted = found, lab
            if not found:
                words = "There is nothing like it in the log."
            elif found[0].off <= SAME_AS_NOTE:
                best = found[0]
                words = f"Yes: {best.entry.name} of {day_words(best.entry.begun)} comes within {best.off:.1f}."
            else:
                words = f"Not quite: the nearest is {found[0].off:.1f} off."
            self.says.setText(f"{name}, value {numbers.value(read(lab).value)}. {words}")
            self._show()

        self.log.ask(work, arrived)

    def _show(self) -> None:
        self.list.clear()
        for f in self.found:
            item = QListWidgetItem(f"{f.off:.1f}  {f.entry.name}, {day_words(f.entry.begun)}")
            item.setData(Qt.ItemDataRole.UserRole, f.entry.uid)
            self.list.addItem(item)
        self.list.setVisible(bool(self.found))
        self.swatch.setVisible(False)
        self.recipe.setText("")
        if self.found:
            self.list.setCurrentRow(0)

    def _chosen(self, row: int) -> None:
        if not 0 <= row < len(self.found) or self.wanted is None:
            return
        f = self.found[row]
        self.swatch.setVisible(True)
        self.swatch.show_pair(self.wanted, f.now, "wanted", "with the tubes of now")
        gone = f" Not there any more: {', '.join(f.lacking)}." if f.lacking else ""
        self.recipe.setText(f"{put_words(f.entry.puts)}.{gone}")
        self.chosen.emit(f.entry.uid)
