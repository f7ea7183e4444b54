"""Drawn by chance: a maker's own version of a tube, and what a mixture comes to with many of them; how far two maps of
light and shadow agree."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import WAVELENGTHS, Array
from ochre_stone.core.paint import optics
from ochre_stone.core.paint.calibration import CENTRES, corrected
from ochre_stone.core.paint.predict import MODEL_SD, shifted, spectra
from ochre_stone.core.paint.tubes import Tube

_RAGGED = 0.1
"""Spread of what a made-up maker's tube absorbs more or less in a band, as calibration counts it: half of what that
allows for."""


def perturbed(tube: Tube, rng: np.random.Generator) -> Tube:
    """A maker's version of a tube, drawn from its tolerance: for simulations and for practice."""
    tolerance = tube.tolerance
    x = np.concatenate(
        [rng.normal(0, [tolerance.strength, tolerance.scatter, tolerance.hue_nm]), rng.normal(0, _RAGGED, len(CENTRES))]
    )
    if tube.is_white:
        x[0] = 0.0
    K, S = corrected(tube.K, tube.S, x)
    return replace(tube, K=K, S=S, stamp="perturbed")


def sampled(tubes: Sequence[Tube], shares: Array, count: int = 400, seed: int = 1) -> tuple[Array, float]:
    """What :func:`uncertainty` says in a straight line, by drawing ``count`` sets of tubes: Lab (count, 3) and the root
    mean square CIEDE2000 from the prediction, the model's own error included."""
    rng = np.random.default_rng(seed)
    c = np.asarray(shares, dtype=float) / np.sum(shares)
    k, s = np.zeros((count, len(WAVELENGTHS))), np.zeros((count, len(WAVELENGTHS)))
    for t, share in zip(tubes, c, strict=True):
        a, b, h = (rng.normal(0, sd, count) for sd in (t.tolerance.strength, t.tolerance.scatter, t.tolerance.hue_nm))
        k += share * np.exp(a)[:, None] * np.stack([shifted(t.K, float(nm)) for nm in h])
        s += share * np.exp(a + b)[:, None] * t.S
    lab = optics.layer_lab(k, s)
    middle = optics.layer_lab(*spectra(tubes, c))
    off = ciede2000(lab, middle)
    return lab, float(np.sqrt((off**2).mean() + MODEL_SD**2))


def agreement(light: npt.NDArray[np.bool_], truth: npt.NDArray[np.uint8]) -> tuple[float, float, float]:
    """Share of lit and of shaded pixels found, and their mean (balanced accuracy).

    ``light`` (h, w): what is said to be in the light; ``truth`` (h, w): 255 lit, 0 in shadow, 128 not to be judged.
    """
    lit, shaded = truth == 255, truth == 0
    sun, shade = float(light[lit].mean()), float((~light[shaded]).mean())
    return sun, shade, (sun + shade) / 2
