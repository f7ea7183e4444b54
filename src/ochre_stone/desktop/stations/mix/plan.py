"""The Plan page of Mix: what is mixed on from what, as a graph and as a numbered list, and how much of it."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QListWidgetItem, QScrollArea

from ochre_stone.core.mixing.recipe.recipe import base_words
from ochre_stone.core.mixing.session.amounts import Amounts
from ochre_stone.core.mixing.session.minutes import mixing_time
from ochre_stone.core.planning.planning import blend_words, means_of
from ochre_stone.core.planning.steps import bases_before
from ochre_stone.desktop.session.box import BoxKeeper
from ochre_stone.desktop.session.logkeeper import LogKeeper
from ochre_stone.desktop.session.piles import Piles
from ochre_stone.desktop.widgets.branchview import BranchView
from ochre_stone.desktop.widgets.parts import ListBox
from ochre_stone.desktop.widgets.tray import Tray
from ochre_stone.export.tables import ribbon_words
from ochre_stone.logbook.habits import pace

_PILES_TIMED = 40
"""Of so many of the last piles the pace is taken."""


class PlanPage:
    """The session from its first pile to its last."""

    def __init__(self, tray: Tray, piles: Piles, keeper: BoxKeeper, log: LogKeeper) -> None:
        self.piles, self.studio, self.keeper, self.log = piles, piles.studio, keeper, log
        self._pace: float | None = None
        self.view = BranchView()
        self.view.chosen.connect(piles.choose)
        self.panel = QScrollArea()
        self.panel.setObjectName("surround")
        self.panel.setWidgetResizable(True)
        self.panel.setWidget(self.view)
        self.words = tray.label("")
        self.time = tray.label("")
        tray.label("In this order", "head")
        self.list = ListBox("Order of mixing", 120)
        self.list.itemClicked.connect(lambda item: self.piles.choose(item.data(Qt.ItemDataRole.UserRole)))
        self.list.itemActivated.connect(lambda item: self.piles.choose(item.data(Qt.ItemDataRole.UserRole)))
        tray.list(self.list)
        tray.label("To squeeze out", "head")
        self.amounts: QLabel = tray.label("", "quiet")
        self.stock = tray.label("", "warning")
        self.blend_head = tray.label("Blends, not flats", "head")
        self.blends = tray.label("")

    def _ask_pace(self) -> None:
        """What the log tells of how long the painter's piles take."""

        def arrived(found: float | None) -> None:
            if found != self._pace:
                self._pace = found
                self._tell_time()

        if self.log.on:
            self.log.ask(lambda book: pace(book.entries([p.uid for p in book.listed(count=_PILES_TIMED)])), arrived)

    def _tell_time(self) -> None:
        strings = self.studio.document.mixed.strings
        self.time.setText(mixing_time(strings, self._pace).words if strings else "")

    def refresh(self) -> None:
        """Show the plan of the strings."""
        mixed = self.studio.document.mixed
        self._tell_time()
        self._ask_pace()
        selected = self.piles.in_hand
        self.view.show_plan(mixed, selected)
        self.words.setText(mixed.branching.words if mixed.branching is not None else "No plan yet.")
        blends = blend_words(self.studio.document)
        self.blends.setText("; ".join(blends) + "." if blends else "")
        for w in (self.blend_head, self.blends):
            w.setVisible(bool(blends))
        needed = self.piles.needed()
        names = self.piles.names()
        piles = sorted((p for s in mixed.strings for p in s.piles), key=lambda p: p.order)
        self.list.clear()
        first = bases_before(self.studio.document)
        for p in piles:
            for base in first.get(p.id, ()):
                made = base_words(base, lambda i: mixed.tube(i).short)
                much = f"; {needed.bases.get(base.id, 0.0):.1f} ml" if needed is not None else ""
                row = QListWidgetItem(f"first {made}{much}")
                row.setData(Qt.ItemDataRole.UserRole, p.id)
                self.list.addItem(row)
            recipe = ", ".join(i.said for i in p.recipe.ingredients)
            kind = "" if any(i.id in names for i in p.recipe.ingredients) else "main: "
            ml = f"; {amount_words(needed, p.id)}" if needed is not None else ""
            item = QListWidgetItem(f"{p.order}. {names[p.id]} — {kind}{recipe}{ml}")
            item.setData(Qt.ItemDataRole.UserRole, p.id)
            self.list.addItem(item)
            if p.id == selected:
                self.list.setCurrentItem(item)
        if needed is None:
            busy = self.studio.jobs.busy("amounts")
            self.amounts.setText("The amounts are being worked out." if busy else "")
            self.stock.hide()
            return
        tubes = [f"{mixed.tube(i).short} {ribbon_words(ml)}" for i, ml in needed.tubes.items()]
        canvas = self.studio.document.canvas.words
        self.amounts.setText(
            f"For {canvas}: {'; '.join(tubes)}. {needed.total:.0f} ml in all, {needed.white_share:.0%} white."
            f" {needed.uncovered_words}".rstrip()
        )
        short = self.piles.shortages(means_of(self.keeper.box).stock)
        self.stock.setText("Too little in the box: " + "; ".join(short) + "." if short else "")
        self.stock.setVisible(bool(short))


def amount_words(needed: Amounts, pile_id: str) -> str:
    """Millilitres of a pile, and how much of it goes on into others."""
    onward = needed.onward(pile_id)
    own = f"{needed.piles[pile_id]:.1f} ml"
    return f"{own}, {onward:.1f} of it goes on" if onward >= 0.05 else own
