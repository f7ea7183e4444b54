"""A photo of a painted chart: say which page it is, where its crosses are, and what is grey in it."""

from typing import Any

from PyQt6.QtWidgets import QComboBox, QDialog, QHBoxLayout, QVBoxLayout, QWidget

from ochre_stone.core.errors import OchreError
from ochre_stone.core.paint.calibrate import Swatch
from ochre_stone.core.paint.chart import Chart
from ochre_stone.core.paint.chartpage import pages
from ochre_stone.core.picture.balance import Balance, balance_from
from ochre_stone.core.picture.chart import find_chart
from ochre_stone.core.picture.picture import Picture
from ochre_stone.core.picture.sampling import spot
from ochre_stone.core.planning.chartreading import cell_places, read_page
from ochre_stone.desktop.easel.easel import Easel
from ochre_stone.desktop.easel.tools import Tool, tool_named
from ochre_stone.desktop.session import display
from ochre_stone.desktop.session.photos import PHOTO_PIXELS
from ochre_stone.desktop.session.studio import Studio
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.image import to_image
from ochre_stone.desktop.widgets.parts import Words, button

_APERTURE = 21


def clockwise(points: list[tuple[float, float]]) -> bool:
    """Whether four places of a picture go round to the right without crossing."""
    turns = []
    for i in range(4):
        (ax, ay), (bx, by), (cx, cy) = (points[(i + k) % 4] for k in range(3))
        turns.append((bx - ax) * (cy - by) - (by - ay) * (cx - bx))
    return all(t > 0 for t in turns)


class ChartPhoto(QDialog):
    """The photo on an easel of its own; three things to do, in any order."""

    def __init__(self, parent: QWidget, studio: Studio, chart: Chart, picture: Picture, paper: str) -> None:
        super().__init__(parent)
        theme.style(self)
        self.studio = studio
        self.setWindowTitle(f"Painted chart: {picture.name}")
        self.resize(1080, 720)
        self.picture = picture
        self.pages = pages(chart, paper)
        self.corners: list[tuple[float, float]] = []
        self.balance = Balance()
        self.swatches: list[Swatch] = []
        self._light = ""
        self.easel = Easel()
        self.easel.hint = ""
        self.easel.clicked.connect(self._clicked)
        self.easel.drawn.connect(self._drawn)
        self.page = QComboBox()
        self.page.setAccessibleName("Page of the chart")
        for p in self.pages:
            letters = f"{p.rows[0][0].letter} to {p.rows[-1][0].letter}"
            self.page.addItem(f"page {p.number}, rows {letters}")
        self.page.currentIndexChanged.connect(lambda _: self._show())
        self.cross = button("The four crosses", "Click them: top left, top right, bottom right, bottom left")
        self.card = button("Grey card", "Click a photographer's 18 % card in the photo")
        self.white = button("White", "Click something white in the photo, as its paper")
        self.colours = button("Colour chart", "Click the four outer corners of a 24-patch chart in the photo")
        self.cross.clicked.connect(
            lambda: self._take(tool_named("crosses"), "Click the four crosses, from the top left round.")
        )
        self.card.clicked.connect(lambda: self._take(tool_named("card", _APERTURE), "Click the grey card."))
        self.white.clicked.connect(lambda: self._take(tool_named("white", _APERTURE), "Click something white."))
        self.colours.clicked.connect(lambda: self._take(tool_named("colours"), "Click the chart's four outer corners."))
        self.says = Words("")
        self.says.setWordWrap(True)
        self.done_button = button("Read the cells", "", "main")
        self.done_button.clicked.connect(self.read)
        self.cancel_button = button("Cancel")
        self.cancel_button.clicked.connect(self.reject)
        top = QHBoxLayout()
        for w in (self.page, self.cross, self.card, self.white, self.colours):
            top.addWidget(w)
        top.addStretch(1)
        bottom = QHBoxLayout()
        bottom.addWidget(self.says, 1)
        bottom.addWidget(self.cancel_button)
        bottom.addWidget(self.done_button)
        column = QVBoxLayout(self)
        column.addLayout(top)
        column.addWidget(self.easel, 1)
        column.addLayout(bottom)
        self._take(tool_named("crosses"), "Click the four crosses, from the top left round.")
        self._show()

    def _take(self, tool: Tool | None, words: str) -> None:
        self.easel.take(tool)
        self.says.setText(words)
        self.easel.setFocus()

    def _clicked(self, x: float, y: float) -> None:
        tool = self.easel.tool
        if tool is None or tool.name not in ("card", "white"):
            return
        try:
            seen = spot(self.picture, x, y, _APERTURE)
            self.balance = balance_from(seen.mean(axis=0), tool.name)
        except OchreError as error:
            self.says.setText(str(error))
            return
        self._light = "a grey card" if tool.name == "card" else "a white"
        self._take(None, "")
        self._show()

    def _drawn(self, name: str, points: list[tuple[float, float]]) -> None:
        if name == "crosses":
            if not clockwise(points):
                words = "Click the crosses going round: top left, top right, bottom right, bottom left."
                self._take(tool_named("crosses"), words)
                return
            self.corners = points
        else:
            try:
                fit = find_chart(self.picture, points)
            except OchreError as error:
                self.says.setText(str(error))
                return
            self.balance, self._light = Balance(fit.matrix), f"a colour chart ({fit.words})"
        self._take(None, "")
        self._show()

    def _show(self) -> None:
        small = self.picture.reduced(PHOTO_PIXELS)
        code = display.screen().encode(self.balance.apply(small))
        self.easel.show_image(to_image(code), (self.picture.width, self.picture.height))
        page = self.pages[self.page.currentIndex()]
        ready = len(self.corners) == 4
        if ready:
            places = cell_places(page, self.corners)
            w, h = self.picture.width, self.picture.height
            labels = [
                (float(q[:, 0].mean() / w), float(q[:, 1].mean() / h), c.label, c.lab[0] < 52)
                for (c, _), q in zip(page.cells, places, strict=True)
            ]
            self.easel.show_labels(labels)
        self.done_button.setEnabled(ready)
        if not self.says.text():
            light = (
                f"The light is set by {self._light}." if self._light else "Set the light: grey card, white or chart."
            )
            self.says.setText(
                f"{len(page.cells)} cells are marked. {light}" if ready else f"Click the crosses. {light}"
            )

    def read(self) -> None:
        """Read the cells off the main thread, and close."""
        page = self.pages[self.page.currentIndex()]
        picture, corners, balance = self.picture, list(self.corners), self.balance

        def work(_: Any) -> tuple[list[Swatch], list[str]]:
            return read_page(picture, page, corners, balance)

        def arrived(found: tuple[list[Swatch], list[str]]) -> None:
            self.swatches = found[0]
            lost = f"; lost in the photo: {', '.join(found[1][:6])}" if found[1] else ""
            self.studio.told.emit(f"{len(found[0])} cells read{lost}.")
            self.accept()

        self.done_button.setEnabled(False)
        self.studio.jobs.start("chart-photo", work, arrived, self._failed, outlives=True)

    def _failed(self, words: str) -> None:
        self.says.setText(words)
        self.done_button.setEnabled(True)
