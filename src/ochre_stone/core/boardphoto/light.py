"""The light over the palette, from the palette's own surface: it is of one colour, so how it varies is the light."""

from dataclasses import dataclass

import numpy as np

from ochre_stone.core.boardphoto.square import PER_CM
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.errors import OchreError
from ochre_stone.core.later import later
from ochre_stone.core.picture.picture import Floats, Mask

cv2 = later("cv2")
ndimage = later("scipy.ndimage")

_STEP = 4  # pixels between those that are fitted
_SCALES = (0.55, 0.40, 0.28, 0.20, 0.14, 0.11, 0.09, 0.08, 0.08)  # reach in log light, coarse to fine
_REST_CM = 2.0


@dataclass(frozen=True, eq=False)
class Light:
    """Log light (h, w, 3) of the surface, as the camera's linear RGB has it."""

    log: Floats
    rest: float
    """What it leaves of the surface, standard deviation of the logarithm."""


def _powers(u: Array, v: Array) -> Array:
    return np.stack([np.ones_like(u), u, v, u * u, u * v, v * v], axis=-1)


def fit_light(log: Floats, usable: Mask, free: Mask) -> Light:
    """The light by which the surface was seen.

    ``log`` (h, w, 3): log of linear RGB; ``usable``: what is neither burnt nor card nor edge; ``free``: where nothing
    is expected to lie. The densest colour begins a quadratic over the palette that is fitted by re-weighting (Tukey's
    biweight), tilt first; what it leaves of an even surface is taken as a smooth field, of wood it is grain.

    Raises OchreError where nothing is usable.
    """
    h, w = usable.shape
    at = usable[::_STEP, ::_STEP]
    if not at.any():
        raise OchreError("The palette in this photo is burnt out: take it again with less light.")
    yy, xx = np.mgrid[0:h:_STEP, 0:w:_STEP]
    u, v = (xx[at] / w - 0.5).astype(np.float32), (yy[at] / w - 0.5 * h / w).astype(np.float32)
    pixels = log[::_STEP, ::_STEP][at]
    weight = np.where(free[::_STEP, ::_STEP][at], 1.0, 0.35).astype(np.float32)
    A = _powers(u, v)
    coef = np.zeros((6, 3), np.float32)
    coef[0] = _densest(pixels.astype(float), weight.astype(float))
    for scale in _SCALES:
        rest = pixels - A @ coef
        t = np.hypot(np.abs(rest[:, 1]) / scale, _hue(rest) / max(scale * 0.6, 0.07))
        own = weight * np.where(t < 1, (1 - t * t) ** 2, 0)
        if own.sum() < 50:
            break
        use = 3 if scale > 0.3 else 6
        B = A[:, :use]
        coef = np.zeros_like(coef)
        coef[:use] = np.linalg.solve((B * own[:, None]).T @ B + 1e-3 * np.eye(use), (B * own[:, None]).T @ pixels)
    rest = pixels - A @ coef
    near = (np.abs(rest[:, 1]) < 0.22) & (_hue(rest) < 0.12)
    soft, spread = _smooth_rest(rest, near, at)
    yf, xf = np.mgrid[0:h:8, 0:w:8]
    smooth = _powers((xf / w - 0.5).astype(np.float32), (yf / w - 0.5 * h / w).astype(np.float32)) @ coef
    smooth = smooth + cv2.resize(soft, (smooth.shape[1], smooth.shape[0]))
    return Light(np.asarray(cv2.resize(smooth.astype(np.float32), (w, h)), dtype=np.float32), spread)


def _hue(rest: Array) -> Array:
    return np.asarray(np.maximum(np.abs(rest[:, 0] - rest[:, 1]), np.abs(rest[:, 2] - rest[:, 1])))


def _densest(pixels: Array, weight: Array) -> Array:
    """The commonest log RGB (3,)."""
    q = np.stack([pixels[:, 0] - pixels[:, 1], pixels[:, 2] - pixels[:, 1], pixels[:, 1]], axis=1)
    step, low = np.array([0.06, 0.06, 0.25]), q.min(axis=0)
    k = ((q - low) / step).astype(int)
    dims = tuple(int(n) for n in k.max(axis=0) + 3)
    counts = np.bincount(np.ravel_multi_index(tuple((k + 1).T), dims), weights=weight, minlength=int(np.prod(dims)))
    dense = ndimage.uniform_filter(counts.reshape(dims), (3, 3, 3))
    c = low + (np.array(np.unravel_index(int(np.argmax(dense)), dims)) - 0.5) * step
    return np.array([c[0] + c[2], c[2], c[1] + c[2]])


def _smooth_rest(rest: Array, near: Mask, at: Mask) -> tuple[Array, float]:
    """What the quadratic leaves of an even surface, smooth (h', w', 3), and what is left after that."""
    total, count = np.zeros((*at.shape, 3), np.float32), np.zeros(at.shape, np.float32)
    rows, columns = np.nonzero(at)
    total[rows[near], columns[near]], count[rows[near], columns[near]] = rest[near], 1
    reach = _REST_CM * PER_CM / _STEP
    total, count = cv2.GaussianBlur(total, (0, 0), reach), cv2.GaussianBlur(count, (0, 0), reach)
    lively = 1.4826 * float(np.median(np.abs(rest[near][:, 1]))) if near.any() else 1.0
    soft = total / (count + 0.15)[..., None] * float(np.clip((0.05 - lively) / 0.025, 0, 1))
    left = np.abs(rest[near] - soft[rows[near], columns[near]])[:, 1] if near.any() else np.ones(1)
    return np.asarray(soft, dtype=np.float32), 1.4826 * float(np.median(left))
