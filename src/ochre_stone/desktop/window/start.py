"""The start page: what one can do with an empty window, the work of late, and the way from a photo to piles."""

import datetime
from collections.abc import Callable
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QIcon, QImage, QPainter, QPaintEvent, QPixmap, QResizeEvent
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QListWidgetItem, QPushButton, QVBoxLayout, QWidget

from ochre_stone.core.errors import one_line
from ochre_stone.desktop.session.jobs import Jobs
from ochre_stone.desktop.session.settings import Settings, read_path
from ochre_stone.desktop.session.thumbs import thumbnail
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.image import untinted
from ochre_stone.desktop.widgets.parts import ListBox, Words, set_tip
from ochre_stone.resources import resource

_SMALL = QSize(84, 60)
_WAY = (
    ("photo.jpg", "1  A photo", "its light set, its key colours noted"),
    ("masses.png", "2  A few values", "big shapes, a scheme that holds"),
    ("piles.png", "3  Piles", "strings of mixtures, each at its value"),
    ("block-in.png", "4  The block-in", "the painting seen before a pile is mixed"),
)


def touched(seconds: float, now: datetime.datetime | None = None) -> str:
    """When something was last touched, as one says it: "today, 14:05", "yesterday", "3 days ago", "12 March 2026"."""
    then, now = datetime.datetime.fromtimestamp(seconds), now or datetime.datetime.now()
    days = (now.date() - then.date()).days
    if days <= 0:
        return f"today, {then:%H:%M}"
    if days == 1:
        return f"yesterday, {then:%H:%M}"
    return f"{days} days ago" if days < 14 else f"{then.day} {then:%B %Y}"


class _Step(QWidget):
    """One picture of the way, with its words."""

    def __init__(self, file: str, head: str, words: str) -> None:
        super().__init__()
        self._image = QImage(str(resource("start", file)))
        self._head, self._words = head, words
        self.setMinimumSize(150, 150)
        self.setAccessibleName(f"{head}: {words}")

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        text = theme.sized(56)
        room = QSize(self.width() - 8, self.height() - text)
        size = self._image.size().scaled(room, Qt.AspectRatioMode.KeepAspectRatio)
        box = QRectF((self.width() - size.width()) / 2, 0, size.width(), size.height())
        painter.drawImage(box, self._image)
        painter.setPen(theme.colour("on_surround"))
        painter.setFont(theme.face(11, bold=True))
        top = box.bottom() + 4
        painter.drawText(QRectF(box.left(), top, box.width(), theme.sized(20)), Qt.AlignmentFlag.AlignLeft, self._head)
        painter.setFont(theme.face(9))
        words = QRectF(box.left(), top + theme.sized(20), self.width() - box.left(), theme.sized(32))
        painter.drawText(words, Qt.TextFlag.TextWordWrap, self._words)


class StartPage(QWidget):
    """Large things to press, over an empty easel."""

    open_wanted = pyqtSignal()
    scene_wanted = pyqtSignal()
    demo_wanted = pyqtSignal()
    recent_wanted = pyqtSignal(object)
    """The path of work of late."""

    def __init__(self, settings: Settings, jobs: Jobs) -> None:
        super().__init__()
        self.settings, self.jobs = settings, jobs
        self.setObjectName("surround")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        rows = QVBoxLayout(self)
        rows.setContentsMargins(28, 22, 28, 16)
        rows.setSpacing(14)
        self.open, self.scene, self.demo = (
            _large("Open a photo…", "drop it here, or paste it", self.open_wanted.emit),
            _large("Read the scene…", "from life, by spot reader", self.scene_wanted.emit),
            _large("Look at the demo", "a portrait, 18 notes", self.demo_wanted.emit),
        )
        line = QHBoxLayout()
        line.setSpacing(10)
        for b in (self.open, self.scene, self.demo):
            line.addWidget(b, 1)
        rows.addLayout(line)
        self.recent_head = _on_surround("Work of late")
        self.recent = ListBox("Work of late, the newest first", 90)
        self.recent.setIconSize(_SMALL)
        self.recent.itemActivated.connect(self._wanted)
        self.recent.itemClicked.connect(self._wanted)
        rows.addWidget(self.recent_head)
        rows.addWidget(self.recent, 3)
        self.way_head = _on_surround("From a photo to the block-in")
        rows.addWidget(self.way_head)
        way = QGridLayout()
        way.setSpacing(10)
        *small, large = (_Step(*step) for step in _WAY)
        for k, step in enumerate(small):
            way.addWidget(step, 0, k)
        way.addWidget(large, 1, 0, 1, len(small))  # what the program is, in one look
        way.setRowStretch(0, 2)
        way.setRowStretch(1, 3)
        rows.addLayout(way, 5)
        self._shown: tuple[str, ...] = ("",)

    def refresh(self) -> None:
        """Show the work of late as it is now."""
        paths = tuple(self.settings.recent[:8])
        self.recent_head.setVisible(bool(paths))
        self.recent.setVisible(bool(paths))
        if paths == self._shown:
            return
        self._shown = paths
        self.recent.clear()
        for text in paths:
            path = read_path(text)
            item = QListWidgetItem(_words(path))
            item.setData(Qt.ItemDataRole.UserRole, path)
            item.setSizeHint(QSize(200, _SMALL.height() + 10))
            blank = QPixmap(_SMALL)
            blank.fill(theme.colour("panel"))
            item.setIcon(QIcon(blank))
            self.recent.addItem(item)
        found = [read_path(t) for t in paths]

        def work(_: Any) -> list[QImage | None]:
            return [thumbnail(p, _SMALL) for p in found]

        def arrived(images: list[QImage | None]) -> None:
            for k, image in enumerate(images):
                item = self.recent.item(k)
                if image is not None and item is not None and paths == self._shown:
                    item.setIcon(_icon(image))

        self.jobs.start("thumbs", work, arrived, lambda _: None)

    def _wanted(self, item: QListWidgetItem) -> None:
        self.recent_wanted.emit(item.data(Qt.ItemDataRole.UserRole))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        for w in (self.way_head, *self.findChildren(_Step)):
            w.setVisible(self.height() > theme.sized(430))


def _icon(image: QImage) -> QIcon:
    """The picture on a ground of one size, so that names stand below one another."""
    whole = QPixmap(_SMALL)
    whole.fill(Qt.GlobalColor.transparent)
    painter = QPainter(whole)
    painter.drawImage((_SMALL.width() - image.width()) // 2, (_SMALL.height() - image.height()) // 2, image)
    painter.end()
    return untinted(whole)


def _words(path: Path) -> str:
    try:
        when = f"touched {touched(path.stat().st_mtime)}"
    except OSError:
        when = "not there any more"
    folder, home = str(path.parent), str(Path.home())
    where = f"~{folder.removeprefix(home)}" if folder == home or folder.startswith(f"{home}/") else folder
    return f"{one_line(path.name, 60)}\n{when} · {one_line(where, 70)}"


def _large(words: str, about: str, call: Callable[[], Any]) -> QPushButton:
    b = QPushButton(f"{words}\n{about}")
    b.setProperty("kind", "large")
    b.setMinimumHeight(theme.sized(72))
    b.setAccessibleName(words)
    b.setAccessibleDescription(about)
    set_tip(b, about)
    b.clicked.connect(lambda: call())
    return b


def _on_surround(words: str) -> QLabel:
    label = Words(words)
    label.setProperty("kind", "surround")
    return label
