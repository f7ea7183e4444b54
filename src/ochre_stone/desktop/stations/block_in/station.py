"""Block in: the picture in its piles, the sheet as it will print, and the masses laid in one after another."""

from collections.abc import Iterator, Sequence
from typing import Literal

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
from ochre_stone.desktop.widgets.scenebar import SceneWord
from ochre_stone.desktop.widgets.tray import Pages


class BlockIn(Station):
    title = "Block in"
    order = 6
    panel = "instead"
    shows = Shows.ORDER
    compares = "mixture"
    needs_strings = True
    shows_marks = False
    sees_block_in = points_at_pile = True

    def build(self) -> Iterator[None]:
        from ochre_stone.desktop.stations.block_in.care import CarePage
        from ochre_stone.desktop.stations.block_in.lay import LayPage
        from ochre_stone.desktop.stations.block_in.piles import PilesPage
        from ochre_stone.desktop.stations.block_in.sheet import SheetPage

        session = self.session
        self.easel = button("At the easel", "One pile at a time, full screen (F11)", "small")
        self.easel.clicked.connect(lambda: session.easel_view_wanted.emit())
        self.tray.title("Block in", self.easel)
        self.pages = pages = Pages(self.tray, "Piles", "Sheet", "Cautions", "Lay in")
        self.piles_page = pages.fill("Piles", lambda tray: PilesPage(tray, session, self.save_outlines))
        yield
        self.sheet_page = pages.fill(
            "Sheet", lambda tray: SheetPage(tray, session, self.save_sheet, self.save_transfer)
        )
        yield
        self.care_page = pages.fill("Cautions", CarePage)
        self.sheet_page.cared = self.care_page.show_cautions
        yield
        self.lay_page = pages.fill("Lay in", lambda tray: LayPage(tray, self.studio, session.laying))
        self.panels = self.side = QStackedWidget()
        self.panels.addWidget(self.sheet_page.view)
        self.panels.addWidget(self.lay_page.view)
        pages.changed = self._page_changed
        session.laid.changed.connect(self.refresh_if_here)
        self.studio.strings.changed.connect(self.refresh_if_here)
        self.studio.masses_changed.connect(self.refresh_if_here)
        session.piles.chosen.connect(self.refresh_if_here)
        session.piles.measured.connect(self.refresh_if_here)

    def commands(self) -> list[Command]:
        return [
            Command("File", "Save the shee&t…", ("Ctrl+P",), self.save_sheet, needs="piles"),
            Command("File", "Outlines of the &block-in…", ("Shift+E",), self.save_outlines, needs="piles"),
        ]

    # What the picture is seen as

    @property
    def _laid(self) -> bool:
        """Whether the picture stands in the centre: at all pages but the page Piles something else does."""
        return self.pages is None or self.pages.here == "Piles"

    def scenes(self) -> Sequence[SceneWord]:
        if not self._laid:
            return ()
        photo, *laid = super().scenes()
        return (*laid, photo)

    def panel_now(self) -> Literal["", "beside", "instead"]:
        return "" if self._laid else "instead"

    def want(self) -> None:
        super().want()
        self.session.laid.want(True, self._laid)

    def _page_changed(self) -> None:
        self.see(self.scene)
        self.refresh()

    # What is done

    def save_sheet(self) -> None:
        """Ask where to save the sheet, as PDF, SVG or PNG; come here first where it is not made yet."""
        page = self.sheet_page
        if not page.pdf or not self.active:
            self.session.go.emit(self.title, "Sheet")
            if not page.pdf:
                making = self.studio.jobs.busy("sheet", "mix")
                said = "The sheet is being made: save it when it is shown." if making else page.state.text()
                self.studio.told.emit(said or "There is no sheet yet.")
                return
        name = f"{self.studio.title} sheet.pdf"
        path = ask_save(self, "Save the sheet", self.session.settings.folder, name, DRAWN)
        if path is not None:
            self.session.exports.sheet(path, page.sheet, page.pdf)

    def save_outlines(self) -> None:
        """Ask where to save the block-in's outlines with the numbers of its recipes."""
        name = f"{self.studio.title} block-in.pdf"
        path = ask_save(self, "Outlines of the block-in", self.session.settings.folder, name, DRAWN)
        if path is not None:
            self.session.exports.block_in(path)

    def save_transfer(self) -> None:
        """Ask where to save the same over several pages."""
        name = f"{self.studio.title} transfer.pdf"
        path = ask_save(self, "Transfer at canvas size", self.session.settings.folder, name, "PDF (*.pdf)")
        if path is not None:
            self.session.exports.block_in_transfer(path)

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
        here = self.pages.here
        self.panels.setCurrentWidget(self.lay_page.view if here == "Lay in" else self.sheet_page.view)
        self.sheet_page.show_canvas()
        self.fill_scale()
        if here == "Piles":
            self.piles_page.refresh()
        elif here == "Lay in":
            self.lay_page.refresh()
        else:
            self.sheet_page.refresh()

    def fill_scale(self) -> None:
        plan = self.studio.masses
        laid = order(plan.masses, self.document.canvas.school) if plan is not None else ()
        self.desk.scale.show_order(plan, laid)

    def done_words(self) -> str:
        return self.document.canvas.words
