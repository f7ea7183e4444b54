"""Correct a pile: the smallest addition that brings it home, from what is known of the tubes.

Additions are at most two tubes, tints or piles; every pair is searched at once, with a price on how far the pile grows.
What was put in can never be taken out: amounts are at or above zero.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from ochre_stone.core.colour.difference import ciede2000, ciede2000_vector
from ochre_stone.core.colour.spaces import Array, as_lab
from ochre_stone.core.mixing.correcting.belief import Belief
from ochre_stone.core.mixing.recipe.search import ORDERS, Ints, nearest_mixture
from ochre_stone.core.paint.optics import Surface, layer_lab
from ochre_stone.core.paint.tubes import Tube

HOME = 2.0
"""A pile nearer to its target than this, CIEDE2000, matches: seen only side by side (common practice, no source)."""
LARGEST = 1.8
"""A pile that would grow beyond so many times its size is better started again, or cut first."""
_GROWTH = 0.7
"""What growing by its own size weighs against one of weighted CIEDE2000."""
_EACH = 0.12
"""What one more thing to add weighs against the same."""
_MOST_GROWTH = 4.0
"""Additions of more than so many times the pile are not looked at."""
_PAIRS, _MOST_TRIED, _TOLD = 24, 24_000, 4
"""Pairs that are polished, steps of the ladder tried over all pairs, additions told."""


@dataclass(frozen=True)
class AtHand:
    """Something to add from: a tube, or a pile by its tubes."""

    id: str
    name: str
    shares: tuple[tuple[str, float], ...]
    """Tube id and share of volume; sums to 1."""
    most: float = float("inf")
    """Volume that there is of it, in the unit of the pile."""
    is_pile: bool = False


@dataclass(frozen=True)
class Correction:
    """What to add to a pile."""

    additions: tuple[tuple[str, float], ...]
    """Id of what is at hand and its volume, in the unit of the pile; empty where nothing helps."""
    names: tuple[str, ...]
    expected: tuple[float, float, float]
    halfway: tuple[float, float, float]
    """Colour expected once half of each is in: look before the rest goes in."""
    de00: float
    """Expected CIEDE2000 from the target."""
    now: float
    """That of the pile as it is."""
    growth: float
    """Size of the pile after it over its size before."""
    verdict: str
    """"home": it matches. "add": put this in. "cut": set most of the pile aside first, then put this in, in
    proportion. "again": start again, with what was learnt of the tubes."""
    keep: float = 1.0
    """Share of the pile to go on with, where it is cut."""
    others: tuple["Correction", ...] = field(default=(), repr=False)
    """Next best additions, of other paints."""


def _dense(tubes: Sequence[Tube], shares: Sequence[tuple[str, float]]) -> Array:
    at = {t.id: i for i, t in enumerate(tubes)}
    out = np.zeros(len(tubes))
    for tube_id, c in shares:
        out[at[tube_id]] += c
    return out


_LADDER: Array = np.concatenate([[0.0], np.geomspace(2e-3, 4.0, 30)])


@dataclass(frozen=True)
class Handling:
    """How a pile is handled and judged."""

    planned: float | None = None
    """Volume that the pile was meant to have, for the verdict; None for as it is."""
    dose: float = 0.0
    """The smallest volume that can be measured: additions come in multiples of it; 0 for any."""
    order: str = "value"
    """What an error weighs, a key of search.ORDERS."""
    home: float = HOME
    """CIEDE2000 within which the pile matches as it is."""


def correct(
    belief: Belief,
    pile: Sequence[tuple[str, float]],
    target: Sequence[float],
    at_hand: Sequence[AtHand] | None = None,
    seen: Sequence[float] | None = None,
    handling: Handling | None = None,
) -> Correction:
    """The smallest addition of at most two things at hand that brings ``pile`` to ``target``.

    ``pile``: tube id and volume of what is in it; ``at_hand``: what may be added (default: the belief's tubes);
    ``seen``: Lab of the pile as read last, from which the prediction is taken on (what the belief does not
    explain of it is carried along).

    Every pair of things at hand is searched over a 31 x 31 ladder of amounts, the best 24 pairs by coordinate halving.
    Raises ValueError for an empty pile.
    """
    how = handling or Handling()
    sources = list(at_hand) if at_hand is not None else [AtHand(t.id, t.short, ((t.id, 1.0),)) for t in belief.tubes]
    adding = _Adding.of(belief, pile, target, sources, seen, how.order)
    amounts, pairs = _coarse(adding, len(sources))
    amounts, score = _polish(adding.cost, amounts, pairs)
    if how.dose > 0:
        amounts, score = _dosed(adding.cost, amounts, pairs, how.dose / adding.size)
    found = _told(adding, sources, amounts, pairs, score)
    return _judged(found[0], tuple(found[1:]), adding.now, adding.size / (how.planned or adding.size), how.home)


@dataclass(frozen=True, eq=False)
class _Adding:
    """A pile of volume 1 to which pairs of sources are added: what comes out, and what that costs."""

    size: float
    """Volume of the pile, in the painter's unit."""
    held: tuple[Array, Array]
    """K and S (36,) of the pile."""
    sources: tuple[Array, Array]
    """K and S (n, 36) of what is at hand."""
    most: Array
    """Volume (n,) that there is of each."""
    rest: Array
    """What the belief leaves of the last reading, Lab (3,): it stays with the pile, and thins out as it grows."""
    goal: Array
    now: float
    """CIEDE2000 of the pile as it is."""
    weights: Array
    surface: Surface

    @classmethod
    def of(
        cls, belief: Belief, pile: Sequence[tuple[str, float]], target: Sequence[float], sources: Sequence[AtHand],
        seen: Sequence[float] | None, order: str,
    ) -> "_Adding":  # fmt: skip
        have = _dense(belief.tubes, pile)
        size = float(have.sum())
        if size <= 0:
            raise ValueError("a pile needs paint in it to be corrected")
        goal = np.asarray(target, dtype=float).reshape(3)
        content = np.stack([_dense(belief.tubes, s.shares) for s in sources])
        K, S = belief.spectra()
        held = have @ K / size, have @ S / size
        expected = layer_lab(*held, belief.surface)
        rest = np.zeros(3) if seen is None else np.asarray(seen, dtype=float) - expected
        return cls(
            size, held, (content @ K, content @ S), np.array([s.most for s in sources]) / size, rest, goal,
            float(ciede2000(expected + rest, goal)), np.array(ORDERS[order]), belief.surface,
        )  # fmt: skip

    def colours(self, x: Array, pairs: Ints) -> Array:
        """Lab (..., 3) after ``x`` (..., 2) of the sources ``pairs`` (..., 2) went in."""
        total = 1 + x.sum(axis=-1, keepdims=True)
        k, s = (
            (held + (x[..., None] * of[pairs]).sum(axis=-2)) / total
            for held, of in zip(self.held, self.sources, strict=True)
        )
        return np.asarray(layer_lab(k, s, self.surface) + self.rest / total)

    def cost(self, x: Array, pairs: Ints) -> Array:
        """What an addition costs: its error, how far the pile grows, and each thing to add."""
        error = np.linalg.norm(ciede2000_vector(self.colours(x, pairs), self.goal) * self.weights, axis=-1)
        over = (x > self.most[pairs] + 1e-9).any(axis=-1) * 1e3
        return np.asarray(error + _GROWTH * x.sum(axis=-1) + _EACH * (x > 1e-9).sum(axis=-1) + over)


def _coarse(adding: _Adding, count: int) -> tuple[Array, Ints]:
    """Amounts (m, 2) and pairs (m, 2) of the most promising of all pairs of ``count`` sources, from the ladder."""
    pairs = np.array([(a, b) for a in range(count) for b in range(a + 1, count)] or [(0, 0)], dtype=np.intp)
    grid = np.stack(np.meshgrid(_LADDER, _LADDER, indexing="ij"), axis=-1).reshape(-1, 2)
    ladder = grid[grid.sum(axis=1) <= _MOST_GROWTH]
    ladder = ladder[:: max(1, len(pairs) * len(ladder) // _MOST_TRIED)]  # many pairs: coarser, for it is polished after
    best = np.empty((len(pairs), 2))
    score = np.empty(len(pairs))
    for row, pair in enumerate(pairs):
        c = adding.cost(ladder, np.broadcast_to(pair, (len(ladder), 2)))
        at = int(np.argmin(c))
        best[row], score[row] = ladder[at], c[at]
    top = np.argsort(score)[:_PAIRS]
    return best[top], pairs[top]


def _told(adding: _Adding, sources: Sequence[AtHand], x: Array, pairs: Ints, score: Array) -> list[Correction]:
    """The best additions, each set of things once."""
    found: list[Correction] = []
    taken: set[frozenset[int]] = set()
    for row in np.argsort(score, kind="stable"):
        used = [(int(i), float(v)) for i, v in zip(pairs[row], x[row], strict=True) if v > 1e-9]
        key = frozenset(i for i, _ in used)
        if key in taken:
            continue
        taken.add(key)
        lab, half = (adding.colours(x[row][None] * share, pairs[row][None])[0] for share in (1.0, 0.5))
        found.append(
            Correction(
                additions=tuple((sources[i].id, v * adding.size) for i, v in used),
                names=tuple(sources[i].name for i, _ in used),
                expected=as_lab(lab), halfway=as_lab(half), de00=float(ciede2000(lab, adding.goal)), now=adding.now,
                growth=1 + float(x[row].sum()), verdict="add",
            )
        )  # fmt: skip
        if len(found) == _TOLD:
            break
    return found


def _judged(first: Correction, others: tuple[Correction, ...], now: float, grown: float, home: float) -> Correction:
    """The verdict on the best addition; ``grown``: how large the pile is already, against its plan."""
    keep = 1.0
    if now <= home or not first.additions:
        verdict = "home" if now <= home else "again"
    elif first.de00 > max(home, 0.7 * now):
        verdict = "again"
    elif first.growth * grown <= LARGEST:
        verdict = "add"
    elif first.growth <= 3.0:
        # Going on with less of it keeps the pile near its planned size; the rest is set aside for another pile.
        verdict, keep = "cut", 1 / max(first.growth * grown, 1.0)
    else:
        verdict = "again"
    return replace(first, verdict=verdict, keep=keep, others=others)


Cost = Callable[[Array, Ints], Array]


def _polish(cost: Cost, x: Array, pairs: Ints) -> tuple[Array, Array]:
    """Amounts (m, 2) moved to their best by a pattern search in logarithms, all rows at once."""
    score = cost(x, pairs)
    step = np.full(len(x), 0.25)
    moves = np.array([(1, 0), (-1, 0), (0, 1), (0, -1), (1, 1), (-1, -1), (1, -1), (-1, 1)], dtype=float)
    for _ in range(22):
        trial = x[:, None] * np.exp(moves[None] * step[:, None, None])
        none = np.stack([x * [1, 0], x * [0, 1]], axis=1)
        start = np.where(x[:, None] < 1e-9, 0.004 * (moves[None] > 0), trial)
        trial = np.concatenate([start, none], axis=1)
        c = cost(trial, np.broadcast_to(pairs[:, None], (*trial.shape[:2], 2)))
        at = c.argmin(axis=1)
        new = c[np.arange(len(x)), at]
        better = new < score
        x = np.where(better[:, None], trial[np.arange(len(x)), at], x)
        score = np.where(better, new, score)
        step = np.where(better, step, step * 0.5)
    return np.asarray(x), score


def _dosed(cost: Cost, x: Array, pairs: Ints, dose: float) -> tuple[Array, Array]:
    """Amounts in multiples of the smallest that can be measured: the best of the neighbours all round."""
    base: Array = np.asarray(np.floor(x / dose))
    offsets = np.array([(i, j) for i in (0, 1) for j in (0, 1)], dtype=float)
    trial = (base[:, None] + offsets[None]) * dose
    trial = np.where(x[:, None] < 1e-9, 0.0, trial)
    c = cost(trial, np.broadcast_to(pairs[:, None], (*trial.shape[:2], 2)))
    at = c.argmin(axis=1)
    rows = np.arange(len(x))
    return trial[rows, at], c[rows, at]


def start_again(belief: Belief, target: Sequence[float] | Array, most: int = 4) -> dict[str, float]:
    """Tube id and share of the mixture that the belief holds to be nearest to ``target``: for a pile begun anew."""
    K, S = belief.spectra()
    _, shares = nearest_mixture(K, S, target, belief.surface, most)
    return {t.id: float(c) for t, c in zip(belief.tubes, shares, strict=True) if c > 1e-4}
