"""Rows that are made with one press."""

from collections.abc import Callable

from PyQt6.QtWidgets import QComboBox

from ochre_stone.desktop.session.benchwork import BenchWork
from ochre_stone.desktop.widgets.parts import button, narrow, signals_blocked
from ochre_stone.desktop.widgets.tray import Tray

_ROWS = {"ladder": "Tint ladder", "line": "Line of a pair", "triangle": "Triangle of three"}


class RowPart:
    """Which row, and of what."""

    def __init__(self, tray: Tray, work: BenchWork, turned: Callable[[], None]) -> None:
        self.work = work
        self.what = narrow(QComboBox())
        self.what.setAccessibleName("Row to make")
        for key, words in _ROWS.items():
            self.what.addItem(words, key)
        self.what.activated.connect(lambda _: turned())
        self.make = button("Make", "Lay the row out at its values; Enter on one of it makes it a pile", "small")
        self.make.clicked.connect(self.make_row)
        tray.row(self.what, self.make).setStretch(0, 1)
        self.corners = [narrow(QComboBox()) for _ in range(3)]
        for k, box in enumerate(self.corners):
            box.setAccessibleName(f"{('First', 'Second', 'Third')[k]} of the row")
            box.setMinimumContentsLength(3)
        tray.row(*self.corners).setSpacing(4)

    @property
    def _needs(self) -> int:
        """Of how many piles or paints the chosen row is made."""
        return {"line": 2, "triangle": 3}.get(str(self.what.currentData()), 1)

    def make_row(self) -> None:
        """Make the row that is chosen."""
        self.work.make(str(self.what.currentData()), [str(box.currentData()) for box in self.corners[: self._needs]])

    def refresh(self, shown: bool) -> None:
        """Offer what rows can be made of."""
        work, pile = self.work, self.work.pile()
        for w in (self.what, self.make):
            w.setVisible(shown)
        for k, box in enumerate(self.corners):
            box.setVisible(shown and k < self._needs)
        if not shown:
            return
        choices = [(p.name, p.id) for p in work.bench.piles]
        choices += [(s.name, s.id) for s in work.paints.supplies() if s.kind != "tint"]
        wanted = [pile.id if pile is not None else work.supply, work.supply if pile is not None else "", ""]
        used: set[str] = set()
        for k, box in enumerate(self.corners):
            now = str(box.currentData() or "")
            keys = [key for _, key in choices]
            free = next((key for key in keys if key not in used), "")
            tried = [now, wanted[k]] if k > 0 else [wanted[k]]
            chosen = next((key for key in tried if key in keys and key not in used), free)
            used.add(chosen)
            with signals_blocked(box):
                box.clear()
                for name, key in choices:
                    box.addItem(name, key)
                box.setCurrentIndex(max(box.findData(chosen), 0))
