"""Paint at hand, and its doses."""

from collections.abc import Callable

from PyQt6.QtWidgets import QComboBox, QDoubleSpinBox, QPushButton

from ochre_stone.core.mixing.bench.bench import Supply
from ochre_stone.desktop.session.benchkeeping import BenchKeeping
from ochre_stone.desktop.session.benchwork import Size
from ochre_stone.desktop.session.piles import Piles
from ochre_stone.desktop.stations.bench.supplies import ShownSupply, SuppliesView
from ochre_stone.desktop.stations.bench.words import with_menu
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.parts import Words, button, enable, narrow, set_tip, signals_blocked
from ochre_stone.desktop.widgets.tray import Tray

ROW, AROUND = "row", "around"
_KINDS = {"tube": "Tubes", "tint": "Tints", "planned": "Planned piles", "leftover": "Leftovers", ROW: "Make a row",
          AROUND: "Look around"}  # fmt: skip
_LACKING = {
    "tint": "This palette has no white to make tints with.",
    "planned": "There is no plan yet: take notes, and come to Mix.",
    "leftover": "There are no leftovers: keep a pile as one, or say at Log what is left.",
}
_SIZES: dict[Size, tuple[str, str]] = {
    "tip": ("Tip", "What the tip of the knife holds (Ctrl+Enter on a paint)"),
    "touch": ("Touch", "A quarter of a part (Enter on a paint)"),
    "part": ("Part", "A whole part (Shift+Enter on a paint)"),
}
_FIRST_MS, _AGAIN_MS = 450, 160
_ENDLESS = 1e6


class PaintPart:
    """Which paint is at hand, how large a part is, and what puts a dose in; its list also leads to rows and
    surrounds."""

    def __init__(self, tray: Tray, keeping: BenchKeeping, piles: Piles, turned: Callable[[], None]) -> None:
        self.keeping, work = keeping, keeping.work
        self.work, self.piles, self.studio = work, piles, work.studio
        self.kind = narrow(QComboBox())
        self.kind.setAccessibleName("Paint at hand, rows, or what lies around")
        for kind, words in _KINDS.items():
            self.kind.addItem(words, kind)
        self.kind.activated.connect(lambda _: turned())
        self.part = QDoubleSpinBox()
        self.part.setRange(0.05, 10)
        self.part.setSingleStep(0.05)
        self.part.setPrefix("part ")
        self.part.setSuffix(" ml")
        self.part.setFixedWidth(theme.sized(118))
        self.part.setAccessibleName("Size of a part")
        set_tip(self.part, "Millilitres of a part; a touch is a quarter of it")
        self.part.valueChanged.connect(work.use_part)
        tray.row(self.kind, self.part).setStretch(0, 1)
        self.supplies = SuppliesView()
        self.supplies.taken.connect(work.choose_supply)
        self.supplies.dosed.connect(self.dose)
        tray.rows.addWidget(self.supplies)
        self.sizes: dict[Size, QPushButton] = {}
        for size, (words, tip) in _SIZES.items():
            b = button(words, f"{tip}; hold it for more", "small")
            b.setAutoRepeat(True)
            b.setAutoRepeatDelay(_FIRST_MS)
            b.setAutoRepeatInterval(_AGAIN_MS)
            b.clicked.connect(lambda _, s=size: work.add(s))
            self.sizes[size] = b
        self.put_in = Words("Put in")
        self.new, self.begins = with_menu("New pile", "A pile of its own", self.fill_begins)
        tray.row(self.put_in, *self.sizes.values(), None, self.new).setSpacing(5)

    @property
    def chosen(self) -> str:
        """Which paint is looked at, or ``ROW`` or ``AROUND``."""
        return str(self.kind.currentData())

    def dose(self, size: str) -> None:
        """A dose of the paint in hand: a touch where no size is said."""
        sizes: dict[str, Size] = {"": "touch", "touch": "touch", "tip": "tip", "part": "part"}
        self.work.supply = self.supplies.held or self.work.supply
        self.work.add(sizes[size])

    def fill_begins(self) -> None:
        """How a new pile can begin."""
        self.begins.clear()
        self.begins.addAction("With the next dose", lambda: self.work.take(""))
        found = self.piles.found()
        if found is not None:
            name, pile_id = self.piles.names()[found[1].id], found[1].id
            self.begins.addAction(f"{name}, as planned", lambda: self.keeping.open_planned(pile_id))
            self.begins.addAction(f"{name}, as it is by now", lambda: self.keeping.open_planned(pile_id, True))

    def refresh(self) -> None:
        """Show what is at hand."""
        work = self.work
        with signals_blocked(self.part):
            self.part.setValue(self.studio.document.bench.part_ml)
        there = work.paints.supplies()
        paint = self.chosen not in (ROW, AROUND)
        shown = [s for s in there if s.kind == self.chosen]
        if paint and not shown and self.chosen != "tube":
            self.studio.told.emit(_LACKING[self.chosen])
            with signals_blocked(self.kind):
                self.kind.setCurrentIndex(0)
            shown = [s for s in there if s.kind == "tube"]
        if shown and all(s.id != work.supply for s in shown):
            work.supply = shown[0].id
        if paint:
            self.supplies.show_supplies([s for s in (self._drawn(s) for s in shown) if s is not None], work.supply)
            for b in self.sizes.values():
                enable(b, "" if shown else "There is no paint at hand.")
        for w in (self.supplies, self.put_in, self.new, self.part, *self.sizes.values()):
            w.setVisible(paint)

    def _drawn(self, s: Supply) -> ShownSupply | None:
        lab, left = self.work.paints.lab_of(s), self.work.bench.left(s)
        words = f"{left:.1f} ml" if left < _ENDLESS else ""
        return ShownSupply(s.id, s.name, lab, s.kind == "tube", words) if lab is not None else None
