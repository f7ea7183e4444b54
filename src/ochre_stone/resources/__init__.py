"""Data that ships with the program: pigments, tables, fonts, icons, the demo project."""

from importlib.resources import files
from pathlib import Path


def resource(*parts: str) -> Path:
    """Path of a shipped file, e.g. ``resource("paint", "pigments.json")``."""
    return Path(str(files(__name__).joinpath(*parts)))


def guide_folder() -> Path:
    """Folder of the guide's pages; its pictures lie in ``screenshots`` beside it. In a checkout that is under docs."""
    shipped = resource("guide")
    return shipped if shipped.is_dir() else Path(__file__).parents[3] / "docs" / "guide"
