"""What the tubes really are, learnt from every reading of a pile whose parts are known.

It is kept as a Gaussian belief over three figures per tube: ln strength (K and S together), ln scattering and the
place of its absorption in nm (its :class:`Tolerance` is the prior). Each reading moves it: the most probable
figures are found by damped Gauss-Newton steps on prior and readings together, and their spread from the curvature
there (Laplace's approximation; Bishop 2006, Pattern Recognition and Machine Learning, 4.4).
"""

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ochre_stone.core.colour.difference import ciede2000_vector
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.paint.optics import SATIN, Surface, layer_lab
from ochre_stone.core.paint.predict import shifted
from ochre_stone.core.paint.tubes import Tolerance, Tube

READER, PHOTO = 0.3, 1.5
"""Noise of one reading, CIEDE2000: a spot reader; a photo with a grey card in it (a judgement)."""
MODEL = 0.25
"""What the optics leave beyond the tubes' own figures between mixtures of the same tubes: a judgement."""
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
        return departed(self.tubes, self.figures)

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


def departed(tubes: Sequence[Tube], figures: Array) -> tuple[Array, Array]:
    """K and S (n, 36) of ``tubes`` whose figures depart from their data by ``figures`` (n, 3)."""
    grow = np.exp(figures[:, 0])[:, None]
    K = np.stack([shifted(t.K, float(f[2])) for t, f in zip(tubes, figures, strict=True)]) * grow
    S = np.stack([t.S for t in tubes]) * grow * np.exp(figures[:, 1])[:, None]
    return K, S


def _slopes(tubes: Sequence[Tube], figures: Array, amounts: Array, surface: Surface) -> Array:
    """Slopes (m, 3, 3n) of the colour of mixtures (m, n), CIEDE2000 vector per unit of each figure."""
    n = len(tubes)
    K, S = departed(tubes, figures)
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
        K, S = departed(tubes, x.reshape(-1, 3))
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
        L, a, b = layer_lab(K[i], S[i], belief.surface).tolist()
        left = Tolerance(*(float(min(p, q)) for p, q in zip(sd[i], _prior_sd([t])[0], strict=True)))
        out.append(replace(t, K=K[i], S=S[i], lab=(L, a, b), tolerance=left, stamp=f"{t.stamp}+{stamp}"))
    return tuple(out)
