"""Munsell value by ASTM D1535, hue and chroma from a table baked from the renotation data.

Sources: ASTM D1535-14 (value as a function of luminous reflectance); Newhall, Nickerson and Judd 1943,
J. Opt. Soc. Am. 33(7) (renotation, all data, through colour-science when the table is made). Renotation is under
illuminant C, so colours are adapted from D65 with the Bradford matrix. Within value 2 to 9 and chroma 2 to 16 the table
agrees with colour-science's iterative inverse to about .2 hue steps (of 100) and .2 chroma at the 95th percentile
(``tests/external``). Outside the data the table is extended radially and says so.
"""

import functools
import re
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import WHITE_D65, Array, adaptation, lab_to_xyz, xyz_to_lab
from ochre_stone.resources import resource

HUE_NAMES = ("R", "YR", "Y", "GY", "G", "BG", "B", "PB", "P", "RP")
NEUTRAL_CHROMA = 0.5
"""Below this chroma a colour is written as a neutral (N), as Munsell practice does for near-greys."""

_WHITE_C: Array = np.array([0.31006 / 0.31616, 1.0, (1 - 0.31006 - 0.31616) / 0.31616])
_TO_C = adaptation(WHITE_D65, _WHITE_C)
_FROM_C = adaptation(_WHITE_C, WHITE_D65)
_NODES: Array = np.linspace(0.0, 10.0, 4097)


def luminance_of_value(value: npt.ArrayLike) -> Array:
    """Luminous reflectance of a Munsell value.

    Parameters: ``value`` (...), 0..10.

    Returns: Y (...), 0..1, the perfect diffuser = 1.

    Source: ASTM D1535-14, the polynomial of fifth degree.

    >>> luminance_of_value([1, 5, 9]).round(4)
    array([0.0118, 0.1927, 0.767 ])
    """
    v = np.asarray(value, dtype=float)
    y = v * (1.1914 + v * (-0.22533 + v * (0.23352 + v * (-0.020484 + v * 0.00081939))))
    return np.asarray(y / 100)


_Y_OF_NODES: Array = luminance_of_value(_NODES)


def value_of_luminance(y: npt.ArrayLike) -> Array:
    """Munsell value of a luminous reflectance: the inverse of :func:`luminance_of_value`, by a table of 4,097 nodes.

    Parameters: ``y`` (...), 0..1; held at the ends.

    Returns: value (...), 0..10, within .00001 but for the deepest blacks.

    >>> value_of_luminance(0.1927).round(2)
    np.float64(5.0)
    """
    return np.asarray(np.interp(np.asarray(y, dtype=float), _Y_OF_NODES, _NODES))


def value_of_lightness(lightness: npt.ArrayLike) -> Array:
    """Munsell value of CIE L*.

    Parameters: ``lightness`` (...), 0..100.

    Returns: value (...), 0..10: near a tenth of L*, a little more in the lights.

    >>> value_of_lightness([50, 81.35]).round(2)
    array([4.9 , 8.09])
    """
    at = np.clip(np.asarray(lightness, dtype=float), 0, 100) * (_STEPS_OF_L / 100)
    node = np.fmin(at, _STEPS_OF_L - 1).astype(np.intp)
    return np.asarray(_VALUE_OF_L[node] + (at - node) * _STEP_AFTER[node])


# Every L* has its place in a table of even steps: a picture takes a seventh of the time of a search.
_STEPS_OF_L = 8192
_L_OF_NODES: Array = np.linspace(0.0, 100.0, _STEPS_OF_L + 1)
_VALUE_OF_L: Array = value_of_luminance(
    np.where(_L_OF_NODES > 8, ((_L_OF_NODES + 16) / 116) ** 3, _L_OF_NODES * 27 / 24389)
)
_STEP_AFTER: Array = np.diff(_VALUE_OF_L)


def lightness_of_value(value: npt.ArrayLike) -> Array:
    """CIE L* of a Munsell value: the inverse of :func:`value_of_lightness`.

    Parameters: ``value`` (...), 0..10.

    Returns: L* (...), 0..100.

    >>> lightness_of_value(5).round(2)
    np.float64(51.0)
    """
    y = luminance_of_value(value)
    return np.where(y > 216 / 24389, 116 * np.cbrt(y) - 16, y * 24389 / 27)


@dataclass(frozen=True)
class _Table:
    values: Array  # (p,) value planes
    step: float  # grid spacing in a*, b* under illuminant C
    radius: float
    xy: Array  # (p, n, n, 2): chroma times cosine and sine of the hue angle
    known: npt.NDArray[np.bool_]  # (p, n, n) inside the renotation data


@functools.cache
def _table() -> _Table:
    with np.load(resource("colour", "munsell.npz")) as data:
        return _Table(
            values=data["values"].astype(float),
            step=float(data["step"]),
            radius=float(data["radius"]),
            xy=data["xy"].astype(float),
            known=data["known"],
        )


def hue_value_chroma(lab: npt.ArrayLike) -> tuple[Array, Array, Array, npt.NDArray[np.bool_]]:
    """Munsell hue (0..100, 0 = 10RP, 5 = 5R), value (0..10), chroma, and whether the figures are extrapolated.

    ``lab`` is CIELAB D65 of shape (..., 3). Never fails: colours beyond the renotation data are extended radially and
    flagged. Cost: four gathers per colour, about 0.15 s per million.
    """
    t = _table()
    lab = np.asarray(lab, dtype=float)
    xyz = np.maximum(lab_to_xyz(lab.reshape(-1, 3)) @ _TO_C.T, 1e-9)
    value = value_of_luminance(xyz[:, 1])
    low = np.clip(np.searchsorted(t.values, value) - 1, 0, len(t.values) - 2)
    weight = np.clip((value - t.values[low]) / (t.values[low + 1] - t.values[low]), 0.0, 1.0)
    out = np.zeros((len(value), 2))
    known = np.ones(len(value), dtype=bool)
    n = t.xy.shape[1]
    for plane, share in ((low, 1 - weight), (low + 1, weight)):
        # The same chromaticity, moved to the plane's luminance.
        at_plane = xyz * (luminance_of_value(t.values[plane]) / xyz[:, 1])[:, None]
        ab = xyz_to_lab(at_plane, _WHITE_C)[:, 1:]
        u = np.clip((ab + t.radius) / t.step, 0, n - 1.001)
        i = u.astype(int)
        f = u - i
        corner = 0.0
        for di in (0, 1):
            for dj in (0, 1):
                part = (f[:, 0] if di else 1 - f[:, 0]) * (f[:, 1] if dj else 1 - f[:, 1])
                corner = corner + part[:, None] * t.xy[plane, i[:, 0] + di, i[:, 1] + dj]
        out += corner * share[:, None]
        known &= t.known[plane, i[:, 0], i[:, 1]] | (share < 1e-9)
    hue = np.arctan2(out[:, 1], out[:, 0]) * 100 / (2 * np.pi) % 100
    chroma = np.hypot(out[:, 0], out[:, 1])
    shape = lab.shape[:-1]
    extrapolated = (~known | (value < 1) | (value > 9.5)).reshape(shape)
    return hue.reshape(shape), value.reshape(shape), chroma.reshape(shape), extrapolated


def notation(lab: npt.ArrayLike) -> str:
    """Munsell notation of one Lab colour, D65: hue to .5, value to .1, chroma to .5; "N 5.5" below chroma .5.

    >>> notation(munsell_to_lab(15.0, 6.5, 4.0))
    '5YR 6.5/4'
    """
    hue, value, chroma, _ = hue_value_chroma(np.asarray(lab, dtype=float).reshape(3))
    return notation_of(float(hue), float(value), float(chroma))


def notation_of(hue: float, value: float, chroma: float) -> str:
    """Munsell notation of figures as of :func:`hue_value_chroma`.

    >>> notation_of(15.1, 6.52, 4.1)
    '5YR 6.5/4'
    """
    if chroma < NEUTRAL_CHROMA:
        return f"N {value:.1f}"
    step = round(hue * 2) / 2 % 100
    family = int(np.ceil(step / 10) - 1) % 10
    within = step - 10 * family if step > 0 else 10.0
    return f"{within:g}{HUE_NAMES[family]} {value:.1f}/{round(chroma * 2) / 2:g}"


_NOTATION = re.compile(
    r"^\s*(\d+(?:\.\d+)?)\s*(YR|GY|BG|PB|RP|R|Y|G|B|P)\s+(\d+(?:\.\d+)?)\s*/\s*(\d+(?:\.\d+)?)\s*$", re.I
)
_NEUTRAL = re.compile(r"^\s*N\s*(\d+(?:\.\d+)?)\s*/?\s*$", re.I)


def parse_notation(text: str) -> tuple[float, float, float]:
    """Hue (0..100), value and chroma of a notation such as ``5YR 6.5/4`` or ``N 5.5``.

    Raises ValueError when the text is no notation or a number is out of range.

    >>> parse_notation("5YR 6.5/4")
    (15.0, 6.5, 4.0)
    """
    if match := _NEUTRAL.match(text):
        hue, value, chroma = 0.0, float(match[1]), 0.0
    elif match := _NOTATION.match(text):
        within = float(match[1])
        if not 0 <= within <= 10:
            raise ValueError(f"'{text}': the hue number goes from 0 to 10")
        hue = within + 10 * HUE_NAMES.index(match[2].upper())
        value, chroma = float(match[3]), float(match[4])
    else:
        raise ValueError(f"'{text}' is not a Munsell notation like 5YR 6.5/4")
    if not 0 <= value <= 10:
        raise ValueError(f"'{text}': Munsell value goes from 0 to 10")
    if chroma > 40:
        raise ValueError(f"'{text}': no surface has a chroma above 40")
    return hue % 100, value, chroma


def notation_to_lab(text: str) -> Array:
    """Lab (3,), D65, of a Munsell notation. Raises ValueError as :func:`parse_notation` does.

    >>> notation_to_lab("N 5")[0].round(1)
    np.float64(51.0)
    """
    hue, value, chroma = parse_notation(text)
    return munsell_to_lab(hue, value, chroma)


def munsell_to_lab(hue: float, value: float, chroma: float) -> Array:
    """Lab (3,) under D65 of Munsell hue (0..100), value (0..10) and chroma."""
    y = float(luminance_of_value(value))
    grey = _FROM_C @ (_WHITE_C * y)
    if chroma <= 0 or value <= 0:
        return xyz_to_lab(grey)
    angle = hue * 2 * np.pi / 100
    goal = chroma * np.array([np.cos(angle), np.sin(angle)])

    def place(ab: Array) -> tuple[Array, Array]:
        xyz = _FROM_C @ lab_to_xyz(np.array([float(lightness_of_value(value)), *ab]), _WHITE_C)
        lab = xyz_to_lab(xyz)
        h, _, c, _ = hue_value_chroma(lab)
        turn = float(h) * 2 * np.pi / 100
        return lab, float(c) * np.array([np.cos(turn), np.sin(turn)])

    ab = 5.0 * goal
    lab, here = place(ab)
    for _ in range(40):
        miss = here - goal
        if float(np.hypot(*miss)) < 1e-3:
            break
        columns = [(place(ab + d)[1] - here) / 0.5 for d in (np.array([0.5, 0.0]), np.array([0.0, 0.5]))]
        step = np.linalg.lstsq(np.stack(columns, axis=1), miss, rcond=None)[0]
        step *= min(1.0, 20.0 / (float(np.hypot(*step)) + 1e-9))
        for _ in range(8):
            trial, there = place(ab - step)
            if np.hypot(*(there - goal)) < np.hypot(*miss):
                ab, lab, here = ab - step, trial, there
                break
            step = step / 2
        else:
            break
    return lab
