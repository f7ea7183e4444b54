"""A photo of the palette: set its light by a grey card or a white, then click the pile."""

from PyQt6.QtWidgets import QDialog, QHBoxLayout, QVBoxLayout, QWidget

from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture.balance import Balance, balance_from
from ochre_stone.core.picture.picture import Picture
from ochre_stone.core.picture.sampling import look_at, spot, spot_region
from ochre_stone.desktop.easel.easel import Easel
from ochre_stone.desktop.easel.view import Tool
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
        theme.dress(self)
        self.setWindowTitle(f"Pile in a photo: {picture.name}")
        self.resize(980, 680)
        self.picture = picture
        self.balance: Balance | None = None
        self.lab: Lab | None = None
        self.easel = Easel()
        self.easel.hint = ""
        self.easel.clicked.connect(self._clicked)
        self.card = button("Grey card", "Click a photographer's 18 % card in the photo")
        self.white = button("White", "Click something white beside the pile")
        self.pile = button("The pile", "Click the pile")
        self.card.clicked.connect(lambda: self._take("card", "Click the grey card."))
        self.white.clicked.connect(lambda: self._take("white", "Click something white."))
        self.pile.clicked.connect(lambda: self._take("pile", "Click the pile, away from its gloss."))
        self.says = Words("")
        self.says.setWordWrap(True)
        self.cancel = button("Cancel")
        self.cancel.clicked.connect(self.reject)
        top, bottom, column = QHBoxLayout(), QHBoxLayout(), QVBoxLayout(self)
        for w in (self.card, self.white, self.pile):
            top.addWidget(w)
        top.addStretch(1)
        bottom.addWidget(self.says, 1)
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
        self.easel.take(Tool(name, 1, _APERTURE))
        self.says.setText(words)
        self.easel.setFocus()

    def _clicked(self, x: float, y: float) -> None:
        tool = self.easel.tool
        if tool is None:
            return
        try:
            if tool.name == "pile":
                self.lab = look_at(self.picture, spot_region(self.picture, x, y, _APERTURE), self.balance).lab
                self.accept()
                return
            self.balance = balance_from(spot(self.picture, x, y, _APERTURE).mean(axis=0), tool.name)
        except OchreError as error:
            self.says.setText(str(error))
            return
        self._show()
        self._take("pile", "The light is set. Now click the pile, away from its gloss.")

    def _show(self) -> None:
        small = self.picture.reduced(PHOTO_PIXELS)
        light = self.balance or Balance()
        self.easel.show_image(to_image(display.screen().encode(light.apply(small))),
                              (self.picture.width, self.picture.height))  # fmt: skip
