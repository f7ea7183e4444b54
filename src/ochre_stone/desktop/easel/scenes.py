"""What the easel can show: the picture in a view, its masses, or the picture with other colours. Each is drawn by a
worker, from what was there when it was asked for."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING

from PyQt6.QtGui import QImage

from ochre_stone.core.document.document import Document
from ochre_stone.core.picture.balance import Balance
from ochre_stone.core.picture.frame import Framed
from ochre_stone.core.picture.picture import Floats, Picture, lab_to_linear
from ochre_stone.core.picture.views import View, show
from ochre_stone.desktop.session import display
from ochre_stone.desktop.session.measuring import SCREEN_PIXELS
from ochre_stone.desktop.widgets.image import to_image

if TYPE_CHECKING:
    from ochre_stone.core.masses.plan import Ground, MassPlan
    from ochre_stone.core.picture.losses import Losses
    from ochre_stone.desktop.easel.masscover import Overlay

Label = tuple[float, float, str, bool]
"""A word on the picture: place as shares of width and height, what it says, whether it lies on the dark."""
_MIDDLE_GREY = 118


@dataclass(frozen=True, eq=False)
class DrawnScene:
    """A picture for the easel."""

    image: QImage
    copy: Floats
    """Linear-light colours (h, w, 3) that the pointer reads."""
    cover: QImage | None = None
    """What lies over it, see-through elsewhere."""
    labels: tuple[Label, ...] = ()
    flips: bool = True
    """Whether it is turned about where the view mirrors."""


Drawing = Callable[[], DrawnScene]


def the_picture(seen: Framed, screen: Floats | None, document: Document, view: View, lost: "Losses | None") -> Drawing:
    """The picture through a frame and a view. ``screen``: its linear-light copy in the document's light, where it is
    made already; ``lost``: what the photo lost, where that is to lie over it."""
    encode = display.screen().encode

    def draw() -> DrawnScene:
        if view.before:
            copy = Balance().apply(seen.reduced(SCREEN_PIXELS))
        elif screen is not None:
            copy = screen
        else:
            copy = document.the_balance().apply(seen.reduced(SCREEN_PIXELS))
        from ochre_stone.desktop.easel.overlays import lost_cover

        over = lost_cover(lost, view.mirror) if lost is not None else None
        return DrawnScene(to_image(show(copy, view, encode)), copy, over)

    return draw


def the_masses(
    plan: "MassPlan",
    fine: "MassPlan",
    picture: Picture,
    document: Document,
    screen: Floats,
    ground: "Ground | None" = None,
    over: "Overlay | None" = None,
) -> Drawing:
    """Masses in their greys, numbered, with an overlay. ``plan`` and ``ground`` are of the preview, ``fine`` is the
    plan at the size of print."""

    def draw() -> DrawnScene:
        from ochre_stone.core.masses.plan import label_places
        from ochre_stone.core.planning.massing import draw_plan
        from ochre_stone.desktop.easel.masscover import cover

        height, width = plan.labels.shape
        code = display.greys(draw_plan(fine, picture, document, width * 2, height * 2))
        dark = plan.greys() < _MIDDLE_GREY
        lies = cover(plan, fine, ground, over) if over is not None and ground is not None else None
        labels = tuple((x, y, str(i + 1), bool(dark[i])) for x, y, i in label_places(plan))
        return DrawnScene(to_image(code), screen, lies, labels, flips=False)

    return draw


def other_colours(screen: Floats, recolour: Callable[[Floats], Floats], view: View) -> Drawing:
    """The picture in other colours: ``recolour`` makes CIELAB (h, w, 3) of the linear-light copy."""
    encode = display.screen().encode

    def draw() -> DrawnScene:
        return DrawnScene(to_image(show(lab_to_linear(recolour(screen)), view, encode)), screen)

    return draw
