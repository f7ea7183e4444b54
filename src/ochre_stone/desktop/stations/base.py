"""What all stations share: a tray, words for the strip, and which parts of the centre they use."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import TYPE_CHECKING, TypeVar, cast

from PyQt6.QtCore import QSignalBlocker, QSize, Qt
from PyQt6.QtGui import QFontMetricsF
from PyQt6.QtWidgets import (
    QButtonGroup,
    QComboBox,
    QHBoxLayout,
    QLabel,
    QLayout,
    QPushButton,
    QSlider,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from ochre_stone.core.project.document import Document
from ochre_stone.desktop import theme

if TYPE_CHECKING:
    from ochre_stone.desktop.window import Window


Row = TypeVar("Row", bound=QWidget)


class Station(QWidget):
    """One place of the work."""

    title = ""
    side = ""
    """Name of the panel beside the easel: "", "wheel", "score" or "sheet"."""
    shows_scale = False
    shows_marks = True
    needs_strings = False
    """Whether strings are worked out while the painter is here."""

    def __init__(self, window: "Window") -> None:
        super().__init__()
        self.setObjectName("trayBody")
        self.window_ = window
        self.studio = window.studio
        self.rows = QVBoxLayout(self)
        self.rows.setContentsMargins(16, 12, 16, 12)
        self.rows.setSpacing(6)
        self.tray_pages: Pages | None = None
        self.build()
        self.rows.addStretch(1)
        self.studio.changed.connect(self.document_changed)

    @property
    def document(self) -> Document:
        return self.studio.document

    @property
    def active(self) -> bool:
        return self.window_.station is self

    def build(self) -> None:
        """Fill the tray."""

    def enter(self) -> None:
        """The painter comes here."""
        self.studio.want_strings(self.needs_strings)
        self.refresh()

    def leave(self) -> None:
        """The painter goes elsewhere."""

    def refresh(self) -> None:
        """Show the document as it is."""

    def refresh_if_here(self) -> None:
        """Show what was worked out, where the painter is looking."""
        if self.active:
            self.refresh()

    def done_words(self) -> str:
        """What is done here, in a few words, for the strip."""
        return ""

    def spot_clicked(self, x: float, y: float) -> None:
        """The picture was clicked at these pixels of the photo."""

    def drawn(self, name: str, points: list[tuple[float, float]]) -> None:
        """A tool of several points is done; points in pixels of the photo."""

    def tool_dropped(self) -> None:
        """The painter put the tool away."""

    def document_changed(self, old: Document, new: Document) -> None:
        if self.active:
            self.refresh()

    # Small parts

    def label(self, words: str, kind: str = "", wrap: bool = True) -> QLabel:
        """A line of text in the tray; kinds are styled in window.qss."""
        label = QLabel(words)
        if kind:
            label.setProperty("kind", kind)
        label.setWordWrap(wrap)
        self.rows.addWidget(label)
        return label

    def title_row(self, words: str, *widgets: QWidget) -> None:
        """The station's name, and beside it what belongs to the whole station."""
        title = QLabel(words)
        title.setProperty("kind", "title")
        self.row(title, None, *widgets).setSpacing(4)

    def row(self, *widgets: QWidget | None) -> QHBoxLayout:
        """Widgets in a row; None takes the room that is left."""
        line = QHBoxLayout()
        line.setSpacing(8)
        for w in widgets:
            if w is None:
                line.addStretch(1)
            else:
                line.addWidget(w)
        self.rows.addLayout(line)
        return line

    def pages(self, *names: str) -> "Pages":
        """Pages of the tray, one shown at a time; follow with ``with self.on(pages, name)`` to fill them."""
        pages = self.tray_pages = Pages(names)
        self.rows.addWidget(pages.bar)
        self.rows.addWidget(pages.stack)
        return pages

    @contextmanager
    def on(self, pages: "Pages", name: str) -> Iterator[None]:
        """Put what is built meanwhile on a page."""
        held, self.rows = self.rows, pages.rows[name]
        yield
        self.rows.addStretch(1)
        self.rows = held

    def slider(self, words: str, low: int, high: int, tip: str, one_row: bool = False) -> tuple[QSlider, QLabel]:
        """A named slider; its label shows the value as the station words it."""
        name = QLabel(words)
        shown = QLabel("")
        slider = QSlider(Qt.Orientation.Horizontal)
        slider.setRange(low, high)
        slider.setToolTip(tip)
        slider.setAccessibleName(words)
        if one_row:
            name.setMinimumWidth(104 if len(words) > 9 else 64)
            shown.setMinimumWidth(46)
            shown.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
            self.row(name, slider, shown)
        else:
            self.row(name, None, shown)
            self.rows.addWidget(slider)
        return slider, shown


class Pages:
    """A row of names over a stack of pages."""

    def __init__(self, names: tuple[str, ...]) -> None:
        self.names = names
        self.bar, self.stack = QWidget(), Stack()
        line = QHBoxLayout(self.bar)
        line.setContentsMargins(0, 2, 0, 2)
        line.setSpacing(0)
        self.rows: dict[str, QVBoxLayout] = {}
        self.buttons: dict[str, QPushButton] = {}
        group = QButtonGroup(self.bar)
        for i, name in enumerate(names):
            b = button(name, kind="page", checkable=True)
            b.clicked.connect(lambda _, n=name: self.show(n))
            group.addButton(b)
            line.addWidget(b, 1)
            page = QWidget()
            page.setObjectName("trayBody")
            rows = QVBoxLayout(page)
            rows.setContentsMargins(0, 6, 0, 0)
            rows.setSpacing(6)
            self.stack.addWidget(page)
            self.rows[name], self.buttons[name] = rows, b
            b.setChecked(i == 0)
        self.changed: Callable[[], None] = lambda: None

    @property
    def here(self) -> str:
        """Name of the page that is shown."""
        return self.names[self.stack.currentIndex()]

    def show(self, name: str) -> None:
        """Come to a page."""
        self.buttons[name].setChecked(True)
        if name != self.here:
            self.stack.setCurrentIndex(self.names.index(name))
            self.changed()


class Stack(QStackedWidget):
    """A stack as high as the page that is shown, not as its highest."""

    def __init__(self) -> None:
        super().__init__()
        self.currentChanged.connect(lambda _: self.updateGeometry())

    def sizeHint(self) -> QSize:
        page = self.currentWidget()
        return page.sizeHint() if page is not None else super().sizeHint()

    def minimumSizeHint(self) -> QSize:
        page = self.currentWidget()
        return page.minimumSizeHint() if page is not None else super().minimumSizeHint()

    def hasHeightForWidth(self) -> bool:
        return True

    def heightForWidth(self, width: int) -> int:
        page = self.currentWidget()
        layout = page.layout() if page is not None else None
        return layout.totalHeightForWidth(width) if layout is not None else super().heightForWidth(width)


def button(words: str, tip: str = "", kind: str = "", checkable: bool = False) -> QPushButton:
    """A push button."""
    b = QPushButton(words)
    b.setCheckable(checkable)
    if checkable and kind != "page":
        # What is chosen is written in bold: room for that is kept from the start.
        b.setMinimumWidth(
            round(QFontMetricsF(theme.face(10.5, bold=True)).horizontalAdvance(words)) + (18 if kind == "small" else 28)
        )
    if tip:
        b.setToolTip(tip)
    if kind:
        b.setProperty("kind", kind)
    return b


def narrow(box: QComboBox) -> QComboBox:
    """A list that takes the room it gets, however long its entries are."""
    box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
    box.setMinimumContentsLength(10)
    return box


def clear(box: QLayout) -> None:
    """Take all widgets out of a layout."""
    while (item := box.takeAt(0)) is not None:
        if (old := item.widget()) is not None:
            old.hide()  # it goes with the next turn of the event loop, and must not show until then
            old.deleteLater()


def fitted(box: QVBoxLayout, count: int, make: Callable[[], Row]) -> list[Row]:
    """The rows of a list, ``count`` of them: those that are there stay, for making widgets takes time."""
    while box.count() > count:
        item = box.takeAt(box.count() - 1)
        old = item.widget() if item is not None else None
        if old is not None:
            old.hide()
            old.deleteLater()
    while box.count() < count:
        box.addWidget(make())
    rows = [box.itemAt(i) for i in range(count)]
    return [cast(Row, row.widget()) for row in rows if row is not None]


def quietly(widget: QWidget) -> QSignalBlocker:
    """Set a control without it calling back."""
    return QSignalBlocker(widget)
