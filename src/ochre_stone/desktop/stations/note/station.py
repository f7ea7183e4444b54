"""Note: sample key colours by spot, area, line or reader; name what they are; keep them in order."""

from collections.abc import Callable

from PyQt6.QtWidgets import QButtonGroup, QInputDialog, QPushButton, QSpinBox

from ochre_stone.core.errors import OchreError
from ochre_stone.core.project.choices import Point
from ochre_stone.core.project.document import Note
from ochre_stone.core.project.noting import move_note, read_area, read_line, read_note, suggest_notes
from ochre_stone.desktop.easel.view import Tool
from ochre_stone.desktop.stations.note.beside import BesidePage
from ochre_stone.desktop.stations.note.order import OrderPage
from ochre_stone.desktop.stations.note.read import ReadPage
from ochre_stone.desktop.stations.station import Command, Station
from ochre_stone.desktop.widgets.parts import allow, button, quietly
from ochre_stone.desktop.widgets.tray import Pages

TOOLS = {
    "spot": ("Spot", "Click: the colour of a round spot (P)"),
    "area": ("Area", "Drag around an area, or click its corners and close it with Enter (O)"),
    "line": ("Line", "Drag along a gradation: a note at its start and one at its end (N)"),
    "reader": ("Reader", "Click where the spot reader is pointed (R reads under the pointer)"),
}
_NEAR = 25.0


class NoteStation(Station):
    title = "Note"
    order = 2

    def build(self) -> None:
        self.notes = notes = self.session.notes
        settings = self.session.settings
        self.tools: dict[str, QPushButton] = {}
        group = QButtonGroup(self)
        for key, (words, tip) in TOOLS.items():
            self.tools[key] = button(words, tip, "small", checkable=True)
            self.tools[key].clicked.connect(lambda _, k=key: self.take(k))
            group.addButton(self.tools[key])
        self.tools["spot"].setChecked(True)
        self.tray.title("Note", *self.tools.values())
        self.aperture, self.aperture_shown = self.tray.slider(
            "Aperture", 1, 101, "Diameter of the spot that is averaged, in pixels ([ and ])", one_row=True
        )
        self._show_aperture(notes.aperture)
        self.aperture.valueChanged.connect(self._aperture)
        self.count = QSpinBox()
        self.count.setRange(2, 40)
        self.count.setValue(12)
        self.count.setSuffix(" notes")
        self.count.setAccessibleName("How many notes to suggest")
        self.suggest = button("Suggest", "Key colours that cover the picture; your own notes stay", "main")
        self.suggest.clicked.connect(self.ask_suggestions)
        self.tray.row(self.suggest, self.count, None)
        self.pages = pages = Pages(self.tray, "Read", "Beside", "Order")
        self.read_page = pages.fill("Read", lambda tray: ReadPage(tray, self.studio, notes, settings))
        self.beside_page = pages.fill("Beside", lambda tray: BesidePage(tray, self.studio, notes, settings))
        self.order_page = pages.fill("Order", lambda tray: OrderPage(tray, notes, self.session.preferences))
        pages.changed = self.refresh
        notes.name_wanted.connect(self.ask_rename)
        self.studio.selected_changed.connect(self.refresh_if_here)
        self.studio.notes_measured.connect(self.refresh_if_here)

    def commands(self) -> list[Command]:
        notes, size = self.notes, self.aperture

        def with_tool(name: str) -> Callable[[], None]:
            return lambda: self.come_with(name)

        return [
            Command("Edit", "Re&name note…", ("F2",), self.rename_in_hand, needs="note"),
            Command("Edit", "Re&move note", ("Del",), notes.remove_in_hand, needs="note"),
            Command("Edit", "&Lock or unlock note", ("Ctrl+L",), notes.toggle_lock, needs="note"),
            Command("Edit", "Mer&ge near-duplicates", ("Ctrl+M",), notes.merge_alike, needs="notes"),
            Command("Go", "Note a s&pot", ("P",), with_tool("spot"), apart=True, needs="picture"),
            Command("Go", "Note an area (&outline)", ("O",), with_tool("area"), needs="picture"),
            Command("Go", "&Note a gradation", ("N",), with_tool("line"), needs="picture"),
            Command("Go", "&Read with the spot reader", ("R",), self.desk.showing.read_with_reader),
            Command("Go", "&Smaller aperture", ("[",), lambda: size.setValue(size.value() - 2)),
            Command("Go", "&Larger aperture", ("]",), lambda: size.setValue(size.value() + 2)),
        ]

    # Tools

    def tool_now(self) -> str:
        """Name of the tool in hand."""
        return next(k for k, b in self.tools.items() if b.isChecked())

    def take(self, name: str) -> None:
        """Take a tool in hand."""
        self.tools[name].setChecked(True)
        points = {"area": 0, "line": 2}.get(name, 1)
        self.desk.easel.take(Tool(name, points, 0 if name == "area" else self.notes.aperture))
        if name == "reader" and not self.session.reader.connected:
            self.studio.told.emit("No reader is connected yet: connect one at Look, Scene.")

    def come_with(self, name: str) -> None:
        """Come here with a tool in hand, ready for keys on the easel."""
        self.come()
        self.take(name)
        self.desk.easel.setFocus()

    def enter(self) -> None:
        self.desk.easel.marks_move = True
        self.take(self.tool_now())
        super().enter()

    def leave(self) -> None:
        self.desk.easel.marks_move = False
        self.desk.easel.take(None)

    def tool_dropped(self) -> None:
        self.take("spot")

    def _show_aperture(self, size: int) -> None:
        self.notes.aperture = size
        with quietly(self.aperture):
            self.aperture.setValue(size)
        self.aperture_shown.setText(f"{size} px")

    def _aperture(self, size: int) -> None:
        self._show_aperture(size)
        if not self.active:
            return
        self.take(self.tool_now())
        note = self.notes.in_hand()
        if note is None or self.studio.picture is None or note.aperture == size or note.source == "reader":
            return
        if not note.locked and not note.area and note.place is not None:
            again = read_note(self.studio.picture, self.document, *note.place, size, note)
            self.studio.change("Change the aperture", self.document.with_note(again), f"aperture {note.id}")

    # The easel

    def spot_clicked(self, x: float, y: float) -> None:
        picture = self.studio.picture
        if picture is None:
            return
        if self.tool_now() == "reader":
            self.session.reader.read((x, y), self.notes.aperture)
            return
        note = read_note(picture, self.document, x, y, self.notes.aperture)
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
                first, note, found = read_line(picture, self.document, points[0], points[1], self.notes.aperture)
                self.studio.change("Note a gradation", self.document.with_note(first).with_note(note))
                if not found.smooth:
                    self.studio.told.emit("This line crosses an edge: it is no gradation but two colours side by side.")
        except OchreError as error:
            self.studio.failed.emit(str(error))
            return
        self.studio.select(note.id)

    def mark_moved(self, note_id: str, x: float, y: float) -> None:
        picture = self.studio.picture
        if picture is None:
            return
        try:
            note = move_note(picture, self.document, self.document.note(note_id), x, y)
        except OchreError as error:
            self.studio.told.emit(str(error))
            self.desk.showing.show_marks()
            return
        self.studio.change("Move note", self.document.with_note(note), f"move {note_id}")

    # What is done

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
                self.studio.told.emit("The notes on the scale already hold these colours.")
            self.studio.change("Suggest notes", new)

        def failed(message: str) -> None:
            self.suggest.setEnabled(True)
            self.studio.failed.emit(message)

        self.studio.jobs.start("suggest", lambda _: suggest_notes(picture, count, document), arrived, failed)

    def rename_in_hand(self) -> None:
        """Ask for another name for the note in hand."""
        note = self.notes.in_hand()
        if note is not None:
            self.ask_rename(note.id)

    def ask_rename(self, note_id: str) -> None:
        """Ask for another name."""
        old = self.document.note(note_id).name
        name, fine = QInputDialog.getText(self, "Rename note", "Name of the note:", text=old)
        if fine:
            self.notes.rename(note_id, name)

    # Showing

    def refresh(self) -> None:
        assert self.pages is not None
        note = self.notes.in_hand()
        busy = "Key colours are being looked for." if self.studio.jobs.busy("suggest") else ""
        allow(self.suggest, self.session.lacks("picture") or busy)
        for name in ("spot", "area", "line"):
            allow(self.tools[name], self.session.lacks("picture"))
        if note is not None and note.place is not None and not note.area:
            self._show_aperture(note.aperture)
            if self.active:
                self.take(self.tool_now())
        if self.pages.here == "Read":
            self.read_page.refresh(note)
        elif self.pages.here == "Beside":
            self.beside_page.refresh(note)
        else:
            self.order_page.refresh()

    def done_words(self) -> str:
        n = len(self.document.notes)
        return f"{n} note{'s' if n != 1 else ''}" if n else "no notes yet"
