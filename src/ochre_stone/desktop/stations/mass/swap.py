"""The Swap page of Mass: another hue for a mass at its own values, judged on the picture."""

import numpy as np
from PyQt6.QtWidgets import QCheckBox, QComboBox

from ochre_stone.core.colour.gamut import most_chroma, within_srgb
from ochre_stone.core.colour.spaces import Lab, as_lab, lch
from ochre_stone.core.colour.wheel import wheel
from ochre_stone.core.document.choices import Swap
from ochre_stone.core.document.document import Note
from ochre_stone.core.masses.plan import Mass as MassShape
from ochre_stone.core.picture.frame import Point
from ochre_stone.core.planning.massing import mass_at, same_shape, shape_lab
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.stations.mass.choice import Masses
from ochre_stone.desktop.widgets.parts import button, enable, set_tip, signals_blocked
from ochre_stone.desktop.widgets.swatch import HalvesSwatch
from ochre_stone.desktop.widgets.tray import Tray

_START_CHROMA = 30.0


class SwapPage:
    """Hue and chroma of one mass at a time."""

    def __init__(self, tray: Tray, masses: Masses) -> None:
        self.masses, self.studio = masses, masses.studio
        tray.label(
            "Values make the picture read; hue is free. Choose a mass, or click it, and give it another hue: no value "
            "moves.",
            "quiet",
        )
        self.which = QComboBox()
        self.which.setAccessibleName("Mass to recolour")
        self.which.activated.connect(self._whole)
        self.alone = QCheckBox("this shape alone")
        set_tip(self.alone, "Click a shape of the picture: it alone gets the hue, not all of its value")
        self.alone.clicked.connect(lambda _: self.refresh())
        self._place: Point | None = None
        """Where the picture was clicked last, in pixels of the photo."""
        tray.rows.addWidget(self.which)
        tray.row(self.alone, None)
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

    def _own(self, m: MassShape, place: Point | None) -> Lab:
        """Mean colour of a mass, or of its shape at a place (pixels of the photo)."""
        plan, ground, seen = self.masses.plan, self.studio.ground, self.studio.seen
        if place is None or plan is None or ground is None or seen is None:
            return m.lab
        x, y = seen.from_original(*place)
        return shape_lab(plan, ground, self.studio.document, (x / seen.width, y / seen.height))

    def _whole(self, _: int) -> None:
        """Another mass was chosen by its name: all of it."""
        self._place = None
        self.alone.setChecked(False)
        self.refresh()

    def _here(self) -> Point | None:
        """The place of the shape in hand; None where the whole mass is."""
        return self._place if self.alone.isChecked() else None

    def _swap(self, mass: int) -> Swap | None:
        """The swap of the mass, or of its shape in hand."""
        here = self._here()
        return next((s for s in self.masses.choice.swaps if s.mass == mass and s.place == here), None)

    def clicked(self, x: float, y: float, place: Point) -> None:
        """The picture was clicked, in shares of the frame and pixels of the photo: that mass or shape is in hand."""
        plan, ground, picture = self.masses.plan, self.studio.ground, self.studio.picture
        if plan is None or ground is None or picture is None:
            return
        mass = mass_at(plan, x, y)
        self.which.setCurrentIndex(len(plan.masses) - 1 - mass)
        self._place = place
        for s in self.masses.choice.swaps:  # a shape that is recoloured already is taken up again where it was begun
            if s.mass == mass and s.place is not None:
                seen = self.studio.seen
                assert seen is not None
                ax, ay = seen.from_original(*s.place)
                if same_shape(plan, ground, self.studio.document, (x, y), (ax / seen.width, ay / seen.height)):
                    self._place = s.place
        self.refresh()

    def _strength(self, share: int) -> None:
        m = self._mass()
        if m is None:
            return
        hue = self._now(m)[1]
        self._set(chroma=float(most_chroma(self._own(m, self._here())[0], hue)) * share / 100)

    def _now(self, m: MassShape) -> tuple[float, float]:
        """Chroma and hue of a mass as swapped, or its own."""
        swap = self._swap(m.index)
        if swap is not None:
            return swap.chroma, swap.hue
        _, chroma, hue = lch(np.array(self._own(m, self._here())))
        return float(chroma), float(hue)

    def _set(self, **fields: float) -> None:
        m = self._mass()
        if m is None:
            return
        chroma, hue = self._now(m)
        if self._swap(m.index) is None and "hue" in fields:
            chroma = max(chroma, _START_CHROMA)
        here = self._here()
        new = Swap.model_validate({"mass": m.index, "hue": hue, "chroma": min(chroma, 140.0), "place": here} | fields)
        rest = self._others(m)
        what = f"Recolour {'a shape of ' if here is not None else ''}mass {m.index + 1}"
        self.masses.set(what, f"swap {m.index} {here}", swaps=(*rest, new))

    def _others(self, m: MassShape) -> tuple[Swap, ...]:
        """The swaps but that of the mass or shape in hand."""
        here = self._here()
        return tuple(s for s in self.masses.choice.swaps if (s.mass, s.place) != (m.index, here))

    def _take_back(self) -> None:
        m = self._mass()
        if m is not None:
            self.masses.set(f"Mass {m.index + 1} in its own colour", swaps=self._others(m))

    def _lab(self, m: MassShape) -> Lab:
        """A mass as swapped, at its mean lightness."""
        chroma, hue = self._now(m)
        out = within_srgb(self._own(m, self._here())[0], chroma, hue)
        return as_lab(out)

    def _note(self) -> None:
        """Notes of the swapped masses as one step."""
        plan, new = self.masses.plan, self.studio.document
        for s in self.masses.choice.swaps if plan is not None else ():
            assert plan is not None
            m = plan.masses[s.mass]
            role = "light" if m.family == "light" else "core shadow"
            name = f"Mass {m.index + 1}{', a shape' if s.place is not None else ''}, recoloured"
            lab = as_lab(within_srgb(self._own(m, s.place)[0], s.chroma, s.hue))
            new = new.with_note(Note(id=new.fresh_note_id(), name=name, lab=lab, role=role))
        if new is not self.studio.document:
            self.studio.change("Note the swapped colours", new)
            self.studio.told.emit("The swapped colours stand on the scale; name their subjects at Note.")

    def refresh(self) -> None:
        plan = self.masses.plan
        i = max(self.which.currentIndex(), 0)
        with signals_blocked(self.which):
            self.which.clear()
            for each in reversed(plan.masses) if plan is not None else ():
                there = any(s.mass == each.index for s in self.masses.choice.swaps)
                mark = ", recoloured" if there else ""
                self.which.addItem(f"Mass {each.index + 1}, value {numbers.value(each.measured)}{mark}")
            self.which.setCurrentIndex(min(i, self.which.count() - 1))
        m = self._mass()
        enable(self.alone, "" if self._place is not None else "Click a shape of the picture first.")
        if self._place is None:
            self.alone.setChecked(False)
        any_swap = bool(self.masses.choice.swaps)
        for w in (self.hue, self.chroma):
            enable(w, "" if m is not None else "Open a photo first.")
        own = m is None or self._swap(m.index) is None
        enable(self.back, "This mass has its own colour." if own else "")
        for b in (self.all_back, self.note):
            enable(b, "" if any_swap else "No mass has another colour yet.")
        if m is None:
            self.swatch.clear()
            self.words.setText("Open a picture first.")
            return
        chroma, hue = self._now(m)
        circle = wheel("traditional")
        angle = float(circle.angle(hue))
        own_lab = self._own(m, self._here())
        most = max(float(most_chroma(own_lab[0], hue)), 1e-6)
        with signals_blocked(self.hue), signals_blocked(self.chroma):
            if not self.hue.isSliderDown():
                self.hue.setValue(round(angle) % 360)
            if not self.chroma.isSliderDown():
                self.chroma.setValue(round(100 * min(chroma / most, 1)))
        self.hue_shown.setText(circle.word(angle))
        self.chroma_shown.setText(f"{min(chroma / most, 1):.0%}")
        self.swatch.show_pair(own_lab, self._lab(m), "its own", "swapped")
        self.words.setText(
            "The easel shows the picture with the swaps; M shows it without." if any_swap else "Nothing is swapped yet."
        )
