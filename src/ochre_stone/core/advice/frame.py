"""The painters' frame: colours and paints as a painter judges them, and what one small dose of a paint does.

A colour stands at its value, its hue on the traditional wheel and its chroma (both Munsell's); a step of value counts
as two of chroma, as Munsell's own chips do. A paint is known by the hue of its mass tone, a dark one by that of its
tint; what it does is seen by one dose that just shows, for more of a strong paint soon makes another pile (common
practice, no source; the figures are judgements). All advice asks this module.
"""

import functools
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.munsell import hue_value_chroma
from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import Array, Lab, as_lab, lch
from ochre_stone.core.colour.wheel import turn, wheel
from ochre_stone.core.paint.optics import USUAL, Surface, layer_lab
from ochre_stone.core.paint.tubes import PEAK, Tube, strength_of, tube

PER_VALUE = 2.0
"""Munsell chroma that counts as much as one step of value."""
RED, ORANGE, YELLOW, GREEN, BLUE, VIOLET = 0.0, 60.0, 120.0, 180.0, 240.0, 300.0
"""Places on the traditional wheel, degrees."""
NAMED = 38.0
"""Degrees of the wheel within which a paint is named for a hue: a yellow, a blue."""
SHOWS = 5.0
"""CIEDE2000 of a dose that shows."""
HUELESS = 1.2
"""Munsell chroma below which a paint, and its tint, is a white, a grey or a black."""
_WARMS, _COOLS = (352.0, 140.0), (150.0, 330.0)
"""From where to where on the wheel a paint's hue is called warm, and cool; between them it is neither."""
_UMBER = 3.0
"""Munsell chroma below which a warm paint is an umber."""
_DARK = 35.0
"""L* below which a paint is known by its tint: so many parts of white to as much of it as tints like ultramarine."""
_TINT = 3.0
_WHITE = 0.05
"""Most absorption of a white against its scattering."""
_SHARES: Array = np.concatenate([[0.0], np.geomspace(0.0005, 0.9, 64)])


@dataclass(frozen=True)
class Stands:
    """Where a colour stands."""

    value: float
    """Munsell value, 0..10."""
    hue: float
    """Degrees on the traditional wheel, 0 = red, 120 = yellow, 240 = blue."""
    chroma: float
    """Munsell chroma."""

    @property
    def vector(self) -> Array:
        """(3,): value in steps of chroma; chroma toward red; chroma toward the place a quarter turn from it."""
        return np.array([PER_VALUE * self.value, *(self.chroma * way(self.hue))])


def place(lab: Lab | Array) -> Stands:
    """Where a colour Lab (3,) stands.

    >>> stands = place((60.0, 0.0, 60.0))
    >>> round(stands.value, 1), 60 < stands.hue < 120
    (5.9, True)
    """
    r = read(lab)
    return Stands(r.value, r.hue_angle, r.chroma)


def vectors(labs: Array) -> Array:
    """:attr:`Stands.vector` (m, 3) of colours Lab (m, 3)."""
    _, value, chroma, _ = hue_value_chroma(labs)
    hue = np.radians(wheel("traditional").angle(lch(labs)[2]))
    return np.stack([PER_VALUE * value, chroma * np.cos(hue), chroma * np.sin(hue)], axis=-1)


def way(hue: float) -> Array:
    """The direction (2,) of a hue, degrees on the wheel."""
    return np.array([np.cos(np.radians(hue)), np.sin(np.radians(hue))])


def hues_apart(a: float, b: float) -> float:
    """Degrees between two hues, 0..180.

    >>> hues_apart(350, 10), hues_apart(0, 180)
    (20.0, 180.0)
    """
    return abs(float(turn(a, b)))


def opposite_hue(hue: float) -> float:
    """The hue opposite on the traditional wheel: the complement.

    >>> opposite_hue(0.0), opposite_hue(300.0)
    (180.0, 120.0)
    """
    return (hue + 180.0) % 360.0


@dataclass(frozen=True, eq=False)
class Paint:
    """A tube, or a pile to mix from, as a painter knows it."""

    id: str
    name: str
    K: Array
    S: Array
    stands: Stands
    """As it comes."""
    hue: float
    """By which it is known: of its mass tone, of its tint where it is dark."""
    chroma: float
    """The same."""
    neutral: bool
    """A white, a grey or a black."""
    is_white: bool

    @property
    def value(self) -> float:
        return self.stands.value

    @property
    def is_black(self) -> bool:
        """A black, or a grey that is darker than middle."""
        return self.neutral and self.value < 5.0

    @property
    def is_umber(self) -> bool:
        """A dull yellow, orange or red, that gives no pile that hue."""
        return self.is_warm and self.chroma < _UMBER

    @property
    def is_blue(self) -> bool:
        """By its name."""
        return not self.neutral and hues_apart(self.hue, BLUE) <= NAMED

    @property
    def is_warm(self) -> bool:
        """By its name: a red, be it a violet one, an orange or a yellow."""
        return not self.neutral and (self.hue >= _WARMS[0] or self.hue <= _WARMS[1])

    @property
    def is_cool(self) -> bool:
        """By its name: a green, a blue, a violet or a black; all blues, in either school."""
        return self.is_black or (not self.neutral and _COOLS[0] <= self.hue <= _COOLS[1])


def is_white(K: Array, S: Array) -> bool:
    """Whether a paint with K and S (36,) scatters and hardly absorbs."""
    return float(K[PEAK].max()) < _WHITE * float(S.max())


def as_paint(
    paint_id: str, name: str, K: Array, S: Array, surface: Surface = USUAL, white: bool | None = None
) -> Paint:
    """A paint with K and S (36,) as a painter knows it; ``white``: whether it is one, None to tell by its spectrum."""
    own = layer_lab(K, S, surface)
    paints = tube("titanium-white")
    as_ultramarine = strength_of(K, S) / tube("ultramarine-blue").strength
    tint = layer_lab(K / as_ultramarine + _TINT * paints.K, S / as_ultramarine + _TINT * paints.S, surface)
    shown = place(tint if own[0] <= _DARK else own)
    neutral = max(place(own).chroma, place(tint).chroma) < HUELESS
    if white is None:
        white = neutral and is_white(K, S)
    return Paint(paint_id, name, K, S, place(own), shown.hue, shown.chroma, neutral, white)


@functools.lru_cache(maxsize=512)
def of_tube(t: Tube, surface: Surface = USUAL) -> Paint:
    """A tube as a painter knows it. Remembered: a window asks at every turn."""
    return as_paint(t.id, t.short, t.K, t.S, surface, t.is_white)


def by_name(paint: Paint, colours: Array) -> float:
    """Degrees, 0..180, that a paint lies off the hues of colours Lab (n, 3), in the mean: how little a painter who
    looks for them would reach for it. A grey has no hue to look for, and a neutral paint is none's."""
    stands = [s for s in map(place, np.asarray(colours, dtype=float).reshape(-1, 3)) if s.chroma >= HUELESS]
    if not stands:
        return 0.0
    return 90.0 if paint.neutral else float(np.mean([hues_apart(paint.hue, s.hue) for s in stands]))


@dataclass(frozen=True, eq=False)
class Touch:
    """What one small dose of a paint does to a colour."""

    paint: Paint
    share: float
    """Of the mixture's volume, 0..1."""
    before: Stands
    after: Stands
    lab: Lab
    """After it."""

    @property
    def moved(self) -> Array:
        """(3,), as :attr:`Stands.vector`."""
        return np.asarray(self.after.vector - self.before.vector)

    @property
    def size(self) -> float:
        """How far it moved, in steps of chroma."""
        return max(float(np.linalg.norm(self.moved)), 1e-6)

    @property
    def value(self) -> float:
        """Munsell value gained."""
        return self.after.value - self.before.value

    @property
    def chroma(self) -> float:
        """Munsell chroma gained."""
        return self.after.chroma - self.before.chroma

    @property
    def hue_turn(self) -> float:
        """Degrees on the wheel; 0 where either is grey."""
        if min(self.before.chroma, self.after.chroma) < 0.75:
            return 0.0
        return float(turn(self.before.hue, self.after.hue))

    def along(self, direction: Array) -> float:
        """Steps of chroma moved along a direction (2,) of hue."""
        return float(self.moved[1:] @ direction)

    def toward(self, direction: Array) -> float:
        """How much of its way goes along a direction (2,), -1..1, value counted half."""
        d = self.moved * np.array([0.5, 1.0, 1.0])
        return float(d[1:] @ direction) / max(float(np.linalg.norm(d)), 1e-6)


def touch(K: Array, S: Array, paint: Paint, surface: Surface = USUAL, far: float = SHOWS) -> Touch:
    """What a dose of ``paint`` does to a pile with K and S (36,): as much as moves it ``far``, CIEDE2000, or as near
    to that as it gets."""
    before = layer_lab(K, S, surface)
    power, own = strength_of(K, S), strength_of(paint.K, paint.S)
    put = _SHARES / own / (_SHARES / own + (1 - _SHARES) / power)
    c = put[:, None]
    lab = layer_lab((1 - c) * K + c * paint.K, (1 - c) * S + c * paint.S, surface)
    gone = ciede2000(lab, before)
    there = int(np.argmax(gone >= far)) or int(gone.argmax())
    share = float(put[there])
    if gone[there] > far and there:  # between the two shares around it
        low, high = float(gone[there - 1]), float(gone[there])
        share = float(put[there - 1]) + (far - low) / (high - low) * (share - float(put[there - 1]))
    after = layer_lab((1 - share) * K + share * paint.K, (1 - share) * S + share * paint.S, surface)
    return Touch(paint, share, place(before), place(after), as_lab(after))
