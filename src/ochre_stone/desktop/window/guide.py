"""The guide in a window of its own: the page of the station in hand, with its pictures; nothing is fetched."""

from pathlib import Path

from PyQt6.QtCore import Qt, QUrl
from PyQt6.QtGui import QImage, QKeySequence, QShortcut, QTextDocument
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QPushButton, QTextBrowser, QVBoxLayout, QWidget

from ochre_stone.desktop.widgets import theme
from ochre_stone.resources import guide_folder

PAGES = {
    "Look": "look", "Note": "note", "Mass": "mass", "Harmonise": "harmonise", "Mix": "mix", "Block in": "blockin",
    "Paint box": "paintbox", "Log": "log", "Practice": "practice",
}  # fmt: skip
FRONT = "README"


class _Pages(QTextBrowser):
    """Shows pages and pictures of the guide's folder, and nothing from elsewhere."""

    def __init__(self, folder: Path) -> None:
        super().__init__()
        self.folder = folder
        self.setOpenLinks(False)
        self.setAccessibleName("Guide")

    def loadResource(self, kind: int, name: QUrl) -> object:
        """A picture beside the page, as wide as the page has room for."""
        if kind != QTextDocument.ResourceType.ImageResource.value:
            return None
        image = QImage(str(self.folder.parent / "screenshots" / Path(name.path()).name))
        seen = self.viewport()
        width = max(seen.width() - 40, 200) if seen is not None else 700
        if image.isNull():
            return None
        return image.scaledToWidth(min(width, image.width()), Qt.TransformationMode.SmoothTransformation)


class Guide(QDialog):
    """The guide; Back and Alt+Left return to the page before."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        theme.style(self)
        self.setWindowTitle("Guide – Ochre Stone")
        self.resize(860, 640)
        self.folder = guide_folder()
        self.pages = _Pages(self.folder)
        self.pages.anchorClicked.connect(self._follow)
        self.here = ""
        self._before: list[str] = []
        self.back, self.front, self.shut = QPushButton("Back"), QPushButton("Contents"), QPushButton("Close")
        self.back.clicked.connect(self.go_back)
        self.front.clicked.connect(lambda: self.show_page(FRONT))
        self.shut.clicked.connect(self.close)
        QShortcut(QKeySequence("Alt+Left"), self).activated.connect(self.go_back)
        line = QHBoxLayout()
        for b in (self.back, self.front):
            line.addWidget(b)
        line.addStretch(1)
        line.addWidget(self.shut)
        rows = QVBoxLayout(self)
        rows.addLayout(line)
        rows.addWidget(self.pages, 1)

    def show_page(self, name: str, remember: bool = True) -> None:
        """Come to a page by the name of its file; the front where there is no such page."""
        file = self.folder / f"{name}.md"
        if not file.is_file():
            name, file = FRONT, self.folder / f"{FRONT}.md"
        if remember and self.here and self.here != name:
            self._before.append(self.here)
        self.here = name
        self.back.setEnabled(bool(self._before))
        self.pages.setMarkdown(file.read_text(encoding="utf-8"))

    def go_back(self) -> None:
        """The page before."""
        if self._before:
            self.show_page(self._before.pop(), remember=False)

    def _follow(self, link: QUrl) -> None:
        path = Path(link.path())
        if path.suffix == ".md" and not link.scheme():
            self.show_page(path.stem)
        elif link.hasFragment() and not path.name:
            self.pages.scrollToAnchor(link.fragment())
