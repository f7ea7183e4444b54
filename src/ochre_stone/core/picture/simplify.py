"""Melt detail but keep edges: total variation smoothing (Rudin, Osher and Fatemi 1992, Physica D 60).

Solved by the accelerated primal-dual method (Chambolle and Pock 2011, J. Math. Imaging Vis. 40, algorithm 2) from
coarse to fine.
"""

import cv2
import numpy as np

from ochre_stone.core.picture.picture import Floats


def _solve(f: Floats, lam: float, rounds: int, u: Floats) -> Floats:
    """Minimise TV(u) + |u - f|^2 / (2 lam) on one level, starting at ``u``."""
    tau, sigma, gamma = 0.25, 0.5, 0.7 / lam
    u = u.copy()
    bar = u.copy()
    px, py = np.zeros_like(f), np.zeros_like(f)
    ax, ay, norm, div, new = (np.zeros_like(f) for _ in range(5))
    for _ in range(rounds):
        np.subtract(bar[:, 1:], bar[:, :-1], out=ax[:, :-1])
        np.subtract(bar[1:], bar[:-1], out=ay[:-1])
        ax *= sigma
        ay *= sigma
        px += ax
        py += ay
        cv2.magnitude(px, py, norm)
        np.maximum(norm, 1, out=norm)
        px /= norm
        py /= norm
        np.add(px, py, out=div)
        div[:, 1:] -= px[:, :-1]
        div[1:] -= py[:-1]
        # u' = (u + tau div + tau/lam f) / (1 + tau/lam)
        np.multiply(div, tau, out=new)
        new += u
        cv2.scaleAdd(f, tau / lam, new, new)
        new *= 1 / (1 + tau / lam)
        theta = 1 / np.sqrt(1 + 2 * gamma * tau)
        np.subtract(new, u, out=bar)
        bar *= theta
        bar += new
        u, new = new, u
        tau, sigma = tau * theta, sigma / theta
    return u


def smooth(channel: Floats, strength: float, rounds: int = 25, levels: int = 3) -> Floats:
    """Smoothed channel (h, w), float32. ``strength``: lambda in units of the channel times pixels, above 0."""
    if strength <= 0:
        return channel
    pyramid = [np.ascontiguousarray(channel, dtype=np.float32)]
    while len(pyramid) < levels and min(pyramid[-1].shape) >= 16:
        pyramid.append(cv2.pyrDown(pyramid[-1]))
    u = pyramid[-1]
    for i in range(len(pyramid) - 1, -1, -1):
        f = pyramid[i]
        if u.shape != f.shape:
            u = cv2.resize(u, (f.shape[1], f.shape[0]), interpolation=cv2.INTER_LINEAR)
        u = _solve(f, strength / 2**i, rounds if i else max(rounds // 2, 4), u)
    return u


def smooth_lightness(lightness: Floats, detail_loss: float) -> Floats:
    """Smoothed L* (h, w); ``detail_loss`` 0 (all detail) .. 1 (largest shapes only)."""
    if not 0 <= detail_loss <= 1:
        raise ValueError(f"simplify {detail_loss} is not between 0 and 1")
    side = float(np.sqrt(lightness.size))
    return smooth(lightness, (0.01 + 0.06 * detail_loss) * side) if detail_loss > 0 else lightness


def smooth_lab(lab: Floats, detail_loss: float = 1 / 3) -> Floats:
    """Smoothed Lab (h, w, 3), channel by channel."""
    return np.dstack([smooth_lightness(np.ascontiguousarray(lab[..., i]), detail_loss) for i in range(3)])
