"""Harmonise: a scheme that holds, proportions, light against shadow, what meets well, ladders into the distance."""

from collections.abc import Callable
from typing import Any

import numpy as np
from PyQt6.QtWidgets import QButtonGroup, QCheckBox

from ochre_stone.core.harmony.preview import recoloured
from ochre_stone.core.harmony.schemes import TITLES, places
from ochre_stone.core.masses.shapes import enlarge
from ochre_stone.core.picture.picture import Floats, linear_to_lab
from ochre_stone.core.project.choices import HarmonyChoice
from ochre_stone.core.project.rows import harmony_ways
from ochre_stone.desktop.stations.base import Station, button, quietly
from ochre_stone.desktop.stations.harmonybalance import BalancePage
from ochre_stone.desktop.stations.harmonyladders import LaddersPage
from ochre_stone.desktop.stations.harmonymeet import MeetPage
from ochre_stone.desktop.stations.harmonyscheme import SchemePage

SEES = {
    "picture": ("Picture", "The picture as it is"),
    "pulled": ("Pulled", "The whole picture as harmony would move it"),
    "masses": ("Masses", "Each mass in its mean colour, as harmony would move it"),
}


class Harmonise(Station):
    title = "Harmonise"
    side = "wheel"

    def build(self) -> None:
        self.sees = {}
        group = QButtonGroup(self)
        for key, (words, tip) in SEES.items():
            b = button(words, f"{tip} (K goes on)", "small", checkable=True)
            b.clicked.connect(lambda: self.window_.showing.repaint())
            group.addButton(b)
            self.sees[key] = b
        self.sees["picture"].setChecked(True)
        self.title_row("Harmonise", *self.sees.values())
        self.pages_ = self.pages("Scheme", "Balance", "Meet", "Ladders")
        with self.on(self.pages_, "Scheme"):
            self.scheme_page = SchemePage(self)
        with self.on(self.pages_, "Balance"):
            self.balance_page = BalancePage(self)
        with self.on(self.pages_, "Meet"):
            self.meet_page = MeetPage(self)
        with self.on(self.pages_, "Ladders"):
            self.ladders_page = LaddersPage(self)
        self.masses_too = QCheckBox("masses on the wheel")
        self.masses_too.setToolTip("Masses as squares, each at the mean of its colours, as large as its share")
        self.masses_too.toggled.connect(lambda _: self.refresh())
        self.rows.addWidget(self.masses_too)
        self.refreshers: dict[str, Callable[[], None]] = {
            "Scheme": self.scheme_page.refresh,
            "Balance": self.balance_page.refresh,
            "Meet": self.meet_page.refresh,
            "Ladders": self.ladders_page.refresh,
        }
        self.pages_.changed = self.refresh
        self.studio.notes_measured.connect(self.refresh_if_here)
        self.studio.selected_changed.connect(self.refresh_if_here)
        self.studio.masses_changed.connect(self.refresh_if_here)

    @property
    def choice(self) -> HarmonyChoice:
        return self.document.harmony

    def set(self, text: str, kind: str = "", **fields: Any) -> None:
        """Change fields of the harmony choice as one step."""
        changed = HarmonyChoice.model_validate(self.choice.model_dump() | fields)
        self.studio.change(text, self.document.model_copy(update={"harmony": changed}), kind)

    def turned(self, rotation: float) -> None:
        """The brackets were dragged, or nudged by key."""
        self.scheme_page.turned(rotation)

    def next_sight(self) -> None:
        """Picture, pulled, masses, and round again."""
        names = list(self.sees)
        now = next(i for i, k in enumerate(names) if self.sees[k].isChecked())
        self.sees[names[(now + 1) % len(names)]].setChecked(True)
        self.window_.showing.repaint()

    @property
    def previews(self) -> bool:
        """Whether the easel shows something else than the picture as it is."""
        return not self.sees["picture"].isChecked()

    def preview(self) -> Callable[[Floats], Floats]:
        """What the easel shows, as a function from the linear screen copy to Lab, to be run off the main thread."""
        document, plan = self.document, self.studio.masses
        flat = self.sees["masses"].isChecked() and plan is not None

        def recolour(linear: Floats) -> Floats:
            if flat and plan is not None:
                height, width = linear.shape[:2]
                own = np.array([m.lab for m in plan.masses], dtype=np.float32)
                lab = own[enlarge(plan.labels, len(plan.masses), width, height)]
            else:
                lab = linear_to_lab(linear)
            grid = harmony_ways(document)
            eased = document.masses.range.tone().lab(lab).astype(np.float32)
            return eased if grid is None else recoloured(eased, grid)

        return recolour

    def document_changed(self, old: Any, new: Any) -> None:
        if self.active:
            self.refresh()
            if self.previews and (old.harmony != new.harmony or old.notes != new.notes):
                self.window_.showing.repaint()

    def refresh(self) -> None:
        h = self.choice
        self.refreshers[self.pages_.here]()
        self.masses_too.setEnabled(self.studio.masses is not None)
        with quietly(self.masses_too):
            if self.studio.masses is None:
                self.masses_too.setChecked(False)
        self.window_.show_wheel(places(h.scheme, h.rotation))

    def done_words(self) -> str:
        h = self.choice
        return TITLES[h.scheme].lower() if h.scheme != "none" else "no scheme"
