"""The Beside page of Note: what surrounds a note and how that fools the eye; two notes compared, touching."""

from PyQt6.QtWidgets import QComboBox

from ochre_stone.core.colour.contrast import NEUTRAL_GROUND, seen_against
from ochre_stone.core.colour.munsell import lightness_of_value
from ochre_stone.core.colour.relations import compare, lean, warmer
from ochre_stone.core.document.document import Note
from ochre_stone.core.planning.noting import surround_of
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.session.notes import Notes
from ochre_stone.desktop.session.settings import Settings
from ochre_stone.desktop.session.studio import Studio
from ochre_stone.desktop.widgets.beside import SurroundSwatch
from ochre_stone.desktop.widgets.parts import Words, signals_blocked
from ochre_stone.desktop.widgets.swatch import HalvesSwatch
from ochre_stone.desktop.widgets.tray import Tray


class BesidePage:
    """The note in hand against its surround and against another note."""

    def __init__(self, tray: Tray, studio: Studio, notes: Notes, settings: Settings) -> None:
        self.studio, self.notes, self.settings = studio, notes, settings
        self.empty = tray.label("Take a note in hand first: click its dab on the scale.", "quiet")
        self.around = SurroundSwatch()
        tray.rows.addWidget(self.around)
        self.seems = tray.label("")
        self.against = Words("Against")
        self.against.setProperty("kind", "head")
        self.other = QComboBox()
        self.other.setAccessibleName("Other note")
        self.other.activated.connect(lambda _: self._chosen())
        tray.row(self.against, self.other).setStretch(1, 1)
        self.halves = HalvesSwatch()
        tray.rows.addWidget(self.halves)
        self.words = tray.label("")
        self._other_id = ""

    def _chosen(self) -> None:
        self._other_id = str(self.other.currentData() or "")
        self.refresh(self.notes.in_hand())

    def _others(self, note: Note) -> Note | None:
        """Offer the other notes; the one chosen last stays, else the next darker one is taken."""
        rest = sorted((n for n in self.studio.document.notes if n.id != note.id), key=lambda n: n.lab[0])
        with signals_blocked(self.other):
            self.other.clear()
            for n in rest:
                self.other.addItem(n.name, n.id)
            found = next((n for n in rest if n.id == self._other_id), None)
            if found is None and rest:
                darker = [n for n in rest if n.lab[0] <= note.lab[0]]
                found = darker[-1] if darker else rest[0]
            if found is not None:
                self.other.setCurrentIndex(rest.index(found))
        return found

    def refresh(self, note: Note | None) -> None:
        """Show a note beside what is beside it."""
        for w in (self.around, self.seems, self.halves, self.words, self.other, self.against):
            w.setVisible(note is not None)
        self.empty.setVisible(note is None)
        if note is None:
            return
        picture = self.studio.picture
        other = self._others(note)
        real = surround_of(picture, self.studio.document, note) if picture is not None else None
        grey = (float(lightness_of_value(NEUTRAL_GROUND)), 0.0, 0.0)
        panels = [("in the picture", real), ("on grey", grey), ("beside the other", other.lab if other else None)]
        self.around.show_note(note.lab, [(words, lab) for words, lab in panels if lab is not None])
        said = []
        if real is not None:
            said.append(f"In the picture it {seen_against(note.lab, real).words(numbers.school())}")
        if other is not None:
            said.append(f"Beside {other.name} it {seen_against(note.lab, other.lab).words(numbers.school())}")
        self.seems.setText("\n".join(said))
        if other is None:
            self.halves.hide()
            self.words.setText("There is no other note yet.")
            return
        self.halves.show_pair(note.lab, other.lab, note.name, other.name)
        self.words.mark_up(self._comparison(note, other))

    def _comparison(self, note: Note, other: Note) -> str:
        c = compare(other.lab, note.lab)
        size = numbers.school().difference(c.value_step)
        value = "the same value" if abs(c.value_step) < 0.1 else f"{size} {'lighter' if c.value_step > 0 else 'darker'}"
        warmth = warmer(note.lab, other.lab, self.settings.warmth)
        return (
            f"<b>{value}</b>, {c.turn_words}, {c.chroma_words}.<br>"
            f"{note.name}: {lean(note.lab, other.lab)}, {warmth} than {other.name}.<br>"
            f"Touching, {c.border}."
        )
