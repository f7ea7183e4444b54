"""The Values page of Mass: how many, where they are cut, how simple the shapes are, and where detail stays."""

from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QButtonGroup, QCheckBox, QDoubleSpinBox, QHBoxLayout, QLabel

from ochre_stone.core.masses.thresholds import equal_cuts
from ochre_stone.desktop import numbers
from ochre_stone.desktop.stations.base import button, quietly

if TYPE_CHECKING:
    from ochre_stone.desktop.stations.mass import Mass

_LEAST_APART = 0.15


def percent_of(position: int) -> float:
    """Place of the slider to percent of the picture: fine at the small end."""
    return round(5 * (position / 100) ** 2, 3)


def position_of(percent: float) -> int:
    """The other way."""
    return round(100 * float((min(percent, 5) / 5) ** 0.5))


class ValuesPage:
    """Thresholds and shapes."""

    def __init__(self, station: "Mass") -> None:
        self.station, self.studio = station, station.studio
        self.statement = station.label("", "quiet")
        station.label("How many values", "head")
        group = QButtonGroup(station)
        self.counts = {}
        line = QHBoxLayout()
        line.setSpacing(4)
        for n in range(2, 10):
            b = button(str(n), f"{n} flat values", checkable=True)
            b.setMinimumWidth(0)
            b.setStyleSheet("padding-left: 2px; padding-right: 2px;")
            b.clicked.connect(lambda _, k=n: self.count(k))
            group.addButton(b)
            line.addWidget(b)
            self.counts[n] = b
        station.rows.addLayout(line)
        station.label("Thresholds", "head")
        self.best = button("Best", "The cuts that leave the least error; locked ones stay", "small", checkable=True)
        self.equal = button("Equal steps", "Equal steps of your value scale", "small", checkable=True)
        self.by_hand = button("By hand", "Dragged on the scale, typed, or nudged by key", "small", checkable=True)
        ways = QButtonGroup(station)
        for b in (self.best, self.equal, self.by_hand):
            ways.addButton(b)
        self.best.clicked.connect(lambda: station.set("Best thresholds", cuts=(), equal=False))
        self.equal.clicked.connect(self._make_equal)
        self.by_hand.clicked.connect(self._keep_cuts)
        station.row(self.best, self.equal, self.by_hand, None)
        self.cut = QDoubleSpinBox()
        self.cut.setRange(0.1, 9.9)
        self.cut.setSingleStep(0.1)
        self.cut.setDecimals(2)
        self.cut.setKeyboardTracking(False)
        self.cut.setAccessibleName("Threshold in hand, Munsell value")
        self.cut.setToolTip("Munsell value of the threshold in hand; choose another on the scale")
        self.cut.valueChanged.connect(lambda v: station.window_.scale.move_to(station.window_.scale.chosen, v))
        self.which = QLabel("")
        self.lock = QCheckBox("locked")
        self.lock.setToolTip("It stays while the others are found anew (L on the scale, or a double click)")
        self.lock.clicked.connect(lambda: self.toggle_lock(station.window_.scale.chosen))
        station.row(self.which, self.cut, self.lock, None)
        station.label("Shapes", "head")
        self.smallest, self.smallest_shown = station.slider(
            "Smallest shape", 0, 100, "Shapes below this share of the picture melt into a neighbour", one_row=True
        )
        self.smallest.valueChanged.connect(
            lambda v: station.set("Set the smallest shape", "smallest", smallest=percent_of(v))
        )
        self.outline, self.outline_shown = station.slider(
            "Simple outlines", 0, 100, "How far outlines are simplified, as with a broad knife", one_row=True
        )
        self.outline.valueChanged.connect(lambda v: station.set("Simplify outlines", "outline", outline=v / 100))
        self.simplify, self.simplify_shown = station.slider(
            "Detail melts", 0, 100, "How much detail melts before the values are cut", one_row=True
        )
        self.simplify.valueChanged.connect(lambda v: station.set("Melt detail", "simplify", simplify=v / 100))
        station.label("Focus", "head")
        self.focus = button("Draw a focus area", "Detail and small shapes stay there", checkable=True)
        self.focus.clicked.connect(lambda on: station.draw_for("focus" if on else ""))
        self.clear = button("Take back", "The focus area that was drawn last", "small")
        self.clear.clicked.connect(lambda: station.set("Take back a focus area", focus=station.choice.focus[:-1]))
        station.row(self.focus, self.clear, None)
        self.focus_words = station.label("", "quiet")
        station.window_.scale.chosen_changed.connect(lambda _: station.refresh_if_here())
        station.window_.scale.lock_asked.connect(self.toggle_lock)

    def count(self, count: int) -> None:
        """Another number of values."""
        c = self.station.choice
        if count == c.values:
            return
        cuts = self._equal(count) if c.equal else ()
        locked = c.locked if len(c.locked) < count and not c.equal else ()
        self.station.set(f"{count} values", values=count, cuts=cuts, locked=locked, families=(), edges=(), swaps=())

    def _equal(self, count: int) -> tuple[float, ...]:
        school = numbers.school()
        if school.steps == 0:
            return equal_cuts(count)
        # A scale of steps reaches half a step beyond its ends.
        ends = sorted(school.munsell(p) for p in (0.5, school.steps + 0.5))
        return equal_cuts(count, ends[0], ends[1])

    def _make_equal(self) -> None:
        count = self.station.choice.values
        self.station.set("Equal steps", cuts=self._equal(count), equal=True, locked=())

    def _keep_cuts(self) -> None:
        plan = self.station.plan
        if plan is not None:
            self._hold(plan.thresholds, self.station.choice.locked, "Thresholds by hand")

    def _hold(self, cuts: tuple[float, ...], locked: tuple[float, ...], text: str, kind: str = "") -> None:
        near = [min(cuts, key=lambda c: abs(c - x)) for x in locked]  # locks follow rounding to bins
        self.station.set(text, kind, cuts=cuts, locked=tuple(sorted(set(near))), equal=False)

    def moved(self, cuts: tuple[float, ...], index: int) -> None:
        """A threshold was moved by hand; a locked one takes its lock along."""
        old = self._cuts() or cuts
        locked = tuple(x for x in self.station.choice.locked if len(old) != len(cuts) or abs(x - old[index]) > 0.03)
        if len(locked) < len(self.station.choice.locked):
            locked = (*locked, cuts[index])
        self._hold(cuts, locked, "Move a threshold", "cuts")

    def toggle_lock(self, index: int) -> None:
        """Lock or free a threshold."""
        c, cuts = self.station.choice, self._cuts()
        if index >= len(cuts):
            return
        cut = cuts[index]
        held = [x for x in c.locked if abs(x - cut) < 0.03]
        if held:
            self.station.set("Free a threshold", locked=tuple(x for x in c.locked if x not in held))
        else:
            self.station.set("Lock a threshold", locked=tuple(sorted((*c.locked, cut))))

    def _cuts(self) -> tuple[float, ...]:
        """Thresholds as they are now: those by hand, for the plan may lag behind a drag, or those that were found."""
        plan = self.station.plan
        return self.station.choice.cuts or (plan.thresholds if plan is not None else ())

    def show_tool(self) -> None:
        """Whether the area tool is in hand for a focus."""
        self.focus.setChecked(self.station.tool_for == "focus")

    def refresh(self) -> None:
        c, plan = self.station.choice, self.station.plan
        self.counts[c.values].setChecked(True)
        for slider, value in (
            (self.smallest, position_of(c.smallest)),
            (self.outline, round(c.outline * 100)),
            (self.simplify, round(c.simplify * 100)),
        ):
            with quietly(slider):
                if not slider.isSliderDown():
                    slider.setValue(value)
        self.smallest_shown.setText(f"{c.smallest:.2g} %")
        self.outline_shown.setText(f"{c.outline:.0%}")
        self.simplify_shown.setText(f"{c.simplify:.0%}")
        (self.equal if c.equal else self.by_hand if c.cuts else self.best).setChecked(True)
        cuts = plan.thresholds if plan is not None else ()
        chosen = min(self.station.window_.scale.chosen, max(len(cuts) - 1, 0))
        for w in (self.cut, self.lock):
            w.setEnabled(bool(cuts))
        if cuts:
            with quietly(self.cut):
                if not self.cut.hasFocus() or abs(self.cut.value() - cuts[chosen]) > 0.006:
                    self.cut.setValue(cuts[chosen])
            self.lock.setChecked(any(abs(x - cuts[chosen]) < 0.03 for x in c.locked))
            self.which.setText(f"{chosen + 1} of {len(cuts)}, at {numbers.value(cuts[chosen])}")
        areas = len(c.focus)
        self.clear.setEnabled(bool(areas))
        self.focus_words.setText(
            f"{areas} area{'s' if areas > 1 else ''}: more detail and smaller shapes stay there."
            if areas
            else "Draw around what the picture is about: it keeps more detail than the rest."
        )
        said = self.station.statement
        if plan is None or said is None:
            self.statement.setText("Open a picture first." if self.studio.picture is None else "")
        else:
            self.statement.setText(f"{said.key.capitalize()}, {said.range}; {plan.regions} shapes. {said.size_words}")
