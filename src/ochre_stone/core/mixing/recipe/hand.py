"""What a hand can do: how far a dose by eye is off, what is too small to dose, and what that does to a mixture.

Paint is dosed with the tip of a knife, by eye. A dose is off by a share of itself (log-normal), a touch by more, a dose
below the smallest that can be told from nothing by more still; some paint stays on the knife. The figures are common
practice, no source, and the painter's own to set. What they do to a colour is the law of propagation of uncertainty
(JCGM 100:2008, 5.1.2): each dose is taken to err by itself, and the colour to follow it straight. The mean distance of
such a normal cloud from the target comes from the first two moments of its square.
"""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.difference import ciede2000_vector
from ochre_stone.core.colour.spaces import Array, spectral_weights, xyz_to_lab
from ochre_stone.core.mixing.recipe.search import Ints, Paints, lab_slopes

TOUCH = 0.25
"""Parts that are called a touch."""
_MOST_TIMES = 81.0
_NUDGE = 1e-3


@dataclass(frozen=True)
class Hand:
    """The painter's hand."""

    least_ml: float = 0.05
    """The smallest dose that can be told from nothing, millilitres: the tip of a knife."""
    dose: float = 0.20
    """Error of a dose, as a share of it (standard deviation of its logarithm)."""
    touch: float = 0.35
    """The same for a touch."""
    knife: float = 0.03
    """Share of a dose that stays on the knife and comes off with the next."""
    pile_ml: float = 1.0
    """The smallest pile that is more than a smear, millilitres."""

    def errors(self, parts: Array, ml: Array | float | None = None) -> Array:
        """Relative errors of doses of so many ``parts`` each, of the same shape; ``ml``: millilitres of each, where
        they are known: what is too small to dose errs by as much more as it is too small."""
        sigma = np.where(parts <= TOUCH, self.touch, self.dose)
        if ml is not None:
            dose = np.maximum(np.asarray(ml, dtype=float), 1e-9)
            sigma = np.where(dose < self.least_ml * (1 - 1e-6), self.touch * self.least_ml / dose, sigma)
        return np.asarray(np.hypot(sigma, self.knife))

    def measurable(self, parts: Array) -> Array:
        """Millilitres in which every dose of a recipe, ``parts`` (..., k), can be measured: (...). A touch in twenty
        parts is the smallest that more is mixed for."""
        used = np.where(parts > 0, parts, np.inf).min(axis=-1)
        return np.asarray(self.least_ml * np.minimum(parts.sum(axis=-1) / used, _MOST_TIMES))

    def enough(self, parts: Array) -> Array:
        """The same for a pile of the picture, which is no smear."""
        return np.maximum(self.measurable(parts), self.pile_ml)


USUAL_HAND = Hand()


@dataclass(frozen=True)
class Deviations:
    """How a source that was itself dosed by eye may be off: one independent way of being off per row, one standard
    deviation each; ``K`` and ``S`` (r, 36)."""

    K: Array
    S: Array


def deviations_of(
    paints: Paints, shares: Array, index: Ints, errors: Array, inner: Mapping[int, Deviations]
) -> Deviations:
    """By first-order error propagation, of a mixture (``shares``, ``index``, ``errors`` (k,)) whose sources, by index,
    deviate as ``inner`` says."""
    K, S = shares @ paints.K[index], shares @ paints.S[index]
    step = (shares * errors)[:, None]
    rows_k, rows_s = [step * (paints.K[index] - K)], [step * (paints.S[index] - S)]
    for share, i in zip(shares, index, strict=True):
        own = inner.get(int(i))
        if own is not None and share > 0:
            rows_k.append(share * own.K)
            rows_s.append(share * own.S)
    return Deviations(np.concatenate(rows_k), np.concatenate(rows_s))


def propagated(
    paints: Paints, shares: Array, index: Ints, errors: Array, deviations: Mapping[int, Deviations] | None = None
) -> tuple[Array, Array]:
    """Mixtures and how doses by eye move them, by first-order error propagation.

    ``shares`` (m, k), ``index`` (m, k) and the relative ``errors`` (m, k) of the doses; ``deviations``: of the sources
    that were dosed by eye themselves, by their index. Returns CIELAB (m, 3) and the shifts of it (m, r, 3) that one
    standard deviation of each independent error makes.
    """
    K, S = (np.einsum("mk,mkb->mb", shares, x[index]) for x in (paints.K, paints.S))
    xyz, q, slope = paints.curve(K, S)
    step = (shares * errors)[..., None]
    moved = step * (paints.K[index] - q[:, None] * paints.S[index])
    if deviations:
        most = max(len(x.K) for x in deviations.values())
        more = np.zeros((len(shares), most * shares.shape[1], 36))
        for at, own in deviations.items():
            for column in range(shares.shape[1]):
                rows = np.flatnonzero(index[:, column] == at)
                if len(rows):
                    part = own.K[None] - q[rows, None] * own.S[None]
                    start = column * most
                    more[rows, start : start + len(own.K)] = shares[rows, column, None, None] * part
        moved = np.concatenate([moved, more], axis=1)
    w = spectral_weights()
    white = w.sum(axis=0)
    return xyz_to_lab(xyz, white), lab_slopes(xyz, white, (moved * slope[:, None]) @ w)


def by_eye(lab: Array, shifts: Array, target: Array, weights: Array | None = None) -> Array:
    """Expected CIEDE2000 (m,) of mixtures dosed by eye from a ``target`` (3,).

    ``lab`` (m, 3) and ``shifts`` (m, r, 3) as :func:`slips` gives them; ``weights`` of lightness, chroma and hue.

    The distance is the root of Q, the square of a normal vector with mean e and covariance V: Q has the mean e.e + tr V
    and the variance 2 tr VV + 4 e.V.e (Mathai and Provost 1992, Quadratic Forms in Random Variables), and the mean of
    its root is that of a gamma variable with these two moments, to its second order.

    An error on one axis alone, where it is farthest from the truth: half-normal with a mean of .798 for a deviation of
    1, and .75 by this formula; over recipes it is within a twentieth (tests).

    >>> grey, one_step = np.array([50.0, 0.0, 0.0]), np.array([[[1.0, 0.0, 0.0]]])
    >>> by_eye(grey[None], one_step, grey).round(2).tolist()
    [0.75]
    """
    w = np.ones(3) if weights is None else weights
    around = np.concatenate([np.zeros((1, 3)), _NUDGE * np.eye(3)])
    at = ciede2000_vector(lab[:, None] + around, target) * w  # the error itself, and its slopes
    e = at[:, 0]
    J = (at[:, 1:] - e[:, None]) / _NUDGE  # (m, 3 lab, 3)
    d = shifts @ J
    V = d.transpose(0, 2, 1) @ d
    mean = (e * e).sum(axis=1) + np.trace(V, axis1=1, axis2=2)
    spread = 2 * np.einsum("mij,mij->m", V, V) + 4 * np.einsum("mi,mij,mj->m", e, V, e)
    root = np.sqrt(mean)
    return np.asarray(root * (1 - spread / np.maximum(8 * mean * mean, 1e-30)))
