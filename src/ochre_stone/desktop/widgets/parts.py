"""Small controls and lists that every tray uses."""

import html
from collections.abc import Callable
from typing import TypeVar, cast

from PyQt6.QtCore import QSignalBlocker, Qt
from PyQt6.QtGui import QFontMetricsF
from PyQt6.QtWidgets import QComboBox, QLabel, QLayout, QPushButton, QVBoxLayout, QWidget

from ochre_stone.desktop.widgets import theme

Row = TypeVar("Row", bound=QWidget)


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


def plain(tip: str) -> str:
    """A tip that shows these very characters, in which names from a file may stand."""
    return f'<span style="white-space: pre-wrap">{html.escape(tip)}</span>' if "<" in tip else tip


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
