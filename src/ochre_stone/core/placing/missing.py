"""What no pile comes near: places that another pile would mend, the most worth first, and what no pile would."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import Array, Lab, as_lab
from ochre_stone.core.keys.pieces import pieces_of
from ochre_stone.core.later import later
from ochre_stone.core.picture.picture import Mask
from ochre_stone.core.placing.laying_ground import PlacingGround

cv2 = later("cv2")

_FROM, _CAP = 5.0, 20.0
"""CIEDE2000 from which a place is missed, and beyond which it counts no more (judgements)."""
_LOOKED_AT = 5.0
"""How much more a place counts where the painter looks."""
_REACHED, _SAME = 4.0, 3.0
"""CIEDE2000 within which the palette reaches a colour, and within which a pile is there already."""
_TRIES, _LEAST = 24, 0.01
_CELL = np.array([6.0, 8.0, 8.0])
_BETTER = 0.5
_SLIVER = 0.007
"""Width of what is left out of the places that are shown, in sides of the picture."""


@dataclass(frozen=True, eq=False)
class MissingPlace:
    """A colour that the plan does not give."""

    row: int
    """Of a spot well inside it, in the ground."""
    column: int
    free: float
    """Radius about that spot of that colour, pixels of the ground."""
    lab: Lab
    """CIELAB there, as it is to be painted."""
    mixture: Lab
    """What the palette would mix for it."""
    area: float
    """Share of the picture that would be nearer with it."""
    off: float
    """CIEDE2000 there now, the mean; and with it."""
    left: float
    where: Mask
    """The places that would be nearer with it (h, w), those of slivers left out: every soft edge would shout."""


@dataclass(frozen=True, eq=False)
class MissingFound:
    """All that is missing."""

    places: tuple[MissingPlace, ...]
    """That a pile would mend, the most worth first."""
    beyond: float
    """Share of the picture that is missed because the palette does not reach it."""


def missing_places(ground: PlacingGround, colours: Array, reach: Callable[[Lab], Lab], most: int = 5) -> MissingFound:
    """At most ``most`` places that no pile of ``colours`` CIELAB (k, 3) comes near; ``reach``: the nearest that the
    palette mixes for a colour."""
    pieces = pieces_of(ground.melted, ground.steep)
    flat, n = pieces.ravel(), int(pieces.max()) + 1
    size = np.maximum(np.bincount(flat, minlength=n), 1)
    sums = np.stack([np.bincount(flat, ground.melted[..., i].ravel(), minlength=n) for i in range(3)], axis=1)
    mean: Array = np.asarray(sums / size[:, None], dtype=float)
    kept = np.bincount(flat, ground.kept.ravel(), minlength=n) / size
    share = size / size.sum()
    there = np.asarray(colours, dtype=float).reshape(-1, 3)
    now = _nearest(mean, there)
    weight = share * (1 + _LOOKED_AT * kept)
    known: dict[int, tuple[Array, Array]] = {}
    live = now > _FROM / 2  # what is nearer than that counts for nothing

    def tried_with(piece: int) -> tuple[Array, Array]:
        """The pile that a piece would get, and how far all pieces would be from it."""
        if piece not in known:
            mixture, far = np.array(reach(as_lab(mean[piece]))), np.full(n, np.inf)
            far[live] = ciede2000(mean[live], mixture)
            known[piece] = mixture, far
        return known[piece]

    out: list[MissingPlace] = []
    given_up: set[int] = set()
    while len(out) < most:
        tried = _candidates(mean, now, weight, given_up)
        if not tried:
            break
        mixtures = np.array([tried_with(c)[0] for c in tried])
        far = np.stack([tried_with(c)[1] for c in tried], axis=1)
        worth = (weight[:, None] * np.maximum(_cost(now)[:, None] - _cost(far), 0)).sum(axis=0)
        worth[_nearest(mixtures, there) < _SAME] = 0
        k = int(worth.argmax())
        if worth[k] <= _LEAST:
            break
        piece, mixture, with_it = tried[k], mixtures[k], far[:, k]
        given_up.add(piece)
        take = with_it < now - _BETTER
        spot = _spot(ground, take[pieces], mean[piece], float(now[piece]), pieces == piece)
        if spot is not None:
            off, left = (float(np.average(d[take], weights=size[take])) for d in (now, with_it))
            place = as_lab(mean[piece]), as_lab(mixture)
            where = _without_slivers(take[pieces], ground.side)
            out.append(MissingPlace(*spot, *place, float(share[take].sum()), off, left, where))
        now = np.minimum(now, with_it)
        there = np.vstack([there, mixture])
    lacking = [c for c in _candidates(mean, now, weight, set()) if tried_with(c)[1][c] > _REACHED]
    beyond = np.zeros(n, bool)
    for c in lacking:
        beyond |= (now > _FROM) & (np.asarray(ciede2000(mean, mean[c])) < _FROM)
    return MissingFound(tuple(out), float(share[beyond].sum()))


def _without_slivers(where: Mask, side: float) -> Mask:
    wide = max(1, round(_SLIVER * side)) | 1
    round_ = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (wide, wide))
    return np.asarray(cv2.morphologyEx(where.astype(np.uint8), cv2.MORPH_OPEN, round_), dtype=bool)


def _cost(far: Array) -> Array:
    return np.asarray(np.minimum(np.maximum(far - _FROM / 2, 0), _CAP) ** 2)


def _nearest(lab: Array, colours: Array) -> Array:
    return np.asarray(np.min([ciede2000(lab, c) for c in colours], axis=0))


def _candidates(mean: Array, now: Array, weight: Array, given_up: set[int]) -> list[int]:
    """The heaviest missed piece of each cell of Lab, the heaviest cells first."""
    may = np.flatnonzero(now > _FROM)
    may = may[~np.isin(may, list(given_up))]
    if not len(may):
        return []
    heavy = weight[may] * _cost(now[may])
    _, back = np.unique(np.floor(mean[may] / _CELL).astype(int), axis=0, return_inverse=True)
    total = np.bincount(back.ravel(), heavy)
    best = np.argsort(-total, kind="stable")[:_TRIES]
    return [int(may[back.ravel() == b][heavy[back.ravel() == b].argmax()]) for b in best]


def _spot(ground: PlacingGround, take: Mask, lab: Array, now: float, piece: Mask) -> tuple[int, int, float] | None:
    """Row, column and free radius of a spot well inside what is missed; None where there is none."""
    near = take & (np.asarray(ciede2000(ground.melted, lab)) < max(_FROM, 0.5 * now))
    count, numbered, stats, _ = cv2.connectedComponentsWithStats(near.astype(np.uint8), connectivity=4)
    if count < 2:
        return None
    own = numbered[piece & near]
    which = int(np.bincount(own).argmax()) if len(own) else 1 + int(stats[1:, 4].argmax())
    inner = cv2.distanceTransform(np.pad((numbered == which).astype(np.uint8), 1), cv2.DIST_L2, 3)[1:-1, 1:-1]
    row, column = np.unravel_index(int(inner.argmax()), inner.shape)
    return int(row), int(column), float(inner.max())
