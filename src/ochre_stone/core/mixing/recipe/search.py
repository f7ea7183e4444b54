"""Find mixtures: a batched Levenberg-Marquardt search over all subsets of a palette.

Every subset of at most ``most`` tubes is searched at once: a coarse grid of mixtures per subset, made once per
palette, gives the starting points; the most promising subsets are refined together, since one call over 60 subsets
costs hardly more than one over a single subset. Concentrations are squares over each tube's tinting strength,
c = v^2 / strength, which keeps them at or above zero and evens out a phthalo against an ochre. The residual is the
CIEDE2000 vector (Levenberg 1944; Marquardt 1963).
"""

import copy
import functools
import itertools
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.difference import ciede2000, ciede2000_vector
from ochre_stone.core.colour.spaces import Array, spectral_weights, xyz_to_lab
from ochre_stone.core.paint.optics import USUAL, Surface, seen_through_surface, surface_slope
from ochre_stone.core.paint.palettes import MOST_TUBES
from ochre_stone.core.paint.tubes import Tube, strength_of

Ints = npt.NDArray[np.intp]

ORDERS: dict[str, tuple[float, float, float]] = {
    "value": (2.0, 0.9, 1.1),
    "hue": (1.2, 0.8, 1.8),
    "even": (1.0, 1.0, 1.0),
}
"""What an error of lightness, chroma and hue weighs. A painter judges value first, then hue, then chroma (common
practice, no source; the figures are judgements); "even" is plain CIEDE2000."""
VALUE_ALONE = "value alone"
"""The order for a goal that is out of reach and would end at another value."""
_WEIGHTS = ORDERS | {VALUE_ALONE: (4.0, 0.9, 1.1)}
_VALUE_FIRST = np.array(ORDERS["value"])
_GRID = 6
_KEEP = 60
_POLISH = 6
_FIFTHS = 6


def weighted_error(lab: npt.ArrayLike, target: npt.ArrayLike, weights: Array = _VALUE_FIRST) -> Array:
    """Length of the CIEDE2000 vector, its parts weighted as in ``ORDERS``; what all searches minimise."""
    return np.asarray(np.linalg.norm(ciede2000_vector(lab, target) * weights, axis=-1))


@dataclass(frozen=True)
class Paints:
    """Ingredients as arrays: K and S (n, 36), colouring power (n,)."""

    K: Array
    S: Array
    strength: Array
    surface: Surface
    weights: Array = field(default_factory=lambda: _VALUE_FIRST)
    """Of lightness, chroma and hue, (3,)."""

    def error(self, lab: Array, target: Array) -> Array:
        """Weighted error (m,) of colours (m, 3)."""
        return weighted_error(lab, target, self.weights)

    def lab(self, shares: Array, index: Ints) -> Array:
        """CIELAB (m, 3) of mixtures: ``shares`` and ``index`` of shape (m, k); cost m x n x 36."""
        out = np.empty((len(shares), 3))
        for start in range(0, len(shares), 4096):
            rows = slice(start, start + 4096)
            dense = np.zeros((len(shares[rows]), len(self.K)))
            row = np.arange(len(dense))
            for column in range(index.shape[1]):  # one column at a time, so that a repeated index adds up
                dense[row, index[rows, column]] += shares[rows, column]
            out[rows] = self._lab_of(dense @ self.K, dense @ self.S)
        return out

    def _lab_of(self, K: Array, S: Array) -> Array:
        w = spectral_weights()
        q = K / S
        R = 1 + q - np.sqrt(q * (q + 2))
        return xyz_to_lab(seen_through_surface(R, self.surface) @ w, w.sum(axis=0))

    def curve(self, K: Array, S: Array) -> tuple[Array, Array, Array]:
        """XYZ (m, 3) of hiding layers of K and S (m, 36), their K/S (m, 36), and the slope (m, 36) of reflectance over
        K at one S: what K - q S adds moves it by that."""
        q = K / S
        root = np.sqrt(q * (q + 2))
        R = 1 + q - root
        xyz = seen_through_surface(R, self.surface) @ spectral_weights()
        slope = surface_slope(R, self.surface) * (1 - (q + 1) / np.maximum(root, 1e-9)) / S
        return xyz, q, slope

    def refine(
        self, target: Array, v: Array, index: Ints, rounds: int = 14, all_of_them: bool = False
    ) -> tuple[Array, Array]:
        """Weighted error (m,) and shares (m, k) after ``rounds`` damped Gauss-Newton steps from ``v`` (m, k).

        It stops early when one of them fits, unless ``all_of_them`` are wanted.
        """
        Kc = self.K[index] / self.strength[index][..., None]
        Sc = self.S[index] / self.strength[index][..., None]
        damping = np.full(len(v), 1e-2)
        nudge = 1e-3

        def state(v: Array) -> tuple[Array, Array, Array, Array]:
            square = (v * v)[:, None, :]
            xyz, q, slope = self.curve((square @ Kc)[:, 0], (square @ Sc)[:, 0])
            return xyz_to_lab(xyz, white), xyz, q, slope

        w = spectral_weights()
        white = w.sum(axis=0)
        # The colour itself and three beside it: the residual and its slopes in one call.
        around = np.concatenate([np.zeros((1, 3)), nudge * np.eye(3)])

        def residuals(lab: Array) -> Array:
            return ciede2000_vector(lab[:, None] + around, target) * self.weights  # (m, 1 + 3 lab, 3 residual)

        lab, xyz, q, slope = state(v)
        at_all = residuals(lab)
        error = (at_all[:, 0] * at_all[:, 0]).sum(axis=1)
        for turn in range(rounds):
            dxyz = ((Kc - q[:, None] * Sc) * slope[:, None]) @ w * (2 * v)[..., None]
            dlab = lab_slopes(xyz, white, dxyz).transpose(0, 2, 1)  # (m, 3, k)
            r = at_all[:, 0]
            J = ((at_all[:, 1:] - r[:, None]) / nudge).transpose(0, 2, 1) @ dlab  # (m, 3, k)
            H = J.transpose(0, 2, 1) @ J
            slope_down = (J.transpose(0, 2, 1) @ r[..., None])[..., 0]
            scale = np.einsum("ijj->i", H) / H.shape[1] + 1e-9
            H = H + (damping * scale)[:, None, None] * np.eye(v.shape[1])
            trial = np.abs(v - np.linalg.solve(H, slope_down[..., None])[..., 0])
            trial /= np.linalg.norm(trial, axis=1, keepdims=True) + 1e-12
            at = state(trial)
            new = residuals(at[0])
            new_error = (new[:, 0] * new[:, 0]).sum(axis=1)
            good = new_error < error  # NaN compares false and is refused
            pick = good[:, None]
            v, lab, xyz = np.where(pick, trial, v), np.where(pick, at[0], lab), np.where(pick, at[1], xyz)
            q, slope = np.where(pick, at[2], q), np.where(pick, at[3], slope)
            at_all = np.where(pick[..., None], new, at_all)
            error = np.where(good, new_error, error)
            damping = np.clip(np.where(good, damping * 0.2, damping * 6), 1e-8, 1e8)  # never a singular step
            if not all_of_them and turn > 2 and error.min() < 1e-8:
                break
        shares = v * v / self.strength[index]
        return np.sqrt(error), shares / shares.sum(axis=1, keepdims=True)


def lab_slopes(xyz: Array, white: Array, dxyz: Array) -> Array:
    """Changes of CIELAB (m, k, 3) for small changes ``dxyz`` (m, k, 3) of colours ``xyz`` (m, 3)."""
    t = xyz / white
    dF = dxyz * (np.where(t > 216 / 24389, np.cbrt(np.maximum(t, 1e-12)) ** -2 / 3, 24389 / 27 / 116) / white)[:, None]
    return np.stack([116 * dF[..., 1], 500 * (dF[..., 0] - dF[..., 1]), 200 * (dF[..., 1] - dF[..., 2])], axis=-1)


@dataclass(frozen=True)
class Found:
    """Continuous mixtures, best first: weighted error (m,), shares (m, k) and tube indices (m, k)."""

    error: Array
    shares: Array
    index: Ints


class Searcher:
    """All mixtures of at most ``most`` tubes (1 to 5) of a palette (up to 24); prepared once, asked many times.

    A colour has three dimensions, so four tubes reach all that a palette reaches: a fifth only adds ways. Mixtures of
    five are therefore grown from the best of four.
    """

    def __init__(
        self,
        tubes: Sequence[Tube],
        most: int = 4,
        finish: Surface | None = None,
        order: str = "value",
        must: int | None = None,
    ) -> None:
        if not tubes:
            raise ValueError("a palette needs at least one tube")
        if len(tubes) > MOST_TUBES:
            raise ValueError(f"{len(tubes)} tubes: a palette holds at most {MOST_TUBES}")
        if not 1 <= most <= 5:
            raise ValueError(f"at most {most} tubes: choose 1 to 5")
        self.tubes = tuple(tubes)
        self.most = most
        self.paints = Paints(
            np.stack([t.K for t in tubes]),
            np.stack([t.S for t in tubes]),
            np.array([t.strength for t in tubes]),
            finish if finish is not None else USUAL,
            np.array(_WEIGHTS[order]),
        )
        k = min(most, len(tubes), 4)
        subsets = list(itertools.combinations(range(len(tubes)), k))
        # ``must``: only mixtures that may hold this tube
        self.subsets: Ints = np.array([s for s in subsets if must is None or must in s], dtype=np.intp)
        steps = [p for p in itertools.product(range(_GRID + 1), repeat=k) if sum(p) == _GRID]
        self._grid: Array = np.array(steps) / _GRID
        shares = self._grid[None] / self.paints.strength[self.subsets][:, None, :]
        shares = (shares / shares.sum(axis=-1, keepdims=True)).reshape(-1, k)
        index = np.repeat(self.subsets, len(self._grid), axis=0)
        lab = self.paints.lab(shares, index)
        # One array per coordinate, in single precision: it only ranks starting points.
        self._grid_lab = np.ascontiguousarray(lab.astype(np.float32).T).reshape(3, len(self.subsets), len(self._grid))

    def rough(self, target: Array) -> float:
        """CIEDE2000 of the grid mixture that lies nearest: an upper limit of what :meth:`find` finds, at once."""
        return float(weighted_error(self.roughly(target), target, np.ones(3)))

    def roughly(self, target: Array) -> Array:
        """CIELAB (3,) of the grid mixture that lies nearest to a colour."""
        flat = self._grid_lab.reshape(3, -1)
        far = ((flat - target.astype(np.float32)[:, None]) ** 2).sum(axis=0)
        near = flat[:, np.argpartition(far, min(24, len(far) - 1))[:24]].T.astype(float)
        return np.asarray(near[int(weighted_error(near, target, np.ones(3)).argmin())])

    def find(self, target: npt.ArrayLike, keep: int = _KEEP, allowed: Sequence[bool] | None = None) -> Found:
        """Best continuous mixtures for ``target`` Lab (3,), at most ``keep`` subsets, best first.

        ``allowed``: for each tube whether it may be used; ValueError where none may.

        For targets in reach the best lies within .05 CIEDE2000 of a global optimiser (``tests/external``).
        """
        goal = np.asarray(target, dtype=float).reshape(3)
        if not np.isfinite(goal).all():
            raise ValueError("a target needs finite L*, a* and b*")
        w = self.paints.weights
        distance = np.zeros(self._grid_lab.shape[1:], dtype=np.float32)
        for plane, middle, weight in zip(self._grid_lab, goal, (w[0], 1.0, 1.0), strict=True):
            off = plane - np.float32(middle)
            off *= np.float32(weight)
            off *= off
            distance += off
        if allowed is not None:
            open_to = np.asarray(allowed, dtype=bool)
            if not open_to.any():
                raise ValueError("no tube may be used")
            # Where too few may be used for a whole subset, its grid points without the others still count.
            barred = ~open_to[self.subsets]
            blocked = (barred[:, None, :] & (self._grid[None] > 0)).any(axis=-1)
            distance = np.where(blocked, np.inf, distance)
        # Few subsets get several starts each, since one start may end in a local minimum.
        starts = max(1, keep // len(distance))
        if starts == 1:
            start = distance.argmin(axis=1)[:, None]
        else:
            start = np.argsort(distance, axis=1)[:, :starts]
        near = np.take_along_axis(distance, start, axis=1).ravel()
        owner = np.repeat(np.arange(len(distance)), start.shape[1])
        best = np.argsort(near)[:keep]
        best = best[np.isfinite(near[best])]
        top, start = owner[best], start.ravel()[best]
        k = self.subsets.shape[1]
        v = np.sqrt(self._grid[start] * 0.97 + 0.03 / k)
        if allowed is not None:
            v = np.where(np.asarray(allowed, dtype=bool)[self.subsets[top]], v, 0.0)  # a zero stays a zero
        v /= np.linalg.norm(v, axis=1, keepdims=True)
        error, shares = self.paints.refine(goal, v, self.subsets[top])
        order = np.argsort(error)
        error, shares, index = error[order], shares[order], self.subsets[top][order]
        if error[0] > 0.01:  # out of reach Gauss-Newton creeps: polish the few that matter
            few = slice(0, _POLISH)
            v = np.sqrt(shares[few] * self.paints.strength[index[few]])
            v /= np.linalg.norm(v, axis=1, keepdims=True)
            error[few], shares[few] = self.paints.refine(goal, v, index[few], rounds=30)
            order = np.argsort(error)
            error, shares, index = error[order], shares[order], index[order]
        _, first = np.unique(index, axis=0, return_index=True)  # the best of each subset
        first.sort()
        found = Found(error[first], shares[first], index[first])
        if self.most > 4 and len(self.tubes) > 4:
            return self._with_a_fifth(goal, found, keep, allowed)
        return found

    def _with_a_fifth(self, goal: Array, found: Found, keep: int, allowed: Sequence[bool] | None) -> Found:
        """The same mixtures and those that a fifth tube makes of the best of them, best first."""
        n = len(self.tubes)
        rows = [
            (i, j)
            for i in range(min(_FIFTHS, len(found.index)))
            for j in range(n)
            if j not in found.index[i] and (allowed is None or allowed[j])
        ]
        four = Found(found.error, np.pad(found.shares, ((0, 0), (0, 1))), np.pad(found.index, ((0, 0), (0, 1)), "edge"))
        if not rows:
            return four
        index = np.array([(*found.index[i], j) for i, j in rows], dtype=np.intp)
        _, first = np.unique(np.sort(index, axis=1), axis=0, return_index=True)
        index, shares = index[first], found.shares[[rows[r][0] for r in first]]
        v = np.sqrt(np.pad(shares, ((0, 0), (0, 1))) * self.paints.strength[index])
        v /= np.linalg.norm(v, axis=1, keepdims=True)
        v[:, 4] = 0.3
        if allowed is not None:
            v = np.where(np.asarray(allowed, dtype=bool)[index], v, 0.0)
        v /= np.linalg.norm(v, axis=1, keepdims=True)
        error, shares = self.paints.refine(goal, v, index, rounds=10)
        best = np.argsort(np.concatenate([four.error, error]), kind="stable")[:keep]
        return Found(
            np.concatenate([four.error, error])[best],
            np.concatenate([four.shares, shares])[best],
            np.concatenate([four.index, index])[best],
        )


@functools.lru_cache(maxsize=8)
def searcher(tubes: tuple[Tube, ...], most: int = 4, finish: Surface | None = None, order: str = "value") -> Searcher:
    """The searcher of a palette, remembered: preparing one takes a few tenths of a second at twelve tubes."""
    if order == "value":
        return Searcher(tubes, most, finish)
    same = copy.copy(searcher(tubes, most, finish))  # what is dear in it does not know the order
    same.paints = replace(same.paints, weights=np.array(_WEIGHTS[order]))
    return same


def paints_of(K: Array, S: Array, surface: Surface = USUAL, order: str = "value") -> Paints:
    """Paints of which K and S (n, 36) alone are known: their colouring power is taken from these."""
    return Paints(K, S, strength_of(K, S), surface, np.array(_WEIGHTS[order]))


def nearest_mixture(
    K: Array, S: Array, target: Sequence[float] | Array, surface: Surface = USUAL, most: int = 4, order: str = "value"
) -> tuple[float, Array]:
    """CIEDE2000 and shares (n,) of the mixture of at most ``most`` of the tubes K and S (n, 36) that is nearest.

    For tubes that change with every reading: nothing is prepared and kept, as :class:`Searcher` does.
    """
    n = len(K)
    k = min(most, n)
    paints = paints_of(K, S, surface, order)
    power = paints.strength
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
