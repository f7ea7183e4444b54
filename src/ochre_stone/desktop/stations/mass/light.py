"""The Light page of Mass: two families, corrected by division, painting over and clicks; the rule, and a repair."""

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent
from PyQt6.QtWidgets import QDoubleSpinBox, QHBoxLayout, QVBoxLayout, QWidget

from ochre_stone.core.masses.families import Family
from ochre_stone.core.masses.plan import Mass as MassShape
from ochre_stone.core.planning.massing import mass_at
from ochre_stone.desktop.session import display, numbers
from ochre_stone.desktop.stations.mass.choice import Masses
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.parts import Aside, Words, button, clear, enable, fitted_text, set_tip, signals_blocked
from ochre_stone.desktop.widgets.tray import Tray


class GreyChip(QWidget):
    """A mass's flat grey with its number."""

    def __init__(self) -> None:
        super().__init__()
        self.grey, self.number = 119, 0
        self.setFixedSize(40, 27)

    def show_grey(self, grey: int, number: int) -> None:
        """Its sRGB grey and number."""
        self.grey, self.number = grey, number
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(*display.greys(np.array(self.grey, np.uint8)).tolist()))
        painter.setPen(QColor("black") if self.grey > 118 else QColor("white"))
        painter.setFont(theme.face(10.5, bold=True))
        painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, str(self.number))


class FamilyRow(QWidget):
    """A mass with its value, share and family; the button puts it into the other family."""

    def __init__(self) -> None:
        super().__init__()
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        self.chip, self.words, self.family = GreyChip(), Words(""), button("", kind="family")
        self.family.setMinimumWidth(84)
        box.addWidget(self.chip)
        box.addWidget(self.words, 1)
        box.addWidget(self.family)

    def show_mass(self, m: MassShape, grey: int, parted: bool) -> None:
        """``parted``: its value lies in both families."""
        self.chip.show_grey(grey, m.index + 1)
        was = "" if abs(m.value - m.measured) < 0.05 else f" (was {numbers.value(m.measured)})"
        self.words.mark_up(f"<b>{numbers.value(m.value)}</b>{was}&nbsp;&nbsp;{m.share:.0%}")
        other = "shadow" if m.family == "light" else "light"
        self.family.setText(m.family)
        self.family.setEnabled(not parted)
        set_tip(
            self.family,
            "Parted by painting over: paint, or take the painting back"
            if parted
            else f"Put mass {m.index + 1} into the {other} (or click it on the picture)",
        )
        self.family.setAccessibleName(f"Mass {m.index + 1}, value {numbers.value(m.value)}: {m.family}")


class FamilyPage:
    """Light and shadow."""

    def __init__(self, tray: Tray, masses: Masses) -> None:
        self.masses, self.studio = masses, masses.studio
        sure = Aside("How sure this is")
        sure.setText(
            "A suggestion: no single photo tells light from shadow for sure. Correct it by the division, by clicking "
            "a mass, or by painting over."
        )
        tray.head("Divided at value", sure)
        self.division = QDoubleSpinBox()
        self.division.setRange(0.1, 9.9)
        self.division.setSingleStep(0.1)
        self.division.setDecimals(2)
        self.division.setKeyboardTracking(False)
        self.division.setAccessibleName("Value that divides light from shadow")
        set_tip(self.division, "Masses at or above it lie in the light; or drag the tongue on the value scale")
        self.division.valueChanged.connect(masses.divide)
        self.suggested = button("As suggested", "The division that parts the picture best", "small")
        self.suggested.clicked.connect(
            lambda: masses.set("Suggested light and shadow", division=None, families=(), painted=(), edges=(), swaps=())
        )
        tray.row(self.division, self.suggested, None)
        tray.label("Paint over", "head")
        self.paint = {}
        for family in ("light", "shadow"):
            b = button(f"Into {family}", f"Drag around what lies in the {family}", "small", checkable=True)
            b.clicked.connect(lambda on, f=family: masses.draw_for(f if on else ""))
            self.paint[family] = b
        self.back = button("Take back", "The area that was painted last", "small")
        self.back.clicked.connect(
            lambda: masses.set("Take back a painted area", painted=masses.choice.painted[:-1], edges=(), swaps=())
        )
        tray.row(*self.paint.values(), self.back, None)
        tray.label("The rule", "head")
        self.rule = tray.label("")
        self.warning = tray.label("", "warning")
        self.warning.hide()
        self.apart = button("Set them apart", "Move values by the least that mends it", checkable=True)
        self.apart.clicked.connect(
            lambda on: masses.set("Set light and shadow apart" if on else "Leave values as they are", apart=on)
        )
        tray.row(self.apart, None)
        tray.label("Masses", "head")
        self.list = QVBoxLayout()
        self.list.setSpacing(4)
        tray.rows.addLayout(self.list)
        masses.tool_changed.connect(self.show_tool)

    def _row(self) -> FamilyRow:
        row = FamilyRow()
        row.family.clicked.connect(lambda: self._turn(row))
        return row

    def _turn(self, row: FamilyRow) -> None:
        """Put the mass of a row into the other family."""
        plan = self.masses.plan
        if plan is not None and row.chip.number <= len(plan.masses):
            mass = plan.masses[row.chip.number - 1]
            self._family(mass.step, "shadow" if mass.family == "light" else "light", mass.index)

    def clicked(self, x: float, y: float) -> None:
        """The picture was clicked: its mass goes into the other family."""
        plan = self.masses.plan
        if plan is None:
            return
        mass = plan.masses[mass_at(plan, x, y)]
        if sum(o.step == mass.step for o in plan.masses) > 1:
            self.studio.told.emit(
                f"Mass {mass.index + 1} was parted by painting over: paint again, or take the painting back."
            )
        else:
            self._family(mass.step, "shadow" if mass.family == "light" else "light", mass.index)

    def _family(self, step: int, family: Family, index: int) -> None:
        chosen = dict(self.masses.choice.families) | {step: family}
        self.masses.set(f"Mass {index + 1} into the {family}", families=tuple(sorted(chosen.items())))

    def show_tool(self) -> None:
        """Whether the area tool is in hand for a family."""
        for family, b in self.paint.items():
            b.setChecked(self.masses.tool_for == family)

    def refresh(self) -> None:
        plan, c = self.masses.plan, self.masses.choice
        enable(self.back, "" if c.painted else "Nothing is painted over yet.")
        none = "" if plan is not None else "Open a photo first."
        for w in (self.division, self.suggested, self.apart, *self.paint.values()):
            enable(w, none)
        if plan is None:
            clear(self.list)
            self.suggested.setText("As suggested")
            self.rule.setText("Open a picture first.")
            self.warning.hide()
            return
        with signals_blocked(self.division):
            self.division.setValue(plan.division)
        self.suggested.setText(f"As suggested, {numbers.value(plan.suggested)}")
        changed = c.division is not None or c.families or c.painted
        enable(self.suggested, "" if changed else "It is as suggested.")
        greys = plan.greys()
        rows = fitted_text(self.list, len(plan.masses), self._row)
        for row, m in zip(rows, reversed(plan.masses), strict=True):
            row.show_mass(m, int(greys[m.index]), sum(o.step == m.step for o in plan.masses) > 1)
        self._rule()

    def _rule(self) -> None:
        plan = self.masses.plan
        assert plan is not None
        broken = plan.breaks()
        families = {m.family for m in plan.masses if m.share > 0}
        self.apart.setChecked(self.masses.choice.apart)
        mends = broken or self.masses.choice.apart
        enable(self.apart, "" if mends else "The rule is kept: there is nothing to mend.")
        self.rule.setVisible(not broken)
        self.warning.setVisible(bool(broken))
        if broken:
            said = "; ".join(
                f"light {b.light + 1} is {f'{b.by:.1f} darker than' if b.by >= 0.05 else 'as dark as'} "
                f"shadow {b.shadow + 1}"
                for b in broken[:3]
            )
            self.warning.setText(
                f"The darkest light is not lighter than the lightest shadow, and the form will break: {said}. "
                "Crossed lines show where."
            )
        elif self.masses.choice.apart:
            moved = [m for m in plan.masses if abs(m.value - m.measured) >= 0.05]
            words = ", ".join(f"{m.index + 1} to {numbers.value(m.value)}" for m in moved)
            self.rule.setText(f"Kept, with values moved: {words}." if moved else "Kept; nothing had to be moved.")
        elif len(families) < 2:
            self.rule.setText(f"All is {next(iter(families))}: there is no form to break.")
        else:
            self.rule.setText("Kept: the darkest light is lighter than the lightest shadow.")
