"""The Range page of Mass: the scene's values brought into what the chosen white and black reach."""

from typing import Any

import numpy as np
from PyQt6.QtWidgets import QComboBox, QDoubleSpinBox, QHBoxLayout, QVBoxLayout, QWidget

from ochre_stone.core.document.choices import RangeChoice
from ochre_stone.core.masses.plan import grey_of_value
from ochre_stone.core.masses.tone import DARKEST, KEEPS
from ochre_stone.core.paint.usual import FINISH_WORDS
from ochre_stone.core.planning.drying import with_paint
from ochre_stone.core.planning.planning import palette_reach
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.stations.mass.choice import Masses
from ochre_stone.desktop.stations.mass.light import GreyChip
from ochre_stone.desktop.widgets.curve import ToneCurve
from ochre_stone.desktop.widgets.parts import Words, button, clear, fitted_text, narrow, set_tip, signals_blocked
from ochre_stone.desktop.widgets.tray import Tray

_DRAWN_POINTS = 5


class ValueRow(QWidget):
    """The old and the new value of a mass, touching: where the border vanishes, nothing changes."""

    def __init__(self) -> None:
        super().__init__()
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(0)
        self.chips, self.words = (GreyChip(), GreyChip()), Words("")
        for chip in self.chips:
            box.addWidget(chip)
        box.addSpacing(10)
        box.addWidget(self.words, 1)

    def show_values(self, number: int, old: float, new: float) -> None:
        """Munsell values."""
        for chip, value in zip(self.chips, (old, new), strict=True):
            chip.show_grey(int(grey_of_value(value)), number)
        self.words.mark_up(f"{numbers.value(old)}  to  <b>{numbers.value(new)}</b>")


class RangePage:
    """White, black, what is kept, and old against new."""

    def __init__(self, tray: Tray, masses: Masses) -> None:
        self.masses, self.studio = masses, masses.studio
        self.told = tray.label("", "quiet")
        self.keep = QComboBox()
        self.keep.setAccessibleName("What is kept")
        for key, words in KEEPS.items():
            self.keep.addItem(words[0].upper() + words[1:], key)
        self.keep.activated.connect(lambda _: self.keep_range(self.keep.currentData()))
        tray.rows.addWidget(self.keep)
        self.white, self.black = QDoubleSpinBox(), QDoubleSpinBox()
        for box, name, field in ((self.white, "White reaches", "white"), (self.black, "Black reaches", "black")):
            box.setRange(0.0, 10.0)
            box.setDecimals(2)
            box.setSingleStep(0.1)
            box.setKeyboardTracking(False)
            box.setAccessibleName(f"{name}, Munsell value")
            box.valueChanged.connect(lambda v, f=field: self._ends(f, v))
        tray.row(Words("White"), self.white, Words("black"), self.black, None)
        self.finish = narrow(QComboBox())
        self.finish.setMinimumContentsLength(12)
        self.finish.setAccessibleName("Finish of the dry paint")
        set_tip(self.finish, "How dark black can be: a matt film scatters light at its surface")
        for name, words in FINISH_WORDS.items():
            self.finish.addItem(words, name)
        self.finish.addItem("own black", "")
        self.finish.activated.connect(self._finish)
        self.palette = button("From the palette", "White and darkest mixture of the palette in use", "small")
        self.palette.clicked.connect(self._from_palette)
        tray.row(self.finish, self.palette)
        self.curve = ToneCurve()
        self.curve.moved.connect(lambda points: self._set("Draw the range", "curve", drawn=points))
        tray.list(self.curve)
        tray.label("Old and new value", "head")
        self.list = QVBoxLayout()
        self.list.setSpacing(3)
        tray.rows.addLayout(self.list)

    def _set(self, text: str, kind: str = "", **fields: Any) -> None:
        changed = RangeChoice.model_validate(self.masses.choice.range.model_dump() | fields)
        self.masses.set(text, kind, range=changed)

    def _scene(self) -> dict[str, float]:
        ground = self.studio.ground
        if ground is None:
            return {}
        low, high = ground.span
        return {"low": low, "high": high}

    def keep_range(self, keep: str) -> None:
        """Bring the range in another way, a key of ``KEEPS``."""
        r = self.masses.choice.range
        fields: dict[str, Any] = {"keep": keep, **self._scene()}
        if keep == "drawn" and not r.drawn:
            x = np.linspace(0, 10, _DRAWN_POINTS)
            start = r.model_copy(update={**self._scene(), "keep": "even" if r.keep == "scene" else r.keep})
            y = np.maximum.accumulate(start.tone().value(x))
            fields["drawn"] = tuple((round(a, 2), round(b, 2)) for a, b in zip(x.tolist(), y.tolist(), strict=True))
        self._set(f"Range: {KEEPS[keep]}", **fields)  # type: ignore[index]

    def _ends(self, field: str, value: float) -> None:
        try:
            self._set(f"{field.capitalize()} reaches value {value:g}", field, **{field: value})
        except ValueError as error:
            self.studio.told.emit(_said(error))
            self.refresh()

    def _finish(self) -> None:
        name = self.finish.currentData()
        if name:
            made = with_paint(self.studio.document, finish=name)
            ends = made.masses.range.model_copy(update={"black": round(DARKEST[name], 2)})
            masses = made.masses.model_copy(update={"range": ends})
            self.studio.change(f"Finish: {dict(FINISH_WORDS)[name]}", made.model_copy(update={"masses": masses}))

    def _from_palette(self) -> None:
        chosen = self.studio.document.mix.chosen()
        dark, light = palette_reach(self.studio.document)
        self._set(f"Range of {chosen.name}", black=round(dark, 2), white=round(light, 2))
        self.studio.told.emit(
            f"{chosen.name}: white reaches {numbers.value(light)}, the darkest mixture {numbers.value(dark)}."
        )

    def refresh(self) -> None:
        r, plan, ground = self.masses.choice.range, self.masses.plan, self.studio.ground
        with (
            signals_blocked(self.keep),
            signals_blocked(self.white),
            signals_blocked(self.black),
            signals_blocked(self.finish),
        ):
            self.keep.setCurrentIndex(list(KEEPS).index(r.keep))
            self.white.setValue(r.white)
            self.black.setValue(r.black)
            for i, (finish, words) in enumerate(FINISH_WORDS.items()):  # in the painter's own school, which may change
                self.finish.setItemText(i, f"{words}: {numbers.value(DARKEST[finish])}")
            name = next((n for n, v in DARKEST.items() if abs(v - r.black) < 0.02), "")
            self.finish.setCurrentIndex(self.finish.findData(name))
        self.curve.show_tone(r.tone())
        if plan is None or ground is None:
            clear(self.list)
            self.told.setText("Open a picture first.")
            return
        low, high = ground.span
        beyond = [w for w, out in (("its lights", high > r.white + 0.05), ("its darks", low < r.black - 0.05)) if out]
        self.told.setText(
            f"The scene runs from {numbers.value(low)} to {numbers.value(high)}, paint from {numbers.value(r.black)} "
            f"to {numbers.value(r.white)}: "
            + (
                f"{' and '.join(beyond)} lie beyond paint. Choose what to keep."
                if beyond
                else "paint reaches all of it."
            )
        )
        for row, m in zip(fitted_text(self.list, len(plan.masses), ValueRow), reversed(plan.masses), strict=True):
            row.show_values(m.index + 1, m.measured, m.value)


def _said(error: ValueError) -> str:
    """The sentence inside an error of the document's checks."""
    details = getattr(error, "errors", None)
    words = str(details()[0]["msg"]) if callable(details) else str(error)
    return words.removeprefix("Value error, ")
