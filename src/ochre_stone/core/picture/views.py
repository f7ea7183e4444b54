"""Look as painters look: values only, squinting, chroma exaggerated, mirrored. Views never change what is sampled."""

from dataclasses import dataclass, replace
from typing import Literal

import cv2
import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import SRGB_TO_XYZ
from ochre_stone.core.picture.picture import Floats, linear_to_code

Grid = Literal["none", "thirds", "squares"]
CHROMA_GAIN = 3.0


@dataclass(frozen=True)
class View:
    """How the picture is looked at; the parts combine."""

    value: bool = False
    squint: bool = False
    strength: float = 0.5
    """Of the squint, 0..1."""
    chroma: bool = False
    mirror: bool = False
    isolate: bool = False
    lost: bool = False
    grid: Grid = "none"
    before: bool = False
    """As photographed, whatever the light is set to: while a key is held."""

    @property
    def is_plain(self) -> bool:
        return replace(self, strength=0.5) == View()


def squint(linear: Floats, strength: float = 0.5) -> Floats:
    """Blur in linear light, as lashes do: details melt, few shapes remain. ``strength`` 0..1; 1 is 4 % of the
    picture."""
    if not 0 <= strength <= 1:
        raise ValueError(f"squint strength {strength} is not between 0 and 1")
    sigma = 0.04 * strength * float(np.sqrt(linear.shape[0] * linear.shape[1]))
    if sigma < 0.3:
        return linear
    # Three box blurs come within a few percent of a Gaussian and cost the same at any width.
    size = max(3, int(np.sqrt(4 * sigma * sigma + 1)) | 1)
    out = linear
    for _ in range(3):
        out = cv2.blur(out, (size, size), borderType=cv2.BORDER_REFLECT)
    return np.asarray(out, dtype=np.float32)


def exaggerate(linear: Floats, gain: float = CHROMA_GAIN) -> Floats:
    """Chroma exaggerated with luminance kept: shows which way a near-grey leans.

    The colour moves away from the grey of its own luminance; where a channel would leave 0..1 it goes as far as it
    can, so that neither luminance nor the lean changes.
    """
    y = np.asarray(linear @ SRGB_TO_XYZ[1].astype(np.float32))[..., None]
    off = linear - y
    with np.errstate(divide="ignore", invalid="ignore"):
        room = np.where(off > 0, np.maximum(1 - y, 0) / off, np.where(off < 0, -y / off, np.inf)).min(axis=-1)
    most = np.clip(room, 1.0, gain).astype(np.float32)
    return np.asarray(y + off * most[..., None], dtype=np.float32)


def render(linear: Floats, view: View) -> Floats:
    """Linear light (h, w, 3) as seen in a view, to be encoded for a screen."""
    shown = squint(linear, view.strength) if view.squint else linear
    if view.chroma and not view.value:
        shown = exaggerate(shown)
    if view.mirror:
        shown = np.ascontiguousarray(shown[:, ::-1])
    if view.value:
        y = np.asarray(shown @ SRGB_TO_XYZ[1].astype(np.float32))
        shown = np.repeat(y[..., None], 3, axis=2)
    return shown


def code(linear: Floats, view: View) -> npt.NDArray[np.uint8]:
    """The view as sRGB bytes (h, w, 3)."""
    return linear_to_code(render(linear, view))
