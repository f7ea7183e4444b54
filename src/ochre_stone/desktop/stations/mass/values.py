"""The Values page of Mass: how many, where they are cut, how simple the shapes are, and where detail stays."""

from PyQt6.QtWidgets import QButtonGroup, QCheckBox, QDoubleSpinBox, QHBoxLayout

from ochre_stone.core.masses.thresholds import equal_cuts
from ochre_stone.desktop.scale.scale import ValueScale
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.stations.mass.choice import Masses
from ochre_stone.desktop.widgets.parts import Words, button, enable, set_tip, signals_blocked
from ochre_stone.desktop.widgets.tray import Tray


def percent_of(position: int) -> float:
    """Place of the slider to percent of the picture: fine at the small end."""
    return round(5 * (position / 100) ** 2, 3)


def position_of(percent: float) -> int:
    """The other way."""
    return round(100 * float((min(percent, 5) / 5) ** 0.5))


class ValuesPage:
    """Thresholds and shapes."""

    def __init__(self, tray: Tray, masses: Masses, scale: ValueScale) -> None:
        self.masses, self.studio, self.scale = masses, masses.studio, scale
        self.statement = tray.label("", "quiet")
        tray.label("How many values", "head")
        group = QButtonGroup(tray.widget)
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
        tray.rows.addLayout(line)
        tray.label("Thresholds", "head")
        self.best = button("Best", "The cuts that leave the least error; locked ones stay", "small", checkable=True)
        self.equal = button("Equal steps", "Equal steps of your value scale", "small", checkable=True)
        self.by_hand = button("By hand", "Dragged on the scale, typed, or nudged by key", "small", checkable=True)
        ways = QButtonGroup(tray.widget)
        for b in (self.best, self.equal, self.by_hand):
            ways.addButton(b)
        self.best.clicked.connect(lambda: masses.set("Best thresholds", cuts=(), equal=False))
        self.equal.clicked.connect(self._make_equal)
        self.by_hand.clicked.connect(self._keep_cuts)
        tray.row(self.best, self.equal, self.by_hand, None)
        self.cut = QDoubleSpinBox()
        self.cut.setRange(0.1, 9.9)
        self.cut.setSingleStep(0.1)
        self.cut.setDecimals(2)
        self.cut.setKeyboardTracking(False)
        self.cut.setAccessibleName("Threshold in hand, Munsell value")
        set_tip(self.cut, "Munsell value of the threshold in hand; choose another on the scale")
        self.cut.valueChanged.connect(lambda v: scale.move_to(scale.cuts.chosen, v))
        self.which = Words("")
        self.lock = QCheckBox("locked")
        set_tip(self.lock, "It stays while the others are found anew (L on the scale, or a double click)")
        self.lock.clicked.connect(lambda: self.toggle_lock(scale.cuts.chosen))
        tray.row(self.which, self.cut, self.lock, None)
        tray.label("Shapes", "head")
        self.smallest, self.smallest_shown = tray.slider(
            "Smallest shape", 0, 100, "Shapes below this share of the picture melt into a neighbour", one_row=True
        )
        self.smallest.valueChanged.connect(
            lambda v: masses.set("Set the smallest shape", "smallest", smallest=percent_of(v))
        )
        self.outline, self.outline_shown = tray.slider(
            "Simple outlines", 0, 100, "How far outlines are simplified, as with a broad knife", one_row=True
        )
        self.outline.valueChanged.connect(lambda v: masses.set("Simplify outlines", "outline", outline=v / 100))
        self.simplify, self.simplify_shown = tray.slider(
            "Detail melts", 0, 100, "How much detail melts before the values are cut", one_row=True
        )
        self.simplify.valueChanged.connect(lambda v: masses.set("Melt detail", "simplify", simplify=v / 100))
        self.hues = QCheckBox("part hues of one value")
        set_tip(self.hues, "Where one value holds two hues, as a face before a wall, a line keeps them apart")
        self.hues.clicked.connect(lambda on: masses.set("Part hues of one value", hues=on))
        tray.rows.addWidget(self.hues)
        tray.label("Focus", "head")
        self.focus = button("Draw a focus area", "Detail and small shapes stay there", checkable=True)
        self.focus.clicked.connect(lambda on: masses.draw_for("focus" if on else ""))
        self.clear = button("Take back", "The focus area that was drawn last", "small")
        self.clear.clicked.connect(lambda: masses.set("Take back a focus area", focus=masses.choice.focus[:-1]))
        tray.row(self.focus, self.clear, None)
        self.focus_words = tray.label("", "quiet")
        masses.tool_changed.connect(self.show_tool)
        scale.lock_asked.connect(self.toggle_lock)
        scale.cuts_moved.connect(self.moved)
        masses.refused.connect(self.refresh)
        self._keeps_next = False
        """By hand was chosen before the masses were there: their thresholds are kept as soon as they are."""

    def count(self, count: int) -> None:
        """Another number of values."""
        c = self.masses.choice
        if count == c.values:
            return
        cuts = self._equal(count) if c.equal else ()
        locked = c.locked if len(c.locked) < count and not c.equal else ()
        self.masses.set(f"{count} values", values=count, cuts=cuts, locked=locked, families=(), edges=(), swaps=())

    def _equal(self, count: int) -> tuple[float, ...]:
        school = numbers.school()
        if school.steps == 0:
            return equal_cuts(count)
        # A scale of steps reaches half a step beyond its ends.
        ends = sorted(school.munsell(p) for p in (0.5, school.steps + 0.5))
        return equal_cuts(count, ends[0], ends[1])

    def _make_equal(self) -> None:
        count = self.masses.choice.values
        self.masses.set("Equal steps", cuts=self._equal(count), equal=True, locked=())

    def _keep_cuts(self) -> None:
        plan = self.masses.plan
        self._keeps_next = self.masses.behind
        if plan is not None and not self._keeps_next:
            self._hold(plan.thresholds, self.masses.choice.locked, "Thresholds by hand")

    def _hold(self, cuts: tuple[float, ...], locked: tuple[float, ...], text: str, kind: str = "") -> None:
        near = [min(cuts, key=lambda c: abs(c - x)) for x in locked]  # locks follow rounding to bins
        self.masses.set(text, kind, cuts=cuts, locked=tuple(sorted(set(near))), equal=False)

    def moved(self, cuts: tuple[float, ...], index: int) -> None:
        """A threshold was moved by hand; a locked one takes its lock along."""
        if len(cuts) + 1 != self.masses.choice.values:
            return  # of a plan that is on its way out
        old = self._cuts() or cuts
        locked = tuple(x for x in self.masses.choice.locked if len(old) != len(cuts) or abs(x - old[index]) > 0.03)
        if len(locked) < len(self.masses.choice.locked):
            locked = (*locked, cuts[index])
        self._hold(cuts, locked, "Move a threshold", "cuts")

    def toggle_lock(self, index: int) -> None:
        """Lock or free a threshold."""
        c, cuts = self.masses.choice, self._cuts()
        if index >= len(cuts):
            return
        cut = cuts[index]
        held = [x for x in c.locked if abs(x - cut) < 0.03]
        if held:
            self.masses.set("Free a threshold", locked=tuple(x for x in c.locked if x not in held))
        else:
            self.masses.set("Lock a threshold", locked=tuple(sorted((*c.locked, cut))))

    def _cuts(self) -> tuple[float, ...]:
        """Thresholds as they are now: those by hand, for the plan may lag behind a drag, or those that were found."""
        plan = self.masses.plan
        return self.masses.choice.cuts or (plan.thresholds if plan is not None else ())

    def show_tool(self) -> None:
        """Whether the area tool is in hand for a focus."""
        self.focus.setChecked(self.masses.tool_for == "focus")

    def refresh(self) -> None:
        if self._keeps_next and not self.masses.behind:
            self._keep_cuts()
        c, plan = self.masses.choice, self.masses.plan
        self.counts[c.values].setChecked(True)
        self.hues.setChecked(c.hues)
        for slider, value in (
            (self.smallest, position_of(c.smallest)),
            (self.outline, round(c.outline * 100)),
            (self.simplify, round(c.simplify * 100)),
        ):
            with signals_blocked(slider):
                if not slider.isSliderDown():
                    slider.setValue(value)
        self.smallest_shown.setText(f"{c.smallest:.2g} %")
        self.outline_shown.setText(f"{c.outline:.0%}")
        self.simplify_shown.setText(f"{c.simplify:.0%}")
        (self.equal if c.equal else self.by_hand if c.cuts else self.best).setChecked(True)
        cuts = plan.thresholds if plan is not None else ()
        chosen = min(self.scale.cuts.chosen, max(len(cuts) - 1, 0))
        for w in (self.cut, self.lock):
            enable(w, "" if cuts else "Open a photo first.")
        if cuts:
            with signals_blocked(self.cut):
                if not self.cut.hasFocus() or abs(self.cut.value() - cuts[chosen]) > 0.006:
                    self.cut.setValue(cuts[chosen])
            self.lock.setChecked(any(abs(x - cuts[chosen]) < 0.03 for x in c.locked))
        self.which.setText(f"{chosen + 1} of {len(cuts)}, at {numbers.value(cuts[chosen])}" if cuts else "")
        for tool in (self.by_hand, self.focus):
            enable(tool, "" if self.studio.picture is not None else "Open a photo first.")
        areas = len(c.focus)
        enable(self.clear, "" if areas else "There is no focus area to take back.")
        self.focus_words.setText(
            f"{areas} area{'s' if areas > 1 else ''}: more detail and smaller shapes stay there."
            if areas
            else "Draw around what the picture is about: it keeps more detail than the rest."
        )
        said = self.masses.statement
        if plan is None or said is None:
            self.statement.setText("Open a picture first." if self.studio.picture is None else "")
        else:
            self.statement.setText(f"{said.key.capitalize()}, {said.range}; {plan.regions} shapes. {said.size_words}")
