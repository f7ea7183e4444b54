"""The Ladders page of Harmonise: into the distance by the air and by the painters' rule, and a sky from horizon up."""

from collections.abc import Sequence
from typing import Any

from PyQt6.QtWidgets import QButtonGroup, QCheckBox, QComboBox, QDoubleSpinBox, QSpinBox

from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.document.choices import DistanceLadder, SkyLadder
from ochre_stone.core.harmony.ladders import AIRS
from ochre_stone.core.planning.rows import distance_ladder, sky_ladder, sky_notes
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.stations.harmonise.choice import Harmony
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.parts import Words, button, counts, enable, set_tip, signals_blocked
from ochre_stone.desktop.widgets.touching import Block, TouchingRow
from ochre_stone.desktop.widgets.tray import Tray

WAY_WORDS = {"air": "By the air", "painters": "By the rule"}


class LaddersPage:
    """Distance and sky."""

    def __init__(self, tray: Tray, harmony: Harmony) -> None:
        self.harmony, self.studio = harmony, harmony.studio
        self.distance = QCheckBox("Distance: from a near note to the horizon")
        set_tip(self.distance, "Its steps are planned as a string of piles")
        self.distance.clicked.connect(self._plan_distance)
        tray.rows.addWidget(self.distance)
        self.near, self.horizon = QComboBox(), QComboBox()
        self.near.setAccessibleName("Near note")
        self.horizon.setAccessibleName("Note of the horizon")
        for box, field in ((self.near, "near"), (self.horizon, "horizon")):
            box.activated.connect(lambda _, b=box, f=field: self._set_distance(**{f: b.currentData()}))
            box.setMinimumContentsLength(8)
            box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            box.setMinimumWidth(132)
        tray.row(self.near, Words("to"), self.horizon)
        self.steps = QSpinBox()
        self.steps.setRange(2, 9)
        counts(self.steps, "step")
        self.steps.setAccessibleName("Steps into the distance")
        self.steps.valueChanged.connect(lambda v: self._set_distance(steps=v))
        self.air = QComboBox()
        self.air.addItems(list(AIRS))
        self.air.setAccessibleName("Kind of air")
        set_tip(self.air, "Fog takes all colours alike; haze and clear air take blue light first")
        self.air.activated.connect(lambda _: self._set_distance(air=self.air.currentText()))
        self.visibility = self._kilometres("Visibility", "How far a dark thing can just be seen", "visibility", 1, 300)
        tray.row(self.steps, self.air, None)
        tray.row(Words("dark things are seen to"), self.visibility, None)
        self.first = self._kilometres("First step", "Distance of the near note", "first", 0.01, 300)
        self.last = self._kilometres("Last step", "Distance of the last step", "last", 0.02, 300)
        tray.row(Words("from"), self.first, Words("to"), self.last, None)
        group = QButtonGroup(tray.widget)
        self.ways, self.rungs = {}, {}
        tips = {
            "air": "Contrast falls with distance, toward the horizon's colour",
            "painters": "Yellow goes first, then red; lighter and bluer all the way",
        }
        for way, words in WAY_WORDS.items():
            b = button(words, tips[way], "small", checkable=True)
            b.clicked.connect(lambda _, w=way: self._set_distance(way=w))
            group.addButton(b)
            self.ways[way], self.rungs[way] = b, TouchingRow(theme.sized(52))
            tray.row(b, None)
            tray.rows.addWidget(self.rungs[way])
        self.distance_words = tray.label("", "quiet")
        self.sky = QCheckBox("Sky: from the horizon up")
        set_tip(self.sky, "From the notes of the sky; its steps are planned as a string of piles")
        self.sky.clicked.connect(self._plan_sky)
        tray.rows.addWidget(self.sky)
        self.sky_steps = QSpinBox()
        self.sky_steps.setRange(2, 9)
        counts(self.sky_steps, "step")
        self.sky_steps.setAccessibleName("Steps of the sky")
        self.sky_steps.valueChanged.connect(lambda v: self._set_sky(steps=v))
        self.band = QComboBox()
        for key, words in (("none", "no band"), ("pink", "a pink band"), ("warm", "a warm band")):
            self.band.addItem(words, key)
        self.band.setAccessibleName("Band over the horizon")
        self.band.activated.connect(lambda _: self._set_sky(band=self.band.currentData()))
        tray.row(self.sky_steps, self.band, None)
        self.strength, self.strength_shown = tray.slider("Band", 0, 100, "How strong the band is", one_row=True)
        self.strength.valueChanged.connect(lambda v: self._set_sky("sky band", strength=v / 100))
        self.sky_rungs = TouchingRow(theme.sized(52))
        tray.rows.addWidget(self.sky_rungs)
        self.sky_words = tray.label("", "quiet")

    def _kilometres(self, name: str, tip: str, field: str, low: float, high: float) -> QDoubleSpinBox:
        box = QDoubleSpinBox()
        box.setRange(low, high)
        box.setDecimals(2 if low < 1 else 0)
        box.setSuffix(" km")
        box.setMaximumWidth(112)
        box.setKeyboardTracking(False)
        box.setAccessibleName(name)
        set_tip(box, tip)
        box.valueChanged.connect(lambda v: self._set_distance(f"ladder {field}", **{field: v}))
        return box

    # Distance

    def _start(self) -> DistanceLadder | None:
        """A first guess: the darkest lit foliage, hill or ground, and the lowest note of the sky."""
        notes = self.studio.document.notes
        skies = [n for n in notes if n.subject == "sky"]
        ends = [n for n in notes if n.subject in ("foliage", "ground") and n.lit] or [
            n for n in notes if n not in skies
        ]
        horizon = max(skies or notes, key=lambda n: n.place[1] if n.place else 0.0, default=None)
        near = min((n for n in ends if n is not horizon), key=lambda n: n.lab[0], default=None)
        if near is None or horizon is None:
            return None
        return DistanceLadder(near=near.id, horizon=horizon.id)

    def _plan_distance(self, on: bool) -> None:
        start = self._start() if on else None
        if on and start is None:
            self.studio.told.emit("A ladder needs two notes: a near one, and one for the horizon.")
            self.refresh()
            return
        self.harmony.set("Plan a distance ladder" if on else "No distance ladder", distance=start)

    def _set_distance(self, kind: str = "", **fields: Any) -> None:
        now = self.harmony.choice.distance
        if now is None or all(getattr(now, k) == v for k, v in fields.items()):
            return
        try:
            new = DistanceLadder.model_validate(now.model_dump() | fields)
        except ValueError:
            self.studio.told.emit("The last step must be farther away than the first.")
            self.refresh()
            return
        if new.near == new.horizon:
            self.studio.told.emit("The near note and the horizon must be two different notes.")
            self.refresh()
            return
        self.harmony.set("Change the distance ladder", kind, distance=new)

    # Sky

    def _plan_sky(self, on: bool) -> None:
        if on and not sky_notes(self.studio.document):
            self.studio.told.emit("A sky ladder needs two notes of the sky at different heights: take them at Note.")
            self.refresh()
            return
        self.harmony.set("Plan a sky ladder" if on else "No sky ladder", sky=SkyLadder() if on else None)

    def _set_sky(self, kind: str = "", **fields: Any) -> None:
        now = self.harmony.choice.sky
        if now is not None and any(getattr(now, k) != v for k, v in fields.items()):
            self.harmony.set("Change the sky ladder", kind, sky=SkyLadder.model_validate(now.model_dump() | fields))

    def refresh(self) -> None:
        self._refresh_distance()
        self._refresh_sky()

    def _refresh_distance(self) -> None:
        d = self.studio.document
        now = d.harmony.distance
        self.distance.setChecked(now is not None)
        shown = (self.near, self.horizon, self.steps, self.air, self.visibility, self.first, self.last,
                 *self.ways.values())  # fmt: skip
        for w in shown:
            enable(w, "" if now is not None else "Tick Distance first.")
        for r in self.rungs.values():
            r.setVisible(now is not None)
        for box in (self.near, self.horizon):
            with signals_blocked(box):
                box.clear()
                for n in d.notes:
                    box.addItem(n.name, n.id)
        if now is None:
            self.distance_words.setText("Contrast and yellow go as a thing recedes; blue remains.")
            return
        for box, note in ((self.near, now.near), (self.horizon, now.horizon)):
            with signals_blocked(box):
                box.setCurrentIndex(box.findData(note))
        for spin, value in ((self.visibility, now.visibility), (self.first, now.first), (self.last, now.last)):
            with signals_blocked(spin):
                spin.setValue(value)
        with signals_blocked(self.steps), signals_blocked(self.air):
            self.steps.setValue(now.steps)
            self.air.setCurrentText(now.air)
        self.ways[now.way].setChecked(True)
        found = {way: distance_ladder(d, way) for way in WAY_WORDS}  # type: ignore[arg-type]
        for way, r in self.rungs.items():
            _show(r, [(x.lab, f"{x.at:.2g} km") for x in found[way]], now.way == way)
        self.distance_words.setText(
            f"{WAY_WORDS[now.way]} is planned as a string."
            if found[now.way]
            else "One of its notes is gone: choose another."
        )

    def _refresh_sky(self) -> None:
        d = self.studio.document
        now = d.harmony.sky
        self.sky.setChecked(now is not None)
        for w in (self.sky_steps, self.band, self.strength):
            enable(w, "" if now is not None else "Tick Sky first.")
        self.sky_rungs.setVisible(now is not None)
        self.sky_words.setText("" if now is not None else "Lightest and warmest at the horizon, bluest overhead.")
        if now is None:
            return
        with signals_blocked(self.sky_steps), signals_blocked(self.band), signals_blocked(self.strength):
            self.sky_steps.setValue(now.steps)
            self.band.setCurrentIndex(self.band.findData(now.band))
            if not self.strength.isSliderDown():
                self.strength.setValue(round(now.strength * 100))
        enable(self.strength, "" if now.band != "none" else "Choose a band first.")
        self.strength_shown.setText(f"{now.strength:.0%}")
        rungs = sky_ladder(d)
        _show(self.sky_rungs, [(r.lab, f"{r.at:.0%}") for r in rungs], True)
        self.sky_words.setText("" if rungs else "Its notes are gone: it needs two of the sky at different heights.")


def _show(row: TouchingRow, rungs: Sequence[tuple[Lab, str]], chosen: bool) -> None:
    """A ladder: each rung with its value and where it stands; ``chosen``: this is the one that is planned."""
    blocks = [Block(lab, numbers.value(read(lab).value), word) for lab, word in rungs]
    said = ", ".join(f"{b.under}: value {b.words}, {read(b.lab).name}" for b in blocks)
    row.show_blocks(blocks, said, tip=True, framed=chosen and bool(blocks))
