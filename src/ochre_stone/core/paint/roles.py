"""What a tube is on this palette: a light or a dark, a warm or a cool; and what it does to a colour.

Light and dark, warm and cool are relative (common practice): the same red is a light beside umber and a dark beside
white. A tube is told against the middle: value 5 and neither warm nor cool, where the palette has tubes on both sides
of it, else half-way between its ends. White, black and grey tubes count as cool, for that is what they do to a colour.
What a tube does is computed by adding a little of it.
"""

import functools
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ochre_stone.core.colour.munsell import hue_value_chroma
from ochre_stone.core.colour.relations import Warmth, cooled_by_paling, warmth
from ochre_stone.core.colour.spaces import Array, as_lab, lch
from ochre_stone.core.paint.optics import USUAL, Surface, layer_lab
from ochre_stone.core.paint.tubes import Tube, strength_of, tube

ADDED = 0.3
"""Share of the added paint's power in the mixture that tells what it does: enough to see it."""
_LITTLE_VALUE, _LITTLE_WARMTH = 0.06, 0.0035
_DARK, _SHOWING = 35.0, 3.0
"""Below this L* warm and cool are told by a tint: that many volumes of white to as much paint as tints like one volume
of ultramarine (common practice: a little white shows which way a dark leans)."""
TINT = 0.25
"""Power of the colour in a tint, that of its white being a half: a strong tint."""
_MIDDLE_VALUE = 5.0
_HALFTONE = (5.0, 6.0)
"""Munsell value and chroma of the colour that :func:`middle` mixes."""
_REDDISH = (20.0, 95.0)
"""CIELAB hues of reds and oranges: turned toward yellow, and no duller for it, they are warmer to a painter (common
practice), though yellow stands farther from the warm pole than they do."""
_NEUTRAL_CHROMA = 1.2
"""A tube whose mass tone and tint stay below this Munsell chroma is a white, a black or a grey."""
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
    """Each tube's role on a palette of these tubes."""
    value = [float(hue_value_chroma(np.array(t.lab))[1]) for t in tubes]
    warm = [_shown_warmth(t, school) for t in tubes]
    middle_value, middle_warmth = _middle(value, _MIDDLE_VALUE), _middle(warm, 0.0)
    return [
        Role(t, v >= middle_value, w > middle_warmth and not is_neutral(t), v, w)
        for t, v, w in zip(tubes, value, warm, strict=True)
    ]


def _middle(figures: Sequence[float], usual: float) -> float:
    low, high = min(figures), max(figures)
    return usual if low < usual < high else (low + high) / 2


def is_neutral(t: Tube) -> bool:
    """A white, a black or a grey."""
    shown = [t.lab, *((row[1], row[2], row[3]) for row in t.tints[:1])]
    return bool(hue_value_chroma(np.array(shown))[2].max() < _NEUTRAL_CHROMA)


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
    """Above 0 it warms; of a dark, by its tint. What a white, a grey or a black takes from a cool colour is strength:
    that is no warming, and 0 here."""
    chroma: float
    """Munsell chroma: above 0 it strengthens."""
    hue: float
    """Degrees of CIELAB hue; 0 for greys."""
    lab: tuple[float, float, float]
    tint: bool = False
    """Whether a tint of the tube is added, not the tube itself."""

    @property
    def name(self) -> str:
        return f"a tint of {self.tube.short}" if self.tint else self.tube.short

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
    K: Array, S: Array, tubes: Sequence[Tube], school: Warmth = "leans-red", surface: Surface = USUAL
) -> list[Effect]:
    """What a little of each tube does to a mixture with K and S (36,), strongest first."""
    found = [_effect(K, S, t, t.K, t.S, school, surface) for t in tubes]
    return sorted(found, key=lambda e: -(abs(e.value) + 3 * abs(e.warmth)))


def _effect(K: Array, S: Array, t: Tube, added_k: Array, added_s: Array, school: Warmth, surface: Surface) -> Effect:
    white = tube("titanium-white")
    power, added_power = strength_of(K, S), strength_of(added_k, added_s)
    before = layer_lab(K, S, surface)
    tint = _SHOWING if before[0] < _DARK else 0.0

    def shown(k: Array, s: Array) -> float:
        return warmth(as_lab(layer_lab(k + tint * white.K, s + tint * white.S, surface)), school)

    k = ADDED / added_power * added_k + (1 - ADDED) / power * K
    s = ADDED / added_power * added_s + (1 - ADDED) / power * S
    lab = layer_lab(k, s, surface)
    hvc, after = hue_value_chroma(before), hue_value_chroma(lab)
    turn = (float(lch(lab)[2]) - float(lch(before)[2]) + 180) % 360 - 180
    warms = shown(k, s) - shown(K / power, S / power)
    if warms < 0 < turn and _REDDISH[0] <= float(lch(before)[2]) <= _REDDISH[1] and after[2] >= hvc[2]:
        warms = -warms
    if t.is_white and cooled_by_paling(as_lab(before), as_lab(lab)):
        warms = min(warms, -_LITTLE_WARMTH)
    return Effect(
        t,
        float(after[1] - hvc[1]),
        min(warms, 0.0) if is_neutral(t) else warms,
        float(after[2] - hvc[2]),
        turn if min(float(hvc[2]), float(after[2])) > 0.75 else 0.0,
        as_lab(lab),
    )


def middle(tubes: Sequence[Tube], school: Warmth = "leans-red", surface: Surface = USUAL) -> tuple[Array, Array]:
    """K and S (36,) of a halftone that asks to be pushed every way: the palette's warm colours in equal power, greyed
    with its cool ones to about chroma 6, with white up to value 5 (common practice: a warm middle tone, as of sunlit
    skin; the figures are judgements). Remembered: a window asks at every turn."""
    return _halftone_of(tuple(tubes), school, surface)


@functools.lru_cache(maxsize=64)
def _halftone_of(tubes: tuple[Tube, ...], school: Warmth, surface: Surface) -> tuple[Array, Array]:
    warm = [r.tube for r in roles(tubes, school) if r.warm] or list(tubes)
    cool = [r.tube for r in roles(tubes, school) if not r.warm and not r.tube.is_white]
    white = next((t for t in tubes if t.is_white), tube("titanium-white"))
    (wk, ws), (ck, cs) = _together(warm), _together(cool or warm)
    share = np.linspace(0.4, 1.0, 13)[:, None]
    K, S = share * wk + (1 - share) * ck, share * ws + (1 - share) * cs
    low, high = np.zeros((13, 1)), np.full((13, 1), 100.0)
    for _ in range(24):
        n = (low + high) / 2
        value = hue_value_chroma(layer_lab(K + n * white.K, S + n * white.S, surface))[1][:, None]
        light = value > _HALFTONE[0]
        low, high = np.where(light, low, n), np.where(light, n, high)
    K, S = K + low * white.K, S + low * white.S
    chroma = hue_value_chroma(layer_lab(K, S, surface))[2]
    best = int(np.abs(chroma - _HALFTONE[1]).argmin())
    return K[best], S[best]


def _together(tubes: Sequence[Tube]) -> tuple[Array, Array]:
    n = len(tubes)
    return np.asarray(sum(t.K / t.strength for t in tubes) / n), np.asarray(sum(t.S / t.strength for t in tubes) / n)


@dataclass(frozen=True)
class Answers:
    """What does what to a colour, on one palette: every tube stands in ``ways`` or in ``rest``."""

    tubes: list[Effect]
    """Of each tube, strongest first."""
    ways: dict[str, list[Effect]]
    """By ``FOUR``, strongest first. Where no tube does it a tint of one may; empty where nothing does."""
    rest: list[Effect]
    """Tubes that do neither clearly, or only one of the two."""


def answers(
    K: Array, S: Array, tubes: Sequence[Tube], school: Warmth = "leans-red", surface: Surface = USUAL
) -> Answers:
    """Which tubes lighten and warm, lighten and cool, darken and warm, darken and cool a mixture with K and S (36,)."""
    found = effects(K, S, tubes, school, surface)
    ways = {kind: [e for e in found if e.kind == kind] for kind in FOUR}
    if not all(ways.values()):
        white = next((t for t in tubes if t.is_white), tube("titanium-white"))
        tints = [_tint(K, S, t, white, school, surface) for t in tubes if not is_neutral(t)]
        tints.sort(key=lambda e: -abs(e.warmth))
        ways = {kind: ways[kind] or [e for e in tints if e.kind == kind][:2] for kind in FOUR}
    return Answers(found, ways, [e for e in found if not e.kind])


def _tint(K: Array, S: Array, t: Tube, white: Tube, school: Warmth, surface: Surface) -> Effect:
    parts = TINT / t.strength
    added = _effect(K, S, t, t.K * parts + white.K, t.S * parts + white.S, school, surface)
    return replace(added, tint=True)
