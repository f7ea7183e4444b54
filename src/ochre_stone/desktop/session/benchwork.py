"""The bench in the window: which pile and which paint are in hand, the row that was made last, and every act."""

from collections.abc import Callable, Sequence
from datetime import datetime
from typing import Any, Literal

from PyQt6.QtCore import QObject, pyqtSignal

from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.errors import OchreError
from ochre_stone.core.mixing.bench import bench as acts
from ochre_stone.core.mixing.bench.bench import Bench, BenchPile, Supply
from ochre_stone.core.mixing.bench.look import Look, look
from ochre_stone.core.mixing.bench.nearer import nearer
from ochre_stone.core.mixing.bench.rows import WAYS, Row, drift, ladder, line, triangle
from ochre_stone.core.mixing.correcting.correct import Correction
from ochre_stone.core.mixing.recipe.dose import Dose
from ochre_stone.core.paint.chart import Cell
from ochre_stone.core.paint.palettes import Palette
from ochre_stone.core.paint.tubes import Tube
from ochre_stone.core.project.benching import (
    as_note,
    as_planned,
    as_supply,
    as_tube,
    at_hand,
    target_of,
    tube_finder,
    with_cell,
    with_planned,
)
from ochre_stone.core.project.document import Document, Note
from ochre_stone.desktop.session.box import BoxKeeper
from ochre_stone.desktop.session.palettes import Palettes
from ochre_stone.desktop.session.question import Question
from ochre_stone.desktop.session.studio import Studio

Size = Literal["tip", "touch", "part"]
PART, TOUCH = 1.0, 0.25
_REMEMBERED = 4096


class BenchWork(QObject):
    """What the painter does on the bench; every act is a step of the project's history."""

    changed = pyqtSignal()
    """Piles, or what is in hand, are others."""
    supplied = pyqtSignal()
    """Other paint is at hand."""
    row_made = pyqtSignal()
    advised = pyqtSignal()
    left_over = pyqtSignal(str)
    """A pile is to be kept as a leftover."""
    really_mixed = pyqtSignal(str)
    """A pile of the bench was mixed on the palette."""

    def __init__(self, studio: Studio, palettes: Palettes, keeper: BoxKeeper) -> None:
        super().__init__(studio)
        self.studio, self.palettes, self.keeper = studio, palettes, keeper
        self.in_hand = ""
        """Id of the pile in hand; "" where the next dose begins a new one."""
        self.supply = ""
        """Id of the paint in hand."""
        self.leftovers: Callable[[], Sequence[Supply]] = lambda: ()
        """Piles of earlier days that are not used up."""
        self.row: Row | None = None
        self.advice: Correction | str | None = None
        self._nearer: Question[Correction | str] = Question(
            studio.jobs, "bench-advice", self.pile, self._advised, studio.failed.emit
        )
        self._looks: dict[object, Look] = {}
        self._supplies: tuple[object, list[Supply]] | None = None
        studio.benched.connect(self._benched)
        studio.changed.connect(self._changed)
        studio.replaced.connect(self._replaced)
        palettes.taken.connect(self.supplied)
        keeper.changed.connect(self._forget)

    # What there is

    @property
    def document(self) -> Document:
        return self.studio.document

    @property
    def bench(self) -> Bench:
        return self.document.bench.bench

    @property
    def palette(self) -> Palette:
        """The palette in hand."""
        return self.palettes.chosen()

    def pile(self) -> BenchPile | None:
        """The pile in hand."""
        return next((p for p in self.bench.piles if p.id == self.in_hand), None)

    def supplies(self) -> list[Supply]:
        """All that paint can be taken from."""
        palette, left = self.palette, tuple(self.leftovers())
        key = (palette.tubes, self.document.mixed.strings, left)
        if self._supplies is None or self._supplies[0] != key:
            self._supplies = key, at_hand(self.document, palette, left)
        return self._supplies[1]

    def supply_of(self, supply_id: str) -> Supply | None:
        """A supply, or a pile on the bench to make a row from."""
        found = next((s for s in self.supplies() if s.id == supply_id), None)
        if found is None:
            found = next((as_supply(p) for p in self.bench.piles if p.id == supply_id), None)
        return found

    def find_tube(self, tube_id: str) -> Tube:
        """Any tube that a pile can hold. Raises OchreError for one that is nowhere any more."""
        return tube_finder(self.document, self.palette, self.keeper.box)(tube_id)

    def opened(self) -> dict[str, float]:
        """When the painter's own tubes were opened, seconds since 1970, where the box knows."""
        there = [(t.id, t.opened) for t in self.keeper.box.tubes if t.opened]
        return {i: datetime.fromisoformat(day).timestamp() for i, day in there}

    def look_of(self, amounts: Sequence[tuple[str, float]]) -> Look | None:
        """What a mixture looks like; None where a tube of it is nowhere any more."""
        palette = self.palette
        key = (tuple(amounts), palette.tubes, palette.medium, palette.finish)
        found = self._looks.get(key)
        if found is None:
            try:
                found = look(dict(amounts), self.find_tube, palette.medium, palette.finish)
            except OchreError:
                return None
            if len(self._looks) > _REMEMBERED:
                self._looks.clear()
            self._looks[key] = found
        return found

    def look_at(self, pile: BenchPile) -> Look | None:
        """What a pile looks like."""
        return self.look_of(tuple(pile.amounts.items()))

    def lab_of(self, supply: Supply) -> Lab | None:
        """Colour of a supply."""
        found = self.look_of(supply.shares)
        return found.lab if found is not None else None

    def size_ml(self, size: Size) -> float:
        """Millilitres of a knife's tip, a touch or a part."""
        if size == "tip":
            return self.document.mix.hand.least_ml
        return self.document.bench.part_ml * (TOUCH if size == "touch" else PART)

    # Acts

    def _change(self, text: str, bench: Bench) -> None:
        choice = self.document.bench.model_copy(update={"bench": bench})
        self.studio.change(text, self.document.model_copy(update={"bench": choice}))

    def _try(self, act: Callable[[], Bench]) -> Bench | None:
        try:
            return act()
        except OchreError as error:
            self.studio.told.emit(str(error))
            return None

    def take(self, pile_id: str) -> None:
        """Take a pile in hand; "" for none, so that the next dose begins a new one."""
        if pile_id != self.in_hand:
            self.in_hand, self.advice = pile_id, None
            self.changed.emit()

    def choose_supply(self, supply_id: str) -> None:
        """Take a paint in hand."""
        self.supply = supply_id
        self.changed.emit()

    def add(self, size: Size) -> None:
        """Put a dose of the paint in hand into the pile in hand."""
        self.add_ml(self.size_ml(size))

    def add_ml(self, ml: float) -> None:
        """Put millilitres of the paint in hand into the pile in hand."""
        supply, pile = self.supply_of(self.supply), self.pile()
        if supply is None:
            self.studio.told.emit("Take a paint in hand first: click a ribbon.")
            return
        bench = self._try(lambda: acts.add(self.bench, pile.id if pile is not None else "", supply, ml))
        if bench is not None:
            if pile is None:
                self.in_hand = bench.piles[-1].id
            self._change(f"Add {supply.name}", bench)

    def cut(self) -> None:
        """Set half of the pile in hand aside."""
        pile = self._needed()
        if pile is not None:
            bench = self._try(lambda: acts.cut(self.bench, pile.id))
            if bench is not None:
                self._change("Cut a pile in two", bench)

    def join(self, other: str) -> None:
        """Mix another pile into the one in hand."""
        pile = self._needed()
        if pile is not None:
            bench = self._try(lambda: acts.join(self.bench, pile.id, other))
            if bench is not None:
                self._change("Mix two piles", bench)

    def scrape(self) -> None:
        """Scrape the pile in hand off."""
        pile = self._needed()
        if pile is not None:
            self._change("Scrape a pile off", acts.scrape(self.bench, pile.id))

    def clear(self) -> None:
        """Scrape all piles off."""
        if self.bench.piles:
            self._change("Clean the bench", acts.cleared(self.bench))

    def rename(self, name: str) -> None:
        """Give the pile in hand a name."""
        pile = self._needed()
        if pile is not None and name != pile.name:
            bench = self._try(lambda: acts.renamed(self.bench, pile.id, name))
            if bench is not None:
                self._change("Name a pile", bench)

    def _needed(self) -> BenchPile | None:
        pile = self.pile()
        if pile is None:
            self.studio.told.emit("Take a pile in hand first: click it.")
        return pile

    def use_part(self, ml: float) -> None:
        """So much is a part."""
        self.studio.adjust("bench", "Size of a part", "part", part_ml=ml)

    def mix_toward(self, lab: Lab | None, name: str = "") -> None:
        """Set a target, or none."""
        choice = self.document.bench.model_copy(update={"target": lab, "target_name": name[:120]})
        self.studio.change("Target of the bench", self.document.model_copy(update={"bench": choice}))
        self.advice = None

    def mix_toward_pile(self, pile_id: str) -> None:
        """A pile of the plan as the target."""
        self.mix_toward(*target_of(self.document, pile_id=pile_id))

    # Rows

    def make(self, what: str, corners: Sequence[str]) -> None:
        """Make a row, off the main thread: "ladder", "line", "triangle", or a way to drift. ``corners``: ids of piles
        or paints, as many as it needs."""
        sources = [s for s in (self.supply_of(i) for i in corners) if s is not None]
        need = {"line": 2, "triangle": 3}.get(what, 1)
        if len(sources) < need or len({s.id for s in sources[:need]}) < need:
            self.studio.told.emit(f"Choose {('one', 'two', 'three')[need - 1]} different piles or paints for it.")
            return
        palette, known = self.palette, tube_finder(self.document, self.palette, self.keeper.box)
        tubes = [s for s in self.supplies() if s.kind == "tube"]
        white = next((s for s in tubes if known(s.id).is_white), None)

        def work(_: Any) -> Row:
            if what == "ladder":
                if white is None:
                    raise OchreError(f"{palette.name} has no white: a ladder is stepped with white.")
                return ladder(sources[0], white, known, palette.surface)
            if what == "line":
                return line(sources[0], sources[1], known, palette.surface)
            if what == "triangle":
                return triangle(sources[:3], known, palette.surface)
            way = next(w for w in WAYS if w == what)
            return drift(sources[0], way, tubes, known, palette.surface)

        def arrived(row: Row) -> None:
            self.row = row
            self.row_made.emit()

        self.studio.jobs.start("bench-row", work, arrived, self.studio.told.emit)

    def drop_row(self) -> None:
        """Put the row away."""
        self.row = None
        self.row_made.emit()

    def keep_rung(self, at: int) -> None:
        """Make a rung of the row a pile on the bench."""
        if self.row is None or not 0 <= at < len(self.row.rungs):
            return
        row, ml = self.row, 5 * self.document.bench.part_ml
        bench = self._try(lambda: acts.lay(self.bench, "", row.rungs[at].doses(row.sources, ml)))
        if bench is not None:
            self.in_hand = bench.piles[-1].id
            self._change("Lay a mixture on the bench", bench)

    # Advice

    def ask_nearer(self) -> None:
        """What would bring the pile in hand nearer to the target, off the main thread."""
        pile, target = self._needed(), self.document.bench.target
        if pile is None:
            return
        if target is None:
            self.studio.told.emit("There is no target: choose one first.")
            return
        palette, bench, mix = self.palette, self.bench, self.document.mix
        supplies, part_ml = [s for s in self.supplies() if s.kind != "planned"], self.document.bench.part_ml

        def work(_: Any) -> Correction | str:
            try:
                hand = mix.hand.made()
                return nearer(pile, target, supplies, palette.tubes, palette.surface, part_ml, hand, mix.order, bench)
            except ValueError as error:
                return f"{str(error)[0].upper()}{str(error)[1:]}."

        self._nearer.forget()
        self._nearer.ask(work)

    def _advised(self, found: Correction | str) -> None:
        self.advice = found
        self.advised.emit()

    def follow(self) -> None:
        """Do what was advised, as one step."""
        pile, advice = self.pile(), self.advice
        if pile is None or not isinstance(advice, Correction) or not advice.additions:
            return
        bench = self.bench
        try:
            if advice.verdict == "cut":
                bench = acts.cut(bench, pile.id, 1 - advice.keep)
            for supply_id, parts in advice.additions:
                supply = self.supply_of(supply_id)
                if supply is not None:
                    bench = acts.add(bench, pile.id, supply, parts * self.document.bench.part_ml)
        except OchreError as error:
            self.studio.told.emit(str(error))
            return
        self._change("Follow the advice", bench)

    # Opening and keeping

    def open_planned(self, pile_id: str, as_mixed: bool = False) -> None:
        """Open a pile of the plan on the bench, with its target."""
        self._open(lambda: with_planned(self.document, pile_id, as_mixed))

    def lay_doses(self, name: str, doses: Sequence[Dose], target: Lab | None = None) -> None:
        """A pile onto the bench, and its target where it had one."""
        bench = self._try(lambda: acts.lay(self.bench, name, doses))
        if bench is not None:
            self.in_hand = bench.piles[-1].id
            fields: dict[str, object] = {"bench": bench}
            if target is not None:
                fields |= {"target": target, "target_name": name}
            choice = self.document.bench.model_copy(update=fields)
            self.studio.change("Lay a pile on the bench", self.document.model_copy(update={"bench": choice}))

    def open_cell(self, cell: Cell) -> None:
        """Mix a chart's cell on the bench."""
        self._open(lambda: with_cell(self.document, cell, self.find_tube))

    def _open(self, make: Callable[[], Document]) -> None:
        try:
            new = make()
        except OchreError as error:
            self.studio.told.emit(str(error))
            return
        self.in_hand = new.bench.bench.piles[-1].id
        self.studio.change("Open on the bench", new)

    def keep_as_note(self) -> Note | None:
        """The colour of the pile in hand as a note."""
        made = self._kept(lambda pile, lab: as_note(self.document, pile, lab))
        if made is not None:
            self.studio.change("Note a pile", made[0])
            self.studio.select(made[1].id)
            self.studio.told.emit(f"Noted: {made[1].name}.")
        return made[1] if made is not None else None

    def keep_in_plan(self, subject: str) -> Note | None:
        """The pile in hand in the plan, among the piles of a subject."""
        made = self._kept(lambda pile, lab: as_planned(self.document, pile, lab, subject))
        if made is not None:
            self.studio.change("Keep a pile in the plan", made[0])
            self.studio.told.emit(f"{made[1].name} is in the plan, with its recipe: its note stands on the scale.")
        return made[1] if made is not None else None

    def keep_as_leftover(self) -> None:
        """The pile in hand among the leftovers, with its amount."""
        pile = self._needed()
        if pile is not None:
            self.left_over.emit(pile.id)

    def say_mixed(self) -> None:
        """The pile in hand was really mixed: into the log."""
        pile = self._needed()
        if pile is not None:
            self.really_mixed.emit(pile.id)

    def keep_as_tube(self, name: str) -> bool:
        """The pile in hand as a tube of the painter's own."""
        pile = self._needed()
        if pile is None:
            return False
        medium = self.palette.medium
        done = self.keeper.attempt("Keep a mixture as a tube", lambda: as_tube(self.keeper.box, pile, name, medium))
        if done:
            self.studio.told.emit(f"“{self.keeper.box.tubes[-1].name}” is in your paint box.")
        return done

    def _kept(self, make: Callable[[BenchPile, Lab], tuple[Document, Note]]) -> tuple[Document, Note] | None:
        pile = self._needed()
        seen = self.look_at(pile) if pile is not None else None
        if pile is None or seen is None:
            return None
        try:
            return make(pile, seen.lab)
        except OchreError as error:
            self.studio.failed.emit(str(error))
            return None

    # What changes

    def _benched(self, old: Document, new: Document) -> None:
        ids = [p.id for p in new.bench.bench.piles]
        if self.in_hand and self.in_hand not in ids:
            self.in_hand = ids[-1] if ids else ""
        self.advice = None
        self.changed.emit()

    def _changed(self, old: Document, new: Document) -> None:
        if (old.mix, old.mixed) != (new.mix, new.mixed):
            self.supplied.emit()

    def _replaced(self) -> None:
        self.in_hand, self.row, self.advice = "", None, None
        self.row_made.emit()

    def _forget(self) -> None:
        self._looks.clear()
        self._supplies = None
        self.supplied.emit()
