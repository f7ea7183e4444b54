"""Plan a glaze: a transparent film over a dry, lighter and brighter underpainting, coat by coat.

A coat is a film of one transparent tube over what is there (Kubelka 1948), seen through the surface; coats of the same
paint add up in thickness. The underpainting is a hiding layer, or a ground of its own colour. The search tries every
transparent tube alone and every pair in both orders, one to ``most`` coats, at thicknesses that a brush leaves.
"""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.mixing.search import weighted_error
from ochre_stone.core.paint.layers import SCATTER_PER_MM, ground_below
from ochre_stone.core.paint.optics import (
    SATIN,
    Surface,
    film_reflectance,
    infinite_reflectance,
    reflectance_to_lab,
    seen_through_surface,
)
from ochre_stone.core.paint.tubes import Tube

THIN = 0.25
"""Share of paint in a glaze, the rest medium: a tube part in three of medium (common practice, no source)."""
COATS_UM: Array = np.array([3.0, 6.0, 10.0, 15.0, 22.0])
"""Thicknesses of one coat of glaze as it is brushed on, micrometres (common practice, no source)."""
MOST_COATS = 4
_PER_COAT = 0.25
"""What one more coat weighs against one of weighted CIEDE2000."""


@dataclass(frozen=True)
class Coat:
    """One film."""

    tube: str
    um: float
    """Micrometres of glaze, medium and all."""
    lab: tuple[float, float, float]
    """Colour once it is on."""


@dataclass(frozen=True)
class Glaze:
    """Coats over an underpainting."""

    under: tuple[float, float, float]
    coats: tuple[Coat, ...]
    off: float
    """CIEDE2000 of the last colour from the target."""

    @property
    def words(self) -> str:
        """As it is done."""
        return "; ".join(f"{c.um:.0f} µm of {c.tube}" for c in self.coats)


def is_transparent(t: Tube) -> bool:
    """Whether a tube may glaze: transparent or nearly so, and no white."""
    return t.opacity in ("T", "ST") and not t.is_white


def under_of(tube_shares: Sequence[tuple[Tube, float]], surface: Surface = SATIN) -> Array:
    """Internal reflectance (36,) of a dry, hiding underpainting of tubes and their shares."""
    K = sum((t.K * c for t, c in tube_shares), np.zeros(36))
    S = sum((t.S * c for t, c in tube_shares), np.zeros(36))
    return infinite_reflectance(K, S)


def white_ground(measured: float = 0.9, surface: Surface = SATIN) -> Array:
    """Internal reflectance (36,) of a white ground that measures so."""
    return ground_below(np.full(36, measured), surface)


def _triple(row: Array) -> tuple[float, float, float]:
    return float(row[0]), float(row[1]), float(row[2])


def coat(tube: Tube, um: float, below: Array) -> Array:
    """Internal reflectance (36,) of a coat ``um`` thick over ``below``; thickness at or above 0."""
    x = um / 1000 * THIN * SCATTER_PER_MM
    return film_reflectance(tube.K, tube.S, np.array([x]), below)


def plan_glaze(
    target: Sequence[float], below: Array, tubes: Sequence[Tube], most: int = MOST_COATS, surface: Surface = SATIN,
    count: int = 4,
) -> list[Glaze]:  # fmt: skip
    """The best glazes of ``target`` Lab over ``below`` (36,), an internal reflectance; best first, at most ``count``.

    ``most``: coats, 1 to 6. Empty where no tube is transparent. Films only take light away: a target lighter than what
    lies below cannot be reached, and the nearest is given with its distance.
    """
    if not 1 <= most <= 6:
        raise ValueError(f"{most} coats: choose 1 to 6")
    clear = [t for t in tubes if is_transparent(t)]
    goal = np.asarray(target, dtype=float).reshape(3)
    under = _triple(reflectance_to_lab(seen_through_surface(below, surface)))
    found: list[tuple[float, tuple[tuple[Tube, float, int], ...]]] = []

    def score(R: Array, coats: int) -> Array:
        lab = reflectance_to_lab(seen_through_surface(R, surface))
        return np.asarray(weighted_error(lab, goal) + _PER_COAT * coats)

    singles: list[tuple[Tube, int, float, Array]] = []
    for t in clear:
        for n in range(1, most + 1):
            x = COATS_UM[:, None] / 1000 * THIN * SCATTER_PER_MM * n
            R = film_reflectance(t.K, t.S, x, below)
            for um, r, e in zip(COATS_UM, R, score(R, n), strict=True):
                found.append((float(e), ((t, float(um), n),)))
                singles.append((t, n, float(um), r))
    for t, n, um, r in singles:
        for u in clear:
            if u.id == t.id:
                continue
            for m in range(1, most - n + 1):
                x = COATS_UM[:, None] / 1000 * THIN * SCATTER_PER_MM * m
                R = film_reflectance(u.K, u.S, x, r)
                e = score(R, n + m)
                at = int(np.argmin(e))
                found.append((float(e[at]), ((t, um, n), (u, float(COATS_UM[at]), m))))
    found.sort(key=lambda f: f[0])
    out: list[Glaze] = []
    seen: set[tuple[str, ...]] = set()
    for _, layers in found:
        key = tuple(t.id for t, _, _ in layers)
        if key in seen:
            continue
        seen.add(key)
        R, coats = below, []
        for t, um, n in layers:
            for _ in range(n):
                R = coat(t, um, R)
                coats.append(Coat(t.id, um, _triple(reflectance_to_lab(seen_through_surface(R, surface)))))
        out.append(Glaze(under, tuple(coats), float(ciede2000(coats[-1].lab, goal))))
        if len(out) == count:
            break
    return out


def underpainting(target: Sequence[float], tubes: Sequence[Tube], surface: Surface = SATIN) -> tuple[
    tuple[tuple[str, float], ...], Glaze
] | None:  # fmt: skip
    """A dry underpainting lighter and brighter than ``target``, tubes and shares, and the glaze over it; None where the
    palette has no transparent tube.

    Tried: white, and white with each opaque tube one to three, one to one and three to one.
    """
    white = max(tubes, key=lambda t: t.lab[0])
    opaque = [t for t in tubes if t.id != white.id and t.opacity in ("O", "SO")]
    tried: list[tuple[tuple[Tube, float], ...]] = [((white, 1.0),)]
    tried += [((t, c), (white, 1 - c)) for t, c in itertools.product(opaque, (0.25, 0.5, 0.75))]
    best: tuple[float, tuple[tuple[str, float], ...], Glaze] | None = None
    for mix in tried:
        below = under_of(mix, surface)
        lab = reflectance_to_lab(seen_through_surface(below, surface))
        if lab[0] < target[0] + 4:
            continue
        found = plan_glaze(target, below, tubes, 2, surface, 1)
        if found and (best is None or found[0].off + 0.2 * len(mix) < best[0]):
            best = found[0].off + 0.2 * len(mix), tuple((t.id, c) for t, c in mix), found[0]
    return None if best is None else (best[1], best[2])
