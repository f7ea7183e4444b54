"""Another picture on an easel of its own: colours are noted from it, without a place in the picture that is painted."""

from PyQt6.QtWidgets import QDialog, QHBoxLayout, QVBoxLayout, QWidget

from ochre_stone.core.colour.reading import read
from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture.picture import Picture
from ochre_stone.core.picture.sampling import look_at, spot_region
from ochre_stone.desktop.easel.easel import Easel
from ochre_stone.desktop.easel.tools import tool_named
from ochre_stone.desktop.session import display, numbers
from ochre_stone.desktop.session.notes import Notes
from ochre_stone.desktop.session.photos import PHOTO_PIXELS
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.image import to_image
from ochre_stone.desktop.widgets.parts import Words, button


class OtherPicture(QDialog):
    """Each click is a note; Escape or Done closes."""

    def __init__(self, parent: QWidget, notes: Notes, picture: Picture) -> None:
        super().__init__(parent)
        theme.style(self)
        self.notes, self.picture = notes, picture
        self.setWindowTitle(f"Notes from {picture.name}")
        self.resize(900, 640)
        self.easel = Easel()
        self.easel.hint = ""
        self.easel.clicked.connect(self.pick)
        self.easel.take(tool_named("spot", notes.aperture))
        code = display.screen().encode(picture.reduced(PHOTO_PIXELS))
        self.easel.show_image(to_image(code), (picture.width, picture.height))
        self.says = Words("Click a colour: it becomes a note, and gets its pile at Mix.")
        self.says.setWordWrap(True)
        self.done_button = button("Done", "", "main")
        self.done_button.clicked.connect(self.accept)
        row = QHBoxLayout()
        row.addWidget(self.says, 1)
        row.addWidget(self.done_button)
        column = QVBoxLayout(self)
        column.addWidget(self.easel, 1)
        column.addLayout(row)
        self.easel.setFocus()

    def pick(self, x: float, y: float) -> None:
        """Note the colour of a spot."""
        try:
            seen = look_at(self.picture, spot_region(self.picture, x, y, self.notes.aperture))
            note = self.notes.note_colour(seen.lab, f"from {self.picture.name}")
        except OchreError as error:
            self.says.setText(str(error))
            return
        r = read(note.lab)
        self.says.setText(f"Noted: {r.name}, value {numbers.value(r.value)}. Click another, or Done.")
