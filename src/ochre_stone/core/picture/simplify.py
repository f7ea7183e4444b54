"""Melt detail but keep edges: total variation smoothing (Rudin, Osher and Fatemi 1992, Physica D 60).

Solved by the accelerated primal-dual method (Chambolle and Pock 2011, J. Math. Imaging Vis. 40, algorithm 2) from
coarse to fine.
"""

import itertools

import numpy as np

from ochre_stone.core.later import later
from ochre_stone.core.picture.picture import Floats

cv2 = later("cv2")

_TILE = 256
_FOCUS = 0.85
"""How much less is melted in the middle of a focus area."""


def _solve(f: Floats, lam: float | Floats, rounds: int, u: Floats) -> Floats:
    """Minimise TV(u) + |u - f|^2 / (2 lam) on one level, starting at ``u``; ``lam`` may differ from pixel to pixel.

    Tile by tile, so that all of it stays in the processor's cache: what a pixel becomes in ``rounds`` rounds is told
    by those within as many pixels, and so each tile brings a rim of them. The same but for rounding.
    """
    out = np.empty_like(u)
    gamma = 0.7 / float(np.max(lam))
    h, w = f.shape
    for y, x in itertools.product(range(0, h, _TILE), range(0, w, _TILE)):
        y0, x0 = max(y - rounds - 1, 0), max(x - rounds - 1, 0)
        rimmed = np.s_[y0 : y + _TILE + rounds + 1, x0 : x + _TILE + rounds + 1]
        there = lam if isinstance(lam, float) else np.ascontiguousarray(lam[rimmed])
        tile = _solve_tile(np.ascontiguousarray(f[rimmed]), there, gamma, rounds, u[rimmed])
        out[y : y + _TILE, x : x + _TILE] = tile[y - y0 : y - y0 + _TILE, x - x0 : x - x0 + _TILE]
    return out


def _solve_tile(f: Floats, lam: float | Floats, gamma: float, rounds: int, u: Floats) -> Floats:
    tau, sigma = 0.25, 0.5
    u = np.array(u, order="C")
    bar = u.copy()
    px, py = np.zeros_like(f), np.zeros_like(f)
    ax, ay, norm, div, new = (np.zeros_like(f) for _ in range(5))
    inverse = 1 / lam
    over = f * inverse
    for _ in range(rounds):
        np.subtract(bar[:, 1:], bar[:, :-1], out=ax[:, :-1])
        np.subtract(bar[1:], bar[:-1], out=ay[:-1])
        cv2.scaleAdd(ax, sigma, px, px)
        cv2.scaleAdd(ay, sigma, py, py)
        cv2.magnitude(px, py, norm)
        np.maximum(norm, 1, out=norm)
        px /= norm
        py /= norm
        np.add(px, py, out=div)
        div[:, 1:] -= px[:, :-1]
        div[1:] -= py[:-1]
        # u' = (u + tau div + tau/lam f) / (1 + tau/lam)
        if isinstance(inverse, float):
            kept = 1 / (1 + tau * inverse)
            cv2.addWeighted(u, kept, div, tau * kept, 0, new)
            cv2.scaleAdd(over, tau * kept, new, new)
        else:
            cv2.scaleAdd(div, tau, u, new)
            cv2.scaleAdd(over, tau, new, new)
            np.multiply(inverse, tau, out=norm)
            norm += 1
            new /= norm
        theta = 1 / np.sqrt(1 + 2 * gamma * tau)
        cv2.addWeighted(new, 1 + theta, u, -theta, 0, bar)
        u, new = new, u
        tau, sigma = tau * theta, sigma / theta
    return u


def smooth(channel: Floats, strength: float | Floats, rounds: int = 25, levels: int = 3) -> Floats:
    """Smoothed channel (h, w), float32. ``strength``: lambda in units of the channel times pixels, 0 or above: one
    number, or one for each pixel (h, w)."""
    if float(np.max(strength)) <= 0:
        return channel
    if not isinstance(strength, float):
        strength = np.maximum(np.asarray(strength, dtype=np.float32), np.float32(1e-3))
    pyramid = [np.ascontiguousarray(channel, dtype=np.float32)]
    while len(pyramid) < levels and min(pyramid[-1].shape) >= 16:
        pyramid.append(cv2.pyrDown(pyramid[-1]))
    u = pyramid[-1]
    for i in range(len(pyramid) - 1, -1, -1):
        f = pyramid[i]
        if u.shape != f.shape:
            u = cv2.resize(u, (f.shape[1], f.shape[0]), interpolation=cv2.INTER_LINEAR)
        if isinstance(strength, float):
            here: float | Floats = strength / 2**i
        else:
            size = (f.shape[1], f.shape[0])
            here = np.asarray(cv2.resize(strength, size, interpolation=cv2.INTER_AREA) / 2**i, dtype=np.float32)
        u = _solve(f, here, rounds if i else max(rounds // 2, 4), u)
    return u


def smooth_lightness(lightness: Floats, detail_loss: float, kept: Floats | None = None) -> Floats:
    """Smoothed L* (h, w); ``detail_loss`` 0 (all detail) .. 1 (largest shapes only).

    ``kept`` (h, w) 0..1: where more detail stays; at 1 about a sixth of the smoothing is left.
    """
    if not 0 <= detail_loss <= 1:
        raise ValueError(f"simplify {detail_loss} is not between 0 and 1")
    side = float(np.sqrt(lightness.size))
    if detail_loss == 0:
        return lightness
    strength = (0.01 + 0.06 * detail_loss) * side
    if kept is None:
        return smooth(lightness, strength)
    return smooth(lightness, np.asarray(strength * (1 - _FOCUS * kept), dtype=np.float32))


def smooth_lab(lab: Floats, detail_loss: float = 1 / 3) -> Floats:
    """Smoothed Lab (h, w, 3), channel by channel."""
    return np.dstack([smooth_lightness(np.ascontiguousarray(lab[..., i]), detail_loss) for i in range(3)])
