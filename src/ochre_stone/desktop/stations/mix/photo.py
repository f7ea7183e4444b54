"""A photo of the palette: set its light by a grey card or a white, then click the pile."""

from PyQt6.QtWidgets import QDialog, QHBoxLayout, QVBoxLayout, QWidget

from ochre_stone.core.boardphoto.single import One, read_one
from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture.balance import Balance, balance_from
from ochre_stone.core.picture.picture import Picture
from ochre_stone.core.picture.sampling import spot
from ochre_stone.desktop.easel.easel import Easel
from ochre_stone.desktop.easel.marks import Mark
from ochre_stone.desktop.easel.tools import tool_named
from ochre_stone.desktop.session import display
from ochre_stone.desktop.session.photos import PHOTO_PIXELS
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.image import to_image
from ochre_stone.desktop.widgets.parts import Words, button

_APERTURE = 21


class PilePhoto(QDialog):
    """The photo on an easel of its own."""

    def __init__(self, parent: QWidget, picture: Picture) -> None:
        super().__init__(parent)
        theme.style(self)
        self.setWindowTitle(f"Pile in a photo: {picture.name}")
        self.resize(980, 680)
        self.picture = picture
        self.balance: Balance | None = None
        self.found: One | None = None
        """The pile as it was read."""
        self.easel = Easel()
        self.easel.hint = ""
        self.easel.clicked.connect(self._clicked)
        self.card = button("Grey card", "Click a photographer's 18 % card in the photo")
        self.white = button("White", "Click something white beside the pile")
        self.pile = button("The pile", "Click the pile")
        self.card.clicked.connect(lambda: self._take("card", "Click the grey card."))
        self.white.clicked.connect(lambda: self._take("white", "Click something white."))
        self.pile.clicked.connect(lambda: self._take("pile", "Click the pile: all of it is read."))
        self.says = Words("")
        self.says.setWordWrap(True)
        self.take = button("Take it", "This is the pile, and all of it", "main")
        self.take.clicked.connect(self.accept)
        self.take.setEnabled(False)
        self.cancel = button("Cancel")
        self.cancel.clicked.connect(self.reject)
        top, bottom, column = QHBoxLayout(), QHBoxLayout(), QVBoxLayout(self)
        for w in (self.card, self.white, self.pile):
            top.addWidget(w)
        top.addStretch(1)
        bottom.addWidget(self.says, 1)
        bottom.addWidget(self.take)
        bottom.addWidget(self.cancel)
        column.addLayout(top)
        column.addWidget(self.easel, 1)
        column.addLayout(bottom)
        self._show()
        self._take("card", "Click the grey card, or choose White and click something white.")

    def _take(self, name: str, words: str) -> None:
        if name == "pile" and self.balance is None:
            self.says.setText("Set the light first: click a grey card or a white in the photo.")
            return
        self.easel.take(tool_named(name, _APERTURE))
        self.says.setText(words)
        self.easel.setFocus()

    def _clicked(self, x: float, y: float) -> None:
        tool = self.easel.tool
        if tool is None:
            return
        try:
            if tool.name == "pile":
                assert self.balance is not None
                self._read(read_one(self.picture, x, y, self.balance))
                return
            self.balance = balance_from(spot(self.picture, x, y, _APERTURE).mean(axis=0), tool.name)
        except OchreError as error:
            self.says.setText(str(error))
            return
        self._show()
        self._take("pile", "The light is set. Now click the pile: all of it is read.")

    def _read(self, found: One) -> None:
        """A pile was clicked: show how far it reaches, and say how noisy its reading is."""
        self.found = None if found.burnt_out else found
        self.take.setEnabled(not found.burnt_out)
        edge = tuple((float(x), float(y)) for x, y in found.outline)
        x, y = found.outline.mean(axis=0)
        self.easel.show_marks = True
        self.easel.show_marks_of((Mark("pile", float(x), float(y), 4.0, edge, chosen=True),))
        if found.burnt_out:
            self.says.setText("This pile is burnt out in the photo: take it one stop darker.")
        else:
            seen = f"Value {value_of_lightness(found.lab[0]):.1f}, give or take {found.noise:.1f}."
            self.says.setText(f"{seen} Is the outline the whole pile? Take it, or click again.")

    def _show(self) -> None:
        small = self.picture.reduced(PHOTO_PIXELS)
        light = self.balance or Balance()
        self.easel.show_image(
            to_image(display.screen().encode(light.apply(small))), (self.picture.width, self.picture.height)
        )
