"""The Read page of Note: the note in hand as a painter reads it, and what it is."""

from PyQt6.QtWidgets import QCheckBox, QComboBox, QLineEdit

from ochre_stone.core.colour.reading import Reading, read
from ochre_stone.core.colour.relations import complement, hue_phrase
from ochre_stone.core.document.document import ROLES, SUBJECTS, Note
from ochre_stone.core.picture.sampling import Sample
from ochre_stone.core.planning.noting import choose_part
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.session.notes import Notes
from ochre_stone.desktop.session.settings import Settings
from ochre_stone.desktop.session.studio import Studio
from ochre_stone.desktop.widgets.parts import Words, button, enable, set_tip, signals_blocked
from ochre_stone.desktop.widgets.spectrum import SpectrumView
from ochre_stone.desktop.widgets.swatch import NoteSwatch
from ochre_stone.desktop.widgets.touching import Block, TouchingRow
from ochre_stone.desktop.widgets.tray import Tray


class ReadPage:
    """What is said of the note in hand."""

    def __init__(self, tray: Tray, studio: Studio, notes: Notes, settings: Settings) -> None:
        self.studio, self.notes, self.settings = studio, notes, settings
        self.swatch = NoteSwatch()
        tray.rows.addWidget(self.swatch)
        self.value = Words("")
        self.value.setProperty("kind", "big")
        self.reading = Words("")
        self.reading.setWordWrap(True)
        line = tray.row(self.value, self.reading)
        line.setStretch(1, 1)
        self.details = tray.label("", "quiet")
        self.warning = tray.label("", "warning")
        self.pair = TouchingRow(46, beside=12, above=4)
        tray.rows.addWidget(self.pair)
        self.both = button("Note both", "A second note is added for the smaller part", "small")
        self.larger = button("Larger", "The note stands for the larger part", "small")
        self.smaller = button("Smaller", "The note stands for the smaller part", "small")
        for b, part in ((self.both, "both"), (self.larger, "larger"), (self.smaller, "smaller")):
            b.clicked.connect(lambda _, p=part: self._choose(p))
        tray.row(self.both, self.larger, self.smaller, None)
        self.name = QLineEdit()
        self.name.setMaxLength(80)
        self.name.setAccessibleName("Name of the note")
        self.name.setPlaceholderText("name")
        self.name.editingFinished.connect(lambda: notes.edit("Rename note", name=self.name.text().strip()))
        tray.rows.addWidget(self.name)
        self.subject, self.role = QComboBox(), QComboBox()
        for combo, words, field in ((self.subject, SUBJECTS, "subject"), (self.role, (*ROLES, ""), "role")):
            for word in words:
                combo.addItem(word or "no role", word)
            combo.setAccessibleName(field.capitalize())
            set_tip(combo, {"subject": "What it is", "role": "Its place in light and shadow"}[field])
            combo.activated.connect(lambda _, c=combo, f=field: notes.edit(f"Set {f}", **{f: c.currentData()}))
        self.whole_thing = button(
            "whole thing", "What it is goes for the whole thing that it lies on, and its other notes (Ctrl+I)", "small"
        )
        tray.row(self.subject, self.role, self.whole_thing).setSpacing(4)
        self.lock = QCheckBox("locked")
        set_tip(self.lock, "Neither moved, read anew, merged nor removed (Ctrl+L)")
        self.lock.clicked.connect(lambda _: notes.toggle_lock())
        self.remove = button("Remove note", "Take this note off the scale (Delete)")
        self.remove.clicked.connect(notes.remove_in_hand)
        self.distance = QComboBox()
        self.distance.setAccessibleName("Distance")
        set_tip(self.distance, "How far away it lies, in a landscape")
        for shown, key in (("any distance", ""), ("near", "near"), ("middle", "middle"), ("far", "far")):
            self.distance.addItem(shown, key)
        self.distance.activated.connect(lambda _: notes.edit("Set distance", distance=self.distance.currentData()))
        tray.row(self.distance, self.lock, None, self.remove).setSpacing(6)
        self.spectrum = SpectrumView()
        tray.rows.addWidget(self.spectrum)

    def _choose(self, part: str) -> None:
        note = self.notes.in_hand()
        if note is not None:
            words = {"both": "Note both colours", "larger": "Keep the larger part", "smaller": "Keep the smaller part"}
            self.studio.change(words[part], choose_part(self.studio.document, note, part))

    def refresh(self, note: Note | None) -> None:
        """Show a note, or that none is in hand."""
        place = "" if note is None or note.place is not None else "It has no place in the picture."
        for w in (self.name, self.subject, self.role, self.distance, self.remove, self.lock):
            enable(w, "" if note is not None else "Take a note in hand first: click its dab on the scale.")
        enable(self.whole_thing, "Take a note in hand first: click its dab on the scale." if note is None else place)
        self.swatch.surface = self.settings.palette_surface
        other = None
        if note is not None and note.gradation:
            other = next((n.lab for n in self.studio.document.notes if n.id == note.gradation), None)
        self.swatch.show_colour(note.lab if note else None, other)
        two = note is not None and len(note.pair) == 2 and note.part == "all"
        for part in (self.pair, self.both, self.larger, self.smaller):
            part.setVisible(two)
        self.spectrum.setVisible(note is not None and bool(note.spectrum))
        if note is None:
            self.value.setText("")
            self.reading.setText("Click the picture to take a note, or let key colours be suggested.")
            self.details.setText("")
            self.warning.hide()
            return
        if two:
            parts = [(x, f"{x.share:.0%}") for x in note.pair]
            blocks = [Block(x.lab, numbers.value(read(x.lab).value), "", share, x.share) for x, share in parts]
            self.pair.show_blocks(blocks, " and ".join(f"{read(x.lab).name}, {share}" for x, share in parts))
        if note.spectrum:
            self.spectrum.show_spectrum(note.spectrum, note.lab)
        r = read(note.lab)
        with (
            signals_blocked(self.name),
            signals_blocked(self.subject),
            signals_blocked(self.role),
            signals_blocked(self.lock),
            signals_blocked(self.distance),
        ):
            if not self.name.hasFocus() or self.name.text() == "":
                self.name.setText(note.name)
            self.subject.setCurrentText(note.subject)
            self.role.setCurrentText(note.role or "no role")
            self.lock.setChecked(note.locked)
            self.distance.setCurrentIndex(self.distance.findData(note.distance))
        self.value.setText(numbers.value(r.value))
        self.reading.mark_up(f"<b>{r.name}</b><br>{hue_phrase(note.lab)}<br>{r.chroma_word}, chroma {r.chroma:.1f}")
        self.details.setText(self._details(note, r))
        mixed = "Two colours in one: the average of both is neither. Note both, or one." if two else ""
        said = " ".join(w for w in (mixed, note.unreliable) if w)
        self.warning.setText(said)
        self.warning.setVisible(bool(said))

    def _details(self, note: Note, r: Reading) -> str:
        school = numbers.school()
        lines = []
        if school.steps:
            lines.append(f"Munsell value {r.value:.1f}, on {school.title}.")
        beyond = " (beyond the Munsell book)" if r.extrapolated else ""
        perceptual = hue_phrase(note.lab, "perceptual")
        lines.append(f"Munsell {r.munsell}{beyond}" + (f": {perceptual}" if perceptual != "neutral" else ""))
        across = complement(note.lab)
        if across:
            lines.append(f"Complement: {across}; perceptual {complement(note.lab, 'perceptual')}.")
        if note.source == "reader":
            lines.append("Read from the scene with the spot reader.")
        elif note.source == "given":
            lines.append(f"{note.given[:1].upper()}{note.given[1:]}; it has no place in the picture.")
        else:
            what = "area" if note.area else "spot"
            part = {"all": "", "larger": ", its larger part", "smaller": ", its smaller part"}[note.part]
            lines.append(f"The {what}{part} is {Sample(note.lab, note.spread, note.clipped).spread_words}.")
        if self.studio.picture is not None:
            lines[-1] += f" About {note.share:.0%} of the picture."
        return "\n".join(lines)
