"""Harmonise: the notes on the wheel, schemes ranked, notes pulled toward one with value kept."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QButtonGroup, QListWidget, QListWidgetItem

from ochre_stone.core.harmony.schemes import CLEAR, TITLES, SchemeFit, places
from ochre_stone.core.project.document import HarmonyChoice
from ochre_stone.desktop.stations.base import Station, button, quietly


class Harmonise(Station):
    title = "Harmonise"
    side = "wheel"

    def build(self) -> None:
        self.label("Harmonise", "title")
        self.wheels = {
            "traditional": button("Traditional wheel", "Red, yellow and blue; twelve steps", checkable=True),
            "perceptual": button("Perceptual wheel", "Equal steps to the eye, by Munsell hue", checkable=True),
        }
        group = QButtonGroup(self)
        for name, b in self.wheels.items():
            group.addButton(b)
            b.clicked.connect(lambda _, n=name: self._wheel(n))
        self.row(*self.wheels.values())
        self.label("Schemes, best first", "head")
        self.list = QListWidget()
        self.list.setAccessibleName("Schemes, best first")
        self.list.setFixedHeight(214)
        self.list.itemClicked.connect(lambda item: self._choose(item.data(Qt.ItemDataRole.UserRole)))
        self.list.itemActivated.connect(lambda item: self._choose(item.data(Qt.ItemDataRole.UserRole)))
        self.rows.addWidget(self.list)
        self.verdict = self.label("", "quiet")
        self.turn, self.turn_shown = self.slider("Turn", 0, 359, "Turn the scheme on the wheel; or drag its brackets")
        self.turn.valueChanged.connect(lambda v: self._set("Turn the scheme", "turn", rotation=float(v)))
        self.amount, self.amount_shown = self.slider(
            "Pull the notes", 0, 100, "How far each hue turns toward the nearest arm; value and chroma stay"
        )
        self.amount.valueChanged.connect(lambda v: self._set("Pull the notes", "pull", amount=v / 100))
        self.told = self.label("", "quiet")
        self.studio.notes_measured.connect(self.refresh_if_here)

    def _set(self, text: str, kind: str = "", **fields: object) -> None:
        choice = HarmonyChoice.model_validate(self.document.harmony.model_dump() | fields)
        self.studio.change(text, self.document.model_copy(update={"harmony": choice}), kind)

    def _wheel(self, name: str) -> None:
        if name != self.document.harmony.wheel:
            self._set(f"{name.capitalize()} wheel", wheel=name, scheme="none", rotation=0.0)

    def _choose(self, found: SchemeFit) -> None:
        if found.name == self.document.harmony.scheme:
            return
        amount = self.document.harmony.amount or 0.5
        self._set(
            f"Scheme: {found.title}",
            scheme=found.name,
            rotation=found.rotation,
            amount=0.0 if found.name == "none" else amount,
        )

    def turned(self, rotation: float) -> None:
        """The brackets were dragged."""
        self._set("Turn the scheme", "turn", rotation=round(rotation, 1) % 360)

    def refresh(self) -> None:
        h = self.document.harmony
        self.wheels[h.wheel].setChecked(True)
        fits = self.studio.schemes()
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
        best = next((s for s in fits if s.name != "none"), None)
        if not self.document.notes:
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
        chosen = h.scheme != "none"
        for slider, shown, value, words in (
            (self.turn, self.turn_shown, round(h.rotation) % 360, f"{h.rotation:.0f}°"),
            (self.amount, self.amount_shown, round(h.amount * 100), f"{h.amount:.0%}"),
        ):
            slider.setEnabled(chosen)
            with quietly(slider):
                if not slider.isSliderDown():
                    slider.setValue(value)
            shown.setText(words if chosen else "")
        self.told.setText(
            f"{TITLES[h.scheme]}: each dab shows the note touching its target. Values stay as they are."
            if chosen
            else ""
        )
        self.window_.show_wheel(places(h.scheme, h.rotation))

    def done_words(self) -> str:
        h = self.document.harmony
        return TITLES[h.scheme].lower() if h.scheme != "none" else "no scheme"
