"""What the tubes really are, learnt from every reading of a pile whose doses are known as well as a hand doses.

A reading tells of both: a pile that is too red may hold a red that is stronger than its data, or more of it than was
meant. So all is unknown together, and kept as one Gaussian belief: the figures of each tube (:mod:`departing`), each
dose, each base pile, and what the optics leave of each pile. Each reading moves it: the most probable values are found
by damped Gauss-Newton steps on prior and readings together, and their spread from the curvature there (Laplace's
approximation; Bishop 2006, Pattern Recognition and Machine Learning, 4.4). A tube whose figures lie far out, as where
another pigment is in it, counts by a Student t of few degrees of freedom rather than by a bell (Gelman et al. 2013,
Bayesian Data Analysis, 17.2).
"""

import hashlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from ochre_stone.core.colour.difference import ciede2000_vector
from ochre_stone.core.colour.spaces import Array, spectral_weights, xyz_to_lab
from ochre_stone.core.mixing.correcting.departing import FIGURES, MOST_NM, departed, prior_sd, slopes
from ochre_stone.core.mixing.correcting.reading import PileSeen
from ochre_stone.core.mixing.recipe.dose import Dose, contents
from ochre_stone.core.mixing.recipe.search import Paints, lab_slopes
from ochre_stone.core.paint.optics import USUAL, Surface, by_rows, layer_lab
from ochre_stone.core.paint.tubes import Tolerance, Tube

MODEL = 0.5
"""What the optics leave of each pile beyond the tubes' own figures, in each direction of CIEDE2000: a judgement."""
BIAS = 0.4
"""How far all readings of a session may be off one way, in each direction of CIEDE2000, as by an instrument or a light
that is not quite white: a judgement."""
_OUTLYING = 144.0  # square of the sigmas from which a reading counts as a slip of the hand (Cauchy's weight)
_FREEDOM = 8.0
_NUDGE = 1e-3


@dataclass(frozen=True, eq=False)
class Unknowns:
    """Where each unknown stands in the vector of them all, in standard deviations of its prior."""

    tubes: int
    batches: Mapping[str, tuple[int, int]]
    """By pile: where its doses begin, and how many there are; what the optics leave of it stands behind them."""
    bases: Mapping[str, int]
    bias: slice
    """By how much all readings are off."""
    size: int

    @classmethod
    def of(cls, tubes: int, readings: Sequence[PileSeen]) -> "Unknowns":
        at = tubes * FIGURES
        batches: dict[str, tuple[int, int]] = {}
        longest: dict[str, int] = {}
        for row, r in enumerate(readings):
            longest[batch_of(row, r)] = max(longest.get(batch_of(row, r), 0), len(r.doses))
        for key, count in longest.items():
            batches[key] = at, count
            at += count + 3
        bases: dict[str, int] = {}
        for d in (d for r in readings for d in r.doses):
            if d.source and d.within > 0 and d.source not in bases:
                bases[d.source] = at
                at += 1
        bias = slice(at, at + 3) if readings else slice(at, at)
        return cls(tubes, batches, bases, bias, bias.stop)

    def left(self, batch: str) -> slice:
        """What the optics leave of a pile."""
        start, count = self.batches[batch]
        return slice(start + count, start + count + 3)


def batch_of(row: int, r: PileSeen) -> str:
    """Which pile a reading is of."""
    return r.pile or f"#{row}"


@dataclass(frozen=True, eq=False)
class Belief:
    """What the tubes are thought to be.

    ``figures`` (n, 9): departures from the data (:mod:`departing`); ``cov`` (9n, 9n) their covariance; ``values`` and
    ``spread``: all unknowns together, and a root of their covariance, in standard deviations of the prior.
    """

    tubes: tuple[Tube, ...]
    figures: Array
    cov: Array
    surface: Surface = USUAL
    readings: tuple[PileSeen, ...] = ()
    values: Array = field(default_factory=lambda: np.zeros(0))
    spread: Array = field(default_factory=lambda: np.zeros((0, 0)))
    slopes: Array = field(default_factory=lambda: np.zeros((0, 3, 0)))
    """Of the readings' colours (m, 3, unknowns), as CIEDE2000 vectors."""

    @classmethod
    def prior(cls, tubes: Sequence[Tube], surface: Surface = USUAL) -> "Belief":
        """Before any reading: the tubes as their data say, as unsure as their tolerance."""
        sd = prior_sd(tubes).ravel()
        n = len(sd)
        return cls(tuple(tubes), np.zeros((len(tubes), FIGURES)), np.diag(sd**2), surface, (), np.zeros(n), np.eye(n))

    @property
    def unknowns(self) -> Unknowns:
        """Where the unknowns stand."""
        return Unknowns.of(len(self.tubes), self.readings)

    def spectra(self) -> tuple[Array, Array]:
        """K and S (n, 36) of the tubes as they are thought to be."""
        return departed(self.tubes, self.figures)

    def lab(self, amounts: Array) -> Array:
        """Lab (..., 3) expected of mixtures, ``amounts`` (..., n) of volume."""
        K, S = self.spectra()
        c = amounts / amounts.sum(axis=-1, keepdims=True)
        return layer_lab(c @ K, c @ S, self.surface)

    def unsure(self, amounts: Array) -> float:
        """CIEDE2000 within which the colour of a mixture (n,), dosed exactly, lies of what is expected in four cases of
        five: what is said of it."""
        K, S = self.spectra()
        J = _colours(self.tubes, self.figures, (K, S), np.reshape(amounts, (1, -1)), self.surface).figures[0]
        V = J @ self.cov @ J.T + MODEL**2 * np.eye(3)
        return four_in_five(V)

    def learn(self, reading: PileSeen) -> "Belief":
        """The belief after one more reading. Raises ValueError for a reading without paint or of unknown tubes."""
        return believe(self.tubes, (*self.readings, reading), self.surface, self)

    def words(self) -> list[str]:
        """What was learnt of the tubes, clearest first, as "ultramarine is stronger than its data, by about 20 %"."""
        sd = np.sqrt(np.diag(self.cov)).reshape(-1, FIGURES)
        before = prior_sd(self.tubes)
        said: list[tuple[float, str]] = []
        for t, f, s, s0 in zip(self.tubes, self.figures, sd, before, strict=True):
            if abs(f[0]) > max(s[0], 0.06) and s[0] < 0.85 * s0[0]:
                more = "stronger" if f[0] > 0 else "weaker"
                share = abs(float(np.expm1(f[0])))
                said.append((abs(f[0]) / s[0], f"{t.short} is {more} than its data, by about {share:.0%}"))
            if abs(f[2]) > max(s[2], 2.0) and s[2] < 0.85 * s0[2]:
                said.append((abs(f[2]) / s[2], f"{t.short} leans away from its data ({f[2]:+.0f} nm)"))
        return [words for _, words in sorted(said, reverse=True)]


def four_in_five(V: Array) -> float:
    """Length below which a normal vector about nothing with the covariance ``V`` (3, 3) stays in four cases of five.

    Its square is taken for a gamma variable of the same mean and variance (Satterthwaite 1946, Biometrics 2), of which
    the fifths follow the cube root's normal (Wilson and Hilferty 1931, PNAS 17).

    One direction alone: the normal's own 1.282; three alike: the root of chi-square's 4.64.

    >>> round(four_in_five(np.diag([1.0, 0.0, 0.0])), 2), round(four_in_five(np.eye(3)), 2)
    (1.27, 2.15)
    """
    mean = max(float(np.trace(V)), 1e-12)
    ninth = 2 * float((V * V).sum()) / (9 * mean * mean)
    return float(np.sqrt(mean * (1 - ninth + 0.8416 * np.sqrt(ninth)) ** 3))


@dataclass(frozen=True)
class _Mixed:
    """Mixtures and how they move: ``lab`` (m, 3); slopes as CIEDE2000 vectors about ``about``: ``figures`` (m, 3, 9n),
    and ``lab_to`` (m, 3, 3); K - q S moves XYZ by ``curve`` (m, 36)."""

    lab: Array
    figures: Array
    lab_to: Array
    held: tuple[Array, Array]
    """K and S (m, 36)."""
    q: Array
    slope: Array
    xyz: Array

    def along(self, row: int, dK: Array, dS: Array) -> Array:
        """CIEDE2000 vectors (k, 3) for small changes (k, 36) of one mixture's K and S."""
        w = spectral_weights()
        moved = (dK - self.q[row] * dS) * self.slope[row]
        d = lab_slopes(self.xyz[row][None], w.sum(axis=0), (moved @ w)[None])[0]
        return np.asarray(d @ self.lab_to[row].T)


def _colours(
    tubes: Sequence[Tube],
    figures: Array,
    spectra: tuple[Array, Array],
    amounts: Array,
    surface: Surface,
    about: Array | None = None,
) -> _Mixed:
    """Mixtures (m, n) of the tubes as they are thought to be, with the slopes over their figures."""
    K, S = spectra
    dK, dS = slopes(tubes, figures, K, S)
    c = amounts / amounts.sum(axis=1, keepdims=True)
    k, s = c @ K, c @ S
    xyz, q, slope = Paints(K, S, np.ones(len(K)), surface).curve(k, s)
    w = spectral_weights()
    white = w.sum(axis=0)
    lab = xyz_to_lab(xyz, white)
    goal = lab if about is None else about
    nudged = ciede2000_vector(lab[:, None] + np.concatenate([-_NUDGE * np.eye(3), _NUDGE * np.eye(3)]), goal[:, None])
    lab_to = ((nudged[:, 3:] - nudged[:, :3]) / (2 * _NUDGE)).transpose(0, 2, 1)
    weighted = slope[:, :, None] * w  # (m, 36, 3)
    per = np.einsum("nfb,mbx->mnfx", dK, weighted) - np.einsum("nfb,mbx->mnfx", dS, q[:, :, None] * weighted)
    per = (per * c[:, :, None, None]).reshape(len(c), -1, 3)
    dlab = lab_slopes(xyz, white, per)  # (m, 9n, 3)
    return _Mixed(lab, (dlab @ lab_to.transpose(0, 2, 1)).transpose(0, 2, 1), lab_to, (k, s), q, slope, xyz)


class _Fit:
    """All readings against all unknowns."""

    def __init__(self, tubes: Sequence[Tube], readings: Sequence[PileSeen], surface: Surface) -> None:
        self.tubes, self.readings = tubes, readings
        self.surface = by_rows([r.surface or surface for r in readings])
        self.at = {t.id: i for i, t in enumerate(tubes)}
        self.unknowns = Unknowns.of(len(tubes), readings)
        self.sd = prior_sd(tubes)
        self.read = np.array([r.lab for r in readings])
        self.trust = 1 / np.array([r.noise for r in readings])
        self.dense = {d: _shares(d, self.at) for r in readings for d in r.doses}

    def figures(self, x: Array) -> Array:
        """Figures (n, 9) of the tubes."""
        return np.asarray(x[: self.sd.size].reshape(self.sd.shape) * self.sd)

    def put(self, x: Array, row: int) -> tuple[Array, Array]:
        """What each dose of a reading brought in (d, n), and how it changes with its base pile's own error (d, n)."""
        r = self.readings[row]
        start, _ = self.unknowns.batches[batch_of(row, r)]
        put, turn = np.zeros((len(r.doses), len(self.tubes))), np.zeros((len(r.doses), len(self.tubes)))
        for k, d in enumerate(r.doses):
            shares = self.dense[d]
            if d.source in self.unknowns.bases:
                shares, turn[k] = leaning(shares, d.within, x[self.unknowns.bases[d.source]])
            size = d.volume * np.exp(d.error * x[start + k])
            put[k], turn[k] = size * shares, size * turn[k]
        return put, turn

    def off(self, x: Array) -> Array:
        """What is left of every reading (m, 3), in its own noise."""
        c = np.stack([self.put(x, row)[0].sum(axis=0) for row in range(len(self.readings))])
        c /= c.sum(axis=1, keepdims=True)
        K, S = departed(self.tubes, self.figures(x))
        left = np.stack([x[self.unknowns.left(batch_of(row, r))] for row, r in enumerate(self.readings)])
        v = ciede2000_vector(layer_lab(c @ K, c @ S, self.surface), self.read) + MODEL * left
        v = v + BIAS * x[self.unknowns.bias]
        return np.asarray(v * self.trust[:, None])

    def slopes(self, x: Array) -> Array:
        """Slopes (m, 3, unknowns) of what is left."""
        put = [self.put(x, row) for row in range(len(self.readings))]
        amounts = np.stack([p.sum(axis=0) for p, _ in put])
        figures = self.figures(x)
        K, S = departed(self.tubes, figures)
        mixed = _colours(self.tubes, figures, (K, S), amounts, self.surface, self.read)
        J = np.zeros((len(amounts), 3, self.unknowns.size))
        J[:, :, : self.sd.size] = mixed.figures * self.sd.ravel()
        J[:, :, self.unknowns.bias] = BIAS * np.eye(3)
        for row, r in enumerate(self.readings):
            batch = batch_of(row, r)
            start, _ = self.unknowns.batches[batch]
            brought, turn = put[row]
            whole = amounts[row].sum()
            k, s = mixed.held[0][row], mixed.held[1][row]
            own = brought.sum(axis=1, keepdims=True)
            size = np.array([d.error for d in r.doses])[:, None] / whole
            by_dose = mixed.along(row, (brought @ K - own * k) * size, (brought @ S - own * s) * size)
            J[row, :, start : start + len(r.doses)] = by_dose.T
            J[row, :, self.unknowns.left(batch)] = MODEL * np.eye(3)
            for d, moved in zip(r.doses, turn, strict=True):
                if d.source in self.unknowns.bases:
                    column = self.unknowns.bases[d.source]
                    J[row, :, column] += mixed.along(row, (moved @ K)[None] / whole, (moved @ S)[None] / whole)[0]
        return J * self.trust[:, None, None]

    def weights(self, x: Array) -> Array:
        """What each unknown's own square counts: a tube that lies far out is held less."""
        out = np.ones(len(x))
        z = x[: self.sd.size].reshape(self.sd.shape)
        held = (_FREEDOM + FIGURES) / (_FREEDOM + (z * z).sum(axis=1))
        out[: self.sd.size] = np.repeat(np.minimum(held, 1.0), FIGURES)
        return out

    def cost(self, x: Array) -> float:
        """What the readings and the prior cost."""
        r2 = (self.off(x) ** 2).sum(axis=1)
        z2 = (x[: self.sd.size].reshape(self.sd.shape) ** 2).sum(axis=1)
        near = _FREEDOM + FIGURES
        far = np.where(z2 > FIGURES, FIGURES + near * np.log(np.maximum(_FREEDOM + z2, near) / near), z2)
        rest = x[self.sd.size :]
        return float(_OUTLYING * np.log1p(r2 / _OUTLYING).sum() + far.sum() + rest @ rest)


def _shares(d: Dose, at: Mapping[str, int]) -> Array:
    out = np.zeros(len(at))
    for tube_id, share in d.shares:
        out[at[tube_id]] += share
    return out


def leaning(shares: Array, within: float, z: float) -> tuple[Array, Array]:
    """Shares (n,) of a base pile whose own doses are off by ``z`` standard deviations ``within``, and their slope: more
    or less of all that is in it beside the most of it."""
    lesser = np.ones(len(shares), dtype=bool)
    lesser[int(np.argmax(shares))] = False
    c = shares * np.where(lesser, np.exp(within * z), 1.0)
    whole = c.sum()
    c = c / whole
    return c, within * c * (lesser - c[lesser].sum())


def _checked(tubes: Sequence[Tube], readings: Sequence[PileSeen]) -> None:
    known = {t.id for t in tubes}
    for r in readings:
        if r.noise <= 0:
            raise ValueError("a reading needs a noise above 0")
        held = contents(r.doses)
        for tube_id in held:
            if tube_id not in known:
                raise ValueError(f"a reading of a pile with '{tube_id}', which is not on the palette")
        if sum(held.values()) <= 0 or min(held.values()) < 0:
            raise ValueError("a reading needs a pile with paint in it")


def believe(
    tubes: Sequence[Tube], readings: Sequence[PileSeen], surface: Surface = USUAL, start: Belief | None = None
) -> Belief:
    """The most probable figures of ``tubes`` after ``readings``, and their spread.

    ``start``: what was believed of the same tubes before the last of them, to begin the search from.
    Cost: some 8 solutions of (9 x tubes + doses) linear equations. Raises ValueError for a reading without paint, of a
    tube that is not among ``tubes`` or without a noise above 0.
    """
    prior = Belief.prior(tubes, surface)
    if not readings:
        return prior
    _checked(tubes, readings)
    fit = _Fit(tubes, readings, surface)
    x = np.zeros(fit.unknowns.size) if start is None else _taken_on(start, fit.unknowns)
    damping, now = 1e-3, fit.cost(x)
    A = np.eye(len(x))
    n = fit.sd.size
    for _ in range(14):
        left = fit.off(x)
        slip = np.sqrt(1 / (1 + (left**2).sum(axis=1) / _OUTLYING))
        J = (fit.slopes(x) * slip[:, None, None]).reshape(-1, len(x))
        own = fit.weights(x)
        A = J.T @ J + np.diag(own)
        down = J.T @ (left * slip[:, None]).ravel() + own * x
        for _ in range(6):
            trial = x - np.linalg.solve(A + damping * np.diag(np.diag(A)), down)
            nm = trial[2:n:FIGURES]
            nm[:] = np.clip(nm, -MOST_NM / fit.sd[:, 2], MOST_NM / fit.sd[:, 2])
            new = fit.cost(trial)
            if new < now:
                break
            damping *= 8
        else:
            break
        gained, x, now, damping = now - new, trial, new, max(damping / 5, 1e-9)
        if gained < 1e-3:
            break
    root = np.linalg.inv(np.linalg.cholesky(A)).T  # A^-1 = root root^T
    sd = fit.sd.ravel()
    own_root = root[:n] * sd[:, None]
    return Belief(
        tuple(tubes),
        fit.figures(x),
        np.asarray(own_root @ own_root.T),
        surface,
        tuple(readings),
        x,
        np.asarray(root),
        fit.slopes(x) / fit.trust[:, None, None],
    )


def _taken_on(start: Belief, to: Unknowns) -> Array:
    """The values of an earlier belief at their places in a later one."""
    x, old, n = np.zeros(to.size), start.unknowns, start.figures.size
    x[:n] = start.values[:n]
    for key, (begin, count) in old.batches.items():
        if key in to.batches:
            at, fits = to.batches[key][0], min(count, to.batches[key][1])
            x[at : at + fits] = start.values[begin : begin + fits]
            x[to.left(key)] = start.values[old.left(key)]
    if start.readings:
        x[to.bias] = start.values[old.bias]
    for key, place in old.bases.items():
        if key in to.bases:
            x[to.bases[key]] = start.values[place]
    return x


def as_believed(belief: Belief, tubes: Sequence[Tube]) -> tuple[Tube, ...]:
    """``tubes`` with the figures that were learnt of them, to mix all later piles from; others stay as they are."""
    K, S = belief.spectra()
    sd = np.sqrt(np.diag(belief.cov)).reshape(-1, FIGURES)
    at = {t.id: i for i, t in enumerate(belief.tubes)}
    stamp = hashlib.sha256(belief.figures.round(4).tobytes()).hexdigest()[:12]
    out = []
    for t in tubes:
        i = at.get(t.id)
        if i is None or not belief.readings:
            out.append(t)
            continue
        L, a, b = layer_lab(K[i], S[i], belief.surface).tolist()
        left = Tolerance(*(float(min(p, q)) for p, q in zip(sd[i, :3], prior_sd([t])[0, :3], strict=True)))
        out.append(replace(t, K=K[i], S=S[i], lab=(L, a, b), tolerance=left, stamp=f"{t.stamp}+{stamp}"))
    return tuple(out)
