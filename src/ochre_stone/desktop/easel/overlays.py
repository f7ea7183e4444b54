"""What lies over the picture: marks of notes, the transfer grid, and the places that the photo lost."""

from collections.abc import Collection

import numpy as np
from PyQt6.QtGui import QImage

from ochre_stone.core.document.document import Canvas, Note
from ochre_stone.core.later import later
from ochre_stone.core.picture.frame import Framed
from ochre_stone.core.picture.losses import Losses
from ochre_stone.core.picture.views import Grid as GridName
from ochre_stone.desktop.easel.marks import DrawnGrid, Mark
from ochre_stone.desktop.widgets.image import to_image

cv2 = later("cv2")

_LOST = 0.25
_TILE = 14


def marks_of(notes: tuple[Note, ...], seen: Framed, chosen: str | None, kept: Collection[str]) -> tuple[Mark, ...]:
    """Marks of the notes that the frame shows, in its pixels."""
    out = []
    for n in notes:
        if n.place is None or not seen.shows(*n.place):
            continue
        x, y = seen.from_original(*n.place)
        radius = n.aperture / 2 / max(seen.scale_at(*n.place), 1e-6)
        area = tuple(seen.from_original(*p) for p in n.area)
        out.append(Mark(n.id, x, y, radius, area, n.id == chosen, n.id not in kept))
    return tuple(out)


def canvas_grid(kind: GridName, canvas: Canvas, seen: Framed) -> DrawnGrid | None:
    """Lines of the transfer grid: thirds, or squares of 1 to 5 units of the canvas, from its top left corner.

    The canvas is laid the way the picture lies; squares are as large as leaves about a dozen along the longer side.
    """
    if kind == "none":
        return None
    if kind == "thirds":
        thirds = ((1 / 3, "1/3"), (2 / 3, "2/3"))
        return DrawnGrid(thirds, thirds)
    long, short = max(canvas.width, canvas.height), min(canvas.width, canvas.height)
    width = long if seen.width >= seen.height else short
    step = next((s for s in (1, 2, 5, 10, 20, 50, 100) if long / s <= 14), 200)
    across = tuple((k * step / width, f"{k * step}") for k in range(1, int(np.ceil(width / step))))
    # Squares stay square even where the picture has not quite the canvas's shape.
    unit = seen.width / width
    down_count = int(np.ceil(seen.height / (step * unit) - 1e-6))
    down = tuple((k * step * unit / seen.height, f"{k * step}") for k in range(1, down_count))
    return DrawnGrid(across, down)


def _tiles(height: int, width: int) -> tuple[np.ndarray, np.ndarray]:
    """Repeated rings and crosses, as masks."""
    ring = np.zeros((_TILE, _TILE), np.uint8)
    cv2.circle(ring, (_TILE // 2, _TILE // 2), 4, 1, 1, cv2.LINE_8)
    cross = np.zeros((_TILE, _TILE), np.uint8)
    for a, b in (((4, 4), (10, 10)), ((10, 4), (4, 10))):
        cv2.line(cross, a, b, 1, 1)
    shape = (height // _TILE + 1, width // _TILE + 1)
    return tuple(np.tile(t, shape)[:height, :width].astype(bool) for t in (ring, cross))  # type: ignore[return-value]


def lost_cover(found: Losses, mirror: bool) -> QImage:
    """Rings where lights are burnt out, crosses where darks are crushed, with an outline; see-through elsewhere."""
    height, width = found.lights.shape
    factor = max(1, round(1400 / width))
    height, width = height * factor, width * factor
    out = np.zeros((height, width, 4), np.uint8)
    for share, sign, ink in zip((found.lights, found.darks), _tiles(height, width), (0, 255), strict=True):
        mask = cv2.resize((share > _LOST).astype(np.uint8), (width, height), interpolation=cv2.INTER_NEAREST)
        line = cv2.dilate(mask, np.ones((3, 3), np.uint8)).astype(bool) & ~mask.astype(bool)
        out[(mask.astype(bool) & sign) | line] = (ink, ink, ink, 255)
        halo = cv2.dilate(line.astype(np.uint8), np.ones((3, 3), np.uint8)).astype(bool) & ~line & ~mask.astype(bool)
        out[halo] = (255 - ink, 255 - ink, 255 - ink, 200)
    return to_image(out[:, ::-1] if mirror else out)
