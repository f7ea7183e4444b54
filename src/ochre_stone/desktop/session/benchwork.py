"""The bench in the window: which pile and which paint are in hand, the row that was made last, and every act."""

from collections.abc import Callable, Sequence
from typing import Any, Literal

from PyQt6.QtCore import QObject, pyqtSignal

from ochre_stone.core.advice.ways import WAYS
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.document.document import Document
from ochre_stone.core.errors import OchreError
from ochre_stone.core.mixing.bench import bench as acts
from ochre_stone.core.mixing.bench.bench import Bench, BenchPile
from ochre_stone.core.mixing.bench.nearer import nearer
from ochre_stone.core.mixing.bench.rows import BenchRow, drift, ladder, line, triangle
from ochre_stone.core.mixing.correcting.correct import Correction
from ochre_stone.core.paint.palettes import Palette
from ochre_stone.core.planning.benching import target_of, tube_finder
from ochre_stone.desktop.session.benchpaints import BenchPaints
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
    row_made = pyqtSignal()
    advised = pyqtSignal()

    def __init__(self, studio: Studio, palettes: Palettes, keeper: BoxKeeper) -> None:
        super().__init__(studio)
        self.studio, self.palettes, self.keeper = studio, palettes, keeper
        self.paints = BenchPaints(studio, palettes, keeper)
        self.in_hand = ""
        """Id of the pile in hand; "" where the next dose begins a new one."""
        self.supply = ""
        """Id of the paint in hand."""
        self.row: BenchRow | None = None
        self.no_row = ""
        """Why the last row that was asked for could not be made; "" where it was."""
        self.advice: Correction | str | None = None
        self._nearer: Question[Correction | str] = Question(
            studio.jobs, "bench-advice", self.pile, self._advised, studio.failed.emit
        )
        studio.benched.connect(self._benched)
        studio.replaced.connect(self._replaced)

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

    def size_ml(self, size: Size) -> float:
        """Millilitres of a knife's tip, a touch or a part."""
        if size == "tip":
            return self.document.mix.hand.least_ml
        return self.document.bench.part_ml * (TOUCH if size == "touch" else PART)

    # Acts

    def _change(self, text: str, bench: Bench) -> None:
        choice = self.document.bench.model_copy(update={"bench": bench})
        self.studio.change(text, self.document.model_copy(update={"bench": choice}))

    def attempt(self, act: Callable[[], Bench]) -> Bench | None:
        """What comes of an act; None where it cannot be done, which is told."""
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
        supply, pile = self.paints.supply_of(self.supply), self.pile()
        if supply is None:
            self.studio.told.emit("Take a paint in hand first: click a ribbon.")
            return
        bench = self.attempt(lambda: acts.add(self.bench, pile.id if pile is not None else "", supply, ml))
        if bench is not None:
            if pile is None:
                self.in_hand = bench.piles[-1].id
            self._change(f"Add {supply.name}", bench)

    def cut(self) -> None:
        """Set half of the pile in hand aside."""
        pile = self.needed()
        if pile is not None:
            bench = self.attempt(lambda: acts.cut(self.bench, pile.id))
            if bench is not None:
                self._change("Cut a pile in two", bench)

    def join(self, other: str) -> None:
        """Mix another pile into the one in hand."""
        pile = self.needed()
        if pile is not None:
            bench = self.attempt(lambda: acts.join(self.bench, pile.id, other))
            if bench is not None:
                self._change("Mix two piles", bench)

    def scrape(self) -> None:
        """Scrape the pile in hand off."""
        pile = self.needed()
        if pile is not None:
            self._change("Scrape a pile off", acts.scrape(self.bench, pile.id))

    def clear(self) -> None:
        """Scrape all piles off."""
        if self.bench.piles:
            self._change("Clean the bench", acts.cleared(self.bench))

    def rename(self, name: str) -> None:
        """Give the pile in hand a name."""
        pile = self.needed()
        if pile is not None and name != pile.name:
            bench = self.attempt(lambda: acts.renamed(self.bench, pile.id, name))
            if bench is not None:
                self._change("Name a pile", bench)

    def needed(self) -> BenchPile | None:
        """The pile in hand; where there is none, that is told."""
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
        sources = [s for s in (self.paints.supply_of(i) for i in corners) if s is not None]
        need = {"line": 2, "triangle": 3}.get(what, 1)
        if len(sources) < need or len({s.id for s in sources[:need]}) < need:
            self.studio.told.emit(f"Choose {('one', 'two', 'three')[need - 1]} different piles or paints for it.")
            return
        palette, known = self.palette, tube_finder(self.document, self.palette, self.keeper.box)
        tubes = [s for s in self.paints.supplies() if s.kind == "tube"]
        white = next((s for s in tubes if known(s.id).is_white), None)

        def work(_: Any) -> BenchRow:
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

        def arrived(row: BenchRow) -> None:
            self._show_row(row, "")

        def refused(why: str) -> None:
            self._show_row(None, why)

        self.studio.jobs.start("bench-row", work, arrived, refused)

    def _show_row(self, row: BenchRow | None, why: str) -> None:
        """The answer to what was asked for last, and nothing older below it."""
        self.row, self.no_row, self.advice = row, why, None
        self.studio.told.emit(why or (f"{row.title[:1].upper()}{row.title[1:]}." if row is not None else ""))
        self.row_made.emit()

    def drop_row(self) -> None:
        """Put the row away."""
        self.row, self.no_row = None, ""
        self.row_made.emit()

    def keep_rung(self, at: int) -> None:
        """Make a rung of the row a pile on the bench."""
        if self.row is None or not 0 <= at < len(self.row.rungs):
            return
        row, ml = self.row, 5 * self.document.bench.part_ml
        bench = self.attempt(lambda: acts.lay(self.bench, "", row.rungs[at].doses(row.sources, ml)))
        if bench is not None:
            self.in_hand = bench.piles[-1].id
            self._change("Lay a mixture on the bench", bench)

    # Advice

    def ask_nearer(self) -> None:
        """What would bring the pile in hand nearer to the target, off the main thread."""
        pile, target = self.needed(), self.document.bench.target
        if pile is None:
            return
        if target is None:
            self.studio.told.emit("There is no target: choose one first.")
            return
        palette, bench, mix = self.palette, self.bench, self.document.mix
        supplies, part_ml = [s for s in self.paints.supplies() if s.kind != "planned"], self.document.bench.part_ml

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
                supply = self.paints.supply_of(supply_id)
                if supply is not None:
                    bench = acts.add(bench, pile.id, supply, parts * self.document.bench.part_ml)
        except OchreError as error:
            self.studio.told.emit(str(error))
            return
        self._change("Follow the advice", bench)

    # What changes

    def _benched(self, old: Document, new: Document) -> None:
        ids = [p.id for p in new.bench.bench.piles]
        if self.in_hand and self.in_hand not in ids:
            self.in_hand = ids[-1] if ids else ""
        self.advice, self.no_row = None, ""
        self.changed.emit()

    def _replaced(self) -> None:
        self.in_hand, self.row, self.advice, self.no_row = "", None, None, ""
        self.row_made.emit()
