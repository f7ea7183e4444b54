"""Ask where a file is, or where it is to go; ask a question; say something. What comes from files is plain text."""

from collections.abc import Sequence
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog, QMessageBox, QWidget

from ochre_stone.core.picture.load import SUFFIXES
from ochre_stone.desktop.widgets import theme

PHOTOS = " ".join(f"*{s} *{s.upper()}" for s in SUFFIXES)
"""Patterns of the pictures that can be read."""
DRAWN = "PDF (*.pdf);;SVG (*.svg);;PNG (*.png)"


def box(parent: QWidget, words: str, title: str = "Ochre Stone") -> QMessageBox:
    """A box of plain words, to be opened."""
    made = QMessageBox(QMessageBox.Icon.NoIcon, title, words, QMessageBox.StandardButton.NoButton, parent)
    made.setTextFormat(Qt.TextFormat.PlainText)
    made.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    theme.style(made)
    return made


def say(parent: QWidget, title: str, words: str) -> QMessageBox:
    """Words to be read until they are put away; the window goes on."""
    made = box(parent, words, title)
    made.addButton(QMessageBox.StandardButton.Ok)
    made.open()
    return made


def ask(parent: QWidget, words: str, answers: Sequence[str]) -> str:
    """Which answer the painter chose; the first is Enter's, the last is Escape's."""
    made = box(parent, words)
    roles = QMessageBox.ButtonRole
    buttons = {made.addButton(a, roles.AcceptRole if i == 0 else roles.RejectRole): a for i, a in enumerate(answers)}
    first, *_, last = buttons
    made.setDefaultButton(first)
    made.setEscapeButton(last)
    chosen: list[str] = []
    made.buttonClicked.connect(lambda b: chosen.append(buttons[b]))
    made.exec()
    return chosen[0] if chosen else answers[-1]


def ask_open(parent: QWidget, words: str, folder: str, kinds: str) -> Path | None:
    """A file to read; None where the painter thought better of it."""
    name, _ = QFileDialog.getOpenFileName(parent, words, folder, kinds)
    return Path(name) if name else None


def ask_save(parent: QWidget, words: str, folder: str, name: str, kinds: str) -> Path | None:
    """A place to write to, with the ending of the chosen kind where none of those offered was typed."""
    chosen, kind = QFileDialog.getSaveFileName(parent, words, str(Path(folder or Path.home()) / name), kinds)
    return with_ending(Path(chosen), kind, kinds) if chosen else None


def with_ending(path: Path, kind: str, kinds: str) -> Path:
    """``path`` with the first ending of ``kind`` where it has none of ``kinds``, both as a file dialog writes them."""
    if path.suffix.lower() in endings(kinds):
        return path
    return path.with_name(path.name + (endings(kind) or endings(kinds))[0])


def endings(kinds: str) -> list[str]:
    """The endings in kinds as a file dialog writes them: "PDF (*.pdf);;SVG (*.svg)"."""
    return [w.strip("()").removeprefix("*") for k in kinds.split(";;") for w in k[k.find("(") :].split() if "." in w]
