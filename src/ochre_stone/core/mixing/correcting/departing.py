"""How a painter's tubes may depart from their data: figures per tube, what they do to K and S, and their slopes.

Nine figures per tube: ln strength (K and S together), ln scattering, the place of the absorption in nm (these three by
the tube's :class:`Tolerance`), five smooth bumps over ln K and a slope of ln S: two makers' paints of one pigment are
ground and extended differently, and differ in shape by some percent (a judgement).
"""

from collections.abc import Sequence

import numpy as np

from ochre_stone.core.colour.spaces import WAVELENGTHS, Array
from ochre_stone.core.paint.predict import shifted
from ochre_stone.core.paint.tubes import Tube

SHAPE_SD, SLOPE_SD = 0.10, 0.06
"""Standard deviations of a bump of ln K and of the slope of ln S between the ends of the spectrum (judgements)."""
MOST_NM = 30.0
_BUMPS: Array = np.exp(-0.5 * ((WAVELENGTHS - np.array([420.0, 490.0, 560.0, 630.0, 700.0])[:, None]) / 42.0) ** 2)
_SLOPE: Array = np.log(WAVELENGTHS / 550.0) / np.log(730 / 550)
FIGURES = 3 + len(_BUMPS) + 1


def prior_sd(tubes: Sequence[Tube]) -> Array:
    """Standard deviations (n, 9) of the figures before anything was read."""
    rows = [(t.tolerance.strength, t.tolerance.scatter, t.tolerance.hue_nm) for t in tubes]
    shape = np.tile([SHAPE_SD] * len(_BUMPS) + [SLOPE_SD], (len(rows), 1))
    return np.concatenate([np.reshape(np.array(rows, dtype=float), (-1, 3)), shape], axis=1)


def departed(tubes: Sequence[Tube], figures: Array) -> tuple[Array, Array]:
    """K and S (..., n, 36) of ``tubes`` whose figures depart from their data by ``figures`` (..., n, 3 or 9)."""
    figures = np.asarray(figures, dtype=float)
    nm = np.clip(figures[..., 2], -MOST_NM, MOST_NM)
    flat = nm.reshape(-1, len(tubes))
    K = np.stack([_moved(t.K, flat[:, i]) for i, t in enumerate(tubes)], axis=1).reshape(*nm.shape, -1)
    S = np.stack([t.S for t in tubes])
    ln_k, ln_s = figures[..., 0, None], (figures[..., 0] + figures[..., 1])[..., None]
    if figures.shape[-1] == FIGURES:
        ln_k = ln_k + figures[..., 3:-1] @ _BUMPS
        ln_s = ln_s + figures[..., -1:] * _SLOPE
    return np.asarray(K * np.exp(ln_k)), np.asarray(S * np.exp(ln_s))


def _moved(K: Array, nm: Array) -> Array:
    """Absorption (m, 36) moved by each of ``nm`` (m,)."""
    return np.stack([shifted(K, float(x)) for x in nm]) if len(nm) else np.zeros((0, len(K)))


def slopes(tubes: Sequence[Tube], figures: Array, K: Array, S: Array) -> tuple[Array, Array]:
    """Slopes of K and of S (n, 9, 36) over the figures (n, 9), where they are ``K`` and ``S``."""
    dK, dS = np.zeros((*figures.shape, 36)), np.zeros((*figures.shape, 36))
    dK[:, 0], dS[:, 0], dS[:, 1] = K, S, S
    shape = np.exp(figures[:, :1] + figures[:, 3:-1] @ _BUMPS)
    for i, t in enumerate(tubes):
        nm = float(np.clip(figures[i, 2], -MOST_NM, MOST_NM))
        dK[i, 2] = (shifted(t.K, nm + 1) - shifted(t.K, nm - 1)) / 2 * shape[i]
    dK[:, 3:-1] = K[:, None] * _BUMPS
    dS[:, -1] = S * _SLOPE
    return dK, dS
