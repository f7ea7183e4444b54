"""What a tube is on this palette: a light or a dark, a warm or a cool; and what it does to a colour.

Light and dark, warm and cool are relative (common practice): the same red is a light beside umber and a dark beside
white. A tube is told by where its mass tone stands against the middle of the palette; what it does is computed by
adding a little of it.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.munsell import hue_value_chroma
from ochre_stone.core.colour.relations import Warmth, warmth
from ochre_stone.core.colour.spaces import Array, as_lab, lch
from ochre_stone.core.paint.optics import SATIN, Surface, layer_lab
from ochre_stone.core.paint.tubes import Tube

ADDED = 0.15
"""Share of the added paint's power in the mixture that tells what it does: a good touch."""
_LITTLE_VALUE, _LITTLE_WARMTH = 0.06, 0.02
FOUR = ("lightens and warms", "lightens and cools", "darkens and warms", "darkens and cools")


@dataclass(frozen=True)
class Role:
    """A tube among its palette."""

    tube: Tube
    light: bool
    warm: bool
    value: float
    """Munsell value of the mass tone."""
    warmth: float
    """-1 to 1; of the mass tone, of a tint where the mass tone is too dark to tell."""

    @property
    def words(self) -> str:
        return f"{'light' if self.light else 'dark'}, {'warm' if self.warm else 'cool'}"


def roles(tubes: Sequence[Tube], school: Warmth = "leans-red") -> list[Role]:
    """Each tube's role relative to the others: lighter or darker, warmer or cooler than their middle (median)."""
    value = [float(hue_value_chroma(np.array(t.lab))[1]) for t in tubes]
    warm = [_shown_warmth(t, school) for t in tubes]
    middle_value, middle_warmth = float(np.median(value)), float(np.median(warm))
    out = []
    for t, v, w in zip(tubes, value, warm, strict=True):
        # White and the lightest are lights although the middle of a pale palette may lie above them.
        out.append(Role(t, v >= middle_value, w > middle_warmth or (w == middle_warmth and w > 0), v, w))
    return out


def _shown_warmth(t: Tube, school: Warmth) -> float:
    """Dark transparents hide their hue in the mass tone; what they do in mixtures shows in the first tint."""
    shown = t.lab if t.lab[0] > 30 or not t.tints else tuple(t.tints[0][1:4])
    return warmth((shown[0], shown[1], shown[2]), school)


@dataclass(frozen=True)
class Effect:
    """What a little of a tube does to a colour."""

    tube: Tube
    value: float
    """Munsell value steps: above 0 it lightens."""
    warmth: float
    """Above 0 it warms."""
    chroma: float
    """Munsell chroma: above 0 it strengthens."""
    hue: float
    """Degrees of CIELAB hue; 0 for greys."""
    lab: tuple[float, float, float]

    @property
    def kind(self) -> str:
        """One of ``FOUR``, or "" where it does neither clearly."""
        if abs(self.value) < _LITTLE_VALUE or abs(self.warmth) < _LITTLE_WARMTH:
            return ""
        return f"{'lightens' if self.value > 0 else 'darkens'} and {'warms' if self.warmth > 0 else 'cools'}"

    @property
    def words(self) -> str:
        """In one phrase, as "lightens, cools, dulls"."""
        said = []
        if abs(self.value) >= _LITTLE_VALUE:
            said.append("lightens" if self.value > 0 else "darkens")
        if abs(self.warmth) >= _LITTLE_WARMTH:
            said.append("warms" if self.warmth > 0 else "cools")
        if abs(self.chroma) >= 0.25:
            said.append("strengthens" if self.chroma > 0 else "dulls")
        return ", ".join(said) or "hardly changes it"


def effects(
    K: Array, S: Array, tubes: Sequence[Tube], school: Warmth = "leans-red", surface: Surface = SATIN
) -> list[Effect]:
    """What a little of each tube does to a mixture with K and S (36,), strongest first."""
    power = max(float(K[4:33].max()), 0.5 * float(S.max()))
    before = layer_lab(K, S, surface)
    hvc = hue_value_chroma(before)
    warm = warmth(as_lab(before), school)
    out = []
    for t in tubes:
        share = ADDED / t.colouring_power
        rest = (1 - ADDED) / power
        k, s = (share * t.K + rest * K), (share * t.S + rest * S)
        lab = layer_lab(k, s, surface)
        after = hue_value_chroma(lab)
        three = as_lab(lab)
        turn = (float(lch(lab)[2]) - float(lch(before)[2]) + 180) % 360 - 180
        out.append(Effect(
            t, float(after[1] - hvc[1]), warmth(three, school) - warm, float(after[2] - hvc[2]),
            turn if min(float(hvc[2]), float(after[2])) > 0.75 else 0.0, three,
        ))  # fmt: skip
    return sorted(out, key=lambda e: -(abs(e.value) + 3 * abs(e.warmth)))


def four_ways(found: Sequence[Effect]) -> dict[str, list[Effect]]:
    """Effects by what they do, each list strongest first; what does neither clearly is left out."""
    return {kind: [e for e in found if e.kind == kind] for kind in FOUR}
