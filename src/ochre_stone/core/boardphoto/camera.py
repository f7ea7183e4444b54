"""The tubes' dabs as a colour chart for nothing: they are known, and tell how the camera and the lamp turn colours."""

from collections.abc import Sequence

import numpy as np

from ochre_stone.core.boardphoto.layout import Layout, SeenRegion
from ochre_stone.core.colour.difference import ciede2000_vector
from ochre_stone.core.colour.spaces import SRGB_TO_XYZ, XYZ_TO_SRGB, Array, lab_to_xyz, xyz_to_lab
from ochre_stone.core.later import later

optimize = later("scipy.optimize")

_TUBE_SD, _DARK_SD, _CAMERA_SD, _SURE = 2.5, 2.0, 0.05, 0.8
"""How far dabs are off their data, how much more dark ones, how far a camera's matrix is from none, and how sure a
dab's name must be (judgements)."""


_OF_TUBES, _UNTOLD, _BY_TUBES = 2.0, 3.0, 0.48
"""How far tubes themselves are off their data, what is taken where too few dabs tell, and how much of it comes back in
the piles (fitted to simulated photos)."""


def _matrix(x: Array) -> Array:
    """A matrix that keeps white: six figures beside the diagonal."""
    d = np.zeros((3, 3))
    d[0, 1], d[0, 2], d[1, 0], d[1, 2], d[2, 0], d[2, 1] = x
    return np.asarray(np.eye(3) + d - np.diag(d.sum(axis=1)))


def from_tubes(piles: Sequence[SeenRegion], layout: Layout) -> Array | None:
    """Correction (3, 3) of linear light that brings the tubes' dabs nearer to their data; None with fewer than three.

    Least squares in CIELAB (SciPy), each dab weighted down as it is farther off (Geman and McClure's function).
    """
    known = {e.id: e for e in layout.expected if e.is_tube}
    seen = [p for p in piles if p.is_tube and not p.unreadable and p.sure > _SURE]
    if len(seen) < 3:
        return None
    rgb = np.array([lab_to_xyz(np.array(p.lab)) for p in seen]) @ XYZ_TO_SRGB.T
    want = np.array([known[p.id].lab for p in seen])
    trust = 1 / np.array([_TUBE_SD + (_DARK_SD if p.lab[0] < 25 else 0.0) for p in seen])

    def off(x: Array) -> Array:
        lab = xyz_to_lab(rgb @ _matrix(x).T @ SRGB_TO_XYZ.T)
        v = ciede2000_vector(lab, want) * trust[:, None]
        v = v / np.sqrt(1 + (v**2).sum(axis=1, keepdims=True) / 9)
        v[:, 0] *= 0.5  # lightness is shade and gloss rather than the camera
        return np.concatenate([v.ravel(), x / _CAMERA_SD])

    return _matrix(optimize.least_squares(off, np.zeros(6), max_nfev=30).x)


def unlike_data(piles: Sequence[SeenRegion], layout: Layout) -> float:
    """Variance by which the camera turns colours otherwise than is corrected: what dabs are off beyond what tubes are,
    in each direction of CIEDE2000."""
    known = {e.id: e for e in layout.expected if e.is_tube}
    seen = [p for p in piles if p.is_tube and not p.unreadable]
    if len(seen) < 3:
        return _BY_TUBES * (_UNTOLD**2 - _OF_TUBES**2)
    off = [float((ciede2000_vector(np.array(p.lab), np.array(known[p.id].lab)) ** 2).mean()) for p in seen]
    return _BY_TUBES * max(float(np.median(off)) - _OF_TUBES**2, 0.0)


def camera_corrected(lab: Array, matrix: Array) -> Array:
    """A colour (3,) as the camera should have had it."""
    rgb = matrix @ (XYZ_TO_SRGB @ lab_to_xyz(lab))
    return np.asarray(xyz_to_lab(SRGB_TO_XYZ @ np.maximum(rgb, 1e-4)))
