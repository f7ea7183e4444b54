"""How the picture is looked at: values only, squinted, mirrored ...; what is sampled never changes."""

from dataclasses import replace
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from ochre_stone.core.picture.views import GRIDS, View


class Sight(QObject):
    """The present view."""

    changed = pyqtSignal(object, object)
    """The view before, and now; equal where what was asked for was so already."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.view = View()

    def set(self, plain: bool = False, **parts: Any) -> None:
        """See the picture another way: ``parts`` are fields of ``View``; ``plain``: as it is, all views off."""
        old = self.view
        self.view = View(strength=old.strength) if plain else replace(old, **parts)
        self.changed.emit(old, self.view)

    def toggle(self, part: str) -> None:
        """Switch a part of the view on or off."""
        self.set(**{part: not getattr(self.view, part)})

    def next_grid(self) -> None:
        """The next transfer grid."""
        self.set(grid=GRIDS[(GRIDS.index(self.view.grid) + 1) % len(GRIDS)])
