"""Look as painters look: values only, squinting, chroma exaggerated, mirrored. Views never change what is sampled."""

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import SRGB_TO_XYZ
from ochre_stone.core.later import later
from ochre_stone.core.picture.picture import Floats, linear_to_code

cv2 = later("cv2")

Grid = Literal["none", "thirds", "squares"]
GRIDS: tuple[Grid, ...] = get_args(Grid)
CHROMA_GAIN = 3.0
_STRIP = 40_000
_LUMINANCE: Floats = np.repeat(SRGB_TO_XYZ[1:2], 3, axis=0).astype(np.float32)


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


def squint(linear: Floats, strength: float = 0.5) -> Floats:
    """Blur in linear light, as lashes do: details melt, few shapes remain. ``strength`` 0..1; 1 is 4 % of the
    picture."""
    if not 0 <= strength <= 1:
        raise ValueError(f"squint strength {strength} is not between 0 and 1")
    sigma = 0.04 * strength * float(np.sqrt(linear.shape[0] * linear.shape[1]))
    if sigma < 0.3:
        return linear
    # A soft blur needs no fine grid: it is made on a copy whose pixels are a fifth of it wide.
    coarse = max(1, int(sigma / 5))
    height, width = linear.shape[:2]
    small = linear
    if coarse > 1:
        size_small = (max(1, round(width / coarse)), max(1, round(height / coarse)))
        small = cv2.resize(linear, size_small, interpolation=cv2.INTER_AREA)
        sigma /= coarse
    # Three box blurs come within a few percent of a Gaussian and cost the same at any width.
    size = max(3, int(np.sqrt(4 * sigma * sigma + 1)) | 1)
    for _ in range(3):
        small = cv2.blur(small, (size, size), borderType=cv2.BORDER_REFLECT)
    if coarse > 1:
        small = cv2.resize(small, (width, height), interpolation=cv2.INTER_LINEAR)
    return np.asarray(small, dtype=np.float32)


def exaggerate(linear: Floats, gain: float = CHROMA_GAIN) -> Floats:
    """Chroma exaggerated with luminance kept: shows which way a near-grey leans.

    The colour moves away from the grey of its own luminance; where a channel would leave 0..1 it goes as far as it
    can, so that neither luminance nor the lean changes. Works in strips that stay in the processor's cache.
    """
    out = np.empty(linear.shape, np.float32)
    for strip in _strips(linear):
        out[strip] = _exaggerated(linear[strip], gain)
    return out


def _strips(linear: Floats) -> list[slice]:
    rows = max(1, _STRIP // max(1, linear.shape[1]))
    return [slice(top, top + rows) for top in range(0, linear.shape[0], rows)]


def _exaggerated(linear: Floats, gain: float) -> Floats:
    y = cv2.transform(np.ascontiguousarray(linear), _LUMINANCE[:1])
    red, green, blue = cv2.split(np.ascontiguousarray(linear))
    over = cv2.max(cv2.subtract(cv2.max(cv2.max(red, green), blue), y), 1e-6)
    under = cv2.max(cv2.subtract(y, cv2.min(cv2.min(red, green), blue)), 1e-6)
    room = cv2.min(cv2.divide(cv2.max(cv2.subtract(1.0, y), 0.0), over), cv2.divide(cv2.max(y, 0.0), under))
    most = cv2.min(cv2.max(room, 1.0), gain)
    rest = cv2.subtract(y, cv2.multiply(y, most))
    return np.asarray(cv2.merge([cv2.add(cv2.multiply(c, most), rest) for c in (red, green, blue)]), dtype=np.float32)


def _toned(linear: Floats, view: View) -> Floats:
    if view.value:
        return np.asarray(cv2.transform(np.ascontiguousarray(linear), _LUMINANCE))
    return exaggerate(linear) if view.chroma else linear


def show(
    linear: Floats, view: View, encode: Callable[[Floats], npt.NDArray[np.uint8]] = linear_to_code
) -> npt.NDArray[np.uint8]:
    """The view as bytes (h, w, 3), ``encode`` turning linear light into the screen's numbers.

    Toned and encoded strip by strip on two threads, so that a view follows its key within a frame or two.
    """
    whole = squint(linear, view.strength) if view.squint else linear
    out = np.empty(whole.shape, np.uint8)

    def one(strip: slice) -> None:
        out[strip] = encode(_toned(whole[strip], view))

    with ThreadPoolExecutor(2) as pool:
        list(pool.map(one, _strips(whole)))
    return np.asarray(cv2.flip(out, 1)) if view.mirror else out
