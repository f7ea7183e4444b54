"""Note: sample key colours by spot, area, line or reader; name what they are; keep the ledge in order."""

from PyQt6.QtWidgets import QButtonGroup, QComboBox, QPushButton, QSpinBox

from ochre_stone.core.errors import OchreError
from ochre_stone.core.project.choices import Point
from ochre_stone.core.project.document import SUBJECTS, Note
from ochre_stone.core.project.noting import (
    merged,
    move_note,
    near_duplicates,
    read_area,
    read_line,
    read_note,
    suggest_notes,
)
from ochre_stone.desktop.stations.base import Station, button, quietly
from ochre_stone.desktop.stations.notebeside import BesidePage
from ochre_stone.desktop.stations.noteread import ReadPage
from ochre_stone.desktop.widgets.easel import Tool

TOOLS = {
    "spot": ("Spot", "Click: the colour of a round spot (P)"),
    "area": ("Area", "Drag around an area, or click its corners and close it with Enter (O)"),
    "line": ("Line", "Drag along a gradation: a note at its start and one at its end (N)"),
    "reader": ("Reader", "Click where the spot reader is pointed (R reads under the pointer)"),
}
FILTERS = ("all notes", "light", "shadow", "locked", "unreliable", "from the reader")
_NEAR = 25.0


def passes(note: Note, wanted: str) -> bool:
    """Whether a note is shown under a filter of the ledge: one of ``FILTERS`` or a subject."""
    return {
        "all notes": True, "light": note.lit, "shadow": not note.lit, "locked": note.locked,
        "unreliable": bool(note.unreliable), "from the reader": note.source == "reader",
    }.get(wanted, note.subject == wanted)  # fmt: skip


class NoteStation(Station):
    title = "Note"

    def build(self) -> None:
        self.tools: dict[str, QPushButton] = {}
        group = QButtonGroup(self)
        for key, (words, tip) in TOOLS.items():
            self.tools[key] = button(words, tip, "small", checkable=True)
            self.tools[key].clicked.connect(lambda _, k=key: self.take(k))
            group.addButton(self.tools[key])
        self.tools["spot"].setChecked(True)
        self.title_row("Note", *self.tools.values())
        self.aperture, self.aperture_shown = self.slider(
            "Aperture", 1, 101, "Diameter of the spot that is averaged, in pixels ([ and ])", one_row=True
        )
        self.aperture.setValue(15)
        self.aperture_shown.setText("15 px")
        self.aperture.valueChanged.connect(self._aperture)
        self.count = QSpinBox()
        self.count.setRange(2, 40)
        self.count.setValue(12)
        self.count.setSuffix(" notes")
        self.count.setAccessibleName("How many notes to suggest")
        self.suggest = button("Suggest", "Key colours that cover the picture; your own notes stay", "main")
        self.suggest.clicked.connect(self.ask_suggestions)
        self.row(self.suggest, self.count, None)
        self.pages_ = self.pages("Read", "Beside", "Ledge")
        with self.on(self.pages_, "Read"):
            self.read_page = ReadPage(self)
        with self.on(self.pages_, "Beside"):
            self.beside_page = BesidePage(self)
        with self.on(self.pages_, "Ledge"):
            self._build_ledge()
        self.pages_.changed = self.refresh
        self.studio.selected_changed.connect(self.refresh_if_here)
        self.studio.notes_measured.connect(self.refresh_if_here)

    def _build_ledge(self) -> None:
        self.covered = self.label("")
        self.covered.setToolTip(
            "Numbers are CIEDE2000 from the picture's colours to the nearest note: mean, and 95th of 100"
        )
        self.order, self.filter = QComboBox(), QComboBox()
        self.order.addItems(["by value", "by subject"])
        self.order.setAccessibleName("Order of the ledge")
        self.order.activated.connect(lambda i: self.window_.preferences.order_ledge("subject" if i else "value"))
        self.filter.addItems([*FILTERS, *SUBJECTS])
        self.filter.setAccessibleName("Which notes stand on the ledge")
        self.filter.activated.connect(lambda _: self.window_.show_notes())
        self.label("Order and filter", "head")
        self.row(self.order, self.filter)
        self.shown = self.label("", "quiet")
        self.label("Near-duplicates", "head")
        self.alike = self.label("")
        self.merge = button("Merge them", "The locked or larger note of each pair stays; its share grows")
        self.merge.clicked.connect(self.merge_alike)
        self.row(self.merge, None)
        self.label(
            "With keys on the ledge: arrows choose, F2 renames, Delete removes, Ctrl+L locks. On the easel: Ctrl with "
            "arrows moves the note in hand.",
            "quiet",
        )

    # Tools

    def tool_now(self) -> str:
        """Name of the tool in hand."""
        return next(k for k, b in self.tools.items() if b.isChecked())

    def take(self, name: str) -> None:
        """Take a tool in hand."""
        self.tools[name].setChecked(True)
        easel = self.window_.easel
        size = self.aperture.value()
        points = {"area": 0, "line": 2}.get(name, 1)
        easel.take(Tool(name, points, 0 if name == "area" else size))
        if name == "reader" and not self.window_.reader.connected:
            self.studio.told.emit("No reader is connected yet: connect one at Look, Scene.")

    def enter(self) -> None:
        self.window_.easel.marks_move = True
        self.take(self.tool_now())
        super().enter()

    def leave(self) -> None:
        self.window_.easel.marks_move = False
        self.window_.easel.take(None)

    def tool_dropped(self) -> None:
        self.take("spot")

    def _aperture(self, size: int) -> None:
        self.aperture_shown.setText(f"{size} px")
        if not self.active:
            return
        self.take(self.tool_now())
        note = self.note_in_hand()
        if note is None or self.studio.picture is None or note.aperture == size or note.source == "reader":
            return
        if not note.locked and not note.area and note.place is not None:
            again = read_note(self.studio.picture, self.document, *note.place, size, note)
            self.studio.change("Change the aperture", self.document.with_note(again), f"aperture {note.id}")

    def spot_clicked(self, x: float, y: float) -> None:
        picture = self.studio.picture
        if picture is None:
            return
        if self.tool_now() == "reader":
            self.window_.reader.read((x, y), self.aperture.value())
            return
        note = read_note(picture, self.document, x, y, self.aperture.value())
        self.studio.change("Take a note", self.document.with_note(note))
        self.studio.select(note.id)

    def drawn(self, name: str, points: list[Point]) -> None:
        picture = self.studio.picture
        if picture is None:
            return
        try:
            if name == "area":
                note = read_area(picture, self.document, points)
                self.studio.change("Take a note of an area", self.document.with_note(note))
            else:
                first, note, found = read_line(picture, self.document, points[0], points[1], self.aperture.value())
                self.studio.change("Note a gradation", self.document.with_note(first).with_note(note))
                if not found.smooth:
                    self.studio.told.emit("This line crosses an edge: it is no gradation but two colours side by side.")
        except OchreError as error:
            self.studio.failed.emit(str(error))
            return
        self.studio.select(note.id)

    def mark_moved(self, note_id: str, x: float, y: float) -> None:
        """A note's mark was moved: read it where it is now."""
        picture = self.studio.picture
        if picture is None:
            return
        try:
            note = move_note(picture, self.document, self.document.note(note_id), x, y)
        except OchreError as error:
            self.studio.told.emit(str(error))
            self.window_.show_notes()
            return
        self.studio.change("Move note", self.document.with_note(note), f"move {note_id}")

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
                    sum((a - b) ** 2 for a, b in zip(n.lab, m.lab, strict=True)) < _NEAR for m in self.document.notes
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

    # The ledge

    def merge_alike(self) -> None:
        """Merge near-duplicates as one step."""
        pairs = near_duplicates(self.document)
        if not pairs:
            self.studio.told.emit("No two notes are alike enough to be merged.")
            return
        self.studio.change("Merge near-duplicates", merged(self.document))
        self.studio.told.emit(f"{len(pairs)} near-duplicate{'s' if len(pairs) > 1 else ''} merged.")

    def toggle_lock(self) -> None:
        """Lock or unlock the note in hand."""
        note = self.note_in_hand()
        if note is not None:
            words = "Unlock note" if note.locked else "Lock note"
            self.studio.change(words, self.document.with_note(note.model_copy(update={"locked": not note.locked})))

    def on_ledge(self) -> tuple[Note, ...]:
        """The notes that pass the ledge's filter."""
        return tuple(n for n in self.document.notes if passes(n, self.filter.currentText()))

    def note_in_hand(self) -> Note | None:
        """The note that is chosen, if any."""
        return next((n for n in self.document.notes if n.id == self.studio.selected), None)

    def edit(self, text: str, **fields: object) -> None:
        """Change fields of the note in hand as one step."""
        note = self.note_in_hand()
        if note is None or all(getattr(note, k) == v for k, v in fields.items()) or fields.get("name") == "":
            return
        try:
            changed = Note.model_validate(note.model_dump() | fields)
        except ValueError as error:
            raise OchreError(str(error)) from None
        self.studio.change(text, self.document.with_note(changed))

    def refresh(self) -> None:
        note = self.note_in_hand()
        self.suggest.setEnabled(self.studio.picture is not None and not self.studio.jobs.busy("suggest"))
        if note is not None and note.place is not None and not note.area:
            with quietly(self.aperture):
                self.aperture.setValue(note.aperture)
            self.aperture_shown.setText(f"{note.aperture} px")
            if self.active:
                self.take(self.tool_now())
        if self.pages_.here == "Read":
            self.read_page.refresh(note)
        elif self.pages_.here == "Beside":
            self.beside_page.refresh(note)
        else:
            self._refresh_ledge()

    def _refresh_ledge(self) -> None:
        rest = self.studio.rest
        notes = self.document.notes
        self.covered.setText(rest.words(len(notes)) if rest is not None and notes else "No notes yet.")
        with quietly(self.order):
            self.order.setCurrentIndex(int(self.window_.settings.ledge_order == "subject"))
        shown = len(self.on_ledge())
        self.shown.setText(f"{shown} of {len(notes)} notes stand on the ledge.")
        self.shown.setVisible(shown != len(notes))
        pairs = near_duplicates(self.document)
        self.merge.setEnabled(bool(pairs))
        names = "; ".join(f"{self.document.note(b).name} into {self.document.note(a).name}" for a, b in pairs[:4])
        more = f" and {len(pairs) - 4} more" if len(pairs) > 4 else ""
        self.alike.setText(f"{names}{more}." if pairs else "None: no two notes share one pile.")

    def done_words(self) -> str:
        n = len(self.document.notes)
        return f"{n} note{'s' if n != 1 else ''}" if n else "no notes yet"
