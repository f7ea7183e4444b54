"""What the easel can show: the picture in a view, its masses, or the picture with other colours. Each is drawn by a
worker, from what was there when it was asked for."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
import numpy.typing as npt
from PyQt6.QtGui import QImage

from ochre_stone.core.document.document import Document
from ochre_stone.core.later import later
from ochre_stone.core.picture.balance import Balance
from ochre_stone.core.picture.frame import Framed
from ochre_stone.core.picture.picture import Floats, Picture, lab_to_linear
from ochre_stone.core.picture.views import View, show
from ochre_stone.desktop.session import display
from ochre_stone.desktop.session.measuring import SCREEN_PIXELS
from ochre_stone.desktop.widgets.image import to_image

cv2 = later("cv2")

if TYPE_CHECKING:
    from ochre_stone.core.masses.plan import Ground, MassPlan
    from ochre_stone.core.picture.losses import Losses
    from ochre_stone.core.planning.blockin import LaidIn
    from ochre_stone.core.planning.lacking import Lacking
    from ochre_stone.desktop.easel.masscover import Overlay

Label = tuple[float, float, str, bool]
"""A word on the picture: place as shares of width and height, what it says, whether it lies on the dark."""
_MIDDLE_GREY = 118
_PALE, _DEEP, _OF_LIGHTNESS, _LIGHT = 74.0, 34.0, 0.22, 66.0
"""Lightness from which places without colour start, pale or, about a pile lighter than the last, deep; how much of
their own they keep."""
_SMALL = 480
"""Pixels across of a small picture."""
_HELD_LINE, _HELD_INK = 0.0016, 0.7
"""Width of the line about the pile in hand, in sides of the picture, and how far it covers."""


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
    laid: "LaidIn | None" = None
    """The block-in that it shows."""
    missing: "tuple[Lacking, ...] | None" = None
    """What is missing in it, where that is shown."""
    photo: QImage | None = None
    """The picture, to be seen at the left of a border."""


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


def the_block_in(
    laid: "LaidIn",
    screen: Floats,
    view: View,
    held: str | None,
    alone: bool,
    missing: "tuple[Lacking, ...] | None" = None,
    halves: bool = False,
    small: bool = False,
) -> Drawing:
    """The block-in through a view. ``held``: id of the pile in hand, lined, or ``alone`` in colour; ``missing``: all
    pale, and these places in the colour that is missing; ``halves``: the photo too, for the left of a border;
    ``small``: for a picture no wider than a hand."""
    encode = display.screen().encode

    def draw() -> DrawnScene:
        from ochre_stone.core.masses.shapes import enlarge

        height, width = screen.shape[:2]
        if small and width > _SMALL:
            height, width = max(1, round(_SMALL * height / width)), _SMALL
        labels = laid.enlarged(width, height) if not small else enlarge(laid.labels, len(laid.piles), width, height)
        _ = laid.spots  # made here, not while the window waits
        lab = laid.colours.astype(np.float32)
        own = np.array([any(p.id == held for p in group) for group in laid.piles])
        if alone or missing is not None:
            pale, light = np.zeros_like(lab), bool((lab[own, 0] > _LIGHT).any()) and missing is None
            pale[:, 0] = (_DEEP if light else _PALE) + _OF_LIGHTNESS * lab[:, 0]
            lab = np.where(own[:, None] & (missing is None), lab, pale)
        linear = lab_to_linear(lab.reshape(-1, 1, 3)).reshape(-1, 3)[labels]
        for one in reversed(missing or ()):  # the most worth on top
            where = cv2.resize(one.place.where.astype(np.float32), (width, height), interpolation=cv2.INTER_LINEAR)
            linear[where > 0.5] = lab_to_linear(np.array(one.place.lab, np.float32).reshape(1, 1, 3)).ravel()
        code = show(linear, view, encode)
        if not alone and missing is None and own.any() and not view.squint:
            mask = own[labels].astype(np.uint8)
            _line(code, np.asarray(cv2.flip(mask, 1)) if view.mirror else mask, float(lab[own, 0].mean()))
        photo = to_image(show(screen, view, encode)) if halves else None
        return DrawnScene(to_image(code), linear, laid=laid, missing=missing, photo=photo)

    return draw


def _line(code: npt.NDArray[np.uint8], mask: npt.NDArray[np.uint8], lightness: float) -> None:
    """A thin line within places, light on dark and dark on light."""
    wide = max(1, round(_HELD_LINE * float(np.sqrt(mask.size))))
    rim = (cv2.erode(mask, np.ones((2 * wide + 1, 2 * wide + 1), np.uint8), borderValue=1) == 0) & (mask > 0)
    ink = 0.0 if lightness > 50 else 255.0
    code[rim] = (code[rim] * (1 - _HELD_INK) + ink * _HELD_INK).astype(np.uint8)
