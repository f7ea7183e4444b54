"""What to do about every pile that is off, most important first."""

from collections.abc import Callable

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QIcon, QPainter, QPixmap
from PyQt6.QtWidgets import QHBoxLayout, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.planning.advising import short_advice, value_words
from ochre_stone.core.planning.mending import Advice, advice_or_why, goal_of, with_advice
from ochre_stone.core.planning.palettephoto import Taken, by_importance
from ochre_stone.core.planning.pinning import pile_of
from ochre_stone.desktop.session.jobs import Report
from ochre_stone.desktop.session.piles import Piles
from ochre_stone.desktop.widgets.image import untinted
from ochre_stone.desktop.widgets.parts import Words, button, signals_blocked
from ochre_stone.desktop.widgets.shapes import paint_colour

_ICON = QSize(44, 26)


def _pair(goal: Lab, seen: Lab) -> QIcon:
    """What it should be above what it is, touching."""
    image = QPixmap(_ICON)
    painter = QPainter(image)
    half = _ICON.height() // 2
    painter.fillRect(0, 0, _ICON.width(), half, paint_colour(goal))
    painter.fillRect(0, half, _ICON.width(), _ICON.height() - half, paint_colour(seen))
    painter.end()
    return untinted(image)


class MendPage(QWidget):
    """What to do about every pile that is off, most important first."""

    def __init__(self, piles: Piles, again: Callable[[], None], close: Callable[[], None]) -> None:
        super().__init__()
        self.piles, self.studio, self._close = piles, piles.studio, close
        self.advice: dict[str, Advice | str] = {}
        self.rows: list[tuple[Taken, float]] = []
        self.done: set[str] = set()
        column = QVBoxLayout(self)
        self.title = Words("What to do, most important first")
        self.title.setProperty("kind", "title")
        self.says = Words("")
        self.list = QListWidget()
        self.list.setAccessibleName("What to do about each pile")
        self.list.setWordWrap(True)
        self.list.setIconSize(_ICON)
        self.list.currentRowChanged.connect(lambda _: self._pick())
        self.put = button("I put this in", "The pile in hand now holds it", "main")
        self.put.clicked.connect(self.put_in)
        self.show_it = button("Show this pile", "On the page Correct")
        self.show_it.clicked.connect(self.show_pile)
        self.again = button("Another photo", "After everything went in: look again")
        self.again.clicked.connect(lambda: again())
        self.close_it = button("Close")
        self.close_it.clicked.connect(lambda: close())
        row = QHBoxLayout()
        for w in (self.put, self.show_it, self.again):
            row.addWidget(w)
        row.addStretch(1)
        row.addWidget(self.close_it)
        column.addWidget(self.title)
        column.addWidget(self.says)
        column.addWidget(self.list, 1)
        column.addLayout(row)

    def begin(self, taken: list[Taken]) -> None:
        """Work out what each pile needs."""
        document = self.studio.document
        self.rows, self.advice, self.done = by_importance(document, taken), {}, set()
        self.says.setText("Nothing was read yet." if not taken else "Working out what each needs …")
        self._fill()
        order = [t.pile for t, _ in self.rows]

        def work(report: Report) -> None:
            for pile_id in order:
                report((pile_id, advice_or_why(document, pile_id)))

        def finished(_: None) -> None:
            verdicts = [a.correction.verdict for a in self.advice.values() if isinstance(a, Advice)]
            match, near = verdicts.count("home"), verdicts.count("look")
            self.says.setText(
                f"Of {len(order)} piles {len(order) - match - near} are off, {near} too near to tell, {match} match."
            )

        if order:
            self.studio.jobs.start("advice-all", work, finished, self.says.setText, self._one)

    def _one(self, found: tuple[str, Advice | str]) -> None:
        self.advice[found[0]] = found[1]
        self._fill()

    def _fill(self) -> None:
        names, document = self.piles.names(), self.studio.document
        at = max(self.list.currentRow(), 0)
        with signals_blocked(self.list):
            self.list.clear()
            for t, off in self.rows:
                if t.pile not in names:  # planned anew without it
                    continue
                now, pile = self.advice.get(t.pile), pile_of(document, t.pile)
                said = "…" if now is None else now if isinstance(now, str) else short_advice(document, pile, now)
                done = "in: look again.  " if t.pile in self.done else ""
                words = f"{names[t.pile]}  {value_words(document, pile, t.lab)}, {off:.1f} off:  {done}{said}"
                item = QListWidgetItem(_pair(goal_of(document, pile), t.lab), words)
                item.setData(Qt.ItemDataRole.UserRole, t.pile)
                self.list.addItem(item)
            self.list.setCurrentRow(min(at, self.list.count() - 1))
        self._pick()

    def _chosen(self) -> str | None:
        item = self.list.currentItem()
        return None if item is None else str(item.data(Qt.ItemDataRole.UserRole))

    def _pick(self) -> None:
        pile_id = self._chosen()
        now = self.advice.get(pile_id) if pile_id is not None else None
        puts = isinstance(now, Advice) and now.puts
        self.put.setEnabled(puts and pile_id not in self.done)
        self.show_it.setEnabled(pile_id is not None)
        if pile_id is not None and pile_id != self.piles.in_hand:
            self.piles.choose(pile_id)

    def put_in(self) -> None:
        """What is advised for the pile in hand went in."""
        pile_id = self._chosen()
        now = self.advice.get(pile_id) if pile_id is not None else None
        if pile_id is None or not isinstance(now, Advice):
            return
        share = 0.5 if now.correction.half_first else 1.0
        self.studio.change("Put into a pile", with_advice(self.studio.document, pile_id, now, share))
        self.done.add(pile_id)
        self.list.setCurrentRow(min(self.list.currentRow() + 1, self.list.count() - 1))
        self._fill()

    def show_pile(self) -> None:
        """Take the pile in hand on the page Correct."""
        if self._chosen() is not None:  # it is in hand since it was chosen
            self._close()
