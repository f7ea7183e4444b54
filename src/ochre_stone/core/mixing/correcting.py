"""Correct a pile: learn the tubes from every reading, then find the smallest addition that brings it home.

What the tubes really are is kept as a Gaussian belief over three figures per tube: ln strength (K and S together), ln
scattering and the place of its absorption in nm (its :class:`Tolerance` is the prior). Each reading of a pile whose
parts are known moves it: the most probable figures are found by damped Gauss-Newton steps on prior and readings
together, and their spread from the curvature there (Laplace's approximation; Bishop 2006, Pattern Recognition and
Machine Learning, 4.4). Additions are at most two tubes or piles; every pair is searched at once, with a price on how
far the pile grows. What was put in can never be taken out: amounts are at or above zero.
"""

import hashlib
import itertools
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from ochre_stone.core.colour.difference import ciede2000, ciede2000_vector
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.mixing.search import ORDERS, Ints, Paints
from ochre_stone.core.paint.optics import SATIN, Surface, layer_lab
from ochre_stone.core.paint.predict import shifted
from ochre_stone.core.paint.tubes import Tolerance, Tube

READER, PHOTO = 0.3, 1.5
"""Noise of one reading, CIEDE2000: a spot reader; a photo with a grey card in it (a judgement)."""
MODEL = 0.25
"""What the optics leave beyond the tubes' own figures between mixtures of the same tubes: a judgement."""
HOME = 2.0
"""A pile nearer to its target than this, CIEDE2000, matches: seen only side by side (common practice, no source)."""
LARGEST = 1.8
"""A pile that would grow beyond so many times its size is better started again, or cut first."""
_GROWTH = 0.7
"""What growing by its own size weighs against one of weighted CIEDE2000."""
_EACH = 0.12
"""What one more thing to add weighs against the same."""
_SIGMAS = np.array([0.05, 0.05, 1.0])  # steps of the slopes
_MOST_NM = 30.0


@dataclass(frozen=True)
class Reading:
    """A pile as it was seen.

    ``amounts``: tube id to volume, any unit; ``lab``: Lab read; ``noise``: its standard deviation in CIEDE2000.
    """

    amounts: tuple[tuple[str, float], ...]
    lab: tuple[float, float, float]
    noise: float = READER


@dataclass(frozen=True, eq=False)
class Belief:
    """What the tubes are thought to be.

    ``figures`` (n, 3): ln strength, ln scattering, nm, as departures from the data; ``cov`` (3n, 3n) their covariance.
    """

    tubes: tuple[Tube, ...]
    figures: Array
    cov: Array
    surface: Surface = SATIN
    readings: tuple[Reading, ...] = ()

    @classmethod
    def prior(cls, tubes: Sequence[Tube], surface: Surface = SATIN) -> "Belief":
        """Before any reading: the tubes as their data say, as unsure as their tolerance."""
        sd = _prior_sd(tubes)
        return cls(tuple(tubes), np.zeros((len(tubes), 3)), np.diag(sd.ravel() ** 2), surface)

    def spectra(self) -> tuple[Array, Array]:
        """K and S (n, 36) of the tubes as they are thought to be."""
        return moved(self.tubes, self.figures)

    def lab(self, amounts: Array) -> Array:
        """Lab (..., 3) expected of mixtures, ``amounts`` (..., n) of volume."""
        K, S = self.spectra()
        c = amounts / amounts.sum(axis=-1, keepdims=True)
        return layer_lab(c @ K, c @ S, self.surface)

    def unsure(self, amounts: Array) -> float:
        """One standard deviation of the colour expected of a mixture (n,), as a CIEDE2000 length."""
        J = _slopes(self.tubes, self.figures, amounts[None], self.surface)[0]
        return float(np.sqrt(max(float(np.trace(J @ self.cov @ J.T)), 0.0) + MODEL**2))

    def learn(self, reading: Reading) -> "Belief":
        """The belief after one more reading. Raises ValueError for a reading without paint or of unknown tubes."""
        return believe(self.tubes, (*self.readings, reading), self.surface)

    def words(self) -> list[str]:
        """What was learnt of the tubes, clearest first, as "ultramarine is stronger than its data, by about 20 %"."""
        sd = np.sqrt(np.diag(self.cov)).reshape(-1, 3)
        before = _prior_sd(self.tubes)
        said: list[tuple[float, str]] = []
        for t, f, s, s0 in zip(self.tubes, self.figures, sd, before, strict=True):
            if abs(f[0]) > max(s[0], 0.06) and s[0] < 0.85 * s0[0]:
                more = "stronger" if f[0] > 0 else "weaker"
                share = abs(float(np.expm1(f[0])))
                said.append((abs(f[0]) / s[0], f"{t.short} is {more} than its data, by about {share:.0%}"))
            if abs(f[2]) > max(s[2], 2.0) and s[2] < 0.85 * s0[2]:
                said.append((abs(f[2]) / s[2], f"{t.short} leans away from its data ({f[2]:+.0f} nm)"))
        return [words for _, words in sorted(said, reverse=True)]


def _prior_sd(tubes: Sequence[Tube]) -> Array:
    return np.array([[t.tolerance.strength, t.tolerance.scatter, t.tolerance.hue_nm] for t in tubes])


def moved(tubes: Sequence[Tube], figures: Array) -> tuple[Array, Array]:
    """K and S (n, 36) of ``tubes`` whose figures depart from their data by ``figures`` (n, 3)."""
    grow = np.exp(figures[:, 0])[:, None]
    K = np.stack([shifted(t.K, float(f[2])) for t, f in zip(tubes, figures, strict=True)]) * grow
    S = np.stack([t.S for t in tubes]) * grow * np.exp(figures[:, 1])[:, None]
    return K, S


def _slopes(tubes: Sequence[Tube], figures: Array, amounts: Array, surface: Surface) -> Array:
    """Slopes (m, 3, 3n) of the colour of mixtures (m, n), CIEDE2000 vector per unit of each figure."""
    n = len(tubes)
    K, S = moved(tubes, figures)
    c = amounts / amounts.sum(axis=1, keepdims=True)
    k, s = c @ K, c @ S
    lab = layer_lab(k, s, surface)
    out = np.zeros((len(c), 3, 3 * n))
    used = np.flatnonzero((c > 0).any(axis=0))
    for i in used:
        grow = np.exp(_SIGMAS[0]) - 1
        changes = (
            (K[i] * grow, S[i] * grow),
            (0.0 * K[i], S[i] * grow),
            (shifted(K[i], float(_SIGMAS[2])) - K[i], 0.0 * S[i]),
        )
        for j, (dk, ds) in enumerate(changes):
            lab2 = layer_lab(k + c[:, i : i + 1] * dk, s + c[:, i : i + 1] * ds, surface)
            out[:, :, 3 * i + j] = ciede2000_vector(lab2, lab) / _SIGMAS[j]
    return out


def believe(tubes: Sequence[Tube], readings: Sequence[Reading], surface: Surface = SATIN) -> Belief:
    """The most probable figures of ``tubes`` after ``readings``, and their spread.

    Cost: some 8 x 3 x (tubes in use) x readings mixtures. Raises ValueError for a reading without paint, of a tube that
    is not among ``tubes`` or without a noise above 0.
    """
    prior = Belief.prior(tubes, surface)
    if not readings:
        return prior
    at = {t.id: i for i, t in enumerate(tubes)}
    amounts = np.zeros((len(readings), len(tubes)))
    for row, r in enumerate(readings):
        if r.noise <= 0:
            raise ValueError("a reading needs a noise above 0")
        for tube_id, volume in r.amounts:
            if tube_id not in at:
                raise ValueError(f"a reading of a pile with '{tube_id}', which is not on the palette")
            amounts[row, at[tube_id]] += volume
    if (amounts.sum(axis=1) <= 0).any() or (amounts < 0).any():
        raise ValueError("a reading needs a pile with paint in it")
    read = np.array([r.lab for r in readings])
    trust = 1 / np.hypot([r.noise for r in readings], MODEL)
    inverse = 1 / np.maximum(_prior_sd(tubes).ravel(), 1e-6) ** 2
    x = np.zeros(len(inverse))
    c = amounts / amounts.sum(axis=1, keepdims=True)

    def off(x: Array) -> Array:
        K, S = moved(tubes, x.reshape(-1, 3))
        # Readings far out count less than by their square (Cauchy's weight at twelve sigmas): a slip of the hand.
        return ciede2000_vector(layer_lab(c @ K, c @ S, surface), read) * trust[:, None]

    def cost(x: Array) -> float:
        r2 = (off(x) ** 2).sum(axis=1)
        return float((144 * np.log1p(r2 / 144)).sum() + (inverse * x * x).sum())

    damping, now = 1e-3, cost(x)
    A = np.diag(inverse)
    for _ in range(12):
        left = off(x)
        w = 1 / (1 + (left**2).sum(axis=1) / 144)
        J = _slopes(tubes, x.reshape(-1, 3), amounts, surface) * (trust * np.sqrt(w))[:, None, None]
        flat = J.reshape(-1, len(x))
        A = flat.T @ flat + np.diag(inverse)
        down = flat.T @ (left * np.sqrt(w)[:, None]).ravel() + inverse * x
        for _ in range(6):
            step = np.linalg.solve(A + damping * np.diag(np.diag(A)), down)
            trial = x - step
            trial[2::3] = np.clip(trial[2::3], -_MOST_NM, _MOST_NM)
            new = cost(trial)
            if new < now:
                break
            damping *= 8
        else:
            break
        gained, x, now, damping = now - new, trial, new, max(damping / 5, 1e-9)
        if gained < 1e-3:
            break
    return Belief(tuple(tubes), x.reshape(-1, 3), np.asarray(np.linalg.inv(A), dtype=float), surface, tuple(readings))


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


def as_believed(belief: Belief, tubes: Sequence[Tube]) -> tuple[Tube, ...]:
    """``tubes`` with the figures that were learnt of them, to mix all later piles from; others stay as they are."""
    K, S = belief.spectra()
    sd = np.sqrt(np.diag(belief.cov)).reshape(-1, 3)
    at = {t.id: i for i, t in enumerate(belief.tubes)}
    stamp = hashlib.sha256(belief.figures.round(4).tobytes()).hexdigest()[:12]
    out = []
    for t in tubes:
        i = at.get(t.id)
        if i is None or not belief.readings:
            out.append(t)
            continue
        lab = _lab(layer_lab(K[i], S[i], belief.surface))
        left = Tolerance(*(float(min(a, b)) for a, b in zip(sd[i], _prior_sd([t])[0], strict=True)))
        out.append(replace(t, K=K[i], S=S[i], lab=lab, tolerance=left, stamp=f"{t.stamp}+{stamp}"))
    return tuple(out)


WORDS: dict[str, tuple[str, float]] = {
    "too light": ("L", 1.0), "too dark": ("L", -1.0), "too bright": ("C", 1.0), "too dull": ("C", -1.0),
    "too red": ("h", 25.0), "too yellow": ("h", 90.0), "too green": ("h", 165.0), "too blue": ("h", 265.0),
}  # fmt: skip
HOW_MUCH: dict[str, float] = {"a little": 3.0, "clearly": 7.0, "a lot": 14.0}
"""CIELAB units that the words stand for: a third, two thirds and one and a half of a value step (judgements)."""


def seen_as(target: Sequence[float], said: Sequence[tuple[str, str]]) -> tuple[tuple[float, float, float], float]:
    """Colour of a pile that was described against its ``target`` Lab in words, and how unsure that is (CIEDE2000).

    ``said``: pairs as ("too red", "a little"), keys of ``WORDS`` and ``HOW_MUCH``. Words for hue move the colour toward
    that hue; "too bright" and "too dull" along its own. Raises ValueError where nothing is said or a word is unknown.
    """
    if not said:
        raise ValueError("say at least one way in which the pile is off")
    L, a, b = (float(v) for v in target)
    chroma, hue = float(np.hypot(a, b)), float(np.degrees(np.arctan2(b, a)))
    largest = 0.0
    for what, how in said:
        if what not in WORDS or how not in HOW_MUCH:
            raise ValueError(f"'{what}, {how}' is not understood: say {', '.join(WORDS)}; {', '.join(HOW_MUCH)}")
        kind, way = WORDS[what]
        much = HOW_MUCH[how]
        largest = max(largest, much)
        if kind == "L":
            L += way * much
        elif kind == "C":
            more = max(-chroma, way * much)
            a, b = a + more * np.cos(np.radians(hue)), b + more * np.sin(np.radians(hue))
        else:
            a, b = a + much * np.cos(np.radians(way)), b + much * np.sin(np.radians(way))
    return (min(max(L, 0.0), 100.0), float(a), float(b)), 0.35 * largest + 1.0
