"""The same colour among other neighbours: what lies around the piles."""

from collections.abc import Callable

from PyQt6.QtWidgets import QComboBox

from ochre_stone.core.colour.contrast import seen_against
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.session.benchwork import BenchWork
from ochre_stone.desktop.widgets.parts import Words, narrow, signals_blocked
from ochre_stone.desktop.widgets.tray import Tray

_GROUNDS: dict[str, Lab] = {"white": (95.0, 0.0, 0.0), "black": (8.0, 0.0, 0.0)}


class AroundPart:
    """Which colour lies around, and how the pile in hand will seem."""

    def __init__(self, tray: Tray, work: BenchWork, turned: Callable[[], None]) -> None:
        self.work, self.studio = work, work.studio
        self.ground = narrow(QComboBox())
        self.ground.setAccessibleName("Around the piles")
        self.ground.activated.connect(lambda _: turned())
        self.around = Words("Around them")
        tray.row(self.around, self.ground).setStretch(1, 1)
        self.seems = tray.label("", "quiet")

    def refresh(self, shown: bool) -> None:
        """Offer what can lie around."""
        self._offer()
        pile = self.work.pile()
        seen = self.work.paints.look_at(pile) if pile is not None else None
        ground = self.colour()
        for w in (self.ground, self.around):
            w.setVisible(shown)
        self.seems.setVisible(shown and ground is not None and seen is not None)
        if ground is not None and seen is not None and pile is not None:
            self.seems.setText(f"{pile.name} {seen_against(seen.lab, ground).words(numbers.school())}")

    def _offer(self) -> None:
        now = str(self.ground.currentData() or "grey")
        with signals_blocked(self.ground):
            self.ground.clear()
            self.ground.addItem("neutral grey", "grey")
            for name in _GROUNDS:
                self.ground.addItem(name, name)
            self.ground.addItem("the canvas", "canvas")
            for n in self.studio.document.notes:
                self.ground.addItem(f"the note: {n.name}", f"note:{n.id}")
            for p in self.work.bench.piles:
                self.ground.addItem(f"the pile: {p.name}", f"bench:{p.id}")
            self.ground.setCurrentIndex(max(self.ground.findData(now), 0))

    def colour(self) -> Lab | None:
        """What lies around; None for the neutral grey."""
        key = str(self.ground.currentData() or "grey")
        if key in _GROUNDS:
            return _GROUNDS[key]
        if key == "canvas":
            return self.studio.document.canvas.ground
        kind, _, what = key.partition(":")
        if kind == "note":
            return next((n.lab for n in self.studio.document.notes if n.id == what), None)
        pile = next((p for p in self.work.bench.piles if p.id == what), None)
        seen = self.work.paints.look_at(pile) if pile is not None else None
        return seen.lab if seen is not None else None
