"""Colour profiles (ICC.1): from a file's code values to linear-light sRGB without clipping.

Conversions are LittleCMS's, relative colorimetric. A profile made of curves and a matrix (cameras, monitors, working
spaces) becomes an :class:`Encoding` that keeps the code values; any other one (CMYK, scanners) is applied to the
pixels, into the wide primaries of ITU-R BT.2020 at 16 bits.
"""

import functools
import io
from concurrent.futures import ThreadPoolExecutor
from typing import TYPE_CHECKING, Any

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import XYZ_TO_SRGB, Array, adaptation, decode_srgb
from ochre_stone.core.errors import one_line
from ochre_stone.core.later import later
from ochre_stone.core.picture.picture import Encoding, Floats

if TYPE_CHECKING:
    from PIL import Image

imagecodecs, ImageCms = later("imagecodecs"), later("PIL.ImageCms")

_RELATIVE = 1  # ICC rendering intent: media-relative colorimetric
_EXACT = 0x0100  # LittleCMS: no short cuts through coarse tables, which shift deep darks by several codes
_D65 = (0.3127, 0.3290)
_BT2020 = ((0.708, 0.292), (0.170, 0.797), (0.131, 0.046))
_SRGB = ((0.64, 0.33), (0.30, 0.60), (0.15, 0.06))
PRIMARIES = {1: _SRGB, 9: _BT2020, 12: ((0.680, 0.320), (0.265, 0.690), (0.150, 0.060))}
"""Primaries by their code in ITU-T H.273: BT.709/sRGB, BT.2020, Display P3 (white D65 each)."""
_WIDE_GAMMA = 2.2
_NAME = 100
"""Characters of a profile's name."""


def matrix_profile(primaries: tuple[tuple[float, float], ...], gamma: float) -> bytes:
    """An ICC profile of three primaries (x, y) with white D65 and a power curve."""
    flat = [v for x, y in primaries for v in (x, y, 1.0)]
    return bytes(imagecodecs.cms_profile("rgb", whitepoint=(*_D65, 1.0), primaries=flat, gamma=gamma))


@functools.cache
def linear_profile() -> bytes:
    """Linear-light sRGB as an ICC profile."""
    return matrix_profile(_SRGB, 1.0)


@functools.cache
def _wide_profile() -> bytes:
    return matrix_profile(_BT2020, _WIDE_GAMMA)


def primaries_matrix(primaries: tuple[tuple[float, float], ...], white: tuple[float, float] = _D65) -> Array:
    """(3, 3) from linear light of ``primaries`` (x, y) under ``white`` to linear-light sRGB; whites adapted."""
    xyz = np.array([[x / y, 1.0, (1 - x - y) / y] for x, y in primaries]).T
    w = np.array([white[0] / white[1], 1.0, (1 - white[0] - white[1]) / white[1]])
    scaled = xyz * np.linalg.solve(xyz, w)
    return np.asarray(XYZ_TO_SRGB @ adaptation(w) @ scaled)


def _transform(
    data: npt.NDArray[Any], profile: bytes, into: bytes, space: str, dtype: Any, flags: int = 0
) -> npt.NDArray[Any]:
    return np.asarray(
        imagecodecs.cms_transform(
            np.ascontiguousarray(data),
            profile,
            into,
            colorspace=space,
            outcolorspace="rgb",
            outdtype=dtype,
            intent=_RELATIVE,
            flags=flags,
        )
    )


@functools.lru_cache(maxsize=16)
def encoding_of(profile: bytes, itemsize: int, grey: bool = False) -> Encoding | None:
    """The encoding that a profile stands for with code values of 1 or 2 bytes, None where it is not curves and matrix.

    Raises ValueError where the profile does not serve for these pixels at all.
    """
    dtype, n = (np.uint8, 256) if itemsize == 1 else (np.uint16, 65536)
    ramp = np.arange(n, dtype=dtype)
    try:
        if grey:
            answer = _transform(ramp[:, None, None], profile, linear_profile(), "gray", np.float32).reshape(n, 3)
            return Encoding(np.ascontiguousarray(np.repeat(answer.mean(axis=1)[:, None], 3, axis=1)))
        pure = np.zeros((3, n, 3), dtype)
        for i in range(3):
            pure[i, :, i] = ramp
        answer = _transform(pure, profile, linear_profile(), "rgb", np.float32).astype(float)
        trial = np.random.default_rng(1).integers(0, n, (1, 400, 3)).astype(dtype)
        true = _transform(trial, profile, linear_profile(), "rgb", np.float32)[0]
    except Exception as error:  # the library raises its own kinds
        raise ValueError("the colour profile does not fit the picture") from error
    matrix = answer[:, -1].T  # column i: what channel i alone gives at full
    reach = (answer * answer[:, -1:]).sum(axis=2) / np.maximum((answer[:, -1:] ** 2).sum(axis=2), 1e-12)
    curve = np.ascontiguousarray(reach.T, dtype=np.float32)
    encoding = Encoding(curve, matrix.astype(np.float32))
    if not float(np.abs(encoding.linear(trial)[0] - true).max()) <= 2e-3 or abs(np.linalg.det(matrix)) < 1e-6:
        return None
    if np.allclose(matrix, np.eye(3), atol=1e-3):
        return Encoding(curve)
    return encoding


def apply_profile(data: npt.NDArray[Any], profile: bytes, space: str) -> tuple[npt.NDArray[np.uint16], Encoding]:
    """Pixels (h, w, n) of "rgb", "cmyk" or "gray" through any profile: 16-bit codes of BT.2020 and their encoding.

    Raises ValueError where the profile does not serve.
    """
    out = np.empty((*data.shape[:2], 3), np.uint16)
    step = max(1, 400_000 // max(1, data.shape[1]))

    def convert(top: int) -> None:
        strip = slice(top, top + step)
        out[strip] = _transform(data[strip], profile, _wide_profile(), space, np.uint16, _EXACT)

    try:
        with ThreadPoolExecutor(2) as pool:  # the library works outside Python's lock
            list(pool.map(convert, range(0, data.shape[0], step)))
    except Exception as error:
        raise ValueError("the colour profile does not fit the picture") from error
    return out, wide_encoding()


def linear_of_floats(data: Floats, profile: bytes) -> Floats:
    """Linear-light sRGB of floating-point RGB with a profile. Raises ValueError where the profile does not serve."""
    try:
        return np.asarray(_transform(data, profile, linear_profile(), "rgb", np.float32))
    except Exception as error:
        raise ValueError("the colour profile does not fit the picture") from error


@functools.cache
def wide_encoding() -> Encoding:
    """What :func:`apply_profile` writes."""
    curve = (np.linspace(0, 1, 65536) ** _WIDE_GAMMA).astype(np.float32)
    return Encoding(
        np.ascontiguousarray(np.repeat(curve[:, None], 3, axis=1)), primaries_matrix(_BT2020).astype(np.float32)
    )


def power_encoding(
    itemsize: int, gamma: float, primaries: tuple[tuple[float, float], ...] | None, white: tuple[float, float] = _D65
) -> Encoding:
    """Encoding of a power curve (``gamma`` 0 stands for the sRGB curve) with primaries; None are those of sRGB."""
    codes = np.linspace(0, 1, 256 if itemsize == 1 else 65536)
    one = (decode_srgb(codes) if gamma == 0 else codes**gamma).astype(np.float32)
    curve = np.ascontiguousarray(np.repeat(one[:, None], 3, axis=1))
    if primaries is None or primaries == _SRGB:
        return Encoding(curve)
    return Encoding(curve, primaries_matrix(primaries, white).astype(np.float32))


def description(profile: bytes) -> str:
    """The profile's own name as one line, "" where it has none."""
    try:
        return one_line(ImageCms.getProfileDescription(ImageCms.ImageCmsProfile(io.BytesIO(profile))), _NAME)
    except (ImageCms.PyCMSError, OSError, ValueError):
        return ""


def lab_to_srgb_image(image: "Image.Image") -> "Image.Image":
    """A CIELAB picture (Pillow's LAB, D50, 8 bits) as sRGB."""
    way = ImageCms.buildTransform(ImageCms.createProfile("LAB"), ImageCms.createProfile("sRGB"), "LAB", "RGB")
    out: Image.Image | None = ImageCms.applyTransform(image, way)
    assert out is not None
    return out


@functools.cache
def srgb_profile() -> bytes:
    """sRGB as an ICC profile."""
    return bytes(imagecodecs.cms_profile("srgb"))


def srgb_to_profile(code: npt.NDArray[np.uint16], profile: bytes) -> npt.NDArray[np.uint8]:
    """sRGB codes (h, w, 3) of 16 bits as 8-bit codes of an RGB profile. Raises ValueError where it does not serve."""
    try:
        return np.asarray(_transform(code, srgb_profile(), profile, "rgb", np.uint8))
    except Exception as error:
        raise ValueError("the colour profile does not fit a screen") from error
