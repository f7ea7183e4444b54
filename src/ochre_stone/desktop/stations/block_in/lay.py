"""The Lay in page of Block in: the piles laid in one after another on the chosen ground; the masses without a plan."""

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QComboBox, QDoubleSpinBox, QGridLayout, QSlider, QWidget

from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.document.document import WHITE_PRIMED
from ochre_stone.core.masses.laying import LAYINGS
from ochre_stone.core.planning.blocking import LaidStage
from ochre_stone.desktop.session.laying import Laying, stage_words
from ochre_stone.desktop.session.studio import Studio
from ochre_stone.desktop.widgets.layview import LayView
from ochre_stone.desktop.widgets.parts import Words, button, clear, guard, narrow, set_tip, signals_blocked
from ochre_stone.desktop.widgets.tray import Tray

GROUNDS: dict[str, Lab] = {
    "white primed": WHITE_PRIMED, "warm grey": (64.0, 2.0, 8.0), "middle grey": (51.6, 0.0, 0.0),
    "ochre": (62.0, 12.0, 34.0), "red-brown": (42.0, 18.0, 22.0), "blue-grey": (55.0, -3.0, -8.0),
}  # fmt: skip
_PLAY_MS = 1400


class LayPage:
    """The block-in, played forward and back."""

    def __init__(self, tray: Tray, studio: Studio, laying: Laying) -> None:
        self.studio, self.laying = studio, laying
        self._played: list[LaidStage] | None = None
        """The stages that the slider runs through."""
        self.view = LayView()
        tray.label("Order of laying in", "head")
        self.school = narrow(QComboBox())
        self.school.setAccessibleName("Order of laying in")
        self.school.addItem("as the ground asks", "")
        for key, (words, _) in LAYINGS.items():
            self.school.addItem(words, key)
        self.school.activated.connect(
            lambda _: self.studio.adjust("canvas", "Order of laying in", laying=self.school.currentData())
        )
        tray.rows.addWidget(self.school)
        self.reason = tray.label("", "quiet")
        self.ground = narrow(QComboBox())
        self.ground.setAccessibleName("Ground")
        for name, lab in GROUNDS.items():
            self.ground.addItem(f"ground: {name}", lab)
        self.ground.activated.connect(
            lambda _: self.studio.adjust("canvas", "Ground", ground=self.ground.currentData())
        )
        tray.rows.addWidget(self.ground)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setAccessibleName("How many piles are laid in")
        self.slider.setPageStep(1)
        self.slider.valueChanged.connect(lambda _: self._show())
        self.play = button("Play", "From the ground to the last pile")
        self.play.clicked.connect(self.toggle)
        tray.row(self.play, self.slider).setStretch(1, 1)
        self.step = tray.label("", "head")
        self.words = tray.label("")
        tray.label("Thickness of each mass", "head")
        self.thick_box = QWidget()
        self.thick = QGridLayout(self.thick_box)
        self.thick.setContentsMargins(0, 0, 0, 0)
        tray.rows.addWidget(self.thick_box)
        self.laying.changed.connect(self._arrived)
        self._timer = QTimer(self.slider)
        self._timer.setInterval(_PLAY_MS)
        self._timer.timeout.connect(self._on)

    def toggle(self) -> None:
        """Play on, or stop."""
        if self._timer.isActive():
            self.stop()
        elif self.stages:
            if self.slider.value() >= self.slider.maximum():
                self.slider.setValue(0)
            self._timer.start()
            self.play.setText("Stop")

    def stop(self) -> None:
        """Stop playing."""
        self._timer.stop()
        self.play.setText("Play")

    def _on(self) -> None:
        self.slider.setValue(self.slider.value() + 1)
        if self.slider.value() >= self.slider.maximum():
            self.stop()

    def refresh(self) -> None:
        """Show the choices, and the stages once they are made."""
        c = self.studio.document.canvas
        with signals_blocked(self.school), signals_blocked(self.ground):
            self.school.setCurrentIndex(self.school.findData(c.laying))
            known = [i for i, lab in enumerate(GROUNDS.values()) if lab == c.ground]
            self.ground.setCurrentIndex(known[0] if known else -1)
        words, why = LAYINGS[c.school]
        self.reason.setText(why if c.laying else f"{words.capitalize()} here. {why}")
        self.view.hint = "Open a picture first: the masses of it are laid in here."
        if self.laying.ask() and self.stages is not self._played:
            self._arrived()
        else:
            self._show()

    @property
    def stages(self) -> list[LaidStage]:
        """From the bare ground to the last pile."""
        return self.laying.stages

    def _arrived(self) -> None:
        found, fresh = self.stages, not self._played
        self._played = self.stages
        with signals_blocked(self.slider):
            self.slider.setRange(0, max(len(found) - 1, 0))
            self.slider.setValue(len(found) - 1 if fresh else min(self.slider.value(), len(found) - 1))
        self._thicknesses()
        self._show()

    def _show(self) -> None:
        stage = self.stages[self.slider.value()] if self.slider.value() < len(self.stages) else None
        self.view.show_image(stage.image if stage is not None else None, stage.words if stage is not None else "")
        for w in (self.step, self.words, self.slider, self.play):
            w.setVisible(stage is not None)
        if stage is None:
            return
        self.step.setText(stage_words(self.stages, self.slider.value()))
        self.words.setText(stage.words)

    def _thicknesses(self) -> None:
        clear(self.thick)
        own, c = dict(self.studio.document.canvas.thick), self.studio.document.canvas
        masses = self.studio.masses
        indices = [m.index for m in masses.masses] if masses is not None else []
        for k, index in enumerate(indices):
            box = QDoubleSpinBox()
            box.setRange(0, 5)
            box.setSingleStep(0.05)
            box.setDecimals(2)
            box.setSpecialValueText("as all")
            box.setSuffix(" mm")
            box.setAccessibleName(f"Thickness of mass {index + 1}")
            set_tip(box, f"Wet paint on mass {index + 1}; lowest: as all, {c.thickness:g} mm")
            box.setValue(own.get(index, 0.0))
            box.setKeyboardTracking(False)
            box.valueChanged.connect(lambda v, i=index: self._thick(i, v))
            self.thick.addWidget(Words(str(index + 1)), k // 2, 2 * (k % 2))
            self.thick.addWidget(box, k // 2, 2 * (k % 2) + 1)
        guard(self.thick_box)

    def _thick(self, index: int, mm: float) -> None:
        rest = tuple(t for t in self.studio.document.canvas.thick if t[0] != index)
        thick = (*rest, (index, mm)) if mm > 0 else rest
        self.studio.adjust("canvas", "Thickness of a mass", f"thick{index}", thick=thick)
