"""Ladders: how a colour changes toward the horizon, and a sky from horizon to zenith.

Distance, by physics: air adds its own light and takes away the thing's. The contrast of a thing against the horizon
falls as exp(-b d) (Koschmieder 1924, Beitr. Phys. freien Atm. 12; Middleton 1952, Vision through the Atmosphere), and
the farthest distance at which a black thing is seen, where 2 % contrast is left, is the visibility 3.912 / b. Haze
takes short waves more: b goes with wavelength to the power -q (Angstrom 1929, Geogr. Ann. 11), q = 0 in fog, about 1.3
in haze, 4 in clean air (Rayleigh). It is worked out in linear light in three bands, about 610, 550 and 465 nm for
sRGB's red, green and blue: an approximation, for a note holds no spectrum.

Distance, by the painters' rule (common practice, no source): yellow goes first, made up by a little red; then red goes
too, and it gets lighter and bluer all the way.

The sky, by common practice: lightest and warmest at the horizon, darkest and bluest overhead, changing fastest low
down.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.gamut import most_chroma
from ochre_stone.core.colour.spaces import SRGB_TO_XYZ, XYZ_TO_SRGB, Array, Lab, as_lab, lab_to_xyz, xyz_to_lab
from ochre_stone.core.curves import MonotoneCurve

WAVES = (610.0, 550.0, 465.0)
"""Nanometres that stand for the red, green and blue of linear sRGB."""
CONTRAST_SEEN = 0.02
"""Koschmieder's least contrast; -ln of it is 3.912."""
AIRS: dict[str, float] = {"fog": 0.0, "haze": 1.3, "clear": 4.0}
"""Exponent of wavelength by kind of air."""
Air = Literal["fog", "haze", "clear"]
DistanceWay = Literal["air", "painters"]
SkyBand = Literal["none", "pink", "warm"]
_RED_FOR_YELLOW = 0.2
"""Share of the yellow that goes by the painters' rule that comes back as red; a judgement."""
_BAND_HUES = {"pink": 15.0, "warm": 70.0}
_BAND_CHROMA, _BAND_AT, _BAND_WIDTH = 11.0, 0.16, 0.14


@dataclass(frozen=True)
class LadderRung:
    """One step of a ladder."""

    lab: Lab
    at: float
    """Kilometres to it, or for a sky the height as a share of the way from horizon to zenith."""


def extinction(visibility: float, exponent: float) -> Array:
    """Extinction per kilometre (3,) in the bands of ``WAVES``; the visibility holds at 550 nm."""
    at_green = -np.log(CONTRAST_SEEN) / visibility
    return np.asarray(at_green * (np.array(WAVES) / 550.0) ** -exponent)


def through_air(
    lab: npt.ArrayLike, horizon: npt.ArrayLike, kilometres: npt.ArrayLike, visibility: float, air: Air = "haze"
) -> Array:
    """Colour Lab (n, 3) of a thing of colour ``lab`` (3,) seen from ``kilometres`` (n,) against a ``horizon`` (3,).

    Linear light goes as t T + (1 - t) H with t = exp(-b d) per band. Raises ValueError for distances below 0 or a
    visibility of 0 or less.
    """
    d = np.asarray(kilometres, dtype=float).reshape(-1, 1)
    if (d < 0).any() or visibility <= 0:
        raise ValueError("distances must be 0 or more, the visibility above 0")
    thing, sky = (XYZ_TO_SRGB @ lab_to_xyz(np.asarray(c, dtype=float)) for c in (lab, horizon))
    left = np.exp(-extinction(visibility, AIRS[air])[None] * d)
    light = left * thing + (1 - left) * sky
    return np.asarray(xyz_to_lab(light @ SRGB_TO_XYZ.T))


def distances(steps: int, near: float, far: float) -> Array:
    """Kilometres (steps,) from near to far, each a like factor farther: planes of a landscape are judged so."""
    return np.asarray(np.geomspace(near, far, steps), dtype=float)


def by_air(
    lab: Lab, horizon: Lab, steps: int, near: float, far: float, visibility: float, air: Air
) -> list[LadderRung]:
    """A ladder of ``steps`` rungs from the note as seen at ``near`` kilometres to ``far``.

    The note is what is seen at the near distance, so only the air beyond it is added.
    """
    d = distances(steps, near, far)
    seen = through_air(lab, horizon, d - near, visibility, air)
    return [LadderRung(as_lab(c), float(k)) for c, k in zip(seen, d, strict=True)]


def _ease(s: Array, start: float, end: float) -> Array:
    """0 up to ``start``, 1 from ``end``, smooth between."""
    x = np.clip((s - start) / (end - start), 0, 1)
    return np.asarray(x * x * (3 - 2 * x))


def by_rule(lab: Lab, horizon: Lab, steps: int, near: float, far: float) -> list[LadderRung]:
    """A ladder by the painters' rule: yellow goes over the first half, a little red makes up for it; then red goes.

    Yellow is b*, red the a* that stands above a green of the horizon's; a fifth of the yellow that is lost comes back
    as red as long as red itself is there. Value rises all the way toward the horizon's. The last rung stops a tenth
    short of the horizon, where the thing would be lost.
    """
    s = np.linspace(0, 0.9, steps)
    yellow = 1 - (1 - np.minimum(s / 0.65, 1)) ** 2  # at once, and gone by two thirds of the way
    red = _ease(s, 0.25, 1.05)
    colours = np.array(lab) + (np.array(horizon) - np.array(lab)) * np.stack([s**0.8, red, yellow], axis=1)
    colours[:, 1] += _RED_FOR_YELLOW * np.maximum(lab[2] - colours[:, 2], 0) * (lab[2] > 0) * (1 - red)
    d = distances(steps, near, far)
    return [LadderRung(as_lab(c), float(k)) for c, k in zip(colours, d, strict=True)]


def sky(
    notes: Sequence[tuple[float, Lab]], steps: int, band: SkyBand = "none", strength: float = 1.0
) -> list[LadderRung]:
    """A sky of ``steps`` rungs, from the horizon up.

    ``notes``: height (0 at the horizon, 1 overhead) and colour of two notes or more, at different heights. Between
    them colour goes by shape-preserving interpolation on the square root of height, for a sky changes fastest low
    down. ``band``: a pink or warm band low over the horizon; it turns hue and chroma only, values stay. Raises
    ValueError for fewer notes.
    """
    known: dict[float, Lab] = {}
    for up, lab in sorted(notes):
        known.setdefault(round(float(np.sqrt(up)), 4), lab)
    if len(known) < 2:
        raise ValueError("a sky needs notes at two different heights")
    x = np.array(list(known))
    path = MonotoneCurve(x, np.array(list(known.values())))
    root = np.linspace(x[0], x[-1], steps)
    out = np.asarray(path(root))
    height = root**2
    if band != "none":
        share = strength * np.exp(-0.5 * ((height - _BAND_AT) / _BAND_WIDTH) ** 2)
        hue = np.radians(_BAND_HUES[band])
        most = np.minimum(_BAND_CHROMA, most_chroma(out[:, 0], np.full(steps, _BAND_HUES[band])))
        goal = most[:, None] * np.array([np.cos(hue), np.sin(hue)])
        out[:, 1:] += share[:, None] * (goal - out[:, 1:])
    return [LadderRung(as_lab(c), float(h)) for c, h in zip(out, height, strict=True)]
