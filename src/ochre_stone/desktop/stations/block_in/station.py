"""Block in: the sheet as it will print, for a canvas of this size, and the masses laid in one after another."""

from collections.abc import Iterator

from PyQt6.QtWidgets import QStackedWidget

from ochre_stone.core.masses.laying import order
from ochre_stone.core.picture.picture import Floats
from ochre_stone.core.picture.views import View
from ochre_stone.desktop.easel import scenes
from ochre_stone.desktop.easel.scenes import Drawing
from ochre_stone.desktop.scale.face import Shows
from ochre_stone.desktop.stations.station import Command, Station
from ochre_stone.desktop.widgets.asking import DRAWN, ask_save
from ochre_stone.desktop.widgets.parts import button
from ochre_stone.desktop.widgets.tray import Pages


class BlockIn(Station):
    title = "Block in"
    order = 6
    panel = "instead"
    shows = Shows.ORDER
    compares = "mixture"
    needs_strings = True
    shows_marks = False

    def build(self) -> Iterator[None]:
        from ochre_stone.desktop.stations.block_in.care import CarePage
        from ochre_stone.desktop.stations.block_in.lay import LayPage
        from ochre_stone.desktop.stations.block_in.sheet import SheetPage
        from ochre_stone.desktop.stations.saving import save_transfer

        session = self.session
        self.easel = button("At the easel", "One pile at a time, full screen (F11)", "small")
        self.easel.clicked.connect(lambda: session.easel_view_wanted.emit())
        self.tray.title("Block in", self.easel)
        self.pages = pages = Pages(self.tray, "Sheet", "Cautions", "Lay in")
        self.sheet_page = pages.fill(
            "Sheet", lambda tray: SheetPage(tray, session, self.save_sheet, lambda: save_transfer(self, session))
        )
        yield
        self.care_page = pages.fill("Cautions", CarePage)
        self.sheet_page.cared = self.care_page.show_cautions
        yield
        self.lay_page = pages.fill("Lay in", lambda tray: LayPage(tray, self.studio))
        self.panels = self.side = QStackedWidget()
        self.panels.addWidget(self.sheet_page.view)
        self.panels.addWidget(self.lay_page.view)
        pages.changed = self.refresh
        self.studio.strings.changed.connect(self.refresh_if_here)
        self.studio.masses_changed.connect(self.refresh_if_here)

    def commands(self) -> list[Command]:
        return [Command("File", "Save the shee&t…", ("Ctrl+P",), self.save_sheet, needs="piles")]

    def save_sheet(self) -> None:
        """Ask where to save the sheet, as PDF, SVG or PNG; come here first where it is not made yet."""
        page = self.sheet_page
        if not page.pdf or not self.active:
            self.come()
            if not page.pdf:
                making = self.studio.jobs.busy("sheet", "mix")
                said = "The sheet is being made: save it when it is shown." if making else page.state.text()
                self.studio.told.emit(said or "There is no sheet yet.")
                return
        name = f"{self.studio.title} sheet.pdf"
        path = ask_save(self, "Save the sheet", self.session.settings.folder, name, DRAWN)
        if path is not None:
            self.session.exports.sheet(path, page.sheet, page.pdf)

    def drawing(self, screen: Floats, view: View) -> Drawing | None:
        plan, picture = self.studio.masses, self.studio.picture
        if plan is None or picture is None:
            return None
        return scenes.the_masses(plan, self.studio.fine or plan, picture, self.document, screen)

    def restyle(self) -> None:
        self.sheet_page.view.restyle()

    def leave(self) -> None:
        self.lay_page.stop()

    def refresh(self) -> None:
        assert self.pages is not None
        laying = self.pages.here == "Lay in"
        self.panels.setCurrentWidget(self.lay_page.view if laying else self.sheet_page.view)
        self.sheet_page.show_canvas()
        self.fill_scale()
        if laying:
            self.lay_page.refresh()
        else:
            self.sheet_page.refresh()

    def fill_scale(self) -> None:
        plan = self.studio.masses
        laid = order(plan.masses, self.document.canvas.laying) if plan is not None else ()
        self.desk.scale.show_order(plan, laid)

    def done_words(self) -> str:
        return self.document.canvas.words
