"""What the program remembers between runs: recent files, surround, schools, window place; as JSON under the XDG
folders. Several windows may run: each writes only what it changed, into what is there by then."""

import contextlib
import json
import os
from pathlib import Path
from typing import Any, Literal
from urllib.parse import unquote_to_bytes

from platformdirs import user_config_path
from pydantic import BaseModel, ConfigDict, Field, PrivateAttr, ValidationError

from ochre_stone.core.errors import OchreError
from ochre_stone.core.store import locking
from ochre_stone.core.store.atomic import own_folder, write_bytes

_MOST_RECENT = 8
_MOST_BYTES = 1_000_000
_URI = "file://"
_RENAMED = {"ledge_order": "note_order"}
"""Fields of earlier versions."""


class Settings(BaseModel):
    """Validated on reading; a damaged field is as good as none."""

    model_config = ConfigDict(validate_assignment=True)

    recent: list[str] = Field(default=[], max_length=100)
    """Files as :func:`written` has them, the newest first."""
    surround: str = Field(default="middle", max_length=40)
    school: str = Field(default="munsell", max_length=40)
    """How values are numbered, a key of core.colour.schools."""
    warmth: Literal["leans-red", "near-yellow"] = "leans-red"
    """Which blues count as warm."""
    palette_surface: Literal["white", "grey", "wood"] = "grey"
    monitor_profile: str = Field(default="", max_length=5000)
    """A chosen file; empty for what the desktop knows."""
    note_order: Literal["value", "subject"] = "value"
    folder: str = Field(default="", max_length=5000)
    width: int = Field(default=1280, ge=200, le=20_000)
    height: int = Field(default=800, ge=200, le=20_000)
    maximised: bool = False
    scale_width: int = Field(default=210, ge=40, le=2000)
    tray_width: int = Field(default=350, ge=100, le=4000)
    station: str = Field(default="", max_length=40)
    """Where the painter left off, and the page there."""
    page: str = Field(default="", max_length=40)
    value_drills: bool = False
    """Whether only drills are proposed that do not depend on hue."""
    card_seen: bool = False
    """Whether the test card was shown before a drill."""
    log: bool = True
    """Whether what is really mixed is written down."""
    text_size: int = Field(default=100, ge=80, le=150)
    """How large text is, in percent."""

    _base: dict[str, Any] = PrivateAttr(default_factory=dict)
    """The fields as they were last read or written."""

    def model_post_init(self, _: Any) -> None:
        """Changes count from here."""
        self._base = self.model_dump()

    def remember(self, path: Path) -> None:
        """Put a file on top of the recent ones."""
        text = written(path.resolve())
        self.recent = [text, *(r for r in self.recent if r != text)][:_MOST_RECENT]
        self.folder = written(path.resolve().parent)


def written(path: Path) -> str:
    """A path as text that any file can hold: where its bytes are no UTF-8, as a file address."""
    text = str(path)
    return text if text.isascii() or text == os.fsencode(text).decode("utf-8", "replace") else path.as_uri()


def read_path(text: str) -> Path:
    """The path of :func:`written`."""
    if text.startswith(_URI):
        return Path(os.fsdecode(unquote_to_bytes(text.removeprefix(_URI))))
    return Path(text)


def file() -> Path:
    """Where the settings lie."""
    return user_config_path("ochre-stone") / "settings.json"


def load_settings() -> Settings:
    """The settings as last saved; fields that are damaged or missing as they are at first."""
    try:
        with file().open("rb") as f:
            held = json.loads(f.read(_MOST_BYTES))
    except (OSError, ValueError, RecursionError):
        return Settings()
    if not isinstance(held, dict):
        return Settings()
    good = {}
    for name, value in held.items():
        name = _RENAMED.get(name, name)
        if name in Settings.model_fields:
            with contextlib.suppress(ValidationError):
                good[name] = getattr(Settings.model_validate({name: value}), name)
    return Settings.model_validate(good)


def store(settings: Settings) -> None:
    """Write what was changed here into the settings as they are by now, and take over what others changed. A read-only
    home is no reason to stop painting."""
    with contextlib.suppress(OSError, OchreError):
        own_folder(file().parent, ours=True)
        with locking.lock_held(file()):
            take_over(settings)
            write_bytes(file(), settings.model_dump_json(indent=1).encode(), private=True)
            settings._base = settings.model_dump()


def take_over(settings: Settings) -> bool:
    """Take what other windows have written since; what was changed here and is not written yet stays. True where
    anything is another."""
    now, before = load_settings(), settings.model_dump()
    for name, theirs in now:
        mine, base = getattr(settings, name), settings._base.get(name)
        if name == "recent":
            new = [] if mine == base else [r for r in mine if r not in (base or [])] or mine[:1]
            setattr(settings, name, [*new, *(r for r in theirs if r not in new)][:_MOST_RECENT])
            settings._base[name] = theirs
        elif mine == base:
            setattr(settings, name, theirs)
            settings._base[name] = theirs
    return settings.model_dump() != before
