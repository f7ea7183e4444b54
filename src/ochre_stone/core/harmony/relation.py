"""The light against the shadow, subject by subject: hue, temperature and chroma; consistent or not; pushed or calmed.

One light lights a whole scene, so the turn from light to shadow should go the same way in all its subjects, unless a
shadow takes colour from what it faces (common practice, no source). Temperature must not be read off the colours
themselves: a blue cloth grows greyer, and so seemingly warmer, in a cool shadow. So the light in the shadow is compared
with the light outside, on the same thing: the ratio of shadow to light in sharpened cones (Bradford; the diagonal model
of von Kries 1902), long waves against short. A shadow that is merely darker has no turn, whatever the local colour.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.gamut import most_chroma
from ochre_stone.core.colour.reading import NEUTRAL, read
from ochre_stone.core.colour.spaces import BRADFORD, Array, Lab, as_lab, lab_to_xyz, lch
from ochre_stone.core.colour.wheel import turn

_CLEAR = 0.12
"""Turn above which a shadow is clearly warmer or cooler: about an eighth of a stop, red against blue."""
_LEAST = 1e-3


@dataclass(frozen=True)
class Relation:
    """How the shadows of a subject differ from its lights."""

    subject: str
    value_step: float
    """Munsell value of the lights less that of the shadows."""
    hue_turn: float
    """Degrees on the traditional wheel from light to shadow; 0 where either is neutral."""
    warmer_by: float
    """How much warmer the light in the shadow is than the light outside: stops of long waves against short."""
    chroma_step: float
    """Munsell chroma of the shadow less that of the light."""

    @property
    def says(self) -> str:
        """Temperature in words."""
        if abs(self.warmer_by) < _CLEAR:
            return "no turn of temperature"
        return "light cool, shadow warm" if self.warmer_by > 0 else "light warm, shadow cool"


@dataclass(frozen=True)
class Relations:
    """All subjects that have both light and shadow."""

    found: tuple[Relation, ...]
    consistent: bool
    """Whether all clear turns go the same way."""

    @property
    def words(self) -> str:
        """The whole in one sentence."""
        clear = [r for r in self.found if abs(r.warmer_by) >= _CLEAR]
        if not self.found:
            return "No subject has notes both in the light and in the shadow yet."
        if not clear:
            return "Light and shadow are of one temperature: value alone tells them apart."
        if not self.consistent:
            warm, cool = (", ".join(r.subject for r in clear if (r.warmer_by > 0) is side) for side in (True, False))
            return (
                f"Not consistent: shadows go warm in {warm}, cool in {cool}. Does another light fall there, or do they "
                "take colour from what they face?"
            )
        which = clear[0].says
        return f"Consistent: {which} in {len(clear)} of {len(self.found)} subject{'s' if len(self.found) > 1 else ''}."


def _warmer_by(light: Lab, shadow: Lab) -> float:
    """Stops of long waves against short that the shadow's light has more than the light outside."""
    lit, dark = (np.maximum(BRADFORD @ lab_to_xyz(np.array(c)), _LEAST) for c in (light, shadow))
    ratio = dark / lit
    return float(np.log2(ratio[0] / ratio[2]))


def relations(lab: Sequence[Lab], subjects: Sequence[str], light: Sequence[bool], share: Sequence[float]) -> Relations:
    """Relation of light and shadow per subject, for notes Lab (n) with subject, family and share of the picture."""
    found = []
    for subject in dict.fromkeys(subjects):
        sides = []
        for side in (True, False):
            members = [i for i, s in enumerate(subjects) if s == subject and light[i] is side]
            if members:
                weight = np.array([max(share[i], 1e-3) for i in members])
                mean = (np.array([lab[i] for i in members]) * weight[:, None]).sum(axis=0) / weight.sum()
                sides.append(as_lab(mean))
        if len(sides) == 2:
            a, b = read(sides[0]), read(sides[1])
            neutral = a.chroma < NEUTRAL or b.chroma < NEUTRAL
            found.append(
                Relation(
                    subject,
                    a.value - b.value,
                    0.0 if neutral else float(turn(a.hue_angle, b.hue_angle)),
                    _warmer_by(sides[0], sides[1]),
                    b.chroma - a.chroma,
                )
            )
    signs = {r.warmer_by > 0 for r in found if abs(r.warmer_by) >= _CLEAR}
    return Relations(tuple(found), len(signs) <= 1)


def push(
    lab: npt.ArrayLike,
    subjects: Sequence[str],
    light: Sequence[bool],
    share: Sequence[float],
    amount: float,
    held: Sequence[bool] = (),
) -> Array:
    """Notes Lab (n, 3) with the colour difference of light and shadow pushed (amount above 0) or calmed (below).

    Within each subject a* and b* of both families move along their difference, so that it becomes 1 + amount times as
    large; the family with the smaller share moves more. L* stays; chroma never leaves sRGB where it was inside.
    ``held`` (n): notes that stay. Raises ValueError for amounts outside -1..1.
    """
    if not -1 <= amount <= 1:
        raise ValueError(f"push {amount} is not between -1 and 1")
    colours = np.array(lab, dtype=float).reshape(-1, 3)
    if amount == 0:
        return colours
    out = colours.copy()
    lit = np.array(light, dtype=bool)
    stays = np.array(held, dtype=bool) if len(held) else np.zeros(len(colours), bool)
    weight = np.maximum(np.array(share, dtype=float), 1e-3)
    for subject in dict.fromkeys(subjects):
        mine = np.array([s == subject for s in subjects])
        sides = [mine & lit, mine & ~lit]
        if not all(s.any() for s in sides):
            continue
        mean = [(colours[s, 1:] * weight[s, None]).sum(axis=0) / weight[s].sum() for s in sides]
        whole = weight[sides[0]].sum() + weight[sides[1]].sum()
        apart = (mean[0] - mean[1]) * amount
        out[sides[0], 1:] += apart * weight[sides[1]].sum() / whole
        out[sides[1], 1:] -= apart * weight[sides[0]].sum() / whole
    out[stays] = colours[stays]
    return _kept_inside(colours, out)


def _kept_inside(before: Array, after: Array) -> Array:
    """Colours with their chroma held inside sRGB, as far as they were inside before."""
    _, c0, h0 = lch(before)
    L, c, h = lch(after)
    most = most_chroma(L, h) * np.maximum(1.0, c0 / np.maximum(most_chroma(L, h0), 1e-6))
    ratio = np.minimum(1.0, most / np.maximum(c, 1e-9))
    out = after.copy()
    out[:, 1:] *= ratio[:, None]
    return out
