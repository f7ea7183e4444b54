"""Correct a pile: the smallest addition that brings it home, from what is known of the tubes.

Additions are at most two tubes, tints or piles; every pair is searched at once, with a price on how far the pile grows.
What was put in can never be taken out: amounts are at or above zero.
"""

import itertools
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from ochre_stone.core.colour.difference import ciede2000, ciede2000_vector
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.mixing.believing import Belief
from ochre_stone.core.mixing.search import ORDERS, Ints, Paints
from ochre_stone.core.paint.optics import SATIN, Surface, layer_lab
from ochre_stone.core.paint.tubes import Tube

HOME = 2.0
"""A pile nearer to its target than this, CIEDE2000, matches: seen only side by side (common practice, no source)."""
LARGEST = 1.8
"""A pile that would grow beyond so many times its size is better started again, or cut first."""
_GROWTH = 0.7
"""What growing by its own size weighs against one of weighted CIEDE2000."""
_EACH = 0.12
"""What one more thing to add weighs against the same."""


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


def correct(
    belief: Belief,
    pile: Sequence[tuple[str, float]],
    target: Sequence[float],
    at_hand: Sequence[AtHand] | None = None,
    seen: Sequence[float] | None = None,
    planned: float | None = None,
    dose: float = 0.0,
    order: str = "value",
    home: float = HOME,
) -> Correction:
    """The smallest addition of at most two things at hand that brings ``pile`` to ``target``.

    ``pile``: tube id and volume of what is in it; ``at_hand``: what may be added (default: the belief's tubes);
    ``seen``: Lab of the pile as read last, from which the prediction is taken on (what the belief does not
    explain of it is carried along); ``planned``: volume that the pile was meant to have, for the verdict;
    ``dose``: the smallest volume that can be measured, additions come in multiples of it; ``order``: a key of
    search.ORDERS; ``home``: CIEDE2000 within which the pile matches as it is.

    Every pair of things at hand is searched over a 31 x 31 ladder of amounts, the best 24 pairs by coordinate halving.
    Raises ValueError for an empty pile.
    """
    tubes = belief.tubes
    have = _dense(tubes, pile)
    size = float(have.sum())
    if size <= 0:
        raise ValueError("a pile needs paint in it to be corrected")
    goal = np.asarray(target, dtype=float).reshape(3)
    sources = list(at_hand) if at_hand is not None else [AtHand(t.id, t.short, ((t.id, 1.0),)) for t in tubes]
    content = np.stack([_dense(tubes, s.shares) for s in sources])
    most = np.array([s.most for s in sources]) / size
    K, S = belief.spectra()
    Kh, Sh = have @ K / size, have @ S / size
    Ks, Ss = content @ K, content @ S
    weights = np.array(ORDERS[order])
    expected = layer_lab(Kh, Sh, belief.surface)
    # What the belief leaves of the last reading stays with the pile, and thins out as it grows.
    rest = np.zeros(3) if seen is None else np.asarray(seen, dtype=float) - expected
    now = float(ciede2000(expected + rest, goal))

    def colours(x: Array, pairs: Ints) -> Array:
        total = 1 + x.sum(axis=-1, keepdims=True)
        k = (Kh + (x[..., None] * Ks[pairs]).sum(axis=-2)) / total
        s = (Sh + (x[..., None] * Ss[pairs]).sum(axis=-2)) / total
        return np.asarray(layer_lab(k, s, belief.surface) + rest / total)

    def cost(x: Array, pairs: Ints) -> Array:
        error = np.linalg.norm(ciede2000_vector(colours(x, pairs), goal) * weights, axis=-1)
        # Only what exceeds the growth that any mixing bears is dear; a small error is worth no large pile.
        over = (x > most[pairs] + 1e-9).any(axis=-1) * 1e3
        return np.asarray(error + _GROWTH * x.sum(axis=-1) + _EACH * (x > 1e-9).sum(axis=-1) + over)

    n = len(sources)
    pairs = np.array([(a, b) for a in range(n) for b in range(a + 1, n)] or [(0, 0)], dtype=np.intp)
    grid = np.stack(np.meshgrid(_LADDER, _LADDER, indexing="ij"), axis=-1).reshape(-1, 2)
    coarse = grid[grid.sum(axis=1) <= 4.0]
    best = np.empty((len(pairs), 2))
    score = np.empty(len(pairs))
    small = coarse[:: max(1, len(pairs) * len(coarse) // 24_000)]  # many pairs: a coarser ladder, polished after
    for row, pair in enumerate(pairs):
        c = cost(small, np.broadcast_to(pair, (len(small), 2)))
        at = int(np.argmin(c))
        best[row], score[row] = small[at], c[at]
    top = np.argsort(score)[:24]
    pairs = pairs[top]
    amounts, score = _polish(cost, best[top], pairs)
    if dose > 0:
        amounts, score = _dosed(cost, amounts, pairs, dose / size)
    x = amounts
    ranked = np.argsort(score, kind="stable")
    grown = size / (planned or size)
    found: list[Correction] = []
    taken: set[frozenset[int]] = set()
    for row in ranked:
        used = [(int(i), float(v)) for i, v in zip(pairs[row], x[row], strict=True) if v > 1e-9]
        key = frozenset(i for i, _ in used)
        if key in taken:
            continue
        taken.add(key)
        lab = colours(x[row][None], pairs[row][None])[0]
        half = colours(x[row][None] / 2, pairs[row][None])[0]
        growth = 1 + float(x[row].sum())
        found.append(
            Correction(
                tuple((sources[i].id, v * size) for i, v in used),
                tuple(sources[i].name for i, _ in used),
                _lab(lab), _lab(half), float(ciede2000(lab, goal)), now, growth, "add",
            )
        )  # fmt: skip
        if len(found) == 4:
            break
    first = found[0]
    return _judged(first, tuple(found[1:]), now, grown, home)


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


def _lab(row: Array) -> tuple[float, float, float]:
    return float(row[0]), float(row[1]), float(row[2])


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


def nearest_mixture(
    K: Array, S: Array, target: Sequence[float] | Array, surface: Surface = SATIN, most: int = 4, order: str = "value"
) -> tuple[float, Array]:
    """CIEDE2000 and shares (n,) of the mixture of at most ``most`` of the tubes K and S (n, 36) that is nearest.

    For tubes that change with every reading: nothing is prepared and kept, as :class:`search.Searcher` does.
    """
    n = len(K)
    k = min(most, n)
    power = np.maximum(K[:, 4:33].max(axis=1), 0.5 * S.max(axis=1))
    paints = Paints(K, S, power, surface, np.array(ORDERS[order]))
    goal = np.asarray(target, dtype=float).reshape(3)
    subsets = np.array(list(itertools.combinations(range(n), k)), dtype=np.intp)
    steps = np.array([p for p in itertools.product(range(5), repeat=k) if sum(p) == 4]) / 4
    c = steps[None] / power[subsets][:, None, :]
    c = (c / c.sum(axis=-1, keepdims=True)).reshape(-1, k)
    lab = paints.lab(c, np.repeat(subsets, len(steps), axis=0)).reshape(len(subsets), len(steps), 3)
    far = np.linalg.norm((lab - goal) * np.array([2.0, 1.0, 1.0]), axis=-1)
    start = far.argmin(axis=1)
    top = np.argsort(far.min(axis=1))[:48]
    v = np.sqrt(steps[start[top]] * 0.97 + 0.03 / k)
    v /= np.linalg.norm(v, axis=1, keepdims=True)
    error, shares = paints.refine(goal, v, subsets[top])
    best = int(np.argmin(error))
    out = np.zeros(n)
    out[subsets[top][best]] = shares[best]
    return float(ciede2000(paints.lab(shares[best : best + 1], subsets[top][best : best + 1])[0], goal)), out


def start_again(belief: Belief, target: Sequence[float] | Array, most: int = 4) -> dict[str, float]:
    """Tube id and share of the mixture that the belief holds to be nearest to ``target``: for a pile begun anew."""
    K, S = belief.spectra()
    _, shares = nearest_mixture(K, S, target, belief.surface, most)
    return {t.id: float(c) for t, c in zip(belief.tubes, shares, strict=True) if c > 1e-4}
