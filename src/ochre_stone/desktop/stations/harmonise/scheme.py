"""The Scheme page of Harmonise: schemes ranked, turned, locked to the dominant; accents; notes pulled, value kept."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QButtonGroup, QCheckBox, QHBoxLayout, QListWidgetItem

from ochre_stone.core.colour.wheel import wheel
from ochre_stone.core.harmony.schemes import ACCENT_SHARE, CLEAR, TITLES, SchemeFit, places
from ochre_stone.desktop.stations.harmonise.choice import Harmony
from ochre_stone.desktop.widgets.parts import ListBox, Words, button, enable, set_tip, signals_blocked
from ochre_stone.desktop.widgets.tray import Tray

_MOST_ARMS = 4


class SchemePage:
    """Wheel, scheme, turn, accents and pull."""

    def __init__(self, tray: Tray, harmony: Harmony) -> None:
        self.harmony, self.studio = harmony, harmony.studio
        self.wheels = {
            "traditional": button("Traditional", "Red, yellow and blue; twelve steps", "small", checkable=True),
            "perceptual": button("Perceptual", "Equal steps to the eye, by Munsell hue", "small", checkable=True),
        }
        group = QButtonGroup(tray.widget)
        for name, b in self.wheels.items():
            group.addButton(b)
            b.clicked.connect(lambda _, n=name: self._wheel(n))
        tray.row(Words("Wheel"), *self.wheels.values(), None)
        tray.label("Schemes, best first", "head")
        self.list = ListBox("Schemes, best first", 130)
        self.list.itemClicked.connect(lambda item: self._choose(item.data(Qt.ItemDataRole.UserRole)))
        self.list.itemActivated.connect(lambda item: self._choose(item.data(Qt.ItemDataRole.UserRole)))
        tray.list(self.list)
        self.verdict = tray.label("", "quiet")
        self.lock = QCheckBox("keep the dominant hue")
        set_tip(self.lock, "One arm stays on the hue that weighs most; schemes are fitted about it and not turned")
        self.lock.clicked.connect(self._lock)
        tray.rows.addWidget(self.lock)
        self.turn, self.turn_shown = tray.slider(
            "Turn", 0, 359, "Turn the scheme on the wheel; or drag its brackets, or arrow keys on the wheel"
        )
        self.turn.valueChanged.connect(lambda v: self.turned(float(v)))
        self.accent_head = tray.label("Accent arms", "head")
        line = QHBoxLayout()
        line.setSpacing(10)
        self.arms = []
        for i in range(_MOST_ARMS):
            box = QCheckBox("")
            set_tip(box, f"Only notes of at most {ACCENT_SHARE:.0%} of the picture are drawn to an accent arm")
            box.clicked.connect(lambda _, i=i: self._accent(i))
            line.addWidget(box)
            box.setAccessibleName(f"Accent arm {i + 1}")
            self.arms.append(box)
        line.addStretch(1)
        tray.rows.addLayout(line)
        self.amount, self.amount_shown = tray.slider(
            "Pull the notes",
            0,
            100,
            "How far each hue turns toward the nearest arm; value stays, chroma as far as it can",
        )
        self.amount.valueChanged.connect(lambda v: harmony.set("Pull the notes", "pull", amount=v / 100))
        self.hold = button("Leave this note out", "Harmony does not move the note in hand (X)", "small", checkable=True)
        self.hold.clicked.connect(lambda: self.toggle_hold())
        tray.row(self.hold, None)
        self.told = tray.label("", "quiet")

    def _wheel(self, name: str) -> None:
        if name != self.harmony.choice.wheel:
            self.harmony.set(f"{name.capitalize()} wheel", wheel=name, scheme="none", rotation=0.0, accents=())

    def _choose(self, found: SchemeFit) -> None:
        h = self.harmony.choice
        if found.name == h.scheme:
            return
        # The one arm across from a family of near hues is an accent by its nature.
        accents = (3,) if found.name == "accented-analogous" else ()
        self.harmony.set(
            f"Scheme: {found.title}",
            scheme=found.name,
            rotation=found.rotation % 360,
            accents=accents,
            amount=0.0 if found.name == "none" else h.amount or 0.5,
        )

    def turned(self, rotation: float) -> None:
        """The scheme is to be turned."""
        if self.harmony.choice.locked:
            self.studio.told.emit("The dominant hue is kept, so the scheme stays: free it to turn.")
            self.refresh()
            return
        self.harmony.set("Turn the scheme", "turn", rotation=round(rotation, 1) % 360)

    def _lock(self, on: bool) -> None:
        h = self.harmony.choice
        rotation = h.rotation
        if on and h.scheme != "none":
            found = next((s for s in self.studio.schemes(keep_dominant=True) if s.name == h.scheme), None)
            rotation = found.rotation % 360 if found is not None else rotation
        self.harmony.set("Keep the dominant hue" if on else "Free the scheme", locked=on, rotation=rotation)

    def _accent(self, arm: int) -> None:
        now = set(self.harmony.choice.accents) ^ {arm}
        self.harmony.set("Choose the accents", accents=tuple(sorted(now)))

    def toggle_hold(self) -> None:
        """Leave the note in hand out of the harmony, or take it in again."""
        chosen, held = self.studio.selected, self.harmony.choice.held
        if chosen is None:
            self.studio.told.emit("Choose a note on the scale or the wheel first.")
            self.refresh()
            return
        name = self.studio.document.note(chosen).name
        if chosen in held:
            self.studio.told.emit(f"“{name}” moves with the harmony again.")
            self.harmony.set("Take the note into the harmony", held=tuple(i for i in held if i != chosen))
        else:
            self.studio.told.emit(f"“{name}” is left out of the harmony.")
            self.harmony.set("Leave the note out", held=(*held, chosen))

    def refresh(self) -> None:
        h = self.harmony.choice
        self.wheels[h.wheel].setChecked(True)
        fits = self.studio.schemes(keep_dominant=h.locked)
        self.list.clear()
        for s in fits:
            strength = (
                "" if s.name == "none" else f"   explains {s.explained:.0%}" if s.score > 0 else "   does not fit"
            )
            item = QListWidgetItem(f"{s.title}{strength}")
            item.setData(Qt.ItemDataRole.UserRole, s)
            self.list.addItem(item)
            if s.name == h.scheme:
                item.setSelected(True)
                self.list.setCurrentItem(item)
        self._say(fits)
        chosen = h.scheme != "none"
        arms = places(h.scheme, h.rotation)
        with signals_blocked(self.lock):
            self.lock.setChecked(h.locked)
        for slider, shown, value, words, on in (
            (self.turn, self.turn_shown, round(h.rotation) % 360, f"{h.rotation:.0f}°", chosen and not h.locked),
            (self.amount, self.amount_shown, round(h.amount * 100), f"{h.amount:.0%}", chosen),
        ):
            kept = "The dominant hue is kept: free it to turn." if chosen else "Choose a scheme first."
            enable(slider, "" if on else kept)
            with signals_blocked(slider):
                if not slider.isSliderDown():
                    slider.setValue(value)
            shown.setText(words if chosen else "")
        self.accent_head.setVisible(chosen)
        for i, box in enumerate(self.arms):
            box.setVisible(i < len(arms))
            if i < len(arms):
                box.setText(wheel(h.wheel).word(arms[i]))
                box.setChecked(i in h.accents)
        note = next((n for n in self.studio.document.notes if n.id == self.studio.selected), None)
        enable(self.hold, "" if note is not None else "Take a note in hand first: click its dab on the scale.")
        self.hold.setChecked(note is not None and note.id in h.held)
        self.told.setText(
            f"{TITLES[h.scheme]}: each dab shows the note touching its target. Values stay as they are."
            if chosen
            else ""
        )

    def _say(self, fits: list[SchemeFit]) -> None:
        best = next((s for s in fits if s.name != "none"), None)
        if not self.studio.document.notes:
            self.verdict.setText("Take notes first: schemes are read from them.")
        elif best is None:
            self.verdict.setText("The notes are all near-grey: harmony is there already.")
        elif best.clear:
            self.verdict.setText(f"{best.title} fits best: {best.explained:.0%} of the colour stands on its arms.")
        else:
            self.verdict.setText(
                f"No clear scheme: the best explains {best.explained:.0%}; "
                f"below {CLEAR:.0%} it may be chance. Choose freely."
            )
