"""Paint too small to dose goes in from a tint pile; a mother colour goes into everything."""

import itertools
from dataclasses import replace

import numpy as np

from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.mixing.recipe.recipe import TINT, TINT_WHITE
from ochre_stone.core.mixing.recipe.search import Found, Ints, Paints
from ochre_stone.core.mixing.recipe.sources import Sources
from ochre_stone.core.paint.tubes import strength_of

MOTHER = 1 / 12
"""Least share of a mother colour in every pile."""
_SMALL = 1 / 30
"""Below this share of a pile a paint cannot be dosed from the tube."""


def through_tints(sources: Sources, found: Found) -> Found | None:
    """Rewrite mixtures that hold a paint too small to dose, so that it goes in from its tint pile."""
    n = len(sources.tubes)
    white = next((i for i, t in enumerate(sources.tubes) if t.is_white), None)
    tint_at = {s.id: n + j for j, s in enumerate(sources.extra)}
    if white is None:
        return None
    rows: list[tuple[float, Array, Ints]] = []
    for error, c, idx in zip(found.error, found.shares, found.index, strict=True):
        if white not in idx:
            continue
        w = int(np.flatnonzero(idx == white)[0])
        c, idx = c.copy(), idx.copy()
        for j in np.argsort(c):
            at = tint_at.get(f"{TINT}{sources.tubes[idx[j]].id}") if j != w else None
            if at is not None and 1e-5 < c[j] < _SMALL and c[w] > TINT_WHITE * c[j]:
                c[w] -= TINT_WHITE * c[j]
                c[j] *= TINT_WHITE + 1
                idx[j] = at
        if (idx >= n).any():
            rows.append((float(error), c, idx))
    if not rows:
        return None
    return Found(np.array([r[0] for r in rows]), np.stack([r[1] for r in rows]), np.stack([r[2] for r in rows]))


def with_mother(paints: Paints, mother: int, floor: float = MOTHER) -> Paints:
    """The paints, each with ``floor`` of the paint at that index mixed in."""
    K = paints.K * (1 - floor) + paints.K[mother] * floor
    S = paints.S * (1 - floor) + paints.S[mother] * floor
    return replace(paints, K=K, S=S, strength=strength_of(K, S))


def through_mother(sources: Sources, goal: Array, mother: int) -> Found:
    """The best mixtures of the mother colour with as many other tubes as the terms allow."""
    n = len(sources.tubes)
    others = [i for i in range(n) if i != mother]
    k = min(max(sources.terms.most - 1, 1), 3, len(others))
    subsets = np.array([(*s, mother) for s in itertools.combinations(others, k)], dtype=np.intp)
    rows: list[tuple[Array, Array]] = []
    for floor in (MOTHER, 1.3 * MOTHER):  # rounding may take a part away: the second leaves room for that
        mixed = with_mother(sources.search.paints, mother, floor)
        v = np.full((len(subsets), k + 1), (k + 1) ** -0.5)
        error, shares = mixed.refine(goal, v, subsets, rounds=12, all_of_them=True)
        shares = shares * (1 - floor)
        shares[:, -1] += floor
        rows.append((error, shares))
    best = [np.argsort(error)[:8] for error, _ in rows]  # of both, for few are rounded
    error, shares = (np.concatenate([r[i][at] for r, at in zip(rows, best, strict=True)]) for i in (0, 1))
    return Found(error, shares, np.concatenate([subsets[at] for at in best]))
