"""The harmony as it is chosen at Harmonise: what its pages show and change."""

from typing import Any

from ochre_stone.core.document.choices import HarmonyChoice
from ochre_stone.desktop.session.studio import Studio


class Harmony:
    """Every change is one undoable step."""

    def __init__(self, studio: Studio) -> None:
        self.studio = studio

    @property
    def choice(self) -> HarmonyChoice:
        return self.studio.document.harmony

    def set(self, text: str, kind: str = "", **fields: Any) -> None:
        """Change fields of the harmony choice as one step."""
        self.studio.adjust("harmony", text, kind, **fields)
