"""Monotone curves through points, and the nearest rising sequence: what is wanted before any work is done.

SciPy has both (``PchipInterpolator``, ``isotonic_regression``) and is what they are tested against; it takes half a
second to load, which a window and a shell command cannot wait for.
"""

import numpy as np
import numpy.typing as npt

Floats64 = npt.NDArray[np.float64]


class MonotoneCurve:
    """A smooth curve through points that never overshoots them: where they rise it rises, where they turn it is flat.

    Cubic Hermite pieces; the slope at a point is the weighted harmonic mean of those beside it, at an end that of the
    parabola through three points, held to the data's own rise. Beyond the ends the outer pieces go on.

    Parameters: ``x`` (n,), rising, n >= 2; ``y`` (n,) or (n, k).

    Raises ValueError where ``x`` does not rise or the two do not fit.

    Source: Fritsch and Butland 1984, SIAM J. Sci. Stat. Comput. 5(2); the ends: Moler 2004, Numerical Computing with
    MATLAB, 3.6.

    >>> MonotoneCurve([0, 1, 2, 3], [0, 0, 1, 1])([0.5, 1.5, 2.5])
    array([0. , 0.5, 1. ])
    """

    def __init__(self, x: npt.ArrayLike, y: npt.ArrayLike) -> None:
        self.x, self.y = np.asarray(x, dtype=float), np.asarray(y, dtype=float)
        if self.x.ndim != 1 or len(self.x) < 2 or len(self.y) != len(self.x) or not (np.diff(self.x) > 0).all():
            raise ValueError("a curve wants rising x, and as many y")
        self._slopes = _slopes(self.x, self.y)

    def __call__(self, at: npt.ArrayLike) -> Floats64:
        """The curve (..., k) ``at`` (...)."""
        at = np.asarray(at, dtype=float)
        i = np.clip(np.searchsorted(self.x, at, side="right") - 1, 0, len(self.x) - 2)
        h = self.x[i + 1] - self.x[i]
        t = (at - self.x[i]) / h
        if self.y.ndim > 1:
            h, t = h[..., None], t[..., None]
        y0, y1 = self.y[i], self.y[i + 1]
        d0, d1 = self._slopes[i] * h, self._slopes[i + 1] * h
        return np.asarray(y0 + t * (d0 + t * (3 * (y1 - y0) - 2 * d0 - d1 + t * (2 * (y0 - y1) + d0 + d1))))


def _slopes(x: Floats64, y: Floats64) -> Floats64:
    h = np.diff(x).reshape(-1, *[1] * (y.ndim - 1))
    rise = np.diff(y, axis=0) / h
    if len(x) == 2:
        return np.repeat(rise, 2, axis=0)
    before, after, short, long = rise[:-1], rise[1:], h[:-1], h[1:]
    w1, w2 = 2 * long + short, long + 2 * short
    turns = (np.sign(before) * np.sign(after)) <= 0
    with np.errstate(divide="ignore", invalid="ignore"):
        inner = np.where(turns, 0.0, (w1 + w2) / (w1 / before + w2 / after))
    return np.concatenate(
        [_end(h[:1], h[1:2], rise[:1], rise[1:2]), inner, _end(h[-1:], h[-2:-1], rise[-1:], rise[-2:-1])]
    )


def _end(h0: Floats64, h1: Floats64, rise0: Floats64, rise1: Floats64) -> Floats64:
    """Slope at an end, whose piece is ``h0`` long and rises by ``rise0``."""
    d = ((2 * h0 + h1) * rise0 - h0 * rise1) / (h0 + h1)
    d = np.where(np.sign(d) != np.sign(rise0), 0.0, d)
    over = (np.sign(rise0) != np.sign(rise1)) & (np.abs(d) > 3 * np.abs(rise0))
    return np.asarray(np.where(over, 3 * rise0, d))


def nearest_rising(y: npt.ArrayLike) -> Floats64:
    """The sequence (n,) that never falls and is nearest to ``y`` (n,) in the sense of least squares.

    Source: pool adjacent violators, Ayer and others 1955, Ann. Math. Stat. 26(4).

    >>> nearest_rising([1, 3, 2, 4])
    array([1. , 2.5, 2.5, 4. ])
    """
    means: list[float] = []
    counts: list[int] = []
    for value in np.asarray(y, dtype=float).tolist():
        mean, count = value, 1
        while means and means[-1] > mean:
            held = counts.pop()
            mean = (means.pop() * held + mean * count) / (held + count)
            count += held
        means.append(mean)
        counts.append(count)
    return np.repeat(np.array(means), counts)
