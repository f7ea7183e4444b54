"""What the program remembers between runs: recent files, surround, schools, window place; as JSON under the XDG
folders."""

import contextlib
from pathlib import Path
from typing import Literal

from platformdirs import user_config_path, user_state_path
from pydantic import BaseModel, ValidationError

from ochre_stone.core.errors import OchreError
from ochre_stone.core.project.atomic import write_bytes

_MOST_RECENT = 8


class Settings(BaseModel):
    """Validated on reading; a damaged file is as good as none."""

    recent: list[str] = []
    surround: str = "middle"
    school: str = "munsell"
    """How values are numbered, a key of core.colour.schools."""
    warmth: Literal["leans-red", "near-yellow"] = "leans-red"
    """Which blues count as warm."""
    palette_surface: Literal["white", "grey", "wood"] = "grey"
    monitor_profile: str = ""
    """A chosen file; empty for what the desktop knows."""
    ledge_order: Literal["value", "subject"] = "value"
    folder: str = ""
    width: int = 1280
    height: int = 800

    def remember(self, path: Path) -> None:
        """Put a file on top of the recent ones."""
        text = str(path.resolve())
        self.recent = [text, *(r for r in self.recent if r != text)][:_MOST_RECENT]
        self.folder = str(path.resolve().parent)


def _file() -> Path:
    return user_config_path("ochre-stone") / "settings.json"


def load() -> Settings:
    """The settings as last saved, or fresh ones."""
    try:
        return Settings.model_validate_json(_file().read_bytes())
    except (OSError, ValidationError):
        return Settings()


def store(settings: Settings) -> None:
    """Save; a read-only home is no reason to stop painting."""
    with contextlib.suppress(OSError, OchreError):
        _file().parent.mkdir(parents=True, exist_ok=True)
        write_bytes(_file(), settings.model_dump_json(indent=1).encode())


def autosave_file() -> Path:
    """Where work that was never saved is kept safe."""
    return user_state_path("ochre-stone") / "unsaved.ochre"
