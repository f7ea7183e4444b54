"""The Left page of Log: what is left, how much and how old."""

from PyQt6.QtWidgets import QListWidgetItem

from ochre_stone.core.colour.reading import read
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.session.benchwork import BenchWork
from ochre_stone.desktop.session.logkeeper import LogKeeper
from ochre_stone.desktop.widgets.parts import ListBox, button, enable
from ochre_stone.desktop.widgets.tray import Tray
from ochre_stone.logbook.again import Leftover, age_words, open_hours


class LeftPage:
    """Piles that can be mixed on from."""

    def __init__(self, tray: Tray, log: LogKeeper, bench: BenchWork) -> None:
        self.log, self.bench, self.studio = log, bench, log.studio
        tray.label("Left from earlier", "head")
        self.says = tray.label("", "quiet")
        self.list = ListBox("What is left", 140)
        self.list.currentRowChanged.connect(lambda _: self._allow())
        tray.list(self.list)
        self.use = button("Onto the bench", "All of it, as a pile on the bench", "main")
        self.use.clicked.connect(self.to_bench)
        self.gone = button("Used up", "Nothing is left of it", "small")
        self.gone.clicked.connect(self.used_up)
        tray.row(self.use, self.gone, None)

    def one(self) -> Leftover | None:
        """The leftover in hand."""
        row = self.list.currentRow()
        return self.log.left[row] if 0 <= row < len(self.log.left) else None

    def to_bench(self) -> None:
        """All that is left of it, onto the bench."""
        one = self.one()
        if one is not None:
            self.bench.take("")
            self.bench.choose_supply(one.id)
            self.bench.add_ml(one.ml)
            self.studio.told.emit(f"{one.past.name} is on the bench: {one.ml:.1f} ml.")

    def used_up(self) -> None:
        """Nothing is left of it."""
        one = self.one()
        if one is not None:
            self.log.set_left(one.entry, None)

    def refresh(self) -> None:
        """Show what is left now."""
        row = self.list.currentRow()
        self.list.clear()
        for one in self.log.left:
            r = read(one.past.lab)
            fresh = open_hours(one.past.medium) - one.hours
            dry = f"dries out in {fresh:.0f} h" if fresh < 100 else "water opens it again"
            words = f"{numbers.value(r.value)} {r.name}: {one.ml:.1f} ml, {age_words(one.hours)}, {dry}"
            self.list.addItem(QListWidgetItem(f"{one.past.name}, {words}"))
        self.says.setText(
            "At hand on the bench, among the leftovers."
            if self.log.left
            else "Nothing is left, or it is dried out: say on the page Pile what is left of one."
        )
        if self.log.left:
            self.list.setCurrentRow(min(max(row, 0), len(self.log.left) - 1))
        self._allow()

    def _allow(self) -> None:
        for b in (self.use, self.gone):
            enable(b, "" if self.one() is not None else "Nothing is left.")
