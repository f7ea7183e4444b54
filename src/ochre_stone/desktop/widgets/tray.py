"""A tray: rows of controls beside the easel, on pages where there are many."""

from collections.abc import Callable, Sequence
from typing import TypeVar

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QWheelEvent
from PyQt6.QtWidgets import QHBoxLayout, QScrollArea, QSizePolicy, QSlider, QTabBar, QVBoxLayout, QWidget

from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.parts import Words, set_tip, signals_blocked

TrayPage = TypeVar("TrayPage")
_USUAL, _TIGHT = 10.0, 9.25
"""Size of the names of pages, in points."""
_FULL = 318.0
"""Pixels that they may take together."""


class Tray:
    """Puts rows on a widget, one below the other."""

    def __init__(self, widget: QWidget, margins: tuple[int, int, int, int]) -> None:
        self.widget = widget
        widget.setObjectName("trayBody")
        self.rows = QVBoxLayout(widget)
        self.rows.setContentsMargins(*margins)
        self.rows.setSpacing(5)

    def label(self, words: str, kind: str = "", wrap: bool = True) -> Words:
        """A line of text; kinds are styled in window.qss."""
        label = Words(words)
        if kind:
            label.setProperty("kind", kind)
        label.setWordWrap(wrap)
        self.rows.addWidget(label)
        return label

    def bring_up(self, widget: QWidget) -> None:
        """Scroll to where all of a widget of the tray is seen, if it stands in something that scrolls."""
        above = widget.parentWidget()
        while above is not None and not isinstance(above, QScrollArea):
            above = above.parentWidget()
        if above is not None:
            above.ensureWidgetVisible(widget, 0, 8)

    def title(self, words: str, *widgets: QWidget) -> None:
        """The station's name, and beside it what belongs to the whole station."""
        title = Words(words)
        title.setProperty("kind", "title")
        row = self.row(title, None, *widgets)
        row.setSpacing(4)
        for k, widget in enumerate(widgets, 2):  # a choice of names takes the room that is left
            if widget.sizePolicy().horizontalPolicy() == QSizePolicy.Policy.Expanding:
                row.setStretch(k, 1)
                row.setStretch(1, 0)

    def list(self, box: QWidget) -> None:
        """A list, which gets the height that is left."""
        self.rows.addWidget(box, 100)

    def head(self, words: str, *widgets: QWidget) -> Words:
        """A heading, and at its end what belongs to it."""
        label = Words(words)
        label.setProperty("kind", "head")
        label.setWordWrap(True)
        label.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        self.row(label, *widgets).setStretch(0, 1)
        return label

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

    def slider(self, words: str, low: int, high: int, tip: str, one_row: bool = False) -> tuple[QSlider, Words]:
        """A named slider; its label shows the value as the page words it."""
        name = Words(words)
        shown = Words("")
        slider = QSlider(Qt.Orientation.Horizontal)
        slider.setRange(low, high)
        set_tip(slider, tip)
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


def _wide(words: str, points: float) -> float:
    return QFontMetricsF(theme.face(points, bold=True)).horizontalAdvance(words)


class Tabs(QTabBar):
    """The names of a tray's pages, all in sight."""

    def __init__(self, names: Sequence[str]) -> None:
        super().__init__()
        self.setAccessibleName("Pages")
        self.setDrawBase(False)
        self.setExpanding(True)
        self.setUsesScrollButtons(False)
        self.setElideMode(Qt.TextElideMode.ElideNone)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.tight = sum(_wide(name, _USUAL) + 4 for name in names) > _FULL * theme.text_scale()
        if self.tight:  # many names: a little smaller
            self.setProperty("kind", "tight")
        for name in names:
            self.addTab(name)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """A notch scrolls the tray, it turns no page."""
        if event is not None:
            event.ignore()

    def minimumSizeHint(self) -> QSize:
        wide = sum(self.tabSizeHint(i).width() for i in range(self.count()))
        return QSize(min(self.count() * 38, wide), super().minimumSizeHint().height())

    def tabSizeHint(self, index: int) -> QSize:
        """As wide as its word needs; what is left is shared out."""
        size = super().tabSizeHint(index)
        wide = _wide(self.tabText(index), _TIGHT if self.tight else _USUAL)
        return QSize(round(wide) + (2 if self.tight else 4), size.height())

    def minimumTabSizeHint(self, index: int) -> QSize:
        return self.tabSizeHint(index)


class Pages:
    """A row of names over a stack of pages."""

    def __init__(self, tray: Tray, *names: str) -> None:
        self.names = names
        self.bar, self.stack = Tabs(names), Stack()
        tray.rows.addWidget(self.bar)
        tray.rows.addWidget(self.stack, 100)
        self._trays: dict[str, Tray] = {}
        for name in names:
            page = QWidget()
            self.stack.addWidget(page)
            self._trays[name] = Tray(page, (0, 6, 0, 0))
        self.bar.currentChanged.connect(lambda i: self.show(names[i]))
        self.changed: Callable[[], None] = lambda: None

    def fill(self, name: str, make: Callable[[Tray], TrayPage]) -> TrayPage:
        """What ``make`` puts on a page, with the room that is left below it."""
        tray = self._trays[name]
        page = make(tray)
        tray.rows.addStretch(1)
        return page

    @property
    def here(self) -> str:
        """Name of the page that is shown."""
        return self.names[self.stack.currentIndex()]

    def show(self, name: str) -> None:
        """Come to a page."""
        index = self.names.index(name)
        with signals_blocked(self.bar):
            self.bar.setCurrentIndex(index)
        if name != self.here:
            self.stack.setCurrentIndex(index)
            self.changed()

    def turn(self, step: int) -> None:
        """Come to the page that many further on, round and round."""
        self.show(self.names[(self.names.index(self.here) + step) % len(self.names)])


class Stack(QWidget):
    """Pages of which one is shown; as high as that one, not as the highest."""

    def __init__(self) -> None:
        super().__init__()
        self._pages: list[QWidget] = []
        self._here = 0
        self._rows = QVBoxLayout(self)
        self._rows.setContentsMargins(0, 0, 0, 0)

    def addWidget(self, page: QWidget) -> None:
        page.setVisible(not self._pages)
        self._pages.append(page)
        self._rows.addWidget(page)

    def count(self) -> int:
        return len(self._pages)

    def currentIndex(self) -> int:
        return self._here

    def currentWidget(self) -> QWidget:
        return self._pages[self._here]

    def setCurrentIndex(self, index: int) -> None:
        """Show another page, and only that."""
        self._here = index
        for i, page in enumerate(self._pages):
            page.setVisible(i == index)
