"""Ask where a file is, or where it is to go."""

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QWidget

from ochre_stone.core.picture.load import SUFFIXES

PHOTOS = " ".join(f"*{s} *{s.upper()}" for s in SUFFIXES)
"""Patterns of the pictures that can be read."""
DRAWN = "PDF (*.pdf);;SVG (*.svg);;PNG (*.png)"


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
