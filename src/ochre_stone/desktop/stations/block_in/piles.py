"""The Piles page of Block in: what each pile covers of the picture, and what no pile comes near."""

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QIcon, QPixmap
from PyQt6.QtWidgets import QListWidgetItem

from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.mixing.strings.targets import Pile
from ochre_stone.core.planning.blockin import LaidIn
from ochre_stone.core.planning.lacking import AllLacking
from ochre_stone.core.planning.leaving import LEAST_LEFT
from ochre_stone.desktop.session.laidwork import Wish
from ochre_stone.desktop.session.session import Session
from ochre_stone.desktop.widgets.image import untinted
from ochre_stone.desktop.widgets.parts import ListBox, button, enable, set_tip, signals_blocked
from ochre_stone.desktop.widgets.shapes import paint_colour
from ochre_stone.desktop.widgets.tray import Tray

if TYPE_CHECKING:
    from ochre_stone.core.mixing.session.amounts import Amounts


class PilesPage:
    """Which pile does nothing, which does most, and what another would mend."""

    def __init__(self, tray: Tray, session: Session, outlines: Callable[[], None]) -> None:
        self.studio, self.piles, self.laid = session.studio, session.piles, session.laid
        self.words = tray.label("")
        self.held = tray.label("", "head")
        self.recipe = tray.label("")
        self.keep = button("Keep", "However few piles are mixed, this one stays", "small", checkable=True)
        self.keep.clicked.connect(lambda _: self._wish("keep" if self.keep.isChecked() else ""))
        self.leave = button("Leave it out", "Its places go to other piles; its note can be brought back", "small")
        self.leave.clicked.connect(lambda _: self._leave())
        self.least = button("Least missed", "", "small")
        self.least.clicked.connect(lambda _: self._take_least())
        tray.row(self.keep, self.leave, self.least, None)
        tray.label("What each pile covers", "head")
        self.list = ListBox("Piles by what they cover", 90)
        self.list.itemClicked.connect(lambda item: self._choose(item.data(Qt.ItemDataRole.UserRole)))
        self.list.itemActivated.connect(lambda item: self._choose(item.data(Qt.ItemDataRole.UserRole)))
        tray.list(self.list)
        tray.label("What is missing", "head")
        self.missing_words = tray.label("", "quiet")
        self.missing = ListBox("What no pile comes near", 74)
        self.missing.currentRowChanged.connect(self.laid.choose_missed)
        tray.list(self.missing)
        self.note_it = button("Note it", "A note of that place, as Suggest would take it; the plan follows")
        self.note_it.clicked.connect(self.laid.note_it)
        self.outlines = button("Outlines…", "With the numbers of the recipes, at canvas size (Shift+E)")
        self.outlines.clicked.connect(lambda: outlines())
        tray.row(self.note_it, None, self.outlines)
        self._listed: AllLacking | None = None
        self._left: str | None = None
        """Id of the note without a pile that is in hand in the list."""

    @property
    def found(self) -> LaidIn | None:
        """The block-in of what is planned now, once it is made."""
        return self.laid.found

    def _choose(self, key: str) -> None:
        """Take a pile of the list in hand, or a note that was left out."""
        self._left = key if key in {n.id for n in self.studio.document.notes} else None
        if self._left is None:
            self.piles.choose(key)
        else:
            self._show_wishes()

    def _wish(self, wish: Wish) -> None:
        held = self.piles.found()
        if held is not None:
            self.laid.wish(held[1], wish)

    def _leave(self) -> None:
        """Leave the pile in hand out, or bring the note in hand back."""
        if self._left is not None:
            left, self._left = self._left, None
            self.laid.bring_back(left)
        else:
            self._wish("none")

    def _take_least(self) -> None:
        least = self.laid.least
        if least is not None:
            self._left = None
            self.piles.choose(least.pile.id)
            self.studio.told.emit(f"{least.words[:1].upper()}{least.words[1:]}.")

    def _show_wishes(self) -> None:
        """What can be said of the pile in hand."""
        held, notes = self.piles.found(), {n.id: n for n in self.studio.document.notes}
        mine = [notes[i] for i in held[1].target.notes if i in notes] if held is not None else []
        back = self._left is not None
        step = "No note stands on it, it is a step of value: where piles stand is chosen at Mix, All."
        why = step if not mine and not back else ""
        with signals_blocked(self.keep):
            self.keep.setChecked(not back and bool(mine) and all(n.pile == "keep" for n in mine))
        enable(self.keep, "Bring it back first." if back else why)
        self.leave.setText("Bring it back" if back else "Leave it out")
        enable(self.leave, why)
        least, piles = self.laid.least, len(self.laid.shown.piles) if self.laid.shown is not None else 0
        few = f"With {LEAST_LEFT} piles or fewer plan anew: see How many at Mix." if piles <= LEAST_LEFT else ""
        looked_for = self.studio.jobs.busy("fewer", "placing")
        none = "" if least is not None else "It is being looked for." if looked_for else "All piles are kept."
        enable(self.least, few or none)
        if least is not None and not few:
            set_tip(self.least, f"{least.words}: take it in hand")

    def refresh(self) -> None:
        """Show the block-in as it is known."""
        found, held = self.laid.shown, self.piles.found()
        self._show_missing()
        for w in (self.held, self.recipe, self.list, self.outlines, self.keep, self.leave, self.least):
            w.setVisible(found is not None)
        if found is None:
            self.words.setText(self.laid.words())
            self.words.show()
            self.list.clear()
            return
        shares, needed = found.shares, self.piles.needed()
        idle = [p.name for g in found.piles for p in g[:1] if shares[p.id] == 0.0]
        said = [f"No place is left for {', '.join(idle)}."] if idle else []
        said += [needed.uncovered_words] if needed is not None and needed.uncovered_words else []
        self.words.setText(" ".join(said))
        self.words.setVisible(bool(said))
        if held is not None:
            self._tell(held[1])
        self._list(found, needed, held[1].id if held is not None else None)
        self._show_wishes()

    def _list(self, found: LaidIn, needed: "Amounts | None", held: str | None) -> None:
        shares, kept = found.shares, {n.id for n in self.studio.document.notes if n.pile == "keep"}
        if self._left is not None and all(n.id != self._left or n.pile != "none" for n in self.studio.document.notes):
            self._left = None
        self.list.clear()
        for p in sorted((p for g in found.piles for p in g), key=lambda p: -shares[p.id]):
            twin = next((g[0] for g in found.piles if p in g[1:]), None)
            how = f"as {twin.name}" if twin is not None else _percent(shares[p.id])
            ml = f", {needed.piles[p.id]:.1f} ml" if needed is not None and p.id in needed.piles else ""
            stays = ", kept" if p.target.notes and p.target.notes[0] in kept else ""
            row = QListWidgetItem(_swatch(p.recipe.lab), f"{p.order}  {p.name}: {how}{ml}{stays}")
            row.setData(Qt.ItemDataRole.UserRole, p.id)
            self.list.addItem(row)
            if p.id == held and self._left is None:
                self.list.setCurrentItem(row)
        for n in (n for n in self.studio.document.notes if n.pile == "none"):
            row = QListWidgetItem(_swatch(n.lab), f"{n.name}: left out")
            row.setData(Qt.ItemDataRole.UserRole, n.id)
            self.list.addItem(row)
            if n.id == self._left:
                self.list.setCurrentItem(row)
        if self.list.currentItem() is not None:
            self.list.scrollToItem(self.list.currentItem())

    def _show_missing(self) -> None:
        answer = self.laid.missing
        with signals_blocked(self.missing):
            if answer is not self._listed:
                self._listed = answer
                self.missing.clear()
                for k, one in enumerate(answer.found if answer is not None else (), 1):
                    self.missing.addItem(QListWidgetItem(_swatch(one.place.lab), f"{k}  {one.name}: {one.words}"))
            self.missing.setCurrentRow(self.laid.missed)
        if answer is None:
            said = "Being looked for." if self.laid.found is not None else ""
        else:
            said = answer.words or ("" if answer.found else "Nothing that a note would mend.")
        self.missing_words.setText(said)
        self.missing_words.setVisible(bool(said))
        for w in (self.missing, self.note_it):
            w.setVisible(answer is not None and bool(answer.found))
        enable(self.note_it, "" if self.laid.missed_one() is not None else "Choose first what is missing")

    def _tell(self, p: Pile) -> None:
        self.held.setText(f"{p.name[:1].upper()}{p.name[1:]}")
        self.recipe.setText(f"{', '.join(i.said for i in p.recipe.ingredients)}. {p.nearness.words.capitalize()}.")


def _percent(share: float) -> str:
    return "no place" if share == 0 else f"{share:.0%}" if share >= 0.01 else "under 1%"


def _swatch(lab: Lab) -> QIcon:
    image = QPixmap(26, 16)
    image.fill(QColor(paint_colour(lab)))
    return untinted(image)
