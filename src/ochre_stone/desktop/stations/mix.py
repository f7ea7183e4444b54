"""Mix: a palette, strings of piles, the pile in hand and what it needs, and the plan of the session."""

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QProgressBar

from ochre_stone.core.mixing.amounts import Amounts, amounts, shopping
from ochre_stone.core.mixing.strings import MixString, Pile
from ochre_stone.core.paint.palettes import PALETTES
from ochre_stone.core.project.document import Canvas, MixChoice
from ochre_stone.core.project.massing import fine_masses
from ochre_stone.core.project.planning import means_of, note_shares, pile_cover
from ochre_stone.desktop.stations.base import Station, button, narrow, quietly
from ochre_stone.desktop.stations.mixboard import BoardPage
from ochre_stone.desktop.stations.mixcorrect import CorrectPage
from ochre_stone.desktop.stations.mixloose import LoosePage
from ochre_stone.desktop.stations.mixpile import PilePage
from ochre_stone.desktop.stations.mixplan import PlanPage
from ochre_stone.desktop.stations.mixstring import StringPage


class Mix(Station):
    title = "Mix"
    side = "score"
    needs_strings = True
    shows_marks = False

    def build(self) -> None:
        self.pile_id: str | None = None
        self._needed: tuple[object, Amounts] | None = None
        self.easel = button("At the easel", "One pile at a time, full screen (F11)", "small")
        self.easel.clicked.connect(lambda: self.window_.to_easel_view())
        self.title_row("Mix", self.easel)
        self.palette_box = narrow(QComboBox())
        self.palette_box.setAccessibleName("Palette")
        self.palette_box.activated.connect(lambda _: self._choose_palette(self.palette_box.currentData()))
        self.rows.addWidget(self.palette_box)
        self.renew = button("Take my tubes as they are now", "They have changed in the box since", "main")
        self.renew.clicked.connect(lambda: self.window_.paint_box.use_palette(self.document.mix.palette))
        self.rows.addWidget(self.renew)
        self.reach = button("", "What this palette reaches, in the Paint box", "small")
        self.reach.clicked.connect(self.show_reach)
        self.row(self.reach, None)
        self.progress = QProgressBar()
        self.progress.setRange(0, 1000)
        self.progress.setFormat("mixing %p %")
        self.cancel = button("Stop", "Stop working out the strings")
        self.cancel.clicked.connect(self.studio.cancel_mixing)
        line = self.row(self.progress, self.cancel)
        line.setStretch(0, 1)
        self.again = button("Work out the strings", "", "main")
        self.again.clicked.connect(self.studio.refresh_strings)
        self.rows.addWidget(self.again)
        self.pages_ = self.pages("Pile", "Correct", "String", "Plan", "Palette", "Loose")
        with self.on(self.pages_, "Pile"):
            self.pile_page = PilePage(self)
        with self.on(self.pages_, "Correct"):
            self.correct_page = CorrectPage(self)
        with self.on(self.pages_, "String"):
            self.string_page = StringPage(self)
        with self.on(self.pages_, "Plan"):
            self.plan_page = PlanPage(self)
        with self.on(self.pages_, "Palette"):
            self.board_page = BoardPage(self)
        with self.on(self.pages_, "Loose"):
            self.loose_page = LoosePage(self)
        self.window_.mix_panel.addWidget(self.plan_page.panel)
        self.window_.mix_panel.addWidget(self.board_page.panel)
        self.refreshers: dict[str, Callable[[], None]] = {
            "Pile": self.pile_page.refresh, "Correct": self.correct_page.refresh, "String": self.string_page.refresh,
            "Plan": self.plan_page.refresh, "Palette": self.board_page.refresh, "Loose": self.loose_page.refresh,
        }  # fmt: skip
        self.pages_.changed = self.refresh
        self.studio.mixing_progress.connect(self._progress)
        self.studio.mixed_changed.connect(self._busy)  # what is in the strings comes with the document
        self.studio.jobs.busy_changed.connect(self._busy)

    # What is chosen

    def set_mix(self, text: str, kind: str = "", **fields: object) -> None:
        """Change a choice of the strings, as one step."""
        choice = MixChoice.model_validate(self.document.mix.model_dump() | fields)
        self.studio.change(text, self.document.model_copy(update={"mix": choice}), kind)

    def set_canvas(self, text: str, kind: str = "", **fields: object) -> None:
        """Change the canvas or the palette's size, as one step."""
        canvas = Canvas.model_validate(self.document.canvas.model_dump() | fields)
        self.studio.change(text, self.document.model_copy(update={"canvas": canvas}), kind)

    def _choose_palette(self, palette_id: str) -> None:
        self.window_.paint_box.use_palette(palette_id)
        self.refresh()

    def show_reach(self) -> None:
        """To the Paint box: what this palette reaches."""
        self.window_.paint_box.palette_id = self.document.mix.palette
        self.window_.go_to("Paint box")
        self.window_.paint_box.pages_.show("Reach")

    def choose(self, pile_id: str) -> None:
        """Take a pile in hand."""
        self.pile_id = pile_id
        self.refresh()

    # What is there

    def found(self) -> tuple[MixString, Pile] | None:
        """The string and the pile in hand; the middle of the first string where none is."""
        strings = self.document.mixed.strings
        for s in strings:
            for p in s.piles:
                if p.id == self.pile_id:
                    return s, p
        return (strings[0], strings[0].piles[len(strings[0].piles) // 2]) if strings else None

    def names(self) -> dict[str, str]:
        """Names of all piles by their ids."""
        return {p.id: f"{s.name} {n}" for s in self.document.mixed.strings for n, p in enumerate(s.piles, 1)}

    def needed(self) -> Amounts | None:
        """How much paint the plan takes; None until it is worked out, off the main thread."""
        document, picture = self.document, self.studio.picture
        if not document.mixed.strings or not self.studio.strings_ready():
            return None
        key = (document.mixed, document.canvas, document.light_key, document.masses, document.notes)
        if self._needed is not None and self._needed[0] == key:
            return self._needed[1]

        def work(_: Any) -> Amounts:
            c = document.canvas
            shares, thick = note_shares(document), dict[str, float]()
            if picture is not None:
                masses = fine_masses(picture, document) if c.thick else None
                shares, thick = pile_cover(picture, document, masses)
            return amounts(document.mixed.strings, shares, c.area_cm2, c.thickness, c.spare, document.mixed.tube, thick)

        def arrived(found: Amounts) -> None:
            self._needed = key, found
            self.refresh_if_here()

        if not self.studio.jobs.busy("amounts"):
            self.studio.jobs.start("amounts", work, arrived, self.studio.failed.emit)
        return None

    def shortages(self) -> list[str]:
        """What the box has too little of, in words; nothing where the box is empty."""
        stock = means_of(self.window_.keeper.box).stock
        if self._needed is None or not stock:
            return []
        return [
            f"{self.document.mixed.tube(s.tube).short} {s.short:.0f} ml short (buy {s.to_buy()} of 40 ml)"
            for s in shopping(self._needed[1], stock)
        ]

    # Showing

    def _palettes(self) -> None:
        """Own palettes, then those that ship; and what this one does not reach."""
        mix, box = self.document.mix, self.window_.keeper.box
        with quietly(self.palette_box):
            self.palette_box.clear()
            for own in box.palettes:
                self.palette_box.addItem(f"{own.name} (mine)", own.id)
            for p in PALETTES.values():
                self.palette_box.addItem(p.name, p.id)
                self.palette_box.setItemData(self.palette_box.count() - 1, p.about, Qt.ItemDataRole.ToolTipRole)
            if self.palette_box.findData(mix.palette) < 0:
                self.palette_box.addItem(f"{mix.chosen().name} (this picture's)", mix.palette)
            self.palette_box.setCurrentIndex(self.palette_box.findData(mix.palette))
        self.renew.setVisible(self.window_.paint_box.changed_since())
        piles = [p for s in self.document.mixed.strings for p in s.piles]
        out = sum(not p.reachable for p in piles)
        reach = f"{len(piles) - out} of {len(piles)} piles in reach" if piles else "What it reaches"
        self.reach.setText(f"{reach}…")

    def _progress(self, share: float) -> None:
        self.progress.setValue(round(share * 1000))
        self._busy()

    def _busy(self) -> None:
        busy = self.studio.jobs.busy("mix")
        self.progress.setVisible(busy)
        self.cancel.setVisible(busy)
        stale = (
            not self.studio.strings_ready()
            and bool(self.document.notes)
            and not busy
            and not self.studio._later.isActive()
        )
        self.again.setVisible(stale)

    def refresh(self) -> None:
        self._palettes()
        found = self.found()
        if found is not None:
            self.pile_id = found[1].id
        here = self.pages_.here
        panels = {"Plan": self.plan_page.panel, "Palette": self.board_page.panel}
        self.window_.mix_panel.setCurrentWidget(panels.get(here, self.window_.score_scroll))
        if here not in panels:
            self.window_.score.hint = (
                "Take notes first: strings are built from them."
                if not self.document.notes
                else "The strings are being worked out."
            )
            self.window_.score.show_strings(self.document.mixed, self.pile_id, not self.studio.strings_ready())
        self._busy()
        self.easel.setEnabled(found is not None)
        self.refreshers[here]()

    def done_words(self) -> str:
        strings = self.document.mixed.strings
        piles = sum(len(s.piles) for s in strings)
        if not strings:
            return "no strings yet"
        return f"{len(strings)} strings, {piles} piles" if self.studio.strings_ready() else "strings out of date"
