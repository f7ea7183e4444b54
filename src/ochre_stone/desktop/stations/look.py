"""Look: see the reference as painters look, and set the light by something grey or white."""

from PyQt6.QtWidgets import QButtonGroup, QCheckBox

from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture.balance import Balance, balance_from
from ochre_stone.core.picture.sampling import spot
from ochre_stone.desktop.stations.base import Station, button, quietly

_APERTURE = 11


class Look(Station):
    title = "Look"
    shows_marks = False

    def build(self) -> None:
        self.label("Look", "title")
        self.name = self.label("", "quiet")
        self.label("View", "head")
        self.views = {
            "as-is": button("As it is", "The picture in its colours (A)", checkable=True),
            "value": button("Values", "Values only: squint at hue no more (V)", checkable=True),
            "squint": button("Squint", "Details melt, few shapes remain (S)", checkable=True),
        }
        group = QButtonGroup(self)
        for key, b in self.views.items():
            group.addButton(b)
            b.clicked.connect(lambda _, k=key: self.window_.set_view(k))
        self.row(*self.views.values())
        self.strength, self.strength_shown = self.slider("Squint how much", 0, 100, "How much detail melts")
        self.strength.valueChanged.connect(lambda v: self.window_.set_view(strength=v / 100))
        self.grey = QCheckBox("squint in values only")
        self.grey.toggled.connect(lambda on: self.window_.set_view(grey=on))
        self.rows.addWidget(self.grey)
        self.label("Light", "head")
        self.light = self.label("")
        self.pick_grey = button(
            "Click a grey", "Then click something in the picture that is grey in life (G)", checkable=True
        )
        self.pick_white = button(
            "Click a white",
            "Then click something that is white: it also sets the exposure (W)",
            checkable=True,
        )
        self.reset = button("As photographed", "Take the light back as the camera gave it")
        self.pick_grey.toggled.connect(lambda on: self._arm("grey" if on else None))
        self.pick_white.toggled.connect(lambda on: self._arm("white" if on else None))
        self.reset.clicked.connect(self._reset)
        self.row(self.pick_grey, self.pick_white)
        self.rows.addWidget(self.reset)
        self.label(
            "The photo itself stays untouched. A lamp or a sunset colours greys too: click only what you know.",
            "quiet",
        )
        self.label("Zoom with the wheel or + and −, drag to move, F to fit.", "quiet")
        self._armed: str | None = None

    def arm(self, kind: str) -> None:
        """Make the next click set the light by a "grey" or a "white"."""
        (self.pick_grey if kind == "grey" else self.pick_white).setChecked(True)

    def _arm(self, kind: str | None) -> None:
        other = self.pick_white if kind == "grey" else self.pick_grey
        if kind is not None:
            with quietly(other):
                other.setChecked(False)
        self._armed = kind if self.pick_grey.isChecked() or self.pick_white.isChecked() else None
        self.window_.easel.aperture = _APERTURE if self._armed else 0
        self.window_.easel.update()
        if self._armed:
            self.studio.told.emit(f"Click something in the picture that is {self._armed} in life.")

    def leave(self) -> None:
        self.pick_grey.setChecked(False)
        self.pick_white.setChecked(False)
        self.window_.easel.aperture = 0

    def spot_clicked(self, x: float, y: float) -> None:
        picture = self.studio.picture
        if self._armed is None or picture is None:
            return
        kind = self._armed
        try:
            mean = spot(picture, x, y, _APERTURE).mean(axis=0)
            balance = balance_from(mean, kind)
        except OchreError as error:
            self.studio.failed.emit(str(error))
            return
        self.leave()
        told = f"a {kind} at {x:.0f}, {y:.0f}"
        document = self.document.model_copy(update={"balance": balance.matrix, "balance_from": told})
        self.studio.relight(f"Set the light by {told}", document)

    def _reset(self) -> None:
        document = self.document.model_copy(update={"balance": Balance().matrix, "balance_from": ""})
        self.studio.relight("Take the light as photographed", document)

    def refresh(self) -> None:
        picture = self.studio.picture
        if picture is not None:
            bits = picture.code.dtype.itemsize * 8
            facts = f"{picture.name}, {picture.width} × {picture.height} pixels, {bits} bits a channel"
            self.name.setText("\n".join([facts, *(f"{r[0].upper()}{r[1:]}." for r in picture.remarks)]))
        else:
            self.name.setText("Open a photo to begin: File, Open, or drop it on the easel.")
        self.light.setText(
            f"Set by {self.document.balance_from}." if self.document.balance_from else "As photographed."
        )
        self.reset.setEnabled(bool(self.document.balance_from))
        for b in (self.pick_grey, self.pick_white, *self.views.values(), self.strength, self.grey):
            b.setEnabled(picture is not None)
        w = self.window_
        self.views[w.view].setChecked(True)
        with quietly(self.strength):
            self.strength.setValue(round(w.strength * 100))
        self.strength.setEnabled(w.view == "squint")
        self.grey.setEnabled(w.view == "squint")
        self.strength_shown.setText(f"{w.strength * 100:.0f} %")

    def done_words(self) -> str:
        if self.studio.picture is None:
            return "open a photo"
        return "light set" if self.document.balance_from else "as photographed"
