"""Fit the painter's own tubes to swatches of them: maximum a posteriori, with the generic figures as prior.

Each tube has eight numbers (strength, scatter, shift and five tilts, ``calibration.Correction``) with Gaussian priors
from its tolerance; each swatch adds its colour, or its spectrum, with Gaussian errors. A swatch that no tube can
explain (a wrong label, a finger mark) is found by its residual against the spread of the others (median absolute
deviation, Hampel 1974), left out, and the rest fitted again. Means and spreads after the data follow from the
curvature at the optimum (Laplace's approximation).
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import Array, as_lab
from ochre_stone.core.errors import OchreError
from ochre_stone.core.later import later
from ochre_stone.core.paint.calibration import CENTRES, TubeCorrection, corrected
from ochre_stone.core.paint.optics import USUAL, Surface, reflectance, reflectance_to_lab
from ochre_stone.core.paint.tubes import Tube
from ochre_stone.core.paint.usual import EDITION

optimize = later("scipy.optimize")

NOISE = {"photo": 1.5, "typed": 1.0, "reader": 0.5}
"""Standard deviation of L*, a* and b* of a swatch, by how it was read (judgement)."""
_SPECTRAL = 0.012
"""Standard deviation of a reflectance from the reader; neighbouring bands err together, so that three count as one."""
_TILT = 0.20
_OUTLIER, _LEAST_OUTLIER = 4.5, 4.0
"""A swatch is left out beyond so many spreads of the others, and beyond so many CIEDE2000."""
_UNIT = 3 + len(CENTRES)
_REFERENCE: Array = np.array([0.0, 0.5, 2.0, 8.0])
"""White against a tube's power in the tints by which its doubt is told."""
Flags = npt.NDArray[np.bool_]


@dataclass(frozen=True)
class Swatch:
    """One painted and measured mixture."""

    label: str
    parts: Mapping[str, float]
    """Tube id to parts by volume, at or above 0, one above."""
    lab: tuple[float, float, float]
    spectrum: tuple[float, ...] = ()
    """Reflectances at 380 ... 730 nm where they were read."""
    noise: float = 0.0
    """Standard deviation of its L*, a* and b*; 0 for that of the whole fit."""


@dataclass(frozen=True)
class Told:
    """What became of one swatch."""

    swatch: Swatch
    before: tuple[float, float, float]
    """Lab predicted by the generic figures."""
    after: tuple[float, float, float]
    gap_before: float
    gap_after: float
    """CIEDE2000 from what was measured."""
    outlier: bool = False
    resembles: str = ""
    """Label of the cell whose recipe would explain an outlier; empty where none does."""


@dataclass(frozen=True)
class Calibrated:
    """Corrections by tube id, and what became of each swatch."""

    corrections: Mapping[str, TubeCorrection]
    swatches: tuple[Told, ...]

    @property
    def before(self) -> float:
        """Mean CIEDE2000 of the swatches that were used, by the generic figures."""
        return float(np.mean([t.gap_before for t in self.swatches if not t.outlier]))

    @property
    def after(self) -> float:
        return float(np.mean([t.gap_after for t in self.swatches if not t.outlier]))

    @property
    def outliers(self) -> tuple[Told, ...]:
        return tuple(t for t in self.swatches if t.outlier)


class _Fit:
    """The swatches as arrays, and the fit of all tubes at once."""

    def __init__(self, tubes: Sequence[Tube], swatches: Sequence[Swatch], noise: float, surface: Surface) -> None:
        self.tubes, self.surface = tubes, surface
        self.noise = np.array([s.noise or noise for s in swatches])[:, None]
        at = {t.id: i for i, t in enumerate(tubes)}
        self.shares = np.zeros((len(swatches), len(tubes)))
        for row, s in enumerate(swatches):
            for tube_id, parts in s.parts.items():
                self.shares[row, at[tube_id]] += parts
        self.shares /= self.shares.sum(axis=1, keepdims=True)
        self.lab = np.array([s.lab for s in swatches])
        self.spectral = np.array([len(s.spectrum) > 0 for s in swatches])
        self.R = np.array([s.spectrum if s.spectrum else np.zeros(36) for s in swatches])
        sd = [[t.tolerance.strength, t.tolerance.scatter, t.tolerance.hue_nm, *[_TILT] * len(CENTRES)] for t in tubes]
        self.sd = np.array(sd)
        # Colour knows only ratios of K and S: the unit is the white, or else the tube that most swatches hold.
        held = (self.shares > 0).sum(axis=0) + 1000 * np.array([t.is_white for t in tubes])
        self.sd[int(held.argmax()), 0] = 1e-3

    def reflectance(self, x: Array) -> Array:
        both = [corrected(t.K, t.S, row) for t, row in zip(self.tubes, x.reshape(-1, _UNIT), strict=True)]
        K, S = np.stack([k for k, _ in both]), np.stack([s for _, s in both])
        return reflectance(self.shares @ K, self.shares @ S, self.surface)

    def residual(self, x: Array, used: Flags) -> Array:
        R = self.reflectance(x)
        off = (reflectance_to_lab(R) - self.lab) / self.noise
        bands = ((R - self.R) / _SPECTRAL / np.sqrt(3))[self.spectral & used]
        return np.concatenate([off[used].ravel(), bands.ravel(), x / self.sd.ravel()])

    def gaps(self, x: Array) -> Array:
        return ciede2000(reflectance_to_lab(self.reflectance(x)), self.lab)

    def solve(self, used: Flags, start: Array) -> tuple[Array, Array]:
        """Optimum (n,) and covariance (n, n) after the data."""
        found = optimize.least_squares(
            self.residual, start, args=(used,), x_scale=self.sd.ravel(), loss="soft_l1", f_scale=2.5, max_nfev=40
        )
        J = found.jac
        return found.x, np.linalg.inv(J.T @ J)

    def surer(self, i: int, x: Array, covariance: Array) -> float:
        """What is left of the doubt about tube ``i``, 0..1: the spread of its mass tone and tints after the data, by
        that before."""
        rows = slice(i * _UNIT, (i + 1) * _UNIT)
        own, white = x[rows], next((t for t in self.tubes if t.is_white), None)
        parts = _REFERENCE[:, None] * self.tubes[i].strength if white is not None else np.zeros((1, 1))

        def lab(y: Array) -> Array:
            K, S = corrected(self.tubes[i].K, self.tubes[i].S, y)
            if white is not None:
                K, S = K + parts * white.K, S + parts * white.S
            return reflectance_to_lab(reflectance(K, S, self.surface)).ravel()

        step = self.sd[i] * 0.05
        J = np.stack(
            [(lab(own + d) - lab(own - d)) / (2 * h) for d, h in zip(np.diag(step), step, strict=True)], axis=1
        )
        after = float(np.trace(J @ covariance[rows, rows] @ J.T))
        before = float(np.trace(J @ np.diag(self.sd[i] ** 2) @ J.T))
        return float(np.clip(np.sqrt(after / max(before, 1e-12)), 0.02, 1.0))


def calibrate(
    tubes: Sequence[Tube],
    swatches: Sequence[Swatch],
    noise: float = NOISE["photo"],
    made: str = "",
    surface: Surface = USUAL,
    progress: Callable[[float], None] = lambda share: None,
) -> Calibrated:
    """Corrections of ``tubes`` (generic states) from swatches of them.

    ``noise``: standard deviation of a measured L*, a*, b*. ``progress`` gets 0..1 and may raise to cancel. Tubes
    that no swatch holds are left as they are. Raises OchreError where swatches hold unknown tubes, or none of these.
    """
    known = {t.id for t in tubes}
    for s in swatches:
        strange = [i for i in s.parts if i not in known]
        if strange:
            raise OchreError(f"{s.label}: '{strange[0]}' is none of the tubes to calibrate; add it, or mend the label.")
        if not s.parts or min(s.parts.values()) < 0 or max(s.parts.values()) <= 0:
            raise OchreError(f"{s.label}: the parts must be numbers at or above 0, one of them above.")
    held = [t for t in tubes if any(s.parts.get(t.id, 0) > 0 for s in swatches)]
    if not held:
        raise OchreError("There is nothing to learn from: measure at least one cell that holds one of these tubes.")
    fit = _Fit(held, swatches, noise, surface)
    start = np.zeros(len(held) * _UNIT)
    used = np.ones(len(swatches), dtype=bool)
    x, covariance = fit.solve(used, start)
    progress(0.4)
    for turn in range(3):
        gaps = fit.gaps(x)
        spread = 1.4826 * np.median(np.abs(gaps[used] - np.median(gaps[used])))
        limit = max(_LEAST_OUTLIER, float(np.median(gaps[used])) + _OUTLIER * float(spread))
        now = gaps <= limit
        if (now == used).all() or now.sum() < len(held):
            break
        used = now
        x, covariance = fit.solve(used, x)
        progress(0.6 + 0.1 * turn)
    before, after = fit.gaps(start), fit.gaps(x)
    generic, fitted = (reflectance_to_lab(fit.reflectance(v)) for v in (start, x))
    told = tuple(
        Told(
            s,
            as_lab(generic[i]),
            as_lab(fitted[i]),
            float(before[i]),
            float(after[i]),
            not used[i],
            _resembles(i, swatches, fitted, fit.lab) if not used[i] else "",
        )
        for i, s in enumerate(swatches)
    )
    progress(1.0)
    return Calibrated(_corrections(fit, x, covariance, used, told, made), told)


def _resembles(i: int, swatches: Sequence[Swatch], fitted: Array, measured: Array) -> str:
    """The other cell whose predicted colour is what was measured here, if one is near."""
    far = ciede2000(fitted, measured[i])
    far[i] = np.inf
    best = int(far.argmin())
    return swatches[best].label if far[best] < 3.0 else ""


def _corrections(
    fit: _Fit, x: Array, covariance: Array, used: Flags, told: Sequence[Told], made: str
) -> dict[str, TubeCorrection]:
    out = {}
    rows = x.reshape(-1, _UNIT)
    for i, t in enumerate(fit.tubes):
        mine = (fit.shares[:, i] > 0) & used
        if not mine.any():
            continue
        rows_of: list[int] = np.flatnonzero(mine).tolist()
        n = len(rows_of)
        left = fit.surer(i, x, covariance)
        out[t.id] = TubeCorrection(
            made=made,
            edition=EDITION,
            words=f"from {n} swatch{'' if n == 1 else 'es'}",
            strength=round(float(np.clip(rows[i, 0], -4, 4)), 5),
            scatter=round(float(np.clip(rows[i, 1], -4, 4)), 5),
            shift=round(float(np.clip(rows[i, 2], -60, 60)), 4),
            tilt=tuple(round(float(v), 5) for v in np.clip(rows[i, 3:], -4, 4)),
            strength_sd=round(t.tolerance.strength * left, 5),
            scatter_sd=round(t.tolerance.scatter * left, 5),
            hue_sd=round(t.tolerance.hue_nm * left, 4),
            before=round(float(np.mean([told[k].gap_before for k in rows_of])), 3),
            after=round(float(np.mean([told[k].gap_after for k in rows_of])), 3),
        )
    return out
