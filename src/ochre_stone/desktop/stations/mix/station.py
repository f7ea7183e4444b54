"""Mix: a palette, strings of piles, the pile in hand and what it needs, and the plan of the session."""

from collections.abc import Callable, Collection, Iterator, Sequence
from dataclasses import replace
from typing import Literal

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QProgressBar, QSizePolicy, QStackedWidget

from ochre_stone.core.document.document import Document, Mixed
from ochre_stone.desktop.scale.face import Shows
from ochre_stone.desktop.session.trying import Choosing
from ochre_stone.desktop.stations.station import Command, Station
from ochre_stone.desktop.widgets.asking import DRAWN, ask_save
from ochre_stone.desktop.widgets.parts import button, enable, narrow, plain, signals_blocked
from ochre_stone.desktop.widgets.scenebar import SceneWord
from ochre_stone.desktop.widgets.tray import Pages

PANELS = {
    "Plan": ("Order", "What is mixed on from what"),
    "Palette": ("Palette", "The palette laid out"),
    "Bench": ("Bench", "Paint pushed about by hand"),
}
"""Pages of the tray that have a panel of their own in the centre."""
BY_PALETTE = SceneWord("palettes", "Palettes", "The block-in with each palette, to choose one by looking", round=False)
BY_NUMBER = SceneWord(
    "numbers", "How many", "The block-in with so many piles, to choose a number by looking", round=False
)


class Mix(Station):
    title = "Mix"
    order = 5
    panel = "instead"
    shows = Shows.DABS
    compares = "mixture"
    needs_strings = True
    sees_block_in = points_at_pile = True

    def prepare(self) -> None:
        self.piles, self.palettes = self.session.piles, self.session.palettes

    def build(self) -> Iterator[None]:
        from ochre_stone.desktop.stations.mix.reached import Reached

        session, piles, keeper, settings = self.session, self.session.piles, self.session.keeper, self.session.settings
        self._build_side()
        self.easel = button("Easel", "At the easel: one pile at a time, full screen (F11)", "small")
        self.easel.clicked.connect(lambda: session.easel_view_wanted.emit())
        self.reach = button("", "What this palette reaches, in the Paint box", "small")
        self.reached = Reached(self.reach, self.studio)
        self.reach.clicked.connect(self.show_reach)
        self.palette_box = narrow(QComboBox())
        self.palette_box.setMinimumContentsLength(4)
        self.palette_box.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.palette_box.setAccessibleName("Palette")
        self.palette_box.activated.connect(lambda _: self._choose_palette(self.palette_box.currentData()))
        self.tray.title("Mix", self.palette_box, self.reach, self.easel)
        self.renew = button("Take my tubes as they are now", "They have changed in the box since", "main")
        self.renew.clicked.connect(lambda: self.palettes.use(self.document.mix.palette))
        self.tray.rows.addWidget(self.renew)
        self.progress = QProgressBar()
        self.progress.setRange(0, 1000)
        self.progress.setFormat("mixing %p %")
        self.cancel = button("Stop", "Stop working out the strings")
        self.cancel.clicked.connect(self.studio.strings.cancel)
        line = self.tray.row(self.progress, self.cancel)
        line.setStretch(0, 1)
        self.again = button("Work out the strings", "", "main")
        self.again.clicked.connect(self.studio.strings.refresh)
        self.tray.rows.addWidget(self.again)
        names = ("Pile", "Ways", "Correct", "String", "All", "Plan", "Palette", "Loose", "Bench")
        self.pages = pages = Pages(self.tray, *names)
        yield
        from ochre_stone.desktop.stations.mix.pile import PilePage

        self.pile_page = pages.fill("Pile", lambda tray: PilePage(tray, piles, session.log))
        yield
        from ochre_stone.desktop.stations.mix.ways import WaysPage

        self.ways_page = pages.fill("Ways", lambda tray: WaysPage(tray, piles, keeper))
        yield
        from ochre_stone.desktop.stations.mix.correct import CorrectPage

        self.correct_page = pages.fill(
            "Correct", lambda tray: CorrectPage(tray, session.mending, settings, self.open_on_bench)
        )
        yield
        from ochre_stone.desktop.stations.mix.string import StringPage

        self.string_page = pages.fill("String", lambda tray: StringPage(tray, piles))
        yield
        from ochre_stone.desktop.stations.mix.all import AllPage

        self.all_page = pages.fill("All", lambda tray: AllPage(tray, piles))
        yield
        from ochre_stone.desktop.stations.mix.plan import PlanPage

        self.plan_page = pages.fill("Plan", lambda tray: PlanPage(tray, piles, keeper, session.log))
        yield
        from ochre_stone.desktop.stations.mix.board import BoardPage

        self.board_page = pages.fill("Palette", lambda tray: BoardPage(tray, piles, settings, self.ask_board))
        yield
        from ochre_stone.desktop.stations.mix.loose import LoosePage

        self.loose_page = pages.fill("Loose", lambda tray: LoosePage(tray, piles))
        yield
        from ochre_stone.desktop.stations.bench.page import bench_page

        self.bench_page = pages.fill("Bench", bench_page(session.bench_keeping, piles))
        self.panels.addWidget(self.plan_page.panel)
        self.panels.addWidget(self.bench_page.panel)
        self.panels.addWidget(self.board_page.panel)
        self.panels.addWidget(self.by_looking)
        self.refreshers: dict[str, Callable[[], None]] = {
            "Pile": self.pile_page.refresh, "Ways": self.ways_page.refresh, "Correct": self.correct_page.refresh,
            "String": self.string_page.refresh, "All": self.all_page.refresh, "Plan": self.plan_page.refresh,
            "Palette": self.board_page.refresh, "Loose": self.loose_page.refresh,
            "Bench": self.bench_page.refresh,
        }  # fmt: skip
        pages.changed = self._page_changed
        piles.chosen.connect(self.refresh_if_here)
        piles.measured.connect(self.refresh_if_here)
        keeper.changed.connect(self.refresh_if_here)
        self.studio.strings.progress.connect(self._progress)
        self.studio.strings.changed.connect(self._busy)  # what is in the strings comes with the document
        self.studio.jobs.busy_changed.connect(self._busy)

    def _build_side(self) -> None:
        from ochre_stone.desktop.stations.mix.bylooking import ByLooking
        from ochre_stone.desktop.stations.mix.strings import StringsView

        self.strings = StringsView()
        self.strings.scale = self.desk.scale
        self.strings.chosen.connect(self.piles.choose)
        self.strings.opened.connect(lambda _: self.show_pile())
        self.strings_area = self.strings.scroll_area()
        self.by_looking = ByLooking(self.session.trying)
        self.panels = self.side = QStackedWidget()
        self.panels.addWidget(self.strings_area)

    def commands(self) -> list[Command]:
        return [Command("File", "Save the palette's &layout…", (), self.ask_board, needs="piles")]

    # What the picture is seen as

    def scenes(self) -> Sequence[SceneWord]:
        photo, *laid = super().scenes()
        without = self.session.lacks("picture") or self.session.lacks("notes")
        looked = (replace(word, why_not=without) for word in (BY_PALETTE, BY_NUMBER))
        return (self._panel_word(), *laid, photo, *looked)

    def choosing(self) -> Choosing | None:
        found: dict[str, Choosing] = {BY_PALETTE.key: "palettes", BY_NUMBER.key: "numbers"}
        return found.get(self.scene_now)

    def _panel_word(self) -> SceneWord:
        """What stands in the centre without the picture: the strings, or the panel of the page."""
        here = self.pages.here if self.pages is not None else ""
        words, tip = PANELS.get(here, ("Strings", "All piles at their value"))
        return SceneWord("panel", words, tip)

    def panel_now(self) -> Literal["", "beside", "instead"]:
        return "instead" if self.scene_now in ("panel", BY_PALETTE.key, BY_NUMBER.key) else ""

    def see(self, scene: str) -> None:
        super().see(scene)
        if self.active and self.built:
            self._show_panel()

    def _page_changed(self) -> None:
        """A page that has a panel of its own shows it."""
        assert self.pages is not None
        self.see("panel" if self.pages.here in PANELS else self.scene)
        self.refresh()

    # What is done

    def ask_board(self) -> None:
        """Ask where to save the palette laid out."""
        settings, name = self.session.settings, f"{self.studio.title} palette.pdf"
        path = ask_save(self, "Save the palette's layout", settings.folder, name, DRAWN)
        if path is not None:
            self.session.exports.board(path, settings.palette_surface)

    def _choose_palette(self, palette_id: str) -> None:
        self.palettes.use(palette_id)
        self.refresh()

    def show_pile(self) -> None:
        """The pile in hand, in full."""
        if self.pages is not None:
            self.pages.show("Pile")

    def open_on_bench(self, pile_id: str) -> None:
        """A pile of the plan as it is by now, on the bench."""
        self.session.bench_keeping.open_planned(pile_id, True)
        if self.pages is not None:
            self.pages.show("Bench")

    def show_reach(self) -> None:
        """To the Paint box: what this palette reaches."""
        self.palettes.take(self.document.mix.palette)
        self.session.go.emit("Paint box", "Reach")

    # Showing

    def _palettes(self) -> None:
        """Own palettes, then those that ship; and what this one does not reach."""
        mix = self.document.mix
        with signals_blocked(self.palette_box):
            self.palette_box.clear()
            for name, palette_id, about in self.palettes.choices():
                self.palette_box.addItem(name, palette_id)
                if about:
                    at = self.palette_box.count() - 1
                    self.palette_box.setItemData(at, plain(about), Qt.ItemDataRole.ToolTipRole)
            if self.palette_box.findData(mix.palette) < 0:
                self.palette_box.addItem(f"{mix.chosen().name} (this picture's)", mix.palette)
            self.palette_box.setCurrentIndex(self.palette_box.findData(mix.palette))
        self.renew.setVisible(self.palettes.changed_since())
        self.reached.refresh()

    def _progress(self, share: float) -> None:
        self.progress.setValue(round(share * 1000))
        self._busy()

    def _busy(self) -> None:
        busy = self.studio.jobs.busy("mix")
        self.progress.setVisible(busy)
        self.cancel.setVisible(busy)
        if self.strings.hint != self.piles.none_words():
            self.strings.hint = self.board_page.view.hint = self.piles.none_words()
            self.strings.update()
            self.board_page.view.update()
        stale = not self.studio.strings.ready() and bool(self.document.notes)
        self.again.setVisible(stale and not busy and not self.studio.strings.waiting)

    def document_changed(self, old: Document, new: Document) -> None:
        super().document_changed(old, new)
        moved = (old.notes, old.masses, old.harmony, old.mix) != (new.notes, new.masses, new.harmony, new.mix)
        if self.active and moved and not self.studio.strings.ready():
            self._glimpse()

    def _glimpse(self) -> None:
        """Show soon, faintly, what a change does to the strings that it moved; the whole is planned after that."""
        from ochre_stone.core.planning.planning import glimpse_strings

        document = self.document

        def arrived(mixed: Mixed | None) -> None:
            if mixed is not None and self.active and self.document is document and not self.studio.strings.ready():
                self.strings.show_strings(mixed, self.piles.in_hand, True)

        self.studio.jobs.start("glimpse", lambda _: glimpse_strings(document), arrived)

    def refresh(self) -> None:
        from ochre_stone.core.planning.drying import wet_piles
        from ochre_stone.core.planning.stepping import stepped

        assert self.pages is not None
        self._palettes()
        found = self.piles.found()
        if found is not None:
            self.piles.in_hand = found[1].id
        here = self.pages.here
        self.bench_page.shown = here == "Bench"
        self._show_panel()
        if here not in PANELS:
            self.strings.hint = self.piles.none_words()
            ready = self.studio.strings.ready()
            steps = [stepped(self.document, p.id) for p in found[0].piles] if found is not None and ready else []
            down = {s.pile: s.short for s in steps if s is not None}
            wet = wet_piles(self.document)
            self.strings.show_strings(self.document.mixed, self.piles.in_hand, not ready, wet, down)
        self._busy()
        enable(self.easel, self.session.lacks("piles"))
        self.refreshers[here]()

    def _show_panel(self) -> None:
        """What stands in the centre in place of the picture."""
        assert self.pages is not None
        panels = {"Plan": self.plan_page.panel, "Palette": self.board_page.panel, "Bench": self.bench_page.panel}
        if self.scene_now in (BY_PALETTE.key, BY_NUMBER.key):
            self.panels.setCurrentWidget(self.by_looking)
            self.by_looking.refresh()
        else:
            self.panels.setCurrentWidget(panels.get(self.pages.here, self.strings_area))

    def marked(self) -> Collection[str]:
        """The notes of the string in hand."""
        from ochre_stone.core.planning.rows import string_of

        found = self.piles.found()
        if found is None:
            return [n.id for n in self.document.notes]
        return [n.id for n in self.document.notes if (string_of(self.document, n) or n.subject) == found[0].id]

    def done_words(self) -> str:
        strings = self.document.mixed.strings
        piles = sum(len(s.piles) for s in strings)
        if not strings:
            return "no strings yet"
        return f"{len(strings)} strings, {piles} piles" if self.studio.strings.ready() else "strings out of date"
