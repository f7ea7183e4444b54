"""What is opened on the bench, and what of it is kept: as a note, in the plan, as a tube, in the log."""

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QObject, pyqtSignal

from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.document.document import Document, Note
from ochre_stone.core.errors import OchreError
from ochre_stone.core.mixing.bench import bench as acts
from ochre_stone.core.mixing.bench.bench import BenchPile
from ochre_stone.core.mixing.recipe.dose import Dose
from ochre_stone.core.paint.chart import Cell
from ochre_stone.core.planning.benching import as_note, as_planned, as_tube, with_cell, with_planned
from ochre_stone.desktop.session.benchwork import BenchWork


class BenchKeeping(QObject):
    """The bench's doors."""

    left_over = pyqtSignal(str)
    """A pile is to be kept as a leftover."""
    really_mixed = pyqtSignal(str)
    """A pile of the bench was mixed on the palette."""

    def __init__(self, work: BenchWork) -> None:
        super().__init__(work)
        self.work, self.studio = work, work.studio

    def open_planned(self, pile_id: str, as_mixed: bool = False) -> None:
        """Open a pile of the plan on the bench, with its target."""
        self._open(lambda: with_planned(self.studio.document, pile_id, as_mixed))

    def lay_doses(self, name: str, doses: Sequence[Dose], target: Lab | None = None) -> None:
        """A pile onto the bench, and its target where it had one."""
        bench = self.work.attempt(lambda: acts.lay(self.work.bench, name, doses))
        if bench is not None:
            self.work.in_hand = bench.piles[-1].id
            fields: dict[str, object] = {"bench": bench}
            if target is not None:
                fields |= {"target": target, "target_name": name}
            choice = self.studio.document.bench.model_copy(update=fields)
            self.studio.change("Lay a pile on the bench", self.studio.document.model_copy(update={"bench": choice}))

    def open_cell(self, cell: Cell) -> None:
        """Mix a chart's cell on the bench."""
        self._open(lambda: with_cell(self.studio.document, cell, self.work.paints.find_tube))

    def _open(self, make: Callable[[], Document]) -> None:
        try:
            new = make()
        except OchreError as error:
            self.studio.told.emit(str(error))
            return
        self.work.in_hand = new.bench.bench.piles[-1].id
        self.studio.change("Open on the bench", new)

    def keep_as_note(self) -> Note | None:
        """The colour of the pile in hand as a note."""
        made = self._kept(lambda pile, lab: as_note(self.studio.document, pile, lab))
        if made is not None:
            self.studio.change("Note a pile", made[0])
            self.studio.select(made[1].id)
            self.studio.told.emit(f"Noted: {made[1].name}.")
        return made[1] if made is not None else None

    def keep_in_plan(self, subject: str) -> Note | None:
        """The pile in hand in the plan, among the piles of a subject."""
        made = self._kept(lambda pile, lab: as_planned(self.studio.document, pile, lab, subject))
        if made is not None:
            self.studio.change("Keep a pile in the plan", made[0])
            self.studio.told.emit(f"{made[1].name} is in the plan, with its recipe: its note stands on the scale.")
        return made[1] if made is not None else None

    def keep_as_leftover(self) -> None:
        """The pile in hand among the leftovers, with its amount."""
        pile = self.work.needed()
        if pile is not None:
            self.left_over.emit(pile.id)

    def say_mixed(self) -> None:
        """The pile in hand was really mixed: into the log."""
        pile = self.work.needed()
        if pile is not None:
            self.really_mixed.emit(pile.id)

    def keep_as_tube(self, name: str) -> bool:
        """The pile in hand as a tube of the painter's own."""
        pile = self.work.needed()
        if pile is None:
            return False
        medium, box = self.work.palette.medium, self.work.keeper
        done = box.attempt("Keep a mixture as a tube", lambda: as_tube(box.box, pile, name, medium))
        if done:
            self.studio.told.emit(f"“{self.work.keeper.box.tubes[-1].name}” is in your paint box.")
        return done

    def _kept(self, make: Callable[[BenchPile, Lab], tuple[Document, Note]]) -> tuple[Document, Note] | None:
        pile = self.work.needed()
        seen = self.work.paints.look_at(pile) if pile is not None else None
        if pile is None or seen is None:
            return None
        try:
            return make(pile, seen.lab)
        except OchreError as error:
            self.studio.failed.emit(str(error))
            return None
