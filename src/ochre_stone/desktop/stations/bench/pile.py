"""The pile in hand: what it is, what is done with it, and how it is kept."""

from PyQt6.QtWidgets import QInputDialog, QLineEdit

from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.relations import compare, lean
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.document.document import STRING_ORDER, SUBJECTS
from ochre_stone.core.mixing.bench.bench import BenchPile
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.session.benchkeeping import BenchKeeping
from ochre_stone.desktop.stations.bench.words import TAKE_ONE, contents_words, with_menu
from ochre_stone.desktop.widgets.parts import Words, button, enable, set_tip, signals_blocked
from ochre_stone.desktop.widgets.swatch import HalvesSwatch
from ochre_stone.desktop.widgets.tray import Tray


class PilePart:
    """Its name, its colour and its words, and the acts of the knife."""

    def __init__(self, tray: Tray, keeping: BenchKeeping) -> None:
        self.door, work = keeping, keeping.work
        self.tray, self.work, self.studio = tray, work, work.studio
        self.name = QLineEdit()
        self.name.setAccessibleName("Name of the pile")
        self.name.setMaxLength(60)
        self.name.editingFinished.connect(self._rename)
        self.amount = Words("")
        tray.row(self.name, self.amount).setStretch(0, 1)
        self.swatch = HalvesSwatch(42)
        tray.rows.addWidget(self.swatch)
        self.says = tray.label("")
        self.cut = button("Cut", "Half of it is set aside, as it is", "small")
        self.cut.clicked.connect(work.cut)
        self.mix, self.others = with_menu("Mix in", "Another pile goes into this one", self.fill_others)
        self.scrape, self.gone = with_menu("Scrape off", "This pile, or all", self.fill_gone)
        tip = "In the plan, in the log, among the leftovers, as a tube or as a note"
        self.keep, self.keeping = with_menu("Keep", tip, self.fill_keeping)
        tray.row(self.cut, self.mix, self.scrape, self.keep).setSpacing(5)

    # What is done

    def _rename(self) -> None:
        pile = self.work.pile()
        if pile is not None and self.name.text() != pile.name:
            self.work.rename(self.name.text())
            self._name_it()

    def fill_others(self) -> None:
        """Which pile can go into this one."""
        self.others.clear()
        for p in self.work.bench.piles:
            if p.id != self.work.in_hand:
                self.others.addAction(p.name, lambda i=p.id: self.work.join(i))
        if self.others.isEmpty():
            nothing = self.others.addAction("There is no other pile")
            if nothing is not None:
                nothing.setEnabled(False)

    def fill_gone(self) -> None:
        """What can be scraped off."""
        self.gone.clear()
        self.gone.addAction("This pile", self.work.scrape)
        self.gone.addAction("All piles", self.work.clear)

    def fill_keeping(self) -> None:
        """How it can be kept."""
        self.keeping.clear()
        there = {s.id: s.name for s in self.studio.document.mixed.strings}
        strings = self.keeping.addMenu("In the plan, as a pile of")
        if strings is not None:
            for s in (s for s in STRING_ORDER if s in SUBJECTS):
                words = there[s] if s in there else f"{s.capitalize()} (an accent)"
                strings.addAction(words, lambda i=s: self.door.keep_in_plan(i))
        self.keeping.addAction("In the log: mixed like this", self.door.say_mixed)
        self.keeping.addAction("Among the leftovers", self.door.keep_as_leftover)
        self.keeping.addAction("As a tube of my own…", self.ask_tube)
        self.keeping.addAction("As a note", self.door.keep_as_note)

    def ask_tube(self) -> None:
        """Ask what the tube is to be called, and keep it."""
        pile = self.work.pile()
        if pile is None:
            self.studio.told.emit(TAKE_ONE)
            return
        name, said = QInputDialog.getText(self.tray.widget, "A tube of my own", "What is it called?", text=pile.name)
        if said and name.strip():
            self.door.keep_as_tube(name)

    # Showing

    def _name_it(self) -> None:
        pile = self.work.pile()
        with signals_blocked(self.name):
            self.name.setText(pile.name if pile is not None else "")
            self.name.setPlaceholderText("a new pile")
            self.name.setEnabled(pile is not None)

    def before(self, pile: BenchPile) -> Lab | None:
        """What a pile was before the last act."""
        seen = self.work.paints.look_of(pile.before) if pile.before else None
        return seen.lab if seen is not None else None

    def refresh(self) -> None:
        """Show the pile in hand."""
        work, pile = self.work, self.work.pile()
        if not self.name.hasFocus():
            self._name_it()
        for b in (self.cut, self.mix, self.keep):
            enable(b, "" if pile is not None else TAKE_ONE)
        enable(self.scrape, "" if work.bench.piles else "There is no pile on the bench.")
        self.amount.setText(f"{pile.ml:.2f} ml" if pile is not None else "")
        seen = work.paints.look_at(pile) if pile is not None else None
        if pile is None or seen is None:
            self.swatch.clear()
            self.says.setText("" if pile is None else "It holds a tube that is nowhere any more: scrape it off.")
            return
        target, first, drying = self.studio.document.bench.target, self.before(pile), seen.drying
        parts: list[tuple[str, Lab]] = []
        if target is not None:
            parts.append(("target", target))
        elif first is not None:
            parts.append(("before", first))
        parts.append(("dry" if drying.differs else "now", seen.lab))
        if drying.differs:
            parts.append(("wet", drying.wet))
        self.swatch.show_stacked(*(parts if len(parts) > 1 else 2 * parts))
        self.says.mark_up(self._words(pile, seen.lab, target))
        set_tip(self.says, f"{seen.trust.capitalize()}. {drying.words}")

    def _words(self, pile: BenchPile, lab: Lab, target: Lab | None) -> str:
        r = read(lab)
        inside = contents_words(pile, self.studio.document.bench.part_ml)
        advised = self.work.advice is not None  # what is in it gives its room to what should go in
        said = [f"<b>{numbers.value(r.value)} {r.name}</b>{'' if advised else f': {inside}'}."]
        if target is not None:
            c = compare(target, lab)
            step = numbers.school().difference(c.value_step)
            value = f"{step} {'lighter' if c.value_step > 0 else 'darker'}"
            value = "as light" if abs(c.value_step) < 0.1 else value
            said.append(f"Than the target {value}, {lean(lab, target)}, {c.chroma_words}; {c.gap:.1f} off.")
        return " ".join(said)
