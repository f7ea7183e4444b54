"""Small controls and lists that every tray uses."""

import html
from collections.abc import Callable, Iterator
from itertools import pairwise
from typing import Protocol, TypeVar, cast

from PyQt6.QtCore import QEvent, QObject, QSignalBlocker, QSize, Qt, QTimer
from PyQt6.QtGui import QFontMetricsF, QResizeEvent
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QAbstractSpinBox,
    QComboBox,
    QLabel,
    QLayout,
    QLineEdit,
    QListView,
    QListWidget,
    QPushButton,
    QSizePolicy,
    QSlider,
    QSpinBox,
    QToolButton,
    QToolTip,
    QVBoxLayout,
    QWidget,
)

from ochre_stone.desktop.widgets import theme

LaidRow = TypeVar("LaidRow", bound=QWidget)


class Words(QLabel):
    """Words as they are: what comes from a file is never taken for rich text, which could load things and hang."""

    def __init__(self, words: str = "") -> None:
        super().__init__()
        self.setText(words)

    def setText(self, words: str | None) -> None:
        """Show these very characters."""
        self.setTextFormat(Qt.TextFormat.PlainText)
        super().setText(words)

    def mark_up(self, words: str) -> None:
        """Show words in which only bold, a line end and a hard space are marks; all else is shown as it is."""
        self.setTextFormat(Qt.TextFormat.RichText)
        text = html.escape(words, quote=False)
        for mark in ("<b>", "</b>", "<br>", "&nbsp;"):
            text = text.replace(html.escape(mark, quote=False), mark)
        super().setText(text)


class Aside(QToolButton):
    """Words that explain, at hand but not in the way: shown by pointing, by a press or by a key."""

    def __init__(self, about: str = "More about this") -> None:
        super().__init__()
        super().setText("?")
        self.setAccessibleName(about)
        self._words = ""
        self.clicked.connect(self._show)
        self.setVisible(False)

    def setText(self, words: str | None) -> None:
        """What is explained; "" takes the sign away."""
        self._words = words or ""
        self.setToolTip(plain(self._words))
        self.setAccessibleDescription(self._words)
        self.setVisible(bool(self._words))

    def text(self) -> str:
        """What is explained."""
        return self._words

    def _show(self) -> None:
        QToolTip.showText(self.mapToGlobal(self.rect().bottomLeft()), f"<p>{html.escape(self._words)}</p>", self)


class ListBox(QListWidget):
    """A list that takes the height that is left, as far as it has rows; beyond that it scrolls within itself."""

    def __init__(self, name: str, least: int) -> None:
        super().__init__()
        self._least = least
        self.setAccessibleName(name)
        self.setWordWrap(True)
        self.setResizeMode(QListView.ResizeMode.Adjust)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumHeight(least)
        model = self.model()
        assert model is not None
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.timeout.connect(self._fit)
        for signal in (model.rowsInserted, model.rowsRemoved, model.modelReset):
            signal.connect(lambda *_: self._later.start())

    def sizeHint(self) -> QSize:
        return QSize(super().sizeHint().width(), self._least)

    def resizeEvent(self, e: QResizeEvent | None) -> None:
        super().resizeEvent(e)
        self._later.start()

    def _fit(self) -> None:
        self.executeDelayedItemsLayout()  # rows wrap: only then is it known how high they are
        first, last = self.item(0), self.item(self.count() - 1)
        high = self.visualItemRect(last).bottom() - self.visualItemRect(first).top() if first and last else 0
        self.setMaximumHeight(max(self._least, high + 2 * self.frameWidth() + 6))
        self.scrollToItem(self.currentItem())


def enable(control: QWidget, why: str = "") -> None:
    """Let a control be used, or disable it with the reason as its tip until it may be."""
    if control.property("tip") is None:
        control.setProperty("tip", control.toolTip())
    if control.isEnabled() == bool(why):
        control.setEnabled(not why)
    control.setToolTip(plain(why) or control.property("tip"))


def plain(words: str) -> str:
    """Words of a tip that show as these very characters: names from a file may stand in them, and the toolkit takes
    what looks like marks for marks, pictures and all."""
    if "<" not in words and "&lt;" not in words:
        return words
    return f'<span style="white-space: pre-wrap">{html.escape(words)}</span>'


class _HasTip(Protocol):
    def setToolTip(self, words: str | None, /) -> None: ...


def set_tip(of: _HasTip, words: str) -> None:
    """What pointing at something shows, as plain text."""
    of.setToolTip(plain(words))


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
        b.setToolTip(plain(tip))
    if kind:
        b.setProperty("kind", kind)
    return b


def counts(box: QSpinBox, one: str, many: str = "") -> None:
    """Say what a number counts, "1 part" and "2 parts"."""

    def fit(value: int) -> None:
        box.setSuffix(f" {one}" if value == 1 else f" {many or one + 's'}")

    box.valueChanged.connect(fit)
    fit(box.value())


def look_main(b: QPushButton, main: bool) -> None:
    """Make a button look as the one to press, or as one of the others."""
    kind = "main" if main else ""
    if (b.property("kind") or "") == kind:
        return
    b.setProperty("kind", kind)
    style = b.style()
    if style is not None:  # rules by property are read when a widget is dressed
        style.unpolish(b)
        style.polish(b)


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


def fitted_text(box: QVBoxLayout, count: int, make: Callable[[], LaidRow]) -> list[LaidRow]:
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
    return [cast(LaidRow, row.widget()) for row in rows if row is not None]


class _NoNotch(QObject):
    """Leaves the wheel to the page around a control that has no focus: a notch never changes what is not in hand."""

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is None or event.type() != QEvent.Type.Wheel:
            return False
        if isinstance(watched, QWidget) and not watched.hasFocus():
            event.ignore()
            return True
        return False


_no_notch = _NoNotch()


def tab_in_order(page: QWidget) -> None:
    """Let Tab go through a page as it is read: by its layouts, from the top and from the left."""
    order = [w for w in _laid(page.layout()) if w.focusPolicy() & Qt.FocusPolicy.TabFocus]
    for first, then in pairwise(order):
        QWidget.setTabOrder(first, then)


def tips(page: QWidget) -> None:
    """Give each control that says nothing of itself its name as a tip."""
    for kind in (QAbstractButton, QComboBox, QAbstractSpinBox, QSlider, QLineEdit, QAbstractItemView):
        for control in page.findChildren(kind):
            if not control.toolTip() and not control.objectName().startswith("qt_"):
                said = control.accessibleName() or (control.text() if isinstance(control, QAbstractButton) else "")
                control.setToolTip(plain(said))


def _laid(layout: QLayout | None) -> Iterator[QWidget]:
    for i in range(layout.count() if layout is not None else 0):
        item = layout.itemAt(i) if layout is not None else None
        widget = item.widget() if item is not None else None
        if widget is not None:
            yield widget
            yield from _laid(widget.layout())
        elif item is not None:
            yield from _laid(item.layout())


def guard(page: QWidget) -> None:
    """Keep the wheel from lists, numbers and sliders of a page that have no focus, and leave what is dropped on its
    lines to the window; again where controls were added."""
    for line in page.findChildren(QLineEdit):
        line.setAcceptDrops(False)
    for kind in (QComboBox, QAbstractSpinBox, QSlider):
        for control in page.findChildren(kind):
            if not control.property("guarded"):
                control.setProperty("guarded", True)
                control.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
                control.installEventFilter(_no_notch)


def signals_blocked(widget: QWidget) -> QSignalBlocker:
    """Set a control without it calling back."""
    return QSignalBlocker(widget)
