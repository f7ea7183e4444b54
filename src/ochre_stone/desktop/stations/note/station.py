"""Note: sample key colours by spot, area, line or reader; name what they are; keep them in order."""

from collections.abc import Callable, Iterator

from PyQt6.QtWidgets import QButtonGroup, QInputDialog, QPushButton

from ochre_stone.core.colour.spaces import as_lab
from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture.frame import Point
from ochre_stone.core.picture.picture import Picture
from ochre_stone.desktop.easel.tools import tool_named
from ochre_stone.desktop.stations.station import Command, Station
from ochre_stone.desktop.widgets.asking import PHOTOS, ask_open
from ochre_stone.desktop.widgets.parts import button, enable, signals_blocked
from ochre_stone.desktop.widgets.tray import Pages

NOTE_TOOLS = {
    "spot": ("Spot", "Click: the colour of a round spot (P)"),
    "area": ("Area", "Drag around an area, or click its corners and close it with Enter (O)"),
    "line": ("Line", "Drag along a gradation: a note at its start and one at its end (N)"),
    "reader": ("Reader", "Click where the spot reader is pointed (R reads under the pointer)"),
}


class NoteStation(Station):
    title = "Note"
    order = 2
    sees_block_in = True

    def prepare(self) -> None:
        self.notes = self.session.notes
        self.notes.name_wanted.connect(self.ask_rename)

    def build(self) -> Iterator[None]:
        from ochre_stone.desktop.stations.note.beside import BesidePage
        from ochre_stone.desktop.stations.note.order import OrderPage
        from ochre_stone.desktop.stations.note.propose import Proposals
        from ochre_stone.desktop.stations.note.read import ReadPage

        notes = self.notes
        settings = self.session.settings
        self.tools: dict[str, QPushButton] = {}
        group = QButtonGroup(self)
        for key, (words, tip) in NOTE_TOOLS.items():
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
        self.proposals = proposals = Proposals(self.tray, self.session)
        self.tools["here"] = proposals.here
        proposals.here.clicked.connect(lambda _: self.take("here"))
        group.addButton(proposals.here)
        self.pages = pages = Pages(self.tray, "Read", "Beside", "Order")
        yield
        self.read_page = pages.fill("Read", lambda tray: ReadPage(tray, self.studio, notes, settings))
        self.read_page.whole_thing.clicked.connect(self.say_of_thing)
        yield
        self.beside_page = pages.fill("Beside", lambda tray: BesidePage(tray, self.studio, notes, settings))
        yield
        self.order_page = pages.fill("Order", lambda tray: OrderPage(tray, notes, self.session.preferences))
        pages.changed = self.refresh
        self.studio.selected_changed.connect(self.refresh_if_here)
        self.studio.measuring.notes_measured.connect(self.refresh_if_here)

    def commands(self) -> list[Command]:
        notes = self.notes

        def with_tool(name: str) -> Callable[[], None]:
            return lambda: self.come_with(name)

        return [
            Command("Edit", "Re&name note…", ("F2",), self.rename_in_hand, needs="note"),
            Command("Edit", "Re&move note", ("Del",), notes.remove_in_hand, needs="note"),
            Command("Edit", "&Lock or unlock note", ("Ctrl+L",), notes.toggle_lock, needs="note"),
            Command("Edit", "Say it of the &whole thing", ("Ctrl+I",), self.say_of_thing, needs="note"),
            Command("Edit", "Mer&ge near-duplicates", ("Ctrl+M",), notes.merge_alike, needs="notes"),
            Command("Go", "Note a s&pot", ("P",), with_tool("spot"), apart=True, needs="picture"),
            Command("Go", "Note an area (&outline)", ("O",), with_tool("area"), needs="picture"),
            Command("Go", "&Note a gradation", ("N",), with_tool("line"), needs="picture"),
            Command("Go", "Key colours &here", ("Shift+O",), with_tool("here"), needs="picture"),
            Command("Go", "Next note without a na&me", ("Ctrl+U",), self.next_unnamed, needs="notes"),
            Command("Go", "Note a colour by its fig&ures…", ("Shift+N",), self.ask_colour),
            Command("Go", "Note from another pic&ture…", ("Shift+P",), self.ask_other_picture),
            Command("Go", "&Read with the spot reader", ("R",), self.desk.showing.read_with_reader),
            Command("Go", "&Smaller aperture", ("[",), lambda: self.resize_spot(-2)),
            Command("Go", "&Larger aperture", ("]",), lambda: self.resize_spot(2)),
        ]

    # Tools

    def tool_now(self) -> str:
        """Name of the tool in hand."""
        return next(k for k, b in self.tools.items() if b.isChecked())

    def take(self, name: str) -> None:
        """Take a tool in hand."""
        self.tools[name].setChecked(True)
        self.desk.easel.take(tool_named(name, self.notes.aperture))
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

    def resize_spot(self, by: int) -> None:
        """Make the aperture so many pixels larger."""
        self.aperture.setValue(self.aperture.value() + by)

    def _show_aperture(self, size: int) -> None:
        self.notes.aperture = size
        with signals_blocked(self.aperture):
            self.aperture.setValue(size)
        self.aperture_shown.setText(f"{size} px")

    def _aperture(self, size: int) -> None:
        self._show_aperture(size)
        if not self.active:
            return
        self.take(self.tool_now())
        note = self.notes.in_hand()
        if note is None or self.studio.picture is None or note.aperture == size or note.source != "photo":
            return
        if not note.locked and not note.area and note.place is not None:
            from ochre_stone.core.planning.noting import read_note

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
        from ochre_stone.core.planning.noting import read_note

        note = read_note(picture, self.document, x, y, self.notes.aperture)
        self.studio.change("Take a note", self.document.with_note(note))
        self.studio.select(note.id)

    def drawn(self, name: str, points: list[Point]) -> None:
        picture = self.studio.picture
        if picture is None:
            return
        from ochre_stone.core.planning.noting import read_area, read_line

        try:
            if name == "here":
                self.proposals.ask_here(points)
                return
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
        from ochre_stone.core.planning.noting import move_note

        try:
            note = move_note(picture, self.document, self.document.note(note_id), x, y)
        except OchreError as error:
            self.studio.told.emit(str(error))
            self.desk.showing.show_marks()
            return
        self.studio.change("Move note", self.document.with_note(note), f"move {note_id}")

    # What is done

    def ask_colour(self) -> None:
        """Note a colour that the painter types."""
        from ochre_stone.core.colour.parse import parse_colour

        words, fine = QInputDialog.getText(
            self, "Note a colour", "Lab, screen colour or Munsell: lab 62 14 22, #c9a27e, munsell 5YR 6/4"
        )
        if fine and words.strip():
            try:
                self.notes.note_colour(as_lab(parse_colour(words)), f"typed: {words.strip()}")
            except OchreError as error:
                self.studio.failed.emit(str(error))
                return
            self.come()

    def ask_other_picture(self) -> None:
        """Note colours of another picture, which is opened for it alone."""
        from ochre_stone.core.picture.load import load

        path = ask_open(self, "A picture to take colours from", self.session.settings.folder, f"Pictures ({PHOTOS})")
        if path is not None:
            self.studio.jobs.start("other picture", lambda _: load(path), self.show_other, self.studio.failed.emit)

    def show_other(self, picture: Picture) -> None:
        """Open the dialog with another picture."""
        from ochre_stone.desktop.stations.note.elsewhere import OtherPicture

        self.other = OtherPicture(self, self.notes, picture)
        self.other.finished.connect(lambda _: self.come())
        self.other.open()

    def say_of_thing(self) -> None:
        """What the note in hand is goes for the whole thing that it lies on."""
        from ochre_stone.core.planning.suggesting import spread_thing

        picture, note = self.studio.picture, self.notes.in_hand()
        if picture is None or note is None:
            return
        document = self.document

        def arrived(_: object) -> None:
            if all(n.id != note.id for n in self.document.notes) or self.studio.picture is not picture:
                return
            try:
                new, named = spread_thing(picture, self.document, note.id)  # the things are known by now
            except OchreError as error:  # the frame was changed meanwhile
                self.studio.failed.emit(str(error))
                return
            subject = new.note(note.id).subject
            self.studio.change(f"Call the whole thing {subject}", new)
            many = f"{len(named)} other note{'s' if len(named) != 1 else ''} on it renamed; " if named else ""
            self.studio.told.emit(f"The whole thing is {subject} now: {many}suggestions know it.")

        work = lambda _: spread_thing(picture, document, note.id)  # noqa: E731
        self.studio.jobs.start("whole thing", work, arrived, self.studio.failed.emit)

    def next_unnamed(self) -> None:
        """Take the next note in hand of which nobody has said what it is."""
        ids = [n.id for n in self.document.notes]
        start = ids.index(self.studio.selected) + 1 if self.studio.selected in ids else 0
        for note in [*self.document.notes[start:], *self.document.notes[:start]]:
            if note.subject == "other":
                self.studio.select(note.id)
                self.come()
                return
        self.studio.told.emit("Every note has its subject.")

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
        self.proposals.refresh()
        for name in ("spot", "area", "line"):
            enable(self.tools[name], self.session.lacks("picture"))
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
