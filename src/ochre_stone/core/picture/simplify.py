"""Melt detail but keep edges: total variation smoothing (Rudin, Osher and Fatemi 1992, Physica D 60).

Solved by the accelerated primal-dual method (Chambolle and Pock 2011, J. Math. Imaging Vis. 40, algorithm 2) from
coarse to fine.
"""

import numpy as np

from ochre_stone.core.later import later
from ochre_stone.core.picture.picture import Floats

cv2 = later("cv2")

_FOCUS = 0.85
"""How much less is melted in the middle of a focus area."""


def _solve(f: Floats, lam: float | Floats, rounds: int, u: Floats) -> Floats:
    """Minimise TV(u) + |u - f|^2 / (2 lam) on one level, starting at ``u``; ``lam`` may differ from pixel to pixel."""
    tau, sigma, gamma = 0.25, 0.5, 0.7 / float(np.max(lam))
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
        if isinstance(lam, float):
            cv2.scaleAdd(f, tau / lam, new, new)
            new *= 1 / (1 + tau / lam)
        else:
            share = np.asarray(tau / lam, dtype=np.float32)
            new += f * share
            new /= 1 + share
        theta = 1 / np.sqrt(1 + 2 * gamma * tau)
        np.subtract(new, u, out=bar)
        bar *= theta
        bar += new
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
