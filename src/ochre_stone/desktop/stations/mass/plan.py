"""The Plan page of Mass: what the plan is, other plans side by side, and its outlines to carry over."""

from collections.abc import Callable
from typing import Any

from PyQt6.QtWidgets import QGridLayout, QWidget

from ochre_stone.core.masses.alternatives import Alternative, alternatives
from ochre_stone.core.masses.render import painted
from ochre_stone.core.planning.massing import painted_map
from ochre_stone.desktop.session import display
from ochre_stone.desktop.session.question import Question
from ochre_stone.desktop.stations.mass.choice import Masses
from ochre_stone.desktop.widgets.image import to_image
from ochre_stone.desktop.widgets.parts import button, enable
from ochre_stone.desktop.widgets.planthumb import PlanThumb
from ochre_stone.desktop.widgets.tray import Tray

_THUMB = 220


class OtherPlansPage:
    """Statement and alternatives; ``outlines`` and ``transfer`` ask where to write them."""

    def __init__(self, tray: Tray, masses: Masses, outlines: Callable[[], None], transfer: Callable[[], None]) -> None:
        self.masses, self.studio = masses, masses.studio
        tray.label("What it is", "head")
        self.words = tray.label("")
        self.place = tray.label("", "quiet")
        tray.label("Other plans", "head")
        self.wait = tray.label("Working them out…", "quiet")
        self.grid_box = QWidget()
        self.grid = QGridLayout(self.grid_box)
        self.grid.setContentsMargins(0, 0, 0, 0)
        self.grid.setSpacing(6)
        tray.rows.addWidget(self.grid_box)
        self.found: list[Alternative] = []
        self.thumbs: list[PlanThumb] = []
        self.others: Question[list[Alternative]] = Question(
            self.studio.jobs, "alternatives", self._shared, self._arrived, self.studio.failed.emit
        )
        tray.label("Carry it over", "head")
        self.svg = button("Outlines as SVG…", "Smooth paths of all masses")
        self.svg.clicked.connect(lambda: outlines())
        self.transfer = button("Print a transfer…", "Outlines at canvas size over several pages")
        self.transfer.clicked.connect(lambda: transfer())
        tray.row(self.svg, self.transfer, None)

    def refresh(self) -> None:
        said, plan = self.masses.statement, self.masses.plan
        for b in (self.svg, self.transfer):
            enable(b, "" if plan is not None else "Open a photo first.")
        if said is None or plan is None:
            self.words.setText("Open a picture first.")
            self.place.setText("")
            return
        self.words.setText(
            f"{said.key.capitalize()}, {said.range}: {said.contrast:.1f} steps from darkest to lightest. "
            f"{said.size_words} {said.share_words}"
        )
        hint = "" if said.in_focus is not None else " Draw a focus area (Values) to see whether it lies there."
        self.place.setText(said.place_words + hint)
        self._make()
        self._mark()

    def _make(self) -> None:
        """Work the other plans out, once for each ground and what they share."""
        picture, ground, document = self.studio.picture, self.studio.ground, self.studio.document
        if picture is None or ground is None:
            return
        c = document.masses
        settings, shape = c.settings(), ground.melted.shape

        def work(_: Any) -> list[Alternative]:
            return alternatives(ground, settings, painted_map(picture, document, (shape[0], shape[1])))

        self.wait.setVisible(not self.others.ask(work))

    def _shared(self) -> tuple[object, ...]:
        """What all plans share: the ground, and what is chosen for all."""
        c = self.studio.document.masses
        return self.studio.ground, c.smallest, c.outline, c.division, c.apart, c.painted, c.range

    def _arrived(self, found: list[Alternative]) -> None:
        self.found = found
        self.wait.hide()
        self._show()
        self._mark()

    def _show(self) -> None:
        for old in self.thumbs:
            self.grid.removeWidget(old)
            old.hide()
            old.deleteLater()
        self.thumbs = []
        for i, a in enumerate(self.found):
            h, w = a.plan.labels.shape
            thumb = PlanThumb(a.title, a.why)
            thumb.show_image(to_image(display.greys(painted(a.plan, _THUMB, max(1, round(_THUMB * h / w))))))
            thumb.clicked.connect(lambda _, a=a: self._choose(a))
            self.grid.addWidget(thumb, i // 3, i % 3)
            self.thumbs.append(thumb)

    def _mark(self) -> None:
        now = self.masses.choice
        for a, thumb in zip(self.found, self.thumbs, strict=True):
            thumb.setChecked(
                a.settings.values == now.values and a.settings.cuts == now.cuts and not now.locked and not now.equal
            )

    def _choose(self, a: Alternative) -> None:
        self.masses.set(
            f"Plan: {a.title}",
            values=a.settings.values,
            cuts=a.settings.cuts,
            locked=(),
            equal=False,
            families=(),
            edges=(),
            swaps=(),
        )
        self._mark()
