"""What paint can be taken from at the bench, and what mixtures of it look like."""

from collections.abc import Callable, Sequence
from datetime import datetime

from PyQt6.QtCore import QObject, pyqtSignal

from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.document.document import Document
from ochre_stone.core.errors import OchreError
from ochre_stone.core.mixing.bench.bench import BenchPile, Supply
from ochre_stone.core.mixing.bench.look import PileLook, look
from ochre_stone.core.paint.tubes import Tube
from ochre_stone.core.planning.benching import as_supply, at_hand, tube_finder
from ochre_stone.desktop.session.box import BoxKeeper
from ochre_stone.desktop.session.palettes import Palettes
from ochre_stone.desktop.session.studio import Studio

_REMEMBERED = 4096


class BenchPaints(QObject):
    """The tubes, tints, planned piles and leftovers that are at hand."""

    supplied = pyqtSignal()
    """Other paint is at hand."""

    def __init__(self, studio: Studio, palettes: Palettes, keeper: BoxKeeper) -> None:
        super().__init__(studio)
        self.studio, self.palettes, self.keeper = studio, palettes, keeper
        self.leftovers: Callable[[], Sequence[Supply]] = lambda: ()
        """Piles of earlier days that are not used up."""
        self._looks: dict[object, PileLook] = {}
        self._supplies: tuple[object, list[Supply]] | None = None
        studio.changed.connect(self._changed)
        palettes.taken.connect(self.supplied)
        keeper.changed.connect(self._forget)

    def supplies(self) -> list[Supply]:
        """All that paint can be taken from."""
        palette, left = self.palettes.chosen(), tuple(self.leftovers())
        key = (palette.tubes, self.studio.document.mixed.strings, left)
        if self._supplies is None or self._supplies[0] != key:
            self._supplies = key, at_hand(self.studio.document, palette, left)
        return self._supplies[1]

    def supply_of(self, supply_id: str) -> Supply | None:
        """A supply, or a pile on the bench to make a row from."""
        found = next((s for s in self.supplies() if s.id == supply_id), None)
        if found is None:
            found = next((as_supply(p) for p in self.studio.document.bench.bench.piles if p.id == supply_id), None)
        return found

    def find_tube(self, tube_id: str) -> Tube:
        """Any tube that a pile can hold. Raises OchreError for one that is nowhere any more."""
        return tube_finder(self.studio.document, self.palettes.chosen(), self.keeper.box)(tube_id)

    def opened(self) -> dict[str, float]:
        """When the painter's own tubes were opened, seconds since 1970, where the box knows."""
        there = [(t.id, t.opened) for t in self.keeper.box.tubes if t.opened]
        return {i: datetime.fromisoformat(day).timestamp() for i, day in there}

    def look_of(self, amounts: Sequence[tuple[str, float]]) -> PileLook | None:
        """What a mixture looks like; None where a tube of it is nowhere any more."""
        palette = self.palettes.chosen()
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

    def look_at(self, pile: BenchPile) -> PileLook | None:
        """What a pile looks like."""
        return self.look_of(tuple(pile.amounts.items()))

    def lab_of(self, supply: Supply) -> Lab | None:
        """Colour of a supply."""
        found = self.look_of(supply.shares)
        return found.lab if found is not None else None

    def _changed(self, old: Document, new: Document) -> None:
        if (old.mix, old.mixed) != (new.mix, new.mixed):
            self.supplied.emit()

    def _forget(self) -> None:
        self._looks.clear()
        self._supplies = None
        self.supplied.emit()
