"""Simultaneous contrast: how a colour will seem to shift because of what surrounds it.

A documented simple model on top of CIECAM16, which by itself knows only how light the background is. The surround acts
in two ways: its luminance is the model's background (a grey seems darker on white, lighter on black), and the eye
adapts a little toward its colour (the white of the model moves a share of the way toward it), so that the colour moves
away from the surround, toward its complement. The share is largest where both are equally light (Kirschmann's laws:
A. Kirschmann 1891, Philos. Stud. 6; from memory) and is set by judgement so that a grey on a strong orange of its
own value gains a little more than one step of Munsell chroma. The answer is a prediction, good for direction and
rough size.
"""

from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.appearance import Appearance, Conditions, appearance, xyz_of
from ochre_stone.core.colour.munsell import luminance_of_value
from ochre_stone.core.colour.reading import NEUTRAL, read
from ochre_stone.core.colour.relations import lean
from ochre_stone.core.colour.schools import School
from ochre_stone.core.colour.spaces import WHITE_D65, Lab, lab_to_xyz, lch, xyz_to_lab

_SHARE = 0.13
_LEAST_SHARE = 0.35
"""Of the share, where the two differ much in lightness."""
_NEAR = 28.0
NEUTRAL_GROUND = 5.0
"""Munsell value of the neutral surround that everything is compared with."""


@dataclass(frozen=True)
class Shift:
    """A colour as it is and as it will seem."""

    lab: Lab
    seems: Lab
    """What would look the same on a middle neutral grey."""

    @property
    def value(self) -> float:
        """Change of Munsell value."""
        return read(self.seems).value - read(self.lab).value

    def words(self, school: School | None = None) -> str:
        """How it will seem, in painters' words, e.g. "will seem lighter (.7), toward blue."."""
        said = []
        dv = self.value
        if abs(dv) >= 0.12:
            size = (school or School()).difference(dv)
            said.append(f"{'a little ' if abs(dv) < 0.4 else ''}{'lighter' if dv > 0 else 'darker'} ({size})")
        was, now = read(self.lab), read(self.seems)
        if was.chroma < NEUTRAL <= now.chroma or (was.chroma < 2 and now.chroma - was.chroma > 0.4):
            said.append(f"toward {now.hue.split(',')[0]}")
        else:
            turned = lean(self.seems, self.lab)
            if turned != "the same in hue" and float(np.hypot(*(np.array(self.seems[1:]) - self.lab[1:]))) > 1.5:
                said.append(turned)
            if now.chroma - was.chroma > 0.3:
                said.append("stronger")
            elif was.chroma - now.chroma > 0.3:
                said.append("greyer")
        return "will seem " + ", ".join(said) + "." if said else "will seem as it is."


def _conditions(lab: Lab, around: Lab) -> Conditions:
    xyz = lab_to_xyz(np.array(around))
    y = float(np.clip(xyz[1], 0.005, 1.0))
    tint = xyz / max(float(xyz[1]), 1e-4)
    tint = np.clip(tint, 0.25 * WHITE_D65, 3.0 * WHITE_D65)
    near = float(np.exp(-(((lab[0] - around[0]) / _NEAR) ** 2)))
    own = float(lab_to_xyz(np.array(lab))[1])
    dim = min(1.0, (y / max(own, 0.005)) ** 0.5)  # a dark surround sends little light to adapt to
    share = _SHARE * (_LEAST_SHARE + (1 - _LEAST_SHARE) * near) * dim
    white = WHITE_D65 * (1 - share) + tint * share
    return Conditions(white=(float(white[0]), 1.0, float(white[2])), background=y)


def _neutral() -> Conditions:
    return Conditions(background=float(luminance_of_value(NEUTRAL_GROUND)))


def seen_against(lab: Lab, around: Lab) -> Shift:
    """How ``lab`` seems when ``around`` fills its surround, compared with a middle neutral grey there."""
    seen = appearance(lab_to_xyz(np.array(lab)), _conditions(lab, around))
    seems = xyz_to_lab(xyz_of(Appearance(seen.J, seen.C, seen.h, seen.M), _neutral()))
    L, a, b = seems.tolist()
    lightness = float(np.clip(L, 0.0, 100.0))
    most = 1.6 * float(lch(np.array(lab))[1]) + 12.0
    c = float(np.hypot(a, b))
    keep = min(1.0, most / c) if c > 0 else 1.0
    return Shift(lab, (lightness, a * keep, b * keep))
