"""CIE XYZ, CIELAB and sRGB for D65 and the 1931 two degree observer; Y = 1 for the reference white.

Sources: CIE 015:2018 (CIELAB); IEC 61966-2-1 (sRGB). The spectral weights are a table that
``tools/make_observer_table.py`` computes from the CIE 1931 observer and the standard illuminants.
"""

import functools
import json
from collections.abc import Sequence
from typing import Any

import numpy as np
import numpy.typing as npt

from ochre_stone.resources import resource

Array = npt.NDArray[np.float64]
Lab = tuple[float, float, float]
"""CIELAB L*, a*, b*, D65 and the 2 degree observer unless told otherwise."""

WAVELENGTHS: Array = np.arange(380.0, 731.0, 10.0)
"""36 band centres in nm: 380, 390 ... 730."""

_EPSILON = 216 / 24389  # (6/29)^3, CIE 015:2018
_KAPPA = 24389 / 27

SRGB_TO_XYZ: Array = np.array(
    [
        [0.4123907993, 0.3575843394, 0.1804807884],
        [0.2126390059, 0.7151686788, 0.0721923154],
        [0.0193308187, 0.1191947798, 0.9505321522],
    ]
)
"""Linear sRGB to XYZ, from the primaries and white of IEC 61966-2-1 at full precision."""
XYZ_TO_SRGB: Array = np.asarray(np.linalg.inv(SRGB_TO_XYZ), dtype=np.float64)

WHITE_D65: Array = SRGB_TO_XYZ.sum(axis=1)
"""XYZ of the picture white (x = 0.3127, y = 0.3290)."""

BRADFORD: Array = np.array([[0.8951, 0.2664, -0.1614], [-0.7502, 1.7135, 0.0367], [0.0389, -0.0685, 1.0296]])
"""Cone-like sharpened space for chromatic adaptation (Lam 1985, as in ICC.1:2022 annex E)."""


@functools.cache
def spectral_weights(illuminant: str = "D65") -> Array:
    """Weights that turn a reflectance into XYZ.

    Parameters: ``illuminant``: "D65" or "A".

    Returns: (36, 3), read-only: ``reflectance @ weights`` is XYZ with Y = 1 for the perfect diffuser, at the bands of
    ``WAVELENGTHS``.

    Raises KeyError for another illuminant.

    Source: the 2 degree observer and the illuminants of CIE 015:2018, integrated to bands of 10 nm.

    >>> np.round(spectral_weights().sum(axis=0), 3)  # the white point of D65
    array([0.95 , 1.   , 1.089])
    """
    table = json.loads(resource("colour", "observer.json").read_text(encoding="utf-8"))
    weights = np.array(table["weights"][illuminant], dtype=float)
    weights.setflags(write=False)
    return weights


def xyz_to_lab(xyz: npt.ArrayLike, white: Array = WHITE_D65) -> Array:
    """XYZ to CIELAB.

    Parameters: ``xyz`` (..., 3), Y = 1 for white; ``white`` (3,): XYZ of the reference white, D65 by default. Values
    below 0 are taken as they are, on the linear branch.

    Returns: L*, a*, b* (..., 3); L* is 0..100 for surfaces.

    Source: CIE 015:2018, 8.2.1, with the exact constants (6/29)^3 and (29/3)^3.

    >>> xyz_to_lab(WHITE_D65 * 0.184187)[0].round(3)  # a grey of 18.4 % is L* 50
    np.float64(50.0)
    """
    xyz = np.asarray(xyz, dtype=float)
    t = np.empty((3, *xyz.shape[:-1]))  # by planes, the dark ones apart: a fifth of the time of a choice for all
    for i in range(3):
        t[i] = xyz[..., i] / white[i]
    f = np.cbrt(t)
    dark = t <= _EPSILON
    if dark.any():
        f[dark] = (_KAPPA * t[dark] + 16) / 116
    out = np.empty(xyz.shape)
    out[..., 0] = 116 * f[1] - 16
    out[..., 1] = 500 * (f[0] - f[1])
    out[..., 2] = 200 * (f[1] - f[2])
    return out


def lab_to_xyz(lab: npt.ArrayLike, white: Array = WHITE_D65) -> Array:
    """CIELAB to XYZ: the inverse of :func:`xyz_to_lab`.

    Parameters: ``lab`` (..., 3); ``white`` (3,).

    Returns: XYZ (..., 3), Y = 1 for white.

    Source: CIE 015:2018, annex.

    >>> np.round(lab_to_xyz([50, 0, 0])[1], 6)
    np.float64(0.184187)
    """
    lab = np.asarray(lab, dtype=float)
    f = np.empty((3, *lab.shape[:-1]))
    f[1] = (lab[..., 0] + 16) / 116
    f[0] = f[1] + lab[..., 1] / 500
    f[2] = f[1] - lab[..., 2] / 200
    t = f * f * f
    dark = t <= _EPSILON
    if dark.any():
        t[dark] = (116 * f[dark] - 16) / _KAPPA
    out = np.empty(lab.shape)
    for i in range(3):
        out[..., i] = t[i] * white[i]
    return out


def encode_srgb(linear: npt.ArrayLike) -> Array:
    """Linear light to the code values of sRGB.

    Parameters: ``linear`` (...), clipped to 0..1.

    Returns: (...), 0..1.

    Source: IEC 61966-2-1:1999.

    >>> encode_srgb(0.2140411).round(4)
    np.float64(0.5)
    """
    x = np.clip(np.asarray(linear, dtype=float), 0.0, 1.0)
    return np.asarray(np.where(x <= 0.0031308, 12.92 * x, 1.055 * np.maximum(x, 1e-12) ** (1 / 2.4) - 0.055))


def decode_srgb(encoded: npt.ArrayLike) -> Array:
    """Code values of sRGB to linear light: the inverse of :func:`encode_srgb`.

    Parameters: ``encoded`` (...), 0..1.

    Returns: (...), 0..1.

    Source: IEC 61966-2-1:1999.

    >>> decode_srgb([0.04045, 0.5]).round(6)
    array([0.003131, 0.214041])
    """
    x = np.asarray(encoded, dtype=float)
    return np.where(x <= 0.04045, x / 12.92, ((x + 0.055) / 1.055) ** 2.4)


def lab_to_srgb(lab: npt.ArrayLike) -> Array:
    """CIELAB to code values of sRGB; colours outside lose chroma, never lightness or hue.

    Parameters: ``lab`` (..., 3), D65; L* is clipped to 0..100.

    Returns: (..., 3), 0..1. Chroma is reduced by bisection along the line to the grey of the same L*, to 1 part in
    16,000.

    >>> (lab_to_srgb([50, 0, 0]) * 255).round(1)  # a grey stays one
    array([118.9, 118.9, 118.9])
    """
    lab = np.asarray(lab, dtype=float)
    flat = lab.reshape(-1, 3).copy()
    flat[:, 0] = np.clip(flat[:, 0], 0.0, 100.0)
    linear = lab_to_xyz(flat) @ XYZ_TO_SRGB.T
    outside = (linear < -1e-4).any(axis=1) | (linear > 1.0001).any(axis=1)
    if outside.any():
        colours = flat[outside]
        low, high = np.zeros(len(colours)), np.ones(len(colours))
        for _ in range(14):
            middle = (low + high) / 2
            trial = colours * np.stack([np.ones_like(middle), middle, middle], axis=1)
            rgb = lab_to_xyz(trial) @ XYZ_TO_SRGB.T
            fits = (rgb >= -1e-4).all(axis=1) & (rgb <= 1.0001).all(axis=1)
            low, high = np.where(fits, middle, low), np.where(fits, high, middle)
        linear[outside] = lab_to_xyz(colours * np.stack([np.ones_like(low), low, low], axis=1)) @ XYZ_TO_SRGB.T
    return encode_srgb(linear).reshape(lab.shape)


def lab_to_hex(lab: npt.ArrayLike) -> str:
    """One Lab colour as ``#rrggbb``, brought into sRGB as in :func:`lab_to_srgb`.

    >>> lab_to_hex([50, 0, 0])
    '#777777'
    """
    r, g, b = np.round(lab_to_srgb(lab).reshape(3) * 255).astype(int)
    return f"#{r:02x}{g:02x}{b:02x}"


def hex_to_lab(text: str) -> Array:
    """``#rrggbb`` or ``rrggbb`` to Lab (3,). Raises ValueError when it is not six hexadecimal digits.

    >>> hex_to_lab("#ffffff").round(3) + 0.0
    array([100.,   0.,   0.])
    """
    digits = text.strip().lstrip("#")
    if len(digits) != 6:
        raise ValueError(f"'{text}' is not a colour like #c9a27e")
    code = np.array([int(digits[i : i + 2], 16) for i in (0, 2, 4)]) / 255
    return xyz_to_lab(SRGB_TO_XYZ @ decode_srgb(code))


def adaptation(source: npt.ArrayLike, target: npt.ArrayLike = WHITE_D65) -> Array:
    """The matrix that takes XYZ seen under one white to another.

    Parameters: ``source``, ``target`` (3,): XYZ of the whites, of any luminance; only their chromaticity matters.

    Returns: (3, 3), for ``matrix @ xyz``.

    Source: von Kries's gains in the sharpened cones of Lam 1985 ("Bradford"), as ICC.1:2022, annex E, gives them.

    >>> d50 = [0.9642, 1.0, 0.8249]
    >>> adaptation(d50).round(4)[0]  # the first row that ICC profiles are undone with
    array([ 0.9555, -0.0231,  0.0633])
    """
    s = np.asarray(source, dtype=float)
    t = np.asarray(target, dtype=float)
    gain = (BRADFORD @ (t / t[1])) / (BRADFORD @ (s / s[1]))
    matrix: Array = np.linalg.inv(BRADFORD) @ np.diag(gain) @ BRADFORD
    return matrix


def lch(lab: npt.ArrayLike) -> tuple[Any, Any, Any]:
    """Lightness, chroma and hue angle of Lab.

    Parameters: ``lab`` (..., 3).

    Returns: L*, C*ab and hue in degrees 0..360, (...) each. The hue of a grey is 0.

    Source: CIE 015:2018, 8.2.1.2.

    >>> [float(x) for x in lch([50, 3, 4])][:2]
    [50.0, 5.0]
    """
    lab = np.asarray(lab, dtype=float)
    hue = np.degrees(np.arctan2(lab[..., 2], lab[..., 1])) % 360
    return lab[..., 0], np.hypot(lab[..., 1], lab[..., 2]), hue


def as_lab(row: Sequence[float] | npt.NDArray[np.floating[Any]]) -> Lab:
    """Three numbers as plain floats: what objects that are kept and compared hold.

    >>> as_lab(np.array([50, 1, 2]))
    (50.0, 1.0, 2.0)
    """
    return float(row[0]), float(row[1]), float(row[2])
