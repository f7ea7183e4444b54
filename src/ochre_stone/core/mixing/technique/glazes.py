"""Plan a glaze: a transparent film over a dry, lighter and stronger underpainting, coat by coat.

A coat is a film of one transparent tube over what is there (Kubelka 1948), seen through the surface; coats of the same
paint add up in thickness. The underpainting is a hiding layer, or a ground of its own colour. The search tries every
transparent tube alone and every pair in both orders, one to ``most`` coats, at thicknesses that a brush leaves.
"""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import Array, as_lab
from ochre_stone.core.mixing.recipe.search import nearest_mixture, weighted_error
from ochre_stone.core.paint.layers import SCATTER_PER_MM, ground_below
from ochre_stone.core.paint.optics import (
    USUAL,
    Surface,
    film_reflectance,
    infinite_reflectance,
    reflectance_to_lab,
    seen_through_surface,
)
from ochre_stone.core.paint.tubes import Tube

MEDIUM = (3, 9, 29)
"""Parts of medium to one of paint: a strong, a usual and a faint glaze (common practice, no source)."""
COATS_UM = (6.0, 12.0, 20.0)
"""Thicknesses of one coat as it is brushed on, medium and all, micrometres (common practice, no source)."""
_KINDS: list[tuple[int, float]] = [(m, um) for m in MEDIUM for um in COATS_UM]
_PAINT_MM: Array = np.array([um / 1000 / (m + 1) for m, um in _KINDS])
MOST_COATS = 4
_PER_COAT = 0.25
"""What one more coat weighs against one of weighted CIEDE2000."""


@dataclass(frozen=True)
class Coat:
    """One film."""

    tube: str
    medium: int
    """Parts of medium to one of paint."""
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
        return "; ".join(f"{c.um:.0f} µm of {c.tube} in {c.medium} of medium" for c in self.coats)


def is_transparent(t: Tube) -> bool:
    """Whether a tube may glaze: transparent or nearly so, and no white."""
    return t.opacity in ("T", "ST") and not t.is_white


def under_of(tube_shares: Sequence[tuple[Tube, float]]) -> Array:
    """Internal reflectance (36,) of a dry, hiding underpainting of tubes and their shares."""
    K = sum((t.K * c for t, c in tube_shares), np.zeros(36))
    S = sum((t.S * c for t, c in tube_shares), np.zeros(36))
    return infinite_reflectance(K, S)


def white_ground(measured: float = 0.9, surface: Surface = USUAL) -> Array:
    """Internal reflectance (36,) of a white ground that measures so."""
    return ground_below(np.full(36, measured), surface)


def ground_of(lab: Sequence[float], tubes: Sequence[Tube], surface: Surface = USUAL) -> Array:
    """Internal reflectance (36,) of a toned ground of colour ``lab``: that of the mixture of ``tubes`` that comes
    nearest, brought to its lightness."""
    K, S = np.stack([t.K for t in tubes]), np.stack([t.S for t in tubes])
    _, shares = nearest_mixture(K, S, lab, surface)
    R = under_of([(t, float(c)) for t, c in zip(tubes, shares, strict=True) if c > 0])
    light = float(reflectance_to_lab(seen_through_surface(R, surface))[0])
    gain = (((float(lab[0]) + 16) / 116) / ((light + 16) / 116)) ** 3
    return np.clip(R * gain, 0.0, 1.0)


def _triple(row: Array) -> tuple[float, float, float]:
    return as_lab(row)


def coat(tube: Tube, medium: float, um: float, below: Array) -> Array:
    """Internal reflectance (36,) of a coat ``um`` thick, one part of paint to ``medium``, over ``below``; both at or
    above 0. The medium itself is clear."""
    x = um / 1000 / (medium + 1) * SCATTER_PER_MM
    return film_reflectance(tube.K, tube.S, np.array([x]), below)


def plan_glaze(
    target: Sequence[float],
    below: Array,
    tubes: Sequence[Tube],
    most: int = MOST_COATS,
    surface: Surface = USUAL,
    count: int = 4,
) -> list[Glaze]:
    """The best glazes of ``target`` Lab over ``below`` (36,), an internal reflectance; best first, at most ``count``.

    ``most``: coats, 1 to 6. Empty where no tube is transparent. Films only take light away: a target lighter than what
    lies below cannot be reached, and the nearest is given with its distance.
    """
    if not 1 <= most <= 6:
        raise ValueError(f"{most} coats: choose 1 to 6")
    clear = [t for t in tubes if is_transparent(t)]
    goal = np.asarray(target, dtype=float).reshape(3)
    under = _triple(reflectance_to_lab(seen_through_surface(below, surface)))
    found: list[tuple[float, tuple[tuple[Tube, int, int], ...]]] = []

    def score(R: Array, coats: int | Array) -> Array:
        lab = reflectance_to_lab(seen_through_surface(R, surface))
        return np.asarray(weighted_error(lab, goal) + _PER_COAT * np.asarray(coats))

    singles: list[tuple[Tube, int, int]] = []
    under_next: list[Array] = []
    for t in clear:
        for n in range(1, most + 1):
            R = film_reflectance(t.K, t.S, _PAINT_MM[:, None] * SCATTER_PER_MM * n, below)
            for kind, (r, e) in enumerate(zip(R, score(R, n), strict=True)):
                found.append((float(e), ((t, kind, n),)))
                singles.append((t, kind, n))
                under_next.append(r)
    # A second paint over all that may lie below it at once.
    for u in clear:
        for m in range(1, most):
            before = [i for i, (t, _, n) in enumerate(singles) if t.id != u.id and n + m <= most]
            if not before:
                continue
            lower = np.array([under_next[i] for i in before])[:, None]
            R = film_reflectance(u.K, u.S, _PAINT_MM[:, None] * SCATTER_PER_MM * m, lower)
            e = score(R, np.array([singles[i][2] + m for i in before])[:, None])
            for i, best, at in zip(before, e.min(axis=1).tolist(), e.argmin(axis=1).tolist(), strict=True):
                found.append((best, (singles[i], (u, at, m))))
    found.sort(key=lambda f: f[0])
    out: list[Glaze] = []
    seen: set[tuple[str, ...]] = set()
    for _, layers in found:
        key = tuple(t.id for t, _, _ in layers)
        if key in seen:
            continue
        seen.add(key)
        R, coats = below, []
        for t, kind, n in layers:
            medium, um = _KINDS[kind]
            for _ in range(n):
                R = coat(t, medium, um, R)
                coats.append(Coat(t.id, medium, um, _triple(reflectance_to_lab(seen_through_surface(R, surface)))))
        out.append(Glaze(under, tuple(coats), float(ciede2000(coats[-1].lab, goal))))
        if len(out) == count:
            break
    return out


_LIGHTER: tuple[float, ...] = (5.0, 10.0, 17.0)
_STRONGER: tuple[float, ...] = (1.0, 1.3)


def underpainting(
    target: Sequence[float], tubes: Sequence[Tube], surface: Surface = USUAL
) -> tuple[tuple[tuple[str, float], ...], Glaze] | None:
    """A dry underpainting lighter and stronger than ``target`` Lab, tubes and shares, and the glaze over it; None where
    the palette has no transparent tube or reaches nothing lighter.

    Tried: mixtures of at most three tubes, 5, 10 and 17 lighter in L*, of the target's chroma and of 1.3 times that.
    """
    K, S = np.stack([t.K for t in tubes]), np.stack([t.S for t in tubes])
    best: tuple[float, tuple[tuple[str, float], ...], Glaze] | None = None
    for lighter, stronger in itertools.product(_LIGHTER, _STRONGER):
        aim = (min(target[0] + lighter, 97.0), target[1] * stronger, target[2] * stronger)
        _, shares = nearest_mixture(K, S, aim, surface, 3)
        mix = tuple((t, float(c)) for t, c in zip(tubes, shares, strict=True) if c > 0.01)
        below = under_of(mix)
        if float(reflectance_to_lab(seen_through_surface(below, surface))[0]) < target[0] + 2:
            continue
        found = plan_glaze(target, below, tubes, 2, surface, 1)
        if found and (best is None or found[0].off < best[0]):
            best = found[0].off, tuple((t.id, c) for t, c in mix), found[0]
    return None if best is None else (best[1], best[2])
