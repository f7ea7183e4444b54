"""A reference picture in memory: the code values of its file, and how to turn them into linear light.

The code values stay as the file has them (8 or 16 bits, or floating point), a curve per channel and a 3 x 3 matrix
lead to linear-light sRGB without clipping: colours beyond sRGB have negative or more than full channels and stay what
they are. That keeps a 24-megapixel photo at 3 bytes a pixel and every colour of a wide-gamut one.
"""

import functools
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.munsell import value_of_luminance
from ochre_stone.core.colour.spaces import SRGB_TO_XYZ, WHITE_D65, XYZ_TO_SRGB, decode_srgb, encode_srgb
from ochre_stone.core.later import later
from ochre_stone.core.picture.remembered import Remembered

cv2 = later("cv2")

Floats = npt.NDArray[np.float32]
Mask = npt.NDArray[np.bool_]

_STRIP_PIXELS = 400_000
BURNT, CRUSHED = 0.992, 0.008
"""Shares of the code range beyond which a channel holds no more light, or all channels no more dark (254 and 2 of
255)."""
_NO_LIGHT = 0.00061
"""Linear light of sRGB's code 2: what is darker in a file of linear light, RAW or floating point, is crushed."""


@dataclass(frozen=True, eq=False)
class Encoding:
    """From code values to linear-light sRGB: ``matrix @ curve[code]``."""

    curve: Floats | None = None
    """Linear light (n, 3) of each code value, n = 256 or 65536; None where the code is linear light already."""
    matrix: Floats | None = None
    """(3, 3) from the linear light of the file's own primaries to linear sRGB; None for the identity."""

    @functools.cached_property
    def no_light(self) -> int:
        """The highest code that still stands for no light to speak of."""
        if self.curve is None:
            return 0
        return int(np.searchsorted(self.curve.max(axis=1), _NO_LIGHT, side="right")) - 1

    def linear(self, code: npt.NDArray[Any]) -> Floats:
        """Linear-light sRGB (h, w, 3), float32, of code values (h, w, 3)."""
        if self.curve is None:
            out = np.ascontiguousarray(code, dtype=np.float32)
        elif code.dtype == np.uint8:
            out = np.asarray(cv2.LUT(np.ascontiguousarray(code), self.curve.reshape(1, 256, 3)))
        else:
            out = np.empty(code.shape, np.float32)
            for i in range(3):
                np.take(self.curve[:, i], code[..., i], out=out[..., i])
        if self.matrix is None or out.size == 0:
            return out
        return np.asarray(cv2.transform(out, self.matrix), dtype=np.float32)


_SRGB: dict[int, Encoding] = {}


def srgb_encoding(itemsize: int) -> Encoding:
    """The encoding of plain sRGB of 1 or 2 bytes a channel."""
    if itemsize not in _SRGB:
        curve = decode_srgb(np.linspace(0, 1, 256 if itemsize == 1 else 65536)).astype(np.float32)
        _SRGB[itemsize] = Encoding(np.ascontiguousarray(np.repeat(curve[:, None], 3, axis=1)))
    return _SRGB[itemsize]


@dataclass(frozen=True, eq=False)
class Picture:
    """A reference picture, upright; never changed once loaded."""

    code: npt.NDArray[Any]
    """Code values (h, w, 3): uint8, uint16 or float32."""
    name: str
    source: bytes = field(repr=False)
    """The file as it came, byte for byte."""
    remarks: tuple[str, ...] = ()
    encoding: Encoding = field(default_factory=Encoding, repr=False)
    remembered: Remembered = field(default_factory=Remembered, repr=False)
    """What was worked out of it before."""

    @property
    def width(self) -> int:
        return int(self.code.shape[1])

    @property
    def height(self) -> int:
        return int(self.code.shape[0])

    @property
    def depth(self) -> str:
        """How finely the file tells its colours, in words."""
        return {1: "8 bits a channel", 2: "16 bits a channel", 4: "floating point"}[self.code.dtype.itemsize]

    def linear(self, rows: slice = slice(None), columns: slice = slice(None)) -> Floats:
        """Linear-light sRGB (..., 3) of a part of the picture, float32, 1 = white; beyond 0..1 outside sRGB."""
        return self.encoding.linear(self.code[rows, columns])

    def lost(self, rows: slice = slice(None), columns: slice = slice(None)) -> tuple[Mask, Mask]:
        """Where the file lost the lights (a channel burnt out) and the darks (all channels crushed), (h, w) each."""
        part = self.code[rows, columns]
        if part.dtype.kind == "f":
            top = BURNT if self._peak() <= 1.0 else np.inf  # a picture that goes past 1 was not cut off there
            return np.asarray((part >= top).any(axis=-1)), np.asarray((part <= _NO_LIGHT).all(axis=-1))
        full = np.iinfo(part.dtype).max
        most = part.max(axis=-1)
        return np.asarray(most >= BURNT * full), np.asarray(most <= min(CRUSHED * full, self.encoding.no_light))

    def _peak(self) -> float:
        return self.remembered.fact("peak", lambda: float(self.code.max()))

    def strips(self) -> Iterator[slice]:
        """Slices of rows that together are the picture, each small enough to keep memory low."""
        step = max(1, _STRIP_PIXELS // self.width)
        for top in range(0, self.height, step):
            yield slice(top, min(top + step, self.height))

    def reduced(self, pixels: int) -> Floats:
        """Linear-light copy (h', w', 3) of at most about ``pixels`` pixels, averaged by area in linear light; kept."""
        return self.part((0, 0, self.width, self.height), pixels)

    def part(self, box: tuple[int, int, int, int], pixels: int) -> Floats:
        """Linear-light copy of ``box`` (left, top, right, bottom) as :meth:`reduced` makes it; read-only, kept.

        Works in strips, so that memory stays near that of the copy.
        """
        return self.remembered.copy((box, pixels), lambda: self._reduce(box, pixels))

    def _reduce(self, box: tuple[int, int, int, int], pixels: int) -> Floats:
        left, top, right, bottom = box
        wide, high = right - left, bottom - top
        factor = max(1, int((wide * high / pixels) ** 0.5))
        if factor > 1:
            width, height = wide // factor, high // factor
            small = np.empty((height, width, 3), np.float32)
            step = max(1, 256 // factor)
            for first in range(0, height, step):
                rows = min(step, height - first)
                strip = self.linear(
                    slice(top + first * factor, top + (first + rows) * factor), slice(left, left + width * factor)
                )
                small[first : first + rows] = cv2.resize(strip, (width, rows), interpolation=cv2.INTER_AREA)
        else:
            small = self.linear(slice(top, bottom), slice(left, right))
        scale = (pixels / (small.shape[0] * small.shape[1])) ** 0.5
        if scale < 0.999:
            size = (max(1, round(small.shape[1] * scale)), max(1, round(small.shape[0] * scale)))
            small = cv2.resize(small, size, interpolation=cv2.INTER_AREA)
        return np.ascontiguousarray(small, dtype=np.float32)


_VALUES: Floats = value_of_luminance(np.linspace(0, 1, 65536) ** 2).astype(np.float32)


def values_of(y: npt.ArrayLike) -> Floats:
    """Munsell value of luminances Y by a table over the square root of Y; within .001, clipped to 0..10."""
    root = np.sqrt(np.clip(np.asarray(y, dtype=np.float32), 0, 1))
    return np.asarray(_VALUES[(root * 65535 + 0.5).astype(np.uint16)])


def xyz_and_value(picture: Picture) -> tuple[Floats, Floats]:
    """XYZ (h, w, 3), Y = 1 for white, and Munsell value (h, w) of every pixel, float32.

    Strip by strip: beside the answer and the code values only a few megabytes are in use.
    """
    matrix = SRGB_TO_XYZ.astype(np.float32)
    if picture.encoding.matrix is not None:
        matrix = matrix @ picture.encoding.matrix
    curves = Encoding(picture.encoding.curve)
    xyz = np.empty((picture.height, picture.width, 3), np.float32)
    value = np.empty((picture.height, picture.width), np.float32)
    for rows in picture.strips():
        xyz[rows] = cv2.transform(curves.linear(picture.code[rows]), matrix)
        value[rows] = values_of(xyz[rows, :, 1])
    return xyz, value


_TO_LAB: Floats = (SRGB_TO_XYZ / WHITE_D65[:, None]).astype(np.float32)


def linear_to_lab(linear: npt.ArrayLike) -> Floats:
    """Linear-light sRGB (..., 3) to CIELAB D65 (..., 3), float32; within .01 of the exact formula."""
    rgb = np.asarray(linear, dtype=np.float32)
    if rgb.size == 0:
        return np.zeros(rgb.shape, np.float32)
    t = np.maximum(cv2.transform(np.ascontiguousarray(rgb.reshape(-1, 1, 3)), _TO_LAB).reshape(-1, 3), 0)
    f = np.cbrt(t)
    dark = t <= np.float32(216 / 24389)
    f[dark] = (np.float32(24389 / 27) * t[dark] + 16) / np.float32(116)
    out = np.empty_like(t)
    out[:, 0] = 116 * f[:, 1] - 16
    out[:, 1] = 500 * (f[:, 0] - f[:, 1])
    out[:, 2] = 200 * (f[:, 1] - f[:, 2])
    return np.asarray(out.reshape(rgb.shape))


_FROM_LAB: Floats = (XYZ_TO_SRGB * WHITE_D65[None, :]).astype(np.float32)


def lab_to_linear(lab: npt.ArrayLike) -> Floats:
    """CIELAB D65 (..., 3) to linear-light sRGB (..., 3), float32, not clipped; the inverse of :func:`linear_to_lab`."""
    colours = np.asarray(lab, dtype=np.float32)
    if colours.size == 0:
        return np.zeros(colours.shape, np.float32)
    flat = colours.reshape(-1, 3)
    f = np.empty_like(flat)
    f[:, 1] = (flat[:, 0] + 16) / np.float32(116)
    f[:, 0] = f[:, 1] + flat[:, 1] / np.float32(500)
    f[:, 2] = f[:, 1] - flat[:, 2] / np.float32(200)
    t = f * f * f
    dark = t <= np.float32(216 / 24389)
    t[dark] = (np.float32(116) * f[dark] - 16) * np.float32(27 / 24389)
    return np.asarray(cv2.transform(t.reshape(-1, 1, 3), _FROM_LAB).reshape(colours.shape))


_CODE_SCALE = 16384
_ENCODE: npt.NDArray[np.uint8] = np.round(encode_srgb(np.minimum(np.arange(65536) / _CODE_SCALE, 1.0)) * 255).astype(
    np.uint8
)


def fixed_point(linear: npt.ArrayLike) -> npt.NDArray[np.uint16]:
    """Linear light as whole numbers, 16384 for 1, rounded and held to 0..65535: an index for tables."""
    x = np.ascontiguousarray(linear, dtype=np.float32)
    if x.size < 1000:  # a few swatches do without OpenCV
        return np.asarray(np.clip(np.rint(x * np.float32(_CODE_SCALE)), 0, 65535), np.uint16)
    # OpenCV rounds, holds to the range and converts in one pass.
    return np.asarray(cv2.multiply(x.reshape(-1, 1), _CODE_SCALE, dtype=cv2.CV_16U)).reshape(x.shape)


def linear_to_code(linear: npt.ArrayLike) -> npt.NDArray[np.uint8]:
    """Linear light to sRGB bytes, clipped, by a table; large pictures in strips that stay in the processor's cache."""
    x = np.asarray(linear, dtype=np.float32)
    if x.ndim < 2 or x.size < 300_000:
        return np.asarray(_ENCODE[fixed_point(x)])
    out = np.empty(x.shape, np.uint8)
    rows = max(1, 120_000 * x.shape[0] // x.size)
    for top in range(0, x.shape[0], rows):
        out[top : top + rows] = _ENCODE[fixed_point(x[top : top + rows])]
    return out
