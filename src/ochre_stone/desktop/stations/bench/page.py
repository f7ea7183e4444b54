"""The Bench page: paint pushed about by hand, with or without a target."""

from collections.abc import Callable

from PyQt6.QtWidgets import QComboBox, QDoubleSpinBox, QInputDialog, QLineEdit, QMenu, QPushButton

from ochre_stone.core.colour.contrast import seen_against
from ochre_stone.core.colour.parse import parse_colour
from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.relations import compare, lean
from ochre_stone.core.colour.spaces import Lab, as_lab
from ochre_stone.core.errors import OchreError
from ochre_stone.core.mixing.bench.bench import BenchPile, Supply
from ochre_stone.core.mixing.bench.rows import WAYS, Row
from ochre_stone.core.mixing.correcting.words import addition_words, volume_words
from ochre_stone.core.mixing.recipe.recipe import parts_words
from ochre_stone.core.project.document import STRING_ORDER, SUBJECTS
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.session.benchwork import BenchWork, Size
from ochre_stone.desktop.session.piles import Piles
from ochre_stone.desktop.stations.bench.supplies import ShownSupply, SuppliesView
from ochre_stone.desktop.stations.bench.view import BenchView, ShownPile, ShownRung
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.parts import Words, allow, button, narrow, quietly
from ochre_stone.desktop.widgets.swatch import HalvesSwatch
from ochre_stone.desktop.widgets.tray import Tray

_ROW, _AROUND = "row", "around"
_KINDS = {"tube": "Tubes", "tint": "Tints", "planned": "Planned piles", "leftover": "Leftovers", _ROW: "Make a row",
          _AROUND: "Look around"}  # fmt: skip
_ROWS: dict[str, str] = {"ladder": "Tint ladder"}
_ROWS |= {w: f"Drift it {w}" for w in WAYS}
_ROWS |= {"line": "Line of a pair", "triangle": "Triangle of three"}
_LACKING = {
    "tint": "This palette has no white to make tints with.",
    "planned": "There is no plan yet: take notes, and come to Mix.",
    "leftover": "There are no leftovers: keep a pile as one, or say at Log what is left.",
}
_GROUNDS: dict[str, Lab] = {"white": (95.0, 0.0, 0.0), "black": (8.0, 0.0, 0.0)}
_NONE, _TYPED = "none", "typed"


class BenchPage:
    """The bench in the centre, paint and acts in the tray."""

    def __init__(self, tray: Tray, work: BenchWork, piles: Piles) -> None:
        self.tray, self.work, self.piles, self.studio = tray, work, piles, work.studio
        self.view = self.panel = BenchView()
        self.view.hint = "Take a paint in hand at the right and press: each press is a touch, held for more."
        self.view.pile_taken.connect(work.take)
        self.view.rung_opened.connect(work.keep_rung)
        self._build_paint()
        self._build_pile()
        self._build_more()
        self.shown = False
        """Whether the page is looked at."""
        for signal in (work.changed, work.supplied, work.row_made, work.advised):
            signal.connect(self._refresh_if_shown)

    # Building

    def _build_paint(self) -> None:
        tray = self.tray
        self.kind = narrow(QComboBox())
        self.kind.setAccessibleName("Paint at hand, rows, or what lies around")
        for kind, words in _KINDS.items():
            self.kind.addItem(words, kind)
        self.kind.activated.connect(lambda _: self.refresh())
        self.part = QDoubleSpinBox()
        self.part.setRange(0.05, 10)
        self.part.setSingleStep(0.05)
        self.part.setPrefix("part ")
        self.part.setSuffix(" ml")
        self.part.setFixedWidth(theme.sized(118))
        self.part.setAccessibleName("Size of a part")
        self.part.setToolTip("Millilitres of a part; a touch is a quarter of it")
        self.part.valueChanged.connect(self.work.use_part)
        tray.row(self.kind, self.part).setStretch(0, 1)
        self.supplies = SuppliesView()
        self.supplies.taken.connect(self.work.choose_supply)
        self.supplies.dosed.connect(self.dose)
        tray.rows.addWidget(self.supplies)
        self._build_rows()
        self.sizes: dict[Size, QPushButton] = {}
        said: dict[Size, tuple[str, str]] = {
            "tip": ("Tip", "What the tip of the knife holds (Ctrl+Enter on a paint)"),
            "touch": ("Touch", "A quarter of a part (Enter on a paint)"),
            "part": ("Part", "A whole part (Shift+Enter on a paint)"),
        }
        for size, (words, tip) in said.items():
            b = button(words, f"{tip}; hold it for more", "small")
            b.setAutoRepeat(True)
            b.setAutoRepeatDelay(450)
            b.setAutoRepeatInterval(160)
            b.clicked.connect(lambda _, s=size: self.work.add(s))
            self.sizes[size] = b
        self.put_in = Words("Put in")
        self.new, self.begins = self._with_menu("New pile", "A pile of its own", self._fill_begins)
        tray.row(self.put_in, *self.sizes.values(), None, self.new).setSpacing(5)

    def _build_rows(self) -> None:
        tray = self.tray
        self.what = narrow(QComboBox())
        self.what.setAccessibleName("Row to make")
        for key, words in _ROWS.items():
            self.what.addItem(words, key)
        self.what.activated.connect(lambda _: self.refresh())
        self.make = button("Make", "Lay the row out at its values; Enter on one of it makes it a pile", "small")
        self.make.clicked.connect(self.make_row)
        self.drop = button("Away", "Put the row away", "small")
        self.drop.clicked.connect(self.work.drop_row)
        tray.row(self.what, self.make, self.drop).setStretch(0, 1)
        self.corners = [narrow(QComboBox()) for _ in range(3)]
        for k, box in enumerate(self.corners):
            box.setAccessibleName(f"{('First', 'Second', 'Third')[k]} of the row")
            box.setMinimumContentsLength(3)
        tray.row(*self.corners).setSpacing(4)
        self.ground = narrow(QComboBox())
        self.ground.setAccessibleName("Around the piles")
        self.ground.activated.connect(lambda _: self.refresh())
        self.around = Words("Around them")
        tray.row(self.around, self.ground).setStretch(1, 1)
        self.seems = tray.label("", "quiet")

    def _build_pile(self) -> None:
        tray = self.tray
        self.name = QLineEdit()
        self.name.setAccessibleName("Name of the pile")
        self.name.setMaxLength(60)
        self.name.editingFinished.connect(self._rename)
        self.amount = Words("")
        tray.row(self.name, self.amount).setStretch(0, 1)
        self.swatch = HalvesSwatch(58)
        tray.rows.addWidget(self.swatch)
        self.says = tray.label("")
        self.cut = button("Cut", "Half of it is set aside, as it is", "small")
        self.cut.clicked.connect(self.work.cut)
        self.mix, self.others = self._with_menu("Mix in", "Another pile goes into this one", self._fill_others)
        self.scrape, self.gone = self._with_menu("Scrape off", "This pile, or all", self._fill_gone)
        tip = "In the plan, among the leftovers, as a tube or as a note"
        self.keep, self.keeping = self._with_menu("Keep", tip, self._fill_keeping)
        tray.row(self.cut, self.mix, self.scrape, self.keep).setSpacing(5)

    def _build_more(self) -> None:
        tray = self.tray
        self.target = narrow(QComboBox())
        self.target.setAccessibleName("Target")
        self.target.setMinimumContentsLength(5)
        self.target.activated.connect(lambda _: self._choose_target(str(self.target.currentData())))
        self.nearer = button("Nearer?", "What would bring it nearer to the target?", "small")
        self.nearer.clicked.connect(self.work.ask_nearer)
        tray.row(Words("Target"), self.target, self.nearer).setStretch(1, 1)
        self.advice = Words("")
        self.advice.setWordWrap(True)
        self.follow = button("Do that", "Put it in, as one step", "small")
        self.follow.clicked.connect(self.work.follow)
        tray.row(self.advice, self.follow).setStretch(0, 1)

    def _with_menu(self, words: str, tip: str, fill: Callable[[], None]) -> tuple[QPushButton, QMenu]:
        """A button that offers what ``fill`` puts on its list."""
        b = button(words, tip, "small")
        menu = QMenu(b)
        menu.aboutToShow.connect(fill)
        b.setMenu(menu)
        return b, menu

    # What is done

    def dose(self, size: str) -> None:
        """A dose of the paint in hand: a touch where no size is said."""
        sizes: dict[str, Size] = {"": "touch", "touch": "touch", "tip": "tip", "part": "part"}
        self.work.supply = self.supplies.held or self.work.supply
        self.work.add(sizes[size])

    def _rename(self) -> None:
        pile = self.work.pile()
        if pile is not None and self.name.text() != pile.name:
            self.work.rename(self.name.text())
            self._name_it()

    def _fill_begins(self) -> None:
        self.begins.clear()
        self.begins.addAction("With the next dose", lambda: self.work.take(""))
        found = self.piles.found()
        if found is not None:
            name, pile_id = self.piles.names()[found[1].id], found[1].id
            self.begins.addAction(f"{name}, as planned", lambda: self.work.open_planned(pile_id))
            self.begins.addAction(f"{name}, as it is by now", lambda: self.work.open_planned(pile_id, True))

    def _fill_gone(self) -> None:
        self.gone.clear()
        self.gone.addAction("This pile", self.work.scrape)
        self.gone.addAction("All piles", self.work.clear)

    def _fill_others(self) -> None:
        self.others.clear()
        for p in self.work.bench.piles:
            if p.id != self.work.in_hand:
                self.others.addAction(p.name, lambda i=p.id: self.work.join(i))
        if self.others.isEmpty():
            nothing = self.others.addAction("There is no other pile")
            if nothing is not None:
                nothing.setEnabled(False)

    def _fill_keeping(self) -> None:
        self.keeping.clear()
        there = {s.id: s.name for s in self.studio.document.mixed.strings}
        subjects = [s for s in STRING_ORDER if s in SUBJECTS]
        strings = self.keeping.addMenu("In the plan, as a pile of")
        if strings is not None:
            for s in subjects:
                words = there.get(s, s.capitalize()) if s in there else f"{s.capitalize()} (an accent)"
                strings.addAction(words, lambda i=s: self.work.keep_in_plan(i))
        self.keeping.addAction("In the log: mixed like this", self.work.say_mixed)
        self.keeping.addAction("Among the leftovers", self.work.keep_as_leftover)
        self.keeping.addAction("As a tube of my own…", self.ask_tube)
        self.keeping.addAction("As a note", self.work.keep_as_note)

    def ask_tube(self) -> None:
        """Ask what the tube is to be called, and keep it."""
        pile = self.work.pile()
        if pile is None:
            self.studio.told.emit("Take a pile in hand first: click it.")
            return
        name, said = QInputDialog.getText(self.tray.widget, "A tube of my own", "What is it called?", text=pile.name)
        if said and name.strip():
            self.work.keep_as_tube(name)

    def _choose_target(self, what: str) -> None:
        kind, _, key = what.partition(":")
        if kind == _NONE:
            self.work.mix_toward(None)
        elif kind == _TYPED:
            self.ask_target()
        elif kind == "note":
            note = self.studio.document.note(key)
            self.work.mix_toward(note.lab, note.name)
        elif kind == "pile":
            self.work.mix_toward_pile(key)
        elif kind == "bench":
            pile = self.work.bench.pile(key)
            seen = self.work.look_at(pile)
            if seen is not None:
                self.work.mix_toward(seen.lab, pile.name)
        self.refresh()

    def ask_target(self) -> None:
        """A colour that is typed as the target."""
        text, said = QInputDialog.getText(
            self.tray.widget, "Target", "A colour: “lab 62 14 22”, “#c9a27e” or “munsell 5YR 6/4”"
        )
        if said and text.strip():
            self.take_typed(text)

    def take_typed(self, text: str) -> None:
        """Mix toward a colour that was typed; what is none is said."""
        try:
            lab = as_lab(parse_colour(text))
        except OchreError as error:
            self.studio.failed.emit(str(error))
            return
        self.work.mix_toward(lab, text.strip())

    def make_row(self) -> None:
        """Make the row that is chosen."""
        what = str(self.what.currentData())
        self.work.make(what, [str(box.currentData()) for box in self.corners[: self._needs()]])

    def _needs(self) -> int:
        return {"line": 2, "triangle": 3}.get(str(self.what.currentData()), 1)

    # Showing

    def _refresh_if_shown(self) -> None:
        if self.shown and self.tray.widget.isVisible():
            self.refresh()

    def refresh(self) -> None:
        """Show the bench as it is."""
        self._show_paint()
        self._show_pile()
        self._show_target()
        self._show_corners()
        self._show_ground()
        self._show_view()

    def _show_paint(self) -> None:
        work = self.work
        with quietly(self.part):
            self.part.setValue(self.studio.document.bench.part_ml)
        there = work.supplies()
        wanted = str(self.kind.currentData())
        paint = wanted not in (_ROW, _AROUND)
        shown = [s for s in there if s.kind == wanted]
        if paint and not shown and wanted != "tube":
            self.studio.told.emit(_LACKING[wanted])
            with quietly(self.kind):
                self.kind.setCurrentIndex(0)
            shown = [s for s in there if s.kind == "tube"]
        if shown and all(s.id != work.supply for s in shown):
            work.supply = shown[0].id
        if paint:
            self.supplies.show_supplies([s for s in (self._supply(s) for s in shown) if s is not None], work.supply)
        for w in (self.supplies, self.put_in, self.new, self.part, *self.sizes.values()):
            w.setVisible(paint)
        for w in (self.what, self.make):
            w.setVisible(wanted == _ROW)
        for w in (self.ground, self.around):
            w.setVisible(wanted == _AROUND)

    def _supply(self, s: Supply) -> ShownSupply | None:
        lab = self.work.lab_of(s)
        left = self.work.bench.left(s)
        return ShownSupply(s.id, s.name, lab, s.kind == "tube", f"{left:.1f} ml" if left < 1e6 else "") if lab else None

    def _name_it(self) -> None:
        pile = self.work.pile()
        with quietly(self.name):
            self.name.setText(pile.name if pile is not None else "")
            self.name.setPlaceholderText("a new pile")
            self.name.setEnabled(pile is not None)

    def _show_pile(self) -> None:
        work, pile = self.work, self.work.pile()
        if not self.name.hasFocus():
            self._name_it()
        for b in (self.cut, self.mix, self.keep):
            allow(b, "" if pile is not None else "Take a pile in hand first: click it.")
        allow(self.scrape, "" if work.bench.piles else "There is no pile on the bench.")
        self.amount.setText(f"{pile.ml:.2f} ml" if pile is not None else "")
        seen = work.look_at(pile) if pile is not None else None
        if pile is None or seen is None:
            self.swatch.clear()
            self.says.setText("" if pile is None else "It holds a tube that is nowhere any more: scrape it off.")
            return
        target = self.studio.document.bench.target
        first = self._before(pile)
        parts: list[tuple[str, Lab]] = []
        if target is not None:
            parts.append(("target", target))
        elif first is not None:
            parts.append(("before", first))
        drying = seen.drying
        parts.append(("dry" if drying.differs else "now", seen.lab))
        if drying.differs:
            parts.append(("wet", drying.wet))
        self.swatch.show_stacked(*(parts if len(parts) > 1 else [("now", seen.lab), ("now", seen.lab)]))
        self.says.mark_up(self._pile_words(pile, seen.lab, target))
        self.says.setToolTip(f"{seen.trust.capitalize()}. {drying.words}")

    def _pile_words(self, pile: BenchPile, lab: Lab, target: Lab | None) -> str:
        r = read(lab)
        inside = contents_words(pile, self.studio.document.bench.part_ml)
        said = [f"<b>{numbers.value(r.value)} {r.name}</b>: {inside}."]
        if target is not None:
            c = compare(target, lab)
            step = numbers.school().difference(c.value_step)
            value = f"{step} too {'light' if c.value_step > 0 else 'dark'}"
            value = "Value right" if abs(c.value_step) < 0.1 else value
            said.append(f"{value[0].upper()}{value[1:]}, {lean(lab, target)}, {c.chroma_words}; {c.gap:.1f} off.")
        return " ".join(said)

    def _before(self, pile: BenchPile) -> Lab | None:
        seen = self.work.look_of(pile.before) if pile.before else None
        return seen.lab if seen is not None else None

    def _show_target(self) -> None:
        work, choice, document = self.work, self.studio.document.bench, self.studio.document
        note = next((n for n in document.notes if n.id == self.studio.selected), None)
        found = self.piles.found()
        with quietly(self.target):
            self.target.clear()
            if choice.target is not None:
                self.target.addItem(choice.target_name or "a colour", "same:")
            self.target.addItem("none", f"{_NONE}:")
            if note is not None:
                self.target.addItem(f"the note: {note.name}", f"note:{note.id}")
            if found is not None:
                self.target.addItem(f"the plan's pile: {self.piles.names()[found[1].id]}", f"pile:{found[1].id}")
            for p in work.bench.piles:
                if p.id != work.in_hand:
                    self.target.addItem(f"on the bench: {p.name}", f"bench:{p.id}")
            self.target.addItem("typed…", f"{_TYPED}:")
            self.target.setCurrentIndex(0)
        why = "" if choice.target is not None else "Choose a target first."
        allow(self.nearer, why or ("" if work.pile() is not None else "Take a pile in hand first: click it."))
        words, can = self._advice_words()
        self.advice.setText(words)
        self.advice.setVisible(bool(words))
        self.follow.setVisible(can)

    def _advice_words(self) -> tuple[str, bool]:
        found = self.work.advice
        if found is None:
            return "", False
        if isinstance(found, str):
            return found, False
        if found.verdict in ("add", "cut") and found.additions:
            said = " and ".join(addition_words(v, n) for (_, v), n in zip(found.additions, found.names, strict=True))
            aside = f"Set {'half' if found.keep == 0.5 else 'two thirds'} aside, then add"
            first = aside if found.verdict == "cut" else "Add"
            return f"{first} {said}: it comes to {found.de00:.1f} from {found.now:.1f}.", True
        words = {"home": "It matches.", "look": "It matches as far as can be told."}
        return words.get(found.verdict, "Nothing at hand brings it nearer."), False

    def _show_corners(self) -> None:
        work, need = self.work, self._needs()
        choices = [(p.name, p.id) for p in work.bench.piles]
        choices += [(s.name, s.id) for s in work.supplies() if s.kind != "tint"]
        pile = work.pile()
        wanted = [pile.id if pile is not None else work.supply, work.supply if pile is not None else ""]
        for k, box in enumerate(self.corners):
            box.setVisible(k < need and self.kind.currentData() == _ROW)
            now = str(box.currentData() or "")
            with quietly(box):
                box.clear()
                for name, key in choices:
                    box.addItem(name, key)
                chosen = now if box.findData(now) >= 0 and k > 0 else wanted[k] if k < 2 else ""
                box.setCurrentIndex(max(box.findData(chosen), 0))
        self.drop.setVisible(work.row is not None and self.kind.currentData() == _ROW)

    def _show_ground(self) -> None:
        document = self.studio.document
        now = str(self.ground.currentData() or "grey")
        with quietly(self.ground):
            self.ground.clear()
            self.ground.addItem("neutral grey", "grey")
            for name in _GROUNDS:
                self.ground.addItem(name, name)
            self.ground.addItem("the canvas", "canvas")
            for n in document.notes:
                self.ground.addItem(f"the note: {n.name}", f"note:{n.id}")
            for p in self.work.bench.piles:
                self.ground.addItem(f"the pile: {p.name}", f"bench:{p.id}")
            self.ground.setCurrentIndex(max(self.ground.findData(now), 0))
        ground = self._ground()
        pile = self.work.pile()
        seen = self.work.look_at(pile) if pile is not None else None
        self.seems.setVisible(ground is not None and seen is not None and self.kind.currentData() == _AROUND)
        if ground is not None and seen is not None and pile is not None:
            words = seen_against(seen.lab, ground).words(numbers.school())
            self.seems.setText(f"{pile.name} {words}")
        self.view.ground = ground

    def _ground(self) -> Lab | None:
        key = str(self.ground.currentData() or "grey")
        if key in _GROUNDS:
            return _GROUNDS[key]
        if key == "canvas":
            return self.studio.document.canvas.ground
        kind, _, what = key.partition(":")
        if kind == "note":
            return next((n.lab for n in self.studio.document.notes if n.id == what), None)
        if kind == "bench":
            pile = next((p for p in self.work.bench.piles if p.id == what), None)
            seen = self.work.look_at(pile) if pile is not None else None
            return seen.lab if seen is not None else None
        return None

    def _show_view(self) -> None:
        work, choice = self.work, self.studio.document.bench
        piles = []
        for p in work.bench.piles:
            seen = work.look_at(p)
            if seen is not None:
                wet = seen.drying.wet if seen.drying.differs else None
                inside = contents_words(p, choice.part_ml)
                piles.append(ShownPile(p.id, p.name, p.ml, seen.lab, self._before(p), wet, inside))
        rungs = rungs_of(work.row) if work.row is not None else []
        target = (choice.target_name, choice.target) if choice.target is not None else None
        title = work.row.title if work.row is not None else ""
        self.view.show_bench(piles, work.in_hand, rungs, title, target)


def contents_words(pile: BenchPile, part_ml: float) -> str:
    """What is in a pile, in parts: "2 white, 1 ochre, a touch of red"."""
    once: dict[str, float] = {}
    for d in pile.doses:
        once[d.name] = once.get(d.name, 0.0) + d.ml / part_ml
    return ", ".join(addition_words(v, name) for name, v in once.items() if v >= 0.05) or volume_words(0.1)


def rungs_of(row: Row) -> list[ShownRung]:
    """A row as it is drawn: parts in the order of its sources."""
    out = []
    for r in row.rungs:
        used = [(s.name, p) for s, p in zip(row.sources, r.parts, strict=True) if p > 0]
        alone = "all" if len(row.sources) < 3 else used[0][0][:6]
        short = " : ".join(_short(p) for p in r.parts) if len(used) > 1 else alone
        out.append(ShownRung(r.lab, short, ", ".join(f"{parts_words(p)} {name}" for name, p in used)))
    return out


def _short(parts: float) -> str:
    words = parts_words(parts) if parts else "0"
    return "t" if words == "touch" else words


def bench_page(work: BenchWork, piles: Piles) -> Callable[[Tray], BenchPage]:
    """Makes the page on a tray."""
    return lambda tray: BenchPage(tray, work, piles)
