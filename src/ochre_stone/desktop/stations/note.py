"""Note: sample key colours, name what they are, read them as a painter."""

from PyQt6.QtWidgets import QComboBox, QLabel, QLineEdit, QSpinBox

from ochre_stone.core.colour.reading import read
from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture.sampling import Sample
from ochre_stone.core.project.document import ROLES, SUBJECTS, Note
from ochre_stone.core.project.planning import read_note, suggest_notes
from ochre_stone.desktop.stations.base import Station, button, quietly
from ochre_stone.desktop.widgets.swatch import NoteSwatch


class NoteStation(Station):
    title = "Note"

    def build(self) -> None:
        self.label("Note", "title")
        self.aperture, self.aperture_shown = self.slider(
            "Aperture", 1, 101, "Diameter of the spot that is averaged, in pixels ([ and ])"
        )
        self.aperture.setValue(15)
        self.aperture.valueChanged.connect(self._aperture)
        self.count = QSpinBox()
        self.count.setRange(2, 40)
        self.count.setValue(12)
        self.count.setSuffix(" notes")
        self.count.setAccessibleName("How many notes to suggest")
        self.suggest = button("Suggest", "Key colours that cover the picture; your own notes stay", "main")
        self.suggest.clicked.connect(self.ask_suggestions)
        self.row(self.suggest, self.count, None)
        self.covered = self.label("", "quiet")
        self.swatch = NoteSwatch()
        self.rows.addWidget(self.swatch)
        self.value = QLabel("")
        self.value.setProperty("kind", "big")
        self.reading = QLabel("")
        self.reading.setWordWrap(True)
        line = self.row(self.value, self.reading)
        line.setStretch(1, 1)
        self.details = self.label("", "quiet")
        self.warning = self.label("", "warning")
        self.name = QLineEdit()
        self.name.setMaxLength(80)
        self.name.setAccessibleName("Name of the note")
        self.name.setPlaceholderText("name")
        self.name.editingFinished.connect(lambda: self._edit("Rename note", name=self.name.text().strip()))
        self.rows.addWidget(self.name)
        self.subject, self.role = QComboBox(), QComboBox()
        for combo, words, field in ((self.subject, SUBJECTS, "subject"), (self.role, ROLES, "role")):
            combo.addItems(words)
            combo.setAccessibleName(field.capitalize())
            combo.setToolTip({"subject": "What it is", "role": "Its place in light and shadow"}[field])
            combo.activated.connect(lambda _, c=combo, f=field: self._edit(f"Set {f}", **{f: c.currentText()}))
        self.row(self.subject, self.role)
        self.remove = button("Remove note", "Take this note off the ledge (Delete)")
        self.remove.clicked.connect(self.window_.remove_selected)
        self.rows.addWidget(self.remove)
        self.studio.selected_changed.connect(self.refresh_if_here)
        self.studio.notes_measured.connect(self.refresh_if_here)

    def enter(self) -> None:
        self.window_.easel.marks_move = True
        self._aperture(self.aperture.value())
        super().enter()

    def leave(self) -> None:
        self.window_.easel.marks_move = False
        self.window_.easel.aperture = 0

    def _aperture(self, size: int) -> None:
        self.aperture_shown.setText(f"{size} px")
        if self.active:
            self.window_.easel.aperture = size
            self.window_.easel.update()
            note = self._note()
            if note is not None and self.studio.picture is not None and note.aperture != size:
                moved = read_note(self.studio.picture, self.document, note.x, note.y, size, note)
                self.studio.change("Change the aperture", self.document.with_note(moved), f"aperture {note.id}")

    def spot_clicked(self, x: float, y: float) -> None:
        picture = self.studio.picture
        if picture is None:
            return
        note = read_note(picture, self.document, x, y, self.aperture.value())
        self.studio.change("Take a note", self.document.with_note(note))
        self.studio.select(note.id)

    def mark_moved(self, note_id: str, x: float, y: float) -> None:
        """A note's mark was dragged: read it where it is now."""
        picture = self.studio.picture
        if picture is not None:
            old = self.document.note(note_id)
            note = read_note(picture, self.document, x, y, old.aperture, old)
            self.studio.change("Move note", self.document.with_note(note))

    def ask_suggestions(self) -> None:
        """Find key colours; those that are new are added as one step."""
        picture, document, count = self.studio.picture, self.document, self.count.value()
        if picture is None:
            return
        self.suggest.setEnabled(False)

        def arrived(answer: tuple[tuple[Note, ...], object]) -> None:
            self.suggest.setEnabled(True)
            new = self.document
            for n in answer[0]:
                near = any(
                    sum((a - b) ** 2 for a, b in zip(n.lab, m.lab, strict=True)) < 25 for m in self.document.notes
                )
                if not near:
                    new = new.with_note(n.model_copy(update={"id": new.fresh_note_id()}))
            if new is self.document:
                self.studio.told.emit("The notes on the ledge already hold these colours.")
            self.studio.change("Suggest notes", new)

        def failed(message: str) -> None:
            self.suggest.setEnabled(True)
            self.studio.failed.emit(message)

        self.studio.jobs.start("suggest", lambda _: suggest_notes(picture, count, document), arrived, failed)

    def _note(self) -> Note | None:
        return next((n for n in self.document.notes if n.id == self.studio.selected), None)

    def _edit(self, text: str, **fields: str) -> None:
        note = self._note()
        if note is None or all(getattr(note, k) == v for k, v in fields.items()) or fields.get("name") == "":
            return
        try:
            changed = Note.model_validate(note.model_dump() | fields)
        except ValueError as error:
            raise OchreError(str(error)) from None
        self.studio.change(text, self.document.with_note(changed))

    def refresh(self) -> None:
        note = self._note()
        self.suggest.setEnabled(self.studio.picture is not None and not self.studio.jobs.busy("suggest"))
        for w in (self.name, self.subject, self.role, self.remove):
            w.setEnabled(note is not None)
        self.covered.setText(self._covered_words())
        self.swatch.show_colour(note.lab if note else None)
        if note is None:
            self.value.setText("")
            self.reading.setText("Click the picture to take a note, or let key colours be suggested.")
            self.details.setText("")
            self.warning.hide()
            return
        r = read(note.lab)
        with quietly(self.name):
            if not self.name.hasFocus() or self.name.text() == "":
                self.name.setText(note.name)
        with quietly(self.subject), quietly(self.role):
            self.subject.setCurrentText(note.subject)
            self.role.setCurrentText(note.role)
        with quietly(self.aperture):
            self.aperture.setValue(note.aperture)
        self.aperture_shown.setText(f"{note.aperture} px")
        self.window_.easel.aperture = note.aperture
        self.value.setText(f"{r.value:.1f}")
        self.reading.setText(f"<b>{r.hue}</b><br>{r.chroma_word}, chroma {r.chroma:.1f}")
        seen = Sample(note.lab, note.spread, note.clipped)
        munsell = r.munsell + (" (beyond the Munsell book)" if r.extrapolated else "")
        self.details.setText(
            f"Munsell {munsell}\nThe spot is {seen.spread_words}. About {note.share:.0%} of the picture."
        )
        lost = note.clipped > 0.05
        self.warning.setText("Unreliable: the photo is burnt out or crushed here. Judge this one from life.")
        self.warning.setVisible(lost)

    def _covered_words(self) -> str:
        rest = self.studio.rest
        if rest is None or not self.document.notes:
            return ""
        words = (
            "cover the picture well"
            if rest.mean < 5
            else "cover most of the picture"
            if rest.mean < 9
            else "leave much of the picture uncovered"
        )
        far = "" if rest.p95 < 12 else "; some accents have no note yet"
        return f"{len(self.document.notes)} notes {words}{far}."

    def done_words(self) -> str:
        n = len(self.document.notes)
        return f"{n} note{'s' if n != 1 else ''}" if n else "no notes yet"
