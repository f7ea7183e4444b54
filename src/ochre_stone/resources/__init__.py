"""Data that ships with the program: pigments, tables, fonts, icons, the demo project."""

from importlib.resources import files
from pathlib import Path


def resource(*parts: str) -> Path:
    """Path of a shipped file, e.g. ``resource("paint", "pigments.json")``."""
    return Path(str(files(__name__).joinpath(*parts)))
