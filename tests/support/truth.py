"""The painter's real tubes, and what they really mix to: forward optics of its own.

Kubelka-Munk for a hiding layer and Saunderson's surface, written out here; the observer, the illuminant, CIELAB and
CIEDE2000 are colour-science's. The tubes differ from the program's data in ways that its belief cannot hold exactly:
strength by a log-normal of .25, K by a smooth random change of 8 % and S by one of 5 % over wavelength, one tube in
five is another pigment of similar mass tone.
"""

import functools
from collections.abc import Mapping, Sequence

import colour
import numpy as np
from scipy.ndimage import gaussian_filter1d

from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.paint.optics import USUAL
from ochre_stone.core.paint.tubes import Tube, all_tubes

STRENGTH, K_CHANGE, S_CHANGE, OTHER = 0.25, 0.08, 0.05, 0.2
_BANDS = np.arange(380, 731, 10)


@functools.cache
def _weights() -> tuple[Array, Array]:
    shape = colour.SpectralShape(380, 730, 10)
    cmfs = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy().align(shape).values
    light = colour.SDS_ILLUMINANTS["D65"].copy().align(shape).values
    w = cmfs * light[:, None]
    w = w / w[:, 1].sum()
    return w, w.sum(axis=0)


def lab_of(K: Array, S: Array) -> Array:
    """CIELAB of a hiding layer of K and S (..., 36)."""
    ratio = K / S
    inside = 1 + ratio - np.sqrt(ratio**2 + 2 * ratio)
    k1, k2 = USUAL.k1, USUAL.k2
    outside = USUAL.g * k1 + (1 - k1) * (1 - k2) * inside / (1 - k2 * inside)
    w, white = _weights()
    xyz = outside @ w
    x, y = white[0] / white.sum(), white[1] / white.sum()
    return np.asarray(colour.XYZ_to_Lab(xyz / white[1], np.array([x, y])))


def difference(a: object, b: object) -> float:
    """CIEDE2000."""
    return float(colour.delta_E(np.asarray(a, float), np.asarray(b, float), method="CIE 2000"))


def _smooth(rng: np.random.Generator, sd: float) -> Array:
    """A random curve over the bands, of standard deviation ``sd``."""
    raw = gaussian_filter1d(rng.standard_normal(36 + 40), 5)[20:-20]
    return np.asarray(np.exp(sd * raw / 0.238))  # a filter of sigma 5 leaves .238 of white noise


@functools.cache
def _similar(tube_id: str) -> tuple[Tube, ...]:
    """Other pigments of similar mass tone, nearest first."""
    every = all_tubes()
    own = every[tube_id]
    rest = [t for t in every.values() if t.id != tube_id and t.is_white == own.is_white]
    near = sorted((difference(t.lab, own.lab), t.id) for t in rest)
    return tuple(every[i] for d, i in near[:3] if d < 14)


class Truth:
    """The tubes as they really are."""

    def __init__(self, tubes: Sequence[Tube], rng: np.random.Generator) -> None:
        K, S = [], []
        self.other: list[str] = []
        for t in tubes:
            near = _similar(t.id)
            real = t
            if near and rng.random() < OTHER:
                real = near[int(rng.integers(len(near)))]
                self.other.append(t.id)
            strong = np.exp(rng.normal(0, STRENGTH))
            K.append(real.K * strong * _smooth(rng, K_CHANGE))
            S.append(real.S * strong * _smooth(rng, S_CHANGE))
        self.K, self.S = np.stack(K), np.stack(S)
        self.at = {t.id: i for i, t in enumerate(tubes)}

    def lab(self, held: Mapping[str, float]) -> Array:
        """CIELAB of a pile, tube id to volume."""
        c = np.zeros(len(self.K))
        for i, v in held.items():
            c[self.at[i]] += v
        c /= c.sum()
        return lab_of(c @ self.K, c @ self.S)
