"""Paint box: the painter's own tubes and palettes, what they reach, charts of them, and calibration by them."""

from collections.abc import Callable, Iterator
from typing import TYPE_CHECKING

from PyQt6.QtGui import QUndoStack
from PyQt6.QtWidgets import QComboBox, QSizePolicy, QStackedWidget, QWidget

from ochre_stone.desktop.scale.face import Shows
from ochre_stone.desktop.scale.ribbons import OnScale
from ochre_stone.desktop.stations.station import Command, Station
from ochre_stone.desktop.widgets.parts import button, narrow, set_tip, signals_blocked
from ochre_stone.desktop.widgets.tray import Pages

if TYPE_CHECKING:
    from ochre_stone.core.paint.chart import Cell


class PaintBoxStation(Station):
    title = "Paint box"
    order = 100
    panel = "instead"
    shows = Shows.TUBES
    shows_marks = False
    by_itself = True

    def prepare(self) -> None:
        self.keeper, self.palettes = self.session.keeper, self.session.palettes

    def build(self) -> Iterator[None]:
        from ochre_stone.desktop.stations.paint_box.tubes import TubesPage

        session, settings = self.session, self.session.settings
        self.use = button("Mix with it", "", "small")
        self.use.clicked.connect(self.use_it)
        self.choice = narrow(QComboBox())
        self.choice.setMinimumContentsLength(4)
        self.choice.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.choice.setAccessibleName("Palette in hand")
        self.choice.activated.connect(lambda _: self.palettes.take(self.choice.currentData()))
        self.tray.title("Paint box", self.choice, self.use)
        self.pages = pages = Pages(self.tray, "Tubes", "Palettes", "Reach", "Fewest", "Charts", "Calibrate", "Bench")
        palettes = self.palettes
        self.tubes_page = pages.fill("Tubes", lambda tray: TubesPage(tray, self.keeper, self.studio, settings))
        yield
        from ochre_stone.desktop.stations.paint_box.palettes import PalettesPage

        self.palettes_page = pages.fill("Palettes", lambda tray: PalettesPage(tray, palettes, session.piles, settings))
        yield
        from ochre_stone.desktop.stations.paint_box.reach import ReachPage

        self.reach_page = pages.fill("Reach", lambda tray: ReachPage(tray, palettes))
        yield
        from ochre_stone.desktop.stations.paint_box.fewest import FewestPage

        self.fewest_page = pages.fill("Fewest", lambda tray: FewestPage(tray, palettes, self.reach_page))
        yield
        from ochre_stone.desktop.stations.paint_box.charts import ChartsPage

        notes = self.session.notes
        self.charts_page = charts = pages.fill(
            "Charts", lambda tray: ChartsPage(tray, palettes, notes, settings, self.open_on_bench)
        )
        yield
        from ochre_stone.desktop.stations.paint_box.calibrate import CalibratePage

        self.calibrate_page = pages.fill("Calibrate", lambda tray: CalibratePage(tray, palettes, charts, settings))
        yield
        from ochre_stone.desktop.stations.bench.page import bench_page

        self.bench_page = pages.fill("Bench", bench_page(session.bench_keeping, session.piles))
        self.side = self._panels = QStackedWidget()
        self.panels: dict[str, QWidget] = {
            "Tubes": self.tubes_page.panel, "Palettes": self.palettes_page.panel, "Reach": self.reach_page.panel,
            "Fewest": self.reach_page.panel,
            "Charts": self.charts_page.panel, "Calibrate": self.calibrate_page.panel,
            "Bench": self.bench_page.panel,
        }  # fmt: skip
        for panel in dict.fromkeys(self.panels.values()):
            self._panels.addWidget(panel)
        self.refreshers: dict[str, Callable[[], None]] = {
            "Tubes": self.tubes_page.refresh, "Palettes": self.palettes_page.refresh,
            "Reach": self.reach_page.refresh, "Fewest": self.fewest_page.refresh, "Charts": self.charts_page.refresh,
            "Calibrate": self.calibrate_page.refresh, "Bench": self.bench_page.refresh,
        }  # fmt: skip
        pages.changed = self._page_changed
        palettes.taken.connect(self.refresh)
        self.desk.scale.tube_chosen.connect(self._tube_taken)
        self.keeper.changed.connect(self.refresh_if_here)
        self.studio.selected_changed.connect(self.refresh_if_here)

    def commands(self) -> list[Command]:
        return [Command("Go", "Find the note in the &chart", ("/",), self.find_in_chart, needs="note")]

    def history(self) -> QUndoStack:
        """The box's own; on the bench the project's, which the bench belongs to."""
        on_bench = self.pages is not None and self.pages.here == "Bench"
        return self.studio.undo if on_bench else self.keeper.undo

    def _page_changed(self) -> None:
        self.history_changed.emit()
        self.refresh()

    def find_in_chart(self) -> None:
        """Come to the cells of the palette's chart that are nearest to the note in hand."""
        self.session.go.emit(self.title, "Charts")
        self.charts_page.find_soon()

    def open_on_bench(self, cell: "Cell") -> None:
        """A cell of the chart, on the bench."""
        self.session.bench_keeping.open_cell(cell)
        if self.pages is not None:
            self.pages.show("Bench")

    def use_it(self) -> None:
        """Mix this picture with the palette in hand."""
        chosen = self.palettes.chosen()
        if self.palettes.use(chosen.id):
            self.studio.told.emit(f"This picture is mixed with {chosen.name}.")

    def _tube_taken(self, tube_id: str) -> None:
        """A tube of the palette was taken on the scale."""
        if self.active:
            self.tubes_page.choose(tube_id)
            self.palettes_page.choose_tube(tube_id)

    # Showing

    def enter(self) -> None:
        if not self.palettes.known(self.palettes.in_hand):
            self.palettes.in_hand = self.document.mix.palette
        super().enter()

    def leave(self) -> None:
        # Reach, charts and Mix look at one palette: another one is looked at here only.
        self.palettes.come_back()
        super().leave()

    def refresh(self) -> None:
        assert self.pages is not None
        chosen = self.palettes.chosen()
        with signals_blocked(self.choice):
            self.choice.clear()
            for name, palette_id, _ in self.palettes.choices():
                self.choice.addItem(name, palette_id)
            if self.choice.findData(chosen.id) < 0:
                self.choice.addItem(f"{chosen.name} (this picture's)", chosen.id)
            self.choice.setCurrentIndex(self.choice.findData(chosen.id))
        here = self.pages.here
        self.bench_page.shown = here == "Bench"
        self.choice.setVisible(here != "Tubes")
        set_tip(
            self.use, f"This is not the picture's palette, which is {self.document.mix.chosen().name}: make it that"
        )
        self.use.setVisible(here != "Tubes" and self.palettes.elsewhere)
        self._panels.setCurrentWidget(self.panels[here])
        self.refreshers[here]()
        self.fill_scale()

    def fill_scale(self) -> None:
        tubes = self.palettes.chosen().tubes
        self.desk.scale.show_tubes([OnScale(t.id, t.name, t.lab) for t in tubes], self.tubes_page.selected)

    def done_words(self) -> str:
        box = self.keeper.box
        own = sum(not t.archived for t in box.tubes)
        if not own and not box.palettes:
            return "generic paints"
        tubes = f"{own} tube{'' if own == 1 else 's'}"
        return f"{tubes}, {len(box.palettes)} palette{'' if len(box.palettes) == 1 else 's'}"
