"""The Swap page of Mass: another hue for a mass at its own values, judged on the picture."""

import numpy as np
from PyQt6.QtWidgets import QComboBox

from ochre_stone.core.colour.gamut import most_chroma, within_srgb
from ochre_stone.core.colour.spaces import Lab, as_lab, lch
from ochre_stone.core.colour.wheel import wheel
from ochre_stone.core.masses.plan import Mass as MassShape
from ochre_stone.core.project.choices import Swap
from ochre_stone.core.project.document import Note
from ochre_stone.core.project.massing import mass_at
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.stations.mass.choice import Masses
from ochre_stone.desktop.widgets.parts import allow, button, quietly
from ochre_stone.desktop.widgets.swatch import HalvesSwatch
from ochre_stone.desktop.widgets.tray import Tray

_START_CHROMA = 30.0


class SwapPage:
    """Hue and chroma of one mass at a time."""

    def __init__(self, tray: Tray, masses: Masses) -> None:
        self.masses, self.studio = masses, masses.studio
        tray.label(
            "Values make the picture read; hue is free. Choose a mass, or click it, and give it another hue: no value "
            "moves.", "quiet")  # fmt: skip
        self.which = QComboBox()
        self.which.setAccessibleName("Mass to recolour")
        self.which.activated.connect(lambda _: self.refresh())
        tray.rows.addWidget(self.which)
        self.swatch = HalvesSwatch(92)
        tray.rows.addWidget(self.swatch)
        self.hue, self.hue_shown = tray.slider("Hue", 0, 359, "Place on the traditional wheel, red at 0")
        self.hue.valueChanged.connect(lambda v: self._set(hue=float(wheel("traditional").lab_hue(v)) % 360))
        self.chroma, self.chroma_shown = tray.slider("Strength", 0, 100, "From grey to as strong as its value allows")
        self.chroma.valueChanged.connect(self._strength)
        self.back = button("Its own colour", "Take the swap of this mass back")
        self.back.clicked.connect(self._take_back)
        self.all_back = button("All back", "Take all swaps back", "small")
        self.all_back.clicked.connect(lambda: masses.set("Take all swaps back", swaps=()))
        tray.row(self.back, self.all_back, None)
        self.note = button("Note these colours", "A note for each swapped mass, so that piles are planned for it")
        self.note.clicked.connect(self._note)
        tray.row(self.note, None)
        self.words = tray.label("", "quiet")

    def _mass(self) -> MassShape | None:
        plan, i = self.masses.plan, self.which.currentIndex()
        return plan.masses[len(plan.masses) - 1 - i] if plan is not None and 0 <= i < len(plan.masses) else None

    def _swap(self, mass: int) -> Swap | None:
        return next((s for s in self.masses.choice.swaps if s.mass == mass), None)

    def clicked(self, x: float, y: float) -> None:
        """The picture was clicked: that mass is in hand."""
        plan = self.masses.plan
        if plan is not None:
            self.which.setCurrentIndex(len(plan.masses) - 1 - mass_at(plan, x, y))
            self.refresh()

    def _strength(self, share: int) -> None:
        m = self._mass()
        if m is None:
            return
        hue = self._now(m)[1]
        self._set(chroma=float(most_chroma(m.lab[0], hue)) * share / 100)

    def _now(self, m: MassShape) -> tuple[float, float]:
        """Chroma and hue of a mass as swapped, or its own."""
        swap = self._swap(m.index)
        if swap is not None:
            return swap.chroma, swap.hue
        _, chroma, hue = lch(np.array(m.lab))
        return float(chroma), float(hue)

    def _set(self, **fields: float) -> None:
        m = self._mass()
        if m is None:
            return
        chroma, hue = self._now(m)
        if self._swap(m.index) is None and "hue" in fields:
            chroma = max(chroma, _START_CHROMA)
        new = Swap.model_validate({"mass": m.index, "hue": hue, "chroma": min(chroma, 140.0)} | fields)
        rest = tuple(s for s in self.masses.choice.swaps if s.mass != m.index)
        self.masses.set(f"Recolour mass {m.index + 1}", f"swap {m.index}", swaps=(*rest, new))

    def _take_back(self) -> None:
        m = self._mass()
        if m is not None:
            rest = tuple(s for s in self.masses.choice.swaps if s.mass != m.index)
            self.masses.set(f"Mass {m.index + 1} in its own colour", swaps=rest)

    def _lab(self, m: MassShape) -> Lab:
        """A mass as swapped, at its mean lightness."""
        chroma, hue = self._now(m)
        out = within_srgb(m.lab[0], chroma, hue)
        return as_lab(out)

    def _note(self) -> None:
        """Notes of the swapped masses as one step."""
        plan, new = self.masses.plan, self.studio.document
        for m in plan.masses if plan is not None else ():
            if self._swap(m.index) is not None:
                role = "light" if m.family == "light" else "core shadow"
                name = f"Mass {m.index + 1}, recoloured"
                new = new.with_note(Note(id=new.fresh_note_id(), name=name, lab=self._lab(m), role=role))
        if new is not self.studio.document:
            self.studio.change("Note the swapped colours", new)
            self.studio.told.emit("The swapped colours stand on the scale; name their subjects at Note.")

    def refresh(self) -> None:
        plan = self.masses.plan
        i = max(self.which.currentIndex(), 0)
        with quietly(self.which):
            self.which.clear()
            for each in reversed(plan.masses) if plan is not None else ():
                mark = ", recoloured" if self._swap(each.index) is not None else ""
                self.which.addItem(f"Mass {each.index + 1}, value {numbers.value(each.measured)}{mark}")
            self.which.setCurrentIndex(min(i, self.which.count() - 1))
        m = self._mass()
        any_swap = bool(self.masses.choice.swaps)
        for w in (self.hue, self.chroma):
            allow(w, "" if m is not None else "Open a photo first.")
        own = m is None or self._swap(m.index) is None
        allow(self.back, "This mass has its own colour." if own else "")
        for b in (self.all_back, self.note):
            allow(b, "" if any_swap else "No mass has another colour yet.")
        if m is None:
            self.swatch.clear()
            self.words.setText("Open a picture first.")
            return
        chroma, hue = self._now(m)
        circle = wheel("traditional")
        angle = float(circle.angle(hue))
        most = max(float(most_chroma(m.lab[0], hue)), 1e-6)
        with quietly(self.hue), quietly(self.chroma):
            if not self.hue.isSliderDown():
                self.hue.setValue(round(angle) % 360)
            if not self.chroma.isSliderDown():
                self.chroma.setValue(round(100 * min(chroma / most, 1)))
        self.hue_shown.setText(circle.word(angle))
        self.chroma_shown.setText(f"{min(chroma / most, 1):.0%}")
        self.swatch.show_pair(m.lab, self._lab(m), "its own", "swapped")
        self.words.setText(
            "The easel shows the picture with the swaps; M shows it without." if any_swap else
            "Nothing is swapped yet."
        )  # fmt: skip
