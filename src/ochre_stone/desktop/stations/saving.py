"""Where the masses are written to: asked for at more than one station."""

from PyQt6.QtWidgets import QWidget

from ochre_stone.desktop.session.session import Session
from ochre_stone.desktop.widgets.asking import ask_save


def save_outlines(parent: QWidget, session: Session) -> None:
    """Ask where to write the outlines of the masses as SVG, and write them."""
    name = f"{session.studio.title} outlines.svg"
    path = ask_save(parent, "Outlines of the masses", session.settings.folder, name, "SVG (*.svg)")
    if path is not None:
        session.exports.outlines(path)


def save_transfer(parent: QWidget, session: Session) -> None:
    """Ask where to write the outlines at the size of the canvas, and write them."""
    name = f"{session.studio.title} transfer.pdf"
    path = ask_save(parent, "Transfer at canvas size", session.settings.folder, name, "PDF (*.pdf)")
    if path is not None:
        session.exports.transfer(path)
