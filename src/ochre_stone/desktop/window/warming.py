"""What is wanted next, loaded before somebody waits for it."""

import importlib

from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.wheel import wheel
from ochre_stone.core.document.document import Mixed
from ochre_stone.core.paint.tubes import find
from ochre_stone.desktop.widgets.shapes import warm


def warm_up() -> None:
    """Load what is wanted next."""
    read((50.0, 20.0, 20.0))
    find("")  # every tube is named
    wheel()
    for library in ("cv2", "PIL.Image", "scipy.ndimage", "scipy.optimize"):
        importlib.import_module(library)


def warm_strings(mixed: Mixed) -> None:
    """Screen colours of all that the strings show: piles, targets and tubes."""
    recipes = [p.recipe for s in mixed.strings for p in s.piles]
    warm([*(r.lab for r in recipes), *(r.target for r in recipes)])
    warm({mixed.tube(i).lab for r in recipes for i, _ in r.shares})
