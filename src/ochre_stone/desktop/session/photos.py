"""Photos that are looked at beside the reference: of a palette, of a painted chart."""

from pathlib import Path

from ochre_stone.core.picture.load import load
from ochre_stone.core.picture.picture import Picture

PHOTO_PIXELS = 900_000
"""Size of the copy that a dialog shows."""


def opened(path: Path) -> Picture:
    """A photo with its screen copy made; for a worker."""
    picture = load(path)
    picture.reduced(PHOTO_PIXELS)
    return picture
