"""All piles from one photo of the palette: how to take it, what it is taken for, what to do about what is off."""

from pathlib import Path

from PyQt6.QtWidgets import QDialog, QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from ochre_stone.core.boardphoto.square import plain_code, propose_corners
from ochre_stone.core.planning.palettephoto import Taken, layout_of, read_lately
from ochre_stone.desktop.session import display
from ochre_stone.desktop.session.jobs import Report
from ochre_stone.desktop.session.photos import PHOTO_PIXELS, opened
from ochre_stone.desktop.session.piles import Piles
from ochre_stone.desktop.session.settings import Settings
from ochre_stone.desktop.stations.mix.checkphoto import CheckPage, OpenedPhoto
from ochre_stone.desktop.stations.mix.howto import LINES, HowToView
from ochre_stone.desktop.stations.mix.tomend import MendPage
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.asking import PHOTOS, ask_open
from ochre_stone.desktop.widgets.image import to_image
from ochre_stone.desktop.widgets.parts import Words, button
from ochre_stone.resources import resource


class AllPilesDialog(QDialog):
    """From the photo to advice for every pile."""

    def __init__(self, parent: QWidget, piles: Piles, settings: Settings) -> None:
        super().__init__(parent)
        theme.style(self)
        self.piles, self.studio, self.settings = piles, piles.studio, settings
        self.setWindowTitle("All piles from one photo")
        self.resize(1180, 740)
        self.stack = QStackedWidget()
        self.how = _HowTo(self)
        self.check = CheckPage(piles, self._taken, self._back)
        self.mend = MendPage(piles, self._back, self.accept)
        for page in (self.how, self.check, self.mend):
            self.stack.addWidget(page)
        QVBoxLayout(self).addWidget(self.stack)
        self._waiting: Path | None = None
        """A photo that waits until it is known how large each pile is."""
        piles.measured.connect(self._go_on)

    def open_photo(self, path: Path) -> None:
        """Look at a photo of the palette."""
        needed = self.piles.needed()
        if needed is None:
            ready = self.studio.strings.ready() and bool(self.studio.document.mixed.strings)
            self._waiting = path if ready else None
            self.how.says.setText("Laying the palette out …" if ready else self.piles.none_words())
            return
        self._waiting = None
        self.how.says.setText("Looking at the photo …")
        document = self.studio.document

        def work(_: Report) -> OpenedPhoto:
            picture = opened(path)
            half = plain_code(picture)
            image = to_image(display.screen().encode(picture.reduced(PHOTO_PIXELS)))
            return OpenedPhoto(picture, image, half, propose_corners(half), layout_of(document, needed))

        def arrived(found: OpenedPhoto) -> None:
            self.how.says.setText("")
            self.stack.setCurrentWidget(self.check)
            self.check.begin(found)

        self.studio.jobs.start("palette-photo", work, arrived, self.how.says.setText)

    def _go_on(self) -> None:
        if self._waiting is not None:
            self.open_photo(self._waiting)

    def _back(self) -> None:
        self.stack.setCurrentWidget(self.how)

    def _taken(self, taken: list[Taken]) -> None:
        self.stack.setCurrentWidget(self.mend)
        self.mend.begin(taken)

    def show_what_is_off(self) -> None:
        """What to do about all piles that were read."""
        self._taken(read_lately(self.studio.document))


class _HowTo(QWidget):
    """How to photograph the palette."""

    def __init__(self, dialog: AllPilesDialog) -> None:
        super().__init__()
        self.dialog = dialog
        column = QVBoxLayout(self)
        title = Words("How to photograph the palette")
        title.setProperty("kind", "title")
        column.addWidget(title)
        column.addWidget(HowToView(), 1)
        for number, line in enumerate(LINES, 1):
            said = Words(f"{number}  {line}")
            said.setWordWrap(True)
            column.addWidget(said)
        self.says = Words("")
        self.says.setWordWrap(True)
        self.open = button("Open a photo…", "A photo of the palette", "main")
        self.open.clicked.connect(self.ask)
        self.example = button("The example", "A simulated photo of the demo's palette")
        self.example.clicked.connect(lambda: dialog.open_photo(Path(str(resource("demo", "palette.jpg")))))
        self.cancel = button("Cancel")
        self.cancel.clicked.connect(dialog.reject)
        row = QHBoxLayout()
        for w in (self.open, self.example):
            row.addWidget(w)
        row.addWidget(self.says, 1)
        row.addWidget(self.cancel)
        column.addLayout(row)

    def ask(self) -> None:
        """Ask for a photo."""
        kinds = f"Photos ({PHOTOS});;All files (*)"
        path = ask_open(self, "A photo of the palette", self.dialog.settings.folder, kinds)
        if path is not None:
            self.dialog.open_photo(path)
