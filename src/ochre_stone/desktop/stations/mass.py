"""Mass: few values in big shapes, each in the light or in the shadow."""

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from ochre_stone.core.masses.plan import Family
from ochre_stone.core.project.document import MassChoice
from ochre_stone.desktop import display, numbers, theme
from ochre_stone.desktop.stations.base import Station, button, quietly


class _Grey(QWidget):
    """A mass's flat grey with its number."""

    def __init__(self, grey: int, number: int) -> None:
        super().__init__()
        self.grey, self.number = grey, number
        self.setFixedSize(40, 27)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(*display.greys(np.array(self.grey, np.uint8)).tolist()))
        painter.setPen(QColor("black") if self.grey > 118 else QColor("white"))
        painter.setFont(theme.face(10.5, bold=True))
        painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, str(self.number))


class Mass(Station):
    title = "Mass"
    shows_scale = True
    shows_marks = False

    def build(self) -> None:
        self.label("Mass", "title")
        self.show_masses = button("Masses", "The flat values (M)", checkable=True)
        self.show_picture = button("Picture", "The picture under them (M)", checkable=True)
        both = QButtonGroup(self)
        for b in (self.show_masses, self.show_picture):
            both.addButton(b)
            b.clicked.connect(lambda: self.window_.showing.repaint())
        self.show_masses.setChecked(True)
        self.row(self.show_masses, self.show_picture, None)
        self.statement = self.label("", "quiet")
        self.label("How many values", "head")
        group = QButtonGroup(self)
        self.counts = {}
        line = QHBoxLayout()
        line.setSpacing(4)
        for n in range(2, 10):
            b = button(str(n), f"{n} flat values", checkable=True)
            b.setMinimumWidth(0)
            b.setStyleSheet("padding-left: 2px; padding-right: 2px;")
            b.clicked.connect(lambda _, k=n: self._set(f"{k} values", values=k, cuts=(), families=()))
            group.addButton(b)
            line.addWidget(b)
            self.counts[n] = b
        self.rows.addLayout(line)
        self.smallest, self.smallest_shown = self.slider(
            "Smallest shape", 0, 100, "Shapes below this share of the picture melt into a neighbour"
        )
        self.smallest.valueChanged.connect(
            lambda v: self._set("Set the smallest shape", "smallest", smallest=self._percent(v))
        )
        self.simplify, self.simplify_shown = self.slider(
            "Simplify", 0, 100, "How much detail melts before the values are cut"
        )
        self.simplify.valueChanged.connect(lambda v: self._set("Simplify", "simplify", simplify=v / 100))
        self.best = button("Best thresholds", "Take back thresholds set by hand: the cuts that leave the least error")
        self.best.clicked.connect(lambda: self._set("Best thresholds", cuts=()))
        self.rows.addWidget(self.best)
        self.label("Light and shadow", "head")
        self.list = QVBoxLayout()
        self.list.setSpacing(4)
        self.rows.addLayout(self.list)
        self.families: list[tuple[int, object]] = []
        self.warning = self.label("", "warning")
        self.label("Light and shadow are a suggestion: no single photo tells for sure.", "quiet")
        self.studio.masses_changed.connect(self.refresh_if_here)

    @staticmethod
    def _percent(position: int) -> float:
        """Slider to percent of the picture: fine at the small end."""
        return round(5 * (position / 100) ** 2, 3)

    @staticmethod
    def _position(percent: float) -> int:
        return round(100 * float((min(percent, 5) / 5) ** 0.5))

    def _set(self, text: str, kind: str = "", **fields: object) -> None:
        choice = MassChoice.model_validate(self.document.masses.model_dump() | fields)
        self.studio.change(text, self.document.model_copy(update={"masses": choice}), kind)

    def cuts_moved(self, cuts: tuple[float, ...]) -> None:
        """A handle of the value scale was dragged or nudged."""
        self._set("Move a threshold", "cuts", cuts=cuts, values=len(cuts) + 1)

    def _family(self, index: int, family: Family) -> None:
        chosen = dict(self.document.masses.families) | {index: family}
        self._set(f"Mass {index + 1} into the {family}", families=tuple(sorted(chosen.items())))

    def refresh(self) -> None:
        choice, plan = self.document.masses, self.studio.masses
        self.counts[choice.values].setChecked(True)
        for slider, value in (
            (self.smallest, self._position(choice.smallest)),
            (self.simplify, round(choice.simplify * 100)),
        ):
            with quietly(slider):
                if not slider.isSliderDown():
                    slider.setValue(value)
        self.smallest_shown.setText(f"{choice.smallest:.2g} % of the picture")
        self.simplify_shown.setText(f"{choice.simplify:.0%}")
        self.best.setEnabled(bool(choice.cuts))
        if plan is not None and self.studio.ground is not None:
            self.window_.scale.show_plan(self.studio.ground.counts, plan)
        self._list()

    def _list(self) -> None:
        while (item := self.list.takeAt(0)) is not None:
            if (old := item.widget()) is not None:
                old.deleteLater()
        plan = self.studio.masses
        if plan is None:
            self.statement.setText("Open a picture first." if self.studio.picture is None else "")
            self.warning.hide()
            return
        greys = plan.greys()
        for m in reversed(plan.masses):
            line = QWidget()
            box = QHBoxLayout(line)
            box.setContentsMargins(0, 0, 0, 0)
            box.addWidget(_Grey(int(greys[m.index]), m.index + 1))
            words = QLabel(f"<b>{numbers.value(m.value)}</b>&nbsp;&nbsp;{m.share:.0%}")
            box.addWidget(words, 1)
            other: Family = "shadow" if m.family == "light" else "light"
            b = button(m.family, f"Put mass {m.index + 1} into the {other}", "family")
            b.setAccessibleName(f"Mass {m.index + 1}, value {numbers.value(m.value)}: {m.family}")
            b.setMinimumWidth(84)
            b.clicked.connect(lambda _, i=m.index, f=other: self._family(i, f))
            box.addWidget(b)
            self.list.addWidget(line)
        lights = [m for m in plan.masses if m.family == "light"]
        shadows = [m for m in plan.masses if m.family == "shadow"]
        broken = bool(lights and shadows) and min(m.value for m in lights) <= max(m.value for m in shadows)
        self.warning.setText("The darkest light is not lighter than the lightest shadow: the form will break.")
        self.warning.setVisible(broken)
        ranked = sorted(plan.masses, key=lambda m: -m.share)
        self.statement.setText(
            f"{plan.key.capitalize()}; {plan.regions} shapes. "
            f"Mass {ranked[0].index + 1} is the biggest, {ranked[0].share:.0%}."
        )

    def done_words(self) -> str:
        return f"{self.document.masses.values} values"
