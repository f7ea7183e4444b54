"""Drifting the pile in hand: a word for each way, one press each; what came of it is said over the row."""

from PyQt6.QtWidgets import QGridLayout, QPushButton, QWidget

from ochre_stone.core.advice.ways import HUES, WAYS
from ochre_stone.desktop.session.benchwork import BenchWork
from ochre_stone.desktop.stations.bench.words import TAKE_ONE
from ochre_stone.desktop.widgets.parts import Words, button, enable, set_tip
from ochre_stone.desktop.widgets.tray import Tray

_COLUMNS = 6
_TIPS = {
    "lighter": "With white, or a lighter paint of its own kind", "darker": "With the dark that turns its hue least",
    "warmer": "Toward orange", "cooler": "Toward blue", "duller": "With what lies across from it on the wheel",
    "stronger": "With a purer paint of its own hue", "chalkier": "With white: lighter, cooler and greyer at once",
}  # fmt: skip


class DialsPart:
    """Value, temperature and strength in one row, the hues in the next."""

    def __init__(self, tray: Tray, work: BenchWork) -> None:
        self.work = work
        self.head = Words("Drift it")
        self.ways: dict[str, QPushButton] = {}
        for way in WAYS:
            short = way.removeprefix("more ")
            b = button(short, _TIPS.get(way, f"With the paint that leads toward {short}, in five strokes"), "dial")
            b.setMinimumWidth(0)
            b.setAccessibleName(f"Drift it {way}")
            b.clicked.connect(lambda _, w=way: self.drift(w))
            self.ways[way] = b
        self.drop = button("Away", "Put the row away", "small")
        self.drop.clicked.connect(work.drop_row)
        tray.row(self.head, self.ways["chalkier"], None, self.drop).setSpacing(5)
        self.box = QWidget()
        grid = QGridLayout(self.box)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(3)
        rows: tuple[list[str], list[str]] = ([w for w in WAYS if w not in HUES and w != "chalkier"], list(HUES))
        for r, row in enumerate(rows):
            for k, word in enumerate(row):
                grid.addWidget(self.ways[word], r, k)
        tray.rows.addWidget(self.box)

    def drift(self, way: str) -> None:
        """Drift the pile in hand, or the paint where no pile is."""
        pile = self.work.pile()
        self.work.make(way, [pile.id if pile is not None else self.work.supply])

    def refresh(self) -> None:
        """What can be drifted."""
        pile, row = self.work.pile(), self.work.row
        why = "" if pile is not None or self.work.supply else TAKE_ONE
        for b in self.ways.values():
            enable(b, why)
        name = pile.name if pile is not None else ""
        set_tip(self.head, f"{name or 'The paint in hand'}, step by step, at its values in the middle")
        self.drop.setVisible(row is not None)
