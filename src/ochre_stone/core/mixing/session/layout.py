"""Where piles go on the palette: light above, dark below, warm left, cool right, neutral in the middle.

A pile is a low dome, as high as two fifths of its radius; tubes stand as dabs along the upper edge, warm left, cool
right. Wanted places come from value and warmth; piles that would touch are pushed apart, sideways before up or down,
since value is what the eye looks for first on the palette (common practice, no source).
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.relations import warmth
from ochre_stone.core.colour.spaces import Array, as_lab

GAP_CM = 0.9
"""Room for the knife between two piles."""
_DAB_CM, _EDGE_CM = 2.2, 0.4
_ROUNDS = 400
_CAP = np.pi * 0.4 / 6 * (3 + 0.4**2)


@dataclass(frozen=True)
class Spot:
    """A pile on the palette; centimetres from its left and its upper edge."""

    id: str
    x: float
    y: float
    radius: float


@dataclass(frozen=True)
class Board:
    """A palette laid out."""

    width: float
    height: float
    spots: tuple[Spot, ...]
    dabs: tuple[Spot, ...]
    """Tubes along the upper edge."""
    fits: bool
    """Whether everything lies apart and within the edges."""

    @property
    def words(self) -> str:
        """One sentence."""
        size = f"{self.width:g} x {self.height:g} cm"
        if self.fits:
            return f"{len(self.spots)} piles fit on {size}: light above, dark below, warm left, cool right."
        return f"{len(self.spots)} piles are too many for {size}: take one string after another, or a larger palette."


def radius_cm(ml: float) -> float:
    """Radius of the dome that a pile makes."""
    return float((max(ml, 0.0) / _CAP) ** (1 / 3))


def lay_out(
    piles: Mapping[str, tuple[Sequence[float], float]],
    tubes: Mapping[str, Sequence[float]],
    width: float,
    height: float,
) -> Board:
    """Places for ``piles`` (id to Lab and millilitres) and ``tubes`` (id to Lab) on a palette of this size in cm.

    Raises ValueError for a size at or below 0.
    """
    if width <= 0 or height <= 0:
        raise ValueError("a palette needs a width and a height above 0")
    dabs = _dabs(tubes, width)
    top = max((d.y + d.radius for d in dabs), default=0.0) + GAP_CM
    ids = list(piles)
    if not ids:
        return Board(width, height, (), dabs, True)
    r = np.array([radius_cm(piles[i][1]) for i in ids])
    value = np.array([float(value_of_lightness(min(max(piles[i][0][0], 0.0), 100.0))) for i in ids])
    warm = np.array([warmth(as_lab(piles[i][0])) for i in ids])
    low, high = float(value.min()), float(value.max())
    inner_w, inner_h = width - 2 * _EDGE_CM, height - top - _EDGE_CM
    want = np.stack(
        [_EDGE_CM + (0.5 - 0.46 * warm) * inner_w, top + (high - value) / max(high - low, 1.0) * inner_h], axis=1
    )
    at = _apart(want, r, (_EDGE_CM, top, width - _EDGE_CM, height - _EDGE_CM))
    between = np.linalg.norm(at[:, None] - at[None], axis=2) - r[:, None] - r[None]
    np.fill_diagonal(between, np.inf)
    inside = (
        (at[:, 0] - r >= -0.01)
        & (at[:, 0] + r <= width + 0.01)
        & (at[:, 1] - r >= top - GAP_CM - 0.01)
        & (at[:, 1] + r <= height + 0.01)
    )
    fits = bool(between.min() > 0.05 and inside.all())
    spots = tuple(Spot(i, float(x), float(y), float(q)) for i, (x, y), q in zip(ids, at, r, strict=True))
    return Board(width, height, spots, dabs, fits)


def _dabs(tubes: Mapping[str, Sequence[float]], width: float) -> tuple[Spot, ...]:
    if not tubes:
        return ()
    order = sorted(tubes, key=lambda i: (-warmth(as_lab(tubes[i])), i))
    step = (width - 2 * _EDGE_CM) / len(order)
    radius = min(_DAB_CM, step * 0.9) / 2
    return tuple(Spot(i, _EDGE_CM + step * (k + 0.5), _EDGE_CM + radius, radius) for k, i in enumerate(order))


def _apart(want: Array, r: Array, box: tuple[float, float, float, float]) -> Array:
    """Places near ``want`` (n, 2) whose circles ``r`` (n,) lie ``GAP_CM`` apart within ``box``, as far as they can."""
    rng = np.random.default_rng(1)
    x, y = (want + rng.normal(0, 0.01, want.shape)).T.copy()
    k = np.arange(len(want))
    nudge = 1e-4 * (k[:, None] - k[None])
    need = r[:, None] + r[None] + GAP_CM
    far = np.eye(len(want)) * 1e9
    for turn in range(_ROUNDS):
        pull = 0.08 * (1 - turn / _ROUNDS)
        x = x + (want[:, 0] - x) * (pull * 0.5)
        y = y + (want[:, 1] - y) * pull
        for _ in range(3):
            dx, dy = x[:, None] - x[None] + nudge, y[:, None] - y[None] - nudge  # two in one place still part
            gap = np.sqrt(dx * dx + dy * dy) + far
            share = np.maximum(need - gap, 0) / (2 * gap)
            # Sideways first: a push counts less up and down, so that value stays readable.
            x = np.clip(x + (dx * share).sum(axis=1), box[0] + r, np.maximum(box[2] - r, box[0] + r))
            y = np.clip(y + 0.6 * (dy * share).sum(axis=1), box[1] + r, np.maximum(box[3] - r, box[1] + r))
    return np.stack([x, y], axis=1)
