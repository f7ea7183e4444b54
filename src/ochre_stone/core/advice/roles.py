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

from ochre_stone.core.advice.frame import HUELESS, SHOWS, Paint, Stands, Touch, as_paint, of_tube, touch, way
from ochre_stone.core.advice.ways import StartPile
from ochre_stone.core.colour.munsell import hue_value_chroma
from ochre_stone.core.colour.relations import WARMEST, Warmth, warmth
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.paint.optics import USUAL, Surface, layer_lab
from ochre_stone.core.paint.tubes import Tube, tube

_LITTLE_VALUE, _LITTLE_WARMTH, LITTLE_CHROMA = 0.06, 0.1, 0.2
"""Steps of value, of chroma along warm and cool, and of chroma below which a dose is not said to do it."""
_NAMED = 0.75
"""How much of its way a dose of a warm paint may go to the cool side, or of a cool to the warm, and still be called
what its name says: it is the value that is seen to change. An umber has no such name: it greys what is warmer."""
_WHITE_SHOWS = 25.0
"""CIEDE2000 of enough white to see what it does, beyond what it lightens."""
_TINT_POWER = 0.25
"""Power of the colour in a tint, that of its white being a half: a strong tint."""
_WARM_HUES = (140.0, 335.0)
"""Hues on the wheel up to and from which a colour is cooled by white."""
_GLOWS = 0.03
"""Steps of value by which a unit of chroma lets a colour look lighter (the effect of Helmholtz and Kohlrausch; the
figure is a judgement): a light red stands with the lights."""
_MIDDLE_VALUE = 5.0
_HALFTONE = (5.0, 6.0)
"""Munsell value and chroma of the colour that :func:`middle` mixes."""
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
    seen = [v + _GLOWS * float(hue_value_chroma(np.array(t.lab))[2]) for v, t in zip(value, tubes, strict=True)]
    warm = [_shown_warmth(t, school) for t in tubes]
    middle_value, middle_warmth = _middle(seen, _MIDDLE_VALUE), _middle(warm, 0.0)
    return [
        Role(t, s >= middle_value, w > middle_warmth and not of_tube(t).neutral, v, w)
        for t, s, v, w in zip(tubes, seen, value, warm, strict=True)
    ]


def _middle(figures: Sequence[float], usual: float) -> float:
    low, high = min(figures), max(figures)
    return usual if low < usual < high else (low + high) / 2


def _shown_warmth(t: Tube, school: Warmth) -> float:
    """Dark transparents hide their hue in the mass tone; what they do in mixtures shows in the first tint."""
    shown = t.lab if t.lab[0] > 30 or not t.tints else tuple(t.tints[0][1:4])
    return warmth((shown[0], shown[1], shown[2]), school)


@dataclass(frozen=True)
class Effect:
    """What a little of a tube does to a colour, or of white enough to show it."""

    tube: Tube
    value: float
    """Munsell value steps: above 0 it lightens."""
    warmth: float
    """Munsell chroma gained toward warm: above 0 it warms. What a white, a grey or a black takes from a cool colour is
    strength: that is no warming, and 0 here."""
    chroma: float
    """Munsell chroma: above 0 it strengthens."""
    hue: float
    """Degrees on the traditional wheel; 0 for greys."""
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
        if abs(self.chroma) >= LITTLE_CHROMA:
            said.append("strengthens" if self.chroma > 0 else "dulls")
        return ", ".join(said) or "hardly changes it"


def effects(K: Array, S: Array, tubes: Sequence[Tube], surface: Surface = USUAL) -> list[Effect]:
    """What a little of each tube does to a mixture with K and S (36,), strongest first."""
    pile = StartPile.of(K, S, surface=surface)
    found = [_effect(pile, t, of_tube(t, surface)) for t in tubes]
    return sorted(found, key=lambda e: -(2 * abs(e.value) + abs(e.warmth)))


def _effect(pile: StartPile, t: Tube, paint: Paint, tint: bool = False) -> Effect:
    dose = touch(pile.K, pile.S, paint, pile.surface, _WHITE_SHOWS if paint.is_white else SHOWS)
    return Effect(t, dose.value, warmth_gained(dose), chroma_gained(dose), dose.hue_turn, dose.lab, tint)


def warmth_gained(dose: Touch) -> float:
    """Munsell chroma that a dose brings toward warm, below 0 toward cool. White cools whatever is warm."""
    paint = dose.paint
    along = dose.along(way(WARMEST))
    if paint.is_white:
        return whitening(dose.before, dose.moved[1:])
    if paint.neutral:
        return min(along, 0.0)
    if paint.is_warm and not paint.is_umber and -_NAMED * dose.size <= along:
        return max(along, _LITTLE_WARMTH)
    if paint.is_cool and along <= _NAMED * dose.size:
        return min(along, -_LITTLE_WARMTH)
    return along


def whitening(before: Stands, gained: Array) -> float:
    """Munsell chroma that white takes from warm, 0 or below, of a move (2,) in hue and chroma: it cools whatever is
    warm, and never warms."""
    along = float(gained @ way(WARMEST))
    warm = before.chroma > 1.0 and (before.hue <= _WARM_HUES[0] or before.hue >= _WARM_HUES[1])
    return min(along, -_LITTLE_WARMTH) if warm else min(along, 0.0)


def chroma_gained(dose: Touch) -> float:
    """Munsell chroma that a dose brings: to a grey along the paint's own hue, for it gives it colour."""
    if dose.before.chroma < HUELESS and not dose.paint.neutral:
        return max(dose.chroma, dose.along(way(dose.paint.hue)))
    return dose.chroma


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


def answers(K: Array, S: Array, tubes: Sequence[Tube], surface: Surface = USUAL) -> Answers:
    """Which tubes lighten and warm, lighten and cool, darken and warm, darken and cool a mixture with K and S (36,)."""
    found = _with_crimson(effects(K, S, tubes, surface), surface)
    ways = {kind: [e for e in found if e.kind == kind] for kind in FOUR}
    if not all(ways.values()):
        white = next((t for t in tubes if t.is_white), tube("titanium-white"))
        pile = StartPile.of(K, S, surface=surface)
        tints = [_effect(pile, t, _tint(t, white, surface), True) for t in tubes if not of_tube(t, surface).neutral]
        tints.sort(key=lambda e: -abs(e.warmth))
        ways = {kind: ways[kind] or [e for e in tints if e.kind == kind][:2] for kind in FOUR}
    return Answers(found, ways, [e for e in found if not e.kind])


def _with_crimson(found: list[Effect], surface: Surface) -> list[Effect]:
    """Effects on a palette: a crimson is its warm dark where it has no warmer one, as its role is."""
    if any(e.kind == FOUR[2] for e in found):
        return found
    crimson = {e.tube.id for e in found if not _has_side(of_tube(e.tube, surface)) and e.value < 0}
    return [replace(e, warmth=max(e.warmth, _LITTLE_WARMTH)) if e.tube.id in crimson else e for e in found]


def _has_side(paint: Paint) -> bool:
    """Whether a paint is warm or cool by its name, or a white or a grey."""
    return paint.is_warm or paint.is_cool or paint.neutral


def _tint(t: Tube, white: Tube, surface: Surface) -> Paint:
    parts = _TINT_POWER / t.strength
    return as_paint(t.id, t.short, t.K * parts + white.K, t.S * parts + white.S, surface, False)
