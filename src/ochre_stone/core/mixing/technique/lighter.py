"""Lighter and darker: the ways that painters argue about, side by side, with what each does to chroma and warmth.

Lighter with white, with a lighter neighbour such as a yellow, with both, or with a lighter pile; darker with the
complement, a blue, a brown, both, black, or a darker neighbour (common practice, no source). Each is brought to the
same value, in parts that can be counted, so that what is left to compare is its colour; a way that turns the hue is no
way lighter or darker.
"""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.advice.frame import NAMED, YELLOW, Paint, Stands, hues_apart, of_tube, place
from ochre_stone.core.advice.ways import ACROSS, StartPile, darkening, dulling, lightening, of_its_kind
from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.relations import warmth
from ochre_stone.core.colour.spaces import Array, Lab, as_lab, lch
from ochre_stone.core.mixing.recipe.nearness import NEAR_ENOUGH
from ochre_stone.core.mixing.recipe.recipe import Source, dose_words
from ochre_stone.core.mixing.recipe.sources import Terms
from ochre_stone.core.mixing.technique.parents import as_source, levelled
from ochre_stone.core.paint.optics import USUAL, layer_lab

VALUE_STEP = 10.0
"""L* of one value step."""
_MOST_PARTS, _PER_PART, _NEAR = 10.0, 0.15, 2.5
_MOST_ADDED = 0.75
"""Share from which it is another pile rather than this one."""
_MOVED = 2.5
"""L* below which nothing was made lighter or darker."""
_BROWN = (3.7, 7.5)
"""Most value and chroma of a warm paint that is called a brown beside a blue: umbers, siennas, dark red earths."""
_TURNED, _OFF_HUE = 25.0, 1.2
"""Degrees of hue, and Munsell chroma across the pile's own, from which a way has turned it."""
_GONE = 0.2
"""Share of its chroma below which a colour is gone."""
_KEPT = 0.5
"""Share of its chroma that a colour keeps where its complement darkens it."""
_GREYED_PARTS = ((10.0, 0.25), (8.0, 0.25), (6.0, 0.25), (5.0, 0.25), (4.0, 0.25), (3.0, 0.25), (2.0, 0.25),
                 (6.0, 1.0), (5.0, 1.0), (4.0, 1.0), (3.0, 1.0), (2.0, 1.0), (3.0, 2.0), (1.0, 1.0))  # fmt: skip
_A_DARK = (2.0, 3.2)
"""Steps of value below the colour, or the value, at which a complement is a dark to darken it with."""
_AS_DARK, _AS_NEAR = 0.2, 1.5
"""Steps of value by which a tube may be lighter than a pile that it darkens beside another; CIEDE2000 by which two
at once may end farther off than one alone."""
_EACH = {"blue": 2, "yellow": 2}
"""How many of a kind are offered, where that is more than one."""
_NEIGHBOURS = 2
_FEW = (0.25, 0.5, 1.0, 2.0, 3.0, 4.0)
_THREE: Array = np.array([p for p in itertools.product(range(1, 7), _FEW, _FEW) if sum(p) <= _MOST_PARTS])
"""Parts of a pile and of two that are added at once."""


@dataclass(frozen=True)
class Move:
    """One way to a lighter or darker colour."""

    kind: str
    """"white", "yellow", "lighter neighbour", "lighter pile", "complement", "blue", "brown", "black" or "darker
    neighbour"; two with "and" between them."""
    pile_parts: float
    added: tuple[tuple[Source, float], ...]
    """What is added, and its parts."""
    lab: Lab
    chroma: float
    """CIELAB chroma gained."""
    warmer: float
    """Warmth (-1 to 1) gained."""
    off: float
    """CIEDE2000 from the colour that was wanted."""
    there: bool = True
    """Whether it gets to the value that was wanted."""

    @property
    def words(self) -> str:
        """What to do, "3 of it, 1 white"."""
        added = [dose_words(s.name, parts, self.kind == "lighter pile") for s, parts in self.added]
        return ", ".join([dose_words("it", self.pile_parts, True), *added])

    @property
    def is_near(self) -> bool:
        """Whether what comes of it is still the colour that was wanted, to a painter who lays it in."""
        return self.off <= NEAR_ENOUGH


def moves(pile: Source, goal: Sequence[float], terms: Terms, lighter_piles: Sequence[Source] = ()) -> list[Move]:
    """Ways from ``pile`` to the lightness of ``goal`` Lab (3,), in the order in which they are named above; those that
    do not get there go as far as they do, those that hardly move it, or turn its hue, are left out.

    ``lighter_piles``: piles at hand, from which the nearest that is light enough is taken.
    """
    surface = terms.finish or USUAL
    K, S = pile.spectra(terms.tubes)
    at = StartPile.of(K, S, [i for i, _ in pile.shares], surface)
    own = layer_lab(K, S, surface)
    up = goal[0] > own[0]
    tried = _lightening(at, terms) if up else _darkening(at, terms)
    if up and (beside := _lighter_pile(own, goal, terms, lighter_piles)) is not None:
        tried.append(("lighter pile", beside))
    found = [m for kind, source in tried if (m := _move(kind, pile, source, own, goal, terms)) is not None]
    out = _nearest_of_each([m for m in found if m.kind == "lighter pile" or not _turns(at.stands, place(m.lab))])
    best = min((m.off for m in out if m.there), default=float("inf"))
    for kind, first, second in _pairs(at, up, tried, terms):
        both = _two_at_once(kind, pile, first, second, own, goal, terms)
        if both is not None and both.off < best + _AS_NEAR and not _turns(at.stands, place(both.lab)):
            out.append(both)
    return out


def _move(kind: str, pile: Source, source: Source, own: Array, goal: Sequence[float], terms: Terms) -> Move | None:
    """One way, where it moves the pile."""
    if kind == "complement":
        found = _greyed(pile, source, place(own), terms)
    else:
        found = counted(pile, source, float(goal[0]), terms)
    if found is None or (kind != "complement" and (found[1][0] - own[0]) * np.sign(goal[0] - own[0]) < _MOVED):
        return None
    (pile_parts, parts), lab = found
    stronger, warmer = float(lch(lab)[1] - lch(own)[1]), warmth(as_lab(lab)) - warmth(as_lab(own))
    off = float(ciede2000(lab, np.array(goal, dtype=float)))
    there = abs(float(lab[0]) - float(goal[0])) <= _NEAR
    return Move(kind, pile_parts, ((source, parts),), as_lab(lab), stronger, warmer, off, there)


def _greyed(pile: Source, more: Source, stands: Stands, terms: Terms) -> tuple[tuple[float, float], Array] | None:
    """Parts of a pile and its complement, and their Lab: as dark as it gets while it keeps half of its chroma, for
    beyond that the complement takes the colour over. At least a touch."""
    surface = terms.finish or USUAL
    (K, S), (k, s) = pile.spectra(terms.tubes), more.spectra(terms.tubes)
    best = None
    for parts in _GREYED_PARTS:
        c = parts[1] / sum(parts)
        lab = layer_lab((1 - c) * K + c * k, (1 - c) * S + c * s, surface)
        at = place(lab)
        if best is not None and (at.chroma < _KEPT * stands.chroma or hues_apart(at.hue, stands.hue) > _TURNED):
            break
        best = parts, lab
    return best


def _turns(before: Stands, after: Stands) -> bool:
    """Whether the hue was turned or is gone, and not only greyed."""
    turned = hues_apart(before.hue, after.hue)
    if before.chroma > 1.5 and after.chroma < _GONE * before.chroma:
        return True
    if min(before.chroma, after.chroma) < 0.75:
        return False
    return turned > _TURNED and after.chroma * float(np.sin(np.radians(min(turned, 90.0)))) > _OFF_HUE


def _nearest_of_each(found: Sequence[Move]) -> list[Move]:
    """Of ways of one kind those that come nearest, so many as are offered of it, in the order found."""
    kept = []
    for kind in dict.fromkeys(m.kind for m in found):
        mine = sorted((m for m in found if m.kind == kind), key=lambda m: (not m.there, m.off))
        kept += mine[: _EACH.get(kind, 1)]
    return [m for m in found if m in kept]


def _pairs(
    at: StartPile, up: bool, tried: Sequence[tuple[str, Source]], terms: Terms
) -> list[tuple[str, Source, Source]]:
    """What painters add at once: white with a lighter neighbour, a blue with a brown."""
    paints = [of_tube(t, at.surface) for t in terms.tubes]
    by_id = {t.id: as_source(t) for t in terms.tubes}
    if up:
        white = dict(tried).get("white")
        kin = [p for p in paints if not p.is_white and p.value > at.stands.value and of_its_kind(p, at.stands)]
        if white is None or not kin:
            return []
        lightest = max(kin, key=lambda p: p.value)
        return [(f"white and {_light_kind(lightest)}", white, by_id[lightest.id])]
    low = [p for p in paints if p.value <= at.stands.value + _AS_DARK]
    browns = sorted((p for p in low if _is_brown(p)), key=lambda p: (p.id not in at.inside, p.value))
    blues = sorted((p for p in low if p.is_blue), key=lambda p: (p.id not in at.inside, p.value))
    if not browns or not blues:
        return []
    return [("blue and brown", by_id[blues[0].id], by_id[browns[0].id])]


def _two_at_once(
    kind: str, pile: Source, first: Source, second: Source, own: Array, goal: Sequence[float], terms: Terms
) -> Move | None:
    """Both in the parts that come nearest; None where they do not get to the value."""
    spectra = [s.spectra(terms.tubes) for s in (pile, first, second)]
    share = _THREE / _THREE.sum(axis=1, keepdims=True)
    lab = layer_lab(
        share @ np.stack([k for k, _ in spectra]), share @ np.stack([s for _, s in spectra]), terms.finish or USUAL
    )
    off = ciede2000(lab, np.array(goal, dtype=float))
    there = np.abs(lab[:, 0] - goal[0]) <= _NEAR
    if not there.any():
        return None
    at = int(np.argmin(np.where(there, off + _PER_PART * _THREE.sum(axis=1), np.inf)))
    n, a, b = (float(x) for x in _THREE[at])
    stronger, warmer = float(lch(lab[at])[1] - lch(own)[1]), warmth(as_lab(lab[at])) - warmth(as_lab(own))
    return Move(kind, n, ((first, a), (second, b)), as_lab(lab[at]), stronger, warmer, float(off[at]))


def counted(pile: Source, more: Source, lightness: float, terms: Terms) -> tuple[tuple[float, float], Array] | None:
    """Parts of a pile and of ``more`` that come nearest to L* ``lightness``, and their Lab; None where neither
    can be counted."""
    surface, paints = terms.finish or USUAL, (pile.spectra(terms.tubes), more.spectra(terms.tubes))
    found = levelled(*paints, lightness, surface, _MOST_PARTS, _MOST_ADDED)
    if found is None:
        return None
    parts, lab = found
    few = parts[:, 1] <= 4 * parts[:, 0]
    if not few.any():
        return None
    parts, lab = parts[few], lab[few]
    best = int(np.argmin(np.abs(lab[:, 0] - lightness) + _PER_PART * parts.sum(axis=1)))
    return (float(parts[best, 0]), float(parts[best, 1])), lab[best]


def step_down(before: Source, lightness: float, terms: Terms) -> tuple[tuple[float, float], Array] | None:
    """A pile as the one before it plus so much white: parts of both and the Lab that comes of them; None without a
    white, or where white does not get there."""
    white = terms.white
    found = counted(before, as_source(white), lightness, terms) if white is not None else None
    return found if found is not None and abs(float(found[1][0]) - lightness) <= _NEAR else None


def _lightening(at: StartPile, terms: Terms) -> list[tuple[str, Source]]:
    by_id = {t.id: t for t in terms.tubes}
    found = [t.paint for t in lightening(at, [of_tube(t, at.surface) for t in terms.tubes])]
    whites = [("white", as_source(by_id[p.id])) for p in found if p.is_white][:1]
    kin = [p for p in found if not p.is_white][:_NEIGHBOURS]
    return [*whites, *((_light_kind(p), as_source(by_id[p.id])) for p in kin)]


def _light_kind(p: Paint) -> str:
    return "yellow" if hues_apart(p.hue, YELLOW) <= NAMED else "lighter neighbour"


def _lighter_pile(own: Array, goal: Sequence[float], terms: Terms, piles: Sequence[Source]) -> Source | None:
    there = [(p, layer_lab(*p.spectra(terms.tubes), terms.finish or USUAL)) for p in piles]
    there = [(p, lab) for p, lab in there if lab[0] > own[0] + _MOVED]
    if not there:
        return None
    # light enough, then as near in colour as there is
    return min(there, key=lambda pair: (pair[1][0] < goal[0], float(ciede2000(pair[1], own))))[0]


def _darkening(at: StartPile, terms: Terms) -> list[tuple[str, Source]]:
    by_id = {t.id: t for t in terms.tubes}
    paints = [of_tube(t, at.surface) for t in terms.tubes]
    dark = [t.paint for t in darkening(at, paints)]
    out: list[tuple[str, Paint]] = []
    if at.stands.chroma > 1.0:
        opposite = [t.paint for t in dulling(at, paints, ACROSS[:2]) if t.value < 0]
        opposite = [p for p in opposite if not (p.is_black or p.is_umber)]
        opposite = [p for p in opposite if p.value <= max(at.stands.value - _A_DARK[0], _A_DARK[1])]
        out += [("complement", p) for p in opposite[:1]]
    for p in dark:
        kind = _dark_kind(p, at.stands) or ("darker neighbour" if p.id in at.inside else "")
        if kind and all(p.id != q.id for _, q in out):
            out.append((kind, p))
    order = ("complement", "blue", "brown", "black", "darker neighbour")
    return [(kind, as_source(by_id[p.id])) for kind, p in sorted(out, key=lambda kp: order.index(kp[0]))]


def _dark_kind(p: Paint, stands: Stands) -> str:
    """What a painter calls a dark tube beside a colour; "" for one that is nobody's way to darken it."""
    if p.is_black:
        return "black"
    if p.is_blue:
        return "blue"
    if _is_brown(p):
        return "brown"
    return "darker neighbour" if stands.chroma > 1.0 and hues_apart(p.hue, stands.hue) <= NAMED else ""


def _is_brown(p: Paint) -> bool:
    return p.is_warm and p.value <= _BROWN[0] and p.chroma <= _BROWN[1]
