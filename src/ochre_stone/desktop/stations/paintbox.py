"""Paint box: the painter's own tubes and palettes, what they reach, charts of them, and calibration by them."""

from collections.abc import Callable
from typing import Any

from PyQt6.QtWidgets import QComboBox

from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.errors import OchreError
from ochre_stone.core.paint.palettes import PALETTES, Palette
from ochre_stone.core.paint.predict import spectra
from ochre_stone.core.project.document import MixChoice
from ochre_stone.desktop.stations.base import Station, button, narrow, quietly
from ochre_stone.desktop.stations.boxcalibrate import CalibratePage
from ochre_stone.desktop.stations.boxcharts import ChartsPage
from ochre_stone.desktop.stations.boxpalettes import PalettesPage
from ochre_stone.desktop.stations.boxreach import ReachPage
from ochre_stone.desktop.stations.boxtubes import TubesPage


class PaintBoxStation(Station):
    title = "Paint box"
    side = "box"

    def build(self) -> None:
        self.keeper = self.window_.keeper
        self.palette_id = self.document.mix.palette
        self.use = button("Mix with it", "Make it the palette of this picture", "small")
        self.use.clicked.connect(self.use_it)
        self.title_row("Paint box", self.use)
        self.choice = narrow(QComboBox())
        self.choice.setAccessibleName("Palette in hand")
        self.choice.activated.connect(lambda _: self.take_palette(self.choice.currentData()))
        self.rows.addWidget(self.choice)
        self.pages_ = self.pages("Tubes", "Palettes", "Reach", "Charts", "Calibrate")
        with self.on(self.pages_, "Tubes"):
            self.tubes_page = TubesPage(self)
        with self.on(self.pages_, "Palettes"):
            self.palettes_page = PalettesPage(self)
        with self.on(self.pages_, "Reach"):
            self.reach_page = ReachPage(self)
        with self.on(self.pages_, "Charts"):
            self.charts_page = ChartsPage(self)
        with self.on(self.pages_, "Calibrate"):
            self.calibrate_page = CalibratePage(self)
        pages: dict[str, Any] = {
            "Tubes": self.tubes_page, "Palettes": self.palettes_page, "Reach": self.reach_page,
            "Charts": self.charts_page, "Calibrate": self.calibrate_page,
        }  # fmt: skip
        self.panels = {name: page.panel for name, page in pages.items()}
        for panel in self.panels.values():
            self.window_.box_panel.addWidget(panel)
        self.refreshers: dict[str, Callable[[], None]] = {name: page.refresh for name, page in pages.items()}
        self.pages_.changed = self.refresh
        self.keeper.changed.connect(self._box_changed)
        self.keeper.failed.connect(self.studio.failed)
        self.studio.selected_changed.connect(self.refresh_if_here)

    # The palette in hand

    def chosen(self) -> Palette:
        """The palette in hand; the picture's own where it is not in this box."""
        try:
            return self.keeper.box.palette(self.palette_id)
        except OchreError:
            chosen = self.document.mix.chosen()
            self.palette_id = chosen.id
            return chosen

    def take_palette(self, palette_id: str) -> None:
        """Take another palette in hand."""
        self.palette_id = palette_id
        self.refresh()

    def use_it(self) -> None:
        """Mix this picture with the palette in hand."""
        chosen = self.chosen()
        if self.use_palette(chosen.id):
            self.studio.told.emit(f"This picture is mixed with {chosen.name}.")

    def use_palette(self, palette_id: str) -> bool:
        """Make a palette the document's, with the tubes as they are now; False where nothing changed."""
        laid = self.keeper.box.laid(palette_id)
        mix = self.document.mix
        if palette_id not in PALETTES and laid is None:
            return False  # the picture's own, from a box that is not here
        fields = mix.model_dump() | {"palette": palette_id, "laid": laid.model_dump() if laid is not None else None}
        choice = MixChoice.model_validate(fields)
        if choice == mix:
            return False
        self.studio.change("Choose a palette", self.document.model_copy(update={"mix": choice}))
        return True

    def changed_since(self) -> bool:
        """Whether the picture's own palette has changed in the box since it was chosen."""
        mix = self.document.mix
        now = self.keeper.box.laid(mix.palette) if mix.laid is not None else None
        if now is None or mix.laid is None:
            return False
        then, here = mix.laid.made(), now.made()  # stock and price do not change a mixture
        return (then.tubes, then.name, then.medium) != (here.tubes, here.name, here.medium)

    def pile_in_hand(self) -> tuple[str, Array, Array] | None:
        """The pile in hand at Mix: its name, K and S."""
        mixed, pile_id = self.document.mixed, self.window_.mix.pile_id
        for s in mixed.strings:
            for p in s.piles:
                if p.id == pile_id:
                    ids = [i for i, _ in p.recipe.shares]
                    K, S = spectra([mixed.tube(i) for i in ids], [c for _, c in p.recipe.shares])
                    return f"{s.name} {p.id.rsplit('-', 1)[1]}", K, S
        return None

    # Showing

    def enter(self) -> None:
        if self.palette_id not in PALETTES and self.keeper.box.laid(self.palette_id) is None:
            self.palette_id = self.document.mix.palette
        super().enter()

    def _box_changed(self) -> None:
        self.window_.mix.refresh_if_here()
        self.refresh_if_here()
        self.window_._words()

    def refresh(self) -> None:
        chosen = self.chosen()
        with quietly(self.choice):
            self.choice.clear()
            for p in self.keeper.box.palettes:
                self.choice.addItem(f"{p.name} (mine)", p.id)
            for shipped in PALETTES.values():
                self.choice.addItem(shipped.name, shipped.id)
            if self.choice.findData(chosen.id) < 0:
                self.choice.addItem(f"{chosen.name} (this picture's)", chosen.id)
            self.choice.setCurrentIndex(self.choice.findData(chosen.id))
        here = self.pages_.here
        self.choice.setVisible(here != "Tubes")
        self.use.setVisible(here != "Tubes")
        self.window_.box_panel.setCurrentWidget(self.panels[here])
        self.refreshers[here]()

    def done_words(self) -> str:
        box = self.keeper.box
        own = sum(not t.archived for t in box.tubes)
        if not own and not box.palettes:
            return "generic paints"
        tubes = f"{own} tube{'' if own == 1 else 's'}"
        return f"{tubes}, {len(box.palettes)} palette{'' if len(box.palettes) == 1 else 's'}"
