"""Harmonise: a scheme that holds, proportions, light against shadow, what meets well, ladders into the distance."""

from collections.abc import Callable, Iterator, Sequence

import numpy as np
from PyQt6.QtWidgets import QCheckBox

from ochre_stone.core.document.document import Document
from ochre_stone.core.harmony.schemes import TITLES, places
from ochre_stone.core.picture.picture import Floats, linear_to_lab
from ochre_stone.core.picture.views import View
from ochre_stone.desktop.easel import scenes
from ochre_stone.desktop.easel.scenes import Drawing
from ochre_stone.desktop.stations.harmonise.choice import Harmony
from ochre_stone.desktop.stations.station import Command, Station
from ochre_stone.desktop.widgets.parts import enable, set_tip, signals_blocked
from ochre_stone.desktop.widgets.scenebar import SceneWord
from ochre_stone.desktop.widgets.tray import Pages

PULLED = SceneWord("pulled", "Pulled", "The whole picture as harmony would move it")
PULLED_MASSES = SceneWord("masses", "Masses", "Each mass in its mean colour, as harmony would move it")


class Harmonise(Station):
    title = "Harmonise"
    order = 4
    panel = "beside"
    panel_least = 380
    sees_block_in = True
    compares = "target"

    def prepare(self) -> None:
        self.harmony = Harmony(self.studio)

    def build(self) -> Iterator[None]:
        from ochre_stone.desktop.stations.harmonise.balance import BalancePage
        from ochre_stone.desktop.stations.harmonise.ladders import LaddersPage
        from ochre_stone.desktop.stations.harmonise.meet import MeetPage
        from ochre_stone.desktop.stations.harmonise.scheme import SchemePage
        from ochre_stone.desktop.widgets.wheel import WheelView

        harmony = self.harmony
        self.wheel = self.side = WheelView()
        self.wheel.hint = "Take notes first."
        self.wheel.note_chosen.connect(self.studio.select)
        self.tray.title("Harmonise")
        self.pages = pages = Pages(self.tray, "Scheme", "Balance", "Meet", "Ladders")
        yield
        self.scheme_page = pages.fill("Scheme", lambda tray: SchemePage(tray, harmony))
        yield
        self.balance_page = pages.fill("Balance", lambda tray: BalancePage(tray, harmony, self.session.settings))
        yield
        self.meet_page = pages.fill("Meet", lambda tray: MeetPage(tray, self.studio))
        yield
        self.ladders_page = pages.fill("Ladders", lambda tray: LaddersPage(tray, harmony))
        self.masses_too = QCheckBox("masses on the wheel")
        set_tip(self.masses_too, "Masses as squares, each at the mean of its colours, as large as its share")
        self.masses_too.toggled.connect(lambda _: self.refresh())
        self.tray.rows.addWidget(self.masses_too)
        self.refreshers: dict[str, Callable[[], None]] = {
            "Scheme": self.scheme_page.refresh,
            "Balance": self.balance_page.refresh,
            "Meet": self.meet_page.refresh,
            "Ladders": self.ladders_page.refresh,
        }
        pages.changed = self.refresh
        self.wheel.turned.connect(self.scheme_page.turned)
        self.studio.measuring.notes_measured.connect(self.refresh_if_here)
        self.studio.selected_changed.connect(self.refresh_if_here)
        self.studio.masses_changed.connect(self.refresh_if_here)

    def commands(self) -> list[Command]:
        return [
            Command("Edit", "Leave note out of the &harmony, or take it in", ("X",), self.hold, needs="note"),
            Command("Go", "To the &wheel", ("Z",), self.to_wheel),
        ]

    def hold(self) -> None:
        """Leave the note in hand out of the harmony, or take it in."""
        self.scheme_page.toggle_hold()

    def to_wheel(self) -> None:
        """Come here with the keys on the wheel."""
        self.come()
        self.wheel.setFocus()

    # The easel

    def scenes(self) -> Sequence[SceneWord]:
        photo, *laid = super().scenes()
        return (photo, PULLED, PULLED_MASSES, *laid)

    @property
    def previews(self) -> bool:
        """Whether the easel shows the picture in other colours."""
        return self.scene_now in (PULLED.key, PULLED_MASSES.key)

    def preview(self) -> Callable[[Floats], Floats]:
        """What the easel shows, as a function from the linear screen copy to Lab, to be run off the main thread."""
        from ochre_stone.core.harmony.preview import recoloured
        from ochre_stone.core.masses.shapes import enlarge
        from ochre_stone.core.planning.rows import harmony_ways

        document, plan = self.document, self.studio.masses
        flat = self.scene_now == PULLED_MASSES.key and plan is not None

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

    def drawing(self, screen: Floats, view: View) -> Drawing | None:
        return scenes.other_colours(screen, self.preview(), view) if self.previews else None

    # Showing

    def document_changed(self, old: Document, new: Document) -> None:
        if self.active:
            self.refresh()
            if self.previews and (old.harmony != new.harmony or old.notes != new.notes):
                self.desk.showing.repaint()

    def refresh(self) -> None:
        assert self.pages is not None
        self.refreshers[self.pages.here]()
        enable(self.masses_too, "" if self.studio.masses is not None else "Open a photo first.")
        with signals_blocked(self.masses_too):
            if self.studio.masses is None:
                self.masses_too.setChecked(False)
        self._show_wheel()

    def _show_wheel(self) -> None:
        h, targets = self.harmony.choice, self.session.notes.targets()
        pairs = [(n, targets[n.id]) for n in self.document.notes]
        plan = self.studio.masses if self.masses_too.isChecked() else None
        masses = [(m.index + 1, m.lab, m.share) for m in plan.masses] if plan is not None else []
        arms = places(h.scheme, h.rotation)
        self.wheel.show_notes(h.wheel, pairs, arms, h.rotation, self.studio.selected, masses, h.accents, h.held)

    def done_words(self) -> str:
        h = self.harmony.choice
        return TITLES[h.scheme].lower() if h.scheme != "none" else "no scheme"
