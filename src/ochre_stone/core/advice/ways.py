"""Which way, and with which tube: the directions in which a painter turns a pile, and what leads there.

A tube is reached for by the name of its hue, then by its value against the pile's, and only then by what a small dose
of it does. The complement lies across the traditional wheel; white is a cool; black is the blue of a palette without
one (common practice, no source; the figures are judgements).
"""

from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass
from typing import Literal, TypeVar

import numpy as np

from ochre_stone.core.advice.frame import (
    BLUE,
    GREEN,
    HUELESS,
    NAMED,
    ORANGE,
    RED,
    VIOLET,
    YELLOW,
    Paint,
    Stands,
    Touch,
    hues_apart,
    opposite_hue,
    place,
    touch,
    vectors,
    way,
)  # fmt: skip
from ochre_stone.core.colour.relations import WARMEST
from ochre_stone.core.colour.spaces import Array, Lab
from ochre_stone.core.paint.optics import USUAL, Surface, layer_lab

_T = TypeVar("_T")
Way = Literal[
    "lighter", "darker", "warmer", "cooler", "duller", "stronger",
    "redder", "oranger", "yellower", "greener", "bluer", "more violet", "chalkier",
]  # fmt: skip
HUES: dict[str, float] = {
    "redder": RED, "oranger": ORANGE, "yellower": YELLOW, "greener": GREEN, "bluer": BLUE, "more violet": VIOLET,
}  # fmt: skip
WAYS: tuple[Way, ...] = (
    "lighter", "darker", "warmer", "cooler", "duller", "stronger",
    "redder", "oranger", "yellower", "greener", "bluer", "more violet", "chalkier",
)  # fmt: skip
"""As painters have them: value, temperature and strength in one row, then the hues, then chalk."""
_NAMED = (NAMED, 65.0, 80.0)
"""Degrees from a hue within which a paint is named for it: those first, then its neighbours."""
_PER_DEGREE = 0.004
"""What a degree off the hue wanted weighs against the cosine of the way that a dose goes."""
_LEADS = 0.15
"""Least cosine of a dose that leads somewhere."""
ACROSS = (54.0, 80.0, 100.0)
"""The same for the complement, that lies seldom just opposite."""
_PER_ACROSS, _BLACK_LAST, _BLACK_FOR_BLUE, _DULLS, _GREYS = 0.004, 25.0, 15.0, 0.05, 0.5
"""What a degree off it weighs; degrees by which a black, as a blue, lies farther off as a complement, and where a hue
is wanted; least cosine of what dulls, and of an umber that greys what does not lie across from it."""
_INSIDE = 0.35
"""What it weighs that a paint is in the pile already: more of it turns the hue sooner than it greys it."""
_HUED = 3.0
"""Munsell chroma from which a pile has a hue to be turned, and not only a lean."""
_TEMPERATURE = 0.5
"""How much of a pile's own hue is taken from warm and from cool: a red is warmed by turning it to orange."""
_BY_NAME = -0.3
"""Cosine from which a warm paint is called to warm where none warms straight: it darkens, and does not cool."""
_PER_CHROMA, _PER_SHARE = 0.01, 0.2
"""What a unit of a paint's chroma weighs where a pile is greyed, for an earth greys it gently; and what the share
weighs that a weak paint needs to warm it."""
_BRINGS_OUT = 0.4
"""Munsell chroma from which white brings out a colour."""
_OF_VALUE = ("lighter", "darker", "chalkier")
_SEEN_VALUE, _SEEN_CHROMA = 0.25, 0.6
"""Steps of value and of Munsell chroma from which it is said that a way goes there too."""
_KEEPS = -0.05
"""Munsell chroma that more of its own paint may cost a pile and still be called a strengthening: less white is left."""
_LIGHTER = 0.7
"""Steps of value by which a paint must be lighter, or darker, than the pile."""
_DIM = 3.2
"""Value below which a pile is dark already: paints as dark as it darken it by what they take."""
_KIN, _MUCH_LIGHTER = 75.0, 1.2
"""Degrees within which a paint is of the pile's own kind, and steps of value by which it then lightens it."""
_OFF_SIDES = 0.002
"""What a degree off the pile's own hue or its complement weighs for a dark: those turn it least."""


@dataclass(frozen=True, eq=False)
class StartPile:
    """What is to be turned."""

    K: Array
    S: Array
    stands: Stands
    inside: frozenset[str]
    """Ids of what is in it."""
    surface: Surface

    @classmethod
    def of(cls, K: Array, S: Array, inside: Collection[str] = (), surface: Surface = USUAL) -> "StartPile":
        return cls(K, S, place(layer_lab(K, S, surface)), frozenset(inside), surface)

    def touched(self, paint: Paint) -> Touch:
        """One small dose of it."""
        return touch(self.K, self.S, paint, self.surface)


def reach_for(pile: StartPile, paints: Sequence[Paint], to: Way) -> list[Touch]:
    """Paints that turn a pile one way, by a small dose each, best first; empty where none does.

    Raises ValueError for a way that is none of ``WAYS``.
    """
    if to in HUES:
        return leading_to(pile, paints, HUES[to])
    found = _OTHERS.get(to)
    if found is None:
        raise ValueError(f"'{to}' is no way: choose {', '.join(WAYS)}")
    return found(pile, paints)


def leading_to(pile: StartPile, paints: Sequence[Paint], hue: float, near: Sequence[float] = _NAMED) -> list[Touch]:
    """Paints that lead a pile toward a hue, degrees on the wheel: those of that name first, then its neighbours."""
    coloured = [p for p in paints if not p.neutral]
    strong = [p for p in coloured if not p.is_umber] or coloured
    touched = [(hues_apart(p.hue, hue), pile.touched(p)) for p in strong]
    if not any(p.is_blue for p in strong):  # a black is the blue of a palette without one
        touched += [(hues_apart(BLUE, hue) + _BLACK_FOR_BLUE, pile.touched(p)) for p in paints if p.is_black]
    for goes in (_turning(pile.stands, hue), way(hue)):  # where nothing turns it, what strengthens that hue
        leads = [(gap, t.toward(goes), t) for gap, t in touched]
        if best := nearest_first([(gap, x - _PER_DEGREE * gap, t) for gap, x, t in leads if x > _LEADS], near):
            return best
    return nearest_first([(gap, -gap, t) for gap, t in touched if t.toward(way(hue)) > 0], ACROSS[2:])


def _turning(stands: Stands, hue: float, most: float = 1.0) -> Array:
    """The direction (2,) in which a pile goes toward a hue: straight there, less so much, at ``most``, of what would
    only strengthen the hue that it has."""
    straight, own = way(hue), way(stands.hue)
    along = float(straight @ own)
    if along <= 0 or hues_apart(stands.hue, hue) < 5:
        return straight
    turned = straight - most * min(1.0, stands.chroma / (2 * _HUED)) * along * own
    return np.asarray(turned / np.linalg.norm(turned))


def dulling(pile: StartPile, paints: Sequence[Paint], near: Sequence[float] = ACROSS) -> list[Touch]:
    """Paints that grey a pile: what lies across from it on the wheel; a black last."""
    stands = pile.stands
    opposite, inward = opposite_hue(stands.hue), -way(stands.hue)
    usable = [p for p in paints if not p.is_white and (p.is_black or not p.neutral)]
    touched = {p.id: pile.touched(p) for p in usable}
    found = []
    for p in usable:
        gap = hues_apart(p.hue, opposite)
        if p.is_umber:  # after the colours that lie across
            gap = max(gap, ACROSS[0] + 1)
        if p.is_black:  # after all that lies across
            gap = max(hues_apart(BLUE, opposite) + _BLACK_LAST, ACROSS[1] + 1)
        drop = touched[p.id].toward(inward)
        if drop > _DULLS:
            own = _INSIDE if p.id in pile.inside else 0.0
            found.append((gap, across_rank(drop, gap, p.chroma) - own, touched[p.id]))
    if best := nearest_first(found, near):
        return best
    blacks = [touched[p.id] for p in usable if p.is_black]
    browns = [(t.toward(inward), t) for p in usable if p.is_umber and (t := touched[p.id]).toward(inward) > _GREYS]
    return blacks or _sorted(browns)


def across_rank(drop: float, gap: float, chroma: float) -> float:
    """How gladly a paint is taken to grey a colour: how straight it leads inward, -1..1, how far it lies from just
    across, and how strong it is."""
    return drop * drop - _PER_ACROSS * gap - _PER_CHROMA * chroma


def nearest_first(found: Sequence[tuple[float, float, _T]], limits: Sequence[float] = ACROSS) -> list[_T]:
    """Of things with their degrees off a hue and how good they are: those within the first of ``limits`` that holds
    any, best first."""
    for limit in limits:
        within = [(good, thing) for gap, good, thing in found if gap <= limit]
        if within:
            return [thing for _, thing in sorted(within, key=lambda w: -w[0])]
    return []


def lightening(pile: StartPile, paints: Sequence[Paint]) -> list[Touch]:
    """White, and lighter paints of the pile's own kind; these first where it is dark and coloured, for white chalks."""
    stands = pile.stands
    lights = [p for p in paints if p.value > stands.value + _LIGHTER]
    whites = [pile.touched(p) for p in lights if p.is_white]
    kin = [pile.touched(p) for p in lights if not p.is_white and of_its_kind(p, stands)]
    kin = [t for t in kin if t.paint.value > stands.value + _MUCH_LIGHTER]
    kin = sorted((t for t in kin if t.value > 0), key=lambda t: -t.value / t.size)
    return kin + whites if stands.value < 4.5 and stands.chroma > 2.5 else whites + kin


def of_its_kind(paint: Paint, stands: Stands) -> bool:
    """Whether a paint is a lighter or darker neighbour of a colour, by its hue."""
    return stands.chroma > 1.5 and paint.chroma > 4.0 and hues_apart(paint.hue, stands.hue) <= _KIN


def darkening(pile: StartPile, paints: Sequence[Paint]) -> list[Touch]:
    """Darker paints, by how straight they darken; those of the pile's own hue, or across from it, turn it least."""
    stands = pile.stands
    limit = stands.value - _LIGHTER if stands.value > _DIM else stands.value + 0.2
    found = []
    for p in paints:
        if p.is_white or p.value > limit:
            continue
        t = pile.touched(p)
        gap = 0.0 if p.is_black or stands.chroma < 1.5 else hues_apart(p.hue, stands.hue)
        if t.value < 0:
            found.append((-t.value * 2 / t.size - _OFF_SIDES * min(gap, 180 - gap), t))
    return _sorted(found)


def strengthening(pile: StartPile, paints: Sequence[Paint]) -> list[Touch]:
    """Purer paints of the pile's own hue; of a grey, what is in it already, for that is what it can be; and where
    nothing is purer, more of what is in it and less white."""
    stands, outward = pile.stands, way(pile.stands.hue)
    coloured = [pile.touched(p) for p in paints if not p.neutral]
    own = [t for t in coloured if t.paint.id in pile.inside]
    if stands.chroma < HUELESS and (found := [(t.chroma / t.size, t) for t in own if t.chroma > 0]):
        return _sorted(found)
    near = [t for t in coloured if hues_apart(t.paint.hue, stands.hue) < 75]
    leads = [(t.toward(outward), t) for t in near]
    found = [(x - _PER_DEGREE * hues_apart(t.paint.hue, stands.hue), t) for x, t in leads if x > 0.2]
    found = found or [(t.chroma, t) for t in near if t in own and t.chroma > _KEEPS]
    whites = [pile.touched(p) for p in paints if p.is_white]  # they bring out a dark transparent colour
    return _sorted(found or [(t.chroma, t) for t in whites if t.chroma > _BRINGS_OUT])


def warming(pile: StartPile, paints: Sequence[Paint]) -> list[Touch]:
    """Warm paints, by how straight they warm; a little of a strong one before much of a weak."""
    touched = [pile.touched(p) for p in paints if p.is_warm]
    for goes in (_turning(pile.stands, WARMEST, most) for most in (_TEMPERATURE, 1.0)):
        if found := [(t.toward(goes) - _PER_SHARE * t.share, t) for t in touched if t.toward(goes) > 0]:
            return _sorted(found)
    return _sorted([(x, t) for t in touched if (x := t.toward(way(WARMEST))) > _BY_NAME])


def cooling(pile: StartPile, paints: Sequence[Paint]) -> list[Touch]:
    """Cool paints, the blues first, by how straight they cool; black after them."""
    goes = _turning(pile.stands, opposite_hue(WARMEST), _TEMPERATURE)
    found = []
    for t in (pile.touched(p) for p in paints if p.is_cool):
        last = 0.5 if t.paint.is_black else _PER_DEGREE * hues_apart(t.paint.hue, BLUE)
        if t.toward(goes) > 0:
            found.append((t.toward(goes) - last, t))
    return _sorted(found)


def chalking(pile: StartPile, paints: Sequence[Paint]) -> list[Touch]:
    """Whites: lighter, cooler and greyer at once."""
    return lightening(pile, [p for p in paints if p.is_white])


def progress(stands: Stands, to: Way, labs: Array) -> Array:
    """How far colours Lab (m, 3) have gone one way (m,), from where a pile stands: in steps of value or of chroma."""
    at = vectors(labs)
    if to in _OF_VALUE:
        return np.asarray(at[:, 0] * (-1 if to == "darker" else 1))
    if to in ("duller", "stronger"):
        return np.asarray(np.hypot(at[:, 1], at[:, 2]) * (-1 if to == "duller" else 1))
    goes = way(WARMEST) * (-1 if to == "cooler" else 1) if to in ("warmer", "cooler") else _turning(stands, HUES[to])
    return np.asarray(at[:, 1:] @ goes)


def besides(to: Way, before: Lab, after: Lab) -> str:
    """A way with what else it does on it: "yellower, a little lighter"."""
    a, b = place(before), place(after)
    said: list[str] = [to]
    if to not in _OF_VALUE:
        said += _much(b.value - a.value, _SEEN_VALUE, "lighter", "darker")
    if to not in ("duller", "stronger", "chalkier"):
        said += _much(b.chroma - a.chroma, _SEEN_CHROMA, "stronger", "duller")
    if to not in HUES and to not in ("warmer", "cooler"):
        said += _much(float((b.vector - a.vector)[1:] @ way(WARMEST)), _SEEN_CHROMA, "warmer", "cooler")[:1]
    return ", ".join(said)


def _much(gained: float, seen: float, more: str, less: str) -> list[str]:
    if abs(gained) < seen:
        return []
    return [("a little " if abs(gained) < 3 * seen else "") + (more if gained > 0 else less)]


_OTHERS: dict[str, Callable[[StartPile, Sequence[Paint]], list[Touch]]] = {
    "lighter": lightening, "darker": darkening, "warmer": warming, "cooler": cooling, "duller": dulling,
    "stronger": strengthening, "chalkier": chalking,
}  # fmt: skip


def _sorted(found: list[tuple[float, Touch]]) -> list[Touch]:
    return [t for _, t in sorted(found, key=lambda f: -f[0])]
